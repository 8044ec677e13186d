"""Calculations of liquids: a first ferment with what happens to it, and a blend."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from ..liquid import Course, Liquid, batch, events, ferment
from ..liquid.acids import TeaAndWater, medium, starter_from_titration
from ..liquid.liquid import PARTS, blend, mature, mature_from_ph, sweet_tea
from . import keys
from .keys import CalcError, Key, read

Rows = list[dict[str, Any]]
STATE = (
    "sucrose_g_per_l",
    "monosaccharides_g_per_l",
    "ethanol_g_per_l",
    "acetic_g_per_l",
    "gluconic_g_per_l",
    "yeast_share",
    "bacteria_share",
)
HAPPENS = (
    Key("events", default=(), kind="any"),
    Key("volume_l", "L", 0.005, 1000, 3.8),
    Key("bacteria_staying", "-", 0, 1, batch.BACTERIA_STAYING),
    Key("yeast_staying", "-", 0, 1, batch.YEAST_STAYING),
)
FERMENT = (Key("temperature_c", "degC", -10, 60, kind="course"), *keys.RECIPE, *keys.STARTER_IN, keys.DAYS, *HAPPENS)
_EVENT = (
    Key("day", "d", 0, 1000),
    Key("draw_l", "L", 0, 1000, None),
    Key("top_up_l", "L", 0, 1000, None),
    Key("pour_l", "L", 0, 1000, None),
    Key("liquid", default=None, kind="any"),
    keys.TEA,
    keys.LEAF,
    keys.SUGAR,
    keys.HONEY_SHARE,
    keys.ALKALINITY,
)
_OF_TEA = ("tea", "leaf_g_per_l", "sugar_g_per_l", "honey_share", "alkalinity_meq_per_l")
BLEND = (Key("parts", kind="any"),)
_AMOUNTS = (
    "acetic_g_per_l",
    "gluconic_g_per_l",
    "tea_acid_mmol_per_l",
    "alkalinity_meq_per_l",
    "citric_mmol_per_l",
    "malic_mmol_per_l",
    "tartaric_mmol_per_l",
    "phosphate_mmol_per_l",
    "sugar_g_per_l",
    "ethanol_g_per_l",
)
_LITRES = Key("litres", "L", 0, 1000)
_COMPOSED = (
    _LITRES,
    Key("strong_ions_meq_per_l", "meq/L", -500, 1000, 0.0),
    *(Key(name, name.partition("_")[2], 0, 1000, 0.0) for name in _AMOUNTS),
)
_MEASURED = (
    _LITRES,
    Key("ph", "pH", 1.5, 11, None),
    Key("ta_g_per_l", "g/L", 0, 60, None),
    keys.TEA,
    keys.LEAF,
    keys.ALKALINITY,
    Key("sugar_g_per_l", "g/L", 0, 400, 0.0),
    Key("abv_percent", "% ABV", 0, 60, 0.0),
)


_WHOLE = tuple(
    Key(name, name.partition("_")[2] or "-", -500 if name == "strong_ions_meq_per_l" else 0, 1000, 0.0)
    for name in PARTS
)


def recipe_of(ask: Mapping[str, Any]) -> ferment.Recipe:
    """Make a recipe from read keys; others are left alone."""
    values = {key.name: ask[key.name] for key in keys.RECIPE if key.name in ask}
    return ferment.Recipe(**values, starter_in=starter_in(ask))


def starter_in(ask: Mapping[str, Any]) -> TeaAndWater | None:
    """Read the starter's own tea and water; what is not given is the brew's. None where nothing is given."""
    names = ("tea", "leaf_g_per_l", "alkalinity_meq_per_l")
    own = [ask.get(f"starter_{name}") for name in names]
    if own == [None, None, None]:
        return None
    tea, leaf, alkalinity = (ask[name] if mine is None else mine for name, mine in zip(names, own, strict=True))
    return TeaAndWater(tea, leaf, alkalinity)


def event_question(event: events.Event) -> dict[str, Any]:
    """Write an event of a batch as a question has it."""
    if isinstance(event, events.Draw):
        return {"day": event.day, "draw_l": event.litres}
    if isinstance(event, events.Pour):
        liquid = {name: getattr(event.liquid, name) for name in PARTS}
        return {"day": event.day, "pour_l": event.liquid.litres, "liquid": {k: v for k, v in liquid.items() if v}}
    raise CalcError("events: a question knows draws and what is poured in.")


def _event(value: Any, where: str) -> events.Event:
    """Read one event: a draw, or a topping up with sweet tea."""
    given = read(_EVENT, value, where)
    if sum(given[name] is not None for name in ("draw_l", "top_up_l", "pour_l")) != 1:
        raise CalcError(f"{where}draw_l or {where}top_up_l is missing; give one of them.")
    if given["pour_l"] is not None:
        whole = read(_WHOLE, given["liquid"], f"{where}liquid.")
        return events.Pour(given["day"], Liquid(litres=given["pour_l"], **whole))
    if given["draw_l"] is not None:
        odd = [name for name in _OF_TEA if isinstance(value, Mapping) and name in value]
        if odd:
            raise CalcError(f"{where}{odd[0]} belongs to a topping up, not to a draw.")
        return events.Draw(given["day"], given["draw_l"])
    tea, leaf, sugar, honey, alkalinity = (given[name] for name in _OF_TEA)
    made = sweet_tea(tea, leaf, sugar, honey_share=honey, alkalinity_meq_per_l=alkalinity, litres=given["top_up_l"])
    return events.Pour(given["day"], made)


def events_of(value: Any, where: str) -> tuple[events.Event, ...]:
    """Read a list of events."""
    if not isinstance(value, list | tuple):
        raise CalcError(f"{where}events must be a list of objects.")
    some = keys.objects(list(value), f"{where}events")
    return tuple(_event(one, f"{where}events[{i}].") for i, one in enumerate(some))


def batch_of(ask: Mapping[str, Any], course: Course | None = None, where: str = "") -> batch.Batch:
    """Make a batch from read keys; along a course of its own where one is given."""
    return batch.Batch(
        recipe=recipe_of(ask),
        course=Course(ask["temperature_c"]) if course is None else course,
        litres=ask["volume_l"],
        events=events_of(ask["events"], where),
        bacteria_staying=ask["bacteria_staying"],
        yeast_staying=ask["yeast_staying"],
    )


def ferment_rows(ask: dict[str, Any]) -> Rows:
    """Answer a first ferment day by day; a day's row stands after its events."""
    out = batch.run(batch_of(ask), ask["days"]).at(np.arange(ask["days"] + 1, dtype=float))
    return [
        {
            "day": int(day),
            **{name: float(out.state[i, j, 0]) for j, name in enumerate(STATE)},
            "ta_g_per_l": float(out.ta_g_per_l[i, 0]),
            "ph": float(out.ph[i, 0]),
        }
        for i, day in enumerate(out.day)
    ]


def _part(values: Mapping[str, Any], where: str) -> Liquid:
    """Read a part of a blend: composed, or measured in its own tea and water."""
    if "ph" not in values and "ta_g_per_l" not in values:
        given = read(_COMPOSED, values, where)
        sugar = given.pop("sugar_g_per_l")
        return Liquid(monosaccharides_g_per_l=sugar, **given)
    given = read(_MEASURED, values, where)
    if (given["ph"] is None) == (given["ta_g_per_l"] is None):
        raise CalcError(f"{where}ph and {where}ta_g_per_l: give one of them, not both.")
    tea, leaf, alkalinity = given["tea"], given["leaf_g_per_l"], given["alkalinity_meq_per_l"]
    if given["ph"] is not None:
        made = mature_from_ph(given["ph"], tea=tea, leaf_g_per_l=leaf, alkalinity_meq_per_l=alkalinity)
    else:
        stands_in = medium(tea, leaf, alkalinity)
        made = mature(starter_from_titration(given["ta_g_per_l"], stands_in), stands_in, leaf)
    return replace(
        made,
        litres=given["litres"],
        sucrose_g_per_l=0.0,
        monosaccharides_g_per_l=given["sugar_g_per_l"],
        ethanol_g_per_l=given["abv_percent"] * ferment.ABV_G_PER_L,
    )


def blended(ask: dict[str, Any]) -> dict[str, Any]:
    """Answer what liquids poured together come to."""
    objects = keys.objects(ask["parts"], "parts")
    mix = blend([_part(part, f"parts[{i}].") for i, part in enumerate(objects)])
    return {
        "ph": mix.ph,
        "ta_g_per_l": mix.ta_g_per_l,
        "sugar_g_per_l": mix.sugar_g_per_l,
        "abv_percent": mix.abv_percent,
        "litres": mix.litres,
    }
