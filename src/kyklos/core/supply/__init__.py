"""Enough to drink, and what it costs.

How much the household drinks, learned from what was opened; when what stands runs out; and what a brew comes to by the
litre and by the bottle, at the household's own prices.
"""

from __future__ import annotations

from .cost import CostLine
from .demand import Pace, pace

__all__ = ["CostLine", "Pace", "pace"]
