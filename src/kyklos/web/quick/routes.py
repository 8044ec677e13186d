"""Reads a quick line while it is typed, and saves it on Enter."""

from __future__ import annotations

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ...actions.base import RefusedError
from ...actions.quick import save_quick
from ...core.quick_line import LONGEST
from ..acting import act
from ..render import page
from .telling import Told, saved_as, tell

bp = Blueprint("quick", __name__, url_prefix="/quick", template_folder="templates")


def _told() -> Told:
    asked = request.form if request.method == "POST" else request.args
    numbers = {name: asked.get(name, type=int) for name in ("chosen", "here", "taster")}
    return tell(asked.get("line", "")[:LONGEST], **numbers)


@bp.get("/")
def read() -> Response:
    """Show what a line is understood as."""
    return page("quick/page.html", "quick/_reads.html", told=_told(), problems=[])


@bp.post("/")
def save() -> Answer:
    """Save a line that is clear; ask for what is not."""
    told, problems = _told(), []
    if told.ready:
        try:
            act(save_quick, saved_as(told))
            back = request.form.get("back", "")
            inside = back.startswith("/") and not back.startswith(("//", "/\\"))
            return redirect(back if inside else url_for("round.show"), 303)
        except RefusedError as refused:
            problems = [problem.message for problem in refused.problems]
    return page("quick/page.html", None, 422, told=told, problems=problems or _missing(told))


def _missing(told: Told) -> list[str]:
    if told.quick.empty:
        return ["There is nothing in it to keep yet: a pH, a temperature, a taste, a look, or words."]
    if told.brew is None and not told.choices:
        return ["No brew stands anywhere: plan a brew day first."]
    return ["Choose what is meant, then save."] if g.get("session") is not None else []
