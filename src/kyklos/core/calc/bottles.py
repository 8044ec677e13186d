"""Calculations of bottles: the pressure in one, and what becomes of it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from .. import bottle
from ..batch import run
from ..temperature import Course
from . import keys
from .ferments import FERMENT, STATE, batch_of
from .keys import Key, read

PRESSURE = (
    Key("co2_volumes", "volumes", 0, 50),
    Key("temperature_c", "degC", -5, 60),
    Key("headspace_fraction", "-", 0.001, 0.9),
)
BOTTLE = (
    Key("start", kind="any"),
    Key("added_sugar_g_per_l", "g/L", 0, 200),
    Key("temperature_c", "degC", -10, 60, kind="course"),
    keys.HEADSPACE,
    keys.FLAVOUR,
    Key("limit_bar", "bar", 0.1, 20, None),
    Key("vigour", "-", 0.05, 5, None),
    Key("leaf_g_per_l", "g/L", 0, 40, None),
    Key("days", "d", 1, 400, 30, "whole"),
    Key("vigour_sd", "-", 0, 2, bottle.VIGOUR_SD),
    Key("brew_share", "-", 0, 1, 1.0),
    Key("doubt_k", default=(), kind="any"),
)


def pressure(ask: dict[str, Any]) -> dict[str, float]:
    """Answer the pressure of a closed bottle."""
    return {"gauge_bar": float(bottle.gauge_bar(ask["co2_volumes"], ask["temperature_c"], ask["headspace_fraction"]))}


_ROW_EXTRA = (Key("day", "d", 0, 1000, 0.0), Key("ph", "pH", 0, 14, None), Key("ta_g_per_l", "g/L", 0, 100, None))
_START_ROW = (*(Key(name, "-" if name.endswith("share") else "g/L", 0, 400) for name in STATE), *_ROW_EXTRA)


USUAL_LEAF = 6.0  #: Where the leaf feeds as usual. [g/L]


def _bottle_start(start: Any) -> tuple[tuple[float, ...], float, float]:
    """Read a start: a row of a ferment, or a recipe and a day. Gives state, vigour and leaf."""
    if isinstance(start, Mapping) and "recipe" in start:
        given = read((Key("recipe", kind="any"), Key("day", "d", 0, 200)), start, "start.")
        asked = read(FERMENT, given["recipe"], "start.recipe.")
        brew, day = batch_of(asked), given["day"]
        out = run(brew, max(1.0, day)).at([day])
        return tuple(float(v) for v in out.state[0, :, 0]), brew.recipe.vigour, brew.recipe.leaf_g_per_l
    row = read(_START_ROW, start, "start.")
    return (*(row[name] for name in STATE), 0.0), 1.0, USUAL_LEAF


def bottle_ask(ask: Mapping[str, Any]) -> bottle.BottleAsk:
    """Turn a question into what a bottle's forecast depends on."""
    start, vigour, leaf = _bottle_start(ask["start"])
    return bottle.BottleAsk(
        start=start,
        added_sugar_g_per_l=ask["added_sugar_g_per_l"],
        course=Course(ask["temperature_c"]),
        headspace_fraction=ask["headspace_fraction"],
        flavour=ask["flavour"],
        limit_bar=ask["limit_bar"],
        vigour=ask["vigour"] or vigour,
        leaf_g_per_l=leaf if ask["leaf_g_per_l"] is None else ask["leaf_g_per_l"],
        days=ask["days"],
        vigour_sd=ask["vigour_sd"],
        brew_share=ask["brew_share"],
        doubt_k=() if ask["doubt_k"] == () else keys.pairs(ask["doubt_k"], "doubt_k"),
    )


def bottled(ask: dict[str, Any]) -> dict[str, Any]:
    """Answer a bottle's future."""
    out = bottle.bottle_forecast(bottle_ask(ask))
    rows = [
        {
            "day": day,
            "co2_volumes": out.volumes_at(day),
            "gauge_bar": out.at(day)[1],
            "abv_percent": out.abv_at(day),
        }
        for day in range(ask["days"] + 1)
    ]
    return {
        "days": rows,
        "ceiling_bar": out.ceiling_bar,
        "chill_by_day": out.chill_by_day,
        "passes_limit_day": out.passes_limit_day,
    }
