"""What a brew costs: ingredients at the household's prices, by litre, by bottle, and against the shop."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..base import CoreError, require_between
from ..base.errors import UnknownNameError

#: Unit: what it measures, and how much of the base unit (g, mL or piece) it is.
UNITS: dict[str, tuple[str, float]] = {
    "g": ("mass", 1.0),
    "kg": ("mass", 1000.0),
    "oz": ("mass", 28.349523125),
    "lb": ("mass", 453.59237),
    "mL": ("volume", 1.0),
    "cL": ("volume", 10.0),
    "dL": ("volume", 100.0),
    "L": ("volume", 1000.0),
    "tsp": ("volume", 4.92892159),
    "tbsp": ("volume", 14.78676478),
    "fl_oz": ("volume", 29.5735295625),
    "cup": ("volume", 236.5882365),
    "qt": ("volume", 946.352946),
    "gal": ("volume", 3785.411784),
    "piece": ("number", 1.0),
    "bag": ("number", 1.0),
    "bottle": ("number", 1.0),
    "kWh": ("energy", 1.0),
}
_BY_LOWER = {name.lower(): name for name in UNITS}


def unit_named(name: str) -> str:
    """Find a unit, whatever its capitals.

    Raises:
        UnknownNameError: If there is none.
    """
    if name.lower() not in _BY_LOWER:
        raise UnknownNameError("unit", name, list(UNITS))
    return _BY_LOWER[name.lower()]


@dataclass(frozen=True, slots=True, kw_only=True)
class CostLine:
    """An amount of something, and its price for an amount."""

    amount: float
    unit: str
    price: float  #: Of `per_amount`. [the household's money]
    per_amount: float = 1.0
    per_unit: str

    @property
    def money(self) -> float:
        """What it costs.

        Raises:
            CoreError: If amount and price are given in units that cannot be compared.
        """
        (kind, size), (per_kind, per_size) = UNITS[unit_named(self.unit)], UNITS[unit_named(self.per_unit)]
        if kind != per_kind:
            raise CoreError(f"per_unit: a price by {self.per_unit} says nothing of an amount in {self.unit}.")
        return self.price * self.amount * size / (self.per_amount * per_size)


@dataclass(frozen=True, slots=True)
class Cost:
    """What a brew or bottle comes to. [the household's money]"""

    total: float
    per_litre: float
    per_bottle: float | None
    saved: float | None  #: Against the shop, for all the litres.


def cost(
    lines: Sequence[CostLine], litres: float, bottle_ml: float | None = None, shop_price: float | None = None
) -> Cost:
    """Add up what went in.

    Args:
        lines: Ingredients, and energy or bottles where wanted.
        litres: Harvested. [L]
        bottle_ml: A bottle's content, for the price of one. [mL]
        shop_price: Of one such bottle in the shop; of a litre when no bottle is given.

    >>> round(cost([CostLine(amount=200, unit="g", price=1.5, per_amount=1, per_unit="kg")], 3.0, 500, 2.0).per_bottle, 4)
    0.05
    """
    require_between(0.01, 1000, "L", litres=litres)
    total = sum(line.money for line in lines)
    per_litre = total / litres
    per_bottle = None if bottle_ml is None else per_litre * bottle_ml / 1000
    shop = None if shop_price is None else shop_price * (litres if bottle_ml is None else 1000 * litres / bottle_ml)
    return Cost(total, per_litre, per_bottle, None if shop is None else shop - total)
