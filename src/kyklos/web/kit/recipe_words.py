"""A recipe in words: what it is made of, and what goes into a vessel."""

from __future__ import annotations

from ...core.base.facts import SWEETENERS
from ...core.brewing import KINDS, SCHOOLS, RecipeCard
from ...core.brewing.kinds import FLOORS
from ...core.liquid import Recipe, sweet_tea, teas
from .acting import in_units

LITRE_SHARE = 0.12  #: Of starter, where a recipe leaves it to the plan. [-]


def lines(card: RecipeCard) -> list[tuple[str, str]]:
    """Put a recipe into words, line by line."""
    sweet = ", ".join(
        SWEETENERS[key].name.lower() + (f" {100 * share:.0f} %" if share < 0.995 else "")
        for key, share in card.sweeteners
    )
    rows = [
        ("Begins", KINDS[card.kind].name),
        ("Tea", teas.name_of(card.tea)),
        ("Leaf", in_units(card.leaf_g_per_l, "strength")),
        ("Sweetener", sweet),
        ("Sugars", in_units(card.sugar_g_per_l, "strength")),
        ("Steep", f"{card.steeps_minutes:g} min at {in_units(card.on_leaf_c, 'temperature')}"),
        ("Heat", SCHOOLS["heat_method"].ways[card.heat_method][0].lower()),
        ("Starter", "as advised" if card.share is None else f"{100 * card.share:.0f} %"),
        ("Least starter", SCHOOLS["floor"].ways[card.floor][0].lower()),
        ("Water", f"alkalinity {card.water.alkalinity_meq_per_l:g} meq/L"),
    ]
    return rows + ([("Base", card.base)] if card.base else [])


def scaled(card: RecipeCard, litres: float) -> list[tuple[str, str]]:
    """Return what goes into a vessel of so many litres."""
    share = card.share or max(LITRE_SHARE, FLOORS[card.floor])
    recipe = Recipe(
        tea=card.tea,
        leaf_g_per_l=card.leaf_g_per_l,
        sugar_g_per_l=card.sugar_g_per_l,
        honey_share=card.honey_share,
        starter_fraction=share,
    )
    made = sweet_tea.amounts(recipe, litres, card.sweeteners)
    rows = [("Leaf", in_units(made.leaf_g, "mass"))]
    rows += [(SWEETENERS[key].name, in_units(grams, "mass")) for key, grams in made.sweeteners]
    return [
        *rows,
        ("Starter", in_units(made.starter_ml / 1000, "volume")),
        ("Water", in_units(made.tea_water_ml / 1000, "volume")),
    ]
