"""The forecast: what is not known of a brew, learned from its readings, carried forward as an ensemble.

Unknown are the vigour of yeast and bacteria, the starter's activity and acid, the share of gluconic acid, how the leaf
buffers, how much warmer it stands than recorded, the meter's offset and each taster's point. An iterated Gauss-Newton fit with priors finds the likeliest values, a
Laplace ensemble, mildly inflated, carries what is still uncertain. The same data give the same answer.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from threading import RLock

import numpy as np
from numpy.typing import NDArray

from ..base import CoreError, limit
from ..base.facts import INSTRUMENTS
from ..base.kinds import SeenKind
from ..liquid import Kinetics, Point
from ..liquid.batch import JUST_BEFORE, BatchCourse, carry_on, fill_at
from ..liquid.events import Event
from ..liquid.ferment import ETHANOL, MONO, SUCROSE, abv_percent, step_length
from ..liquid.integrator import Computing, alone, together
from ..liquid.taste import usual_point
from ..liquid.temperature import ratios_of, yeast_ratio
from . import rooms
from .ask import ForecastAsk, Observation
from .fit import Fit, Unknowns, expected, fastest_of, fitting, running_members

Array = NDArray[np.float64]

MEMBERS = 200
MOST_TOGETHER = 12  #: Brews carried forward side by side: more would fill the memory.
SEED = 20_260_401
INFLATION = 1.1  #: A bare Laplace band is a little narrow (fitted with `make bench`). [-]
AT_ODDS = 1.3  #: From here a page says that readings contradict what is known (fitted). [-]
STILL_READINGS, STILL_DAYS = 3, 4.0  #: So many readings over so long tell a dead ferment (assumed). [-, d]
STILL_PER_DAY, STILL_FORETOLD, STILL_END = 0.02, 0.3, 1.28  #: Falls less where more was foretold, at the 90 % end (assumed). [pH/d, pH, sd]
LEAST_PER_KELVIN = 0.05  #: A degree that moves the day by no more is not worth a word. [d/K]
FINE_DAYS = 14.0  #: Quantiles stand at every half day until here, then daily. [d]


@dataclass(frozen=True, slots=True)
class Window:
    """When something is reached; None when not within the forecast."""

    p10: float | None  #: [d since pitch]
    p50: float | None  #: [d since pitch]
    p90: float | None  #: [d since pitch]


@dataclass(frozen=True, slots=True)
class Band:
    """Quantiles over time, each of shape (t,)."""

    p10: Array
    p50: Array
    p90: Array


@dataclass(frozen=True, slots=True)
class Posterior:
    """What the readings taught about a brew's vigour."""

    yeast_vigour: float  #: [-]
    bacteria_vigour: float  #: [-]
    yeast_sd: float  #: Of the logarithm. [-]
    bacteria_sd: float  #: Of the logarithm. [-]
    buffer: float = 0.0  #: ln of the factor on the leaf's acids and ions. [-]
    covariance: tuple[float, ...] = ()  #: Of ln both vigours and ln buffer, upper triangle; empty: not kept. [-]


@dataclass(frozen=True, slots=True)
class Forecast:
    """A brew's future and past as it is understood now."""

    day: Array  #: Shape (t,). [d since pitch]
    ph: Band
    ta_g_per_l: Band
    sugar_g_per_l: Band
    abv_percent: Band
    ready: dict[str, Window]  #: By taster.
    target: Window  #: Of the target pH.
    safe_by_day_7: float  #: Probability that pH is at or below 4.2 by day 7. [-]
    days_per_kelvin: float | None  #: How much a degree warmer moves the first ready day. [d/K]
    posterior: Posterior
    contradicted: (
        float  #: How much readings at odds with recipe, warmth or each other widened the variance; 1: not. [-]
    )
    fit: Array = field(repr=False)  #: Likeliest state over time, shape (t, 8).
    aside: tuple[Observation, ...] = ()  #: Readings so far from what the others foretell that they were set aside.
    stalled: bool = False  #: Its last readings are alike, and it is not right yet: it may never be.

    @property
    def warmth_matters(self) -> bool:
        """Whether a degree more or less moves its day enough to be worth a word."""
        return self.days_per_kelvin is not None and self.days_per_kelvin > LEAST_PER_KELVIN

    def state_at(self, day: float) -> Array:
        """Return the likeliest state at a day, shape (8,)."""
        return np.array([np.interp(day, self.day, self.fit[:, i]) for i in range(self.fit.shape[1])])

    def at(self, band: Band, day: float) -> tuple[float, float, float]:
        """Read a band at a day: p10, p50, p90."""
        return (
            float(np.interp(day, self.day, band.p10)),
            float(np.interp(day, self.day, band.p50)),
            float(np.interp(day, self.day, band.p90)),
        )


@lru_cache(maxsize=16)
def _normals(parameters: int) -> Array:
    """Draw fixed standard normal numbers in mirrored pairs, shape (parameters, members), of spread one."""
    half = np.random.default_rng(SEED).standard_normal((parameters, MEMBERS // 2))
    both = np.concatenate([half, -half], axis=1)
    return np.asarray(both / both.std(axis=1, keepdims=True))


def _crossing(day: Array, values: Array, target: float | Array) -> Array:
    """Find when rising values of shape (t, n) first reach a target: shape (n,), inf when never."""
    reached = values >= target
    first = reached.argmax(axis=0)
    column = np.arange(values.shape[1])
    before = np.maximum(first - 1, 0)
    low, high = values[before, column], values[first, column]
    share = np.where(high > low, (target - low) / np.where(high > low, high - low, 1.0), 1.0)
    when = np.where(first == 0, day[0], day[before] + share * (day[first] - day[before]))
    return np.where(reached.any(axis=0), when, np.inf)


def stands_still(seen: Sequence[Observation], foretold: Sequence[float]) -> bool:
    """Return whether the last pH readings fall so little that the ferment may be dead.

    Args:
        seen: pH readings in order of time.
        foretold: What each would have been by recipe, culture and warmth alone. [pH]

    Three or more readings over four days or more, of which a straight line falls by less than 0.02 pH a day even at its 90 % end,
    where more than 0.3 were foretold: what the instrument cannot tell counts, so that a strip tells it late or never.
    """
    day, value = np.array([one.day for one in seen]), np.array([one.value for one in seen])
    spread = np.array([one.spread for one in seen])
    for first in range(len(seen) - STILL_READINGS + 1):
        at = day[first:] - np.average(day[first:], weights=spread[first:] ** -2)
        known = float((at**2 / spread[first:] ** 2).sum())
        if at[-1] - at[0] < STILL_DAYS or foretold[first] - foretold[-1] <= STILL_FORETOLD:
            continue
        fall = -float((at * value[first:] / spread[first:] ** 2).sum()) / known
        if fall + STILL_END * known**-0.5 < STILL_PER_DAY:
            return True
    return False


def _window(when: Array) -> Window:
    ordered = np.sort(when)
    picks = [float(ordered[round(q * (len(ordered) - 1))]) for q in (0.1, 0.5, 0.9)]
    return Window(*(pick if np.isfinite(pick) else None for pick in picks))


def _band(values: Array) -> Band:
    return Band(*np.quantile(values, (0.1, 0.5, 0.9), axis=1))


def _ensemble(ask: ForecastAsk, unknowns: Unknowns, theta: Array, covariance: Array, fastest: float) -> Computing[BatchCourse]:
    """Run the likeliest brew, the same a degree warmer, and the members: 2 + members, at the days that are kept."""
    spread: Array = np.linalg.cholesky(covariance) @ _normals(len(theta)) * INFLATION
    everyone = np.column_stack([theta, theta, theta[:, None] + spread])
    past = ask.course.points[-1][0] if ask.course.points else 0.0
    seen = max((seen.day for seen in ask.observations), default=0.0)
    warm = ask.course.warmer(1.0, max(past, seen))

    def ratios(edges: Array) -> tuple[Array, Array]:
        offsets = everyone[unknowns.warmth]
        yeast, bacteria = ratios_of(ask.course, edges, offsets)
        warmer = ratios_of(warm, edges, offsets[1:2])
        yeast[:, 1], bacteria[:, 1] = warmer[0][:, 0], warmer[1][:, 0]
        return yeast, bacteria

    step = step_length(fastest)
    first = ask.batch.from_day
    out = yield from running_members(ask, unknowns, everyone, first + int((ask.days - first) / step) * step, step, ratios)
    return out.at(_kept_days(ask, float(out.day[-1])))


def _kept_days(ask: ForecastAsk, end: float) -> Array:
    """Return the days shown: half days at first, whole days later, each event and the moment before it."""
    first = ask.batch.from_day
    halves = np.arange(int(2 * end) + 1) / 2
    halves = halves[halves >= first]
    fine = FINE_DAYS if ask.ripe_from <= 0 else ask.ripe_from + FINE_DAYS
    days = {first, *halves[(halves <= fine) | (halves % 1 == 0)].tolist()}
    events = [event.day for event in ask.batch.events if first < event.day <= end]
    return np.array(sorted(days | set(events) | {max(first, day - JUST_BEFORE) for day in events}))


def _sign_of_life(day: Array, ph: Array, acidity: Array) -> Array:
    """Find when each member shows that it lives: acidity up by 1 g/L or pH down by 0.3 since the pitch."""
    risen = _crossing(day, acidity - acidity[0], limit("sign_of_life_ta"))
    fallen = _crossing(day, ph[0] - ph, limit("sign_of_life_ph"))
    return np.minimum(risen, fallen)


def _posterior(unknowns: Unknowns, fit: Fit) -> Posterior:
    yeast, bacteria, buffer = (float(v) for v in fit.theta[unknowns.carried])
    shared = fit.covariance[np.ix_(unknowns.carried, unknowns.carried)]
    sd = np.sqrt(np.diag(shared))
    upper = tuple(float(v) for v in shared[np.triu_indices(3)])
    return Posterior(math.exp(yeast), math.exp(bacteria), float(sd[0]), float(sd[1]), buffer, upper)


@lru_cache(maxsize=512)
def forecast(ask: ForecastAsk) -> Forecast:
    """Foretell a brew from its recipe, temperatures and readings.

    Args:
        ask: All it depends on; an equal ask is answered from memory.

    Returns: Bands over time at half days until day 14 and whole days after, ready windows, chances.

    Raises:
        CoreError: If an instrument is not known.

    Source: Gauss-Newton with priors and a Laplace ensemble; rule of pH 4.2 within 7 days, Nummer 2013.
    """
    for seen in ask.observations:
        if seen.kind == SeenKind.PH and seen.instrument not in INSTRUMENTS:
            raise CoreError(f"instrument {seen.instrument!r} is not known; known are {', '.join(INSTRUMENTS)}.")
    return _summary(ask, carried(ask))


@dataclass(frozen=True, slots=True)
class Carried:
    """A brew's fit carried forward, whoever asks and whatever they like."""

    fit: Fit
    fastest: float  #: Of its rates. [1/d]
    day: Array  #: Shape (t,). [d since pitch]
    each_ph: Array  #: Of the likeliest brew, the same a degree warmer, and the members; shape (t, 2 + members). [pH]
    each_ta: Array  #: Alike. [g/L]
    likeliest: Array  #: State of the likeliest brew, shape (t, 8).
    ph: Band
    ta_g_per_l: Band
    sugar_g_per_l: Band
    abv_percent: Band


def _carrying(ask: ForecastAsk) -> Computing[Carried]:
    """Fit a brew and carry it forward: a taster's point, or a target, reads from it and asks for no other run."""
    unknowns = Unknowns(ask)
    fastest = fastest_of(ask, unknowns)
    fit = yield from _learning(_told_so_far(ask), fastest)
    out = yield from _ensemble(ask, unknowns, fit.theta, fit.covariance, fastest)
    states = out.state
    return Carried(
        fit,
        fastest,
        out.day,
        out.ph,
        out.ta_g_per_l,
        states[:, :, 0].copy(),
        _band(out.ph[:, 2:]),
        _band(out.ta_g_per_l[:, 2:]),
        _band(states[:, SUCROSE, 2:] + states[:, MONO, 2:]),
        _band(np.asarray(abv_percent(states[:, ETHANOL, 2:]))),
    )


def carried(ask: ForecastAsk) -> Carried:
    """Return a brew carried forward member by member, as `forecast` reads it; the first two are the likeliest, and that a degree warmer."""
    bare = _whoever(ask)
    room = rooms.room_for(bare)
    with room.turn:
        if room.kept is None:
            room.kept = alone(_carrying(bare))
        return room.kept


def carry_together(asks: Iterable[ForecastAsk]) -> None:
    """Carry many brews forward side by side, so that each is then foretold from memory: ten take little longer than one."""
    every = list(dict.fromkeys(map(_whoever, asks)))
    with _one_at_a_time:
        missing = [one for one in every if rooms.room_for(one).kept is None]
        for first in range(0, len(missing), MOST_TOGETHER):
            some = missing[first : first + MOST_TOGETHER]
            for ask, out in zip(some, together([_carrying(one) for one in some]), strict=True):
                rooms.room_for(ask).kept = out


def _whoever(ask: ForecastAsk) -> ForecastAsk:
    return replace(ask, points=(), target_ph=None)


_one_at_a_time = RLock()  #: Two pages that want the same brews compute them once.


def forget() -> None:
    """Forget every answer given, as when a model is changed under test."""
    for memory in (forecast, rooms.room_for, rooms.room_for_fit):
        memory.cache_clear()


def _told_so_far(ask: ForecastAsk) -> ForecastAsk:
    """Return the same without what comes after its last reading, which teaches nothing: other futures share one fit."""
    last = max((seen.day for seen in ask.observations), default=0.0)
    events = tuple(event for event in ask.batch.events if event.day <= last + 1.0)
    return replace(ask, batch=replace(ask.batch, events=events), ripe_from=0.0)


def _learning(ask: ForecastAsk, fastest: float) -> Computing[Fit]:
    room = rooms.room_for_fit(ask, fastest)
    if not room:
        fit = yield from fitting(ask, Unknowns(ask), fastest)
        room.append(fit)
    return room[0]


def _stalled(ask: ForecastAsk, seen: Sequence[Observation], fastest: float) -> bool:
    """Return whether readings stand still where recipe, culture and warmth alone foretold a fall."""
    if len(seen) < STILL_READINGS or seen[-1].day - seen[0].day < STILL_DAYS:
        return False
    return stands_still(seen, expected(replace(ask, observations=tuple(seen)), fastest).tolist())


def _summary(ask: ForecastAsk, out: Carried) -> Forecast:
    known, fastest = out.fit, out.fastest
    day, ph, acidity = out.day, out.each_ph, out.each_ta
    alive = _sign_of_life(day, ph, acidity) if ask.ripe_from <= 0 else np.full(ph.shape[1], ask.ripe_from)
    since = max(0, int(np.searchsorted(day, ask.ripe_from, side="right")) - 1)
    points = ask.points or (Point("", usual_point(ask.recipe.honey_share)),)
    then, sour, low = day[since:], acidity[since:], ph[since:]
    ready = {point.taster: np.maximum(_crossing(then, sour, point.ta_g_per_l), alive) for point in points}
    target = (
        np.maximum(_crossing(then, -low, -ask.target_ph), alive) if ask.target_ph is not None else ready[points[0].taster]
    )
    at_seven = ph[int(np.argmin(np.abs(day - min(limit("safe_by_day"), day[-1])))), 2:]
    first = target if ask.target_ph is not None else ready[points[0].taster]
    both = np.isfinite(first[0]) and np.isfinite(first[1])
    windows = {name: _window(when[2:]) for name, when in ready.items()}
    still = [seen for number, seen in enumerate(ask.observations) if number not in known.aside]
    late = {name for name, w in windows.items() if w.p50 is None or (still and w.p50 > still[-1].day)}
    stalled = bool(late) and _stalled(ask, [seen for seen in still if seen.kind == SeenKind.PH], fastest)
    if stalled:
        windows |= {name: replace(windows[name], p90=None) for name in late}
    return Forecast(
        day=day,
        ph=out.ph,
        ta_g_per_l=out.ta_g_per_l,
        sugar_g_per_l=out.sugar_g_per_l,
        abv_percent=out.abv_percent,
        ready=windows,
        target=replace(_window(target[2:]), p90=None) if stalled else _window(target[2:]),
        safe_by_day_7=float(np.mean(at_seven <= limit("safe_ph"))),
        days_per_kelvin=float(first[0] - first[1]) if both else None,
        posterior=_posterior(Unknowns(ask), known),
        contradicted=known.wider,
        aside=tuple(ask.observations[number] for number in known.aside),
        fit=out.likeliest,
        stalled=stalled,
    )


def reaches(
    ask: ForecastAsk, out: Forecast, from_day: float, point_g_per_l: float, ahead_days: float, *events: Event
) -> float | None:
    """Find when the likeliest brew, to which something more happens, reaches an acidity. [d since pitch]

    Args:
        ask, out: The brew as it goes.
        from_day: From when on; what happened before is in `out`. [d since pitch]
        point_g_per_l: The acidity. [g/L]
        ahead_days: How far to look. [d]
        events: What happens besides, from then on.

    Returns: None when not within the days looked ahead; the day itself when it is there already.
    """
    batch = replace(ask.batch, events=tuple(e for e in ask.batch.events if e.day > from_day)).with_events(*events)
    k = Kinetics(out.posterior.yeast_vigour, out.posterior.bacteria_vigour)
    state, fill = out.state_at(from_day)[:, None], fill_at(ask.batch, from_day)
    warmths = [celsius for _, celsius in ask.course.points] + ([ask.course.future_c] if ask.course.future_c else [])
    step = step_length(out.posterior.yeast_vigour * float(yeast_ratio(np.array(max(warmths)))))
    course = carry_on(batch, state, fill, from_day, from_day + ahead_days, k, step)
    now = int(np.searchsorted(course.day, from_day, side="right")) - 1  # after what happens on that day
    when = float(_crossing(course.day[now:], course.ta_g_per_l[now:], point_g_per_l)[0])
    return when if np.isfinite(when) else None
