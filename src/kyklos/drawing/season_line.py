"""A season of the practice kitchen as a line: brews as ribbons, what happened as marks, today."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

WIDTH, HEIGHT, EDGE = 900.0, 54.0, 12.0


@dataclass(frozen=True, slots=True)
class SeasonLine:
    """The line, in a box of 900 by 54."""

    brews: tuple[tuple[float, float], ...]  #: Where each begins, and how wide.
    marks: tuple[float, ...]
    today: float
    weeks: tuple[tuple[float, int], ...]


def season_line(days: int, today: int, brews: Sequence[tuple[int, int]], marks: Sequence[int]) -> SeasonLine:
    """Draw a season.

    Args:
        days: Of the season. [d]
        today: [d]
        brews: Day from, day to of each.
        marks: Days on which something happened.
    """

    def x(day: float) -> float:
        return round(EDGE + (WIDTH - 2 * EDGE) * day / days, 1)

    spans = tuple((x(start), max(3.0, round(x(end) - x(start) - 2, 1))) for start, end in brews)
    return SeasonLine(spans, tuple(x(day) for day in sorted(set(marks))), x(today), tuple((x(7 * week), week) for week in range(days // 7 + 1)))
