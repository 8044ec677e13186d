"""The heat of a brew day by the way chosen: boil all, concentrate and cold water, or a cold start; how it cools, and where."""

from __future__ import annotations

from dataclasses import dataclass

from ..base import limit, require_between
from ..base.errors import UnknownNameError
from . import heat
from .standing import FRIDGE_C
from .sweet_tea import LEAF_KEEPS_ML_PER_G

METHODS = ("boil", "concentrate", "cold")
ICE_C = 1.0  #: Stirred ice water. [degC]
FRIDGE_STEEP_HOURS = 12.0  #: At most. [h]
SYRUP_ML_PER_G = 1.0  #: Hot water in which a cold start's sugar dissolves (assumed). [mL/g]
LEAST_LEAF_C, LEAST_LEAF_MINUTES = 75.0, 5.0  #: Leaf meets at least this, unless it steeps in the fridge. [degC, min]


@dataclass(frozen=True, slots=True)
class Wait:
    """A way to cool the hot part, and how long it takes."""

    key: str  #: air, bath or ice
    name: str
    around_c: float  #: [degC]
    u_w_per_m2k: float
    hours: float | None  #: None: it would never be cool enough. [h]
    course: tuple[tuple[float, float], ...] = ()  #: (hours, degC) for drawing.


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatAsk:
    """What decides about the heat."""

    method: str = "concentrate"
    final_l: float  #: [L]
    starter_l: float  #: [L]
    sweetener_l: float = 0.0  #: Room of the sugar that dissolves in the hot part. [L]
    honey_l: float = 0.0  #: Room of honey, which goes in cool. [L]
    leaf_g: float = 0.0  #: [g]
    sugar_g: float = 0.0  #: [g]
    water_c: float = 97.0  #: On the leaf. [degC]
    steep_minutes: float = 12.0  #: [min]
    cold_c: float = 15.0  #: [degC]
    room_c: float = 21.0  #: Starter and honey stand at it too. [degC]
    target_c: float = 24.0  #: Pitch. [degC]
    logged: tuple[float, float] | None = None  #: One temperature on the way: hours after the steep, degC.

    def __post_init__(self) -> None:
        if self.method not in METHODS:
            raise UnknownNameError("heat", self.method, list(METHODS))
        require_between(0.05, 500, "L", final_l=self.final_l)
        require_between(0, 24 * 60, "min", steep_minutes=self.steep_minutes)
        require_between(0, 45, "degC", cold_c=self.cold_c, room_c=self.room_c, target_c=self.target_c)
        require_between(1, 100, "degC", water_c=self.water_c)

    @property
    def rest_l(self) -> float:
        """What goes in at room temperature: starter, vinegar and honey. [L]"""
        return self.starter_l + self.honey_l


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatOut:
    """How much to heat, in which order it is poured, and how long it waits."""

    method: str
    heat_l: float  #: Water to heat, with what the leaf keeps. [L]
    hot_l: float  #: Of it as poured, with the sugar in it. [L]
    cold_l: float  #: Cold water, in the vessel first. [L]
    after_steep_c: float  #: The hot part once the steep is over. [degC]
    pour_c: float  #: The hot part as it may be poured. [degC]
    mix_c: float  #: Everything together, poured at once after the steep. [degC]
    lands_c: float  #: Everything together after the wait. [degC]
    target_c: float  #: [degC]
    waits: tuple[Wait, ...]
    no_wait_cold_c: float | None = None  #: Cold water that would spare the wait. [degC]
    fridge_hours: float = 0.0  #: Of a cold start. [h]
    learned_u: float | None = None  #: From a temperature logged on the way. [W/(m2 K)]

    @property
    def must_wait(self) -> bool:
        """Whether it may not be poured at once."""
        return self.mix_c > self.target_c + 0.5

    @property
    def wait(self) -> Wait:
        """The wait in room air."""
        return self.waits[0]


def _course(litres: float, start_c: float, around_c: float, u: float, hours: float) -> tuple[tuple[float, float], ...]:
    return tuple(
        (hours * i / 40, heat.temperature_after(litres, start_c, around_c, hours * i / 40, u_w_per_m2k=u))
        for i in range(41)
    )


def waits_for(
    litres: float, start_c: float, target_c: float, room_c: float, cold_c: float, air_u: float
) -> tuple[Wait, ...]:
    """Return how long the hot part takes to a temperature in room air, a water bath and an ice bath.

    Args:
        litres: Hot part. [L]
        start_c, target_c, room_c, cold_c: Hot part now and wanted, the room, the bath's water. [degC]
        air_u: Heat transfer in room air, assumed or learned; the baths' are assumed. [W/(m2 K)]
    """
    rows = (
        ("air", "on the counter", room_c, air_u),
        ("bath", "in a stirred water bath", cold_c, heat.WATER_BATH_U),
        ("ice", "in a stirred ice bath", ICE_C, heat.ICE_BATH_U),
    )
    times = [heat.cooling_hours(litres, start_c, around, target_c, u_w_per_m2k=u) for _, _, around, u in rows]
    shown = max((h for h in times if h), default=0.0)
    return tuple(
        Wait(key, name, around, u, hours, _course(litres, start_c, around, u, hours or max(min(shown, 8.0), 0.05)))
        for (key, name, around, u), hours in zip(rows, times, strict=True)
    )


def _learned(ask: HeatAsk, hot_l: float, after_c: float) -> float | None:
    if ask.logged is None:
        return None
    hours, later_c = ask.logged
    return heat.transfer_from_reading(hot_l, after_c, ask.room_c, later_c, hours)


def plan_heat(ask: HeatAsk) -> HeatOut:
    """Plan the heat of a brew day: the mix lands within 0.5 degC of the target, or the plan says what it takes.

    Args:
        ask: What decides.

    Returns: Volumes, temperatures and waits. Hot and cold parts, starter and honey sum to the final volume.
    """
    return _cold_start(ask) if ask.method == "cold" else _hot(ask)


def _hot(ask: HeatAsk) -> HeatOut:
    tea_l = ask.final_l - ask.rest_l
    keeps_l = ask.leaf_g * LEAF_KEEPS_ML_PER_G / 1000
    after = ask.water_c
    hot_l = tea_l
    for _ in range(1 if ask.method == "boil" else 6):
        after = heat.temperature_after(
            hot_l + keeps_l, ask.water_c, ask.room_c, ask.steep_minutes / 60, u_w_per_m2k=heat.LIDDED_U
        )
        if ask.method == "concentrate":
            hot_l = heat.heat_plan(ask.final_l, ask.rest_l, ask.room_c, after, ask.cold_c, ask.target_c).hot_l
    cold_l = tea_l - hot_l
    rest = [(cold_l, ask.cold_c), (ask.rest_l, ask.room_c)]
    mix = heat.mix_temperature([(hot_l, after), *rest])
    pour = (ask.target_c * ask.final_l - cold_l * ask.cold_c - ask.rest_l * ask.room_c) / hot_l
    pour = min(pour, after) if mix > ask.target_c + 0.05 else after
    learned = _learned(ask, hot_l, after)
    waits = waits_for(hot_l, after, max(pour, -5.0), ask.room_c, ask.cold_c, learned or heat.ROOM_AIR_U)
    wanted = (ask.target_c * ask.final_l - hot_l * after - ask.rest_l * ask.room_c) / cold_l if cold_l > 0.01 else -1.0
    return HeatOut(
        method=ask.method,
        heat_l=hot_l + keeps_l - ask.sweetener_l,
        hot_l=hot_l,
        cold_l=cold_l,
        after_steep_c=after,
        pour_c=pour,
        mix_c=mix,
        lands_c=heat.mix_temperature([(hot_l, pour), *rest]),
        target_c=ask.target_c,
        waits=waits,
        no_wait_cold_c=wanted if mix > ask.target_c + 0.5 and wanted >= heat.COLDEST_C else None,
        learned_u=learned,
    )


def _cold_start(ask: HeatAsk) -> HeatOut:
    syrup_l = SYRUP_ML_PER_G * ask.sugar_g / 1000 + ask.sweetener_l
    cold_l = ask.final_l - ask.rest_l - syrup_l
    syrup_c = 60.0
    mix = heat.mix_temperature([(syrup_l, syrup_c), (cold_l, FRIDGE_C), (ask.rest_l, ask.room_c)])
    pitch_c = min(max(limit("pitch_low"), mix), ask.room_c)
    hours = heat.settling_hours(ask.final_l, mix, ask.room_c, limit("pitch_low"))
    if mix >= limit("pitch_low"):
        hours, pitch_c = 0.0, mix
    wait = Wait(
        "air",
        "on the counter",
        ask.room_c,
        heat.ROOM_AIR_U,
        hours,
        _course(ask.final_l, mix, ask.room_c, heat.ROOM_AIR_U, max(hours or 0.0, 0.5)),
    )
    return HeatOut(
        method="cold",
        heat_l=SYRUP_ML_PER_G * ask.sugar_g / 1000,
        hot_l=syrup_l,
        cold_l=cold_l + ask.leaf_g * LEAF_KEEPS_ML_PER_G / 1000,
        after_steep_c=syrup_c,
        pour_c=syrup_c,
        mix_c=mix,
        lands_c=pitch_c,
        target_c=pitch_c,
        waits=(wait,),
        fridge_hours=FRIDGE_STEEP_HOURS,
    )
