"""Sweet tea: what goes into a vessel so that it ends at the fill line, and how strong it is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from .errors import require_between
from .facts import SWEETENERS, tea_named
from .ferment import HONEY_SUGARS, Recipe

SUGAR_ML_PER_G = 0.62  #: Volume that dissolved sugar takes. [mL/g]
HONEY_G_PER_ML = 1.42  #: Codex honey: at most 20 % water. [g/mL]
LEAF_KEEPS_ML_PER_G = 3.0  #: Water that wet leaf keeps. [mL/g]
CUP_ML = 236.588  #: US cup. [mL]
TABLESPOON_LEAF_G = 6.0  #: [g]
BAG_G = 2.0  #: [g]


def density(brix: float) -> float:
    """Density of sugar solution near 20 degC. [g/mL]

    Args:
        brix: Sugar by mass. [g/100 g]
    """
    return 0.99823 + 0.00386 * brix + 0.0000132 * brix**2


def brix(sugar_g_per_l: float) -> float:
    """Turn sugar into Brix. A refractometer misreads once alcohol and acids are present. [degBx]

    Args:
        sugar_g_per_l: Dissolved sugar. [g/L]

    >>> round(brix(60), 1)
    5.9
    """
    value = sugar_g_per_l / 10
    for _ in range(30):
        value = sugar_g_per_l / 10 / density(value)
    return value


def gravity(degrees_brix: float) -> float:
    """Turn Brix into specific gravity, 20/20 degC. [-]"""
    return density(degrees_brix) / density(0)


def brix_from_gravity(specific_gravity: float) -> float:
    """Turn specific gravity into Brix. [degBx]

    >>> round(brix_from_gravity(gravity(8.0)), 6)
    8.0
    """
    require_between(0.98, 1.2, "", specific_gravity=specific_gravity)
    low, high = -6.0, 50.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if gravity(middle) < specific_gravity else (low, middle)
    return (low + high) / 2


@dataclass(frozen=True, slots=True)
class Amounts:
    """What to put together; parts sum to the final volume."""

    final_l: float  #: [L]
    leaf_g: float  #: [g]
    sugar_g: float  #: Cane sugar. [g]
    honey_g: float  #: [g]
    starter_ml: float  #: [mL]
    tea_water_ml: float  #: Water to measure out, with what the leaf keeps. [mL]
    leaf_keeps_ml: float  #: Of that water, what leaves with the leaf. [mL]
    sweetener_ml: float  #: Room that sugar and honey take. [mL]
    start_brix: float  #: [degBx]
    start_gravity: float  #: [-]
    caffeine_mg_per_l: float  #: Of the finished drink (assumed). [mg/L]


def final_volume_l(usable_l: float, scoby_ml: float = 0.0, headspace_fraction: float = 0.0) -> float:
    """Say how much liquid fits.

    Args:
        usable_l: Vessel to its fill line. [L]
        scoby_ml: Room that discs take. [mL]
        headspace_fraction: Kept empty besides. [-]

    Returns: Liquid at the end, starter included. [L]
    """
    require_between(0.05, 500, "L", usable_l=usable_l)
    require_between(0, 0.9, "", headspace_fraction=headspace_fraction)
    require_between(0, 900 * usable_l, "mL", scoby_ml=scoby_ml)
    return max(usable_l * (1 - headspace_fraction) - scoby_ml / 1000, 0.01)


def amounts(recipe: Recipe, final_l: float) -> Amounts:
    """Scale a recipe to a volume.

    Args:
        recipe: Strengths are those of the sweet tea; the starter brings its own.
        final_l: Liquid at the end, starter included. [L]

    Returns: Grams and millilitres; starter + water - what leaf keeps + sweetener's room = final volume.
    """
    require_between(0.01, 500, "L", final_l=final_l)
    sweet_l = final_l * (1 - recipe.starter_fraction)
    leaf_g = recipe.leaf_g_per_l * sweet_l
    sugars = recipe.sugar_g_per_l * sweet_l
    sugar_g, honey_g = sugars * (1 - recipe.honey_share), sugars * recipe.honey_share / HONEY_SUGARS
    room = SUGAR_ML_PER_G * sugar_g + honey_g / HONEY_G_PER_ML
    keeps = LEAF_KEEPS_ML_PER_G * leaf_g
    degrees = brix(recipe.sugar_g_per_l * (1 - recipe.starter_fraction) + 35 * recipe.starter_fraction)
    return Amounts(
        final_l,
        leaf_g,
        sugar_g,
        honey_g,
        1000 * final_l * recipe.starter_fraction,
        max(0.0, 1000 * sweet_l - room + keeps),
        keeps,
        room,
        degrees,
        gravity(degrees),
        _caffeine(recipe),
    )


def _caffeine(recipe: Recipe) -> float:
    shares = ((recipe.tea, 1.0),) if isinstance(recipe.tea, str) else recipe.tea
    per_gram = sum(tea_named(name).caffeine_mg_per_g * share for name, share in shares)
    return per_gram * recipe.leaf_g_per_l


def _spoken(value: float, unit: str, part: int = 4) -> str:
    """Round to what a kitchen can measure, in parts of a unit.

    >>> _spoken(1.27, "cup")
    '1¼ cups'
    """
    marks = {0.0: "", 0.25: "¼", 0.5: "½", 0.75: "¾"}
    rounded = round(value * part) / part
    if rounded == 0:
        return f"under ¼ {unit}" if value > 0 else f"no {unit}"
    whole = int(rounded)
    text = (str(whole) if whole else "") + marks.get(rounded - whole, "")
    return f"{text} {unit}" + ("s" if rounded > 1 else "")


def household(made: Amounts) -> dict[str, Any]:
    """Say the amounts in cups, spoons and bags. Cups are US cups; all measures are per ingredient (typical)."""
    return {
        "sugar_cups": made.sugar_g / SWEETENERS["sugar"].g_per_cup,
        "honey_cups": made.honey_g / SWEETENERS["honey"].g_per_cup,
        "starter_cups": made.starter_ml / CUP_ML,
        "water_cups": made.tea_water_ml / CUP_ML,
        "leaf_tablespoons": made.leaf_g / TABLESPOON_LEAF_G,
        "leaf_bags": made.leaf_g / BAG_G,
    }


def household_words(made: Amounts) -> dict[str, str]:
    """Say the amounts as a kitchen would measure them."""
    measures = household(made)
    leaf = f"{_spoken(measures['leaf_tablespoons'], 'tablespoon', 2)} or {max(1, round(measures['leaf_bags']))} bags"
    return {
        "sugar": _spoken(measures["sugar_cups"], "cup"),
        "honey": _spoken(measures["honey_cups"], "cup"),
        "starter": _spoken(measures["starter_cups"], "cup"),
        "water": _spoken(measures["water_cups"], "cup"),
        "leaf": leaf,
    }
