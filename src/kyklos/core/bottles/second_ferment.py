"""The second ferment: what is wished, how often bottles are burped and what that buys, what to do when one stays flat."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

from ..base import limit
from .bottle import TARGETS, BottleAsk, bottle_forecast

WISHES = ("", *TARGETS)  #: Nothing wished, or a fizz.
#: How often bottles are burped: what the school is called, and how many days lie between.
BURPS: Mapping[str, tuple[str, float | None]] = MappingProxyType(
    {
        "never": ("Never", None),
        "once": ("Once, half-way", None),
        "daily": ("Daily", 1.0),
        "12 h": ("Every 12 hours", 0.5),
    }
)
AGAIN_DAYS = 1.0  #: A flat bottle goes back to room temperature for so long, then is tried again (usual practice). [d]
COLD_HOURS, BETTER_HOURS = 4.0, 24.0  #: In the fridge before it is opened: at least, and better. [h]
#: How a bottle is opened, step by step (usual practice).
OPENING = (
    "Cold for at least four hours, better a day.",
    "Over a bowl in the sink, a bag or cloth over the neck, away from the face.",
    "Hold the lid down, ease it a little, let it hiss, close it again if foam climbs.",
    "Pour through a fine strainer: fruit and small skins are harmless and stay behind.",
)


LEAST_BOUGHT_DAYS = 0.2  #: Less time is not worth a burp. [d]


@dataclass(frozen=True, slots=True)
class BurpingSchool:
    """A way to burp, and what it does."""

    key: str
    name: str
    days: tuple[float, ...]  #: When they are burped. [d since filling]
    chill_by_day: float | None  #: [d since filling]
    buys_days: float | None  #: Against never; None: neither has to be chilled within the days looked ahead. [d]
    lost_volumes: float  #: Fizz that goes out with it by the day to chill. [volumes]

    @property
    def buys_little(self) -> bool:
        """Whether it buys hardly anything: no time worth a word."""
        return self.buys_days is not None and self.buys_days < LEAST_BOUGHT_DAYS


def burp_days(key: str, until_day: float) -> tuple[float, ...]:
    """Return when bottles are burped until a day. [d since filling]

    >>> burp_days("daily", 3.5), burp_days("once", 4), burp_days("never", 4)
    ((1.0, 2.0, 3.0), (2.0,), ())
    """
    if key == "once":
        return (until_day / 2,)
    every = BURPS[key][1]
    if every is None:
        return ()
    return tuple(every * i for i in range(1, 200) if every * i < until_day - 1e-9)


def schools(ask: BottleAsk) -> list[BurpingSchool]:
    """Return what each way to burp buys a bottle: hours to days, never safety.

    Args:
        ask: The bottle, as yet unburped, with its limit.
    """
    plain = bottle_forecast(replace(ask, burps=()))
    by = plain.chill_by_day
    out = []
    for key, (name, _) in BURPS.items():
        days = burp_days(key, (by or 7.0) + 7.0 if key != "once" else by or 7.0)
        future = bottle_forecast(replace(ask, burps=days)) if days else plain
        chill = future.chill_by_day
        day = min(by if by is not None else 7.0, float(plain.day[-1]))
        out.append(
            BurpingSchool(
                key,
                name,
                days,
                chill,
                None if by is None or chill is None else max(0.0, chill - by),
                max(0.0, plain.volumes_at(day) - future.volumes_at(day)),
            )
        )
    return out


def late_words(days_late: float, high_bar: float, limit_bar: float) -> str:
    """Return what to do with bottles that should have been cold by now. [d, bar]

    >>> late_words(1.2, 3.0, 4.0)[:24]
    'Into the fridge now, gen'
    """
    if high_bar >= limit_bar:
        return (
            "Do not carry or open them. Towel over them, goggles and gloves; let them cool where they stand, in a lidded box. "
            "Open them days later, outdoors."
        )
    if high_bar >= limit("chill_share") * limit_bar:
        return "Into the fridge now, gently, away from faces; open one first in a day, over a bowl."
    return "Into the fridge now." if days_late > 0 else ""
