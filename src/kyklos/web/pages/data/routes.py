"""The household's numbers as live tables: listed, fetched as CSV or JSON lines, and the keys that may fetch them."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from flask import Blueprint, Response, abort, current_app, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer
from werkzeug.wsgi import wrap_file

from ....actions import data_keys
from ....actions.base import RefusedError
from ....exchange.live_tables import TABLES, TYPES, RowsAsked, RowsFile, rows_of
from ....store.read import queries
from ...kit.acting import look_afresh
from ...kit.numbers import whole
from ...kit.render import page

bp = Blueprint("data", __name__, url_prefix="/data", template_folder="templates")


def _page(status: int = 200, **more: Any) -> Response:
    return page("data/show.html", None, status, tables=list(TABLES.values()), keys=queries.data_keys(g.session), **more)


@bp.get("/")
def show() -> Response:
    """List the tables and the keys."""
    return _page()


def _since(text: str) -> datetime | None:
    """Read a moment; one without an offset is UTC.

    Raises:
        ValueError: If it is none.
    """
    if not text:
        return None
    found = datetime.fromisoformat(text[:40].replace(" ", "+"))
    return found if found.tzinfo is not None else found.replace(tzinfo=UTC)


@bp.get("/<name>.<form>")
def table(name: str, form: str) -> Answer:
    """Give a table, piece by piece."""
    if name not in TABLES or form not in TYPES:
        abort(404)
    given = request.args
    try:
        asked = RowsAsked(since=_since(given.get("since", "")), brew=_number(given.get("brew", "")), vessel=_number(given.get("vessel", "")))
    except (ValueError, OverflowError):
        return Response("since is a moment like 2027-02-18T08:30Z; brew and vessel are numbers.\n", 422, mimetype="text/plain")
    database, _ = current_app.extensions["kyklos"]
    file = RowsFile(rows_of(database.path, TABLES[name], form, asked))
    answer = Response(wrap_file(request.environ, file), direct_passthrough=True)  # type: ignore[arg-type]
    answer.headers["Content-Type"] = TYPES[form]
    answer.headers["Content-Disposition"] = f"attachment; filename={name}.{form}"
    return answer


def _number(text: str) -> int | None:
    """Read a number; empty is none.

    Raises:
        ValueError: If it is none.
    """
    if not text:
        return None
    found = whole(text)
    if found is None:
        raise ValueError("no number")
    return found


@bp.post("/keys")
def make_key() -> Answer:
    """Make a key, and show it once."""
    database, _ = current_app.extensions["kyklos"]
    try:
        with database.writer() as session:
            made = data_keys.make_key(session, request.form.get("name", ""), g.now)
    except RefusedError as refused:
        return _page(422, problem=str(refused), typed=request.form.get("name", ""))
    look_afresh()
    return _page(made=made)


@bp.post("/keys/<int:number>/end")
def end_key(number: int) -> Answer:
    """End a key."""
    database, _ = current_app.extensions["kyklos"]
    with database.writer() as session:
        data_keys.end_key(session, number)
    return redirect(url_for(".show") + "#data-keys", 303)
