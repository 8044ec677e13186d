"""What a plan form shows at first: as last time, as the culture likes it, or as a kept recipe says."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from flask import g, request

from ....core.base.kinds import Diet, Dimension, KindOfBrew, Origin
from ....core.brewing import RecipeCard
from ....core.brewing.measures import DryAmount
from ....core.liquid import teas
from ....reckon.brewing import brew_days
from ....store.read import culture_queries, planning_queries, queries
from ....store.read.documents import card_of
from ....store.records import Brew, Culture, Experiment, KeptRecipe, StarterLot, Vessel
from ...kit import units
from ...kit.numbers import number_of
from ...kit.words import ph_word
from .forms import PlanForm


def lot_words(lot: StarterLot) -> str:
    """Name a starter."""
    acid = (
        f", {ph_word(lot.ph, lot.instrument)}" if lot.ph is not None else f", about pH {lot.estimated_ph:.1f}" if lot.estimated_ph else ""
    )
    source = f" from {lot.source_brew.vessel.name}" if lot.source_brew else ""
    doubt = f", in doubt: {lot.doubt}" if lot.doubt else ""
    return f"{lot.culture.name}, {units.words(lot.left_l, 'volume', g.units)}{acid}{source}{doubt}"


def typed_card(card: RecipeCard) -> dict[str, Any]:
    """Put a card into the form's fields."""
    tea, *more = sorted(teas.parts_of(card.tea), key=lambda part: -part[1])
    sweet, *mixed = sorted(card.sweeteners, key=lambda part: -part[1])
    return {
        "kind": card.kind,
        "base": card.base,
        "tea": tea[0],
        "tea2": more[0][0] if more else "",
        "tea2_percent": round(100 * more[0][1], 1) if more else None,
        "leaf": DryAmount(card.leaf_g_per_l, Dimension.STRENGTH),
        "sweetener": sweet[0],
        "sweetener2": mixed[0][0] if mixed else "",
        "sweetener2_percent": round(100 * mixed[0][1], 1) if mixed else None,
        "sugar": DryAmount(card.sugar_g_per_l, Dimension.STRENGTH),
        "heat_method": card.heat_method,
        "steep": card.steep,
        "steep_minutes": card.steep_minutes,
        "water_c": card.water_c,
        "honey": card.honey,
        "source": card.water.source,
        "alkalinity": card.water.alkalinity_meq_per_l,
        "treatment": card.water.treatment,
        "g_per_spoon": card.g_per_spoon,
        "g_per_bag": card.g_per_bag,
        "share": None if card.share is None else round(100 * card.share, 1),
        "floor": card.floor,
        "seed": card.seed,
        "reserve": card.reserve,
    }


def _first_values(vessels: list[Vessel], free: list[Vessel], lots: list[StarterLot]) -> dict[str, Any]:
    asked = queries.find(g.session, Vessel, request.args.get("vessel", type=number_of))
    culture = queries.find(g.session, Culture, request.args.get("culture", type=number_of))
    kept = queries.find(g.session, KeptRecipe, request.args.get("recipe", type=number_of))
    trying, like = _tried()
    culture = culture or (like.culture if like is not None else None)
    vessel = asked or (free or vessels)[0]
    first = brew_days.first_plan(g.session, g.now, vessel, culture, kept, request.args.get("kind", ""))
    g.first_why = first.why
    if trying is not None and like is not None and like.plan.get("card"):
        first = replace(first, card=card_of(like.plan["card"]), kind=like.kind)
        g.first_why = f"As {like.vessel.name} for “{trying.question}”. Now change one thing: {trying.changed}."
    elif trying is not None:
        g.first_why = f"For “{trying.question}”: the usual one first. {first.why}"
    own = brew_days.first_lots(lots, first.culture, first.kind)
    grow = first.kind == KindOfBrew.GROW
    return {
        **typed_card(first.card),
        **({"lots": own} if not grow or _bottle_is_kept(first.culture, own) else _raw_bottle(first.vessel)),
        "experiment": trying.id if trying is not None else None,
        "kind": first.kind,
        "recipe": kept.id if kept else 0,
        "vessel": first.vessel.id,
        "culture": first.culture.id,
        "cold_c": brew_days.USUAL_COLD_C,
        "disc": first.disc.id if first.disc and not grow and first.kind != KindOfBrew.TRIAL else 0,
        "seed": "both" if first.disc else "liquid",
        "heel_l": brew_days.first_heel_l(g.session, first.vessel, first.kind),
    }


def _tried() -> tuple[Experiment | None, Brew | None]:
    """Return the experiment that is brewed for, and the brew of it that stands already."""
    row = queries.find(g.session, Experiment, request.args.get("experiment", type=number_of))
    if row is None or not row.waits or row.ended_at is not None:
        return None, None
    return row, queries.find(g.session, Brew, next((number for side in row.sides for number in side), None))


def _bottle_is_kept(culture: Culture, own: list[int]) -> bool:
    """Return whether the raw bottle that a line began with stands written down as its starter: then that is used up."""
    never_brewed = queries.last_brew(g.session, Brew.culture_id == culture.id) is None
    return bool(own) and culture.origin == Origin.BOTTLE and never_brewed


def _raw_bottle(vessel: Vessel) -> dict[str, Any]:
    """A bottle as it is sold, and a small brew for it."""
    other_l, liquid_l = brew_days.raw_bottle(vessel)
    return {"lots": [], "other_kind": "bottle", "other_l": other_l, "liquid_l": liquid_l}


def plan_form(formdata: Any = None, first: bool = False) -> PlanForm:
    """Make the form with the household's choices; a first look has defaults from vessel, culture and last time."""
    vessels = brew_days.brewing_vessels(g.session)
    full, _ = culture_queries.in_use(g.session)
    free = [v for v in vessels if v.id not in full]
    cultures, lots = culture_queries.cultures(g.session), brew_days.sound_lots(g.session)
    g.first_why, g.lots = "", lots  # kept, so that each is read once a page
    g.asks_chlorine = (known := brew_days.tap_treatment(g.session)) is None
    data = _first_values(vessels, free, lots) if first and vessels and cultures else {}
    if data.get("source") == "tap" and not data["recipe"]:
        data["treatment"] = known or "unknown"
    form = PlanForm(formdata=formdata, data=data, meta={"csrf": False})  # every POST is checked by CSRFProtect
    full_last = [*free, *(v for v in vessels if v not in free)]
    form.vessel.choices = [(v.id, v.name + ("" if v in free else " (full)")) for v in full_last]
    living = culture_queries.living_lines(g.session)
    form.culture.choices = [
        (c.id, f"{c.name}, {'honey and green tea' if c.diet == Diet.JUN else 'sugar and tea'}")
        for c in sorted(cultures, key=lambda line: line.id not in living)
    ]
    form.recipe.choices = [(0, "as last time, or usual"), *((r.id, r.name) for r in planning_queries.recipes(g.session))]
    form.lots.choices = [(lot.id, lot_words(lot)) for lot in lots]
    asked = form.culture.data or data.get("culture")
    g.own_lots = {str(lot.id) for lot in lots if lot.culture_id == asked} | {str(number) for number in form.lots.data or ()}
    form.disc.choices = [(d.id, d.name) for d in brew_days.free_discs(g.session, cultures)] + [
        (0, "none: liquid alone")
    ]
    return form
