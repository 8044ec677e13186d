"""A meter's calibrations over time: its slope as a line, each with its offset."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from .shapes import path_through

WIDTH, HEIGHT, MARGIN = 220.0, 64.0, 10.0
LOW, HIGH = 0.80, 1.05  #: Of the slope shown. [-]
MOST_MV = 40.0  #: Of the offset shown, either way. [mV]
GOOD_FROM = 0.95  #: [-]


@dataclass(frozen=True, slots=True)
class SlopesView:
    """Shapes in a box of 220 by 64."""

    line: str
    dots: tuple[tuple[float, float, str], ...]  #: x, y, what it says.
    good_y: float
    offsets: str  #: The offset as a thin line; nothing lies in the middle.
    says: str
    width: float = WIDTH
    height: float = HEIGHT


def slopes_view(told: Sequence[tuple[datetime, float, float]]) -> SlopesView:
    """Draw a meter's calibrations.

    Args:
        told: Moment, slope and offset of each, in order; at least two. [-, -, mV]
    """
    first, last = told[0][0], told[-1][0]
    span = max((last - first).total_seconds(), 1.0)

    def y(slope: float) -> float:
        return MARGIN + (HEIGHT - 2 * MARGIN) * (HIGH - min(max(slope, LOW), HIGH)) / (HIGH - LOW)

    points = [(MARGIN + (WIDTH - 2 * MARGIN) * (at - first).total_seconds() / span, y(slope)) for at, slope, _ in told]
    offsets = [(x, HEIGHT / 2 - (HEIGHT / 2 - MARGIN) * min(max(mv, -MOST_MV), MOST_MV) / MOST_MV) for (x, _), (_, _, mv) in zip(points, told, strict=True)]
    dots = tuple((x, high, f"{at:%-d %b}: {100 * slope:.0f} %, {offset:+.0f} mV".replace("-", "−")) for (x, high), (at, slope, offset) in zip(points, told, strict=True))
    return SlopesView(path_through(points), dots, y(GOOD_FROM), path_through(offsets), f"Slope from {100 * told[0][1]:.0f} to {100 * told[-1][1]:.0f} % over {len(told)} calibrations, offset from {told[0][2]:.0f} to {told[-1][2]:.0f} mV.".replace("-", "−"))
