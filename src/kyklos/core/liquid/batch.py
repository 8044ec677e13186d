"""A brew with what happens to it, computed from event to event on stacked members.

A batch is started once; then it may be drawn from, topped up, given starter, blended, thinned, moved to another vessel.
Batch and continuous brewing are the same with fewer or more events. What is dissolved leaves and comes by volume; of
bacteria and yeast a part sits in discs and sediment and stays (shares assumed).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..base import CoreError, require_between
from . import acids
from .events import Begun, Draw, Event, Move, Pour, Thin
from .ferment import (
    ACETIC,
    BACTERIA,
    GLUCONIC,
    STEP_DAYS,
    YEAST,
    Kinetics,
    Recipe,
    food,
    oxygen,
    start_state,
    surface_factor,
)
from .integrator import Computing, Leg, alone
from .liquid import Inert, Liquid
from .temperature import Course, ratios_over

Array = NDArray[np.float64]
Ratios = Callable[
    [Array], tuple[Array, Array]
]  #: Edges of steps -> ratios of yeast and bacteria, (steps,) or (steps, n).

BACTERIA_STAYING, YEAST_STAYING = 0.5, 0.3  #: Share of them in discs and sediment, which a draw leaves (assumed). [-]
MOST_DRAWN = 0.999  #: Of what stands there: something is always left. [-]
JUST_BEFORE = 1e-4  #: A moment before an event is shown so much earlier. [d]
LITRES = 3.8  #: Of a batch whose volume does not matter. [L]


@dataclass(frozen=True, slots=True, kw_only=True)
class Batch:
    """A brew: what it was started with, how warm it stands, what happened and will happen to it."""

    recipe: Recipe
    course: Course
    litres: float = LITRES  #: At the start. [L]
    events: tuple[Event, ...] = ()  #: In order of time; those of one moment in the order given.
    bacteria_staying: float = BACTERIA_STAYING  #: [-]
    yeast_staying: float = YEAST_STAYING  #: When drawn unstirred. [-]
    begun: Begun | None = None  #: From where it is computed; from its start unless given. Events are those since then.

    def __post_init__(self) -> None:
        require_between(0.001, 10_000, "L", litres=self.litres)
        require_between(0, 1, "", bacteria_staying=self.bacteria_staying, yeast_staying=self.yeast_staying)
        days = [event.day for event in self.events]
        if days != sorted(days) or (days and days[0] < 0):
            raise CoreError("events: they must be in order of day, from the start on.")
        if self.begun is not None and days and days[0] < self.begun.day:
            raise CoreError("events: those before the day from which it is computed do not count.")
        litres = self.litres if self.begun is None else self.begun.litres
        for event in self.events:
            _check(event)
            if isinstance(event, Draw):
                if event.litres > MOST_DRAWN * litres:
                    raise CoreError(
                        f"events: {event.litres:g} L drawn on day {event.day:g}, {litres:.4g} L stand there."
                    )
                litres -= event.litres
            elif isinstance(event, Pour):
                litres += event.liquid.litres

    @property
    def from_day(self) -> float:
        """From when on it is computed. [d since the start]"""
        return 0.0 if self.begun is None else self.begun.day

    def first_fill(self) -> Fill:
        """Return what stands there when the computing begins."""
        if self.begun is None:
            return Fill(self.litres, self.recipe.surface_per_volume_per_cm, inert_of(self.recipe))
        return Fill(self.begun.litres, self.begun.surface_per_volume_per_cm, self.begun.inert)

    def first_state(self, members: int = 1) -> Array:
        """Return the state when the computing begins, shape (8, members)."""
        if self.begun is None:
            return start_state(self.recipe, members)
        return np.repeat(np.array(self.begun.state, float)[:, None], members, axis=1)

    def with_events(self, *more: Event) -> Batch:
        """Return the same with more events, put in order."""
        return replace(self, events=tuple(sorted((*self.events, *more), key=lambda event: event.day)))


def _check(event: Event) -> None:
    if isinstance(event, Draw):
        require_between(0, 10_000, "L", draw_l=event.litres)
    elif isinstance(event, Thin):
        require_between(0, 1, "", thin_share=event.share)
    elif isinstance(event, Move):
        require_between(0.001, 2, "1/cm", surface_per_volume_per_cm=event.surface_per_volume_per_cm)


@dataclass(frozen=True, slots=True)
class Fill:
    """What stands in the vessel besides what ferments: volume, surface, what is inert."""

    litres: float  #: [L]
    surface_per_volume_per_cm: float  #: [1/cm]
    inert: Inert


def happened(state: Array, now: Fill, event: Event, batch: Batch) -> tuple[Array, Fill]:
    """Return the state and what stands there after an event.

    Args:
        state: Before, shape (8, n).
        now: Before.
        event: What happens.
        batch: For the shares that stay.
    """
    state = state.copy()
    if isinstance(event, Draw):
        return state, _drawn(state, now, event, batch)
    if isinstance(event, Pour):
        return state, _poured(state, now, event.liquid)
    if isinstance(event, Thin):
        state[BACTERIA] *= 1 - batch.bacteria_staying * event.share
        return state, now
    return state, Fill(now.litres, event.surface_per_volume_per_cm, now.inert)


def _drawn(state: Array, now: Fill, event: Draw, batch: Batch) -> Fill:
    left = 1 - event.litres / now.litres
    for row, staying in ((BACTERIA, batch.bacteria_staying), (YEAST, 0.0 if event.stirred else batch.yeast_staying)):
        state[row] *= staying / left + 1 - staying
    return Fill(now.litres * left, now.surface_per_volume_per_cm / left, now.inert)


def _poured(state: Array, now: Fill, liquid: Liquid) -> Fill:
    share = liquid.litres / (now.litres + liquid.litres)
    state *= 1 - share
    state += share * liquid.state[:, None]
    state[YEAST] = np.minimum(state[YEAST], 1.0)
    return Fill(
        now.litres + liquid.litres, now.surface_per_volume_per_cm * (1 - share), now.inert.mixed(now.litres, liquid)
    )


@dataclass(frozen=True)
class BatchCourse:
    """A computed batch. An event's day stands twice: before and after it."""

    day: Array  #: Shape (t,), not falling. [d]
    state: Array = field(repr=False)  #: Shape (t, 8, n).
    part: NDArray[np.int_] = field(repr=False)  #: In which part between events each day lies, shape (t,).
    fills: tuple[Fill, ...]  #: What stood in the vessel in each part.
    buffer: Array | None = field(default=None, repr=False)  #: Factor on the leaf's acids and ions, shape (n,). [-]

    @property
    def litres(self) -> Array:
        """Volume over time, shape (t,). [L]"""
        return np.array([stand.litres for stand in self.fills])[self.part]

    @cached_property
    def ph(self) -> Array:
        """pH over time, shape (t, n). [pH]"""
        return self._by_part(acids.ph)

    @cached_property
    def ta_g_per_l(self) -> Array:
        """Acidity as titrated, shape (t, n). [g/L]"""
        return self._by_part(acids.titrated_acidity)

    def _by_part(self, compute: Callable[..., Array]) -> Array:
        out = np.empty((len(self.day), self.state.shape[2]))
        for number, stand in enumerate(self.fills):
            rows = self.part == number
            acetic, gluconic = self.state[rows, ACETIC], self.state[rows, GLUCONIC]
            where = stand.inert.medium if self.buffer is None else acids.buffered(stand.inert.medium, self.buffer)
            out[rows] = compute(acetic, gluconic, where, stand.inert.honey_acid_meq_per_l)
        return out

    def at(self, days: Sequence[float] | Array) -> BatchCourse:
        """Return the batch at given days, straight between computed ones; a day of an event stands after it."""
        days = np.asarray(days, float)
        left = np.clip(np.searchsorted(self.day, days, side="right") - 1, 0, len(self.day) - 1)
        right = np.minimum(left + 1, len(self.day) - 1)
        right = np.where(self.part[right] == self.part[left], right, left)
        span = self.day[right] - self.day[left]
        weight = np.where(span > 0, (days - self.day[left]) / np.where(span > 0, span, 1.0), 0.0)
        weight = np.clip(weight, 0.0, 1.0)[:, None, None]
        state = self.state[left] * (1 - weight) + self.state[right] * weight
        return replace(self, day=days, state=state, part=self.part[left])


def _edges(start: float, end: float, step: float) -> Array:
    """Return the edges of steps between two days: both, and every whole multiple of the step between them."""
    first, last = int(np.floor(start / step + 1e-9)) + 1, int(np.ceil(end / step - 1e-9)) - 1
    inner = np.arange(first, last + 1) * step
    return np.concatenate([[start], inner, [end]])


def run(
    batch: Batch,
    days: float,
    *,
    start: Array | None = None,
    kinetics: Kinetics | None = None,
    step_days: float = STEP_DAYS,
    ratios: Ratios | None = None,
) -> BatchCourse:
    """Compute a batch from event to event.

    Args:
        batch: The brew.
        days: Until when. [d since the start]
        start: Members at the start, shape (8, n); one as the recipe has it unless given.
        kinetics: Of the members; the recipe's vigour unless given. Its surface is the batch's own.
        step_days: Longest step. [d]
        ratios: How fast yeast and bacteria work over steps; by the batch's course unless given.

    Returns: States at every step, and before and after every event.
    """
    return alone(running(batch, days, start=start, kinetics=kinetics, step_days=step_days, ratios=ratios))


def running(
    batch: Batch,
    days: float,
    *,
    start: Array | None = None,
    kinetics: Kinetics | None = None,
    step_days: float = STEP_DAYS,
    ratios: Ratios | None = None,
) -> Computing[BatchCourse]:
    """Compute a batch as `run` does, side by side with others."""
    state = batch.first_state() if start is None else start
    kinetics = kinetics or Kinetics(batch.recipe.vigour, batch.recipe.vigour)
    return _carried(batch, state, batch.first_fill(), batch.from_day, days, kinetics, step_days, ratios)


def carry_on(
    batch: Batch,
    state: Array,
    fill: Fill,
    from_day: float,
    days: float,
    kinetics: Kinetics,
    step_days: float = STEP_DAYS,
) -> BatchCourse:
    """Compute a batch on from a day at which its state is known; only events from then on happen.

    Args:
        batch: The brew, with the events to come.
        state: Then, before the day's events, shape (8, n).
        fill: What stands in the vessel then.
        from_day, days: From when, and until which day. [d since the start]
        kinetics: Of the members.
        step_days: Longest step. [d]
    """
    return alone(_carried(batch, state, fill, from_day, days, kinetics, step_days, None))


def _carried(
    batch: Batch,
    state: Array,
    fill: Fill,
    start: float,
    end: float,
    kinetics: Kinetics,
    step_days: float,
    ratios: Ratios | None,
) -> Computing[BatchCourse]:
    work = ratios or (lambda edges: ratios_over(batch.course, edges))
    days: list[Array] = []
    states: list[Array] = []
    fills: list[Fill] = []
    here = start
    ahead = [event for event in batch.events if start <= event.day <= end]
    for event in (*ahead, None):
        until = end if event is None else event.day
        edges = _edges(here, until, step_days) if until > here else np.array([here])
        k = _fed_and_aired(kinetics, fill)
        some = (yield Leg(state, k, *work(edges), np.diff(edges))) if len(edges) > 1 else state[None]
        days.append(edges)
        states.append(some)
        fills.append(fill)
        if event is not None:
            state, fill = happened(some[-1], fill, event, batch)
            here = until
    part = np.concatenate([np.full(len(some), number) for number, some in enumerate(days)])
    return BatchCourse(np.concatenate(days), np.concatenate(states), part, tuple(fills))


def _fed_and_aired(k: Kinetics, fill: Fill) -> Kinetics:
    """Let surface and leaf of what stands in the vessel tell what they do."""
    surface = fill.surface_per_volume_per_cm
    return replace(k, surface=surface_factor(surface), oxygen=oxygen(surface), food=food(fill.inert.leaf_g_per_l))


def inert_of(recipe: Recipe) -> Inert:
    """Return what stays as it is in a brew just started."""
    return Inert(recipe.start_medium, recipe.honey_acid_meq_per_l, recipe.leaf_g_per_l)


def fill_at(batch: Batch, day: float) -> Fill:
    """Return volume, surface and what is inert of a batch at a day, after its events until then. [d]"""
    state, now = batch.first_state(), batch.first_fill()
    for event in batch.events:
        if event.day <= day:
            state, now = happened(state, now, event, batch)
    return now


def ferment(recipe: Recipe, course: Course, days: int = 30) -> BatchCourse:
    """Compute a first ferment for one brew to which nothing happens, day by day.

    Args:
        recipe: What it was started with.
        course: Temperature since then.
        days: How far. [d]

    Returns: States at each whole day from 0, one member.

    Source: see `rates.py`; surface after Cvetkovic et al. 2008.

    >>> from kyklos.core.liquid.temperature import steady
    >>> round(float(ferment(Recipe(starter_ph=3.0), steady(24), 9).ph[9, 0]), 1)
    3.2
    """
    require_between(1, 400, "d", days=days)
    return run(Batch(recipe=recipe, course=course), days).at(np.arange(days + 1, dtype=float))
