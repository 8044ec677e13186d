"""The notebook: one field that finds everything, a line written down, lessons proposed and kept."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from markupsafe import Markup, escape
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.notes import WriteNote, write_note
from ....core.base.kinds import NoteOn, VesselKind
from ....core.notebook.days import span_said
from ....core.notebook.lessons import season_of
from ....core.notebook.terms import LONGEST, sought
from ....reckon.naming import name_of_thing
from ....reckon.notebook import experimenting, teaching
from ....store.read import culture_queries, ingredients, notebook_queries, notes, queries, search
from ....store.records import Bottle, Bottling, Note
from ...kit.acting import act
from ...kit.numbers import number_of, whole
from ...kit.photos import sent_picture
from ...kit.render import page
from ...kit.words import local, local_today

bp = Blueprint("notebook", __name__, url_prefix="/notebook", template_folder="templates")

SHOWN = 30
CHIPS = ("flavour", "vessel", "culture", "place", "season", "tea", "sweetener", "bottle", "good")
NOTES_SHOWN, PROPOSED_SHOWN, EXPERIMENTS_SHOWN = 8, 2, 4
KIND_WORDS = {
    "brew": "brew", "look": "seen", "tasting": "tasted", "reading": "measured", "overrule": "own verdict", "bottling": "filling", "bottle": "bottle", "score": "score",
    "infusion": "jar", "note": "note", "kept_lesson": "lesson", "experiment": "experiment", "culture": "culture", "disc": "disc", "vessel": "vessel", "place": "place", "flavour": "flavour",
    "recipe": "recipe", "own_ingredient": "ingredient", "instrument": "instrument", "gift": "gift", "upkeep": "care", "wished": "wish", "purchase": "bought",
}  # fmt: skip
PICTURES = {"brew": "jar", "look": "eye", "tasting": "glass", "reading": "drop", "bottling": "bottle", "bottle": "bottle", "score": "glass", "note": "pen", "kept_lesson": "pen"}


@dataclass(frozen=True, slots=True)
class HitShown:
    """Something found, as it is shown."""

    kind: str
    picture: str
    when: str
    title: Markup
    words: Markup
    address: str
    brew: int = 0  #: Its number, if it is one.


def _marked(text: str) -> Markup:
    """Put what was found in bold."""
    first, last = search.MARK
    return Markup(str(escape(text)).replace(first, "<mark>").replace(last, "</mark>"))


def shown(hit: search.Hit) -> HitShown:
    """Dress something that was found."""
    when = ""
    if hit.at is not None:
        day = local(hit.at, g.household.zone)
        when = f"{day:%a} {day.day} {day:%b}" if day.year == g.now.year else f"{day.day} {day:%b} {day.year}"
    address = url_for("notebook.thing", about=hit.about, number=hit.about_id)
    return HitShown(KIND_WORDS.get(hit.kind, hit.kind), PICTURES.get(hit.kind, "thing"), when, _marked(hit.title), _marked(hit.words), address, hit.number if hit.kind == "brew" else 0)


def found(typed: str, group: str = "", most: int = SHOWN, span: str = "") -> tuple[search.Hits, list[HitShown], tuple[str, ...]]:
    """Search, and dress what was found; with the other words that were looked for. Days typed go before those chosen."""
    asked = sought(typed, local_today())
    if asked.span is None and span:
        asked = replace(asked, span=span_said(span, local_today())[0])
    hits = search.search(g.session, asked, group, most)
    there = " ".join(f"{hit.title} {hit.words}".casefold() for hit in hits.rows)
    also = tuple(word for word in (*asked.also, *hits.forgiven) if word in there)[:4]
    return hits, [shown(hit) for hit in hits.rows], also


def notebook_page(status: int = 200, **more: Any) -> Response:
    """Show the notebook, what was found, and what was typed wrong."""
    typed, group = request.args.get("q", "")[:LONGEST], request.args.get("in", "")
    group = group if group in search.GROUPS else ""
    spans = ("this month", "last month", f"this {season_of(local_today(), southern=queries.southern(g.session))}", "this year", "last year")
    when = request.args.get("when", "")
    when = when if when in spans else ""
    hits, rows, also = found(typed, group, span=when) if typed.strip() else (None, [], ())
    context: dict[str, Any] = {"typed": typed, "group": group, "spans": spans, "when": when, "hits": hits, "rows": rows, "also": also, "groups": list(search.GROUPS)}
    part = request.args.get("part") == "hits"
    if not part:
        last = notebook_queries.last_notes(g.session, NOTES_SHOWN)
        context |= {
            "proposals": teaching.proposed(g.session, g.now)[:PROPOSED_SHOWN],
            "lessons": notebook_queries.standing_lessons(g.session),
            "notes": [(note, _about_word(note), url_for("notebook.thing", about=note.about, number=note.about_id)) for note in last],
            "abouts": abouts(),
            "lesson_chips": {name: text for name in CHIPS if (text := request.values.get(f"at-{name}", request.args.get(name, "")))},
            "experiments": experimenting.running(g.session)[:EXPERIMENTS_SHOWN],
            "chosen": request.form.get("about", request.args.get("about", "")),
        }
    return page("notebook/show.html", "notebook/_hits.html" if part else None, status, **{**context, **more})


def _about_word(note: Note) -> str:
    """Return what a note is about, by its name; empty: it is gone."""
    about = notes.thing(g.session, note.about, note.about_id)
    return "" if about is None else name_of_thing(about)


def abouts() -> list[tuple[str, list[tuple[str, str]]]]:
    """List what a line may be about: jars first, then lines, flavours, shelves."""
    brews = [(f"{NoteOn.BREW}-{brew.id}", f"{brew.vessel.name}, {brew.culture.name}") for brew in queries.living_brews(g.session)]
    vessels = [(f"{NoteOn.VESSEL}-{vessel.id}", vessel.name) for vessel in queries.vessels(g.session) if vessel.kind != VesselKind.HOTEL]
    cultures = [(f"{NoteOn.CULTURE}-{line.id}", line.name) for line in culture_queries.cultures(g.session)]
    flavours = [(f"{NoteOn.FLAVOUR}-{flavour.id}", flavour.name) for flavour in ingredients.flavours(g.session)]
    places = [(f"{NoteOn.PLACE}-{place.id}", place.name) for place in queries.places(g.session)]
    groups = [("What brews", brews), ("Vessels", vessels), ("Cultures", cultures), ("Flavours", flavours), ("Places", places)]
    return [(name, rows) for name, rows in groups if rows]


@bp.get("/")
def show() -> Response:
    """Show the notebook, or what was found."""
    return notebook_page()


@bp.post("/note")
def note() -> Answer:
    """Write a line down."""
    about, _, number = request.form.get("about", "").partition("-")
    text = request.form.get("text", "")
    try:
        act(write_note, WriteNote(about=about, about_id=whole(number) or 0, text=text, taster_id=request.form.get("taster", type=number_of), picture=sent_picture()))
    except RefusedError as refused:
        return notebook_page(422, note_problem=str(refused), written=text)
    return redirect(url_for(".show"), 303)


@bp.get("/thing/<about>/<int:number>")
def thing(about: str, number: int) -> Answer:
    """Lead to the page of a thing that was found."""
    address = _address(about, number)
    if address is None:
        abort(404)
    return redirect(address, 302)


def _address(about: str, number: int) -> str | None:
    """Return where a thing stands; None: there is none of it."""
    direct = {
        "brew": "brews.show", "bottle": "cellar.show_bottle", "culture": "cultures.line", "vessel": "vessels.edit",
        "flavour": "flavours.show_one", "infusion": "flavours.jar", "disc": "cultures.disc", "experiment": "notebook.experiment", "purchase": "supply.purchase",
    }  # fmt: skip
    plain = {"place": "vessels.show", "recipe": "brew_day.recipes", "instrument": "instruments.show", "own_ingredient": "flavours.show_ingredients", "wished": "supply.show", "kept_lesson": "notebook.show"}
    if about == "bottling":
        filling = queries.find(g.session, Bottling, number)
        return None if filling is None or not filling.bottles else url_for("cellar.show_bottle", number=filling.bottles[0].id)
    if about == "bottle" and queries.find(g.session, Bottle, number) is None:
        return None
    if about in direct:
        return url_for(direct[about], number=number)
    return url_for(plain[about]) if about in plain else None
