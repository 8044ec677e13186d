"""Documents that go to another household or come from one: shared as a file or a code, read with a preview."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import Response, abort, g, make_response, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brew_days import plan_of_day
from ....exchange import documents, from_records
from ....exchange.document_parts import BrewDocument
from ....exchange.documents import KINDS, Document, FlavourDocument, ParkDocument, PlanDocument
from ....exchange.strict import LARGEST_BYTES, DocumentError
from ....exchange.taking_in import TakeDocument, brew_told, free_name, take_document
from ....reckon.brewing import brew_days
from ....store.read import ingredients, queries
from ....store.records import Brew, BrewDay, Flavour, KeptRecipe
from ...kit import printing
from ...kit.acting import act
from ...kit.recipe_words import lines, scaled
from ...kit.render import page
from .routes import bp

GOES_TO = {"flavour": "flavours.show", "bottles": "cellar.the_park", "brew": "day_book.show"}


def _document(kind: str, number: int) -> tuple[Document, str]:
    """Write a document of this household, with what it is called."""
    if kind == "recipe":
        recipe = queries.get(g.session, KeptRecipe, number)
        return from_records.recipe_document(recipe, g.now), recipe.name
    if kind == "flavour":
        flavour = queries.get(g.session, Flavour, number)
        return from_records.flavour_document(g.session, flavour, g.now), flavour.name
    if kind == "brew-day":
        day = queries.get(g.session, BrewDay, number)
        plan = from_records.plan_document(plan_of_day(day), brew_days.weighs(g.session), g.now)
        return plan, f"Brew day of {day.vessel.name}"
    if kind == "brew":
        brew = queries.get(g.session, Brew, number)
        return from_records.brew_document(brew, g.now), f"{brew.vessel.name}, brew {number}"
    park = from_records.park_document(g.session, g.now) if kind == "bottles" else None
    if park is None:
        abort(404)
    return park, "Your bottles"


@bp.get("/share/<kind>/<int:number>")
def share(kind: str, number: int) -> Response:
    """Offer a document: as a file, and as a code where it is short enough."""
    document, name = _document(kind, number)
    code = documents.for_a_code(document)
    path, size = printing.code_path(code) if code else ("", 0)
    return page("data/share.html", None, kind=kind, number=number, called=KINDS[kind][1], name=name, path=path, size=size, code=code)


@bp.get("/documents/<kind>/<int:number>.json")
def document(kind: str, number: int) -> Response:
    """Give a document as a file."""
    found, _ = _document(kind, number)
    answer = make_response(documents.written(found))
    answer.headers["Content-Type"] = "application/json; charset=utf-8"
    answer.headers["Content-Disposition"] = f'attachment; filename="{kind}-{number}.json"'
    return answer


@bp.get("/schemas/<kind>.json")
def schema(kind: str) -> Response:
    """Give the JSON Schema of a kind of document."""
    if kind not in KINDS:
        abort(404)
    answer = make_response(documents.schema(kind))
    answer.headers["Content-Type"] = "application/schema+json; charset=utf-8"
    return answer


@bp.get("/read")
def read() -> Response:
    """Ask for a document."""
    return _ask()


def _ask(status: int = 200, wrong: str = "", text: str = "") -> Response:
    return page("data/read.html", None, status, wrong=wrong, text=text, kinds=KINDS)


@bp.post("/read")
def take() -> Answer:
    """Show what a document holds; or, confirmed, take it in."""
    file, text = request.files.get("file"), request.form.get("text", "")
    content = file.stream.read(LARGEST_BYTES + 1) if file is not None and file.filename else text.encode("utf-8", "replace")
    try:
        found = documents.read(content)
    except DocumentError as problem:
        return _ask(422, str(problem), text[:20_000])
    if request.form.get("confirmed") != "yes":
        return _preview(found)
    try:
        done = act(take_document, TakeDocument(document=found, name=request.form.get("name", "")))
    except RefusedError as refused:
        return _preview(found, 422, str(refused), request.form.get("name", ""))
    if "recipe" in done.made:
        return redirect(url_for("brew_day.show", recipe=done.made["recipe"]), 303)
    return redirect(url_for(GOES_TO[_kind_of(found)]), 303)


def _kind_of(found: Document) -> str:
    return next(kind for kind, (model, _) in KINDS.items() if isinstance(found, model))


def _preview(found: Document, status: int = 200, refused: str = "", name: str | None = None) -> Response:
    kind = _kind_of(found)
    named = kind in {"recipe", "flavour", "brew-day"}
    return page(
        "data/read_preview.html",
        None,
        status,
        kind=kind,
        called=KINDS[kind][1],
        found=found,
        text=documents.written(found),
        name=(free_name(g.session, found) if name is None else name) if named else None,
        refused=refused,
        day=date.fromisoformat(found.written_on),
        **_shown(found),
    )


def _shown(found: Document) -> dict[str, Any]:
    """Put into words what a document holds, and what it comes to here."""
    if isinstance(found, FlavourDocument):
        known = {one.key: one.name for one in ingredients.by_key(g.session).values()} | {one.key: one.name for one in found.ingredients}
        here = {row.name.casefold() for row in ingredients.own(g.session)}
        fresh = [one.name for one in found.ingredients if one.name.casefold() not in here]
        return {"parts": [(known.get(p.ingredient, p.ingredient), p.g_per_l) for p in found.parts], "fresh": fresh}
    if isinstance(found, ParkDocument):
        return {}
    if isinstance(found, BrewDocument):
        told = brew_told(g.session, found)
        return {"told": told, "count": sum(row.count for row in found.bottles)}
    vessel = next(iter(brew_days.brewing_vessels(g.session)), None)
    litres = vessel.usable_l if vessel is not None else found.litres if isinstance(found, PlanDocument) else 1.0
    card = found.recipe.card
    return {"lines": [line for line in lines(card) if line[0] != "Water"], "scaled": scaled(card, litres), "vessel": vessel, "litres": litres}
