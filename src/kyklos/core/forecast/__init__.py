"""When a brew is right, and for whom.

A `ForecastAsk` (batch, readings, what its line did before, tasters' points) is answered by `forecast` with bands and
windows; beside it what is learned (prior, vigour, palate, hindsight) and what might be (what if, two tasters).
"""

from __future__ import annotations

from .answer import Forecast, Posterior, Window, carry_together, forecast
from .ask import ForecastAsk, Observation, Prior

__all__ = ["Forecast", "ForecastAsk", "Observation", "Posterior", "Prior", "Window", "carry_together", "forecast"]
