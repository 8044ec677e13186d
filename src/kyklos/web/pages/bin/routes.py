"""The bin: what was struck out or corrected, and how to put it back."""

from __future__ import annotations

from flask import Blueprint, Response, g, redirect, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing import correcting
from ....store.read import queries
from ...kit.acting import act
from ...kit.render import page

bp = Blueprint("bin", __name__, url_prefix="/bin", template_folder="templates")


def _page(status: int = 200, problem: str = "") -> Response:
    return page("bin/show.html", None, status, rows=queries.struck_out(g.session), problem=problem)


@bp.get("/")
def show() -> Response:
    """List what was struck out, newest first."""
    return _page()


@bp.post("/<kind>/<int:number>")
def put_back(kind: str, number: int) -> Answer:
    """Put a record back."""
    try:
        act(correcting.put_back, correcting.Strike(kind=kind, number=number))
    except RefusedError as refused:
        return _page(422, str(refused))
    return redirect(url_for(".show"), 303)
