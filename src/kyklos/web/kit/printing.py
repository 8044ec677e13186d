"""Printing: labels with a code, as a picture or on sheets of labels, for brews, starters and the hotel."""

from __future__ import annotations

import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from flask import Response, abort, current_app, request

from ...core.base.kinds import Occasion
from ...core.judging import Situation
from .addresses import STATIC
from .cautioned import heard
from .numbers import number_of
from .reader import has_letter_paper
from .render import page

#: Key: name, columns, rows, width, height, left and top margin, gaps across and down. [mm]
SHEETS: dict[str, tuple[str, int, int, float, float, float, float, float, float]] = {
    "a4-24": ("A4, 24 labels of 70 × 37 mm", 3, 8, 70.0, 37.0, 0.0, 0.5, 0.0, 0.0),
    "a4-21": ("A4, 21 labels of 63.5 × 38.1 mm", 3, 7, 63.5, 38.1, 7.25, 15.15, 2.5, 0.0),
    "a4-8": ("A4, 8 labels of 99.1 × 67.7 mm", 2, 4, 99.1, 67.7, 4.65, 13.1, 2.6, 0.0),
    "letter-30": ("US Letter, 30 labels of 2 5/8 × 1 in", 3, 10, 66.7, 25.4, 4.8, 12.7, 3.1, 0.0),
    "letter-10": ("US Letter, 10 labels of 4 × 2 in", 2, 5, 101.6, 50.8, 4.0, 12.7, 4.8, 0.0),
}
MM = 72 / 25.4
FONTS = STATIC / "vendor" / "fonts"


@dataclass(frozen=True, slots=True)
class LabelText:
    """What stands on a label."""

    name: str
    lines: tuple[str, ...]
    address: str


def code_path(address: str) -> tuple[str, int]:
    """Draw a QR code as one path, a stroke for each run of dark modules: the path and its size in modules."""
    import segno  # read in when a label is first printed

    code = segno.make(address, error="m", micro=False)
    rows = ["".join("1" if dark else "0" for dark in row) for row in code.matrix_iter(scale=1, border=0)]
    runs = ((run.start(), y, run.end() - run.start()) for y, row in enumerate(rows) for run in re.finditer("1+", row))
    return "".join(f"M{x} {y}h{length}v1h-{length}z" for x, y, length in runs), len(rows)


def label_page(text: LabelText, back: str, files: str) -> Response:
    """Show a label, and the sheets it can be printed on.

    Args:
        text: What stands on it.
        back: Where one came from.
        files: Address of its picture and sheet, without their ending.
    """
    path, size = code_path(text.address)
    shared = current_app.config.get("KYKLOS_SHARED", False)
    return page(
        "label.html",
        None,
        back=back,
        files=files,
        label=text,
        path=path,
        size=size,
        sheets={key: SHEETS[key] for key in sorted(SHEETS, key=lambda key: key[0] != usual_sheet()[0])},
        local=not shared,
        cautions=heard(Situation(moment=Occasion.LABEL)),
    )


def picture(text: LabelText) -> Response:
    """Show the label as a picture."""
    path, size = code_path(text.address)
    answer = page("label.svg", None, label=text, path=path, size=size)
    answer.mimetype = "image/svg+xml"
    return answer


def printed(text: LabelText, name: str) -> Response:
    """Show a sheet of the label; the first places of a used sheet can be left empty."""
    key = request.args.get("sheet") or usual_sheet()
    if key not in SHEETS:
        abort(404)
    count = request.args.get("count", 1, type=number_of)
    skip = request.args.get("skip", 0, type=number_of)
    places = SHEETS[key][1] * SHEETS[key][2]
    if not 1 <= count <= places or not 0 <= skip < places:
        abort(400, f"A sheet has {places} labels: choose from 1 to {places}, and leave fewer empty.")
    return pdf(sheet([text] * count, key, skip), name)


def usual_sheet() -> str:
    """Return the sheet of labels that the reader most likely has."""
    return "letter-30" if has_letter_paper() else "a4-24"


def pdf(body: bytes, name: str) -> Response:
    """Show a PDF to look at or print."""
    return Response(body, mimetype="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}.pdf"'})


def draw_code(canvas: Any, address: str, x: float, top: float, edge: float) -> None:
    """Draw a QR code on a sheet, its upper left corner at x, top. [pt]"""
    code, modules = code_path(address)
    cell = edge / modules
    for column, row, length in re.findall(r"M(\d+) (\d+)h(\d+)", code):
        canvas.rect(x + int(column) * cell, top - (int(row) + 1) * cell, int(length) * cell, cell, stroke=0, fill=1)


def sheet(texts: Sequence[LabelText], key: str, skip: int = 0) -> bytes:
    """Print labels one after the other, on as many sheets as they need; the first places can be left empty. Gives the PDF."""
    from reportlab.lib.pagesizes import A4, LETTER
    from reportlab.pdfgen.canvas import Canvas

    _, columns, rows, *_ = SHEETS[key]
    size = A4 if key.startswith("a4") else LETTER
    body = io.BytesIO()
    canvas = Canvas(body, pagesize=size, invariant=1, pageCompression=0)
    canvas.setTitle(", ".join(dict.fromkeys(text.name for text in texts)))
    for place, text in enumerate(texts, start=skip):
        if place > skip and place % (columns * rows) == 0:
            canvas.showPage()
        _one(canvas, text, key, place % (columns * rows), size[1])
    canvas.save()
    return body.getvalue()


def _one(canvas: Any, text: LabelText, key: str, place: int, page_height: float) -> None:
    _, columns, _, width, height, left, top, across, down = SHEETS[key]
    x = (left + (place % columns) * (width + across)) * MM
    y = page_height - (top + (place // columns) * (height + down) + height) * MM
    edge = min(height - 6, 24.0) * MM
    draw_code(canvas, text.address, x + 3 * MM, y + height * MM - 3 * MM, edge)
    room = (width - 8) * MM - edge
    at = y + height * MM - 6.5 * MM
    write(canvas, x + 5 * MM + edge, at, text.name, "Times-Bold", 13, room)
    step = min(4.6, (height - 9) / 4) * MM
    for line in text.lines:
        at -= step
        write(canvas, x + 5 * MM + edge, at, line, "Helvetica", 8.5, room)


def letters(text: str, font: str) -> str:
    """Choose a font that has the letters of a text: the asked one for Western Europe, else one for most alphabets."""
    try:
        text.encode("cp1252")
    except UnicodeEncodeError:
        return _wide("DejaVuSansCondensed-Bold" if "Bold" in font else "DejaVuSansCondensed")
    return font


@lru_cache(maxsize=2)
def _wide(name: str) -> str:
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    pdfmetrics.registerFont(TTFont(name, FONTS / f"{name}.ttf"))
    return name


def write(canvas: Any, x: float, y: float, text: str, font: str, size: float, room: float | None = None) -> None:
    """Write a line, smaller where it would not fit, in a font that has its letters.

    Args:
        canvas: The page.
        x, y: Where it begins. [pt]
        text: The line.
        font: One of the PDF's own fonts.
        size: As wished. [pt]
        room: Its width at most; None: all there is. [pt]
    """
    chosen = letters(text, font)
    wide = canvas.stringWidth(text, chosen, size)
    canvas.setFont(chosen, size if room is None or wide <= room else max(4.5, size * room / wide))
    canvas.drawString(x, y, text)
