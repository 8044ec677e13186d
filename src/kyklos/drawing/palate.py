"""A taster's tastings against acidity: each a dot that fades with age, the learned line, and the window round the point."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..core.base import marked
from ..core.forecast.palate import Palate, Tasted
from .shapes import Label, path_through

LEFT, RIGHT, TOP, BOTTOM = 130.0, 500.0, 20.0, 220.0
LOW, HIGH = 0.8, 14.0  #: [g/L]
FADES_DAYS = 365.0  #: [d]
WORDS = {-3: "much too sweet", -1: "a bit sweet", 0: "right", 1: "a bit sour", 3: "much too sour"}


@dataclass(frozen=True, slots=True)
class TastingDot:
    """One tasting."""

    x: float
    y: float
    strength: float  #: From 0.25 to 1; old ones fade. [-]
    says: str


@dataclass(frozen=True, slots=True)
class PalatePlot:
    """Shapes in a box of 520 by 268."""

    dots: tuple[TastingDot, ...]
    line: str
    window: tuple[float, float]  #: x, width
    point: float
    before: float | None
    levels: tuple[Label, ...]
    ends: tuple[Label, ...]  #: What stands at either end of the sour line below.
    says: str


def _x(ta: float) -> float:
    return LEFT + (RIGHT - LEFT) * math.log(min(max(ta, LOW), HIGH) / LOW) / math.log(HIGH / LOW)


def _y(score: float) -> float:
    return TOP + (BOTTOM - TOP) * (3 - score) / 6


def palate_plot(name: str, palate: Palate, tasted: Sequence[Tasted], before: Palate | None = None) -> PalatePlot:
    """Draw a palate.

    Args:
        name: The taster's.
        palate: As learned now.
        tasted: The tastings it was learned from.
        before: As it was, where it drifted.
    """
    low, high = palate.window_g_per_l
    grid = [LOW * (HIGH / LOW) ** (i / 40) for i in range(41)]
    dots = tuple(
        TastingDot(
            _x(t.ta_g_per_l),
            _y(t.score),
            max(0.25, 0.5 ** (t.age_days / FADES_DAYS)),
            f"{t.score:+g} at {marked(t.ta_g_per_l, 'acidity')}, {t.age_days:.0f} days ago",
        )
        for t in tasted
    )
    return PalatePlot(
        dots=dots,
        line=path_through([(_x(ta), _y(palate.score(ta))) for ta in grid]),
        window=(_x(low), _x(high) - _x(low)),
        point=_x(palate.ta_g_per_l),
        before=_x(before.ta_g_per_l) if before is not None else None,
        levels=tuple(Label(LEFT - 10, _y(score) + 5, word, "end") for score, word in WORDS.items()),
        ends=(Label(LEFT, BOTTOM + 38, "sweet tea", "start"), Label(RIGHT, BOTTOM + 38, "vinegar", "end")),
        says=f"What {name} said of each tasting, from sweet tea to vinegar, and the point it leads to; tastings: {len(tasted)}.",
    )
