"""How strong a line is, brew by brew at the same warmth, and whether it slows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..base import marked
from .answer import Posterior
from .prior import BREW_TO_BREW_SD

SURE = 1.28  #: A trend is mentioned when it is so many sd from none (80 %). [-]
FEW = 3  #: With fewer brews no trend is mentioned.
TREND_SD = 0.6  #: Prior of the change of ln vigour in a year (assumed). [1/a]
YEAR = 365.25


@dataclass(frozen=True, slots=True)
class VigourPoint:
    """One brew's vigour."""

    day: float  #: When it was pitched, on any one clock. [d]
    vigour: float  #: Of bacteria and yeast together, 1 is typical. [-]
    sd: float  #: Of its logarithm. [-]


@dataclass(frozen=True, slots=True)
class Trend:
    """How vigour goes over time."""

    points: tuple[VigourPoint, ...]
    per_year: float  #: Change of ln vigour. [1/a]
    sd: float  #: [1/a]

    @property
    def after_a_year(self) -> tuple[float, float, float]:
        """How strong it is after a year against now: likely, and four in five times between the other two. [-]

        >>> [round(share, 2) for share in Trend((), -0.64, 0.0).after_a_year]
        [0.53, 0.53, 0.53]
        """
        low, high = self.per_year - SURE * self.sd, self.per_year + SURE * self.sd
        return float(np.exp(self.per_year)), float(np.exp(low)), float(np.exp(high))

    @property
    def word(self) -> str:
        """Put it into words: slowing, livelier, steady, or too little to tell."""
        if len(self.points) < FEW:
            return "too little to tell"
        if abs(self.per_year) < SURE * self.sd:
            return "steady"
        return "slowing" if self.per_year < 0 else "livelier"


def together(posterior: Posterior) -> tuple[float, float]:
    """Return the vigour of yeast and bacteria as one, with the sd of its logarithm. [-]"""
    mean = 0.5 * (np.log(posterior.yeast_vigour) + np.log(posterior.bacteria_vigour))
    return float(np.exp(mean)), float(0.5 * np.hypot(posterior.yeast_sd, posterior.bacteria_sd))


def trend(points: Sequence[VigourPoint]) -> Trend:
    """Fit a straight line to ln vigour, each brew weighing by its uncertainty and what brews differ by anyway."""
    ordered = tuple(sorted(points, key=lambda p: p.day))
    if len(ordered) < 2:
        return Trend(ordered, 0.0, TREND_SD)
    day = np.array([p.day for p in ordered])
    years = (day - day.mean()) / YEAR
    value = np.log([p.vigour for p in ordered])
    weight = 1 / (np.array([p.sd for p in ordered]) ** 2 + BREW_TO_BREW_SD**2)
    design = np.column_stack([np.ones_like(years), years])
    precision = design.T @ (design * weight[:, None]) + np.diag([0.0, 1 / TREND_SD**2])
    covariance = np.linalg.inv(precision)
    slope = covariance @ (design.T @ (weight * value))
    return Trend(ordered, float(slope[1]), float(np.sqrt(covariance[1, 1])))


@dataclass(frozen=True, slots=True, kw_only=True)
class Brewed:
    """What was done in one brew, for the causes of slowing."""

    day: float  #: When it was pitched, on any one clock. [d]
    mean_c: float  #: [degC]
    starter_age_days: float | None  #: [d]
    honey_share: float  #: [-]
    leaf_g_per_l: float  #: [g/L]


@dataclass(frozen=True, slots=True)
class SlowingCause:
    """Why a line may slow, by what is recorded."""

    key: str
    says: str  #: The evidence.
    remedy: str


COOL_C, COOLER_K = 20.0, 1.5  #: Lately so cool, and so much cooler than before. [degC, K]
OLD_STARTER_D, OLDER_D = 28.0, 10.0  #: [d]
DIET_CHANGE = 0.25  #: Of the share of honey. [-]
LITTLE_LEAF, LESS_LEAF = 4.5, 0.5  #: [g/L]


def causes(brews: Sequence[Brewed]) -> list[SlowingCause]:
    """Name likely causes of slowing, each only when its evidence holds: lately against before.

    Args:
        brews: In order of time. The latter half counts as lately.
    """
    half = len(brews) // 2
    if half < 1:
        return []
    before, lately = brews[: len(brews) - half], brews[len(brews) - half :]
    return [
        found for rule in (_cold, _old_starter, _diet, _leaf) if (found := rule(list(before), list(lately))) is not None
    ]


def _mean(values: Sequence[float]) -> float:
    return sum(values) / len(values)


def _cold(before: list[Brewed], lately: list[Brewed]) -> SlowingCause | None:
    was, now = _mean([b.mean_c for b in before]), _mean([b.mean_c for b in lately])
    if now >= COOL_C or was - now < COOLER_K:
        return None
    return SlowingCause(
        "cold",
        f"Its last brews stood at {marked(now, 'temperature')}, those before at {marked(was, 'temperature')}; warmth is reckoned with, but long cold thins out the acid bacteria.",
        "Two brews at ⟦temperature:24⟧ to ⟦temperature:26⟧ in a row, each seeded by the one before.",
    )


def _old_starter(before: list[Brewed], lately: list[Brewed]) -> SlowingCause | None:
    was = [b.starter_age_days for b in before if b.starter_age_days is not None]
    now = [b.starter_age_days for b in lately if b.starter_age_days is not None]
    if not now or _mean(now) < OLD_STARTER_D or (was and _mean(now) - _mean(was) < OLDER_D):
        return None
    earlier = f"; before that {_mean(was):.0f}" if was else ""
    return SlowingCause(
        "old starter",
        f"Its starters were {_mean(now):.0f} days old when they were poured in{earlier}.",
        "Brew from liquid set aside within two weeks, and take a little more of it.",
    )


def _diet(before: list[Brewed], lately: list[Brewed]) -> SlowingCause | None:
    change = _mean([b.honey_share for b in lately]) - _mean([b.honey_share for b in before])
    if abs(change) < DIET_CHANGE:
        return None
    what = "honey" if change > 0 else "sugar"
    return SlowingCause(
        "change of diet",
        f"It was led towards {what}: {abs(100 * change):.0f} % more of it than before.",
        "Repeat the last step before the next, or go one back.",
    )


def _leaf(before: list[Brewed], lately: list[Brewed]) -> SlowingCause | None:
    was, now = _mean([b.leaf_g_per_l for b in before]), _mean([b.leaf_g_per_l for b in lately])
    if now >= LITTLE_LEAF or was - now < LESS_LEAF:
        return None
    return SlowingCause(
        "too little leaf",
        f"Its last brews had {marked(now, 'strength')} of leaf, those before {marked(was, 'strength')}.",
        "Back to ⟦strength:5⟧ to ⟦strength:6⟧ of true tea: it feeds yeast and bacteria.",
    )
