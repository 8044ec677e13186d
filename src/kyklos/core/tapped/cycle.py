"""The tapped vessel: what it settles to when a part is drawn and topped up again and again, and how much it can give.

A draw takes a share of the liquid and gives as much sweet tea back. What is dissolved leaves and comes by volume; of bacteria and
yeast a part sits in discs and sediment and stays. Repeated, the state at the draw settles: the steady cycle.

Source: the first ferment's kinetics with the events of `batch.py`; shares that stay assumed.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..base import limit, require_between
from ..liquid import Batch, Course, Draw, Kinetics, Pour, Recipe, acids, run
from ..liquid.batch import BACTERIA_STAYING, MOST_DRAWN, YEAST_STAYING, BatchCourse
from ..liquid.events import Event
from ..liquid.ferment import (
    ACETIC,
    BACTERIA,
    CO2,
    ETHANOL,
    GLUCONIC,
    MONO,
    SUCROSE,
    YEAST,
    abv_percent,
    food,
    oxygen,
    step_length,
    surface_factor,
)
from ..liquid.integrator import integrate
from ..liquid.liquid import Inert, sweet_tea_of
from ..liquid.temperature import ratios_over, yeast_ratio

Array = NDArray[np.float64]

DAYS_A_WEEK = 7.0
NEARLY = 1e-4  #: A state that moves less in its last cycle counts as settled.
MOST_SHARE = 0.95  #: Looked for up to here. [-]
SETTLED, MOST_CYCLES = 1e-7, 150  #: The state at the draw moves less than that; after so many it is taken as it is.
SHARE_STEP = 0.01  #: Shares are searched in steps of so much. [-]
WITHOUT_PH, WITH_PH = 0.5, 0.9  #: The most that is advised without a pH after topping up, and with one. [-]
PLAIN_DAYS, LEAST_PLAIN, MOST_PLAIN = 24.0, 2, 8  #: So long it goes through cycles as they come, so many at least and at most, before
#: its settling is hurried on: the culture has taken its way then. [d, cycles]
SHIFT, TINY, FAR = 1e-6, 1e-12, 40.0  #: Of Newton's way: how far a part is shifted, what keeps it solvable, the longest step.
SEARCH_SETTLED = 3e-4  #: Enough where shares are only compared.
GRID = 16  #: Shares that are looked at together; then those between the two that matter.
EVERY_SHARE = np.round(np.arange(SHARE_STEP, MOST_SHARE + SHARE_STEP / 2, SHARE_STEP), 2)


@dataclass(frozen=True, slots=True, kw_only=True)
class CycleAsk:
    """A tapped vessel, what is given back to it, how warm it stands and how often it is drawn from."""

    recipe: Recipe  #: Of its sweet tea, first fill and top-ups alike.
    celsius: float  #: [degC]
    every_days: float  #: Between two draws. [d]
    first_days: float = 10.0  #: The first fill ferments so long before anything is drawn. [d]
    bacteria_staying: float = BACTERIA_STAYING  #: [-]
    yeast_staying: float = YEAST_STAYING  #: 0 when stirred. [-]
    yeast_vigour: float | None = None  #: As learned; the recipe's unless given. [-]
    bacteria_vigour: float | None = None  #: As learned; the recipe's unless given. [-]

    @property
    def kinetics(self) -> Kinetics:
        """How fast both work, surface and leaf aside."""
        usual = self.recipe.vigour
        return Kinetics(
            usual if self.yeast_vigour is None else self.yeast_vigour,
            usual if self.bacteria_vigour is None else self.bacteria_vigour,
        )

    def __post_init__(self) -> None:
        require_between(-10, 60, "degC", celsius=self.celsius)
        require_between(0.2, 120, "d", every_days=self.every_days)
        require_between(0, 200, "d", first_days=self.first_days)
        require_between(0, 1, "", bacteria_staying=self.bacteria_staying, yeast_staying=self.yeast_staying)


@dataclass(frozen=True, slots=True)
class Cycle:
    """Where a tapped vessel settles, for each share drawn; arrays of shape (n,)."""

    share: Array  #: [-]
    before: Array  #: State just before the draw, shape (8, n).
    after: Array  #: State once topped up, shape (8, n).
    inert: Inert  #: Tea, water and honey of what stands in it.
    settled: NDArray[np.bool_]  #: Whether the state at the draw came to rest.

    def _ph(self, state: Array) -> Array:
        where = self.inert
        return np.asarray(acids.ph(state[ACETIC], state[GLUCONIC], where.medium, where.honey_acid_meq_per_l))

    def _ta(self, state: Array) -> Array:
        where = self.inert
        return np.asarray(
            acids.titrated_acidity(state[ACETIC], state[GLUCONIC], where.medium, where.honey_acid_meq_per_l)
        )

    @property
    def ph_before(self) -> Array:
        """PH at the draw. [pH]"""
        return self._ph(self.before)

    @property
    def ph_after(self) -> Array:
        """PH once topped up. [pH]"""
        return self._ph(self.after)

    @property
    def ta_before(self) -> Array:
        """Acidity at the draw. [g/L]"""
        return self._ta(self.before)

    @property
    def ta_after(self) -> Array:
        """Acidity once topped up. [g/L]"""
        return self._ta(self.after)

    @property
    def sugar_before(self) -> Array:
        """Sugar at the draw. [g/L]"""
        return np.asarray(self.before[SUCROSE] + self.before[MONO])

    @property
    def abv_before(self) -> Array:
        """Alcohol at the draw. [% ABV]"""
        return np.asarray(abv_percent(self.before[ETHANOL]))


def drawn_and_topped(state: Array, share: Array, fresh: Array, bacteria_staying: float, yeast_staying: float) -> Array:
    """Return the state after a share was drawn and as much sweet tea given back.

    Args:
        state: Before, shape (8, n).
        share: Drawn, shape (n,). [-]
        fresh: The sweet tea's, shape (8,).
        bacteria_staying, yeast_staying: Shares that sit in discs and sediment. [-]
    """
    out = np.asarray((1 - share) * state + share * fresh[:, None])
    out[BACTERIA] = state[BACTERIA] * (bacteria_staying + (1 - bacteria_staying) * (1 - share))
    out[YEAST] = np.minimum(1.0, state[YEAST] * (yeast_staying + (1 - yeast_staying) * (1 - share)))
    return out


def _between(ask: CycleAsk) -> Callable[[Array], Array]:
    """Return how a state goes on from one draw to the next."""
    recipe = ask.recipe
    steps = max(2, int(np.ceil(ask.every_days / _step(ask) - 1e-9)))
    edges = np.linspace(0.0, ask.every_days, steps + 1)
    yeast, bacteria = ratios_over(Course(((0.0, ask.celsius),)), edges)
    k = replace(
        ask.kinetics,
        surface=surface_factor(recipe.surface_per_volume_per_cm),
        oxygen=oxygen(recipe.surface_per_volume_per_cm),
        food=food(recipe.leaf_g_per_l),
    )
    return lambda state: np.asarray(integrate(state, k, yeast, bacteria, np.diff(edges))[-1])


def _step(ask: CycleAsk) -> float:
    """Return the longest step that is fine enough for this vessel. [d]"""
    return step_length(float(ask.kinetics.yeast) * float(yeast_ratio(np.array(ask.celsius))))


@lru_cache(maxsize=64)
def _first_draw(ask: CycleAsk) -> Array:
    """Return the state at the first draw, shape (8,)."""
    brew = Batch(recipe=ask.recipe, course=Course(((0.0, ask.celsius),)))
    days = max(ask.first_days, 1e-3)
    return np.asarray(run(brew, days, kinetics=ask.kinetics, step_days=_step(ask)).at([ask.first_days]).state[0, :, 0])


def _newton(cycle: Callable[[Array, Array], Array], state: Array, there: Array, shares: Array) -> Array:
    """Step towards where a cycle comes back to itself, by Newton's way; members for which that is not nearer go on as they are.

    Args:
        cycle: One draw, topping up and wait.
        state: Before it, shape (8, n).
        there: After it.
        shares: Drawn, shape (n,). [-]
    """
    parts, count = CO2, len(shares)  # all but the gas
    shift = SHIFT * (1 + np.abs(state[:parts]))
    moved = np.repeat(state[:, None, :], parts, axis=1)
    moved[np.arange(parts), np.arange(parts), :] += shift
    came = cycle(moved.reshape(len(state), -1), np.tile(shares, parts)).reshape(len(state), parts, count)
    slope = (came[:parts] - there[:parts, None, :]) / shift[None, :, :]  # of part i by part j, for each member
    matrix = np.eye(parts) - slope.transpose(2, 0, 1)
    residual = (there - state)[:parts].T
    step = np.linalg.solve(matrix + TINY * np.eye(parts), residual[:, :, None])[:, :, 0].T
    tried = np.maximum(state[:parts] + step, 0.0)
    usable = np.isfinite(tried).all(axis=0) & (np.abs(step).max(axis=0) < FAR)
    out = there.copy()
    out[:parts, usable] = tried[:, usable]
    return out


def settle(ask: CycleAsk, shares: Array, settled: float = SETTLED, near: Array | None = None) -> Cycle:
    """Repeat draw, topping up and waiting until the state at the draw stays as it is.

    Args:
        ask: The vessel.
        shares: Drawn each time, shape (n,). [-]
        settled: How still the state is to be.
        near: Where shares nearly the same settle, shape (8, n): begun from there.

    Source: fixed point of the events of `batch.py` over one interval.
    """
    shares = np.atleast_1d(np.asarray(shares, float))
    fresh = sweet_tea_of(ask.recipe)
    wait = _between(ask)

    def cycle(state: Array, share: Array) -> Array:
        topped = drawn_and_topped(state, share, fresh.state, ask.bacteria_staying, ask.yeast_staying)
        topped[CO2] = 0.0  # gas leaves the open vessel
        out = wait(topped)
        out[CO2] = 0.0
        return out

    state = np.repeat(_first_draw(ask)[:, None], len(shares), axis=1) if near is None else near.copy()
    state[CO2] = 0.0
    plain = min(MOST_PLAIN, max(LEAST_PLAIN, round(PLAIN_DAYS / ask.every_days))) if near is None else 0
    moves = np.full(len(shares), np.inf)
    for number in range(MOST_CYCLES):
        there = cycle(state, shares)
        moves = np.abs(there - state).max(axis=0)
        if moves.max() < settled:
            state = there
            break
        state = there if number < plain else _newton(cycle, state, there, shares)
    topped = drawn_and_topped(state, shares, fresh.state, ask.bacteria_staying, ask.yeast_staying)
    recipe = ask.recipe
    inert = Inert(recipe.medium, fresh.honey_acid_meq_per_l, recipe.leaf_g_per_l)
    return Cycle(shares, state, topped, inert, moves < NEARLY)


@dataclass(frozen=True, slots=True)
class DrawRange:
    """How much may be drawn each time, by one point and one sour limit."""

    most: float | None  #: The largest share that is still sour enough at the draw and safe once topped up; None: none is. [-]
    least: float | None  #: The smallest that keeps it below what is called too sour; None: not asked, or even the most does not. [-]


@lru_cache(maxsize=64)
def reach(ask: CycleAsk, point_g_per_l: float, sour_g_per_l: float | None = None) -> DrawRange:
    """Find the largest share that can be drawn for good, and the smallest that keeps it from turning too sour.

    Args:
        ask: The vessel.
        point_g_per_l: How sour it is to be at the draw, at least. [g/L]
        sour_g_per_l: Too sour from here on. [g/L]
    """
    require_between(0, 60, "g/L", point_g_per_l=point_g_per_l)

    def sour_enough(out: Cycle) -> NDArray[np.bool_]:
        return np.asarray((out.ta_before >= point_g_per_l) & (out.ph_after <= limit("safe_ph")))

    def too_sour(out: Cycle) -> NDArray[np.bool_]:
        return np.asarray(out.ta_before >= (sour_g_per_l or 0.0))

    coarse = settle(ask, EVERY_SHARE[:: max(1, len(EVERY_SHARE) // GRID)], SEARCH_SETTLED)
    most = _last_share(ask, coarse, sour_enough)
    if sour_g_per_l is None:
        return DrawRange(most, None)
    last = _last_share(ask, coarse, too_sour)
    if last is None:
        return DrawRange(most, SHARE_STEP)
    return DrawRange(most, None if last >= MOST_SHARE else round(last + SHARE_STEP, 2))


def _last_share(ask: CycleAsk, coarse: Cycle, holds: Callable[[Cycle], NDArray[np.bool_]]) -> float | None:
    """Find the largest share for which something holds that holds for all smaller ones, to a hundredth.

    Args:
        ask: The vessel.
        coarse: Where it settles for shares far apart.
        holds: What is asked of each.
    """
    fits = holds(coarse)
    if not fits[0]:
        return None
    first = int(np.argmin(fits)) if not fits.all() else len(fits)
    low = coarse.share[first - 1]
    high = coarse.share[first] if first < len(fits) else MOST_SHARE + SHARE_STEP
    between = EVERY_SHARE[(low + 1e-9 < EVERY_SHARE) & (high - 1e-9 > EVERY_SHARE)]
    if not len(between):
        return float(low)
    near = np.repeat(coarse.before[:, first - 1 : first], len(between), axis=1)
    fine = holds(settle(ask, between, SEARCH_SETTLED, near))
    count = int(np.argmin(fine)) if not fine.all() else len(between)
    return float(between[count - 1]) if count else float(low)


def advised(most: float | None, measures_after: bool) -> float | None:
    """Return the share that is advised at most: the heel must seed, and an unmeasured vessel keeps half. [-]

    >>> advised(0.91, False), advised(0.91, True), advised(0.3, False)
    (0.5, 0.9, 0.3)
    """
    return None if most is None else min(most, WITH_PH if measures_after else WITHOUT_PH)


def course(ask: CycleAsk, share: float, litres: float, days: float) -> BatchCourse:
    """Compute a vessel from its first fill through draws and top-ups.

    Args:
        ask: The vessel.
        share: Drawn each time. [-]
        litres: In it when full. [L]
        days: How far. [d]
    """
    require_between(0, MOST_DRAWN, "", share=share)
    tea = sweet_tea_of(ask.recipe, share * litres)
    events: list[Event] = []
    day = ask.first_days
    while day <= days + 1e-9 and share > 0:
        events += [Draw(day, share * litres, stirred=ask.yeast_staying == 0.0), Pour(day, tea)]
        day += ask.every_days
    brew = Batch(
        recipe=ask.recipe,
        course=Course(((0.0, ask.celsius),)),
        litres=litres,
        events=tuple(events),
        bacteria_staying=ask.bacteria_staying,
        yeast_staying=ask.yeast_staying,
    )
    return run(brew, days, kinetics=ask.kinetics, step_days=_step(ask))


def litres_per_week(share: float, litres: float, every_days: float) -> float:
    """Return what a vessel gives. [L/week]

    >>> litres_per_week(0.25, 8, 7)
    2.0
    """
    return share * litres * DAYS_A_WEEK / every_days
