"""A value that settles: its last minute."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .shapes import path_through

WIDTH, HEIGHT, MARGIN = 300.0, 72.0, 6.0
LEAST_SPAN, LONGEST_S = 0.1, 60.0


@dataclass(frozen=True, slots=True)
class LiveView:
    """Shapes in a box of 300 by 72."""

    line: str
    last_y: float
    width: float = WIDTH
    height: float = HEIGHT


def live_view(course: Sequence[tuple[float, float]]) -> LiveView:
    """Draw the last minute of a value.

    Args:
        course: Seconds ago, negative, and the value, in order; at least one.
    """
    values = [value for _, value in course]
    middle, span = (min(values) + max(values)) / 2, max(max(values) - min(values), LEAST_SPAN)

    def y(value: float) -> float:
        return HEIGHT / 2 - (HEIGHT - 2 * MARGIN) * (value - middle) / span

    points = [(WIDTH * (1 + max(at, -LONGEST_S) / LONGEST_S), y(value)) for at, value in course]
    return LiveView(path_through(points), y(values[-1]))
