"""Blind tastings: letters by lot, a key for who pours, a sheet for each glass, and who was who at the end."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing import blind
from ....core.liquid.taste import score_word
from ....store.read import queries
from ....store.records import BlindTasting, Brew, Taster
from ...kit.acting import act
from ...kit.numbers import wholes
from ...kit.render import page
from ...kit.tasting_sheet import SheetForm, sheet_form
from .routes import bp


@bp.get("/blind")
def begin() -> Response:
    """Choose what to compare."""
    return _begin()


def _begin(status: int = 200, problem: str = "") -> Response:
    return page("tasters/begin.html", None, status, brews=queries.standing_brews(g.session), problem=problem)


@bp.post("/blind")
def start() -> Answer:
    """Show letters."""
    numbers = wholes(request.form.getlist("brews"))
    try:
        done = act(blind.start_blind, blind.StartBlind(brew_ids=numbers))
    except RefusedError as refused:
        return _begin(422, str(refused))
    return redirect(url_for(".sheet", number=done.made["blind"]), 303)


def _letters(row: BlindTasting) -> list[str]:
    return list(blind.LETTERS[: len(row.brews)])


def _page(row: BlindTasting, form: SheetForm, status: int = 200) -> Response:
    names = {t.id: t.name for t in queries.tasters_of(g.session)}
    filled = sorted((names.get(s["taster"], "someone"), s["letter"]) for s in row.sheets)
    letters = _letters(row)
    now = request.form.get("letter") or next(
        (x for x in letters if all(x != s["letter"] for s in row.sheets)), letters[0]
    )
    missing = [f"{name}, {x}" for name in names.values() for x in letters if (name, x) not in filled]
    return page(
        "tasters/blind.html",
        None,
        status,
        row=row,
        form=form,
        letters=letters,
        letter_now=now,
        filled=filled,
        missing=missing,
    )


@bp.get("/blind/<int:number>")
def sheet(number: int) -> Response:
    """Show an empty sheet, or who was who."""
    row = queries.get(g.session, BlindTasting, number)
    if row.revealed_at is not None:
        return page("tasters/revealed.html", row=row, rows=_revealed(row))
    return _page(row, sheet_form(formdata=None))


@bp.post("/blind/<int:number>")
def keep(number: int) -> Answer:
    """Keep a sheet for one glass."""
    form = sheet_form()
    if form.validate_on_submit():
        found: dict[str, Any] = form.answers()
        letter = request.form.get("letter", "")
        ask = blind.FillSheet(
            blind_id=number, taster_id=form.taster.data, letter=letter, score=int(form.score.data), **found
        )
        try:
            act(blind.fill_sheet, ask)
            return redirect(url_for(".sheet", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return _page(queries.get(g.session, BlindTasting, number), form, 422)


@bp.get("/blind/<int:number>/key")
def key(number: int) -> Response:
    """Show who pours what; tasters do not look."""
    row = queries.get(g.session, BlindTasting, number)
    brews = [queries.get(g.session, Brew, n) for n in row.brews]
    return page("tasters/key.html", row=row, pairs=list(zip(_letters(row), brews, strict=True)))


@bp.post("/blind/<int:number>/reveal")
def reveal(number: int) -> Answer:
    """Return who was who."""
    try:
        act(blind.reveal, blind.Reveal(blind_id=number))
    except RefusedError as refused:
        form = sheet_form(formdata=None)
        form.form_errors.append(str(refused))
        return _page(queries.get(g.session, BlindTasting, number), form, 422)
    return redirect(url_for(".sheet", number=number), 303)


def _revealed(row: BlindTasting) -> list[tuple[str, Brew, list[tuple[str, str, Any]]]]:
    """List letters with their brews and what each taster said."""
    out = []
    for letter, number in zip(_letters(row), row.brews, strict=True):
        said = []
        for one in sorted(row.sheets, key=lambda s: s["taster"]):
            if one["letter"] == letter:
                taster = queries.find(g.session, Taster, one["taster"])
                said.append((taster.name if taster else "someone", score_word(one["score"]), one))
        out.append((letter, queries.get(g.session, Brew, number), said))
    return out
