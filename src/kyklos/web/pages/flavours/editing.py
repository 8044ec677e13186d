"""The form of a flavour, row by row, and what it comes to while it is typed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta

from flask import g
from werkzeug.datastructures import MultiDict

from ....actions.bottles.flavour_book import PartTold
from ....core.base import CoreError
from ....core.base.kinds import NOT_DRUNK, FlavourMoment
from ....core.bottles import Ingredient, Part
from ....core.bottles.bottle import TARGETS
from ....core.bottles.flavouring import MOMENTS, room
from ....core.bottles.infusing import full_jar_l, per_litre
from ....core.bottles.ingredients import FORMS, doubts, in_measures
from ....reckon.bottles import filling_plan, flavours
from ....reckon.bottles.flavours import FlavourCard
from ....store.read import ingredients, park, queries
from ....store.records import Brew, Flavour, FlavourPart
from ...kit import amounts
from ...kit.acting import in_units
from ...kit.units import NotANumberError, parse
from ...kit.words import alcohol_word, day_word, span_word

ROWS = 6
LEAST_FOR_L, MOST_FOR_L = 0.05, 200.0  #: How much drink amounts can be for. [L]
USUAL_ML = 500.0  #: A bottle, where the household has named none. [mL]


@dataclass(frozen=True, slots=True)
class FlavourRow:
    """One ingredient of a flavour, as it stands in the form."""

    place: int
    key: str = ""
    amount: str = ""
    form: str = ""
    moment: str = "bottle"
    problem: str = ""
    forms: tuple[tuple[str, str], ...] = ()
    measure: str = ""  #: The kitchen measure it is asked in.


@dataclass(frozen=True, slots=True)
class Edited:
    """A flavour as it stands in the form."""

    name: str
    note: str
    sugar: str
    hours: str
    rows: tuple[FlavourRow, ...]
    parts: tuple[PartTold, ...]
    priming_g_per_l: float
    infusion_h: float | None
    bottle_ml: float
    wrong: Mapping[str, str]
    basis: str = ""  #: For how much drink amounts are, as typed.

    @property
    def shown_rows(self) -> int:
        """How many rows are to be seen at once: those filled, and one more; at least two."""
        used = max((row.place + 1 for row in self.rows if row.key or row.amount), default=0)
        return min(ROWS, max(2, used + 1))

    @property
    def infused(self) -> bool:
        """Whether something goes into a jar first."""
        return any(row.moment == FlavourMoment.INFUSION and row.key for row in self.rows)


def bottle_ml() -> float:
    """Return the size of the bottle that the household has most of. [mL]"""
    kinds = park.kinds(g.session)
    return kinds[0].volume_ml if kinds else USUAL_ML


def _row(place: int, sent: MultiDict[str, str], known: Mapping[str, Ingredient], litres: float) -> tuple[FlavourRow, PartTold | None]:
    key, amount = sent.get(f"ingredient-{place}", "")[:60], sent.get(f"amount-{place}", "")[:40]
    one = known.get(key)
    form = sent.get(f"form-{place}", "")
    moment = sent.get(f"moment-{place}", "bottle")
    form = form if one is not None and form in one.forms else (one.form if one is not None else "")
    moment = moment if moment in MOMENTS else "bottle"
    forms = tuple((f, FORMS[f][0]) for f in one.forms) if one is not None else ()
    measure = one.units[0][0] if one is not None and one.units else ""
    row = FlavourRow(place, key if one is not None else "", amount, form, moment, "", forms, measure)
    if one is None:
        return (replace(row, problem="Choose an ingredient."), None) if amount.strip() else (row, None)
    if not amount.strip():
        return replace(row, problem="How much of it?"), None
    try:
        value = amounts.read(amount, one, litres, g.units)
    except NotANumberError as problem:
        return replace(row, problem=str(problem)), None
    return row, PartTold(key, value, form, moment)


def read(sent: MultiDict[str, str], jar_l: float | None = None) -> Edited:
    """Read a flavour as it is typed; what cannot be read is said beside its row.

    Args:
        sent: The form.
        jar_l: Of brew in a jar, where amounts are for all of it; None: they are for a bottle. [L]
    """
    known, wrong = ingredients.by_key(g.session), {}
    bottle_l = filling_plan.full_l(bottle_ml())
    try:
        litres = _basis(sent.get("for", "")) or bottle_l
    except NotANumberError as problem:
        litres, wrong["for"] = bottle_l, str(problem)
    litres = 1.0 if jar_l is not None else litres
    rows, parts = [], []
    for place in range(ROWS):
        row, part = _row(place, sent, known, litres)
        rows.append(row)
        if part is not None:
            parts.append(part)
        if row.problem:
            wrong[f"ingredient-{place}"] = row.problem
    if jar_l is not None:
        parts = _of_the_jar(jar_l, rows, parts)
    sugar, hours = sent.get("sugar", "")[:40], sent.get("hours", "")[:12]
    priming, infusion_h = 0.0, None
    try:
        priming = amounts.read(sugar, known["sugar"], litres, g.units) if sugar.strip() else 0.0
    except NotANumberError as problem:
        wrong["sugar"] = str(problem)
    try:
        infusion_h = parse(hours, "number", g.units) if hours.strip() else None
    except NotANumberError:
        wrong["hours"] = "Hours are a number, like 24."
    return Edited(
        sent.get("name", "")[:80], sent.get("note", "")[:500], sugar, hours, tuple(rows), tuple(parts), priming, infusion_h,
        bottle_ml(), wrong, sent.get("for", "")[:20] or in_units(bottle_ml(), "bottle"),
    )  # fmt: skip


def _basis(text: str) -> float | None:
    """Read for how much drink amounts are; None for the usual bottle, as it is filled. [L]"""
    usual = text.strip() in {"", in_units(bottle_ml(), "bottle")}
    litres = None if usual else parse(text[:20], "volume", g.units)
    if litres is not None and not LEAST_FOR_L <= litres <= MOST_FOR_L:
        raise NotANumberError("From a small bottle to 200 litres, like 4 L or 1 gal.")
    return litres


def _of_the_jar(jar_l: float, rows: Sequence[FlavourRow], parts: Sequence[PartTold]) -> list[PartTold]:
    """Turn what goes into a jar as a whole into g/L of it; what was typed by the litre stays. [L]"""
    typed = {row.key: row.amount for row in rows}
    whole = [0.0 if amounts.by_the_litre(typed[part.ingredient]) else part.g_per_l for part in parts]
    shares = per_litre(jar_l, whole)
    return [replace(part, g_per_l=share) if share else part for part, share in zip(parts, shares, strict=True)]


def as_typed(kept: Flavour) -> MultiDict[str, str]:
    """Write a flavour kept as its form would hold it."""
    known, litres = ingredients.by_key(g.session), filling_plan.full_l(bottle_ml())
    values = {"name": kept.name, "note": kept.note, "hours": "" if kept.hours is None else f"{kept.hours:g}"}
    values |= rows_typed(kept.parts)
    if kept.priming_g_per_l:
        values["sugar"] = amounts.shown(known["sugar"], kept.priming_g_per_l, litres, g.units)
    return MultiDict(values)


def rows_typed(parts: Sequence[FlavourPart], jar_l: float | None = None) -> dict[str, str]:
    """Write the parts of a flavour kept as the rows of a form would hold them, for a bottle or for so much brew in a jar. [L]"""
    known = ingredients.by_key(g.session)
    made_of = [Part(known[part.ingredient], part.g_per_l, part.form) for part in parts if part.ingredient in known]
    litres = filling_plan.full_l(bottle_ml()) if jar_l is None else full_jar_l(jar_l, made_of)
    values: dict[str, str] = {}
    for i, part in enumerate(parts[:ROWS]):
        values |= {
            f"ingredient-{i}": part.ingredient,
            f"amount-{i}": amounts.shown(known.get(part.ingredient), part.g_per_l, litres, g.units),
            f"form-{i}": part.form,
            f"moment-{i}": part.moment,
        }
    return values


def offered(key: str) -> MultiDict[str, str]:
    """Offer a new flavour of an ingredient, as much as is usual."""
    card = flavours.card_named(g.session, key)
    if card is None or not card.parts:
        return MultiDict()
    part = card.parts[0]
    return MultiDict(
        {
            "name": card.name,
            "ingredient-0": part.what.key,
            "amount-0": amounts.shown(part.what, part.g_per_l, filling_plan.full_l(bottle_ml()), g.units),
            "form-0": part.way,
        }
    )


@dataclass(frozen=True, slots=True)
class Live:
    """What a flavour comes to."""

    of: str  #: Which brew, in words.
    lines: tuple[tuple[str, str], ...]
    into: tuple[str, ...]  #: What goes into one bottle.
    minds: tuple[str, ...]
    problem: str = ""


def brews_to_ask() -> list[Brew]:
    """List the living brews that a flavour can be reckoned for, the oldest first: it is the nearest to ready."""
    return sorted(
        (brew for brew in queries.living_brews(g.session) if brew.kind not in NOT_DRUNK), key=lambda brew: brew.pitched_at
    )


def live(edited: Edited, brew: Brew | None) -> Live:
    """Return what a flavour comes to in a bottle of a brew."""
    known = ingredients.by_key(g.session)
    parts = tuple(Part(known[p.ingredient], p.g_per_l, p.form) for p in edited.parts)
    try:
        room(parts)
    except CoreError:
        return Live("", (), (), (), "That leaves too little brew in the bottle: take less of it.")
    litres = filling_plan.full_l(edited.bottle_ml)
    into = tuple(_into(p, litres) for p in parts)
    minds = [doubt.why for p in parts for doubt in doubts(p.what.name, p.what.preserved)]
    minds += [p.what.note for p in parts if p.what.note]
    if brew is None:
        return Live("", (), into, tuple(dict.fromkeys(minds)))
    card = FlavourCard("new", edited.name, parts, tuple(p.moment for p in edited.parts), edited.priming_g_per_l)
    tried = filling_plan.tried(g.session, brew, card, edited.bottle_ml, g.now)
    mixed, future = tried.liquid, tried.future
    if tried.closes_high is not None:
        minds.insert(0, "Too near pH 4.2 to close for fizz without measuring: take less of it, or keep it cold with the lid loose.")
    low, high = tried.alcohol
    lines = [
        ("pH", f"{mixed.ph:.1f}"),
        ("Sourness", in_units(mixed.ta_g_per_l, "acidity")),
        ("Sugar", f"{in_units(mixed.sugar_g_per_l * litres, 'mass')} a bottle"),
        ("In a week", alcohol_word(low, high)),
    ]
    for name in TARGETS:
        day = future.target_days.get(name)
        by = future.chill_by_day
        if day is not None and (by is None or day <= by):
            lines.append((name.capitalize(), f"in {span_word(day)}"))
    if future.chill_by_day is not None:
        lines.append(
            ("Into the fridge by", day_word(g.now + timedelta(days=future.chill_by_day), g.now, g.household.zone))
        )
    return Live(f"{brew.vessel.name}, as it is today", tuple(lines), into, tuple(dict.fromkeys(minds)))


def _into(part: Part, litres: float) -> str:
    grams = part.g_per_l * litres
    measure = in_measures(part.what, grams)
    words = ", ".join(one for one in (measure, amounts.weight(grams)) if one)
    return f"{part.what.name}: {words or 'a pinch'}"
