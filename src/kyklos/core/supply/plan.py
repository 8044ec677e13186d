"""How much to brew: a batch or a draw so often for each vessel, so that what is drunk is there with the least work.

First the least shortage, then the least effort, then the least surplus, then the fewest vessels, then the first in the
order given. Source: the supply model of docs/science.md.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ..base import require_between
from .demand import DAYS

DRAW_EFFORT = 0.35  #: A topping up is a third of a brew day (assumed). [brew days]
ENOUGH_L = 1e-6  #: Ties, and what counts as enough. [L/week, brew days/week]
CLEARLY = 1e-5  #: A plan with this much less effort is less beyond doubt. [brew days/week]
MOST_KEPT = 100_000  #: So many combinations are followed; beyond that those that give alike to a centilitre count as one.
SOME = 500  #: Of so many, those that give and take the same are looked for.
ALIKE_L = 0.01  #: [L/week]
Floats = npt.NDArray[np.float64]
Whole = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class BatchVessel:
    """A vessel that is filled, waited for, and emptied."""

    name: str
    litres: float  #: Of a batch. [L]
    ready_days: float  #: Until it is right. [d]
    last_day: float  #: On which it leaves the window. [d]
    turn_round_days: float = 0.0  #: Between a harvest and the next start. [d]
    starter_share: float = 0.1  #: Kept back for the next batch. [-]
    loss_share: float = 0.05  #: Left in sieve and sediment. [-]

    def __post_init__(self) -> None:
        """Refuse what no vessel is."""
        require_between(0.01, 10_000, "L", litres=self.litres)
        require_between(0.0, 1000, "d", ready_days=self.ready_days, last_day=self.last_day, turn_round_days=self.turn_round_days)
        require_between(0.0, 1.0, "", starter_share=self.starter_share, loss_share=self.loss_share)

    @property
    def gives_l(self) -> float:
        """What a batch gives to drink. [L]"""
        return self.litres * (1 - self.starter_share) * (1 - self.loss_share)

    def choices(self) -> list[VesselChoice]:
        """List what it can do: rest, then a batch as rarely as it may, down to as often as it can."""
        first = max(1, math.ceil(self.ready_days + self.turn_round_days - 1e-9))
        last = math.floor(self.last_day + self.turn_round_days + 1e-9)
        every = range(last, first - 1, -1)
        return [REST, *(VesselChoice(float(days), None, self.gives_l * DAYS / days, DAYS / days) for days in every)]


@dataclass(frozen=True, slots=True)
class TappedVessel:
    """A vessel that is drawn from and topped up."""

    name: str
    litres: float  #: At its line. [L]
    draws: tuple[tuple[float, float], ...]  #: How often, and which share, of those that it can give for good. [d, -]
    loss_share: float = 0.0  #: [-]

    def __post_init__(self) -> None:
        """Refuse what no vessel is."""
        require_between(0.01, 10_000, "L", litres=self.litres)
        require_between(0.0, 1.0, "", loss_share=self.loss_share)
        for every, share in self.draws:
            require_between(0.1, 1000, "d", every_days=every)
            require_between(0.0, 1.0, "", share=share)

    def choices(self) -> list[VesselChoice]:
        """List what it can do: rest, or each draw that it can give."""
        each = self.litres * (1 - self.loss_share) * DAYS
        return [REST, *(VesselChoice(every, share, each * share / every, DRAW_EFFORT * DAYS / every) for every, share in self.draws)]


@dataclass(frozen=True, slots=True)
class VesselChoice:
    """What a vessel does, and what comes of it."""

    every_days: float | None  #: None: it rests. [d]
    share: float | None  #: Of a draw; None: a batch, or rest. [-]
    litres_a_week: float  #: [L/week]
    effort: float  #: [brew days/week]


REST = VesselChoice(None, None, 0.0, 0.0)


@dataclass(frozen=True, slots=True)
class SupplyPlan:
    """What each vessel does, in the order given."""

    choices: tuple[VesselChoice, ...]
    enough: bool

    @property
    def litres_a_week(self) -> float:
        """What they give together. [L/week]"""
        return sum(choice.litres_a_week for choice in self.choices)

    @property
    def effort(self) -> float:
        """What it takes. [brew days/week]"""
        return sum(choice.effort for choice in self.choices)


def choose(vessels: Sequence[BatchVessel | TappedVessel], litres_a_week: float) -> SupplyPlan:
    """Choose what each vessel does so that so much is there each week.

    Exact over all combinations, up to a hundred thousand that differ; of more, those alike to a centilitre count as one.

    Args:
        vessels: In the order of preference.
        litres_a_week: To be drunk. [L/week]

    >>> choose([BatchVessel("jar", 4.0, 8, 12, 0, 0.1, 0.0)], 2.4).choices[0].every_days
    10.0
    """
    require_between(0.0, 10_000, "L", litres_a_week=litres_a_week)
    offered = [vessel.choices() for vessel in vessels]
    if litres_a_week >= sum(max(one.litres_a_week for one in choices) for choices in offered) + ENOUGH_L:
        return SupplyPlan(tuple(_most_of(choices) for choices in offered), enough=False)
    gives, effort, used = np.zeros(1), np.zeros(1), np.zeros(1, np.int64)
    rows: Whole = np.zeros((1, 0), np.int64)  # by combination: which choice of each vessel; kept in the order given
    for choices in offered:
        more = np.array([one.litres_a_week for one in choices])
        work = np.array([one.effort for one in choices])
        runs = np.array([one.every_days is not None for one in choices], np.int64)
        many = len(choices)
        gives, effort = (gives[:, None] + more).ravel(), (effort[:, None] + work).ravel()
        used = (used[:, None] + runs).ravel()
        rows = np.column_stack([np.repeat(rows, many, axis=0), np.tile(np.arange(many), len(rows))])
        kept = _worth_following(gives, effort, litres_a_week)
        if len(kept) > SOME:
            kept = kept[_first_alike(gives[kept], effort[kept], used[kept], ENOUGH_L)]
        if len(kept) > MOST_KEPT:
            kept = kept[_first_alike(gives[kept], effort[kept], used[kept], ALIKE_L)]
        gives, effort, used, rows = gives[kept], effort[kept], used[kept], rows[kept]
    best = _best(gives, effort, used, litres_a_week)
    picked = tuple(choices[number] for choices, number in zip(offered, rows[best], strict=True))
    return SupplyPlan(picked, bool(gives[best] >= litres_a_week - ENOUGH_L))


def _most_of(choices: Sequence[VesselChoice]) -> VesselChoice:
    """Return what gives the most, with the least effort, first of those alike."""
    most = max(one.litres_a_week for one in choices)
    return min((one for one in choices if one.litres_a_week >= most - ENOUGH_L), key=lambda one: round(one.effort / ENOUGH_L))


def _worth_following(gives: Floats, effort: Floats, demand: float) -> Whole:
    """Return which combinations no other beats: none gives as much, or enough by itself, with clearly less effort. In the order given."""
    enough = gives >= demand - ENOUGH_L
    bound = effort[enough].min() + CLEARLY if enough.any() else np.inf
    order = np.argsort(effort, kind="stable")
    most = np.maximum.accumulate(gives[order])
    less = np.searchsorted(effort[order], effort - CLEARLY, side="right") - 1  # the last one of clearly less effort
    beaten = (less >= 0) & (most[np.maximum(less, 0)] >= gives)
    return np.flatnonzero(~beaten & (effort <= bound))


def _first_alike(gives: Floats, effort: Floats, used: Whole, step: float) -> Whole:
    """Return the first of each group that gives and takes alike, in the order given."""
    keys = (np.round(gives / step).astype(np.int64) * 64 + np.minimum(used, 63)) * 2**26 + np.round(effort / CLEARLY).astype(np.int64)
    return np.sort(np.unique(keys, return_index=True)[1])


def _best(gives: Floats, effort: Floats, used: Whole, demand: float) -> int:
    left = np.arange(len(gives))
    short = np.maximum(0.0, demand - gives)
    short[short <= ENOUGH_L] = 0.0
    for measure in (short, effort, np.maximum(0.0, gives - demand), used.astype(float)):
        here = measure[left]
        left = left[here <= here.min() + ENOUGH_L]
    return int(left[0])
