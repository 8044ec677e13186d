"""Sweet tea: what goes into a vessel so that it ends at the fill line, and how strong it is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..base import CoreError, require_between
from ..base.errors import UnknownNameError
from ..base.facts import SWEETENERS, tea_named
from .ferment import Recipe

LEAF_KEEPS_ML_PER_G = 3.0  #: Water that wet leaf keeps. [mL/g]
CUP_ML = 236.588  #: US cup. [mL]
SPOONS_PER_CUP = 16  #: Level US tablespoons. [-]
TABLESPOON_LEAF_G = 6.0  #: Where a tea does not say its own. [g]
BAG_G = 2.0  #: [g]
Shares = tuple[tuple[str, float], ...]  #: Sweeteners by their share of the sugars; shares sum to 1.


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
    sweeteners: tuple[tuple[str, float], ...]  #: Every sweetener and its mass. [g]
    starter_ml: float  #: [mL]
    tea_water_ml: float  #: Water to measure out, with what the leaf keeps. [mL]
    leaf_keeps_ml: float  #: Of that water, what leaves with the leaf. [mL]
    sweetener_ml: float  #: Room that sugar and honey take. [mL]
    start_brix: float  #: [degBx]
    start_gravity: float  #: [-]
    caffeine_mg_per_l: float  #: Of the finished drink (assumed). [mg/L]


def final_volume_l(usable_l: float, scoby_ml: float = 0.0, headspace_fraction: float = 0.0) -> float:
    """Return how much liquid fits.

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


def honey_share(shares: Shares) -> float:
    """Return how much of a mixture's sugars comes from honey. [-]"""
    return sum(share for key, share in shares if SWEETENERS[key].honey)


def invert_share(shares: Shares) -> float:
    """Return how much of the sugars that are not honey's comes as glucose and fructose. [-]

    >>> round(invert_share((("sugar", 0.5), ("agave", 0.5))), 2)
    0.5
    """
    others = [(SWEETENERS[key].sucrose, share) for key, share in shares if not SWEETENERS[key].honey]
    total = sum(share for _, share in others)
    return sum((1 - sucrose) * share for sucrose, share in others) / total if total > 0 else 0.0


def check_shares(shares: Shares) -> None:
    """Refuse unknown sweeteners, and shares that do not sum to 1.

    Raises:
        CoreError: With a sentence.
    """
    for key, share in shares:
        if key not in SWEETENERS:
            raise UnknownNameError("sweetener", key, list(SWEETENERS))
        require_between(0, 1, "", share=share)
    if abs(sum(share for _, share in shares) - 1) > 1e-6:
        raise CoreError("sweeteners: the shares must sum to 1.")


def as_sugars(key: str, grams: float) -> float:
    """Turn a mass of a sweetener into its fermentable sugars. [g]

    >>> as_sugars("honey", 100.0)
    82.0
    """
    return grams * SWEETENERS[key].sugars


def equivalent(grams: float, of: str, wanted: str) -> float:
    """Return how much of one sweetener brings as much fermentable sugar as another. [g]

    >>> round(equivalent(200, "sugar", "honey"))
    244
    """
    return as_sugars(of, grams) / SWEETENERS[wanted].sugars


def amounts(recipe: Recipe, final_l: float, shares: Shares | None = None, vinegar_l: float = 0.0) -> Amounts:
    """Scale a recipe to a volume.

    Args:
        recipe: Strengths are those of the sweet tea; the starter brings its own.
        final_l: Liquid at the end, starter included. [L]
        shares: Sweeteners by their share of the sugars; white sugar and the recipe's honey unless given.
        vinegar_l: In it besides starter and sweet tea. [L]

    Returns: Grams and millilitres; starter + vinegar + water - what leaf keeps + sweetener's room = final volume.
    """
    require_between(0.01, 500, "L", final_l=final_l)
    require_between(0, 0.2 * final_l, "L", vinegar_l=vinegar_l)
    shares = (("sugar", 1 - recipe.honey_share), ("honey", recipe.honey_share)) if shares is None else shares
    check_shares(shares)
    sweet_l = max(0.0, final_l * (1 - recipe.starter_fraction) - vinegar_l)
    sugars = recipe.sugar_g_per_l * sweet_l
    grams = tuple((key, sugars * share / SWEETENERS[key].sugars) for key, share in shares if share > 0)
    room = sum(mass * SWEETENERS[key].room_ml_per_g for key, mass in grams)
    leaf_g = recipe.leaf_g_per_l * sweet_l
    keeps = LEAF_KEEPS_ML_PER_G * leaf_g
    degrees = brix(recipe.sugar_g_per_l * (1 - recipe.starter_fraction) + 35 * recipe.starter_fraction)
    return Amounts(
        final_l=final_l,
        leaf_g=leaf_g,
        sugar_g=sum(mass for key, mass in grams if not SWEETENERS[key].honey),
        honey_g=sum(mass for key, mass in grams if SWEETENERS[key].honey),
        sweeteners=grams,
        starter_ml=1000 * final_l * recipe.starter_fraction,
        tea_water_ml=max(0.0, 1000 * sweet_l - room + keeps),
        leaf_keeps_ml=keeps,
        sweetener_ml=room,
        start_brix=degrees,
        start_gravity=gravity(degrees),
        caffeine_mg_per_l=_caffeine(recipe),
    )


def _caffeine(recipe: Recipe) -> float:
    shares = ((recipe.tea, 1.0),) if isinstance(recipe.tea, str) else recipe.tea
    per_gram = sum(tea_named(name).caffeine_mg_per_g * share for name, share in shares)
    return per_gram * recipe.leaf_g_per_l


@dataclass(frozen=True, slots=True)
class KitchenAmount:
    """An amount as a kitchen measures it, and what rounding to it lost."""

    words: str
    grams: float  #: What those words weigh. [g]
    off_g: float  #: More (positive) or less than the plan. [g]


_MARKS = {0: "", 1: "¼", 2: "½", 3: "¾"}


def _counted(number: float, unit: str, step: float = 1.0) -> str:
    parts = round(number / step) * round(step * 4)
    text = (str(parts // 4) if parts >= 4 else "") + _MARKS[parts % 4]
    return f"{text or 'no'} {unit}{'s' if parts > 4 else ''}"


def in_cups(grams: float, g_per_cup: float) -> KitchenAmount:
    """Round a mass to quarter cups and half tablespoons, whichever fit best.

    Args:
        grams: Wanted. [g]
        g_per_cup: Of the ingredient. [g]

    >>> in_cups(187.0, 200.0).words
    '¾ cup and 3 tablespoons'
    """
    spoon = g_per_cup / SPOONS_PER_CUP
    quarters = int(grams / (g_per_cup / 4) + 1e-9)
    halves = round((grams - quarters * g_per_cup / 4) / spoon * 2)
    quarters, halves = (quarters + 1, 0) if halves >= 8 else (quarters, halves)
    parts = [_counted(quarters / 4, "cup", 0.25)] if quarters else []
    parts += [_counted(halves / 2, "tablespoon", 0.5)] if halves else []
    total = quarters * g_per_cup / 4 + halves * spoon / 2
    return KitchenAmount(" and ".join(parts) or f"less than {_counted(0.5, 'tablespoon', 0.5)}", total, total - grams)


def in_pieces(grams: float, g_each: float, word: str, step: float = 1.0) -> KitchenAmount:
    """Round a mass to whole (or half) spoons or bags, at least one.

    >>> in_pieces(13.0, 2.0, "bag").words
    '6 bags'
    """
    number = max(step, round(grams / g_each / step) * step) if grams > 0 else 0.0
    return KitchenAmount(_counted(number, word, step), number * g_each, number * g_each - grams)


def household(made: Amounts) -> dict[str, Any]:
    """Return the amounts in cups, spoons and bags. Cups are US cups; all measures are per ingredient (typical)."""
    return {
        "sugar_cups": made.sugar_g / SWEETENERS["sugar"].g_per_cup,
        "honey_cups": made.honey_g / SWEETENERS["honey"].g_per_cup,
        "starter_cups": made.starter_ml / CUP_ML,
        "water_cups": made.tea_water_ml / CUP_ML,
        "leaf_tablespoons": made.leaf_g / TABLESPOON_LEAF_G,
        "leaf_bags": made.leaf_g / BAG_G,
    }


def leaf_measures(made: Amounts, g_per_spoon: float, g_per_bag: float) -> tuple[KitchenAmount, KitchenAmount]:
    """Return the leaf in level tablespoons and in bags."""
    return in_pieces(made.leaf_g, g_per_spoon, "tablespoon", 0.5), in_pieces(made.leaf_g, g_per_bag, "bag")


def liquid_measure(millilitres: float) -> KitchenAmount:
    """Put a liquid into words, in US cups and tablespoons; its grams are millilitres."""
    return in_cups(millilitres, CUP_ML)
