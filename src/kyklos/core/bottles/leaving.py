"""How a bottle leaves: drunk, given, taken to a party, burst, leaked, dropped, poured away; and what may have caused a burst."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType


@dataclass(frozen=True, slots=True)
class Leaving:
    """A way to leave."""

    name: str
    comes_back: bool  #: The empty bottle is there to be washed.
    broken: bool = False  #: The bottle is lost.
    alarms: bool = False  #: It tells that its brothers press too.


LEAVINGS: Mapping[str, Leaving] = MappingProxyType(
    {
        "drunk": Leaving("drunk", comes_back=True),
        "given": Leaving("given away", comes_back=False),
        "party": Leaving("taken to a party", comes_back=True),
        "poured": Leaving("poured away", comes_back=True),
        "gushed": Leaving("gushed empty", comes_back=True, alarms=True),
        "burst": Leaving("burst", comes_back=False, broken=True, alarms=True),
        "leaked": Leaving("leaked", comes_back=True),
        "dropped": Leaving("dropped", comes_back=False, broken=True),
        "gone": Leaving("gone", comes_back=True),  # nobody said how
    }
)
BURST_HISS = 4  #: What a burst or gushed bottle tells its brothers, as loud as it gets.
WARM_DAYS_MANY = 7.0  #: So many days at room temperature are many. [d]
WARM_C = 26.0  #: So warm a room hurries every bottle. [degC]
MUCH_SUGAR_G_PER_L = 12.0  #: [g/L]
COLD_THROUGH_H = 24.0  #: A bottle is cold through after so long in the fridge. [h]
FULL_HEADSPACE = 0.02  #: Less room than that for the gas. [-]


def causes(
    warm_days: float, room_c: float, added_sugar_g_per_l: float, headspace_fraction: float, high_bar: float, limit_bar: float,
    closure_worn: bool, reused: bool, *, burst: bool = True, cold_hours: float | None = None,
) -> list[str]:  # fmt: skip
    """List what may have made a bottle burst or gush, the likeliest first.

    Args:
        warm_days: At room temperature. [d]
        room_c: There. [degC]
        added_sugar_g_per_l: Of flavour and priming. [g/L]
        headspace_fraction: [-]
        high_bar: Upper end of what was foretold. [bar]
        limit_bar: What it may hold. [bar]
        closure_worn: Its ring or cap was old.
        reused: It was made for something else.

    >>> causes(1, 20, 4, 0.04, 2.0, 4.0, False, False, burst=False, cold_hours=3)
    ['it was not cold through: 3 h in the fridge, and a day is wanted']
    >>> causes(9, 27, 20, 0.04, 3.0, 4.0, False, False)
    ['9 days at room temperature', 'a warm room, 27 °C', 'much sugar in it, 20 g/L']
    """
    out = []
    if not burst and cold_hours is not None and cold_hours < COLD_THROUGH_H:
        out.append(f"it was not cold through: {max(1, round(cold_hours))} h in the fridge, and a day is wanted")
    if limit_bar and high_bar >= limit_bar:
        out.append("more gas than the bottle holds: it was foretold")
    if warm_days >= WARM_DAYS_MANY:
        out.append(f"{warm_days:.0f} days at room temperature")
    if room_c >= WARM_C:
        out.append(f"a warm room, {room_c:.0f} °C")
    if added_sugar_g_per_l >= MUCH_SUGAR_G_PER_L:
        out.append(f"much sugar in it, {added_sugar_g_per_l:.0f} g/L")
    if headspace_fraction < FULL_HEADSPACE:
        out.append("hardly any space on top")
    if reused:
        out.append("a reused bottle, not made for it")
    if closure_worn:
        out.append("an old ring or cap")
    if not burst:
        return out or ["more gas than was foretold: its brothers have it too"]
    return out or ["a weak bottle: look at others of its kind for scratches"]
