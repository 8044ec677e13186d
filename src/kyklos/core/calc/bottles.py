"""Calculations of bottles: the pressure in one, and what becomes of it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..bottles import Part, bottle, flavouring, gas
from ..liquid import Course, Liquid, run
from ..liquid.acids import medium
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
    keys.FORM,
    Key("limit_bar", "bar", 0.1, 20, None),
    Key("vigour", "-", 0.05, 5, None),
    Key("leaf_g_per_l", "g/L", 0, 40, None),
    Key("days", "d", 1, 400, 30, "whole"),
    Key("vigour_sd", "-", 0, 2, bottle.VIGOUR_SD),
    Key("brew_share", "-", 0, 1, 1.0),
    Key("doubt_k", default=(), kind="any"),
    Key("warmer_k", default=(), kind="any"),
    Key("added_ethanol_g_per_l", "g/L", 0, 200, 0.0),
    keys.POUR_YEAST,
    Key("volumes_at_filling", "volumes", 0, 2, bottle.VOLUMES_AT_FILLING),
    Key("burps", default=(), kind="any"),
)
_ADDITION = (Key("flavour", kind="flavour"), Key("g_per_l", "g/L", 0, 700), keys.FORM)
FLAVOUR = (
    Key("state", kind="any"),
    Key("additions", kind="any"),
    Key("temperature_c", "degC", -10, 60, kind="course"),
    Key("headspace_fraction", "-", 0.001, 0.9),
    Key("priming_g_per_l", "g/L", 0, 200, 0.0),
    keys.POUR_YEAST,
    keys.TEA,
    keys.LEAF,
    keys.ALKALINITY,
    Key("limit_bar", "bar", 0.1, 20, None),
    Key("days", "d", 1, 400, 7, "whole"),
    keys.VIGOUR,
)


def pressure(ask: dict[str, Any]) -> dict[str, float]:
    """Answer the pressure of a closed bottle."""
    return {"gauge_bar": float(gas.gauge_bar(ask["co2_volumes"], ask["temperature_c"], ask["headspace_fraction"]))}


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
        form=ask["form"] or ask["flavour"].form,
        limit_bar=ask["limit_bar"],
        vigour=ask["vigour"] or vigour,
        leaf_g_per_l=leaf if ask["leaf_g_per_l"] is None else ask["leaf_g_per_l"],
        days=ask["days"],
        vigour_sd=ask["vigour_sd"],
        brew_share=ask["brew_share"],
        doubt_k=() if ask["doubt_k"] == () else keys.pairs(ask["doubt_k"], "doubt_k"),
        warmer_k=() if ask["warmer_k"] == () else keys.pairs(ask["warmer_k"], "warmer_k"),
        added_ethanol_g_per_l=ask["added_ethanol_g_per_l"],
        pour_yeast=ask["pour_yeast_factor"],
        volumes=ask["volumes_at_filling"],
        burps=tuple(sorted(keys.number(day, f"burps[{i}]", 0, 400) for i, day in enumerate(_list(ask["burps"], "burps")))),
    )


def _list(value: Any, name: str) -> list[Any]:
    """Read a list."""
    if not isinstance(value, list | tuple):
        raise keys.CalcError(f"{name} must be a list.")
    return list(value)


def _state(value: Any) -> dict[str, float]:
    """Read a state that may leave out its bacteria: a bottle has no air for them."""
    known = (
        *(Key(name, "-" if name.endswith("share") else "g/L", 0, 400) for name in STATE if name != "bacteria_share"),
        Key("bacteria_share", "-", 0, 400, 0.0),
        *_ROW_EXTRA,
    )
    row = read(known, value, "state.")
    return {name: row[name] for name in STATE}


def _parts(value: Any) -> list[Part]:
    out = []
    for i, one in enumerate(keys.objects(value, "additions")):
        row = read(_ADDITION, one, f"additions[{i}].")
        out.append(Part(row["flavour"], row["g_per_l"], row["form"] or ""))
    return out


def flavoured(ask: dict[str, Any]) -> dict[str, Any]:
    """Answer what a brew is with its flavour in, and what becomes of it in the bottle."""
    state, parts = _state(ask["state"]), _parts(ask["additions"])
    where = medium(ask["tea"], ask["leaf_g_per_l"], ask["alkalinity_meq_per_l"])
    plain = Liquid(
        **state,
        leaf_g_per_l=ask["leaf_g_per_l"],
        tea_acid_mmol_per_l=where.tea_acid_mmol_per_l,
        strong_ions_meq_per_l=where.strong_ions_meq_per_l,
        alkalinity_meq_per_l=where.alkalinity_meq_per_l,
    )
    mixed = flavouring.flavoured(plain, parts, ask["priming_g_per_l"])
    out = bottle.bottle_forecast(
        bottle.BottleAsk(
            start=(*state.values(), 0.0),
            added_sugar_g_per_l=flavouring.added_sugar(parts, ask["priming_g_per_l"]),
            added_ethanol_g_per_l=flavouring.added_ethanol(parts),
            course=Course(ask["temperature_c"]),
            headspace_fraction=ask["headspace_fraction"],
            form=flavouring.driving_form(parts),
            limit_bar=ask["limit_bar"],
            vigour=ask["vigour"],
            leaf_g_per_l=ask["leaf_g_per_l"],
            days=ask["days"],
            brew_share=1 - flavouring.room(parts),
            pour_yeast=ask["pour_yeast_factor"],
        )
    )
    return {
        "ph": mixed.ph,
        "ta_g_per_l": mixed.ta_g_per_l,
        "sugar_g_per_l": mixed.sugar_g_per_l,
        "added_sugar_g_per_l": flavouring.added_sugar(parts, ask["priming_g_per_l"]),
        "abv_at_filling": mixed.abv_percent,
        "close_for_fizz": flavouring.may_close(plain.ph, mixed.ph, parts),
        "days": [
            {
                "day": day,
                "co2_volumes": out.volumes_at(day),
                "gauge_bar": out.at(day)[1],
                "gauge_bar_at_25c": float(gas.gauge_bar(out.volumes_at(day), bottle.WARM_C, ask["headspace_fraction"])),
                "abv_percent": out.abv_at(day),
            }
            for day in range(ask["days"] + 1)
        ],
        "chill_by_day": out.chill_by_day,
        "passes_limit_day": out.passes_limit_day,
    }


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
