"""How strong a line is, brew by brew, with its trend; two of them for side by side."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date, timedelta

from ..core.forecast.vigour import Trend
from .shapes import Label

WIDTH, HEIGHT, LEFT, RIGHT, TOP, FLOOR = 560.0, 240.0, 46.0, 540.0, 18.0, 200.0
LOW, HIGH = 0.35, 2.8  #: Of the axis, logarithmic. [-]
MARKS = (0.5, 0.7, 1.0, 1.4, 2.0)


@dataclass(frozen=True, slots=True)
class StrengthDot:
    """One brew: its vigour and 80 % range."""

    x: float
    y: float
    low_y: float
    high_y: float
    says: str


@dataclass(frozen=True, slots=True)
class Strength:
    """Shapes in a box of 560 by 240."""

    dots: tuple[StrengthDot, ...]
    line: str
    band: str
    levels: tuple[tuple[float, Label], ...]
    ticks: tuple[Label, ...]
    typical_y: float


def y_of(vigour: float) -> float:
    """Place a vigour on the axis."""
    share = math.log(min(max(vigour, LOW), HIGH) / LOW) / math.log(HIGH / LOW)
    return FLOOR - (FLOOR - TOP) * share


def strength(trend: Trend, today_day: float, today: date) -> Strength:
    """Draw a line's vigour over time.

    Args:
        trend: As the core fits it; its days are on one clock with `today_day`. [d]
    """
    points = trend.points
    first = min((p.day for p in points), default=today_day - 30)
    last = max((p.day for p in points), default=today_day)
    span = max(14.0, last - first)
    middle = (first + last) / 2

    def x(day: float) -> float:
        return LEFT + 14 + (RIGHT - LEFT - 28) * ((day - middle) / span + 0.5)

    dots = tuple(
        StrengthDot(
            x(p.day),
            y_of(p.vigour),
            y_of(p.vigour * math.exp(-1.28 * p.sd)),
            y_of(p.vigour * math.exp(1.28 * p.sd)),
            f"{today - timedelta(days=round(today_day - p.day)):%-d %b %Y}: {p.vigour:.2f}",
        )
        for p in points
    )
    line, band = _trend(trend, first, last, x) if len(points) >= 2 else ("", "")
    levels = tuple((y_of(m), Label(LEFT - 8, y_of(m) + 4, f"{m:g}", "end")) for m in MARKS)
    ticks = tuple(
        Label(x(day), FLOOR + 22, f"{today - timedelta(days=round(today_day - day)):%-d %b}")
        for day in ((first, last) if last - first > 3 else (middle,))
    )
    return Strength(dots, line, band, levels, ticks, y_of(1.0))


def _trend(trend: Trend, first: float, last: float, x) -> tuple[str, str]:  # type: ignore[no-untyped-def]
    """Draw the straight line of ln vigour and its 80 % band."""
    mean_day = sum(p.day for p in trend.points) / len(trend.points)
    mean = sum(math.log(p.vigour) for p in trend.points) / len(trend.points)
    upper, lower, line = [], [], []
    for i in range(13):
        day = first + (last - first) * i / 12
        years = (day - mean_day) / 365.25
        value, off = mean + trend.per_year * years, 1.28 * abs(years) * trend.sd + 0.05
        line.append(f"{x(day):.1f} {y_of(math.exp(value)):.1f}")
        upper.append(f"{x(day):.1f} {y_of(math.exp(value + off)):.1f}")
        lower.append(f"{x(day):.1f} {y_of(math.exp(value - off)):.1f}")
    return "M" + "L".join(line), "M" + "L".join(upper + lower[::-1]) + "Z"
