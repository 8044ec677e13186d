"""What if: the same brew with another room, a cold week, a heater, more starter, the fridge."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from flask import Response, g, request

from ....core.base import CoreError
from ....core.forecast import Forecast, ForecastAsk
from ....core.forecast.weathered import moved_by_weather
from ....core.forecast.what_if import MORE_STARTER_UNTIL, ROOM_C, Alternative, what_if
from ....core.liquid.standing import FRIDGE_C
from ....reckon.forecast import forecasting
from ....store.read import moments
from ....store.records import Brew
from ...kit import units
from ...kit.acting import in_units
from ...kit.numbers import decimal_of
from ...kit.render import page
from ...kit.stops import curve_of, stop_of
from ...kit.words import chance_word, moved_words, right_word, span_word
from .routes import bp, brew_of

KINDS = {
    "room": "Another room",
    "cold-week": "A cold week",
    "heater": "A heater",
    "starter": "More starter",
    "fridge": "Into the fridge",
    "weather": "Without the weather",
}


SATURDAY = 5


@dataclass(frozen=True, slots=True)
class FutureAsked:
    """What was asked, as typed, and what it comes to."""

    kind: str
    celsius: float
    start: str
    more: str
    problem: str
    lines: tuple[str, ...]
    heading: str


def kinds_for(day: float, weather: bool) -> dict[str, str]:
    """List what may be asked of a brew of that age [d]; of the weather where it is known."""
    left_out = {"starter"} if day > MORE_STARTER_UNTIL else set()
    left_out |= set() if weather else {"weather"}
    return {key: name for key, name in KINDS.items() if key not in left_out}


def _number(name: str, default: float) -> float:
    value = request.args.get(name, type=decimal_of)
    return default if value is None or value != value else value


def _change(brew: Brew, kind: str, day: float, celsius: float) -> tuple[Alternative, str]:
    """Turn what was asked into a change, with its heading.

    Raises:
        CoreError: If something is missing or cannot be.
    """
    degrees = units.words(celsius, "temperature", g.units)
    if kind in {"room", "heater"}:
        words = f"At {degrees} from now" if kind == "room" else f"With a heater set to {degrees}"
        return Alternative(kind, celsius), words
    if kind == "cold-week":
        start = request.args.get("start", "")
        return Alternative(
            kind, from_day=_day(brew, start) if start else None
        ), f"With a week {in_units(5, 'difference')} colder"
    if kind == "starter":
        try:
            litres = units.parse(request.args.get("more") or "0", "small_volume", g.units)
        except units.NotANumberError as problem:
            raise CoreError(str(problem)) from problem
        words = units.words(litres, "small_volume", g.units)
        return Alternative(kind, share=litres / (brew.left_l + litres)), f"With {words} more starter now"
    if kind == "weather":
        return Alternative(kind), "As if nobody knew the weather"
    return Alternative(kind, FRIDGE_C), f"In the fridge from now, at {units.words(FRIDGE_C, 'temperature', g.units)}"


def _day(brew: Brew, text: str) -> float:
    try:
        local = datetime.combine(datetime.fromisoformat(text).date(), time(9), ZoneInfo(g.household.zone))
    except ValueError as problem:
        raise CoreError("This is not a date; like 2027-03-01.") from problem
    return moments.days_between(brew.pitched_at, local.astimezone(UTC))


def _lines(brew: Brew, usual: Forecast, then: Forecast, day: float) -> tuple[str, ...]:
    out = []
    for name, window in then.ready.items():
        says = f"Right for {name} {right_word(brew.pitched_at, window, g.now, g.household.zone)}"
        was = usual.ready[name].p50
        out.append(f"{says}{moved_words(was, window.p50)}.")
    if day < 7:
        out.append(
            f"At pH 4.2 or lower by day 7: {chance_word(then.safe_by_day_7)}, as it goes {chance_word(usual.safe_by_day_7)}."
        )
    return tuple(out)


def asked_of(brew: Brew, ask: ForecastAsk, usual: Forecast, day: float) -> tuple[FutureAsked, Forecast | None]:
    """Answer what the address asks; nothing asked is nothing answered."""
    kind = request.args.get("kind", "")
    celsius = min(max(_number("celsius", round(float(ask.course.future_c or 22.0))), ROOM_C[0]), ROOM_C[1])
    start, more = request.args.get("start", "")[:20], request.args.get("more", "")[:20]
    if kind not in kinds_for(day, bool(ask.course.ahead)):
        return FutureAsked("", celsius, start, more, "", (), ""), None
    try:
        change, heading = _change(brew, kind, day, celsius)
        then = what_if(ask, day, change)
    except CoreError as problem:
        return FutureAsked(kind, celsius, start, more, str(problem), (), ""), None
    return FutureAsked(kind, celsius, start, more, "", _lines(brew, usual, then, day), heading), then


def weather_words(ask: ForecastAsk, out: Forecast, brew: Brew) -> str:
    """Return what the weather ahead does to a brew, in words; empty: nothing worth a word."""
    move = moved_by_weather(ask, out, moments.age_of(brew.pitched_at, g.now))
    if move is None:
        return ""
    on = (brew.pitched_at + timedelta(days=move.on_day)).astimezone(ZoneInfo(g.household.zone))
    days = "weekend" if on.weekday() >= SATURDAY else "days"
    some = "" if days == "days" else "A "
    warm = "warm" if move.kelvin > 0 else "cold"
    ahead = f"{some}{warm if some else warm.capitalize()} {days} ahead"
    return f"{ahead}: {span_word(move.sooner_days)} {'sooner' if move.sooner_days > 0 else 'later'}."


def future_context(brew: Brew, stop: Any) -> dict[str, Any]:
    """Return what the question and its curve need in the templates."""
    ask = forecasting.forecast_ask_of(g.session, brew)
    asked, then = asked_of(brew, ask, stop.forecast, moments.age_of(brew.pitched_at, g.now))
    return {
        "asked": asked,
        "curve": curve_of(stop, then),
        "future_kinds": kinds_for(stop.day, bool(ask.course.ahead)),
        "weather_says": weather_words(ask, stop.forecast, brew),
        "room_c": ROOM_C,
        "day_min": g.now.astimezone(ZoneInfo(g.household.zone)).date().isoformat(),
    }


@bp.get("/<int:number>/what-if")
def what_if_page(number: int) -> Response:
    """Answer a what-if: the curve with both futures, and what moves."""
    brew = brew_of(number)
    stop = stop_of(g.session, brew, g.now, g.household)
    context = future_context(brew, stop)
    return page("brews/what_if.html", "brews/_future.html", brew=brew, stop=stop, **context)
