"""The pressure in a bottle over its days: solid behind, dotted with its band ahead, its limit, the day to chill, and its burps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .shapes import Label, closed, path_through

LEFT, RIGHT, TOP, BOTTOM = 42.0, 452.0, 14.0, 138.0
LETTER = 8.5  #: Width of a letter of the days below, on a phone.
WIDTH, HEIGHT = 460.0, 166.0
ROOM_ABOVE = 1.25  #: So far above its limit the picture reaches at least. [-]
MOST_ABOVE = 1.7  #: And at most: what is far past it need not be told apart. [-]
POINTS = 60  #: Of each line.


@dataclass(frozen=True, slots=True, kw_only=True)
class PressureFacts:
    """What the picture shows."""

    day: NDArray[np.float64]  #: Shape (t,). [d since filling]
    low: NDArray[np.float64]  #: [bar]
    likely: NDArray[np.float64]  #: [bar]
    high: NDArray[np.float64]  #: [bar]
    today: float  #: [d]
    end: float  #: The last day shown. [d]
    limit_bar: float  #: [bar]
    chill_day: float | None = None  #: [d]
    burps: Sequence[float] = ()  #: [d]
    days: Sequence[tuple[float, str]] = ()  #: Days below the picture, and their words.
    bars: Sequence[tuple[float, str]] = ()  #: Pressures at its left, and their words. [bar]
    other: NDArray[np.float64] | None = None  #: Likely pressure where it is warmer or colder. [bar]


@dataclass(frozen=True, slots=True)
class PressureCurve:
    """Shapes in a box of 460 by 166."""

    past: str
    coming: str
    band: str
    other: str
    limit_y: float
    over: float  #: Height of what lies above the limit.
    today_x: float
    chill_x: float | None
    burps: tuple[tuple[float, float], ...]
    days: tuple[Label, ...]
    bars: tuple[Label, ...]
    now: tuple[float, float]


def _apart(labels: Sequence[Label]) -> tuple[Label, ...]:
    """Leave out days whose words would touch: today stays, then the last, then the first."""
    first = sorted(labels, key=lambda label: (label.text != "today", -label.x))
    kept: list[Label] = []
    for label in [*first[:2], *sorted(first[2:], key=lambda label: label.x)]:
        if all(abs(label.x - other.x) >= LETTER * (len(label.text) + len(other.text)) / 2 for other in kept):
            kept.append(label)
    return tuple(sorted(kept, key=lambda label: label.x))


def pressure_curve(facts: PressureFacts) -> PressureCurve:
    """Draw the curve; nothing leaves its box."""
    seen = facts.day <= facts.end
    most = float(facts.high[seen].max()) if seen.any() else 0.0
    top_bar = min(max(ROOM_ABOVE * facts.limit_bar, most * 1.05), MOST_ABOVE * facts.limit_bar)

    def x(day: float) -> float:
        return LEFT + (RIGHT - LEFT) * min(1.0, max(0.0, day / facts.end))

    def y(bar: float) -> float:
        return BOTTOM - (BOTTOM - TOP) * min(1.0, max(0.0, bar / top_bar))

    def line(values: NDArray[np.float64], start: float, end: float) -> list[tuple[float, float]]:
        days = np.linspace(start, max(start, end), POINTS)
        return [(x(float(d)), y(float(v))) for d, v in zip(days, np.interp(days, facts.day, values), strict=True)]

    today = min(facts.today, facts.end)
    upper, lower = line(facts.high, today, facts.end), line(facts.low, today, facts.end)
    at_burps = np.interp(facts.burps, facts.day, facts.likely) if len(facts.burps) else ()
    inside = [(day, text) for day, text in facts.days if 0 <= day <= facts.end]
    return PressureCurve(
        past=path_through(line(facts.likely, 0.0, today)),
        coming=path_through(line(facts.likely, today, facts.end)),
        band=closed(upper + lower[::-1]),
        other="" if facts.other is None else path_through(line(facts.other, today, facts.end)),
        limit_y=y(facts.limit_bar),
        over=y(facts.limit_bar) - TOP,
        today_x=x(today),
        chill_x=None if facts.chill_day is None or facts.chill_day > facts.end else x(facts.chill_day),
        burps=tuple((x(day), y(float(bar))) for day, bar in zip(facts.burps, at_burps, strict=True)),
        days=_apart([Label(x(day), HEIGHT - 8, text) for day, text in inside]),
        bars=tuple(Label(LEFT - 6, y(bar) + 4, text, "end") for bar, text in facts.bars if bar <= top_bar),
        now=(x(today), y(float(np.interp(today, facts.day, facts.likely)))),
    )
