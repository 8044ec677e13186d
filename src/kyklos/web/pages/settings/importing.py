"""Somebody's spreadsheet: its columns recognised and asked about, a preview, and nothing written until it is confirmed."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from zoneinfo import ZoneInfo

from flask import Response, current_app, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import importing
from ....actions.base import RefusedError
from ....core.base import CoreError
from ....core.base.kinds import Units
from ....core.sheets import spreadsheet
from ....core.sheets.spreadsheet import COLUMNS, Sheet
from ....store.file import keeping
from ...kit.acting import act
from ...kit.render import page
from .routes import bp

MOST_BYTES = 400_000
SHOWN = 40  #: Brews and wrong rows in the preview.


@bp.get("/import")
def import_page() -> Response:
    """Ask for the file."""
    return _ask()


def _ask(status: int = 200, wrong: str = "", text: str = "") -> Response:
    return page("settings/import.html", None, status, wrong=wrong, text=text)


def _text() -> str:
    """Return the table: of a file, of what was pasted, or as it was carried along."""
    file = request.files.get("file")
    if file is not None and file.filename:
        return file.stream.read(MOST_BYTES + 1).decode("utf-8-sig", "replace")
    return request.form.get("text", "")


def _read(text: str) -> Sheet:
    columns = request.form.getlist("column") or None
    first = {"month": True, "day": False}.get(request.form.get("order", ""), g.units == Units.US)
    sheet = spreadsheet.read(text, columns, ZoneInfo(g.household.zone), g.now, month_first=first)
    name = request.form.get("culture", "").strip()[:40] or "Imported"
    return replace(sheet, brews=tuple(replace(b, culture=b.culture or name) for b in sheet.brews))


@bp.post("/import")
def preview_import() -> Answer:
    """Show what would be added, and what is wrong with which row; or, confirmed, write it."""
    text = _text()
    if len(text) > MOST_BYTES:
        return _ask(422, f"At most {MOST_BYTES // 1000} kB at once: cut it into parts.")
    try:
        sheet = _read(text)
    except CoreError as problem:
        return _ask(422, str(problem), text)
    if request.form.get("confirmed") != "yes":
        return _preview(sheet, text)
    database, _ = current_app.extensions["kyklos"]
    try:
        keeping.make(database.path, database.backups, "before-import", g.now)
        act(importing.import_sheet, importing.ImportSheet(brews=sheet.brews))
    except (RefusedError, keeping.KeepingError) as refused:
        return _preview(sheet, text, 422, refused=str(refused))
    return redirect(url_for("day_book.show"), 303)


def _preview(sheet: Sheet, text: str, status: int = 200, **more: Any) -> Response:
    return page(
        "settings/import_preview.html",
        None,
        status,
        sheet=sheet,
        text=text,
        kinds=[("", "leave it out"), *((key, name) for key, (name, _) in COLUMNS.items())],
        heads=list(zip(sheet.heads, sheet.columns, strict=True)),
        brews=sheet.brews[:SHOWN],
        wrong_rows=sheet.wrong[:SHOWN],
        order=request.form.get("order") or ("month" if g.units == Units.US else "day"),
        culture=request.form.get("culture", "Imported")[:40],
        readings=sum(len(b.readings) for b in sheet.brews),
        **{"refused": "", **more},
    )
