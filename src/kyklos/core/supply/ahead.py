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
    """What will be ready on each of the days to come, at their end: at the worst, likely, at best. [L]"""

    low: Floats
    likely: Floats
    high: Floats

    @property
    def runs_out(self) -> tuple[int | None, int | None, int | None]:
        """First day on which more is drunk than there is: at the earliest, likely, at the latest; None: not within the days. [d]"""
        return _first_dry(self.low), _first_dry(self.likely), _first_dry(self.high)

    @property
    def dry_days(self) -> int:
        """Number of days on which likely nothing is left. [d]"""
        return int(np.count_nonzero(self.likely < -NOTHING_L))


def _first_dry(level: Floats) -> int | None:
    found = np.flatnonzero(level < -NOTHING_L)
    return int(found[0]) if found.size else None


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

    Below zero is what would be missed: nobody drinks what is not there, yet the lack is what a plan mends.

    Args:
        stock_l: Ready now. [L]
        coming: What will be ready, and when.
        pace: What is drunk.
        wishes: What is wished for besides.
        days: How far. [d]
    """
    few, likely, many = pace.a_day()
    count, more = np.arange(1, days + 1), np.cumsum(wished(wishes, days))
    return Ahead(
        stock_l + np.cumsum(arrivals(coming, "late", days)) - many * count - more,
        stock_l + np.cumsum(arrivals(coming, "likely", days)) - likely * count - more,
        stock_l + np.cumsum(arrivals(coming, "early", days)) - few * count - more,
    )
