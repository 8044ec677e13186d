"""How much is drunk, and how much to brew, as `kyklos calc` asks."""

from __future__ import annotations

from typing import Any

from ..supply.demand import pace
from ..supply.plan import BatchVessel, TappedVessel, choose
from . import keys
from .forecasts import Answer
from .keys import CalcError, Key, read

_DRINK = (Key("days_ago", "d", 0, 40_000), Key("litres", "L", 0, 1000))
DEMAND = (Key("drunk", kind="any"), Key("stock_l", "L", 0, 100_000))
_KINDS = ("batch", "tapped")
_NAME = (Key("name", kind="any"), Key("kind", kind="choice", choices=_KINDS))
_BATCH = (
    *_NAME,
    Key("litres", "L", 0.01, 10_000),
    Key("ready_days", "d", 0, 1000),
    Key("last_day", "d", 0, 1000),
    Key("turn_round_days", "d", 0, 365),
    Key("starter_share", "-", 0, 1),
    Key("loss_share", "-", 0, 1),
)
_TAPPED = (*_NAME, Key("litres", "L", 0.01, 10_000), Key("loss_share", "-", 0, 1), Key("draws", kind="any"))
_DRAW = (Key("every_days", "d", 0.1, 365), Key("share", "-", 0, 1))
SUPPLY = (Key("demand_l_per_week", "L/week", 0, 10_000), Key("vessels", kind="any"))


def demanded(ask: dict[str, Any]) -> Answer:
    """Answer how much is drunk, and how long the stock lasts."""
    drinks = [read(_DRINK, one, f"drunk[{i}].") for i, one in enumerate(keys.objects(ask["drunk"], "drunk"))]
    found = pace([(one["days_ago"], one["litres"]) for one in drinks])
    lasts = found.lasts_days(ask["stock_l"])[1]
    return {"litres_per_week": found.litres_a_week, "low": found.low, "high": found.high, "lasts_days": lasts}


def supplied(ask: dict[str, Any]) -> Answer:
    """Answer what each vessel does."""
    vessels = [_vessel(one, f"vessels[{i}].") for i, one in enumerate(keys.objects(ask["vessels"], "vessels"))]
    found = choose(vessels, ask["demand_l_per_week"])
    rows = [
        {"name": vessel.name, "every_days": one.every_days, "share": one.share, "litres_per_week": one.litres_a_week}
        for vessel, one in zip(vessels, found.choices, strict=True)
    ]
    return {"plan": rows, "litres_per_week": found.litres_a_week, "effort_per_week": found.effort, "enough": found.enough}


def _vessel(given: Any, at: str) -> BatchVessel | TappedVessel:
    kind = keys.choice(given.get("kind"), f"{at}kind", _KINDS)
    facts = read(_BATCH if kind == "batch" else _TAPPED, given, at)
    if not isinstance(facts["name"], str):
        raise CalcError(f"{at}name must be a name.")
    facts.pop("kind")
    if kind == "batch":
        return BatchVessel(**facts)
    draws = [read(_DRAW, one, f"{at}draws[{i}].") for i, one in enumerate(keys.objects(facts.pop("draws"), f"{at}draws"))]
    return TappedVessel(draws=tuple((one["every_days"], one["share"]) for one in draws), **facts)
