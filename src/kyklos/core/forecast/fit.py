"""The fit of a forecast: what is not known of a brew, learned from its readings by Gauss-Newton with priors.

One wrong reading does not govern: far from what the others foretell it is set aside, until a second agrees with it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..base.facts import INSTRUMENTS
from ..base.kinds import SeenKind
from ..liquid import Batch, Kinetics, Recipe
from ..liquid.batch import BatchCourse, Ratios, running
from ..liquid.ferment import ACETIC, BACTERIA, ETHANOL, GLUCONIC, MONO, SUCROSE, YEAST, step_length
from ..liquid.integrator import Computing, alone
from ..liquid.sweet_tea import density
from ..liquid.taste import TASTE_STEEPNESS
from ..liquid.temperature import ratios_of, step_ratios

if TYPE_CHECKING:
    from .ask import ForecastAsk, Observation

Array = NDArray[np.float64]

ITERATIONS = 3
NUDGE = 0.02  #: For the finite differences. [-]
SURPRISE, WIDEST = 1.0, 6.0  #: From this many sd of misfit the variance grows, to at most so much (fitted). [-]
STUDENT = 3.0  #: Degrees of freedom of a misfit's heavy tails. [-]
SUSPECT, ASIDE = 3.0, 4.0  #: From so far off a reading is looked at, and set aside. [sd]
AT_ODDS_BY_ONE = 2.0  #: From this variance on, one wild reading of few is looked for (fitted). [-]
ASIDE_WIDER = 1.2  #: The variance grows so much where a reading was set aside: it may have been right (fitted). [-]
ROBUST_ITERATIONS = 6
ACTIVITY_SD = 0.3  #: ln starter activity (assumed). [-]
GLUCONIC_SD = 0.25  #: ln of the factor on gluconic acid (assumed). [-]
ACID_PER_PH = 2.58  #: How much the ln of a starter's acid is unsure for each pH that it is, near pH 3.2. [1/pH]
TITRATED_ACID_SD = 0.08  #: The same, titrated: 5 % and what mixing adds (assumed). [-]
GAS_G_PER_L, GAS_SD_G_PER_L = 0.8, 0.46  #: What gas left in adds to a titration, and how unsure: 0 to 1.6 alike. [g/L]
BUFFER_SD = 0.35  #: ln of the factor on the leaf's acids and ions (assumed). [-]
ETHANOL_GRAVITY = -0.00027  #: Ethanol of 0.789 g/mL mixed without change of volume (assumed). [L/g]
PACE = (0.05, 3.0)  #: So slow, or fast, time may run until then. [-]


def _acid_sd(recipe: Recipe) -> float:
    """Return how unsure the starter's acid is, in its logarithm. [-]"""
    return ACID_PER_PH * recipe.starter_ph_sd if recipe.starter_ta_g_per_l is None else TITRATED_ACID_SD


def symmetric(upper: Sequence[float]) -> Array:
    """Make a symmetric matrix of its upper triangle, row by row: of six numbers one of shape (3, 3)."""
    size = math.isqrt(2 * len(upper))
    out = np.zeros((size, size))
    out[np.triu_indices(size)] = upper
    return np.asarray(out + np.triu(out, 1).T)


class Unknowns:
    """The vector of unknowns: vigours, activity, gluconic, starter acid, meter, tasters, perhaps the start, buffer, warmth."""

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
            + [BUFFER_SD, ask.warmth_doubt_k]
        )
        self.buffer, self.warmth = len(self.sd) - 2, len(self.sd) - 1  #: Of the leaf, in ln; so much warmer [K]
        self.earlier = len(self.sd) - 3 if ask.start_sd_days else None  #: It began so much earlier than recorded. [d]
        self.centre = np.zeros(len(self.sd))
        self.centre[:2] = np.log([ask.prior.yeast_vigour, ask.prior.bacteria_vigour])
        self.centre[self.buffer] = ask.prior.buffer
        self.carried = [self.yeast, self.bacteria, self.buffer]  #: What a line's brews share.
        self.covariance = np.diag(self.sd**2)
        if ask.prior.covariance:
            self.covariance[np.ix_(self.carried, self.carried)] = symmetric(ask.prior.covariance)
            self.sd = np.sqrt(np.diag(self.covariance))
        self.precision = np.linalg.inv(self.covariance)

    def start(self, batch: Batch, theta: Array) -> Array:
        """Return start states for members theta of shape (p, n)."""
        state = batch.first_state(theta.shape[1])
        activity = np.exp(theta[self.activity])
        state[YEAST] = np.minimum(1.0, state[YEAST] * activity)
        state[BACTERIA] *= activity
        acid = np.exp(theta[self.acid])
        state[ACETIC] *= acid
        state[GLUCONIC] *= acid
        return state

    def kinetics(self, theta: Array) -> Kinetics:
        """Return the kinetics of members theta of shape (p, n)."""
        yeast, bacteria, gluconic = (np.exp(theta[row]) for row in (self.yeast, self.bacteria, self.gluconic))
        return Kinetics(yeast, bacteria, gluconic=gluconic)


def _remembered(ask: ForecastAsk, unknowns: Unknowns, theta: Array, ratios: Ratios | None) -> Ratios:
    """Let members whose start was earlier work longer before anything is known of them: their time runs faster then."""
    usual = ratios or (lambda edges: ratios_of(ask.course, edges, theta[unknowns.warmth]))
    if unknowns.earlier is None:
        return usual
    pace = np.clip(1 + theta[unknowns.earlier] / ask.untold_days, *PACE)

    def paced(edges: Array) -> tuple[Array, Array]:
        before = (edges[1:] <= ask.untold_days + 1e-9)[:, None]
        yeast, bacteria = (ratio if ratio.ndim == 2 else ratio[:, None] for ratio in usual(edges))
        return np.where(before, yeast * pace, yeast), np.where(before, bacteria * pace, bacteria)

    return paced


def running_members(
    ask: ForecastAsk, unknowns: Unknowns, theta: Array, days: float, step: float, ratios: Ratios | None = None
) -> Computing[BatchCourse]:
    """Compute all members theta of shape (p, n) until a day."""
    ratios = _remembered(ask, unknowns, theta, ratios)
    out = yield from running(
        ask.batch,
        days,
        start=unknowns.start(ask.batch, theta),
        kinetics=unknowns.kinetics(theta),
        step_days=step,
        ratios=ratios,
    )
    return replace(out, buffer=np.exp(theta[unknowns.buffer]))


def _predicting(ask: ForecastAsk, unknowns: Unknowns, theta: Array, fastest: float) -> Computing[Array]:
    """Foretell every observation for every member: shape (observations, n)."""
    at = np.array([seen.day for seen in ask.observations])
    step = step_length(fastest)
    end = ask.batch.from_day + max(1, int(np.ceil(max(float(at.max()) - ask.batch.from_day, 0.5) / step - 1e-9))) * step
    then = (yield from running_members(ask, unknowns, theta, end, step)).at(at)
    acidity = np.maximum(then.ta_g_per_l, 0.02)
    out = then.ph.copy()
    for i, seen in enumerate(ask.observations):
        if seen.kind == SeenKind.PH:
            out[i] += INSTRUMENTS[seen.instrument].offset_ph * theta[unknowns.meter]
        elif seen.kind == SeenKind.TA:
            out[i] = np.log(acidity[i]) if seen.degassed else acidity[i] + GAS_G_PER_L
        elif seen.kind == SeenKind.GRAVITY:
            out[i] = _gravity(then.state[i])
        else:
            point = np.log(seen.point_g_per_l) + theta[unknowns.taster_row[seen.taster]]
            out[i] = np.clip(TASTE_STEEPNESS * (np.log(acidity[i]) - point), -3.6, 3.6)
    return out


def expected(ask: ForecastAsk, fastest: float) -> Array:
    """Foretell every observation as if none had been made: by recipe, culture and warmth alone, shape (observations,)."""
    unknowns = Unknowns(ask)
    return np.asarray(alone(_predicting(ask, unknowns, unknowns.centre[:, None], fastest))[:, 0])


def _gravity(state: Array) -> Array:
    """Foretell specific gravity from sugars and alcohol, for states of shape (8, n)."""
    sugars = (state[SUCROSE] + state[MONO]) / 10
    per_cent = sugars / (0.99823 + 0.00386 * sugars)
    return np.asarray(
        (density(0) + 0.00386 * per_cent + 0.0000132 * per_cent**2) / density(0) + ETHANOL_GRAVITY * state[ETHANOL]
    )


def _measured(observations: tuple[Observation, ...]) -> tuple[Array, Array]:
    """Values as the fit compares them, and their spreads: pH, ln of acidity, acidity with its gas, taste."""
    logs = [seen.kind == SeenKind.TA and seen.degassed for seen in observations]
    value = [np.log(max(seen.value, 0.02)) if log else seen.value for log, seen in zip(logs, observations, strict=True)]
    return np.array(value, float), np.array([seen.spread for seen in observations], float)


def fastest_of(ask: ForecastAsk, unknowns: Unknowns) -> float:
    """Bound the fastest yeast: vigour at the prior's upper end times the warmest ratio of the course."""
    steps = math.ceil(2 * (ask.days - ask.batch.from_day))
    yeast, _ = step_ratios(ask.course.shifted(ask.warmth_doubt_k), steps, 0.5, ask.batch.from_day)
    longer = 1 + 1.5 * ask.start_sd_days / ask.untold_days if ask.start_sd_days else 1.0
    return float(np.exp(unknowns.centre[0] + 1.5 * unknowns.sd[0]) * yeast.max() * min(longer, PACE[1]))


@dataclass(frozen=True, slots=True)
class Fit:
    """The likeliest unknowns, how unsure they are, and which readings did not count."""

    theta: Array
    covariance: Array
    wider: float  #: How much readings at odds with each other widened the variance. [-]
    aside: tuple[int, ...] = ()  #: Numbers of the readings that were set aside.


def fitting(ask: ForecastAsk, unknowns: Unknowns, fastest: float) -> Computing[Fit]:
    """Find the likeliest unknowns and their covariance by Gauss-Newton with priors.

    One wrong reading does not govern: where a reading lies far from what the others foretell, misfits count as Student-t, and
    what is then beyond 4 sd is set aside, until a second reading agrees with it. One that pulls the fit to itself, so that only the
    others tell, is set aside where those agree with all that is known; else the culture may be another than thought.
    """
    centre = unknowns.centre
    if not ask.observations:
        return Fit(centre.copy(), unknowns.covariance, 1.0)
    plain = yield from _descending(ask, unknowns, fastest, centre, ITERATIONS, robust=False)
    everything = np.ones(len(plain.left), bool)
    together = plain.fit(everything)
    alone = np.max(np.abs(plain.left)) > SUSPECT  # else one may pull the fit to itself
    if not alone and (together.wider < AT_ODDS_BY_ONE or np.max(np.abs(plain.from_others)) <= SUSPECT):
        return together
    starts = (centre, plain.theta)
    some = []
    for start in starts:
        some.append((yield from _descending(ask, unknowns, fastest, start, ROBUST_ITERATIONS, robust=True)))
    best = min(some, key=lambda found: found.heavy_cost)
    aside = np.abs(best.left if alone else best.from_others) > ASIDE
    if not aside.any() or _agreed(best.left, aside):
        return together
    others = yield from _descending(ask, unknowns, fastest, best.theta, ITERATIONS, robust=False, counts=~aside)
    without = others.fit(~aside)
    return without if alone or without.wider <= ASIDE_WIDER else together


def _agreed(left: Array, aside: NDArray[np.bool_]) -> bool:
    """Return whether the last two readings agree that the others are wrong: then they count."""
    return len(left) > 1 and bool(aside[-2:].all()) and bool(left[-1] * left[-2] > 0)


@dataclass(frozen=True, slots=True)
class _Descent:
    """Where a descent ended."""

    theta: Array
    hessian: Array
    left: Array  #: Misfit of each reading there. [sd]
    prior_cost: float
    slopes: Array  #: How each reading moves with each unknown, in its sd, shape (readings, unknowns).
    weight: Array  #: How much each reading counted. [-]

    @property
    def from_others(self) -> Array:
        """How far each reading is from what the others foretell, in sd of both: one of few pulls the fit to itself."""
        out = np.empty_like(self.left)
        for i, (row, weight) in enumerate(zip(self.slopes, self.weight, strict=True)):
            others = self.hessian - weight * np.outer(row, row)
            reach = np.linalg.solve(others, row)
            away = self.left[i] * (1 + weight * float(row @ reach))
            out[i] = away / (1 + float(row @ reach)) ** 0.5
        return out

    @property
    def heavy_cost(self) -> float:
        """Cost with heavy tails: what a far reading adds grows slowly."""
        return float((STUDENT + 1) * np.log1p(self.left**2 / STUDENT).sum() + self.prior_cost)

    def fit(self, counts: NDArray[np.bool_]) -> Fit:
        """Return the fit by the readings that count."""
        wider = _contradicted(float(self.left[counts] @ self.left[counts]) + self.prior_cost, int(counts.sum()))
        wider = wider if counts.all() else max(wider, ASIDE_WIDER)
        covariance = np.asarray(np.linalg.inv(self.hessian), np.float64) * wider
        return Fit(self.theta, covariance, wider, tuple(int(i) for i in np.flatnonzero(~counts)))


def _descending(
    ask: ForecastAsk,
    unknowns: Unknowns,
    fastest: float,
    start: Array,
    iterations: int,
    robust: bool,
    counts: NDArray[np.bool_] | None = None,
) -> Computing[_Descent]:
    """Walk down from a start by Gauss-Newton; robust: a reading counts the less the farther it is off.

    Args:
        ask, unknowns, fastest: What is asked.
        start: From where.
        iterations: So many steps.
        robust: Misfits have heavy tails.
        counts: Which readings count; all unless given.
    """
    centre, precision = unknowns.centre, unknowns.precision
    theta = start.copy()
    value, sd = _measured(ask.observations)
    hessian, left, prior_cost = precision, np.zeros(len(value)), 0.0
    jacobian, weight = np.zeros((len(value), len(theta))), np.ones(len(value))
    for _ in range(iterations):
        nudged = np.column_stack([theta, theta[:, None] + NUDGE * np.eye(len(theta))])
        predicted = yield from _predicting(ask, unknowns, nudged, fastest)
        jacobian = (predicted[:, 1:] - predicted[:, :1]) / NUDGE / sd[:, None]
        misfit = (value - predicted[:, 0]) / sd
        weight = (STUDENT + 1) / (STUDENT + misfit**2) if robust else np.ones(len(value))
        weight = weight if counts is None else weight * counts
        hessian = (jacobian * weight[:, None]).T @ jacobian + precision
        away = theta - centre
        step = np.linalg.solve(hessian, jacobian.T @ (weight * misfit) - precision @ away)
        step = np.clip(step, -2 * unknowns.sd, 2 * unknowns.sd)
        theta = theta + step
        left = misfit - jacobian @ step
        prior_cost = float((away + step) @ precision @ (away + step))
    return _Descent(theta, hessian, left, prior_cost, jacobian, weight)


def _contradicted(cost: float, readings: int) -> float:
    """Return how much the variance grows because readings contradict the model or each other; 1 when they do not.

    Args:
        cost: Squared misfit of readings and prior at the best fit; about the number of readings when all is well. [-]
        readings: How many there are.
    """
    if readings == 0:
        return 1.0
    usual = readings + SURPRISE * (2 * readings) ** 0.5
    return float(np.clip(cost / usual, 1.0, WIDEST))
