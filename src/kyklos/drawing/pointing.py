"""Arrows that point at what tells a thing, each with its number outside the rim."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from .specimen import CENTRE, Specimen, TellingMark

OUTSIDE = 121.0  #: From the middle to a number.
HEAD, SHORT = 9.0, 4.0  #: Length of an arrow's head; how far before its target it ends.
APART = 0.6  #: Between two numbers at least. [rad]


@dataclass(frozen=True, slots=True)
class NumberedArrow:
    """An arrow with its number."""

    number: int
    line: str
    head: str
    x: float  #: Where the number stands.
    y: float


def pointers(drawn: Specimen, parts: Iterable[str]) -> list[NumberedArrow]:
    """Point at parts of a drawing, in the order given; a part that this drawing does not show has no arrow."""
    found = [(number, mark) for number, part in enumerate(parts, 1) if (mark := drawn.mark(part)) is not None]
    turns: list[float] = []
    for _, mark in found:
        turns.append(_turn(mark, turns))
    return [_pointer(number, mark, turn) for (number, mark), turn in zip(found, turns, strict=True)]


def _turn(mark: TellingMark, taken: list[float]) -> float:
    """Find the direction of a number: straight outward from its target, or beside one that stands there already."""
    out = math.atan2(mark.y - CENTRE, mark.x - CENTRE)
    leans = [0.0, *(side * step for step in (0.65, 1.3, 2.0) for side in (1, -1))]
    return next((out + lean for lean in leans if all(abs(math.remainder(out + lean - other, math.tau)) >= APART for other in taken)), out)


def _pointer(number: int, mark: TellingMark, turn: float) -> NumberedArrow:
    sx, sy = CENTRE + OUTSIDE * math.cos(turn), CENTRE + OUTSIDE * math.sin(turn)
    back = math.atan2(sy - mark.y, sx - mark.x)
    ex, ey = mark.x + SHORT * math.cos(back), mark.y + SHORT * math.sin(back)
    left, right = ((ex + HEAD * math.cos(back + lean), ey + HEAD * math.sin(back + lean)) for lean in (-0.4, 0.4))
    head = f"M{left[0]:.1f} {left[1]:.1f}L{ex:.1f} {ey:.1f}L{right[0]:.1f} {right[1]:.1f}Z"
    return NumberedArrow(number, f"M{sx:.1f} {sy:.1f}L{ex:.1f} {ey:.1f}", head, round(sx, 1), round(sy, 1))
