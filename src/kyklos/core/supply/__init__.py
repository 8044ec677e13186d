"""Enough to drink, and what it costs.

How much the household drinks, learned from what left to be drunk; how much to brew, and on which days; what stands in the
cupboard and goes on the list; and what it all comes to, at the household's own prices. All that is bought is a `Good`: tea, sugar, fruit and bottles alike.
"""

from __future__ import annotations

from .cost import CostLine
from .demand import Pace, pace, shares
from .goods import Good, GoodKind, good, goods

__all__ = ["CostLine", "Good", "GoodKind", "Pace", "good", "goods", "pace", "shares"]
