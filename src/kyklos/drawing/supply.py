"""Litres ready to drink over the weeks to come, and what each vessel does: a line with its band, lanes of batches and draws."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from .shapes import Label, Point, closed, path_through, shortened

WIDE, NARROW = 800.0, 390.0  #: Of the drawing, on a table and in the hand.
TOP, HEIGHT, GAP = 58.0, 236.0, 34.0  #: Above the line's field, the field, and between it and the lanes.
LANE, BAR = 58.0, 28.0
LEFT_WIDE, LEFT_NARROW = 178.0, 58.0  #: Where the days begin.
LETTER = 7.6  #: How wide a letter is, about.
BOLDER = 1.15  #: A letter of a name is so much wider.
LEAST_TOP_L = 2.0  #: The scale goes at least so far. [L]
NICE = (0.5, 1.0, 2.0, 2.5, 5.0, 10.0, 20.0, 50.0, 100.0)
STEPS = 4  #: So many lines across at most.
TITLE_ROOM = 22.0  #: A lane's name above it, in the hand.


@dataclass(frozen=True, slots=True)
class BatchBox:
    """A batch from its start to its harvest."""

    x: float
    y: float
    width: float
    text: str
    living: bool = False  #: It stands already.
    planned: bool = False  #: It is in the almanac.


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyLane:
    """What one vessel does, before it is drawn. Days from today."""

    name: str
    says: str
    batches: Sequence[tuple[float, float, str, bool]] = ()  #: From, to, words, whether it stands already.
    draws: Sequence[float] = ()
    rests: bool = False


@dataclass(frozen=True, slots=True)
class LaneShape:
    """One lane, drawn."""

    name: Label
    says: Label
    y: float
    boxes: tuple[BatchBox, ...]
    draws: tuple[Point, ...]
    rests: bool


@dataclass(frozen=True, slots=True)
class Flag:
    """Guests or a gift, on their day."""

    x: float
    y: float
    text: str
    anchor: str


@dataclass(frozen=True, slots=True)
class SupplyView:
    """Everything a template places."""

    width: float
    height: float
    left: float
    right: float
    base: float  #: Where nothing is left.
    line: str
    band: str
    without: str  #: As things stand.
    dry: tuple[tuple[float, float], ...]  #: Spans on which nothing is left: from, to.
    levels: tuple[Label, ...]
    days: tuple[Label, ...]
    flags: tuple[Flag, ...]
    lanes: tuple[LaneShape, ...]


def _nice_step(most: float) -> float:
    return next((step for step in NICE if most / step <= STEPS), NICE[-1])


def supply_view(
    low: Sequence[float], likely: Sequence[float], high: Sequence[float], without: Sequence[float], stock: float, dry: Sequence[tuple[int, int]], today: date,
    lanes: Sequence[SupplyLane], wishes: Sequence[tuple[float, str]], litres: Sequence[str] = (), *, narrow: bool = False, unit_l: float = 1.0,
) -> SupplyView:  # fmt: skip
    """Draw litres ready over the days to come, and the lanes of vessels below.

    Args:
        low, likely, high: With the plan, at the end of each day. [L]
        without: If nobody starts anything more. [L]
        stock: Ready now. [L]
        dry: Spans of days on which something is missed: first, and after the last.
        today: The first day.
        lanes: What each vessel does.
        wishes: Day from today, and words.
        litres: Words for each level of the scale, from zero; made by `levels_of`.
        narrow: For the hand.
        unit_l: The scale goes in steps of so much: a litre, or a quart. [L]
    """
    width, left = (NARROW, LEFT_NARROW) if narrow else (WIDE, LEFT_WIDE)
    days, right = len(likely), width - 12
    step, count = levels_of(stock, likely, high, unit_l)
    top_l, base = step * count, TOP + HEIGHT

    def x(day: float) -> float:
        return left + (right - left) * min(max(day, 0.0), days) / days

    def y(value: float) -> float:
        return base - HEIGHT * min(max(value, 0.0), top_l) / top_l

    def line(values: Sequence[float]) -> list[Point]:
        return [(x(0), y(stock)), *((x(day + 1), y(value)) for day, value in enumerate(values))]

    names = litres or [f"{step * number:g}" for number in range(count + 1)]
    levels = tuple(Label(left - 8, y(step * number) + 5, names[number], "end") for number in range(count + 1))
    every = 28 if narrow else 21
    dates = [(day, today + timedelta(days=day)) for day in range(0, days + 1, every)]
    axis = tuple(Label(x(day), base + 20, f"{at.day} {at:%b}", "start" if not day else "middle" if day < days - 5 else "end") for day, at in dates)
    drawn = tuple(_lane(lane, base + GAP + number * (LANE + (TITLE_ROOM if narrow else 0)), x, left, narrow) for number, lane in enumerate(lanes))
    height = base + GAP + len(lanes) * (LANE + (TITLE_ROOM if narrow else 0))
    return SupplyView(
        width, height, left, right, base, path_through(line(likely)), closed([*line(high), *reversed(line(low))]), path_through(line(without)),
        tuple((x(first), x(last)) for first, last in dry), levels, axis, _flags(wishes, x, left, right), drawn,
    )  # fmt: skip


def levels_of(stock: float, likely: Sequence[float], high: Sequence[float], unit_l: float = 1.0) -> tuple[float, int]:
    """Return the step of the scale, and how many steps it has. [L]"""
    most = max(stock, *likely, *high, LEAST_TOP_L)
    step = _nice_step(most / unit_l) * unit_l
    return step, max(1, math.ceil(most / step - 1e-9))


def _flags(wishes: Sequence[tuple[float, str]], x: Callable[[float], float], left: float, right: float) -> tuple[Flag, ...]:
    """Put flags on their days, those that would touch in turns on two heights."""
    out: list[Flag] = []
    ends = [left - 99.0, left - 99.0]
    for day, text in sorted(wishes):
        at = x(day)
        room = len(text) * LETTER
        anchor = "end" if at + room > right else "start"
        begin = at - room if anchor == "end" else at
        row = next((number for number, end in enumerate(ends) if begin > end), None)
        if row is None:
            continue
        ends[row] = begin + room + 8
        out.append(Flag(at, 20.0 + 18 * row, text, anchor))
    return tuple(out)


def _lane(lane: SupplyLane, y: float, x: Callable[[float], float], left: float, narrow: bool) -> LaneShape:
    top = y + (TITLE_ROOM if narrow else 0)
    room = (NARROW - 10 - len(lane.says) * LETTER) if narrow else left
    called = shortened(lane.name, int(room / (LETTER * BOLDER)))
    name = Label(0, y + 16 if narrow else y + 22, called, "start")
    says = Label(len(called) * LETTER * BOLDER + 10 if narrow else 0, y + 16 if narrow else y + 41, lane.says, "start")
    boxes = []
    for begins, ends, words, living in lane.batches:
        a = x(begins)
        b = x(ends)
        if b - a >= 3:
            boxes.append(BatchBox(a + 1, top + 14, b - a - 2, words if len(words) * LETTER + 10 < b - a else "", living))
    draws = tuple((x(day), top + 14 + BAR / 2) for day in lane.draws)
    return LaneShape(name, says, top, tuple(boxes), draws, lane.rests)
