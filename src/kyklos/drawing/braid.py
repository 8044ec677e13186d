"""The braid: lines along time as ribbons, as wide as what lives of them, from black and sugar to green and honey."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from .shapes import Label

LEFT, RIGHT, TOP, FOOT = 16.0, 1184.0, 34.0, 30.0
LANE = 96.0  #: Between lines, of a few; more lines stand closer.
TALLEST = 760.0
THIN, PER_ROOT_LITRE, WIDEST = 4.0, 11.0, 44.0
SHADES = 5  #: Steps from sugar to honey.


@dataclass(frozen=True, slots=True)
class Bead:
    """A brew or a disc on a ribbon."""

    key: str  #: Like brew-7
    day: float  #: When it began. [d from today]
    end: float | None  #: When it ended; None: it lives. [d from today]
    kind: str  #: brew or disc
    state: str  #: alive, held, harvested, discarded, composted, given, dried, lost or kept
    says: str
    honey: float = 0.0  #: Share of its sugars. [-]


@dataclass(frozen=True, slots=True)
class LineFacts:
    """One line."""

    key: int
    name: str
    started: float  #: [d from today]
    beads: Sequence[Bead]
    volumes: Sequence[tuple[float, float]]  #: Day and what lives of it from then on. [d from today, L]
    parent: int | None = None
    gifts: Sequence[tuple[float, str]] = ()  #: Day and word of what left. [d from today]


@dataclass(frozen=True, slots=True)
class BeadShape:
    """A bead as drawn."""

    bead: Bead
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class Ribbon:
    """A line as drawn: pieces with their shade, its name, its beads."""

    key: int
    name: Label
    pieces: tuple[tuple[str, int], ...]  #: Path and shade, 0 sugar to 4 honey.
    beads: tuple[BeadShape, ...]
    gifts: tuple[Label, ...]


@dataclass(frozen=True, slots=True)
class Braid:
    """Shapes in a box of 1200 by `height`."""

    ribbons: tuple[Ribbon, ...]
    partings: tuple[str, ...]
    ticks: tuple[Label, ...]
    today_x: float
    height: float
    lane: float


def _width(litres: float, most: float) -> float:
    return min(most, THIN + PER_ROOT_LITRE * math.sqrt(max(litres, 0.0)))


def _shade(honey: float) -> int:
    return min(SHADES - 1, int(honey * SHADES))


def _pieces(line: LineFacts, y: float, first: float, x, most: float) -> tuple[tuple[str, int], ...]:  # type: ignore[no-untyped-def]
    """Draw the ribbon in steps of its volume, each in the shade of the brew that last began."""
    brews = sorted((b for b in line.beads if b.kind == "brew"), key=lambda b: b.day)
    edges = sorted(
        {
            max(line.started, first),
            *(d for d, _ in line.volumes if d > first),
            *(b.day for b in brews if b.day > first),
            0.0,
        }
    )
    out = []
    for start, end in itertools.pairwise(edges):
        litres = next((v for d, v in reversed(line.volumes) if d <= start + 1e-6), 0.0)
        honey = next((b.honey for b in reversed(brews) if b.day <= start + 1e-6), brews[0].honey if brews else 0.0)
        half = _width(litres, most) / 2
        a, b = x(start), x(end)
        if b - a > 0.05:
            out.append((f"M{a:.1f} {y - half:.1f}H{b + 0.4:.1f}V{y + half:.1f}H{a:.1f}Z", _shade(honey)))
    return tuple(out)


def braid(lines: Sequence[LineFacts], today: date, span_days: float) -> Braid:
    """Draw the braid.

    Args:
        lines: In the order in which they stand.
        today: Its right end.
        span_days: How far back it reaches. [d]
    """
    lane = min(LANE, (TALLEST - TOP - FOOT) / max(1, len(lines)))
    most = min(WIDEST, lane * 0.62)
    first = -span_days
    where: Mapping[int, float] = {line.key: TOP + lane * (i + 0.55) for i, line in enumerate(lines)}

    def x(day: float) -> float:
        return LEFT + (RIGHT - LEFT) * (min(max(day, first), 0.0) - first) / span_days

    ribbons = tuple(_ribbon(line, where[line.key], first, x, most) for line in lines)
    partings = []
    for line in lines:
        if line.parent is not None and line.parent in where and line.started > first:
            at, source, target = x(line.started), where[line.parent], where[line.key]
            bend = max(14.0, min(60.0, abs(target - source) / 2))
            partings.append(
                f"M{at - bend:.1f} {source:.1f}C{at - bend / 3:.1f} {source:.1f} {at - bend / 2:.1f} {target:.1f} {at:.1f} {target:.1f}"
            )
    return Braid(ribbons, tuple(partings), _ticks(today, span_days, x), x(0.0), TOP + lane * len(lines) + FOOT, lane)


def _ribbon(line: LineFacts, y: float, first: float, x, most: float) -> Ribbon:  # type: ignore[no-untyped-def]
    shown = [b for b in line.beads if b.day >= first]
    beads = tuple(BeadShape(b, x(b.day), y + (most * 0.42 if b.kind == "disc" else 0.0)) for b in shown)
    gifts = tuple(Label(x(day), y - most / 2 - 6, word) for day, word in line.gifts if day >= first)
    name = Label(max(LEFT, x(line.started)), y - most / 2 - 9, line.name, "start")
    return Ribbon(line.key, name, _pieces(line, y, first, x, most), beads, gifts)


def _ticks(today: date, span_days: float, x) -> tuple[Label, ...]:  # type: ignore[no-untyped-def]
    """Mark months, quarters or years, as there is room."""
    every = 1 if span_days < 400 else 3 if span_days < 1300 else 12
    out, day = [], (today - timedelta(days=span_days)).replace(day=1)
    while day <= today:
        away = float((day - today).days)
        if (day.month - 1) % every == 0 and away > -span_days:
            out.append(
                Label(x(away), 20, f"{day:%b}" + (f" {day.year}" if day.month == 1 or every == 12 else ""), "start")
            )
        day = (day + timedelta(days=32)).replace(day=1)
    return tuple(out)
