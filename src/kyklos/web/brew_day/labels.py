"""The vessel's label: name, date, what is in it, first taste, and a code that leads to the brew; as a picture and as a sheet."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

import segno
from flask import Response, abort, current_app, g, request, url_for

from ...core import teas
from ...core.brew_kinds import KINDS
from ...core.due import first_taste_day
from ...store import queries, values
from ...store.models import Brew
from ..render import page
from ..words import local
from .place import bp

#: Key: name, columns, rows, width, height, left and top margin, gaps across and down. [mm]
SHEETS: dict[str, tuple[str, int, int, float, float, float, float, float, float]] = {
    "a4-24": ("A4, 24 labels of 70 × 37 mm", 3, 8, 70.0, 37.0, 0.0, 0.5, 0.0, 0.0),
    "a4-21": ("A4, 21 labels of 63.5 × 38.1 mm", 3, 7, 63.5, 38.1, 7.25, 15.15, 2.5, 0.0),
    "a4-8": ("A4, 8 labels of 99.1 × 67.7 mm", 2, 4, 99.1, 67.7, 4.65, 13.1, 2.6, 0.0),
    "letter-30": ("US Letter, 30 labels of 2 5/8 × 1 in", 3, 10, 66.7, 25.4, 4.8, 12.7, 3.1, 0.0),
    "letter-10": ("US Letter, 10 labels of 4 × 2 in", 2, 5, 101.6, 50.8, 4.0, 12.7, 4.8, 0.0),
}
MM = 72 / 25.4


@dataclass(frozen=True, slots=True)
class LabelText:
    """What stands on a label."""

    name: str
    lines: tuple[str, ...]
    address: str


def _date(moment: Any) -> str:
    day = local(moment, g.household.zone)
    return f"{day.day} {day:%b %Y}"


def sweet_words(honey_share: float, plan: dict[str, Any]) -> str:
    """Say what sweetens a brew."""
    from ...core.facts import SWEETENERS

    kinds = [SWEETENERS[key].name.lower() for key in plan.get("sweeteners", {}) if key in SWEETENERS]
    return " and ".join(kinds) or ("honey" if honey_share > 0.99 else "sugar and honey" if honey_share > 0 else "sugar")


def label_of(brew: Brew) -> LabelText:
    """Write a brew's label."""
    course = values.course_of(brew)
    warmth = float(course.future_c or 22.0)
    taste = brew.pitched_at + timedelta(days=first_taste_day("jun" if brew.honey_share >= 0.5 else "sugar", warmth))
    starter = " and ".join(dict.fromkeys(p.name for p in brew.portions)) or "not recorded"
    first = (
        f"Look {_date(brew.pitched_at + timedelta(days=KINDS[brew.kind].watch[0]))}"
        if KINDS[brew.kind].watch
        else f"First taste {_date(taste)}"
    )
    return LabelText(
        brew.vessel.name,
        (
            f"{brew.culture.name} · {_date(brew.pitched_at)}",
            f"{brew.base or teas.name_of(teas.from_text(brew.tea))}, {sweet_words(brew.honey_share, brew.plan)}",
            f"Starter: {starter}, {100 * brew.starter_fraction:.0f} %",
            first,
        ),
        url_for("brews.show", number=brew.id, _external=True),
    )


def code_path(address: str) -> tuple[str, int]:
    """Draw a QR code as one path: the path and its size in modules."""
    code = segno.make(address, error="m", micro=False)
    rows = [list(row) for row in code.matrix_iter(scale=1, border=0)]
    path = "".join(f"M{x} {y}h1v1h-1z" for y, row in enumerate(rows) for x, dark in enumerate(row) if dark)
    return path, len(rows)


def _brew(number: int) -> Brew:
    return queries.get(g.session, Brew, number)


@bp.get("/labels/<int:number>")
def label(number: int) -> Response:
    """Show a brew's label, and the sheets it can be printed on."""
    brew = _brew(number)
    text = label_of(brew)
    path, size = code_path(text.address)
    return page(
        "brew_day/label.html", None, brew=brew, label=text, path=path, size=size, sheets=SHEETS, local=_local_only()
    )


def _local_only() -> bool:
    return not current_app.config.get("KYKLOS_SHARED", False)


@bp.get("/labels/<int:number>.svg")
def label_svg(number: int) -> Response:
    """Give the label as a picture."""
    text = label_of(_brew(number))
    path, size = code_path(text.address)
    answer = page("brew_day/label.svg", None, label=text, path=path, size=size)
    answer.mimetype = "image/svg+xml"
    return answer


@bp.get("/labels/<int:number>.pdf")
def label_pdf(number: int) -> Response:
    """Give a sheet of the label; the first places of a used sheet can be left empty."""
    key = request.args.get("sheet", "a4-24")
    if key not in SHEETS:
        abort(404)
    count = request.args.get("count", 1, type=int)
    skip = request.args.get("skip", 0, type=int)
    places = SHEETS[key][1] * SHEETS[key][2]
    if not 1 <= count <= places or not 0 <= skip < places:
        abort(400, f"A sheet has {places} labels: choose from 1 to {places}, and leave fewer empty.")
    body = sheet(label_of(_brew(number)), key, count, skip)
    return Response(
        body, mimetype="application/pdf", headers={"Content-Disposition": f'inline; filename="label-{number}.pdf"'}
    )


def sheet(text: LabelText, key: str, count: int, skip: int) -> bytes:
    """Print a label so many times on a sheet. Gives the PDF."""
    from reportlab.lib.pagesizes import A4, LETTER
    from reportlab.pdfgen.canvas import Canvas

    _, columns, rows, *_ = SHEETS[key]
    size = A4 if key.startswith("a4") else LETTER
    body = io.BytesIO()
    canvas = Canvas(body, pagesize=size, invariant=1, pageCompression=0)
    canvas.setTitle(text.name)
    for place in range(skip, min(skip + count, columns * rows)):
        _one(canvas, text, key, place, size[1])
    canvas.save()
    return body.getvalue()


def _one(canvas: Any, text: LabelText, key: str, place: int, page_height: float) -> None:
    _, columns, _, width, height, left, top, across, down = SHEETS[key]
    x = (left + (place % columns) * (width + across)) * MM
    y = page_height - (top + (place // columns) * (height + down) + height) * MM
    edge = min(height - 6, 24.0) * MM
    code, modules = code_path(text.address)
    cell = edge / modules
    for piece in code.split("M")[1:]:
        column, row = piece.split("h", 1)[0].split(" ")
        canvas.rect(
            x + 3 * MM + float(column) * cell,
            y + height * MM - 3 * MM - (float(row) + 1) * cell,
            cell,
            cell,
            stroke=0,
            fill=1,
        )
    room = (width - 8) * MM - edge
    at = y + height * MM - 6.5 * MM
    canvas.setFont("Times-Bold", _fitting(canvas, text.name, "Times-Bold", 13, room))
    canvas.drawString(x + 5 * MM + edge, at, _latin(text.name))
    step = min(4.6, (height - 9) / 4) * MM
    for line in text.lines:
        at -= step
        canvas.setFont("Helvetica", _fitting(canvas, line, "Helvetica", 8.5, room))
        canvas.drawString(x + 5 * MM + edge, at, _latin(line))


def _latin(text: str) -> str:
    """Keep what the sheet's own letters can show."""
    return text.encode("cp1252", "replace").decode("cp1252")


def _fitting(canvas: Any, text: str, font: str, size: float, room: float) -> float:
    """Choose the size at which a line fits. [pt]"""
    wide = canvas.stringWidth(_latin(text), font, size)
    return size if wide <= room else max(4.5, size * room / wide)
