"""The line of a probe: how warm it was, hour by hour, with what is doubted struck out."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from .shapes import Label, path_through

WIDTH, HEIGHT = 560.0, 150.0
LEFT, RIGHT, TOP, BOTTOM = 52.0, 548.0, 14.0, 118.0
LEAST_SPAN, GAP_DAYS = 3.0, 0.25  #: The scale spans so much; a longer silence breaks the line. [as shown, d]
MOST_LEVELS = 4


@dataclass(frozen=True, slots=True)
class StruckSpan:
    """Points from which nothing is reckoned."""

    line: str
    x: float
    width: float
    why: str


@dataclass(frozen=True, slots=True)
class WarmLine:
    """Shapes in a box of 560 by 150."""

    lines: tuple[str, ...]
    struck: tuple[StruckSpan, ...]
    levels: tuple[Label, ...]
    days: tuple[Label, ...]
    set_y: float | None  #: Where a heater is set to; None: it is not.
    says: str
    width: float = WIDTH
    height: float = HEIGHT


def warm_line(
    points: Sequence[tuple[float, float]], doubted: Sequence[tuple[float, float, str]], days: Sequence[tuple[float, str]], until: float, unit: str, set_to: float | None = None
) -> WarmLine:
    """Draw how warm it was.

    Args:
        points: Day and degrees, as they are shown, in order.
        doubted: Day, degrees and why, in order.
        days: Where days begin, and what they are called.
        until: The last day shown.
        unit: Of the degrees, as °C.
        set_to: What a heater is set to; None: there is none.
    """
    first = min(day for day, _ in points) if points else min(day for day, *_ in doubted)
    every = [degrees for _, degrees in points] or [degrees for _, degrees, _ in doubted]
    low, high = min([*every, *([set_to] if set_to is not None else [])]), max([*every, *([set_to] if set_to is not None else [])])
    step = next(one for one in (1, 2, 5, 10, 20, 50, 100) if (max(high - low, LEAST_SPAN)) / one <= MOST_LEVELS - 1)
    bottom = math.floor((low - 0.2) / step) * step
    top = max(bottom + step, math.ceil((high + 0.2) / step) * step)

    def x(day: float) -> float:
        return LEFT + (RIGHT - LEFT) * (day - first) / max(until - first, 1e-6)

    def y(degrees: float) -> float:
        return TOP + (BOTTOM - TOP) * (top - min(max(degrees, bottom), top)) / (top - bottom)

    lines = tuple(path_through([(x(day), y(degrees)) for day, degrees in part]) for part in _parts(points, [day for day, *_ in doubted]))
    spans = tuple(_struck(part, x, y) for part in _runs(doubted))
    levels = tuple(Label(LEFT - 8, y(value) + 4, f"{value:g}", "end") for value in range(bottom, int(top) + 1, step))
    said = f"Warmth from {min(every):.0f} to {max(every):.0f} {unit}, last {every[-1]:.0f}." + (f" {len(spans)} spans are struck out." if spans else "")
    return WarmLine(lines, spans, levels, tuple(Label(x(day), HEIGHT - 12, name) for day, name in days if first <= day <= until), None if set_to is None else y(set_to), said)


def _parts(points: Sequence[tuple[float, float]], breaks: Sequence[float]) -> list[list[tuple[float, float]]]:
    """Cut a line where nothing was heard for hours, and where what was heard is doubted."""
    out: list[list[tuple[float, float]]] = []
    for point in points:
        if not out or point[0] - out[-1][-1][0] > GAP_DAYS or any(out[-1][-1][0] < day < point[0] for day in breaks):
            out.append([])
        out[-1].append(point)
    return out


def _runs(doubted: Sequence[tuple[float, float, str]]) -> list[list[tuple[float, float, str]]]:
    out: list[list[tuple[float, float, str]]] = []
    for one in doubted:
        if not out or one[0] - out[-1][-1][0] > GAP_DAYS or one[2] != out[-1][-1][2]:
            out.append([])
        out[-1].append(one)
    return out


def _struck(part: Sequence[tuple[float, float, str]], x, y) -> StruckSpan:  # type: ignore[no-untyped-def]
    line = path_through([(x(day), y(degrees)) for day, degrees, _ in part])
    return StruckSpan(line, x(part[0][0]), max(3.0, x(part[-1][0]) - x(part[0][0])), part[0][2])
