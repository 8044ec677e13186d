"""Care of the kitchen: what is to be washed or changed, done in a tap, and how often."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import experiments as ex
from ....actions.base import RefusedError
from ....core.notebook.care import AFTER_MOULD, CARE, WITH
from ....reckon.notebook.experimenting import care_now
from ....store.read import experiment_queries
from ...kit.acting import act
from ...kit.numbers import decimal_of
from ...kit.render import page
from .routes import bp

LATELY = 8  #: So many are shown of what was done.


def care_page(status: int = 200, **more: Any) -> Response:
    """Show what is to be done, the rhythms, and what was done last."""
    due = care_now(g.session, g.now)
    names = {key: kind.name for key, kind in CARE.items()} | {AFTER_MOULD: "What mould touched"}
    done = [(names.get(row.what, row.what), row) for row in experiment_queries.done_lately(g.session, LATELY)]
    return page("notebook/care.html", None, status, due=due, kinds=CARE, rhythms=experiment_queries.rhythms(g.session), done=done, with_choices=WITH, typed=request.form, **more)


@bp.get("/care")
def care() -> Response:
    """Show the care of the kitchen."""
    return care_page()


@bp.post("/care/done")
def care_done() -> Answer:
    """Write that something was washed or changed."""
    try:
        act(ex.note_care, ex.NoteCare(what=request.form.get("what", ""), with_what=request.form.get("with", "")))
    except RefusedError as refused:
        return care_page(422, problem=str(refused))
    return redirect(url_for(".care"), 303)


def _days(key: str) -> float | None:
    """Read a rhythm; empty: none.

    Raises:
        ValueError: If it is no number.
    """
    text = request.form.get(f"every-{key}", "").strip().replace(",", ".")
    return decimal_of(text) if text else None


@bp.post("/care/rhythms")
def care_rhythms() -> Answer:
    """Write how often each thing is cared for."""
    every, problems = [], {}
    for key in CARE:
        try:
            every.append((key, _days(key)))
        except ValueError:
            problems[key] = "A number of days, or nothing."
    if problems:
        return care_page(422, problems=problems)
    try:
        act(ex.set_rhythms, ex.SetRhythms(every_days=tuple(every)))
    except RefusedError as refused:
        return care_page(422, problems={one.field: one.message for one in refused.problems})
    return redirect(url_for(".care"), 303)
