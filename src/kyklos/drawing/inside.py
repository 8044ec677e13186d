"""A cut through a tapped vessel: its stack of discs, the liquid, the heel below the tap, what has settled."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .shapes import Label

WIDTH, HEIGHT = 350.0, 330.0
LEFT, TOP, BOTTOM = 30.0, 26.0, 290.0
WIDEST, NARROWEST = 150.0, 90.0
LEAST_PX = 3.0  #: What is there at all is seen. [px]
SHEET_MM = 11.0  #: A stack is drawn in sheets of about so much. [mm]
APART = 17.0  #: Between two lines of words. [px]


@dataclass(frozen=True, slots=True, kw_only=True)
class InsideFacts:
    """What is drawn; words as they are written beside it."""

    nominal_l: float  #: [L]
    width_cm: float  #: [cm]
    litres: float  #: [L]
    heel_l: float  #: [L]
    stack_l: float  #: [L]
    stack_mm: float  #: [mm]
    sediment_l: float  #: [L]
    line_l: float  #: Its fill line, discs counted. [L]
    litres_words: str
    heel_words: str
    stack_words: str
    sediment_words: str
    stack_wants: str  #: What it asks for; empty: nothing.
    sediment_wants: str
    line_words: str


@dataclass(frozen=True, slots=True)
class Inside:
    """Shapes in a box of 350 by 330."""

    left: float
    right: float
    top: float
    bottom: float
    level: float  #: Top of the stack.
    liquid: float  #: Top of the liquid.
    sheets: tuple[tuple[float, float], ...]  #: y and height of each sheet of the stack.
    heel: float
    line: float
    sediment: float
    tap: tuple[float, float]
    words: tuple[Label, ...]
    wants: frozenset[str]  #: Which of the words ask for something.
    says: str


def inside(facts: InsideFacts) -> Inside:
    """Draw the inside of a vessel to scale, as large as the room allows.

    Args:
        facts: What is in it.
    """
    high_cm = facts.nominal_l * 1000 / (math.pi / 4 * facts.width_cm**2)
    wide = min(max((BOTTOM - TOP) * facts.width_cm / high_cm, NARROWEST), WIDEST)
    scale = (BOTTOM - TOP) / facts.nominal_l

    def y(litres: float) -> float:
        return BOTTOM - scale * min(max(litres, 0.0), facts.nominal_l)

    sediment = min(y(facts.sediment_l), BOTTOM - LEAST_PX) if facts.sediment_l > 0 else BOTTOM
    liquid, level = y(facts.litres), y(facts.litres + facts.stack_l)
    level = min(level, liquid - LEAST_PX) if facts.stack_mm > 1 else liquid
    count = max(1, round(facts.stack_mm / SHEET_MM)) if level < liquid else 0
    each = (liquid - level) / count if count else 0.0
    heel, line = y(facts.heel_l), y(facts.line_l)
    right = LEFT + wide
    rows = [
        ((level + liquid) / 2, facts.stack_words),
        ((level + liquid) / 2 + 1, facts.stack_wants),
        ((liquid + max(min(heel, BOTTOM), liquid)) / 2, facts.litres_words),
        (heel, facts.heel_words),
        (sediment + 4, facts.sediment_words),
        (sediment + 5, facts.sediment_wants),
        (line, facts.line_words),
    ]
    return Inside(
        LEFT, right, TOP, BOTTOM, level, liquid, tuple((level + each * i, each) for i in range(count)), heel, line, sediment,
        (right, min(heel + 4, BOTTOM - 12)), _beside(rows, right + 50), frozenset({facts.stack_wants, facts.sediment_wants}) - {""},
        f"{facts.litres_words}. {facts.stack_words}. {facts.heel_words}. {facts.sediment_words}.",
    )  # fmt: skip


def _beside(rows: list[tuple[float, str]], x: float) -> tuple[Label, ...]:
    """Write words beside their heights, none over another."""
    out: list[Label] = []
    for height, text in sorted((one for one in rows if one[1]), key=lambda one: one[0]):
        at = max(height + 4, out[-1].y + APART if out else TOP + 4)
        out.append(Label(x, at, text, "start"))
    over = out[-1].y - (HEIGHT - 8) if out else 0.0
    return tuple(Label(x, label.y - max(0.0, over), label.text, "start") for label in out) if over > 0 else tuple(out)
