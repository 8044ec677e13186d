"""What a tapped vessel can give today and from then on, what it turns into when it is left, and the way back from there.

Asked of the vessel as it is known now: its likeliest state, its vigour as learned from readings, each taster's own point.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..base import limit, require_between
from ..liquid import Course, Draw, Kinetics, Point, Pour, Recipe, acids
from ..liquid.batch import BACTERIA_STAYING, YEAST_STAYING, Fill
from ..liquid.events import Event
from ..liquid.ferment import ACETIC, CO2, GLUCONIC, food, oxygen, step_length, surface_factor
from ..liquid.integrator import integrate
from ..liquid.liquid import sweet_tea_of
from ..liquid.taste import TASTE_STEEPNESS
from ..liquid.temperature import ratios_over, yeast_ratio
from .cycle import EVERY_SHARE, SHARE_STEP, CycleAsk, DrawRange, advised, drawn_and_topped, reach, settle
from .states import VINEGAR_G_PER_L

Array = NDArray[np.float64]

SOUR_STEPS = 1.5  #: So far right of "right" a taster calls it too sour: between a bit and too. [step]
INTERVALS = (7.0, 5.0, 4.0, 3.0, 2.0, 1.0)  #: How often one may draw, the laziest first. [d]
USUAL_EVERY = 3.0  #: Until the household has a habit. [d]
LOOK_AHEAD = 60.0  #: How far is looked for too sour, vinegar and the way back. [d]
SMALL_SHARE, SMALL_EVERY = 0.3, 2.0  #: Of the small draws that bring a forgotten vessel back (assumed). [-, d]
COLDER_K = 2.0  #: A room counts as colder from this difference on. [K]
HALF = 0.5  #: From a draw of more than so much, pH is asked for after topping up. [-]
LEAST_TODAY = 0.03  #: A share too small to speak of. [-]


def sour_limit(point_g_per_l: float, steepness: float = TASTE_STEEPNESS) -> float:
    """Return from which acidity on a taster calls it too sour, by the taster's own point and scale. [g/L]

    >>> round(sour_limit(4.0), 1), sour_limit(4.0, 6.0) < sour_limit(4.0)
    (5.8, True)
    """
    return float(point_g_per_l * np.exp(SOUR_STEPS / steepness))


@dataclass(frozen=True, slots=True, kw_only=True)
class Tapped:
    """A vessel as it stands now."""

    recipe: Recipe  #: Of its first fill; the sweet tea it is topped up with is the same.
    course: Course  #: How warm it stands. [d since the start]
    now: float  #: [d since the start]
    state: tuple[float, ...]  #: Its likeliest state now, 8 parts.
    fill: Fill  #: What stands in it now.
    line_l: float  #: It is filled up to so much liquid. [L]
    heel_l: float = 0.0  #: Stays below the tap. [L]
    yeast_vigour: float = 1.0  #: As learned. [-]
    bacteria_vigour: float = 1.0  #: As learned. [-]
    points: tuple[Point, ...] = ()
    steepness: tuple[float, ...] = ()  #: How sharply each tells sweet from sour, beside the points; the usual unless given. [-]
    every_days: float = USUAL_EVERY  #: How often it is drawn from. [d]
    measures_after: bool = False  #: Whether a pH is taken after topping up.
    stirred: bool = False  #: Before drawing.

    def __post_init__(self) -> None:
        require_between(0.001, 10_000, "L", line_l=self.line_l)
        require_between(0, self.line_l, "L", heel_l=self.heel_l)
        require_between(0.2, 120, "d", every_days=self.every_days)

    @property
    def celsius(self) -> float:
        """How warm it stands from now on. [degC]"""
        return float(self.course.at(np.array([self.now + 1.0]))[0])

    @property
    def lowest(self) -> float:
        """The sweetest point: from here on somebody likes it. [g/L]"""
        return min((p.ta_g_per_l for p in self.points), default=4.0)

    @property
    def sourest(self) -> float:
        """What even the last taster calls too sour: above it nobody likes it. [g/L]"""
        return max((self.sour_for(i) for i in range(len(self.points))), default=sour_limit(4.0))

    def sour_for(self, number: int) -> float:
        """What one taster calls too sour, as learned. [g/L]"""
        return sour_limit(self.points[number].ta_g_per_l, self.slope_of(number))

    def slope_of(self, number: int) -> float:
        """How sharply one taster tells sweet from sour, as learned. [steps per unit of ln acidity]"""
        return self.steepness[number] if number < len(self.steepness) else TASTE_STEEPNESS

    @property
    def to_tap(self) -> float:
        """The share that can run out at the tap. [-]"""
        return max(0.0, 1 - self.heel_l / self.line_l)

    def cycle(self, every_days: float | None = None, kelvin: float = 0.0) -> CycleAsk:
        """Ask where it settles, so much warmer. [d, K]"""
        return CycleAsk(
            recipe=replace(self.recipe, vigour=1.0),
            celsius=round(min(max(self.celsius + kelvin, -10.0), 60.0), 1),
            every_days=every_days or self.every_days,
            yeast_vigour=round(self.yeast_vigour, 2),
            bacteria_vigour=round(self.bacteria_vigour, 2),
            yeast_staying=0.0 if self.stirred else YEAST_STAYING,
        )

    def acidity(self, state: Array) -> Array:
        """Titratable acidity of states of shape (8, n). [g/L]"""
        where = self.fill.inert
        return np.asarray(
            acids.titrated_acidity(state[ACETIC], state[GLUCONIC], where.medium, where.honey_acid_meq_per_l)
        )

    def ph(self, state: Array) -> Array:
        """PH of states of shape (8, n). [pH]"""
        where = self.fill.inert
        return np.asarray(acids.ph(state[ACETIC], state[GLUCONIC], where.medium, where.honey_acid_meq_per_l))


def _topped(ask: Tapped, state: Array, shares: Array) -> Array:
    """Draw shares of what stands when full, and fill up with sweet tea."""
    out = drawn_and_topped(
        state, shares, sweet_tea_of(ask.recipe).state, BACTERIA_STAYING, 0.0 if ask.stirred else YEAST_STAYING
    )
    out[CO2] = 0.0
    return out


def _on(ask: Tapped, state: Array, days: float, kelvin: float = 0.0) -> tuple[Array, Array]:
    """Let states go on: days from now and states at each, shapes (t,) and (t, 8, n)."""
    course = ask.course.warmer(kelvin, ask.now) if kelvin else ask.course
    warmest = max(float(course.at(np.array([ask.now + 0.1]))[0]), ask.celsius + kelvin)
    step = step_length(ask.yeast_vigour * float(yeast_ratio(np.array(warmest))))
    edges = ask.now + np.linspace(0.0, days, max(2, int(np.ceil(days / step))) + 1)
    surface = ask.fill.surface_per_volume_per_cm * ask.fill.litres / ask.line_l
    k = replace(
        Kinetics(ask.yeast_vigour, ask.bacteria_vigour),
        surface=surface_factor(surface),
        oxygen=oxygen(surface),
        food=food(ask.fill.inert.leaf_g_per_l),
    )
    return edges - ask.now, integrate(state, k, *ratios_over(course, edges), np.diff(edges))


def _full(ask: Tapped) -> Array:
    """Return the state now, as it is once filled up to the line: what was drawn and not given back yet comes first, shape (8, 1)."""
    state = np.array(ask.state, float)[:, None]
    missing = 1 - ask.fill.litres / ask.line_l
    if missing <= SHARE_STEP:
        return state
    fresh = sweet_tea_of(ask.recipe).state[:, None]
    return np.asarray((1 - missing) * state + missing * fresh)


def _first_above(days: Array, values: Array, bound: float) -> float | None:
    """Find when rising values first reach a bound, straight between days; None: not in these days. [d]"""
    reached = values >= bound
    if not reached.any():
        return None
    i = int(reached.argmax())
    if i == 0:
        return 0.0
    low, high = values[i - 1], values[i]
    return float(days[i - 1] + (days[i] - days[i - 1]) * (bound - low) / max(high - low, 1e-12))


@dataclass(frozen=True, slots=True)
class Today:
    """What may be drawn today, and what comes of it."""

    share: float  #: Of what stands when full; 0: leave it. [-]
    litres: float  #: [L]
    ph_after: float  #: Once topped up. [pH]
    ta_after: float  #: Once topped up. [g/L]
    ready_in: float | None  #: Without drawing: until somebody likes it; 0: now. [d]
    right_again: tuple[tuple[str, float | None], ...]  #: By taster: after drawing so much and topping up. [d]
    measure_after: bool  #: More than half: a pH once topped up is asked for.


def _again(ask: Tapped, days: Array, sour: Array) -> tuple[tuple[str, float | None], ...]:
    """List when it is right again for each, the first first."""
    times = [(p.taster, _first_above(days, sour, p.ta_g_per_l)) for p in ask.points]
    return tuple(sorted(times, key=lambda one: LOOK_AHEAD if one[1] is None else one[1]))


@lru_cache(maxsize=128)
def today(ask: Tapped, kelvin: float = 0.0) -> Today:
    """Find how much may be drawn now so that it stays safe and is right again when it is next drawn from.

    Args:
        ask: The vessel.
        kelvin: How much warmer it will stand. [K]
    """
    state = np.array(ask.state, float)[:, None]
    here = float(ask.acidity(state)[0])
    shares = np.concatenate([[0.0], EVERY_SHARE])
    full = np.repeat(_full(ask), len(shares), axis=1)
    topped = _topped(ask, full, shares)
    ph, ta = ask.ph(topped), ask.acidity(topped)
    days, course = _on(ask, topped, max(LOOK_AHEAD / 2, 2 * ask.every_days), kelvin)
    sour = np.stack([ask.acidity(at) for at in course])
    due = int(np.searchsorted(days, ask.every_days - 1e-9))
    fits = (ph <= limit("safe_ph")) & (sour[min(due, len(days) - 1)] >= ask.lowest)
    count = int(np.argmin(fits)) if not fits.all() else len(fits)
    most = advised(float(shares[count - 1]) if count else 0.0, ask.measures_after) or 0.0
    share = min(most, ask.to_tap) if here >= ask.lowest else 0.0
    share = 0.0 if share < LEAST_TODAY else share
    at = int(np.argmin(np.abs(shares - share)))
    waiting = 0.0 if here >= ask.lowest else _first_above(days, sour[:, 0], ask.lowest)
    return Today(
        share,
        share * ask.line_l,
        float(ph[at]),
        float(ta[at]),
        waiting,
        _again(ask, days, sour[:, at]),
        share > HALF,
    )


@lru_cache(maxsize=128)
def drawing(ask: Tapped, litres: float) -> Today:
    """Return what comes of drawing so much now, however much it is. [L]"""
    require_between(0, ask.line_l, "L", litres=litres)
    share = litres / ask.line_l
    topped = _topped(ask, _full(ask), np.array([share]))
    days, course = _on(ask, topped, LOOK_AHEAD)
    sour = np.array([float(ask.acidity(at)[0]) for at in course])
    return Today(
        share,
        litres,
        float(ask.ph(topped)[0]),
        float(ask.acidity(topped)[0]),
        0.0,
        _again(ask, days, sour),
        share > HALF,
    )


@dataclass(frozen=True, slots=True)
class Left:
    """What becomes of a tapped vessel when nobody draws."""

    too_sour: tuple[tuple[str, float | None], ...]  #: By taster: until it is too sour. [d]
    vinegar: float | None  #: [d]


@lru_cache(maxsize=128)
def left_alone(ask: Tapped) -> Left:
    """Find when it grows too sour for each, and vinegar, if nobody draws; None: not within two months."""
    days, course = _on(ask, np.array(ask.state, float)[:, None], LOOK_AHEAD)
    sour = np.array([float(ask.acidity(at)[0]) for at in course])
    return Left(
        tuple((p.taster, _first_above(days, sour, ask.sour_for(i))) for i, p in enumerate(ask.points)),
        _first_above(days, sour, VINEGAR_G_PER_L),
    )


@dataclass(frozen=True, slots=True)
class WayBack:
    """How a vessel that grew too sour comes back."""

    litres: float  #: Drawn each time. [L]
    every_days: float
    draws: int  #: So many until it is right at the draw.


@lru_cache(maxsize=128)
def way_back(ask: Tapped) -> WayBack | None:
    """Count the small draws after which it is liked again at the draw; None: it is not too sour, one draw is enough, or they are not."""
    state = np.array(ask.state, float)[:, None]
    if float(ask.acidity(state)[0]) < ask.sourest:
        return None
    here, once = _full(ask), min(today(ask).share, HALF)
    if once > 0:
        _, course = _on(ask, _topped(ask, here, np.array([once])), ask.every_days)
        if float(ask.acidity(course[-1])[0]) < ask.sourest:
            return None
    share = min(SMALL_SHARE, ask.to_tap)
    for number in range(1, int(LOOK_AHEAD / SMALL_EVERY)):
        _, course = _on(ask, _topped(ask, here, np.array([share])), SMALL_EVERY)
        here = course[-1]
        if float(ask.acidity(here)[0]) < ask.sourest:
            return WayBack(share * ask.line_l, SMALL_EVERY, number + 1)
    return None


def can_give(ask: Tapped, kelvin: float = 0.0) -> DrawRange:
    """Find the most and the least to be drawn each time, for good, in a room so much warmer. [K]"""
    return reach(ask.cycle(kelvin=kelvin), ask.lowest, ask.sourest)


def best_interval(ask: Tapped) -> float:
    """Return the longest interval at which what must be drawn is no more than what may be advised. [d]"""
    for days in INTERVALS:
        found = reach(ask.cycle(days), ask.lowest, ask.sourest)
        most = advised(found.most, ask.measures_after)
        if most is not None and found.least is not None and found.least <= most:
            return days
    return INTERVALS[-1]


@dataclass(frozen=True, slots=True)
class Rhythm:
    """A way of drawing for good."""

    every_days: float
    litres: float  #: Each time. [L]
    share: float  #: [-]
    ta_g_per_l: float  #: At the draw. [g/L]
    ph_after: float  #: Once topped up. [pH]
    fits: bool  #: Right for somebody, too sour for not everybody, safe once topped up, and no more than may be advised.

    @property
    def too_high_after(self) -> bool:
        """Whether it does not keep itself once it is topped up."""
        return self.ph_after > limit("safe_ph")

    @property
    def measure_after(self) -> bool:
        """Whether a pH is asked for once it is topped up."""
        return self.share > HALF


def for_a_wish(ask: Tapped, litres_a_week: float) -> tuple[Rhythm, ...]:
    """List the ways of drawing so much a week, the laziest first. [L/week]"""
    require_between(0, 1000, "L/week", litres_a_week=litres_a_week)
    out = []
    for days in INTERVALS:
        share = litres_a_week * days / 7 / ask.line_l
        if share > min(EVERY_SHARE[-1], ask.to_tap):
            continue
        out.append(rhythm(ask, days, share))
    return tuple(out)


@lru_cache(maxsize=128)
def rhythm(ask: Tapped, every_days: float, share: float, kelvin: float = 0.0) -> Rhythm:
    """Return where it settles when such a share is drawn so often. [d, -, K]"""
    cycle = settle(ask.cycle(every_days, kelvin), np.array([share]), settled=1e-4)
    ta, ph = float(cycle.ta_before[0]), float(cycle.ph_after[0])
    most = advised(1.0, ask.measures_after) or 0.0
    fits = ask.lowest <= ta < ask.sourest and ph <= limit("safe_ph") and share <= most + 1e-9
    return Rhythm(every_days, share * ask.line_l, share, ta, ph, fits)


def planned(ask: Tapped, litres: float, every_days: float, days: float, first: float = 0.0) -> tuple[Event, ...]:
    """List the draws to come and their toppings up; what is missing now is given first. [L, d]"""
    out: list[Event] = []
    missing = ask.line_l - ask.fill.litres
    day = ask.now + first
    if missing > SHARE_STEP * ask.line_l:
        out.append(Pour(day, sweet_tea_of(ask.recipe, missing)))
    while litres > 0 and day <= ask.now + days:
        out += [Draw(day, litres, ask.stirred), Pour(day, sweet_tea_of(ask.recipe, litres))]
        day += every_days
    return tuple(out)


@lru_cache(maxsize=128)
def gate_acidity(ask: Tapped) -> float:
    """Return how sour it is at pH 4.2, mixed of what stands there and its sweet tea. [g/L]"""
    shares = np.linspace(0.0, 0.99, 100)
    topped = _topped(ask, np.repeat(_full(ask), len(shares), axis=1), shares)
    return float(np.interp(limit("safe_ph"), ask.ph(topped), ask.acidity(topped)))


def as_poured(litres: float) -> float:
    """Return an amount as a kitchen pours it, never more than it is: to a tenth of a litre, small ones to a twentieth. [L]

    >>> as_poured(3.46), as_poured(0.37)
    (3.4, 0.35)
    """
    step = 0.1 if litres >= 1 else 0.05
    return round(float(np.floor(litres / step + 1e-6)) * step, 2)


GROWTH_MM_A_DAY, SLOWER_FROM_MM = 0.4, 25.0  #: Of the stack of discs (assumed). [mm/d, mm]
THIN_AT_MM, THIN_TO_MM, THIN_SHARE = 25.0, 10.0, 0.15  #: Thin it there, or at such a share of the vessel; back to so much.
YEAST_G_PER_G, SETTLES, SOLIDS = 0.05, 0.5, 0.2  #: Dry yeast of sugar fermented, share that settles, solids in it (assumed).
SEDIMENT_SHARE, CLEAN_DAYS = 0.015, 180.0  #: Clean at such a share of the vessel, or after so long. [-, d]


