"""Each taster's point between sweet and sour, learned from tastings, and how it drifts.

A score is taken as `t = k (ln TA - ln TA0) + noise`. Prior: the usual point of the style, sd 0.35 in ln, and k = 4 with
an sd of 0.25 in ln (assumed). Old tastings fade with a half-life of a year, for tastes drift.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ..base import require_between
from ..liquid.taste import POINT_SD, TASTE_SD, TASTE_STEEPNESS, usual_point

HALF_LIFE_DAYS = 365.0  #: Of what a tasting teaches. [d]
STEEPNESS_SD = 0.25  #: Of ln k (assumed). [-]
INSIDE = 0.7  #: A score so near to right is inside a taster's window. [step]
ROUNDS = 6
SCALE_END = 3.4  #: A score of 3 may stand for more; foretold scores stop here. [step]
DRIFT_SPAN_DAYS = 182.0  #: Drift is measured from so long ago until now. [d]
FEW = 3  #: Below so many tastings a point is hardly learned.


@dataclass(frozen=True, slots=True)
class Tasted:
    """One tasting with the acidity that the brew had then."""

    score: float  #: From -3, much too sweet, to 3, much too sour. [step]
    ta_g_per_l: float  #: Measured, or as the forecast has it without any taste. [g/L]
    ta_sd: float = 0.1  #: Of its logarithm. [-]
    age_days: float = 0.0  #: How long ago. [d]

    def __post_init__(self) -> None:
        require_between(-3, 3, "steps", score=self.score)
        require_between(0.02, 60, "g/L", ta_g_per_l=self.ta_g_per_l)


@dataclass(frozen=True, slots=True)
class Palate:
    """Where one taster likes one style."""

    ta_g_per_l: float  #: Right. [g/L]
    sd: float  #: Of its logarithm. [-]
    steepness: float  #: Steps of the scale per unit of ln acidity. [-]
    tastings: int

    @property
    def window_g_per_l(self) -> tuple[float, float]:
        """Acidity from and to which the score stays within 0.7 of right. [g/L]"""
        half = INSIDE / self.steepness
        return self.ta_g_per_l * float(np.exp(-half)), self.ta_g_per_l * float(np.exp(half))

    @property
    def learned(self) -> bool:
        """Whether there were tastings enough to speak of it as known."""
        return self.tastings >= FEW

    def score(self, ta_g_per_l: float) -> float:
        """Foretell the score at an acidity, from -3 to 3. [step]"""
        return float(np.clip(self.steepness * np.log(max(ta_g_per_l, 0.05) / self.ta_g_per_l), -3, 3))


def learn(tasted: Iterable[Tasted], jun: bool = False) -> Palate:
    """Learn a taster's point for one style.

    Args:
        tasted: Their tastings of that style, in any order.
        jun: Whether the style is jun; its usual point is lower.

    Source: Bayesian regression; priors as given in the module, assumed.

    >>> round(learn([]).ta_g_per_l, 1)
    4.0
    """
    seen = sorted(tasted, key=lambda t: (t.age_days, t.ta_g_per_l, t.score))
    centre = np.array([np.log(usual_point(1.0 if jun else 0.0)), np.log(TASTE_STEEPNESS)])
    prior_sd = np.array([POINT_SD, STEEPNESS_SD])
    theta, precision = centre.copy(), np.diag(1 / prior_sd**2)
    hessian = precision
    if seen:
        score = np.array([t.score for t in seen])
        acidity = np.log([t.ta_g_per_l for t in seen])
        acidity_sd = np.array([t.ta_sd for t in seen])
        weight = 0.5 ** (np.maximum([t.age_days for t in seen], 0.0) / HALF_LIFE_DAYS)
        for _ in range(ROUNDS):
            k = np.exp(theta[1])
            foretold = k * (acidity - theta[0])
            inside = np.abs(foretold) < SCALE_END
            misfit = score - np.clip(foretold, -SCALE_END, SCALE_END)
            variance = (TASTE_SD**2 + (k * acidity_sd) ** 2) / weight
            jacobian = np.column_stack([np.where(inside, -k, -0.2 * k), np.where(inside, foretold, 0.0)])
            hessian = precision + (jacobian / variance[:, None]).T @ jacobian
            gradient = jacobian.T @ (misfit / variance) - precision @ (theta - centre)
            theta = theta + np.clip(np.linalg.solve(hessian, gradient), -prior_sd, prior_sd)
    spread = float(np.sqrt(np.linalg.inv(hessian)[0, 0]))
    return Palate(float(np.exp(theta[0])), spread, float(np.exp(theta[1])), len(seen))


def learn_at(tasted: Sequence[Tasted], days_ago: float, jun: bool = False) -> Palate:
    """Learn what was known of a taster so long ago: only older tastings count, with their age then. [d]"""
    older = [
        Tasted(t.score, t.ta_g_per_l, t.ta_sd, t.age_days - days_ago) for t in tasted if t.age_days >= days_ago - 1e-9
    ]
    return learn(older, jun)


@dataclass(frozen=True, slots=True)
class Drift:
    """How a point moved."""

    before: Palate
    now: Palate
    span_days: float

    @property
    def share(self) -> float:
        """Change of the point's acidity; positive: more sour. [share]"""
        return self.now.ta_g_per_l / self.before.ta_g_per_l - 1

    @property
    def clear(self) -> bool:
        """Whether it is more than the uncertainty of both."""
        move = abs(np.log(self.now.ta_g_per_l / self.before.ta_g_per_l))
        return bool(self.before.learned and self.now.learned and move > max(self.now.sd, 0.05))


def drift(tasted: Sequence[Tasted], jun: bool = False, span_days: float = DRIFT_SPAN_DAYS) -> Drift | None:
    """Compare a taster's point with what it was; None when nothing was tasted so long ago.

    Args:
        tasted: All their tastings of one style.
        jun: Whether the style is jun.
        span_days: Between the two; shortened to half of what there is. [d]
    """
    if not tasted:
        return None
    span = min(span_days, max(t.age_days for t in tasted) / 2)
    if span < 14:
        return None
    recent = [t for t in tasted if t.age_days < span]
    before = learn_at(tasted, span, jun)
    if not recent or before.tastings == 0:
        return None
    return Drift(before, learn(recent, jun) if len(recent) >= FEW else learn(tasted, jun), span)
