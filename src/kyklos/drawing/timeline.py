"""The day by the clock: lanes of work with hands and of waiting, on one scale of time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .shapes import Label

LEFT, RIGHT, TOP, LANE, GAP = 205.0, 1180.0, 50.0, 40.0, 16.0


@dataclass(frozen=True, slots=True)
class Block:
    """A piece of work, or a wait."""

    kind: str  #: hands or wait
    x: float
    y: float
    width: float
    height: float
    number: Label | None
    says: str


@dataclass(frozen=True, slots=True)
class Timeline:
    """The picture."""

    width: float
    height: float
    lanes: tuple[Label, ...]
    bands: tuple[tuple[float, float], ...]  #: Every other lane: y and height.
    blocks: tuple[Block, ...]
    marks: tuple[tuple[float, Label], ...]  #: Quarter hours or hours: x and time.
    bottom: float


@dataclass(frozen=True, slots=True)
class Piece:
    """What is drawn."""

    lane: str
    group: str  #: Lanes of one vessel stand together.
    number: int  #: Its place in the list beside.
    name: str
    start: int  #: [min]
    hands: int  #: [min]
    wait: int  #: [min]
    waiting: str = ""


def _named(lane: str, y: float) -> list[Label]:
    """A lane's name at its left: the vessel above its work, where it names both."""
    parts = lane.split(": ", 1)
    return [Label(LEFT - 14, y + 18 * i - 9 * (len(parts) - 1), part, "end") for i, part in enumerate(parts)]


def timeline(pieces: Sequence[Piece], minutes: int, marks: Sequence[tuple[int, str]]) -> Timeline:
    """Draw a day.

    Args:
        pieces: In order of time; a lane for each name of a lane.
        minutes: Length of the day. [min]
        marks: Times to be written above, from the start. [min]
    """
    first: dict[str, int] = {}
    for piece in pieces:
        first.setdefault(piece.group, piece.number)
    lanes = list(dict.fromkeys(piece.lane for piece in sorted(pieces, key=lambda p: (first[p.group], p.number))))
    scale = (RIGHT - LEFT) / max(minutes, 1)
    y_of = {lane: TOP + i * (LANE + GAP) for i, lane in enumerate(lanes)}
    blocks = []
    for piece in pieces:
        x, y, width = LEFT + piece.start * scale, y_of[piece.lane], piece.hands * scale
        if piece.wait:
            blocks.append(
                Block(
                    "wait", x + width, y + 9, piece.wait * scale, LANE - 18, None, f"{piece.waiting} {piece.wait} min"
                )
            )
        number = Label(x + width / 2, y + LANE / 2 + 6, str(piece.number))
        blocks.append(Block("hands", x, y, max(width, 3.0), LANE, number, f"{piece.name}, {piece.hands} min"))
    bottom = TOP + len(lanes) * (LANE + GAP)
    return Timeline(
        1200.0,
        bottom + 8,
        tuple(name for lane in lanes for name in _named(lane, y_of[lane] + LANE / 2 + 6)),
        tuple((y_of[lane] - GAP / 2, LANE + GAP) for lane in lanes[::2]),
        tuple(blocks),
        tuple((LEFT + at * scale, Label(LEFT + at * scale, TOP - 20, text)) for at, text in marks),
        bottom,
    )
