"""The calculations that `kyklos calc` and every *why?* call."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base import CoreError, limit
from ..brewing import starters
from ..forecast.ask import TA_SD
from ..liquid import acids, heat, sweet_tea
from ..supply import CostLine
from ..supply.cost import UNITS, cost
from . import keys
from .bottles import BOTTLE, FLAVOUR, PRESSURE, bottled, flavoured, pressure
from .comparisons import COMPARE, TRIANGLE, compared, told_apart
from .ferments import BLEND, FERMENT, blended, ferment_rows, recipe_of, starter_in
from .forecasts import Answer, forecast_answer
from .judgement import JUDGE, judged
from .keys import CalcError, Key, read
from .measured import CALIBRATE, calibrated
from .supplies import DEMAND, SUPPLY, demanded, supplied
from .vessels import CONTINUOUS, tapped


@dataclass(frozen=True, slots=True)
class Calculation:
    """A question the core answers."""

    name: str
    says: str
    keys: tuple[Key, ...]
    compute: Callable[[dict[str, Any]], Answer]


def _medium(ask: Mapping[str, Any]) -> acids.Medium:
    return acids.medium(ask["tea"], ask["leaf_g_per_l"], ask["alkalinity_meq_per_l"])


def _start_ph(ask: dict[str, Any]) -> Answer:
    where, own, share = _medium(ask), _brewed_with(ask).medium, ask["starter_fraction"]
    starter = acids.starter_from_ph(ask["starter_ph"], own)
    return {"start_ph": acids.start_ph(starter, share, acids.mixed_medium(where, own, share), ask["honey_g_per_l"])}


def _brewed_with(ask: Mapping[str, Any]) -> acids.TeaAndWater:
    """Return the starter's own tea and water: the brew's, unless given."""
    brew = acids.TeaAndWater(ask["tea"], ask["leaf_g_per_l"], ask["alkalinity_meq_per_l"])
    return starter_in(ask) or brew


def _starter(ask: dict[str, Any]) -> Answer:
    where, own = _medium(ask), _brewed_with(ask)
    ph, ta, sd = ask["starter_ph"], ask["starter_ta_g_per_l"], ask["starter_ph_sd"]
    if (ph is None) == (ta is None):
        raise CalcError("starter_ph or starter_ta_g_per_l is missing; give one of them.")
    if ta is not None:
        starter = acids.starter_from_titration(keys.number(ta, "starter_ta_g_per_l", 0, 60), own.medium)
        weaker = acids.starter_from_titration(ta * (1 - acids.SAFE_DEVIATIONS * TA_SD), own.medium)
    else:
        measured = keys.number(ph, "starter_ph", 1.5, 7)
        starter = acids.starter_from_ph(measured, own.medium)
        weaker = acids.starter_from_ph(measured + acids.SAFE_DEVIATIONS * sd, own.medium)
    need = starters.starter_needed(starter, weaker, ask["target_ph"], where, own, honey_g_per_l=ask["honey_g_per_l"], measured=ask["measured"])
    return {
        "starter_fraction": need.likely,
        "starter_fraction_safe": need.safe,
        "starter_fraction_advised": need.advised,
        "reachable": need.likely is not None,
    }


def _titration(ask: dict[str, Any]) -> Answer:
    return {"ta_g_per_l": acids.titration(**ask)}


def _recipe(ask: dict[str, Any]) -> Answer:
    made = sweet_tea.amounts(
        recipe_of(ask), sweet_tea.final_volume_l(ask["usable_l"], ask["scoby_ml"], ask["headspace_fraction"])
    )
    return {
        "leaf_g": made.leaf_g,
        "sugar_g": made.sugar_g,
        "honey_g": made.honey_g,
        "starter_ml": made.starter_ml,
        "tea_water_ml": made.tea_water_ml,
        "final_l": made.final_l,
        "household": sweet_tea.household(made),
        "start_brix": made.start_brix,
        "start_gravity": made.start_gravity,
    }


_PART = (Key("litres", "L", 0, 1000), Key("celsius", "degC", -5, 110))


def _mix_temperature(ask: dict[str, Any]) -> Answer:
    parts = [read(_PART, part, f"parts[{i}].") for i, part in enumerate(keys.objects(ask["parts"], "parts"))]
    return {"celsius": heat.mix_temperature([(part["litres"], part["celsius"]) for part in parts])}


def _heat_plan(ask: dict[str, Any]) -> Answer:
    plan = heat.heat_plan(**ask)
    return {"hot_l": plan.hot_l, "cold_l": plan.cold_l, "final_c": plan.final_c, "wait_hours": plan.wait_hours}


def _cooling(ask: dict[str, Any]) -> Answer:
    hours = heat.cooling_hours(**ask)
    if hours is None:
        raise CalcError("target_c lies at or below ambient_c; it would never cool to it.")
    return {"hours": hours}


_T = ("degC", -10, 105)
_COST_LINE = (
    Key("amount", "-", 0, 1e6),
    Key("unit", default=keys.REQUIRED, kind="unit"),
    Key("price", "money", 0, 1e6),
    Key("per_amount", "-", 1e-6, 1e6),
    Key("per_unit", default=keys.REQUIRED, kind="unit"),
)


def _cost(ask: dict[str, Any]) -> Answer:
    lines = []
    for i, line in enumerate(keys.objects(ask["lines"], "lines")):
        given = read(_COST_LINE, line, f"lines[{i}].")
        lines.append(CostLine(**given))
        try:
            _ = lines[-1].money
        except CoreError as problem:
            raise CalcError(f"lines[{i}].{problem}") from problem
    out = cost(lines, ask["litres"], ask["bottle_ml"], ask["shop_price"])
    return {"total": out.total, "per_litre": out.per_litre, "per_bottle": out.per_bottle, "saved": out.saved}


CALCULATIONS: dict[str, Calculation] = {
    c.name: c
    for c in (
        Calculation(
            "start-ph",
            "pH of sweet tea with starter in it",
            (
                Key("starter_ph", "pH", 1.5, 7),
                Key("starter_fraction", "-", 0, 1),
                keys.TEA,
                keys.LEAF,
                keys.ALKALINITY,
                keys.HONEY,
                *keys.STARTER_IN,
            ),
            _start_ph,
        ),
        Calculation(
            "starter",
            "share of starter that a brew needs",
            (
                Key("starter_ph", "pH", 1.5, 7, None),
                Key("starter_ta_g_per_l", "g/L", 0, 60, None),
                Key("target_ph", "pH", 2, 7),
                Key("starter_ph_sd", "pH", 0, 2, 0.1),
                Key("measured", default=True, kind="flag"),
                keys.TEA,
                keys.LEAF,
                keys.ALKALINITY,
                keys.HONEY,
                *keys.STARTER_IN,
            ),
            _starter,
        ),
        Calculation(
            "titration",
            "titratable acidity from a titration",
            (
                Key("base_ml", "mL", 0, 1000),
                Key("base_normality", "mol/L", 1e-4, 10),
                Key("sample_ml", "mL", 1e-3, 10000),
            ),
            _titration,
        ),
        Calculation(
            "recipe",
            "amounts for a vessel",
            (
                Key("usable_l", "L", 0.05, 500),
                keys.FRACTION,
                Key("scoby_ml", "mL", 0, 450000, 0.0),
                keys.HEADSPACE,
                keys.TEA,
                keys.LEAF,
                keys.SUGAR,
                keys.HONEY_SHARE,
            ),
            _recipe,
        ),
        Calculation(
            "mix-temperature", "temperature of liquids poured together", (Key("parts", kind="any"),), _mix_temperature
        ),
        Calculation(
            "heat-plan",
            "how much to heat so that the mix lands at the pitch target",
            (
                Key("final_l", "L", 0.05, 500),
                Key("starter_l", "L", 0, 500),
                Key("starter_c", *_T),
                Key("hot_c", *_T),
                Key("cold_c", *_T),
                Key("target_c", *_T),
                Key("leaf_g", "g", 0, 20000, 0.0),
                Key("ambient_c", *_T, 21.0),
                Key("area_m2", "m2", 0.001, 20, None),
                Key("u_w_per_m2k", "W/(m2 K)", 0.5, 5000, heat.ROOM_AIR_U),
            ),
            _heat_plan,
        ),
        Calculation(
            "cooling",
            "time to cool",
            (
                Key("litres", "L", 0.01, 1000),
                Key("area_m2", "m2", 0.001, 20),
                Key("u_w_per_m2k", "W/(m2 K)", 0.5, 5000),
                Key("start_c", *_T),
                Key("ambient_c", *_T),
                Key("target_c", *_T),
            ),
            _cooling,
        ),
        Calculation("ferment", "a first ferment day by day, with what happens to it", FERMENT, ferment_rows),
        Calculation("blend", "liquids poured together", BLEND, blended),
        Calculation(
            "forecast",
            "a brew's future from its readings",
            (
                Key("recipe", kind="any"),
                Key("temperatures", kind="any"),
                Key("future_c", "degC", -10, 60),
                Key("readings", kind="any"),
                Key("target_ph", "pH", 2, 6, None),
                Key("target_ta_g_per_l", "g/L", 0.3, 30, None),
                Key("culture", default={}, kind="any"),
                Key("days", "d", 2, 200, 30, "whole"),
                Key("warmth_sd_k", "K", 0, 10, None),
            ),
            forecast_answer,
        ),
        Calculation("pressure", "gauge pressure of a closed bottle", PRESSURE, pressure),
        Calculation("bottle", "a bottle's future", BOTTLE, bottled),
        Calculation("flavour", "a brew with its flavour in: what it is, and what becomes of it in the bottle", FLAVOUR, flavoured),
        Calculation("continuous", "a tapped vessel: where it settles and how much it can give", CONTINUOUS, tapped),
        Calculation("demand", "how much is drunk a week, and how long what stands lasts", DEMAND, demanded),
        Calculation("supply", "what each vessel does so that there is enough, with the least work", SUPPLY, supplied),
        Calculation("compare", "whether two sets of scores differ, and how many more would tell", COMPARE, compared),
        Calculation("triangle", "whether the odd one of three glasses is told apart", TRIANGLE, told_apart),
        Calculation("calibrate", "a pH meter by its buffers: slope, offset, what it is worth, and a reading put right", CALIBRATE, calibrated),
        Calculation("judge", "whether a brew is all right, and may be bottled", JUDGE, judged),
        Calculation(
            "cost",
            "what a brew costs, by litre and by bottle, and against the shop",
            (
                Key("lines", kind="lines"),
                Key("litres", "L", 0.01, 1000),
                Key("bottle_ml", "mL", 10, 20000, None),
                Key("shop_price", "money", 0, 1e6, None),
            ),
            _cost,
        ),
    )
}


def answer(name: str, question: Any) -> Any:
    """Answer one question, or a list of them.

    Args:
        name: Of the calculation.
        question: One object, or a list of objects.

    Raises:
        CalcError: With one sentence that names the key.

    >>> answer("pressure", {"co2_volumes": 1, "temperature_c": 4, "headspace_fraction": 0.03})["gauge_bar"] < 0.71
    True
    """
    if name not in CALCULATIONS:
        raise CalcError(f"{name} is not a calculation; known are {', '.join(CALCULATIONS)}, list.")
    if isinstance(question, list):
        return [answer(name, one) for one in question]
    calculation = CALCULATIONS[name]
    try:
        return calculation.compute(read(calculation.keys, question))
    except CalcError:
        raise
    except CoreError as problem:
        raise CalcError(str(problem)) from problem


def listing() -> dict[str, Any]:
    """List the calculations with their keys, units, defaults and ranges, and the names that keys take."""
    from ..base.facts import BOTTLES, INSTRUMENTS, LIMITS, TEAS
    from ..bottles.ingredients import FORMS, INGREDIENTS
    from ..judging.observations import of_group

    def one(key: Key) -> dict[str, Any]:
        values: dict[str, Any] = {"unit": key.unit, "required": key.required}
        if not key.required:
            values["default"] = key.default.key if key.kind == "flavour" else key.default
        if key.kind in {"number", "whole", "course"}:
            values |= {"low": key.low, "high": key.high if np.isfinite(key.high) else None}
        return values

    return {
        "calculations": {
            c.name: {"says": c.says, "keys": {k.name: one(k) for k in c.keys}} for c in CALCULATIONS.values()
        },
        "teas": list(TEAS),
        "flavours": list(INGREDIENTS),
        "forms": list(FORMS),
        "instruments": list(INSTRUMENTS),
        "bottles": list(BOTTLES),
        **{f"{name}s": [seen.key for seen in of_group(name)] for name in ("surface", "sign", "smell")},
        "units": list(UNITS),
        "limits": {key: {"value": entry.value, "unit": entry.unit} for key, entry in LIMITS.items()},
        "chill_share": limit("chill_share"),
    }
