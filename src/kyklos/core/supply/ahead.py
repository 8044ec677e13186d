"""Litres ready to drink, day by day: what stands, what comes, what is drunk, and who is coming."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from .demand import Pace

WEEKS_AHEAD = 12
DAYS_AHEAD = 7 * WEEKS_AHEAD
Floats = npt.NDArray[np.float64]
NOTHING_L = 1e-9


@dataclass(frozen=True, slots=True)
class Coming:
    """Litres that will be ready to drink."""

    litres: float  #: [L]
    early: float  #: Day from now. [d]
    likely: float  #: [d]
    late: float  #: [d]
    flavour: str = ""  #: Empty: not known yet.


@dataclass(frozen=True, slots=True)
class WishAhead:
    """Litres more than usual: guests, a gift, a warm month."""

    day: float  #: From now. [d]
    litres: float  #: On that day, or each day until `until`. [L]
    until: float | None = None  #: Last day of a span; None: that day alone. [d]

    def on(self, day: int) -> float:
        """Return how much of it falls on a day. [L]"""
        last = self.day if self.until is None else self.until
        return self.litres if int(self.day) <= day <= int(last) else 0.0


@dataclass(frozen=True, slots=True)
class Ahead:
    """What will be ready at the end of each of the days to come, at the worst, likely, at best; and what is likely missed. [L]"""

    low: Floats
    likely: Floats
    high: Floats
    missed: Floats  #: Likely wanted on a day, and not there. [L]
    runs_out: tuple[int | None, int | None, int | None]  #: First day on which something is missed: at the earliest, likely, at the latest. [d]

    @property
    def dry_days(self) -> int:
        """Number of days on which something is likely missed. [d]"""
        return int(np.count_nonzero(self.missed > NOTHING_L))

    @property
    def dry_spans(self) -> list[tuple[int, int]]:
        """Spans of days on which something is likely missed: first, and the day after the last."""
        return spans(self.missed > NOTHING_L)


def spans(true: npt.NDArray[np.bool_]) -> list[tuple[int, int]]:
    """List where something holds: first, and after the last.

    >>> spans(np.array([False, True, True, False, True]))
    [(1, 3), (4, 5)]
    """
    edges = np.flatnonzero(np.diff(np.concatenate([[False], true, [False]])))
    return [(int(first), int(last)) for first, last in zip(edges[::2], edges[1::2], strict=True)]


def follow(stock_l: float, arrive: Floats, gone: Floats) -> tuple[Floats, Floats]:
    """Follow what stands ready day by day: nobody drinks what is not there, and what was missed is not drunk later.

    Args:
        stock_l: At first. [L]
        arrive: On each day, shape (days,). [L]
        gone: Wanted on each day. [L]

    Returns: What stands at the end of each day, and what was missed on it. [L]
    """
    level, stands, missed = stock_l, np.empty(len(gone)), np.empty(len(gone))
    for day, (more, less) in enumerate(zip(arrive, gone, strict=True)):
        there = level + more
        level = max(0.0, there - less)
        stands[day], missed[day] = level, max(0.0, less - there)
    return stands, missed


def arrivals(coming: Sequence[Coming], which: str, days: int = DAYS_AHEAD) -> Floats:
    """Return the litres that arrive on each day, taken at their early, likely or late day; what is ready already arrives today. [L]"""
    out = np.zeros(days)
    for one in coming:
        day = max(0, int(np.ceil(getattr(one, which) - 1e-9)))
        if day < days:
            out[day] += one.litres
    return out


def wished(wishes: Sequence[WishAhead], days: int = DAYS_AHEAD) -> Floats:
    """Return the litres wished for on each day besides what is drunk anyway. [L]"""
    return np.array([sum(wish.on(day) for wish in wishes) for day in range(days)])


def ahead(stock_l: float, coming: Sequence[Coming], pace: Pace, wishes: Sequence[WishAhead] = (), days: int = DAYS_AHEAD) -> Ahead:
    """Follow what is ready to drink over the days to come.

    Args:
        stock_l: Ready now. [L]
        coming: What will be ready, and when.
        pace: What is drunk.
        wishes: What is wished for besides.
        days: How far. [d]
    """
    few, likely, many = pace.a_day()
    more = wished(wishes, days)
    low, likely_l, high = (
        follow(stock_l, arrivals(coming, when, days), rate + more) for when, rate in (("late", many), ("likely", likely), ("early", few))
    )
    below, above = np.minimum(low[0], likely_l[0]), np.maximum(high[0], likely_l[0])
    return Ahead(below, likely_l[0], above, likely_l[1], (_first(low[1]), _first(likely_l[1]), _first(high[1])))


def _first(missed: Floats) -> int | None:
    found = np.flatnonzero(missed > NOTHING_L)
    return int(found[0]) if found.size else None
