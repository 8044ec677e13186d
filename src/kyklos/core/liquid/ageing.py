"""How a starter ages: strength of its yeast and bacteria against those of a fresh finished brew.

On a shelf it becomes what a hotel's liquid is: less yeast, more acid bacteria; then, unfed, both dwindle. In a fridge both rest and
dwindle slowly. All figures are assumed, between those of `ferment.STARTER_LIVELINESS`.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..base import require_between
from .ferment import STARTER_LIVELINESS

#: Days, and share of what a starter of its kind begins with: yeast, bacteria.
COURSES = {
    "shelf": ((0.0, 14.0, 90.0, 365.0), (1.0, 1.0, 0.5, 0.2), (1.0, 1.0, 1.2, 0.4)),
    "fridge": ((0.0, 30.0, 180.0, 365.0), (1.0, 1.0, 0.5, 0.3), (1.0, 1.0, 0.6, 0.3)),
}
KEPT_IN = {"shelf": "on a shelf", "fridge": "in the fridge"}
READ_DAYS = {"shelf": 28.0, "fridge": 90.0}  #: A reading speaks so long for what stands there (assumed). [d]
OLD_DAYS = {"shelf": 42.0, "fridge": 90.0}  #: From here on it is called old. [d]


def liveliness(kind: str, days: float, kept_in: str = "shelf") -> tuple[float, float]:
    """Return how lively a starter is.

    Args:
        kind: fresh, dried, bottle or hotel.
        days: Since it was set aside. [d]
        kept_in: shelf or fridge.

    Returns: Yeast and bacteria against those of a fresh finished brew. [-]

    >>> liveliness("fresh", 10), liveliness("fresh", 90)
    ((1.0, 1.0), (0.5, 1.2))
    """
    require_between(0, 100_000, "d", days=days)
    at, yeast, bacteria = COURSES[kept_in]
    first_y, first_b = STARTER_LIVELINESS[kind]
    y, b = first_y * float(np.interp(days, at, yeast)), first_b * float(np.interp(days, at, bacteria))
    return round(y, 3), round(min(b, 1.2), 3)


def together(parts: Sequence[tuple[float, tuple[float, float]]]) -> tuple[float, float]:
    """Mix starters by volume. `parts`: litres, yeast and bacteria of each. [L, -]"""
    total = sum(litres for litres, _ in parts)
    if total <= 0:
        return 1.0, 1.0
    yeast = sum(litres * y for litres, (y, _) in parts) / total
    return round(yeast, 3), round(sum(litres * b for litres, (_, b) in parts) / total, 3)


def condition_words(days: float, kept_in: str, doubt: str = "") -> str:
    """Return in which condition a starter is. [d]"""
    if doubt:
        return doubt
    if days <= COURSES[kept_in][0][1]:
        return "fresh"
    if days <= OLD_DAYS[kept_in]:
        return "mature"
    yeast, bacteria = liveliness("fresh", days, kept_in)
    return f"old: yeast about {100 * yeast:.0f} %, bacteria {100 * bacteria:.0f} % of a fresh one (assumed)"
