"""What if: the same brew with another future: a warmer room, a cold week, a heater, more starter, the fridge."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ..base import CoreError, require_between
from ..liquid import Course, Pour
from ..liquid.batch import fill_at
from ..liquid.liquid import starter_of
from ..liquid.standing import FRIDGE_C
from .answer import Forecast, forecast
from .ask import ForecastAsk

ROOM_C = (16.0, 32.0)  #: Of the slider. [degC]
COLD_FALL_K = 5.0  #: A cold week is so much colder, unless given (assumed). [K]
MORE_STARTER_UNTIL = 2.0  #: Later it is no longer a start. [d]
JUMP = 0.02  #: A change of temperature takes so long. [d]


@dataclass(frozen=True, slots=True)
class Alternative:
    """One condition that may be otherwise."""

    kind: str  #: room, cold-week, heater, starter, fridge, or weather: as if nobody knew it
    celsius: float | None = None  #: Of room, heater or cold week. [degC]
    from_day: float | None = None  #: When it begins; now unless given. [d since pitch]
    share: float | None = None  #: More starter, as a share of the final volume. [-]


def _future(course: Course) -> float:
    return course.future_c if course.future_c is not None else course.points[-1][1]


def _past(course: Course, day: float) -> list[tuple[float, float]]:
    points = [point for point in course.points if point[0] < day]
    here = float(course.at(np.array([day]))[0])
    return [*points, (day, here)]


def _then(course: Course, today: float, celsius: float) -> Course:
    return Course((*_past(course, today), (today + JUMP, celsius)), celsius)


def _cold_week(course: Course, start: float, celsius: float) -> Course:
    usual = _future(course)
    week = ((start + JUMP, celsius), (start + 7.0, celsius), (start + 7.0 + JUMP, usual))
    return Course((*_past(course, start), *week), usual)


def _temperature(value: float | None, low: float, high: float) -> float:
    if value is None:
        raise CoreError("celsius: say how warm.")
    require_between(low, high, "degC", celsius=value)
    return value


def _room(ask: ForecastAsk, today: float, change: Alternative) -> ForecastAsk:
    return ask.on(_then(ask.course, change.from_day or today, _temperature(change.celsius, *ROOM_C)))


def _heater(ask: ForecastAsk, today: float, change: Alternative) -> ForecastAsk:
    set_point = max(_temperature(change.celsius, *ROOM_C), _future(ask.course))
    return ask.on(_then(ask.course, change.from_day or today, set_point))


def _cold(ask: ForecastAsk, today: float, change: Alternative) -> ForecastAsk:
    celsius = _future(ask.course) - COLD_FALL_K if change.celsius is None else _temperature(change.celsius, 0.0, 30.0)
    return ask.on(_cold_week(ask.course, max(today, change.from_day or today), celsius))


def _fridge(ask: ForecastAsk, today: float, change: Alternative) -> ForecastAsk:
    return ask.on(_then(ask.course, change.from_day or today, change.celsius or FRIDGE_C))


def _starter(ask: ForecastAsk, today: float, change: Alternative) -> ForecastAsk:
    if change.share is None:
        raise CoreError("share: say how much more starter.")
    require_between(0.0, 0.5, "", share=change.share)
    if today > MORE_STARTER_UNTIL:
        raise CoreError(f"More starter is a matter of the first {MORE_STARTER_UNTIL:g} days.")
    day = max(today, change.from_day or today)
    litres = fill_at(ask.batch, day).litres * change.share / (1 - change.share)
    return replace(ask, batch=ask.batch.with_events(Pour(day, starter_of(ask.recipe, litres))))


def _no_weather(ask: ForecastAsk, today: float, change: Alternative) -> ForecastAsk:
    return ask.on(replace(ask.course, ahead=()))


HOW: dict[str, Callable[[ForecastAsk, float, Alternative], ForecastAsk]] = {
    "room": _room,
    "cold-week": _cold,
    "heater": _heater,
    "starter": _starter,
    "fridge": _fridge,
    "weather": _no_weather,
}


def changed(ask: ForecastAsk, today: float, change: Alternative) -> ForecastAsk:
    """Ask the same with one thing otherwise from today on; the past and its readings stay.

    Args:
        ask: The brew as it goes.
        today: Since the pitch. [d]
        change: What is otherwise. More starter is as sour as the first was, and goes in then.

    Raises:
        CoreError: If a number is missing, out of range or too late.
    """
    if change.kind not in HOW:
        raise CoreError(f"what-if {change.kind!r} is not known; known are {', '.join(HOW)}.")
    return HOW[change.kind](ask, max(0.0, today), change)


def what_if(ask: ForecastAsk, today: float, change: Alternative) -> Forecast:
    """Foretell a brew under another condition."""
    return forecast(changed(ask, today, change))
