"""How strong a line is, brew by brew at the same warmth, and whether it slows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .forecast import BREW_TO_BREW_SD, Posterior

SURE = 1.28  #: A trend is told when it is so many sd from none (80 %). [-]
FEW = 3  #: With fewer brews no trend is told.
TREND_SD = 0.3  #: Prior of the change of ln vigour in a year (assumed). [1/a]
YEAR = 365.25


@dataclass(frozen=True, slots=True)
class Point:
    """One brew's vigour."""

    day: float  #: When it was pitched, on any one clock. [d]
    vigour: float  #: Of bacteria and yeast together, 1 is typical. [-]
    sd: float  #: Of its logarithm. [-]


@dataclass(frozen=True, slots=True)
class Trend:
    """How vigour goes over time."""

    points: tuple[Point, ...]
    per_year: float  #: Change of ln vigour. [1/a]
    sd: float  #: [1/a]

    @property
    def word(self) -> str:
        """Say it: slowing, livelier, steady, or too little to tell."""
        if len(self.points) < FEW:
            return "too little to tell"
        if abs(self.per_year) < SURE * self.sd:
            return "steady"
        return "slowing" if self.per_year < 0 else "livelier"


def together(posterior: Posterior) -> tuple[float, float]:
    """Give the vigour of yeast and bacteria as one, with the sd of its logarithm. [-]"""
    mean = 0.5 * (np.log(posterior.yeast_vigour) + np.log(posterior.bacteria_vigour))
    return float(np.exp(mean)), float(0.5 * np.hypot(posterior.yeast_sd, posterior.bacteria_sd))


def trend(points: Sequence[Point]) -> Trend:
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
