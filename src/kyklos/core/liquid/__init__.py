"""What liquids hold and what happens to them.

Acids and pH, sweet tea, mixing, temperature, heat, taste; the first ferment's rates, and the one integrator of the
house, which takes a brew (`Batch`) from event to event. Asked by every wing above; knows `base` only.
"""

from __future__ import annotations

from .batch import Batch, run
from .events import Draw, Pour
from .ferment import Kinetics, Recipe
from .liquid import Liquid
from .pouring import Way
from .taste import Point
from .temperature import Course

__all__ = ["Batch", "Course", "Draw", "Kinetics", "Liquid", "Point", "Pour", "Recipe", "Way", "run"]
