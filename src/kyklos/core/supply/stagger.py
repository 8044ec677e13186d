"""On which days to brew: batches staggered so that the least there ever is to drink is as much as it can be.

Ready days are taken late, since a slow brew must not empty the shelf. What is planned already stays where it still serves.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import reduce
from itertools import product
from math import prod

import numpy as np
import numpy.typing as npt

from .ahead import DAYS_AHEAD, Coming, arrivals

MOST_TRIED = 20_000  #: So many ways are all tried; of more, one vessel after the other is put where it is best.
ALIKE_L = 1e-6  #: [L]
Floats = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Ripening:
    """How long a batch takes that is started on a day."""

    early: float  #: [d]
    likely: float  #: [d]
    late: float  #: [d]
    last_day: float  #: On which it leaves the window. [d]


@dataclass(frozen=True, slots=True, kw_only=True)
class Turns:
    """A vessel whose batches are to be laid over the days to come."""

    name: str
    free_on: int  #: First day on which it can be filled. [d from now]
    every: Callable[[int], int]  #: Days from one batch to the next, by the day on which it starts: warm months are quicker.
    ripening: Callable[[int], Ripening]  #: By the same day.
    gives_l: float  #: A batch, to drink. [L]
    bottle_days: float = 0.0  #: Of second ferment, until it is ready to drink. [d]
    planned: tuple[int, ...] = ()  #: Days planned already. [d from now]


@dataclass(frozen=True, slots=True)
class Laid:
    """The days of one vessel's batches."""

    days: tuple[int, ...]  #: On which a batch is started. [d from now]
    coming: tuple[Coming, ...]
    moved: int  #: Days planned before that it does without.


def _batch(turns: Turns, day: int) -> Coming:
    ripe, more = turns.ripening(day), day + turns.bottle_days
    return Coming(turns.gives_l, more + ripe.early, more + ripe.likely, more + ripe.late)


def _open_day(day: int, shut: frozenset[int]) -> int:
    """Return the first day from one on, on which somebody is there."""
    while day in shut:
        day += 1
    return day


def _from(turns: Turns, first: int, shut: frozenset[int], days: int) -> list[int]:
    """List start days from a first one on, each so long after the last as the month asks."""
    out, day = [], _open_day(first, shut)
    while day < days:
        out.append(day)
        day = _open_day(day + turns.every(day), shut)
    return out


def serves(turns: Turns, day: int, before: int | None, shut: frozenset[int]) -> bool:
    """Return whether a planned day still serves: somebody is there, the vessel is free, and what stood in it is not past its window."""
    if day in shut or day < turns.free_on:
        return False
    if before is None:
        return True
    ripe = turns.ripening(before)
    return before + ripe.likely <= day <= before + max(ripe.last_day, turns.every(before)) + 1


def ways(turns: Turns, shut: frozenset[int] = frozenset(), days: int = DAYS_AHEAD) -> list[Laid]:
    """List how a vessel's batches may lie: as planned where that still serves, then from each first day it may have."""
    kept: list[int] = []
    for day in sorted(turns.planned):
        if not serves(turns, day, kept[-1] if kept else None, shut):
            break
        kept.append(day)
    found = []
    if kept:
        found.append([*kept, *_from(turns, kept[-1] + turns.every(kept[-1]), shut, days)])
    for first in range(turns.free_on, turns.free_on + max(1, turns.every(turns.free_on))):
        if first < days:
            found.append(_from(turns, first, shut, days))
    unique = list(dict.fromkeys(tuple(one) for one in found)) or [()]
    return [Laid(one, tuple(_batch(turns, day) for day in one), len(set(turns.planned) - set(one))) for one in unique]


def stagger(all_turns: Sequence[Turns], level: Floats, buffer_l: float = 0.0, shut: frozenset[int] = frozenset()) -> tuple[Laid, ...]:
    """Lay the batches of all vessels over the days to come.

    First the least level, up to the buffer, is as high as it can be; then the least is missed; then the fewest planned days
    move; then the least level is as high as it can be; then the first way.

    Args:
        all_turns: The vessels that brew.
        level: What would be ready on each day without their batches, shape (days,). [L]
        buffer_l: What is left on the shelf for a slow brew. [L]
        shut: Days on which nobody is there. [d from now]
    """
    days = len(level)
    offered = [ways(turns, shut, days) for turns in all_turns]
    added = [[np.cumsum(arrivals(way.coming, "late", days)) for way in some] for some in offered]
    moved = [[way.moved for way in some] for some in offered]

    def worth(pick: Sequence[int]) -> tuple[float, ...]:
        lies: Floats = reduce(np.add, (rows[number] for rows, number in zip(added, pick, strict=True)), level)
        least, missed = float(lies.min()), float(np.minimum(lies, 0.0).sum())
        moves = sum(row[number] for row, number in zip(moved, pick, strict=True))
        return (round(min(least, buffer_l) / ALIKE_L), round(missed / ALIKE_L), -moves, round(least / ALIKE_L))

    if prod(len(some) for some in offered) <= MOST_TRIED:
        best = max(product(*(range(len(some)) for some in offered)), key=worth)  # of equals the first
    else:
        best = _one_by_one(offered, worth)
    return tuple(some[number] for some, number in zip(offered, best, strict=True))


def _one_by_one(offered: Sequence[Sequence[Laid]], worth: Callable[[Sequence[int]], tuple[float, ...]]) -> tuple[int, ...]:
    """Put one vessel after the other where it is best, until none moves any more."""
    pick = [0] * len(offered)
    for _ in range(len(offered) + 2):
        before = list(pick)
        for place, some in enumerate(offered):
            pick[place] = max(range(len(some)), key=lambda number, at=place: worth([*pick[:at], number, *pick[at + 1 :]]))  # type: ignore[misc]
        if pick == before:
            break
    return tuple(pick)
