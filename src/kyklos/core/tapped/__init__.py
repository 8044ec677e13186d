"""A vessel with a tap that never runs dry.

The cycle that drawing and topping up settles to, what it can give today and for good, what becomes of it when it is
left, and the care of tap, stack, sediment and heater.
"""

from __future__ import annotations

from .cycle import CycleAsk
from .vessel import Tapped, today

__all__ = ["CycleAsk", "Tapped", "today"]
