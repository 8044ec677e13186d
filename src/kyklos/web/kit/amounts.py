"""How much of an ingredient, as people type it: 6 pieces, 1½ cm, 30 g, 1 oz, 2 tbsp, 60 g/L."""

from __future__ import annotations

import re

from ...core.bottles import Ingredient
from ...core.bottles.ingredients import in_measures
from . import units
from .acting import in_units

_ML = {"teaspoon": 5.0, "tablespoon": 15.0, "cup": 240.0, "ml": 1.0, "dash": 1.0, "pinch": 0.3}  #: Taken as 1 g/mL.
_SAME = {"tsp": "teaspoon", "tbsp": "tablespoon", "cm": "centimetre", "centimeter": "centimetre", "leaves": "leaf",
         "halves": "half", "pcs": "piece", "pc": "piece", "milliliter": "ml", "millilitre": "ml"}  # fmt: skip
_PARTS = re.compile(r"^\s*([\d.,/\s½¼¾⅓⅔⅛]+?)\s*([^\d\s½¼¾⅓⅔⅛].*)?$")


def unit_word(text: str) -> str:
    """Return a kitchen measure's own word: leaves are leaf, tbsp is tablespoon.

    >>> unit_word("Pieces"), unit_word("tbsp"), unit_word("leaves")
    ('piece', 'tablespoon', 'leaf')
    """
    word = text.strip().lower().rstrip(".")
    word = _SAME.get(word, word)
    return _SAME.get(word.rstrip("s"), word.rstrip("s")) if word.endswith("s") and word not in _ML else word


def read(text: str, ingredient: Ingredient | None, litres: float, household_units: str) -> float:
    """Read an amount for one bottle, or by the litre.

    Args:
        text: As typed; a number alone is by weight, in the household's unit.
        found: The ingredient, with its kitchen measures.
        litres: That the bottle holds. [L]
        household_units: metric or us.

    Returns: In the filled bottle. [g/L]

    Raises:
        NotANumberError: With a sentence.
    """
    found = _PARTS.match(text[:40])
    if not found:
        raise units.NotANumberError("How much? Like 30 g, 6 pieces or 1 tbsp.")
    unit = (found[2] or "").strip()
    word = unit_word(unit)
    weights = dict(ingredient.units) if ingredient is not None else {}
    per = weights.get(word, _ML.get(word))
    if per is not None:
        return units.parse(found[1], "number", household_units) * per / litres
    if "/" in unit:
        return units.parse(text, "strength", household_units)
    return units.parse(text, "mass", household_units) / litres


def by_the_litre(text: str) -> bool:
    """Return whether an amount is for a litre, whatever it goes into: 60 g/L, not 1/2 cup."""
    found = _PARTS.match(text[:40])
    return found is not None and "/" in (found[2] or "")


def weight(grams: float) -> str:
    """Return a weight in the household's unit; empty where it is too little for one. [g]"""
    said = in_units(grams, "mass")
    return "" if said.startswith("0 ") else said


def shown(ingredient: Ingredient | None, g_per_l: float, litres: float, household_units: str) -> str:
    """Write an amount for one bottle as it would be typed: in grams, or ounces."""
    grams = g_per_l * litres
    if ingredient is not None and grams < 3 and (measure := in_measures(ingredient, grams)) and "less" not in measure:
        return measure
    return f"{units.typed(grams, 'mass', household_units)} {units.SHOWN[units.TYPED[household_units]['mass']]}"
