"""A season's drawings: how long brews took against how warm they stood, litres drunk and lost week by week, tasters' points."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from .shapes import Label, Point, path_through

WIDTH, HEIGHT = 560.0, 250.0
LEFT, RIGHT, TOP, BOTTOM = 64.0, 12.0, 16.0, 34.0
BAR_GAP = 0.22  #: Of a week's width, between bars. [-]
LEAST_DAYS, LEAST_L, LEAST_ACID = 12.0, 4.0, 4.0
MONTH_STEP = 55.0  #: Names of months stand no nearer.


@dataclass(frozen=True, slots=True)
class WarmBead:
    """One brew, placed."""

    x: float
    y: float
    jun: bool
    number: int
    says: str


@dataclass(frozen=True, slots=True)
class WarmView:
    """Days against warmth."""

    beads: tuple[WarmBead, ...]
    line: str  #: What the forecast expects; empty: nothing is expected.
    levels: tuple[Label, ...]
    marks: tuple[Label, ...]  #: Temperatures, below.
    width: float = WIDTH
    height: float = HEIGHT


@dataclass(frozen=True, slots=True)
class WeekBar:
    """One week."""

    x: float
    width: float
    drunk_y: float
    drunk_height: float
    lost_y: float
    lost_height: float
    says: str
    first: date  #: Its Monday.


@dataclass(frozen=True, slots=True)
class WeeksView:
    """Litres week by week."""

    bars: tuple[WeekBar, ...]
    levels: tuple[Label, ...]
    months: tuple[Label, ...]
    width: float = WIDTH
    height: float = HEIGHT


@dataclass(frozen=True, slots=True)
class PointsShape:
    """One taster's points."""

    name: str
    line: str
    beads: tuple[Point, ...]


@dataclass(frozen=True, slots=True)
class PointsView:
    """Where tasters' points lay."""

    shapes: tuple[PointsShape, ...]
    levels: tuple[Label, ...]
    months: tuple[Label, ...]
    width: float = WIDTH
    height: float = HEIGHT


def _step(most: float) -> float:
    raw = most / 4
    size = 10 ** math.floor(math.log10(raw))
    return float(next(size * nice for nice in (1, 2, 2.5, 5, 10) if size * nice >= raw - 1e-9))


def warm_view(brews: Sequence[tuple[float, float, bool, int, str]], expected: Sequence[tuple[float, float]], degrees: Sequence[tuple[float, str]]) -> WarmView:
    """Draw how long brews took against how warm they stood.

    Args:
        brews: How warm, how long, whether jun, number, words. [degC, d]
        expected: What a forecast expects: how warm, how long. [degC, d]
        degrees: Temperatures to be named, with their words. [degC]
    """
    warm = [row[0] for row in brews] + [row[0] for row in expected]
    low, high = min(warm, default=18.0) - 0.5, max(warm, default=26.0) + 0.5
    top = max(LEAST_DAYS, *(row[1] for row in brews), *(row[1] for row in expected)) if brews or expected else LEAST_DAYS
    step = _step(top)
    top = step * math.ceil(top / step - 1e-9)

    def x(celsius: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * (celsius - low) / (high - low)

    def y(days: float) -> float:
        return HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * days / top

    beads = tuple(WarmBead(x(celsius), y(days), jun, number, says) for celsius, days, jun, number, says in brews)
    levels = tuple(Label(LEFT - 8, y(step * n), f"{step * n:g} d", "end") for n in range(1, round(top / step) + 1))
    marks = tuple(Label(x(celsius), HEIGHT - 10, text) for celsius, text in degrees if low <= celsius <= high)
    return WarmView(beads, path_through([(x(c), y(d)) for c, d in expected]) if len(expected) > 1 else "", levels, marks)


def weeks_view(weeks: Sequence[tuple[date, float, float, str]], unit_l: float, levels_said: Sequence[str] = ()) -> WeeksView:
    """Draw litres drunk and lost, week by week.

    Args:
        weeks: First day, litres drunk, litres lost, words. [L]
        unit_l: The scale goes in steps of so much: a litre, or a quart. [L]
        levels_said: Words of the levels, from the first above nothing.
    """
    step, count = week_levels([drunk + lost for _, drunk, lost, _ in weeks], unit_l)
    each = (WIDTH - LEFT - RIGHT) / max(1, len(weeks))

    def high(litres: float) -> float:
        return (HEIGHT - TOP - BOTTOM) * litres / (step * count)

    base, bars, months = HEIGHT - BOTTOM, [], list[Label]()
    for number, (first, drunk, lost, says) in enumerate(weeks):
        left = LEFT + each * (number + BAR_GAP / 2)
        bars.append(WeekBar(left, each * (1 - BAR_GAP), base - high(drunk), high(drunk), base - high(drunk + lost), high(lost), says, first))
        if first.day <= 7 and (not months or left - months[-1].x > MONTH_STEP):
            months.append(Label(left, HEIGHT - 10, f"{first:%b}", "start"))
    names = levels_said or [f"{step * n:g}" for n in range(1, count + 1)]
    return WeeksView(tuple(bars), tuple(Label(LEFT - 8, base - high(step * n), names[n - 1], "end") for n in range(1, count + 1)), tuple(months))


def week_levels(litres: Sequence[float], unit_l: float) -> tuple[float, int]:
    """Return the step of the weeks' scale, and how many steps it has. [L]"""
    most = max([*litres, LEAST_L])
    step = _step(most / unit_l) * unit_l
    return step, max(1, math.ceil(most / step - 1e-9))


def points_view(tasters: Sequence[tuple[str, Sequence[tuple[date, float]]]], first: date, last: date, said: Callable[[float], str]) -> PointsView:
    """Draw where tasters' points lay over some days.

    Args:
        tasters: A name, its points by day. [g/L]
        first, last: Of the days.
        said: Puts an acidity into words. [g/L]
    """
    every = [grams for _, points in tasters for _, grams in points]
    step = _step(max(every, default=LEAST_ACID))
    low = step * math.floor(min(every, default=0.0) / step)
    count = max(1, math.ceil((max(every, default=LEAST_ACID) - low) / step - 1e-9))
    days = max(1, (last - first).days)

    def x(day: date) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * (day - first).days / days

    def y(grams: float) -> float:
        return HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * (grams - low) / (step * count)

    shapes = []
    for name, points in tasters:
        placed = tuple((x(day), y(grams)) for day, grams in points)
        shapes.append(PointsShape(name, path_through(placed), placed))
    months = list[Label]()
    day = first
    while day <= last:
        if day.day == 1 and (not months or x(day) - months[-1].x > MONTH_STEP):
            months.append(Label(x(day), HEIGHT - 10, f"{day:%b}", "start"))
        day += timedelta(days=1)
    levels = tuple(Label(LEFT - 8, y(low + step * n), said(low + step * n), "end") for n in range(count + 1))
    return PointsView(tuple(shapes), levels, tuple(months))
