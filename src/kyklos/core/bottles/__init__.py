"""From a finished brew to the glass.

What flavour adds, how litres are shared out among bottles, how pressure rises against what the glass holds, when to
chill and drink; infusions, trials on the bench, the park of bottles, scores, and what to open tonight.
"""

from __future__ import annotations

from .bottle import BottleAsk, BottleForecast, bottle_forecast
from .flavouring import Part
from .ingredients import Ingredient, ingredient

__all__ = ["BottleAsk", "BottleForecast", "Ingredient", "Part", "bottle_forecast", "ingredient"]
