"""The day by the clock, hours downward: who works at what, and when stove, jugs and taps are taken."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .shapes import Label

LEFT, TOP, GAP = 64.0, 40.0, 12.0
LETTER_WIDE = 8.4  #: Width of a letter of the hours at the side.
HANDS_WIDTH, TOOL_WIDTH, BESIDE = 84.0, 62.0, 22.0
HEIGHT, LEAST_A_MINUTE, MOST_A_MINUTE = 520.0, 2.4, 7.0  #: Of the whole day, and of a minute.
LETTER = 11.5  #: Numbers beside one another stand so far apart.
LEAST_BLOCK, NUMBERED = 3.0, 13.0  #: A piece of work is never drawn lower; a lower one has its number beside it.
TOOLS = {"burner": "stove", "jug": "jugs", "tap": "tap"}  #: What has a lane of its own, by how it is called.


@dataclass(frozen=True, slots=True)
class SheetPiece:
    """A piece of work on the clock."""

    number: int
    thread: str
    says: str
    start: int  #: [min]
    end: int  #: Of the hands' work. [min]
    free: int  #: When its waiting is over. [min]
    takes: tuple[str, ...] = ()
    frees: tuple[str, ...] = ()
    gives: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class SheetBlock:
    """A piece of work, or a tool that is taken."""

    kind: str  #: hands or tool
    x: float
    y: float
    width: float
    height: float
    number: Label | None
    says: str


@dataclass(frozen=True, slots=True)
class RunSheet:
    """The picture."""

    width: float
    height: float
    lanes: tuple[Label, ...]
    hours: tuple[tuple[float, Label], ...]
    blocks: tuple[SheetBlock, ...]


def _taken(pieces: Sequence[SheetPiece]) -> list[tuple[str, int, int, str]]:
    """List when tools are taken: tool, from, to, by which thread. [min]"""
    out, open_ = [], dict[tuple[str, str], list[int]]()
    for piece in pieces:
        for tool in piece.takes:
            if tool in piece.gives or tool in piece.frees:
                out.append((tool, piece.start, piece.free if tool in piece.gives else piece.end, piece.thread))
            else:
                open_.setdefault((piece.thread, tool), []).append(piece.start)
        for tool in piece.frees:
            if tool not in piece.takes and (since := open_.get((piece.thread, tool))):
                out.append((tool, since.pop(0), piece.end, piece.thread))
    return sorted(out, key=lambda one: one[1])


def _side_by_side(spans: Sequence[tuple[int, int]]) -> list[int]:
    """Assign each span the first lane that is free. [min]"""
    ends: list[int] = []
    out = []
    for start, end in spans:
        lane = next((i for i, last in enumerate(ends) if last <= start), len(ends))
        ends[lane : lane + 1] = [end]
        out.append(lane)
    return out


def run_sheet(pieces: Sequence[SheetPiece], minutes: int, hours: Sequence[tuple[int, str]], hands: Sequence[str]) -> RunSheet:
    """Draw a day.

    Args:
        pieces: In order of time.
        minutes: Length of the day. [min]
        hours: Times to be written at the side, from the start. [min]
        hands: What each pair of hands is called.
    """
    a_minute = min(MOST_A_MINUTE, max(LEAST_A_MINUTE, HEIGHT / max(minutes, 1)))
    side = max(LEFT, LETTER_WIDE * max((len(text) for _, text in hours), default=0) + 12.0)  # "10:00 am" takes more than "10:00"
    blocks, lanes, x, last = [], [], side, 0.0
    for piece, lane in zip(pieces, _side_by_side([(p.start, p.end) for p in pieces]), strict=True):
        height = max(LEAST_BLOCK, (piece.end - piece.start) * a_minute - 1.5)
        left, top = side + lane * (HANDS_WIDTH + BESIDE + GAP), TOP + piece.start * a_minute
        inside = height >= NUMBERED
        across = left + 10 if inside else left + HANDS_WIDTH + 4
        down = top + (min(height / 2 + 4.5, 15) if inside else 7)
        if not inside:
            down = last = max(down, last + LETTER)
        number = Label(across, down, str(piece.number), "in" if inside else "beside")
        blocks.append(SheetBlock("hands", left, top, HANDS_WIDTH, height, number, piece.says))
    for name in hands:
        lanes.append(Label(x, TOP - 16, name))
        x += HANDS_WIDTH + BESIDE + GAP
    taken = _taken(pieces)
    for tool, called in TOOLS.items():
        rows = [row for row in taken if row[0] == tool]
        if not rows:
            continue
        places = _side_by_side([(start, end) for _, start, end, _ in rows])
        width = TOOL_WIDTH / (max(places) + 1)
        for (_, start, end, thread), place in zip(rows, places, strict=True):
            height = max(LEAST_BLOCK, (end - start) * a_minute - 1.5)
            says = f"{called}: {thread.rsplit(': ', 1)[0]}"
            blocks.append(SheetBlock("tool", x + place * width, TOP + start * a_minute, width - 2, height, None, says))
        lanes.append(Label(x, TOP - 16, called))
        x += TOOL_WIDTH + GAP
    marks = tuple((TOP + at * a_minute, Label(side - 10, TOP + at * a_minute + 5, text)) for at, text in hours)
    return RunSheet(x, TOP + minutes * a_minute + 14, tuple(lanes), marks, tuple(blocks))
