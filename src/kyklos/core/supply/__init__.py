"""Enough to drink, and what it costs.

How much the household drinks, learned from what was opened; when what stands runs out; and what a brew comes to by the
litre and by the bottle, at the household's own prices. All that is bought is a `Good`: tea, sugar, fruit and bottles alike.
"""

from __future__ import annotations

from .cost import CostLine
from .demand import Pace, pace
from .goods import Good, GoodKind, good, goods

__all__ = ["CostLine", "Good", "GoodKind", "Pace", "good", "goods", "pace"]
