"""Forecasts asked by name: readings, what the line did before, whose point is meant."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from ..forecast import ForecastAsk, Observation, Prior, forecast
from ..forecast.answer import Band
from ..liquid import Course, Point
from ..liquid.taste import POINT_SD, usual_point
from . import keys
from .ferments import HAPPENS, batch_of, recipe_of
from .keys import CalcError, Key, read

Answer = dict[str, Any] | list[dict[str, Any]]

READING = (
    Key("day", "d", 0, 400),
    Key("ph", "pH", 0, 14, None),
    Key("ta_g_per_l", "g/L", 0, 60, None),
    Key("taste", "step", -3, 3, None),
    keys.INSTRUMENT,
    Key("taster", default="", kind="any"),
    Key("point_g_per_l", "g/L", 0.3, 30, None),
    Key("point_sd", "-", 0.01, 1, POINT_SD),
    Key("gravity", "-", 0.98, 1.1, None),
    Key("sd", "pH or SG", 0.0001, 2, None),
    Key("degassed", default=True, kind="flag"),
)
CULTURE = (keys.VIGOUR, Key("spread", "-", 0.01, 1.5, 0.25), Key("bacteria_vigour", "-", 0.05, 5, None), Key("buffer", "-", -2, 2, 0.0), Key("covariance", default=(), kind="any"))
FORECAST_RECIPE = (
    Key("temperature_c", "degC", -10, 60, None, "course"),
    *keys.RECIPE,
    *keys.STARTER_IN,
    keys.DAYS,
    *HAPPENS,
)


def _observations(value: Any, usual: float) -> tuple[Observation, ...]:
    out = []
    for i, item in enumerate(keys.objects(value, "readings")):
        seen = read(READING, item, f"readings[{i}].")
        kinds = [kind for kind in ("ph", "ta_g_per_l", "taste", "gravity") if seen[kind] is not None]
        if len(kinds) != 1:
            raise CalcError(f"readings[{i}] must have one of ph, ta_g_per_l, taste or gravity.")
        kind = "ta" if kinds[0] == "ta_g_per_l" else kinds[0]
        out.append(
            Observation(
                seen["day"],
                kind,
                seen[kinds[0]],
                seen["instrument"],
                str(seen["taster"]),
                seen["point_g_per_l"] or usual,
                seen["point_sd"],
                seen["sd"],
                seen["degassed"],
            )
        )
    return tuple(out)


def _course_of(recipe: Mapping[str, Any], temperatures: Any, future_c: float) -> Course:
    points = keys.pairs(temperatures, "temperatures")
    if recipe["temperature_c"] is not None and not any(day == 0 for day, _ in points):
        points = tuple(sorted((recipe["temperature_c"][0], *points)))
    return Course(points, future_c)


def _covariance(found: Any) -> tuple[float, ...]:
    """Read the six numbers that tell how vigours and buffer are unsure together."""
    if found == ():
        return ()
    if not isinstance(found, list) or len(found) != 6:
        raise CalcError("culture.covariance must be a list of six numbers.")
    return tuple(keys.number(value, f"culture.covariance[{i}]", -4, 4) for i, value in enumerate(found))


def forecast_ask(ask: Mapping[str, Any]) -> ForecastAsk:
    """Turn a question into what the forecast depends on."""
    given = read(FORECAST_RECIPE, ask["recipe"], "recipe.")
    recipe = recipe_of(given)
    culture = read(CULTURE, ask["culture"], "culture.")
    both = culture["vigour"] * recipe.vigour
    if (ask["target_ph"] is None) == (ask["target_ta_g_per_l"] is None):
        raise CalcError("target_ph is missing (or give target_ta_g_per_l, not both).")
    point = ask["target_ta_g_per_l"] or usual_point(recipe.honey_share)
    return ForecastAsk(
        batch=batch_of(given, _course_of(given, ask["temperatures"], ask["future_c"]), "recipe."),
        observations=_observations(ask["readings"], usual_point(recipe.honey_share)),
        prior=Prior(
            both,
            (culture["bacteria_vigour"] or culture["vigour"]) * recipe.vigour,
            culture["spread"],
            culture["buffer"],
            _covariance(culture["covariance"]),
        ),
        points=(Point("", point),),
        target_ph=ask["target_ph"],
        days=ask["days"],
        warmth_sd_k=ask["warmth_sd_k"],
    )


def forecast_answer(ask: dict[str, Any]) -> Answer:
    """Answer what a forecast is asked, day by day."""
    out = forecast(forecast_ask(ask))
    daily = np.isclose(out.day % 1, 0)
    answer: dict[str, Any] = {"day": [int(day) for day in out.day[daily]]}
    for name in ("ph", "ta_g_per_l", "sugar_g_per_l", "abv_percent"):
        band: Band = getattr(out, name)
        answer[name] = {q: [float(v) for v in getattr(band, q)[daily]] for q in ("p10", "p50", "p90")}
    ready = out.target
    answer["ready_day"] = {"p10": ready.p10, "p50": ready.p50, "p90": ready.p90}
    answer["safe_by_day_7"] = out.safe_by_day_7
    return answer
