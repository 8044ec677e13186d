"""Notes on one thing: the list, a line more, and striking one out."""

from __future__ import annotations

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing.correcting import Strike, strike
from ....actions.notes import WriteNote, write_note
from ....reckon.naming import name_of_thing
from ....store.read import notes, queries
from ....store.records import Note
from ...kit.acting import act
from ...kit.addresses import within
from ...kit.numbers import number_of
from ...kit.photos import sent_picture, shown_picture
from ...kit.render import page

bp = Blueprint("notes", __name__, url_prefix="/notes", template_folder="templates")


def _page(about: str, number: int, status: int = 200, problem: str = "", typed: str = "") -> Response:
    thing = notes.thing(g.session, about, number)
    if thing is None:
        abort(404)
    back = within(request.values.get("back", ""), "")
    known = {"about": about, "number": number, "name": name_of_thing(thing), "back": back}
    return page("notes/show.html", None, status, problem=problem, typed=typed, **known)


@bp.get("/<about>/<int:number>")
def show(about: str, number: int) -> Response:
    """List what was noted of a thing, the newest first."""
    return _page(about, number)


@bp.post("/<about>/<int:number>")
def write(about: str, number: int) -> Answer:
    """Keep a line about a thing, and go back to where it was written."""
    text, hand = request.form.get("text", ""), request.form.get("taster", type=number_of)
    try:
        act(write_note, WriteNote(about=about, about_id=number, text=text, taster_id=hand, picture=sent_picture()))
    except RefusedError as refused:
        return _page(about, number, 422, str(refused), text)
    return redirect(within(request.form.get("back", ""), url_for(".show", about=about, number=number)), 303)


@bp.post("/<about>/<int:number>/strike/<int:note>")
def strike_out(about: str, number: int, note: int) -> Answer:
    """Strike a note out: the bin keeps it."""
    try:
        act(strike, Strike(kind="note", number=note))
    except RefusedError as refused:
        return _page(about, number, 422, str(refused))
    return redirect(within(request.form.get("back", ""), url_for(".show", about=about, number=number)), 303)


@bp.get("/photos/<int:number>/<size>.jpg")
def photo(number: int, size: str) -> Response:
    """Show a note's photo, small or large."""
    return shown_picture(queries.get(g.session, Note, number).photo_sha, size)
