"""The sour line: one scale from sweet tea to vinegar, where a brew is, where it goes, and each taster's point."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from ..core.base import marked
from .shapes import Label

LOW_G_PER_L, HIGH_G_PER_L = 0.4, 14.0  #: Sweet tea, and vinegar. [g/L]
LEFT, RIGHT = 12.0, 348.0
NAME_ROOM = 7.6  #: Width of a letter of a name.


@dataclass(frozen=True, slots=True)
class SourLine:
    """Shapes in a box of 360 by 68."""

    here: float
    low: float
    high: float
    soon: float
    marks: tuple[Label, ...]
    ends: tuple[Label, Label]
    says: str


def share_of(ta_g_per_l: float) -> float:
    """Return how far an acidity stands from sweet tea to vinegar: 0 to 1.

    Args:
        ta_g_per_l: Titratable acidity. [g/L]
    """
    share = math.log(max(ta_g_per_l, LOW_G_PER_L) / LOW_G_PER_L) / math.log(HIGH_G_PER_L / LOW_G_PER_L)
    return min(1.0, share)


def along(ta_g_per_l: float) -> float:
    """Return where an acidity stands on the line.

    Args:
        ta_g_per_l: Titratable acidity. [g/L]
    """
    return LEFT + (RIGHT - LEFT) * share_of(ta_g_per_l)


def _marks(points: Sequence[tuple[str, float]]) -> tuple[Label, ...]:
    """Name each point; tasters who share one share a mark."""
    together: dict[float, list[str]] = {}
    for name, ta in points:
        together.setdefault(round(ta, 2), []).append(name)
    out = []
    for ta, names in sorted(together.items()):
        text, x = " and ".join(names), along(ta)
        anchor = (
            "start" if x < len(text) * NAME_ROOM / 2 else "end" if x > 360 - len(text) * NAME_ROOM / 2 else "middle"
        )
        out.append(Label(x, 18, text, anchor))
    return _apart(out)


def _apart(marks: list[Label]) -> tuple[Label, ...]:
    """Write names that would meet to either side of their marks."""
    if len(marks) == 2:
        left, right = marks
        if right.x - left.x < (len(left.text) + len(right.text)) * NAME_ROOM / 2 + 8:
            return Label(left.x, left.y, left.text, "end"), Label(right.x, right.y, right.text, "start")
    return tuple(marks)


@lru_cache(maxsize=256)
def sour_line(now: tuple[float, float, float], soon: float, points: tuple[tuple[str, float], ...]) -> SourLine:
    """Draw the sour line.

    Args:
        now: Acidity today: 10 %, likely, 90 %. [g/L]
        soon: Likely in three days. [g/L]
        points: Tasters' names and points. [g/L]
    """
    low, here, high = (along(value) for value in now)
    words = ", ".join(f"{name} at {marked(ta, 'acidity')}" for name, ta in points)
    return SourLine(
        here,
        low,
        high,
        along(soon),
        _marks(points),
        (Label(LEFT, 64, "sweet tea", "start"), Label(RIGHT, 64, "vinegar", "end")),
        f"Acidity about {marked(now[1], 'acidity')} now, {marked(soon, 'acidity')} in three days; points: {words}.",
    )
