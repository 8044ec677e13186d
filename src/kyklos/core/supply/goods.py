"""Things that are bought: teas, sweeteners, what flavours, and bottles, all alike to a price, a cupboard and a shopping list."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache

from ..base.errors import CoreError, UnknownNameError
from ..base.facts import BOTTLES, SWEETENERS, TEAS, Sweetener, Tea, table_of
from ..bottles.ingredients import INGREDIENTS, Ingredient
from .cost import UNITS, unit_named

CUP_ML = 236.5882365  #: A US cup. [mL]


class GoodKind(StrEnum):
    """What sort of thing is bought."""

    TEA = "tea"
    SWEETENER = "sweetener"
    INGREDIENT = "ingredient"
    BOTTLE = "bottle"
    SUPPLY = "supply"  #: Caps, rings, strips, buffers.
    OTHER = "other"  #: What the household bought by a name of its own; nothing uses it up by itself.


LASTING = frozenset({GoodKind.BOTTLE})  #: What lasts: its price is spread over its life.
KIND_NAMES: Mapping[GoodKind, str] = {
    GoodKind.TEA: "Tea",
    GoodKind.SWEETENER: "Sugar and honey",
    GoodKind.INGREDIENT: "Flavours",
    GoodKind.BOTTLE: "Bottles",
    GoodKind.SUPPLY: "Caps, strips and the like",
    GoodKind.OTHER: "Everything else",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyItem:
    """What is bought besides tea, sweetener, fruit and bottles."""

    key: str
    name: str
    pack: float  #: So many a shop usually sells together (assumed).


SUPPLIES: Mapping[str, SupplyItem] = table_of("supplies", SupplyItem)


@dataclass(frozen=True, slots=True, kw_only=True)
class Good:
    """A thing that is bought, counted in grams or in pieces."""

    kind: GoodKind
    key: str
    name: str
    by_piece: bool = False  #: Counted, not weighed.
    g_per_ml: float | None = None  #: Of a cup of it; None: it is not measured by volume. [g/mL]
    piece_g: Mapping[str, float]  #: What one of a kitchen measure weighs, such as a bag or a piece. [g]

    def amount_of(self, amount: float, unit: str) -> float:
        """Return so much of it in grams, or in pieces where it is counted.

        Args:
            amount: How much.
            unit: One of `cost.UNITS`, or a kitchen measure of its own.

        Raises:
            CoreError: If it cannot be measured so.
            UnknownNameError: If nobody knows the unit.

        >>> good(GoodKind.TEA, "black").amount_of(20, "bag"), good(GoodKind.SWEETENER, "sugar").amount_of(1, "kg")
        (40, 1000.0)
        """
        if unit in self.piece_g:
            return amount * self.piece_g[unit]
        dimension, size = UNITS[unit_named(unit)]
        if self.by_piece and dimension == "number":
            return amount * size
        if not self.by_piece and dimension == "mass":
            return amount * size
        if not self.by_piece and dimension == "volume" and self.g_per_ml is not None:
            return amount * size * self.g_per_ml
        raise CoreError(f"unit: {self.name} is not measured in {unit}.")


def of_tea(tea: Tea) -> Good:
    """Return a tea as a thing that is bought: by weight, by the bag or by the spoon."""
    return Good(kind=GoodKind.TEA, key=tea.key, name=tea.name, piece_g={"bag": tea.g_per_bag, "spoon": tea.g_per_spoon})


def of_sweetener(sweet: Sweetener) -> Good:
    """Return a sugar, syrup or honey as a thing that is bought: by weight or by volume."""
    thick = sweet.g_per_ml if sweet.g_per_ml is not None else sweet.g_per_cup / CUP_ML
    return Good(kind=GoodKind.SWEETENER, key=sweet.key, name=sweet.name, g_per_ml=thick, piece_g={})


def of_ingredient(one: Ingredient) -> Good:
    """Return what flavours as a thing that is bought: by weight or by its kitchen measures."""
    return Good(kind=GoodKind.INGREDIENT, key=one.key, name=one.name, piece_g=dict(one.units))


def of_own_name(name: str) -> Good:
    """Return a thing that only the household knows, counted by the piece."""
    return Good(kind=GoodKind.OTHER, key=name, name=name, by_piece=True, piece_g={})


@cache
def goods() -> tuple[Good, ...]:
    """List all that Kyklos knows to be bought, by kind and name."""
    supplies = [Good(kind=GoodKind.SUPPLY, key=one.key, name=one.name, by_piece=True, piece_g={}) for one in SUPPLIES.values()]
    bottles = [Good(kind=GoodKind.BOTTLE, key=one.key, name=one.name, by_piece=True, piece_g={}) for one in BOTTLES.values()]
    found = [*map(of_tea, TEAS.values()), *map(of_sweetener, SWEETENERS.values()), *map(of_ingredient, INGREDIENTS.values()), *bottles, *supplies]
    return tuple(sorted(found, key=lambda one: (list(GoodKind).index(one.kind), one.name)))


def good(kind: GoodKind, key: str) -> Good:
    """Find a thing that is bought.

    Raises:
        UnknownNameError: If there is none of that kind and key.
    """
    if kind is GoodKind.OTHER:
        return of_own_name(key)
    there = {one.key: one for one in goods() if one.kind is kind}
    if key not in there:
        raise UnknownNameError(kind, key, list(there))
    return there[key]
