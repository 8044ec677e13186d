"""Flavours kept by name, proposals, ingredients, what is at hand, and how all were liked."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response as Answer
from wtforms import BooleanField, StringField
from wtforms.fields.choices import SelectChoice

from ....actions.base import ConflictError, RefusedError
from ....actions.bottles import flavour_book
from ....core.base.kinds import AddedAs, Units
from ....core.bottles import Ingredient
from ....core.bottles.flavouring import MOMENTS
from ....core.bottles.ingredients import FORMS, INGREDIENTS, MONTHS, in_measures, ripe
from ....core.bottles.scores import LIKED
from ....core.bottles.suggest import AT_HAND
from ....drawing.rack import colour_of
from ....reckon.bottles import filling_plan, flavours
from ....store.read import ingredients, queries
from ....store.records import Brew, Flavour, OwnIngredient
from ...kit import amounts
from ...kit.acting import act, tried
from ...kit.addresses import within
from ...kit.fields import ChoiceField, KitchenForm, QuantityField, TicksField
from ...kit.numbers import number_of, whole
from ...kit.render import page
from ...kit.units import NotANumberError, parse
from . import editing

bp = Blueprint("flavours", __name__, template_folder="templates")


def sorted_choices() -> list[tuple[str, str]]:
    """List what a flavour may be made of, by name; the household's own among them."""
    known = ingredients.by_key(g.session)
    gone = {row.key for row in ingredients.own(g.session, retired=True) if row.retired}
    return sorted(
        ((key, one.name) for key, one in known.items() if key not in ("plain", "sugar") and key not in gone),
        key=lambda pair: pair[1].casefold(),
    )


@bp.get("/flavours/")
def show() -> Response:
    """Show the flavours, what to make next, and what is at hand."""
    return _list()


def _list(status: int = 200, **more: Any) -> Response:
    known = ingredients.by_key(g.session)
    kept = ingredients.flavours(g.session)
    ranks = flavours.rankings(g.session)
    liked = {r.flavour: r for r in ranks[0][1]} if ranks else {}
    return page(
        "flavours/show.html",
        None,
        status,
        proposals=flavours.suggestions(g.session, g.now),
        kept=[(row, _parts_words(row), liked.get(row.name), colour_of(_colour(row))) for row in kept],
        larder=[(row, known[row.ingredient]) for row in flavours.larder(g.session) if row.ingredient in known],
        ripe=flavours.ripe_now(g.session, g.now),
        month=MONTHS[g.now.month - 1],
        at_hand=AT_HAND,
        choices=sorted_choices(),
        **{"larder_wrong": "", "sent": {}, **more},
    )


def _colour(row: Flavour) -> str:
    return max(row.parts, key=lambda p: p.g_per_l).ingredient if row.parts else "plain"


def _parts_words(row: Flavour) -> str:
    known = ingredients.by_key(g.session)
    litres = filling_plan.full_l(editing.bottle_ml())
    return ", ".join(
        f"{in_measures(one, p.g_per_l * litres) or amounts.weight(p.g_per_l * litres)} of {one.name.lower()}"
        for p in row.parts
        if (one := known.get(p.ingredient)) is not None
    )


@bp.post("/flavours/larder")
def put_in_larder() -> Answer:
    """Write down what is at hand."""
    sent = request.form
    grams, wrong = None, ""
    if sent.get("grams", "").strip():
        try:
            grams = parse(sent["grams"][:20], "mass", g.units)
        except NotANumberError as problem:
            wrong = str(problem)
    if not wrong:
        try:
            act(
                flavour_book.put_in_larder,
                flavour_book.PutInLarder(ingredient=sent.get("ingredient", ""), where=sent.get("where", ""), grams=grams),
            )
            return redirect(url_for("flavours.show") + "#larder", 303)
        except RefusedError as refused:
            wrong = str(refused)
    return _list(422, larder_wrong=wrong, sent=sent)


@bp.post("/flavours/larder/<int:number>/gone")
def take_from_larder(number: int) -> Answer:
    """Take something off the list."""
    act(flavour_book.take_from_larder, flavour_book.TakeFromLarder(item_id=number))
    return redirect(url_for("flavours.show") + "#larder", 303)


def _edit(edited: editing.Edited, status: int = 200, kept: Flavour | None = None, **more: Any) -> Response:
    brews = editing.brews_to_ask()
    asked = request.values.get("brew", type=number_of)
    brew = next((b for b in brews if b.id == asked), brews[0] if brews else None)
    return page(
        "flavours/edit.html",
        "flavours/_live.html" if status == 200 else None,
        status,
        edited=edited,
        kept=kept,
        live=editing.live(edited, brew),
        brew_asked=brew,
        brews=brews,
        choices=sorted_choices(),
        moments=MOMENTS,
        history=flavours.history(g.session, kept.id) if kept is not None else [],
        liked=LIKED,
        card=flavours.card_of(g.session, kept, lean=True) if kept is not None else None,
        **{"problems": {}, "general": "", "back": _back(), **more},
    )


def _back() -> str:
    back = request.values.get("back", "")
    return within(back, "") if back else ""


@bp.get("/flavours/new")
def new() -> Response:
    """Make a new flavour."""
    sent: MultiDict[str, str] = request.args
    if "of" in sent and "ingredient-0" not in sent:
        sent = editing.offered(sent["of"][:60])
    return _edit(editing.read(sent) if sent else editing.read(MultiDict()))


@bp.get("/flavours/<int:number>")
def show_one(number: int) -> Response:
    """Show a flavour, with its history."""
    kept = queries.get(g.session, Flavour, number)
    sent = request.args if "name" in request.args else editing.as_typed(kept)
    return _edit(editing.read(sent), kept=kept)


@bp.post("/flavours/new")
def create() -> Answer:
    """Keep a new flavour."""
    return _save(None)


@bp.post("/flavours/<int:number>")
def change(number: int) -> Answer:
    """Change a flavour."""
    return _save(queries.get(g.session, Flavour, number))


def _save(kept: Flavour | None) -> Answer:
    edited = editing.read(request.form)
    if edited.wrong:
        return _edit(edited, 422, kept, problems=edited.wrong)
    ask = flavour_book.KeepFlavour(
        name=edited.name,
        parts=edited.parts,
        priming_g_per_l=edited.priming_g_per_l,
        hours=edited.infusion_h,
        note=edited.note,
        flavour_id=kept.id if kept is not None else None,
        version=request.form.get("version", type=number_of),
    )
    try:
        done = act(flavour_book.keep_flavour, ask)
    except RefusedError as refused:
        rows = [row.place for row in edited.rows if row.key]
        found = {}
        for problem in refused.problems:
            name, _, place = problem.field.rpartition("-")
            row = whole(place, 0, len(rows) - 1) if name else None
            beside = f"ingredient-{rows[row]}" if row is not None else problem.field
            found[{"priming_g_per_l": "sugar"}.get(beside, beside)] = problem.message
        return _edit(edited, 422, kept, problems=found)
    except ConflictError as conflict:
        return _edit(edited, 409, kept, general=str(conflict))
    back = _back()
    if back and "bottling" in back:
        return redirect(f"{back}{'&' if '?' in back else '?'}chosen=1&flavour=plain&flavour=f{done.made['flavour']}", 303)
    return redirect(url_for("flavours.show_one", number=done.made["flavour"]), 303)


@bp.post("/flavours/<int:number>/retire")
def retire(number: int) -> Answer:
    """Offer a flavour no longer."""
    act(flavour_book.retire_flavour, flavour_book.RetireFlavour(flavour_id=number))
    return redirect(url_for("flavours.show"), 303)


CM_PER_INCH = 2.54  #: [cm]


class IngredientForm(KitchenForm):
    """An ingredient of one's own, from its label."""

    name = StringField("What is it?")
    form = ChoiceField("How it goes in", choices=[(key, form[0].capitalize()) for key, form in FORMS.items() if key != "none"])
    sugar = QuantityField("Sugar, g in 100", required=False, hint="On the label, of 100 g or 100 mL.")
    ph = QuantityField("pH, if it is known", required=False)
    acid_g_per_l = QuantityField("Acid", kind="acidity", required=False, hint="Wines and ciders tell it; else leave it.")
    abv = QuantityField("Alcohol, %", required=False, hint="Of a finished wine, cider or beer.")
    unit = StringField("You measure it in", description="piece, cup, spoon")
    unit_g = QuantityField("One of these weighs", kind="mass", required=False)
    allergens = StringField("Allergens, with commas")
    months = TicksField("When there is some", coerce=number_of, choices=[SelectChoice(i, name) for i, name in enumerate(MONTHS, 1)])
    preserved = BooleanField("With sorbate, benzoate or sulphite")
    note = StringField("Note")


@bp.get("/flavours/ingredients")
def show_ingredients() -> Response:
    """Show the ingredients, and add one's own."""
    return _ingredients(IngredientForm(formdata=None, form=AddedAs.JUICE))


def _ingredients(form: IngredientForm, status: int = 200) -> Response:
    below = g.household.southern
    return page(
        "flavours/ingredients.html",
        None,
        status,
        form=form,
        own=ingredients.own(g.session),
        known=[
            (one, ripe(one, g.now.month, below), _measure(one))
            for one in INGREDIENTS.values()
            if one.key not in ("plain", "sugar", "herbs")
        ],
        month=MONTHS[g.now.month - 1],
        forms=FORMS,
    )


def _measure(one: Ingredient) -> str:
    """Return an ingredient's kitchen measure, and what one weighs."""
    if not one.units:
        return ""
    unit, grams = one.units[0]
    if unit == "centimetre" and g.units == Units.US:
        unit, grams = "inch", grams * CM_PER_INCH
    weight = amounts.weight(grams)
    return f"{unit}: {weight}" if weight else unit


@bp.post("/flavours/ingredients")
def add_ingredient() -> Answer:
    """Add an ingredient from a label."""
    form = IngredientForm()
    done = tried(
        form,
        flavour_book.add_ingredient,
        lambda: flavour_book.AddIngredient(
            name=form.name.data or "",
            form=form.form.data,
            sugar=form.sugar.data or 0.0,
            acid_g_per_l=form.acid_g_per_l.data,
            ph=form.ph.data,
            abv=form.abv.data or 0.0,
            preserved=form.preserved.data,
            unit=form.unit.data or "",
            unit_g=form.unit_g.data or 0.0,
            months=tuple(form.months.data or ()),
            allergens=form.allergens.data or "",
            note=form.note.data or "",
        ),
    )
    return redirect(url_for("flavours.show_ingredients"), 303) if done is not None else _ingredients(form, form.status)


@bp.post("/flavours/ingredients/<int:number>/drop")
def drop_ingredient(number: int) -> Answer:
    """Offer an own ingredient no longer."""
    queries.get(g.session, OwnIngredient, number)
    act(flavour_book.drop_ingredient, flavour_book.DropIngredient(ingredient_id=number))
    return redirect(url_for("flavours.show_ingredients"), 303)


def brew_of(number: int) -> Brew:
    """Find a brew."""
    return queries.get(g.session, Brew, number)
