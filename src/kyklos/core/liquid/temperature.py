"""Temperature over time, and how fast yeast and bacteria work at it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..base import CoreError, require_between

Array = NDArray[np.float64]

YEAST_C = (2.0, 33.0, 43.0)  #: Cardinal temperatures. [degC]
BACTERIA_C = (5.0, 31.0, 41.0)  #: Cardinal temperatures. [degC]
REFERENCE_C = 25.0  #: Where a rate ratio is 1. [degC]
COLD_YEAST_RATIO = 0.02  #: Yeast's ratio does not fall under it below 25 degC (assumed, on the safe side). [-]
SAMPLES_PER_STEP = 4
_PARTS = (np.arange(SAMPLES_PER_STEP) + 0.5) / SAMPLES_PER_STEP  #: Where in a step its warmth is looked at. [-]
OFFSETS_K = np.array(
    [-6.0, -3.0, -1.5, 0.0, 1.5, 3.0, 6.0]
)  #: Between these, ratios of another warmth lie straight. [K]


@dataclass(frozen=True, slots=True)
class Course:
    """A temperature course: logged points, straight between them, then what is expected.

    Attributes:
        points: (day, degC) pairs in order of day; before the first the first holds.
        future_c: Expected after the last point; None holds the last. [degC]
        ahead: Foretold by the weather, after the last point and before what is expected in general. (day, degC)
    """

    points: tuple[tuple[float, float], ...]
    future_c: float | None = None
    ahead: tuple[tuple[float, float], ...] = ()

    def __post_init__(self) -> None:
        if not self.points and self.future_c is None:
            raise CoreError("temperature_c: at least one temperature is needed.")
        require_between(-10, 60, "degC", **{"temperature_c": float(c)} if (c := self.future_c) is not None else {})
        for _, celsius in (*self.points, *self.ahead):
            require_between(-10, 60, "degC", temperature_c=celsius)
        days = [day for day, _ in (*self.points, *self.ahead)]
        if days != sorted(days):
            raise CoreError("temperature_c: the days must be in order.")

    def at(self, days: Array) -> Array:
        """Return the temperature at each day, shape of `days`. [degC]"""
        course = (*self.points, *self.ahead)
        if not course:
            return np.full_like(days, float(self.future_c or 0.0))
        known = np.array([day for day, _ in course])
        celsius = np.interp(days, known, np.array([c for _, c in course]))
        return celsius if self.future_c is None else np.where(days > known[-1] + 1e-9, self.future_c, celsius)

    def shifted(self, kelvin: float) -> Course:
        """Return the same so much warmer throughout. [K]"""
        points, ahead = (tuple((day, min(max(c + kelvin, -10.0), 60.0)) for day, c in some) for some in (self.points, self.ahead))
        return Course(points, None if self.future_c is None else min(max(self.future_c + kelvin, -10.0), 60.0), ahead)

    def warmer(self, kelvin: float, after_day: float) -> Course:
        """Return the same past with a future so much warmer. [K]"""
        past = tuple(point for point in self.points if point[0] <= after_day)
        future = self.future_c if self.future_c is not None else self.points[-1][1]
        return Course(past, future + kelvin, tuple((day, c + kelvin) for day, c in self.ahead if day > after_day))


def steady(celsius: float) -> Course:
    """Make a course that stays at one temperature. [degC]"""
    return Course((), celsius)


def _ctmi(celsius: Array, cardinal: tuple[float, float, float]) -> Array:
    low, best, high = cardinal
    above = (celsius - high) * (celsius - low) ** 2
    slope = (best - low) * (celsius - best) - (best - high) * (best + low - 2 * celsius)
    inside = (celsius > low) & (celsius < high)
    return np.where(inside, above / np.where(inside, (best - low) * slope, 1.0), 0.0)


def yeast_ratio(celsius: Array) -> Array:
    """Return how fast yeast works against 25 degC.

    Args:
        celsius: Temperatures, any shape. [degC]

    Returns: Ratio of rates; below 25 degC never under 0.02. [-]

    Source: cardinal temperature model with inflection, Rosso, Lobry & Flandrois 1993.
    """
    celsius = np.asarray(celsius, float)
    ratio = _ctmi(celsius, YEAST_C) / _ctmi(np.array(REFERENCE_C), YEAST_C)
    return np.where(celsius < REFERENCE_C, np.maximum(ratio, COLD_YEAST_RATIO), ratio)


def bacteria_ratio(celsius: Array) -> Array:
    """Return how fast acetic bacteria work against 25 degC. [-]

    Source: Rosso, Lobry & Flandrois 1993.
    """
    return _ctmi(np.asarray(celsius, float), BACTERIA_C) / _ctmi(np.array(REFERENCE_C), BACTERIA_C)


def step_ratios(course: Course, steps: int, step_days: float, start_day: float = 0.0) -> tuple[Array, Array]:
    """Average yeast's and bacteria's ratio over each step of a grid.

    Args:
        course: Temperature.
        steps: How many.
        step_days: Length of one. [d]
        start_day: Day of the first, as the course counts. [d]

    Returns: Two arrays of shape (steps,). [-]
    """
    return ratios_over(course, np.asarray(start_day + np.arange(steps + 1) * step_days, np.float64))


def ratios_over(course: Course, edges: Array) -> tuple[Array, Array]:
    """Average yeast's and bacteria's ratio over each step between edges.

    Args:
        course: Temperature.
        edges: In order, shape (steps + 1,). [d]

    Returns: Two arrays of shape (steps,). [-]
    """
    celsius = course.at(edges[:-1, None] + np.diff(edges)[:, None] * _PARTS)
    return yeast_ratio(celsius).mean(axis=1), bacteria_ratio(celsius).mean(axis=1)


def ratios_of(course: Course, edges: Array, offsets_k: Array) -> tuple[Array, Array]:
    """Average both ratios over each step, for members that stand so much warmer than the course says.

    Args:
        course: Temperature.
        edges: In order, shape (steps + 1,). [d]
        offsets_k: Of each member, shape (n,); beyond 6 K as 6 K. [K]

    Returns: Two arrays of shape (steps, n). [-]
    """
    celsius = course.at(edges[:-1, None] + np.diff(edges)[:, None] * _PARTS) + OFFSETS_K[:, None, None]
    table = [ratio(celsius).mean(axis=2).T for ratio in (yeast_ratio, bacteria_ratio)]
    place = np.clip(np.searchsorted(OFFSETS_K, offsets_k, side="right") - 1, 0, len(OFFSETS_K) - 2)
    weight = np.clip((offsets_k - OFFSETS_K[place]) / (OFFSETS_K[place + 1] - OFFSETS_K[place]), 0.0, 1.0)
    yeast, bacteria = (entry[:, place] * (1 - weight) + entry[:, place + 1] * weight for entry in table)
    return yeast, bacteria
