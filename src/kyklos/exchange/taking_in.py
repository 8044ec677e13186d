"""What another household wrote, taken in: a recipe, a flavour, bottles, a whole brew. Each is written by an action, whole or not at all."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..actions.base import Checks, Done, action
from ..actions.bottles.filling import type_of
from ..actions.bottles.flavour_book import AddIngredient, KeepFlavour, PartTold, add_one_ingredient, keep_one_flavour
from ..actions.brewing.recipes import KeepRecipe, keep_one
from ..actions.brewing.taking_over import USUAL_PH
from ..actions.importing import ImportSheet, bring_in
from ..core.base.saying import bottles_word
from ..core.bottles.park import CLOSURES, MOST
from ..core.liquid import Recipe, teas
from ..core.sheets.told import BottlesTold, BrewTold, LookTold, ReadingTold, TastingTold
from ..store.read import culture_queries, ingredients, planning_queries, queries
from .document_parts import BrewDocument
from .documents import Document, FlavourDocument, ParkDocument, PlanDocument, RecipeDocument


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeDocument:
    """A document as it was read, and what it is to be called here."""

    document: Document
    name: str = ""  #: Of a recipe, flavour or plan; its own unless given.


def free_name(session: Session, document: Document) -> str:
    """Return the name under which a document is kept here: its own, or with a number where that is taken."""
    if isinstance(document, FlavourDocument):
        taken = [row.name for row in ingredients.flavours(session)]
    else:
        taken = [row.name for row in planning_queries.recipes(session)]
    name = document.name if isinstance(document, RecipeDocument | FlavourDocument) else _plan_name(document)
    return _free(taken, name)


def _plan_name(document: Document) -> str:
    return f"{document.culture or 'Brew day'} of {document.written_on}" if isinstance(document, PlanDocument) else ""


@action
def take_document(session: Session, ask: TakeDocument, at: datetime) -> Done:
    """Take a document in; a plan is kept as its recipe, to be planned with this household's vessel and starter."""
    found = ask.document
    name = ask.name.strip() or free_name(session, found)
    if isinstance(found, RecipeDocument | PlanDocument):
        note = found.note if isinstance(found, RecipeDocument) else f"Planned for {found.litres:g} L at {found.room_degc:g} °C."
        return keep_one(session, KeepRecipe(name=name, card=found.recipe.card, note=note), at)
    if isinstance(found, FlavourDocument):
        return _flavour(session, found, name, at)
    if isinstance(found, ParkDocument):
        return _bottles(session, found, at)
    return bring_in(session, ImportSheet(brews=(brew_told(session, found),)), at)


def _flavour(session: Session, found: FlavourDocument, name: str, at: datetime) -> Done:
    """Keep a flavour; an ingredient of the other household's own is found by its name, or added by its label."""
    own = {row.name.casefold(): row.key for row in ingredients.own(session)}
    here: dict[str, str] = {}
    for one in found.ingredients:
        if one.name.casefold() not in own:
            label = AddIngredient(
                name=one.name,
                form=one.form,
                sugar=one.sugar_percent,
                acid_g_per_l=one.acid_g_per_l,
                ph=one.ph,
                abv=one.abv_percent,
                preserved=one.preserved,
                unit=one.unit,
                unit_g=one.unit_g,
                months=one.months,
                allergens=one.allergens,
                note=one.note,
            )
            own[one.name.casefold()] = f"own-{add_one_ingredient(session, label).made['ingredient']}"
        here[one.key] = own[one.name.casefold()]
    parts = tuple(PartTold(here.get(p.ingredient, p.ingredient), p.g_per_l, p.form, p.moment) for p in found.parts)
    kept = KeepFlavour(name=name, parts=parts, priming_g_per_l=found.priming_g_per_l, hours=found.hours, note=found.note)
    return keep_one_flavour(session, kept, at)


def _bottles(session: Session, found: ParkDocument, at: datetime) -> Done:
    """Count bottles in beside those that are here."""
    checks = Checks()
    checks.refuse_if(any(row.closure and row.closure not in CLOSURES for row in found.bottles), "", "A way of closing is not known.")
    checks.done()
    for row in found.bottles:
        kind = type_of(session, row.kind, row.volume_ml, row.limit_bar)
        if kind.owned is None:
            kind.owned, kind.washed_at = 0, at
        kind.owned = min(MOST, kind.owned + row.owned)
        kind.neck_mm, kind.closure, kind.note = kind.neck_mm or row.neck_mm, kind.closure or row.closure, kind.note or row.note
        kind.closure_since = kind.closure_since or at
    return Done(f"{bottles_word(sum(row.owned for row in found.bottles))} counted in.", {"kinds": len(found.bottles)})


def brew_told(session: Session, found: BrewDocument) -> BrewTold:
    """Tell a brew as a spreadsheet would: it is brought in the same way, in a vessel and of a line of its own name."""
    readings = tuple(
        ReadingTold(0, datetime.fromisoformat(r.at), r.ph, r.temperature_degc, r.note, r.by, r.acidity_g_per_l, r.gravity)
        for r in found.readings
        if any(value is not None for value in (r.ph, r.temperature_degc, r.acidity_g_per_l, r.gravity))
    )
    return BrewTold(
        0,
        _free((row.name for row in queries.vessels(session)), found.vessel.name or "Jar"),
        _free((row.name for row in culture_queries.cultures(session)), found.culture),
        datetime.fromisoformat(found.began_at),
        None if found.ended_at is None else datetime.fromisoformat(found.ended_at),
        found.litres,
        found.sugar_g_per_l,
        found.note[:200],
        readings,
        tastings=tuple(TastingTold(0, datetime.fromisoformat(t.at), t.taster, t.score, t.note) for t in found.tastings),
        bottles=tuple(BottlesTold(0, datetime.fromisoformat(b.at), b.count, b.kind, b.volume_ml, b.flavour, b.left) for b in found.bottles),
        looks=tuple(LookTold(datetime.fromisoformat(one.at), one.surface, one.signs, one.smell, one.note) for one in found.looks),
        honey=found.diet == "jun",
        recipe=Recipe(
            tea=teas.blend(tuple((part.tea, part.share) for part in found.tea)),
            leaf_g_per_l=found.leaf_g_per_l,
            sugar_g_per_l=found.sugar_g_per_l,
            honey_share=found.honey_share,
            starter_fraction=found.starter_share,
            starter_ph=USUAL_PH if found.starter_ph is None else found.starter_ph,
        ),
    )


def _free(taken: Iterable[str], name: str) -> str:
    """Return a name that nothing here has: another household's jar is not this one's."""
    known = {one.casefold() for one in taken}
    return next(one for one in (name if n == 1 else f"{name[:36]} {n}" for n in range(1, 1000)) if one.casefold() not in known)
