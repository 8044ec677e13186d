"""Said against happened: each forecast of a reading as a dot with its band; on the line it was right."""

from __future__ import annotations

from dataclasses import dataclass

from ..core.forecast.hindsight import Record
from .shapes import Label

LEFT, RIGHT, TOP, BOTTOM = 62.0, 462.0, 16.0, 416.0


@dataclass(frozen=True, slots=True)
class HindsightDot:
    """One forecast against what happened."""

    x: float
    y: float
    left: float
    right: float
    inside: bool
    says: str


@dataclass(frozen=True, slots=True)
class HindsightPlot:
    """Shapes in a box of 480 by 470: said runs right, happened runs up."""

    dots: tuple[HindsightDot, ...]
    ticks: tuple[tuple[Label, Label], ...]
    says: str


def hindsight_plot(record: Record) -> HindsightPlot:
    """Draw how forecasts stood the test."""
    values = [v for t in record.tests for v in (t.low, t.high, t.happened)] or [3.0, 4.4]
    low, high = min(values) - 0.1, max(values) + 0.1

    def along(ph: float) -> float:
        return LEFT + (RIGHT - LEFT) * (ph - low) / (high - low)

    def up(ph: float) -> float:
        return BOTTOM - (BOTTOM - TOP) * (ph - low) / (high - low)

    dots = tuple(
        HindsightDot(
            along(t.said),
            up(t.happened),
            along(t.low),
            along(t.high),
            t.inside,
            f"said pH {t.said:.2f}, {t.low:.2f} to {t.high:.2f}; was {t.happened:.2f}",
        )
        for t in record.tests
    )
    steps = [round(low * 5) / 5 + 0.4 * i for i in range(8)]
    ticks = tuple(
        (Label(along(v), BOTTOM + 22, f"{v:.1f}", "middle"), Label(LEFT - 10, up(v) + 5, f"{v:.1f}", "end"))
        for v in steps
        if low <= v <= high
    )
    return HindsightPlot(
        dots, ticks, f"{record.inside} of {len(record.tests)} readings lay inside the band that was said."
    )
