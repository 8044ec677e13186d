"""A vessel's heater: the power it takes to hold a temperature, what that costs, and how far it overshoots after a cold filling.

A thermostat has a band, and its sensor lags behind the liquid (both assumed); heat leaves by the wall and the top.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..base import require_between
from ..base.kinds import HeaterAdvice
from ..liquid.heat import HEAT_PER_L_K, ROOM_AIR_U, mix_temperature, pot_area_m2

BAND_K = 1.0  #: A thermostat switches half of it below and above its set point (assumed). [K]
SENSOR_LAG_MIN = 40.0  #: 20 to 60 (assumed). [min]
USUAL_W = 25.0  #: Of a heating belt or mat that nobody described (assumed). [W]
WORKS_WELL_C = 24.0  #: Where a tapped vessel works well (usual practice). [degC]
USUAL_TOPPING_UP = 0.4  #: Of the line: a topping up by which overshoot is judged (assumed). [-]
LEAST_HEATED_L, LEAST_LEFT_L = 0.5, 0.005  #: An almost empty vessel counts as so much. [L]
LEAST_OVER_K = 0.5  #: Less above the set point is none. [K]
STEP_MIN, LOOKED_HOURS = 2.0, 48.0
SUMMER_WARM_K = 1.0  #: A room so near the set point needs no heater. [K]


@dataclass(frozen=True, slots=True)
class Holding:
    """What holding a temperature takes."""

    watts: float  #: On the mean. [W]
    duty: float  #: Share of the time that it is on; above 1 it cannot hold it. [-]
    kwh_a_day: float  #: [kWh/d]

    def cost(self, price_per_kwh: float, days: float = 30.0) -> float:
        """Return what it costs, in the money of the price."""
        return self.kwh_a_day * price_per_kwh * days

    @property
    def holds(self) -> bool:
        """Whether the heater is strong enough."""
        return self.duty <= 1.0


def holding(litres: float, set_c: float, room_c: float, heater_w: float = USUAL_W) -> Holding:
    """Return what it takes to hold a vessel warmer than its room.

    Args:
        litres: In it. [L]
        set_c, room_c: Set point, and the room. [degC]
        heater_w: Of the heater. [W]

    >>> round(holding(8, 25, 20).watts)
    19
    """
    require_between(0.05, 500, "L", litres=litres)
    require_between(1, 5000, "W", heater_w=heater_w)
    watts = max(0.0, ROOM_AIR_U * pot_area_m2(litres) * (set_c - room_c))
    return Holding(watts, watts / heater_w, watts * 24 / 1000)


@dataclass(frozen=True, slots=True)
class AfterFill:
    """How a heated vessel goes through a filling."""

    lowest_c: float  #: Just filled. [degC]
    highest_c: float  #: [degC]
    hours_back: float | None  #: Until it is within a degree of its set point for good; None: not in two days. [h]

    def over_k(self, set_c: float) -> float:
        """How far it goes above its set point; 0 where that is not worth a word. [K]"""
        over = self.highest_c - set_c
        return over if over > LEAST_OVER_K else 0.0


def after_fill(
    left_l: float, here_c: float, tea_l: float, tea_c: float, *, set_c: float, room_c: float, heater_w: float = USUAL_W
) -> AfterFill:
    """Follow a heated vessel after sweet tea of another temperature was poured in.

    Args:
        left_l, here_c: What stood there, and its temperature. [L, degC]
        tea_l, tea_c: What was poured in. [L, degC]
        set_c, room_c: Set point, and the room. [degC]
        heater_w: Of the heater. [W]

    Source: heat balance of one well-mixed liquid with a thermostat; its band and its sensor's lag are assumed.
    """
    litres = left_l + tea_l
    capacity = HEAT_PER_L_K * litres
    loss = ROOM_AIR_U * pot_area_m2(litres)
    warm = mix_temperature([(left_l, here_c), (tea_l, tea_c)])
    lowest = highest = warm
    sensor, on, back = here_c, here_c < set_c - BAND_K / 2, None
    seconds = STEP_MIN * 60
    for number in range(int(LOOKED_HOURS * 60 / STEP_MIN)):
        on = sensor < set_c - BAND_K / 2 or (on and sensor < set_c + BAND_K / 2)
        warm += ((heater_w if on else 0.0) - loss * (warm - room_c)) * seconds / capacity
        sensor += (warm - sensor) * STEP_MIN / SENSOR_LAG_MIN
        lowest, highest = min(lowest, warm), max(highest, warm)
        near = abs(warm - set_c) <= BAND_K
        back = back if near and back is not None else number * STEP_MIN / 60 if near else None
    return AfterFill(lowest, highest, back)


def advice(set_c: float | None, room_c: float, wanted_c: float) -> str:
    """Return what to do about heating, by the season: the key of a sentence.

    Args:
        set_c: The heater's set point; None: there is none. [degC]
        room_c: The room now. [degC]
        wanted_c: Where the vessel works well. [degC]

    >>> [str(advice(*one)) for one in ((None, 18, 24), (25, 25.5, 24), (25, 20, 24))]
    ['would-help', 'off-now', 'keep']
    """
    if set_c is None:
        return HeaterAdvice.WOULD_HELP if room_c < wanted_c - 3 else HeaterAdvice.NONE
    return HeaterAdvice.OFF_NOW if room_c >= set_c - SUMMER_WARM_K else HeaterAdvice.KEEP


@dataclass(frozen=True, slots=True)
class HeaterLook:
    """What a vessel's heater is worth now; where there is none, what one would be."""

    advice: str  #: A key as `advice` gives it.
    set_c: float  #: Its set point, or the one proposed. [degC]
    holding: Holding | None  #: What it takes; None: no heater is needed.
    over_k: float  #: How far it overshoots after an unheated topping up; 0: not worth a word. [K]


def look(litres: float, line_l: float, set_c: float | None, room_c: float, watts: float | None) -> HeaterLook:
    """Look at the heating of a tapped vessel.

    Args:
        litres, line_l: What stands in it, and up to its line. [L]
        set_c: The heater's set point; None: there is none. [degC]
        room_c: Its place now. [degC]
        watts: Of its heater; None: as most have. [W]
    """
    key = advice(set_c, room_c, WORKS_WELL_C)
    wanted, power = set_c or WORKS_WELL_C, watts or USUAL_W
    if key == "none":
        return HeaterLook(key, wanted, None, 0.0)
    here = max(litres, LEAST_HEATED_L)
    given = min(line_l * USUAL_TOPPING_UP, here)
    left = max(here - given, LEAST_LEFT_L)
    fill = after_fill(left, wanted, given, room_c, set_c=wanted, room_c=room_c, heater_w=power)
    over_k = fill.over_k(wanted) if key == HeaterAdvice.KEEP else 0.0
    return HeaterLook(key, wanted, holding(here, wanted, room_c, power), over_k)
