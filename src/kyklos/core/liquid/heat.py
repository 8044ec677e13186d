"""Heat: mixing hot and cold, how long a pot takes to cool, and what glass can bear."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..base import CoreError, limit, require_between
from .sweet_tea import LEAF_KEEPS_ML_PER_G

HEAT_PER_L_K = 4186.0  #: Of water. [J/(L K)]
ROOM_AIR_U, WATER_BATH_U, ICE_BATH_U = 17.0, 150.0, 250.0  #: Of an open pot or jar (assumed). [W/(m2 K)]
LIDDED_U = 9.5  #: Of a pot in room air with its lid on (assumed). [W/(m2 K)]
LEAST_HOT_SHARE = 0.2  #: The hot part has to hold the leaf. [-]
COLDEST_C = 2.0  #: Water from a fridge. [degC]
POT_AREA_M2 = 0.056  #: Wetted and top surface of one litre in a pot as wide as high (assumed). [m2]


def mix_temperature(parts: Sequence[tuple[float, float]]) -> float:
    """Find the temperature of liquids poured together.

    Args:
        parts: (litres, degC) of each. [L, degC]

    Returns: Temperature of the mix, without loss. [degC]

    Raises:
        CoreError: If there is nothing to mix.

    >>> mix_temperature([(1.0, 80.0), (3.0, 20.0)])
    35.0
    """
    for litres, celsius in parts:
        require_between(0, 1000, "L", litres=litres)
        require_between(-5, 110, "degC", celsius=celsius)
    total = sum(litres for litres, _ in parts)
    if total <= 0:
        raise CoreError("parts: nothing to mix; give litres above 0.")
    return sum(litres * celsius for litres, celsius in parts) / total


def pot_area_m2(litres: float) -> float:
    """Guess the surface of a pot from what is in it (assumed). [m2]"""
    return float(POT_AREA_M2 * litres ** (2 / 3))


def cooling_hours(
    litres: float,
    start_c: float,
    ambient_c: float,
    target_c: float,
    area_m2: float | None = None,
    u_w_per_m2k: float = ROOM_AIR_U,
) -> float | None:
    """Return how long liquid takes to cool.

    Args:
        litres: Volume. [L]
        start_c, ambient_c, target_c: Temperatures. [degC]
        area_m2: All wetted and top surface; guessed when not given. [m2]
        u_w_per_m2k: Heat transfer: 17 room air, 9.5 under a lid, 150 stirred cold water, 250 stirred ice water (assumed). [W/(m2 K)]

    Returns: Time; 0 if it is cool enough, None if the surroundings are too warm ever to get there. [h]

    Source: Newton's law of cooling.

    >>> round(cooling_hours(3.8, 95, 22, 30, 0.14), 3)
    4.105
    """
    require_between(0.01, 1000, "L", litres=litres)
    require_between(-10, 110, "degC", start_c=start_c, ambient_c=ambient_c, target_c=target_c)
    require_between(0.5, 5000, "W/(m2 K)", u_w_per_m2k=u_w_per_m2k)
    area = pot_area_m2(litres) if area_m2 is None else area_m2
    require_between(0.001, 20, "m2", area_m2=area)
    if start_c <= target_c:
        return 0.0
    if ambient_c >= target_c:
        return None
    seconds = HEAT_PER_L_K * litres / (u_w_per_m2k * area) * math.log((start_c - ambient_c) / (target_c - ambient_c))
    return seconds / 3600


def temperature_after(
    litres: float,
    start_c: float,
    ambient_c: float,
    hours: float,
    area_m2: float | None = None,
    u_w_per_m2k: float = ROOM_AIR_U,
) -> float:
    """Return how warm liquid is after some time, cooling or warming. Arguments as in `cooling_hours`. [degC]

    >>> round(temperature_after(3.8, 95, 22, 4.105, 0.14))
    30
    """
    require_between(0.01, 1000, "L", litres=litres)
    require_between(0, 1000, "h", hours=hours)
    area = pot_area_m2(litres) if area_m2 is None else area_m2
    fall = math.exp(-u_w_per_m2k * area * hours * 3600 / (HEAT_PER_L_K * litres))
    return ambient_c + (start_c - ambient_c) * fall


def settling_hours(
    litres: float, start_c: float, ambient_c: float, target_c: float, u_w_per_m2k: float = ROOM_AIR_U
) -> float | None:
    """Return how long liquid takes to a temperature from either side; None if the surroundings never bring it there. [h]"""
    if (target_c - start_c) * (ambient_c - start_c) <= 0:
        return 0.0 if abs(target_c - start_c) < 0.05 else None
    if (ambient_c - target_c) * (ambient_c - start_c) <= 0:
        return None
    ratio = (start_c - ambient_c) / (target_c - ambient_c)
    return HEAT_PER_L_K * litres / (u_w_per_m2k * pot_area_m2(litres)) * math.log(ratio) / 3600


def transfer_from_reading(
    litres: float, start_c: float, ambient_c: float, later_c: float, hours: float, area_m2: float | None = None
) -> float:
    """Learn how a pot really cools from one later temperature.

    Args:
        litres: Volume. [L]
        start_c, ambient_c, later_c: At first, around it, and after the hours. [degC]
        hours: Passed between. [h]
        area_m2: As in `cooling_hours`.

    Returns: Heat transfer, to be used in place of the assumed one. [W/(m2 K)]

    Raises:
        CoreError: If it did not cool towards the surroundings.

    >>> round(transfer_from_reading(3.8, 95, 22, 30, 4.105, 0.14))
    17
    """
    require_between(0.01, 1000, "L", litres=litres)
    require_between(0.01, 200, "h", hours=hours)
    if not ambient_c < later_c < start_c:
        raise CoreError("later_c must lie between the surroundings and the start.")
    area = pot_area_m2(litres) if area_m2 is None else area_m2
    return HEAT_PER_L_K * litres * math.log((start_c - ambient_c) / (later_c - ambient_c)) / (3600 * hours * area)


@dataclass(frozen=True, slots=True)
class HeatPlan:
    """How much water to heat, and what comes of it."""

    hot_l: float  #: Concentrate as poured; heat also what the leaf keeps. [L]
    heat_l: float  #: To heat: concentrate and what the leaf keeps. [L]
    cold_l: float  #: Into the vessel first. [L]
    final_c: float  #: Of the mix, if poured at once. [degC]
    wait_hours: float | None  #: For the concentrate before pouring; 0 if none, None if no wait in this room helps. [h]
    pour_c: float  #: Concentrate when poured. [degC]
    no_wait_cold_c: float | None = None  #: Cold water that would spare the wait; None if none liquid would. [degC]


def heat_plan(
    final_l: float,
    starter_l: float,
    starter_c: float,
    hot_c: float,
    cold_c: float,
    target_c: float,
    *,
    leaf_g: float = 0.0,
    ambient_c: float = 21.0,
    area_m2: float | None = None,
    u_w_per_m2k: float = ROOM_AIR_U,
) -> HeatPlan:
    """Choose hot and cold so that the mix with starter lands at the pitch target.

    Args:
        final_l, starter_l: Final volume and starter. [L]
        starter_c, hot_c, cold_c, target_c: Temperatures of starter, concentrate, cold water and the mix wanted. [degC]
        leaf_g: Keeps 3 mL/g of the hot water. [g]
        ambient_c, area_m2, u_w_per_m2k: For a wait, as in `cooling_hours`.

    Returns: Volumes, the mix, and the wait on the concentrate if the mix would be too warm.
    """
    require_between(0.05, 500, "L", final_l=final_l)
    require_between(0, 0.95 * final_l, "L", starter_l=starter_l)
    require_between(-1, 105, "degC", starter_c=starter_c, hot_c=hot_c, cold_c=cold_c, target_c=target_c)
    require_between(0, 40 * final_l, "g", leaf_g=leaf_g)
    tea_l = final_l - starter_l
    least = min(LEAST_HOT_SHARE * final_l, tea_l)
    wanted = target_c * final_l - starter_l * starter_c - tea_l * cold_c
    hot_l = tea_l if hot_c <= cold_c else min(max(wanted / (hot_c - cold_c), least), tea_l)
    cold_l = tea_l - hot_l
    final_c = mix_temperature([(hot_l, hot_c), (cold_l, cold_c), (starter_l, starter_c)])
    pour_c, wait, colder_c = hot_c, 0.0 if final_c <= target_c + 0.05 else None, None
    if wait is None:
        pour_c = (target_c * final_l - cold_l * cold_c - starter_l * starter_c) / hot_l
        needed_c = (target_c * final_l - hot_l * hot_c - starter_l * starter_c) / cold_l if cold_l > 0 else -1.0
        colder_c = needed_c if needed_c >= COLDEST_C else None
        wait = cooling_hours(hot_l, hot_c, ambient_c, max(pour_c, -10), area_m2, u_w_per_m2k)
    return HeatPlan(hot_l, hot_l + leaf_g * LEAF_KEEPS_ML_PER_G / 1000, cold_l, final_c, wait, pour_c, colder_c)


SHOCK_LIMIT_K = {"glass": limit("plain_glass_shock"), "borosilicate": limit("borosilicate_shock")}


def shocks_glass(material: str, liquid_c: float, glass_c: float) -> bool:
    """Return whether liquid and glass differ by more than makers allow (40 K plain, 100 K borosilicate).

    >>> shocks_glass("glass", 85, 20)
    True
    """
    return material in SHOCK_LIMIT_K and abs(liquid_c - glass_c) > SHOCK_LIMIT_K[material]
