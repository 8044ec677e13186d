"""Flavours kept by name, own ingredients, and what is at hand."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base.kinds import AddedAs
from ...core.bottles.flavouring import MOMENTS, MOST_G_PER_L
from ...core.bottles.infusing import LEAST_H, MOST_H
from ...core.bottles.ingredients import FORMS, INGREDIENTS, doubts
from ...core.bottles.suggest import AT_HAND
from ...store.read import ingredients, queries
from ...store.records import Flavour, FlavourPart, LarderItem, OwnIngredient
from ..base import Checks, Done, action, check_version, flushed

MOST_PARTS = 8
LEAST_WHY = 2  #: Letters of a name.


@dataclass(frozen=True, slots=True)
class PartTold:
    """An amount of an ingredient, and when it goes in."""

    ingredient: str  #: Its key.
    g_per_l: float  #: Of the filled bottle. [g/L]
    form: str = ""  #: Empty: its usual one.
    moment: str = "bottle"


@dataclass(frozen=True, slots=True, kw_only=True)
class KeepFlavour:
    """A flavour as it is to be kept."""

    name: str
    parts: tuple[PartTold, ...]
    priming_g_per_l: float = 0.0  #: [g/L]
    hours: float | None = None  #: In an infusion. [h]
    note: str = ""
    flavour_id: int | None = None  #: Change this one.
    version: int | None = None


def check_parts(session: Session, parts: tuple[PartTold, ...]) -> None:
    """Refuse what cannot go into a bottle, with the reason beside its field."""
    checks, known = Checks(), ingredients.by_key(session)
    for i, part in enumerate(parts):
        found = known.get(part.ingredient)
        checks.refuse_if(found is None, f"ingredient-{i}", "Choose an ingredient from the list, or add your own.")
        checks.refuse_if(bool(part.form) and part.form not in FORMS, f"form-{i}", "Choose how it is put in.")
        checks.refuse_if(part.moment not in MOMENTS, f"moment-{i}", "Choose when it goes in.")
        checks.refuse_if(part.g_per_l <= 0, f"g_per_l-{i}", "How much of it? More than nothing.")
        checks.between(part.g_per_l, f"g_per_l-{i}", 0, MOST_G_PER_L, "An amount of", "strength")
        for doubt in doubts(found.name, found.preserved) if found is not None else ():
            checks.refuse_if(doubt.refused, f"ingredient-{i}", doubt.why)
    checks.refuse_if(len(parts) > MOST_PARTS, "name", f"At most {MOST_PARTS} ingredients in one flavour.")
    whole = sum(part.g_per_l for part in parts)
    checks.refuse_if(whole > MOST_G_PER_L, "name", "That leaves too little brew in the bottle: take less of it.")
    checks.done()


def check_name(checks: Checks, session: Session, name: str, own_id: int | None = None) -> None:
    """Refuse a flavour without a name, or with that of another one."""
    checks.refuse_if(not 1 <= len(name) <= 60, "name", "Give it a name of up to 60 letters.")
    same = [f for f in ingredients.flavours(session) if f.id != own_id and f.name.casefold() == name.casefold()]
    checks.refuse_if(bool(same), "name", "Another flavour has this name.")


def parts_of(session: Session, parts: tuple[PartTold, ...]) -> list[FlavourPart]:
    """Make the rows of a flavour's ingredients, which were checked."""
    known = ingredients.by_key(session)
    return [
        FlavourPart(
            ingredient=p.ingredient, form=p.form or known[p.ingredient].form, moment=p.moment, g_per_l=round(p.g_per_l, 3)
        )
        for p in parts
    ]


@action
def keep_flavour(session: Session, ask: KeepFlavour, at: datetime) -> Done:
    """Keep a flavour by name, or change one; bottles filled before keep what they were."""
    return keep_one_flavour(session, ask, at)


def keep_one_flavour(session: Session, ask: KeepFlavour, at: datetime) -> Done:
    """Keep a flavour, within another action."""
    checks, name = Checks(), ask.name.strip()
    check_name(checks, session, name, ask.flavour_id)
    checks.between(ask.priming_g_per_l, "priming_g_per_l", 0, 25, "Priming sugar of", "strength")
    checks.between(ask.hours, "hours", LEAST_H, MOST_H, "Hours in the jar:")
    checks.refuse_if(not ask.parts and ask.priming_g_per_l <= 0, "ingredient-0", "What goes in? Choose at least one ingredient.")
    checks.done()
    check_parts(session, ask.parts)
    kept = Flavour(kept_at=at) if ask.flavour_id is None else queries.get(session, Flavour, ask.flavour_id)
    if ask.flavour_id is not None:
        check_version(ask.version, kept.version, kept.name)
    kept.name, kept.note, kept.priming_g_per_l = name, ask.note.strip()[:500], ask.priming_g_per_l
    kept.hours = ask.hours if any(p.moment == "infusion" for p in ask.parts) else None
    kept.parts = parts_of(session, ask.parts)
    return Done(f"{name} kept.", {"flavour": flushed(session, kept)})


@dataclass(frozen=True, slots=True, kw_only=True)
class RetireFlavour:
    """A flavour that is not offered any more."""

    flavour_id: int


@action
def retire_flavour(session: Session, ask: RetireFlavour, at: datetime) -> Done:
    """Offer a flavour no longer; what was made with it stays."""
    kept = queries.get(session, Flavour, ask.flavour_id)
    kept.retired = True
    return Done(f"{kept.name} is offered no longer.")


@dataclass(frozen=True, slots=True, kw_only=True)
class AddIngredient:
    """An ingredient of the household's own, as its label tells."""

    name: str
    form: str = AddedAs.JUICE
    sugar: float = 0.0  #: [g per 100 g]
    acid_g_per_l: float | None = None  #: [g/L]
    ph: float | None = None  #: [pH]
    abv: float = 0.0  #: [% ABV]
    preserved: bool = False
    unit: str = ""
    unit_g: float = 0.0  #: [g]
    months: tuple[int, ...] = ()
    allergens: str = ""
    note: str = ""


@action
def add_ingredient(session: Session, ask: AddIngredient, at: datetime) -> Done:
    """Add an ingredient from a label; what never goes into a brew is refused with the reason."""
    return add_one_ingredient(session, ask)


def add_one_ingredient(session: Session, ask: AddIngredient) -> Done:
    """Add an ingredient, within another action."""
    checks, name = Checks(), ask.name.strip()
    checks.refuse_if(not LEAST_WHY <= len(name) <= 60, "name", "Give it a name of 2 to 60 letters.")
    for doubt in doubts(name):
        checks.refuse_if(doubt.refused, "name", doubt.why)
    taken = {one.name.casefold() for one in INGREDIENTS.values()} | {row.name.casefold() for row in ingredients.own(session)}
    checks.refuse_if(name.casefold() in taken, "name", "There is one of this name already.")
    checks.refuse_if(ask.form not in FORMS, "form", "Choose how it is put in.")
    checks.between(ask.sugar, "sugar", 0, 100, "Sugar of")
    checks.between(ask.acid_g_per_l, "acid_g_per_l", 0, 100, "Acid of", "acidity")
    checks.between(ask.ph, "ph", 1.5, 8, "A pH of")
    checks.between(ask.abv, "abv", 0, 60, "Alcohol of")
    checks.between(ask.unit_g, "unit_g", 0, 2000, "A weight of", "mass")
    checks.refuse_if(bool(ask.unit.strip()) and ask.unit_g <= 0, "unit_g", "What does one weigh?")
    checks.refuse_if(any(not 1 <= m <= 12 for m in ask.months), "months", "Months are from 1 to 12.")
    checks.done()
    row = OwnIngredient(
        name=name,
        form=ask.form,
        sugar=ask.sugar,
        acid_g_per_l=ask.acid_g_per_l,
        ph=ask.ph,
        abv=ask.abv,
        preserved=ask.preserved,
        unit=ask.unit.strip()[:20],
        unit_g=ask.unit_g,
        months=sorted(set(ask.months)),
        allergens=ask.allergens.strip()[:120],
        note=ask.note.strip()[:300],
    )
    return Done(f"{name} added to your ingredients.", {"ingredient": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class DropIngredient:
    """An own ingredient that is not offered any more."""

    ingredient_id: int


@action
def drop_ingredient(session: Session, ask: DropIngredient, at: datetime) -> Done:
    """Offer an own ingredient no longer."""
    row = queries.get(session, OwnIngredient, ask.ingredient_id)
    row.retired = True
    return Done(f"{row.name} is offered no longer.")


@dataclass(frozen=True, slots=True, kw_only=True)
class PutInLarder:
    """Something at hand."""

    ingredient: str
    where: str  #: A key of AT_HAND.
    grams: float | None = None  #: [g]


@action
def put_in_larder(session: Session, ask: PutInLarder, at: datetime) -> Done:
    """Write down what is in the freezer, in the garden, or to be used up."""
    checks, named = Checks(), ingredients.named(session, ask.ingredient)
    checks.refuse_if(named is None, "ingredient", "Choose an ingredient from the list.")
    checks.refuse_if(ask.where not in AT_HAND, "where", "Choose where it is.")
    checks.between(ask.grams, "grams", 1, 100_000, "An amount of", "mass")
    checks.done()
    row = LarderItem(ingredient=named.key if named else "", where=ask.where, grams=ask.grams, since=at)
    return Done(f"{named.name if named else ''}: {AT_HAND[ask.where]}.", {"item": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeFromLarder:
    """Something that is used up."""

    item_id: int


@action
def take_from_larder(session: Session, ask: TakeFromLarder, at: datetime) -> Done:
    """Take something off the list of what is at hand."""
    row, checks = queries.get(session, LarderItem, ask.item_id), Checks()
    checks.refuse_if(row.gone_at is not None, "", "It is off the list already.")
    checks.done()
    row.gone_at = at
    return Done("Taken off the list.")
