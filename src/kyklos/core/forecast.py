"""The forecast: what is not known of a brew, learned from its readings, carried forward as an ensemble.

Unknown are the vigour of yeast and bacteria, the starter's activity and acid, the share of gluconic acid, the
meter's offset and each taster's point. An iterated Gauss-Newton fit with priors finds the likeliest values, a
Laplace ensemble, mildly inflated, carries what is still uncertain. The same data give the same answer.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from .batch import JUST_BEFORE, Batch, BatchCourse, Event, Ratios, carry_on, fill_at, run
from .errors import CoreError, require_between
from .facts import INSTRUMENTS, limit
from .ferment import (
    ACETIC,
    BACTERIA,
    ETHANOL,
    GLUCONIC,
    MONO,
    SUCROSE,
    YEAST,
    Kinetics,
    Recipe,
    abv_percent,
    start_state,
    step_length,
)
from .kinds import SeenKind
from .sweet_tea import density
from .taste import POINT_SD, TASTE_SD, TASTE_STEEPNESS, Point, usual_point
from .temperature import Course, ratios_over, step_ratios

Array = NDArray[np.float64]

MEMBERS = 200
SEED = 20_260_401
ITERATIONS = 3
NUDGE = 0.02  #: For the finite differences. [-]
INFLATION = 1.1  #: A bare Laplace band is a little narrow (fitted with `make bench`). [-]
SURPRISE, WIDEST = 1.0, 6.0  #: From this many sd of misfit the variance grows, to at most so much (fitted). [-]
ACTIVITY_SD = 0.3  #: ln starter activity (assumed). [-]
GLUCONIC_SD = 0.25  #: ln of the factor on gluconic acid (assumed). [-]
STARTER_ACID_SD = 0.2  #: ln of the starter's acid, for a meter's 0.1 in its pH (assumed). [-]
TITRATED_ACID_SD = 0.08  #: The same, titrated: 5 % and what mixing adds (assumed). [-]
GRAVITY_SD = 0.0015  #: Of a hydrometer, and of what the model leaves out (assumed). [-]
ETHANOL_GRAVITY = -0.00027  #: Ethanol of 0.789 g/mL mixed without change of volume (assumed). [L/g]
TA_SD = 0.05  #: Of a titration. [share]
AT_ODDS = 1.3  #: From here a page says that readings contradict what is known (fitted). [-]
LEAST_UNTOLD = 0.5  #: A brew stood at least so long before anything is known of it, where its start is unsure. [d]
PACE = (0.05, 3.0)  #: So slow, or fast, time may run until then. [-]
FINE_DAYS = 14.0  #: Quantiles stand at every half day until here, then daily. [d]


@dataclass(frozen=True, slots=True)
class Observation:
    """One measurement or taste of a brew."""

    day: float  #: Since the pitch. [d]
    kind: str  #: ph, ta, taste or gravity
    value: float  #: [pH], [g/L], [step from -3 to 3] or [-]
    instrument: str = "meter"
    taster: str = ""
    point_g_per_l: float = 4.0  #: For a taste: where this taster likes it. [g/L]
    point_sd: float = POINT_SD  #: How uncertain that is, in ln acidity. [-]
    sd: float | None = None  #: Of this pH or gravity, where its instrument has its own. [pH or -]

    def __post_init__(self) -> None:
        require_between(0, 400, "d", day=self.day)
        low, high, unit = {
            "ph": (0, 14, ""),
            "ta": (0, 60, "g/L"),
            "taste": (-3, 3, "steps"),
            "gravity": (0.98, 1.1, ""),
        }[self.kind]
        require_between(low, high, unit, **{self.kind: self.value})

    @property
    def spread(self) -> float:
        """How far it may be off: its instrument's own error, or as usual of its kind. [pH, ln, step or -]"""
        usual = {"ta": TA_SD, "taste": TASTE_SD, "gravity": GRAVITY_SD}
        return self.sd or usual.get(self.kind) or INSTRUMENTS[self.instrument].sd_ph


@dataclass(frozen=True, slots=True)
class Prior:
    """What is expected of a culture before any reading."""

    yeast_vigour: float = 1.0  #: Median. [-]
    bacteria_vigour: float = 1.0  #: Median. [-]
    spread: float = 0.25  #: Of the logarithm. [-]

    def __post_init__(self) -> None:
        require_between(0.05, 5, "", yeast_vigour=self.yeast_vigour, bacteria_vigour=self.bacteria_vigour)
        require_between(0.01, 1.5, "", spread=self.spread)


@dataclass(frozen=True, slots=True, kw_only=True)
class ForecastAsk:
    """All that a forecast depends on; equal asks have equal answers."""

    batch: Batch
    observations: tuple[Observation, ...] = ()
    prior: Prior = Prior()
    points: tuple[Point, ...] = ()
    target_ph: float | None = None
    days: int = 40
    start_sd_days: float = 0.0  #: How unsure it is when the brew began; 0: it is known. [d]

    def __post_init__(self) -> None:
        require_between(2, 200, "d", days=self.days)
        require_between(0, 60, "d", start_sd_days=self.start_sd_days)
        if self.target_ph is not None:
            require_between(2, 6, "", target_ph=self.target_ph)

    @property
    def recipe(self) -> Recipe:
        """What the brew was started with."""
        return self.batch.recipe

    @property
    def course(self) -> Course:
        """How warm it stands."""
        return self.batch.course

    @property
    def untold_days(self) -> float:
        """How long it stood before anything is known of it: so long it may have worked for less or more. [d]"""
        told = [seen.day for seen in self.observations] + [event.day for event in self.batch.events]
        return max(LEAST_UNTOLD, min(told, default=self.start_sd_days * 2))

    def on(self, course: Course) -> ForecastAsk:
        """Return the same along another course."""
        return replace(self, batch=replace(self.batch, course=course))


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

    def state_at(self, day: float) -> Array:
        """Give the likeliest state at a day, shape (8,)."""
        return np.array([np.interp(day, self.day, self.fit[:, i]) for i in range(self.fit.shape[1])])

    def at(self, band: Band, day: float) -> tuple[float, float, float]:
        """Read a band at a day: p10, p50, p90."""
        return (
            float(np.interp(day, self.day, band.p10)),
            float(np.interp(day, self.day, band.p50)),
            float(np.interp(day, self.day, band.p90)),
        )


def _acid_sd(recipe: Recipe) -> float:
    """Return how unsure the starter's acid is, in its logarithm. [-]"""
    return STARTER_ACID_SD if recipe.starter_ta_g_per_l is None else TITRATED_ACID_SD


class _Unknowns:
    """The vector of unknowns: vigours, activity, gluconic, starter acid, meter, one point per taster, perhaps the start."""

    yeast, bacteria, activity, gluconic, acid, meter, tasters = range(7)

    def __init__(self, ask: ForecastAsk) -> None:
        unsure = {seen.taster: seen.point_sd for seen in ask.observations if seen.kind == SeenKind.TASTE}
        names = sorted(unsure)
        self.taster_row = {name: self.tasters + i for i, name in enumerate(names)}
        spread = ask.prior.spread
        self.sd = np.array(
            [spread, spread, ACTIVITY_SD, GLUCONIC_SD, _acid_sd(ask.recipe), 1.0]
            + [unsure[name] for name in names]
            + ([ask.start_sd_days] if ask.start_sd_days else [])
        )
        self.earlier = len(self.sd) - 1 if ask.start_sd_days else None  #: It began so much earlier than told. [d]
        self.centre = np.zeros(len(self.sd))
        self.centre[:2] = np.log([ask.prior.yeast_vigour, ask.prior.bacteria_vigour])

    def start(self, recipe: Recipe, theta: Array) -> Array:
        """Give start states for members theta of shape (p, n)."""
        state = start_state(recipe, theta.shape[1])
        activity = np.exp(theta[self.activity])
        state[YEAST] = np.minimum(1.0, state[YEAST] * activity)
        state[BACTERIA] *= activity
        acid = np.exp(theta[self.acid])
        state[ACETIC] *= acid
        state[GLUCONIC] *= acid
        return state

    def kinetics(self, theta: Array) -> Kinetics:
        """Give the kinetics of members theta of shape (p, n)."""
        yeast, bacteria, gluconic = (np.exp(theta[row]) for row in (self.yeast, self.bacteria, self.gluconic))
        return Kinetics(yeast, bacteria, gluconic=gluconic)


def _remembered(ask: ForecastAsk, unknowns: _Unknowns, theta: Array, ratios: Ratios | None) -> Ratios | None:
    """Let members whose start was earlier work longer before anything is known of them: their time runs faster then."""
    if unknowns.earlier is None:
        return ratios
    usual = ratios or (lambda edges: ratios_over(ask.course, edges))
    pace = np.clip(1 + theta[unknowns.earlier] / ask.untold_days, *PACE)

    def told(edges: Array) -> tuple[Array, Array]:
        before = (edges[1:] <= ask.untold_days + 1e-9)[:, None]
        yeast, bacteria = (ratio if ratio.ndim == 2 else ratio[:, None] for ratio in usual(edges))
        return np.where(before, yeast * pace, yeast), np.where(before, bacteria * pace, bacteria)

    return told


def _run(
    ask: ForecastAsk, unknowns: _Unknowns, theta: Array, days: float, step: float, ratios: Ratios | None = None
) -> BatchCourse:
    """Compute all members theta of shape (p, n) until a day."""
    ratios = _remembered(ask, unknowns, theta, ratios)
    return run(
        ask.batch,
        days,
        start=unknowns.start(ask.recipe, theta),
        kinetics=unknowns.kinetics(theta),
        step_days=step,
        ratios=ratios,
    )


def _predict(ask: ForecastAsk, unknowns: _Unknowns, theta: Array, fastest: float) -> Array:
    """Foretell every observation for every member: shape (observations, n)."""
    at = np.array([seen.day for seen in ask.observations])
    step = step_length(fastest)
    end = max(1, int(np.ceil(max(float(at.max()), 0.5) / step - 1e-9))) * step
    then = _run(ask, unknowns, theta, end, step).at(at)
    acidity = np.maximum(then.ta_g_per_l, 0.02)
    out = then.ph.copy()
    for i, seen in enumerate(ask.observations):
        if seen.kind == SeenKind.PH:
            out[i] += INSTRUMENTS[seen.instrument].offset_ph * theta[unknowns.meter]
        elif seen.kind == SeenKind.TA:
            out[i] = np.log(acidity[i])
        elif seen.kind == SeenKind.GRAVITY:
            out[i] = _gravity(then.state[i])
        else:
            point = np.log(seen.point_g_per_l) + theta[unknowns.taster_row[seen.taster]]
            out[i] = np.clip(TASTE_STEEPNESS * (np.log(acidity[i]) - point), -3.6, 3.6)
    return out


def _gravity(state: Array) -> Array:
    """Foretell specific gravity from sugars and alcohol, for states of shape (8, n)."""
    sugars = (state[SUCROSE] + state[MONO]) / 10
    per_cent = sugars / (0.99823 + 0.00386 * sugars)
    return np.asarray(
        (density(0) + 0.00386 * per_cent + 0.0000132 * per_cent**2) / density(0) + ETHANOL_GRAVITY * state[ETHANOL]
    )


def _measured(observations: tuple[Observation, ...]) -> tuple[Array, Array]:
    """Values as the fit compares them, and their spreads: pH, ln of acidity, taste."""
    value = [np.log(max(seen.value, 0.02)) if seen.kind == SeenKind.TA else seen.value for seen in observations]
    return np.array(value, float), np.array([seen.spread for seen in observations], float)


def _fastest(ask: ForecastAsk, unknowns: _Unknowns) -> float:
    """Bound the fastest yeast: vigour at the prior's upper end times the warmest ratio of the course."""
    yeast, _ = step_ratios(ask.course, 2 * ask.days, 0.5)
    longer = 1 + 1.5 * ask.start_sd_days / ask.untold_days if ask.start_sd_days else 1.0
    return float(np.exp(unknowns.centre[0] + 1.5 * unknowns.sd[0]) * yeast.max() * min(longer, PACE[1]))


def _fit(ask: ForecastAsk, unknowns: _Unknowns, fastest: float) -> tuple[Array, Array, float]:
    """Find the likeliest unknowns and their covariance by Gauss-Newton with priors, and how much it was widened."""
    centre, precision = unknowns.centre, np.diag(1 / unknowns.sd**2)
    theta = centre.copy()
    if not ask.observations:
        return theta, np.diag(unknowns.sd**2), 1.0
    value, sd = _measured(ask.observations)
    hessian, cost = precision, 0.0
    for _ in range(ITERATIONS):
        nudged = np.column_stack([theta, theta[:, None] + NUDGE * np.eye(len(theta))])
        predicted = _predict(ask, unknowns, nudged, fastest)
        jacobian = (predicted[:, 1:] - predicted[:, :1]) / NUDGE / sd[:, None]
        misfit = (value - predicted[:, 0]) / sd
        hessian = jacobian.T @ jacobian + precision
        away = theta - centre
        step = np.linalg.solve(hessian, jacobian.T @ misfit - precision @ away)
        step = np.clip(step, -2 * unknowns.sd, 2 * unknowns.sd)
        theta = theta + step
        left = misfit - jacobian @ step
        cost = float(left @ left + (away + step) @ precision @ (away + step))
    wider = _contradicted(cost, len(value))
    return theta, np.asarray(np.linalg.inv(hessian), np.float64) * wider, wider


def _contradicted(cost: float, readings: int) -> float:
    """Say how much the variance grows because readings contradict the model or each other; 1 when they do not.

    Args:
        cost: Squared misfit of readings and prior at the best fit; about the number of readings when all is well. [-]
        readings: How many there are.
    """
    usual = readings + SURPRISE * (2 * readings) ** 0.5
    return float(np.clip(cost / usual, 1.0, WIDEST))


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


def _window(when: Array) -> Window:
    ordered = np.sort(when)
    picks = [float(ordered[round(q * (len(ordered) - 1))]) for q in (0.1, 0.5, 0.9)]
    return Window(*(pick if np.isfinite(pick) else None for pick in picks))


def _band(values: Array) -> Band:
    return Band(*np.quantile(values, (0.1, 0.5, 0.9), axis=1))


def _ensemble(ask: ForecastAsk, unknowns: _Unknowns, theta: Array, covariance: Array, fastest: float) -> BatchCourse:
    """Run the likeliest brew, the same a degree warmer, and the members: 2 + members, at the days that are kept."""
    spread: Array = np.linalg.cholesky(covariance) @ _normals(len(theta)) * INFLATION
    everyone = np.column_stack([theta, theta, theta[:, None] + spread])
    past = ask.course.points[-1][0] if ask.course.points else 0.0
    seen = max((seen.day for seen in ask.observations), default=0.0)
    warm = ask.course.warmer(1.0, max(past, seen))

    def ratios(edges: Array) -> tuple[Array, Array]:
        usual, warmer = ratios_over(ask.course, edges), ratios_over(warm, edges)
        yeast, bacteria = (np.repeat(ratio[:, None], everyone.shape[1], axis=1) for ratio in usual)
        yeast[:, 1], bacteria[:, 1] = warmer
        return yeast, bacteria

    step = step_length(fastest)
    out = _run(ask, unknowns, everyone, int(ask.days / step) * step, step, ratios)
    return out.at(_kept_days(ask, float(out.day[-1])))


def _kept_days(ask: ForecastAsk, end: float) -> Array:
    """Return the days told: half days at first, whole days later, each event and the moment before it."""
    halves = np.arange(int(2 * end) + 1) / 2
    days = set(halves[(halves <= FINE_DAYS) | (halves % 1 == 0)].tolist())
    events = [event.day for event in ask.batch.events if 0 < event.day <= end]
    return np.array(sorted(days | set(events) | {max(0.0, day - JUST_BEFORE) for day in events}))


def _sign_of_life(day: Array, ph: Array, acidity: Array) -> Array:
    """Find when each member shows that it lives: acidity up by 1 g/L or pH down by 0.3 since the pitch."""
    risen = _crossing(day, acidity - acidity[0], limit("sign_of_life_ta"))
    fallen = _crossing(day, ph[0] - ph, limit("sign_of_life_ph"))
    return np.minimum(risen, fallen)


def _posterior(theta: Array, covariance: Array) -> Posterior:
    sd = np.sqrt(np.diag(covariance))
    return Posterior(float(np.exp(theta[0])), float(np.exp(theta[1])), float(sd[0]), float(sd[1]))


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
    unknowns = _Unknowns(ask)
    fastest = _fastest(ask, unknowns)
    theta, covariance, wider = _fit(ask, unknowns, fastest)
    out = _ensemble(ask, unknowns, theta, covariance, fastest)
    return _summary(ask, out, _posterior(theta, covariance), wider)


def _summary(ask: ForecastAsk, out: BatchCourse, posterior: Posterior, wider: float) -> Forecast:
    day, states, ph, acidity = out.day, out.state, out.ph, out.ta_g_per_l
    alive = _sign_of_life(day, ph, acidity)
    points = ask.points or (Point("", usual_point(ask.recipe.honey_share)),)
    ready = {point.taster: np.maximum(_crossing(day, acidity, point.ta_g_per_l), alive) for point in points}
    target = (
        np.maximum(_crossing(day, -ph, -ask.target_ph), alive) if ask.target_ph is not None else ready[points[0].taster]
    )
    at_seven = ph[int(np.argmin(np.abs(day - min(limit("safe_by_day"), day[-1])))), 2:]
    first = target if ask.target_ph is not None else ready[points[0].taster]
    both = np.isfinite(first[0]) and np.isfinite(first[1])
    return Forecast(
        day=day,
        ph=_band(ph[:, 2:]),
        ta_g_per_l=_band(acidity[:, 2:]),
        sugar_g_per_l=_band(states[:, SUCROSE, 2:] + states[:, MONO, 2:]),
        abv_percent=_band(np.asarray(abv_percent(states[:, ETHANOL, 2:]))),
        ready={name: _window(when[2:]) for name, when in ready.items()},
        target=_window(target[2:]),
        safe_by_day_7=float(np.mean(at_seven <= limit("safe_ph"))),
        days_per_kelvin=float(first[0] - first[1]) if both else None,
        posterior=posterior,
        contradicted=wider,
        fit=states[:, :, 0].copy(),
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
    course = carry_on(batch, state, fill, from_day, from_day + ahead_days, k)
    now = int(np.searchsorted(course.day, from_day, side="right")) - 1  # after what happens on that day
    when = float(_crossing(course.day[now:], course.ta_g_per_l[now:], point_g_per_l)[0])
    return when if np.isfinite(when) else None
