"""What the weather does to a forecast: by how much the days ahead move the first ready day."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .answer import Forecast
from .ask import ForecastAsk

LEAST_DAYS = 0.25  #: A smaller move is not worth a word. [d]


@dataclass(frozen=True, slots=True)
class WeatherMove:
    """How the weather moves a brew."""

    kelvin: float  #: Warmer than expected without it, on the day on which it differs most. [K]
    on_day: float  #: That day. [d since pitch]
    sooner_days: float  #: By how many days it is ready sooner; later where negative. [d]


def moved_by_weather(ask: ForecastAsk, out: Forecast, today: float) -> WeatherMove | None:
    """Return what the outlook does to the first ready day; None: nothing worth a word, or nobody knows the weather.

    By how much a kelvin moves that day, and for how much of the time until then it is warmer or colder: no other run is needed.

    Args:
        ask, out: The brew, with the weather in its course.
        today: Since the pitch. [d]
    """
    course = ask.course
    ready = min((w.p50 for w in out.ready.values() if w.p50 is not None and w.p50 > today), default=None)
    if not course.ahead or ready is None or out.days_per_kelvin is None:
        return None
    usual = course.future_c if course.future_c is not None else course.points[-1][1]
    until = min(ready, course.ahead[-1][0])
    if until <= today:
        return None
    days = np.linspace(today, until, 41)
    differs = course.at(days) - usual
    sooner = float(differs.mean()) * (until - today) / (ready - today) * out.days_per_kelvin
    if abs(sooner) < LEAST_DAYS:
        return None
    most = int(np.argmax(np.abs(differs)))
    return WeatherMove(float(differs[most]), float(days[most]), sooner)
