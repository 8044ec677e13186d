"""The braid: lines along time as ribbons, as wide as what lives of them, from black and sugar to green and honey."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from ..core.base.kinds import NodeKind
from .ribbons import Stretch, fibres, outlines, parting
from .shapes import Label

WIDTH, LEFT, TOP, FOOT = 1200.0, 16.0, 34.0, 30.0
LANE = 96.0  #: Between lines, of a few; more lines stand closer.
TALLEST = 760.0
THIN, PER_ROOT_LITRE, WIDEST = 4.0, 11.0, 44.0
LEAST_PX = 0.05  #: A shorter piece is not drawn. [px]
SPREAD = 2.4  #: Between the fibres of a parting. [px]
SHADES = 5  #: Steps from sugar to honey.
MOST_PIECES = 1800  #: Of all ribbons together: more than the eye parts.
LETTER = 8.4  #: Width of a letter of a name or word. [px]
LABELS_FROM = 40.0  #: Lanes narrower than this have no words at gifts.
LINE_END = "m0 -9v18m-5 -14h10"  #: Where nothing of a line lived any more.
CROWDED = 0.62  #: Marks are so much smaller then.
SHORT_DAY = 400.0  #: Up to so much time in sight every month has its mark, then every quarter, then years.
X = Callable[[float], float]
#: What an end looks like, drawn around its point: a cross, a falling leaf, a wave, a gap, an arrow up.
MARKS = {
    "discarded": "m-4 -4l8 8m0 -8l-8 8",
    "composted": "m-4 -3l4 7l4 -7z",
    "dried": "m-5 0q2.5 -5 5 0t5 0",
    "lost": "m-4 0h2m4 0h2",
}


class Bead(NamedTuple):
    """A brew or a disc on a ribbon. There may be thousands: a plain tuple is the lightest."""

    key: str  #: Like brew-7
    day: float  #: When it began. [d from today]
    end: float | None  #: When it ended; None: it lives. [d from today]
    kind: str  #: brew or disc
    state: str  #: alive, held, harvested, discarded, composted, given, dried, lost or kept
    says: str
    honey: float = 0.0  #: Share of its sugars. [-]


@dataclass(frozen=True, slots=True)
class Passing:
    """Something of one line that went into another, left the house or came to it."""

    day: float  #: [d from today]
    word: str
    other: int | None = None  #: The line it went into; None: outside the house.
    arrives: bool = False  #: From outside.


@dataclass(frozen=True, slots=True)
class LineFacts:
    """What one line of the braid is drawn from."""

    key: int
    name: str
    started: float  #: [d from today]
    beads: Sequence[Bead]
    volumes: Sequence[tuple[float, float]]  #: Day and what lives of it from then on, in order. [d from today, L]
    parent: int | None = None
    passings: Sequence[Passing] = ()
    ended: float | None = None  #: When nothing of it lived any more. [d from today]


class BeadShape(NamedTuple):
    """A bead as drawn."""

    bead: Bead
    x: int
    y: int


@dataclass(frozen=True, slots=True)
class Ribbon:
    """A line as drawn: one path for each shade, its name, its beads, marks of what ended."""

    key: int
    name: Label
    pieces: tuple[tuple[str, int], ...]  #: Path and shade, 0 sugar to 4 honey.
    fibres: tuple[str, ...]  #: Paths of what winds along it.
    beads: tuple[BeadShape, ...]
    ends: tuple[tuple[str, str], ...]  #: Kind of end and its path.
    arrows: tuple[tuple[float, float, bool], ...]  #: Gifts: where, and whether it arrives.
    words: tuple[Label, ...]
    end_x: float  #: Where it ends: today, or where nothing of it lived any more.


@dataclass(frozen=True, slots=True)
class Braid:
    """Shapes in a box of `width` by `height`."""

    ribbons: tuple[Ribbon, ...]
    partings: tuple[str, ...]
    joinings: tuple[str, ...]
    rows: tuple[Label, ...]  #: Name of the last line of each row, for a braid wider than its frame.
    ticks: tuple[Label, ...]
    today_x: float
    width: float
    height: float
    lane: float


def _width(litres: float, most: float) -> float:
    return round(min(most, THIN + PER_ROOT_LITRE * math.sqrt(max(litres, 0.0))))


def _shade(honey: float) -> int:
    return min(SHADES - 1, int(honey * SHADES + 1e-9))


def _steps(line: LineFacts, first: float, every: float, most: float) -> list[tuple[float, float, int]]:
    """Return day, width and shade wherever one of them changes, no closer than `every`. [d]"""
    brews = sorted((b for b in line.beads if b.kind == NodeKind.BREW), key=lambda b: b.day)
    end = 0.0 if line.ended is None else line.ended
    begin = max(line.started, first)
    days = sorted(
        {begin, *(d for d, _ in line.volumes if begin < d < end), *(b.day for b in brews if begin < b.day < end)}
    )
    out: list[tuple[float, float, int]] = []
    volume, brew, litres = 0, 0, 0.0
    honey = brews[0].honey if brews else 0.0
    for day in days:
        while volume < len(line.volumes) and line.volumes[volume][0] <= day + 1e-6:
            litres, volume = line.volumes[volume][1], volume + 1
        while brew < len(brews) and brews[brew].day <= day + 1e-6:
            honey, brew = brews[brew].honey, brew + 1
        wide, shade = _width(litres, most), _shade(honey)
        if out and out[-1][1:] == (wide, shade):
            continue
        if out and day - out[-1][0] < every:
            out[-1] = (out[-1][0], max(wide, out[-1][1]), shade)
        else:
            out.append((day, wide, shade))
    return out


def _stretches(line: LineFacts, first: float, x: X, most: float, every: float) -> list[Stretch]:
    """List the pieces of a ribbon, each as wide as what lived then and in the shade of the brew that last began."""
    steps = _steps(line, first, every, most)
    last = 0.0 if line.ended is None else line.ended
    ends = [*(x(day) for day, *_ in steps[1:]), x(last)]
    out: list[Stretch] = []
    for (day, wide, shade), b in zip(steps, ends, strict=True):
        a = out[-1].end if out else x(day)
        if b - a > LEAST_PX:
            out.append(Stretch(a, b, wide, shade))
    return out


def braid(lines: Sequence[LineFacts], today: date, span_days: float, whole_days: float | None = None) -> Braid:
    """Draw the braid.

    Args:
        lines: In the order in which they stand.
        today: Its right end.
        span_days: How much time fits into one width of 1200. [d]
        whole_days: How far back it reaches, if further: then it is wider, and is moved sideways. [d]
    """
    whole = max(span_days, whole_days or 0.0)
    rows = _rows(lines, whole)
    count = max(rows.values(), default=0) + 1
    lane = min(LANE, (TALLEST - TOP - FOOT) / count)
    first = -whole
    width = WIDTH * whole / span_days
    right = width - LEFT
    where: Mapping[int, float] = {line.key: TOP + lane * (rows[line.key] + 0.55) for line in lines}

    scale = (right - LEFT) / whole

    def x(day: float) -> float:
        if day >= 0.0:
            return right
        return LEFT + scale * (day - first) if day > first else LEFT

    every = whole * max(1, len(lines)) / MOST_PIECES
    ribbons = tuple(_ribbon(line, where[line.key], first, x, lane, every, width) for line in lines)
    partings, joinings = [], []
    for line in lines:
        if line.parent is not None and line.parent in where and line.started > first:
            partings.append(parting(x(line.started), where[line.parent], where[line.key], SPREAD))
        for passing in line.passings:
            if passing.other is not None and passing.other in where and passing.day > first:
                joinings.append(parting(x(passing.day), where[line.key], where[passing.other], SPREAD))
    height = TOP + lane * count + FOOT
    ticks = _ticks(today, whole, span_days, x)
    last = {rows[line.key]: ribbon.name for line, ribbon in zip(lines, ribbons, strict=True)}
    names = tuple(Label(6.0, name.y, name.text, "start") for _, name in sorted(last.items()))
    return Braid(ribbons, tuple(partings), tuple(joinings), names, ticks, x(0.0), width, height, lane)


def _rows(lines: Sequence[LineFacts], whole: float) -> dict[int, int]:
    """Assign each line a row; one that ended leaves its row to one that began clearly later. Rows that still live stand on top."""
    ends: list[float] = []
    out: dict[int, int] = {}
    for line in lines:
        free = next((i for i, end in enumerate(ends) if end + whole / 12 < line.started), len(ends))
        ends[free : free + 1] = [0.0 if line.ended is None else line.ended]
        out[line.key] = free
    place = {row: i for i, row in enumerate(sorted(range(len(ends)), key=lambda row: -ends[row]))}
    return {key: place[row] for key, row in out.items()}


def _ribbon(line: LineFacts, y: float, first: float, x: X, lane: float, every: float, whole: float) -> Ribbon:
    most = min(WIDEST, lane * 0.62)
    below = most * 0.42
    middle, low = round(y), round(y + below)
    beads = tuple(
        [
            BeadShape(b, round(x(b.day)), low if b.kind == NodeKind.DISC else middle)
            for b in line.beads
            if b.day >= first
        ]
    )
    outside = [p for p in line.passings if p.other is None and p.day >= first]
    arrows = tuple((x(p.day), y - most / 2 - 6, p.arrives) for p in outside)
    begins = max(LEFT, x(line.started))
    words = _words_with_room(
        [Label(ax + 7, ay - 4, p.word) for p, (ax, ay, _) in zip(outside, arrows, strict=True)],
        begins + LETTER * len(line.name) + 6,
        x(0.0) + LEFT,
    )
    stretches = _stretches(line, first, x, most, every)
    return Ribbon(
        line.key,
        Label(begins, y - most / 2 - (9 if lane >= LABELS_FROM else 1), line.name, "start"),
        outlines(stretches, y, line.ended is not None),
        fibres(stretches, y, whole) if lane >= LABELS_FROM else (),
        beads,
        _ends(line, y, below, first, x),
        arrows,
        words if lane >= LABELS_FROM else (),
        x(0.0 if line.ended is None else line.ended),
    )


def _words_with_room(words: Sequence[Label], left: float, right: float) -> tuple[Label, ...]:
    """Leave out words that would meet the line's name, each other or the edge; their arrows stay."""
    out: list[Label] = []
    for word in sorted(words, key=lambda one: one.x):
        if word.x >= left and word.x + LETTER * len(word.text) <= right:
            out.append(word)
            left = word.x + LETTER * len(word.text) + 6
    return tuple(out)


def scaled(path: str, by: float) -> str:
    """Scale a path of relative steps.

    >>> scaled("m-4 -4l8 8", 0.5)
    'm-2 -2l4 4'
    """
    return re.sub(r"-?\d+(?:\.\d+)?", lambda n: f"{float(n[0]) * by:.1f}".removesuffix(".0"), path)


def _ends(line: LineFacts, y: float, below: float, first: float, x: X) -> tuple[tuple[str, str], ...]:
    """Mark what ended, where it ended, by what happened; the line's own end too."""
    marks: dict[str, list[str]] = {}
    small = below < 0.42 * 0.62 * LABELS_FROM
    shapes = {kind: scaled(path, CROWDED) if small else path for kind, path in MARKS.items()}
    for bead in line.beads:
        if bead.end is None or bead.end < first or bead.state not in MARKS:
            continue
        at = y + (below if bead.kind == NodeKind.DISC else 0.0)
        marks.setdefault(bead.state, []).append(f"M{x(bead.end):.0f} {at:.0f}{shapes[bead.state]}")
    if line.ended is not None and line.ended >= first:
        marks.setdefault("spent", []).append(f"M{x(line.ended):.0f} {y:.0f}{LINE_END}")
    return tuple((kind, "".join(paths)) for kind, paths in sorted(marks.items()))


def _ticks(today: date, whole: float, span: float, x: X) -> tuple[Label, ...]:
    """Mark months, quarters or years, as there is room."""
    every = 1 if span < SHORT_DAY else 3 if span < 1300 else 12
    years = 1 if span < 4000 else 2 if span < 9000 else 5
    out, day = [], (today - timedelta(days=whole)).replace(day=1)
    while day <= today:
        away = float((day - today).days)
        if (day.month - 1) % every == 0 and away > -whole and (every < 12 or day.year % years == 0):
            month = f"{day:%b} {day.year}" if day.month == 1 else f"{day:%b}"
            out.append(Label(x(away), 20, f"{day.year}" if every == 12 else month, "start"))
        day = (day + timedelta(days=32)).replace(day=1)
    return tuple(out)
