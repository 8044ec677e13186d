"""Two brews laid over each other: the likely pH of both by day, and what was read of each."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from .shapes import Label, Point, path_through

WIDTH, HEIGHT = 640.0, 260.0
LEFT, RIGHT, TOP, BOTTOM = 52.0, 16.0, 14.0, 32.0
PH_STEP = 0.5
DAY_STEPS = (2, 5, 10)
MOST_MARKS = 9


@dataclass(frozen=True, slots=True)
class CourseShape:
    """One of the two."""

    name: str
    line: str
    beads: tuple[Point, ...]  #: What was read.


@dataclass(frozen=True, slots=True)
class TwoCourses:
    """Both, and the scales."""

    shapes: tuple[CourseShape, ...]
    levels: tuple[Label, ...]
    marks: tuple[Label, ...]  #: Days, below.
    width: float = WIDTH
    height: float = HEIGHT


def two_courses(arms: Sequence[tuple[str, Sequence[Point], Sequence[Point]]]) -> TwoCourses:
    """Draw the courses of brews, from their first day on.

    Args:
        arms: A name, the likely pH by day, the pH that was read by day. [d, -]
    """
    points = [point for _, course, read in arms for point in (*course, *read)]
    last = max((day for day, _ in points), default=1.0)
    low = PH_STEP * math.floor(min((ph for _, ph in points), default=3.0) / PH_STEP)
    high = max(low + PH_STEP, PH_STEP * math.ceil(max((ph for _, ph in points), default=4.0) / PH_STEP))

    def placed(day: float, ph: float) -> Point:
        return LEFT + (WIDTH - LEFT - RIGHT) * day / last, TOP + (HEIGHT - TOP - BOTTOM) * (high - ph) / (high - low)

    shapes = tuple(CourseShape(name, path_through([placed(*point) for point in course]), tuple(placed(*point) for point in read)) for name, course, read in arms if course)
    levels = tuple(Label(LEFT - 8, placed(0, low + PH_STEP * n)[1], f"{low + PH_STEP * n:.1f}", "end") for n in range(round((high - low) / PH_STEP) + 1))
    step = next((days for days in DAY_STEPS if last / days <= MOST_MARKS), DAY_STEPS[-1])
    marks = tuple(Label(placed(day, low)[0], HEIGHT - 8, f"day {day}") for day in range(step, int(last) + 1, step))
    return TwoCourses(shapes, levels, marks)
