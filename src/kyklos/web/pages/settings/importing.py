"""Somebody's spreadsheet: its columns recognised and asked about, a preview, and nothing written until it is confirmed."""

from __future__ import annotations

import hashlib
from typing import Any
from zoneinfo import ZoneInfo

from flask import Response, current_app, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import importing
from ....actions.base import RefusedError
from ....core.base import CoreError
from ....core.base.kinds import Units
from ....core.sheets import spreadsheet
from ....core.sheets.columns import COLUMNS, SIZES, TEMPERATURES
from ....core.sheets.spreadsheet import Sheet, SheetAsk
from ....core.sheets.tables import Table
from ....exchange import workbook
from ....store.file import keeping
from ....store.read import queries
from ...kit.acting import act
from ...kit.render import page
from .routes import bp

SHOWN = 40  #: Brews and wrong rows in the preview.
SIZE_NAMES = {"l": "litres", "ml": "mL", "cl": "cL", "gal": "US gallons", "qt": "quarts", "pt": "pints", "oz": "fluid ounces"}


@bp.get("/import")
def import_page() -> Response:
    """Ask for the file."""
    return _ask()


def _ask(status: int = 200, wrong: str = "", text: str = "") -> Response:
    return page("settings/import.html", None, status, wrong=wrong, text=text)


def _tables() -> list[Table]:
    """Return the tables: of a file, of what was pasted, or as the form carried them along.

    Raises:
        CoreError: If there is none.
    """
    file, carried = request.files.get("file"), request.form.get("tables", "")
    if file is not None and file.filename:
        return workbook.tables_of(file.stream.read(workbook.LARGEST_BYTES + 1), file.filename)
    if carried:
        return workbook.uncarried(carried)
    return workbook.tables_of(request.form.get("text", "").encode("utf-8", "replace"))


def _shape(tables: list[Table]) -> str:
    """Return by what a spreadsheet is known again: its heads."""
    return hashlib.sha256(repr([one.heads for one in tables]).encode()).hexdigest()[:32]


def _said(tables: list[Table]) -> dict[str, Any]:
    """Return what was said of it: in this form, else of the last one with these heads."""
    form = request.form
    if "column-0" not in form:
        kept = next((row.said for row in queries.sheet_shapes(g.session) if row.shape == _shape(tables)), None)
        if kept is not None:
            return dict(kept)
    return {
        "columns": [form.getlist(f"column-{i}") for i in range(len(tables))] if "column-0" in form else [],
        "order": form.get("order", ""),
        "temperature": form.get("temperature", ""),
        "size": form.get("size", ""),
        "culture": form.get("culture", "").strip()[:40] or "Imported",
    }


def _ask_of(said: dict[str, Any]) -> SheetAsk:
    return SheetAsk(
        columns=tuple(tuple(str(key) for key in some) for some in said.get("columns", ())),
        month_first={"month": True, "day": False}.get(str(said.get("order"))),
        temperature=str(said.get("temperature") or ""),
        size=str(said.get("size") or ""),
        culture=str(said.get("culture") or "Imported"),
    )


@bp.post("/import")
def preview_import() -> Answer:
    """Show what would be added, and what is wrong with which row; or, confirmed, write it."""
    try:
        tables = _tables()
        said = _said(tables)
        sheet = spreadsheet.read(tables, _ask_of(said), ZoneInfo(g.household.zone), g.now, us=g.units == Units.US)
    except CoreError as problem:
        return _ask(422, str(problem), request.form.get("text", ""))
    if request.form.get("confirmed") != "yes":
        return _preview(sheet, said)
    if sheet.two_days:
        return _preview(sheet, said, 422, refused=f"Which day is {sheet.two_days}? Choose, and look again.")
    database, _ = current_app.extensions["kyklos"]
    ask = importing.ImportSheet(
        brews=sheet.brews, culture=str(said["culture"]), bottles_left="bottles_left" in request.form, shape=_shape(tables), said=said
    )
    try:
        keeping.make(database.path, database.backups, "before-import", g.now)
        act(importing.import_sheet, ask)
    except (RefusedError, keeping.KeepingError) as refused:
        return _preview(sheet, said, 422, refused=str(refused))
    return redirect(url_for("day_book.show"), 303)


def _preview(sheet: Sheet, said: dict[str, Any], status: int = 200, refused: str = "") -> Response:
    bottles = [row for brew in sheet.brews for row in brew.bottles]
    return page(
        "settings/import_preview.html",
        None,
        status,
        sheet=sheet,
        tables=workbook.carried(sheet.tables),
        kinds=[("", "leave it out"), *((key, column.name) for key, column in COLUMNS.items())],
        heads=[(one, list(zip(one.heads, some, strict=True))) for one, some in zip(sheet.tables, sheet.columns, strict=True)],
        brews=sheet.brews[:SHOWN],
        wrong_rows=sheet.wrong[:SHOWN],
        order="" if sheet.two_days else "month" if sheet.month_first else "day",
        temperatures=TEMPERATURES,
        sizes=[(key, SIZE_NAMES[key]) for key in SIZES],
        culture=said.get("culture", "Imported"),
        readings=sum(len(b.readings) for b in sheet.brews),
        tastes=sum(len(b.tastings) for b in sheet.brews),
        bottles=sum(row.count for row in bottles),
        bottles_unsure=any(row.left is None for row in bottles),
        refused=refused,
    )
