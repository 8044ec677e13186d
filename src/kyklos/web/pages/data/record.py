"""A brew's whole record, to read and to print: what its open document says, as a page and as a PDF."""

from __future__ import annotations

import io
from datetime import datetime
from typing import Any, NamedTuple

from flask import Response, g

from ....core.base.facts import BOTTLES, INSTRUMENTS
from ....core.judging import OBSERVATIONS
from ....core.liquid import teas
from ....core.liquid.taste import score_word
from ....exchange import from_records
from ....exchange.document_parts import BrewDocument
from ....store.read import queries
from ....store.records import Brew
from ...kit import printing, units
from ...kit.acting import in_units
from ...kit.chart_rows import CURVE_HEADS, curve_rows
from ...kit.reader import has_letter_paper
from ...kit.render import page
from ...kit.stops import curve_of, stop_of
from ...kit.words import local
from .routes import bp


class RecordTable(NamedTuple):
    """A part of the record: its heads and rows in words."""

    title: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


def _when(text: str) -> str:
    at = local(datetime.fromisoformat(text), g.household.zone)
    return f"{at.day} {at:%B %Y, %H:%M}"


def facts_of(found: BrewDocument) -> list[tuple[str, str]]:
    """Put into words how it was started and how it ended."""
    tea = teas.name_of(teas.blend(tuple((part.tea, part.share) for part in found.tea)))
    rows = [
        ("Vessel", f"{found.vessel.name}, {in_units(found.litres, 'volume')}"),
        ("Culture", found.culture),
        ("Begun", _when(found.began_at)),
        ("Tea", f"{tea}, {in_units(found.leaf_g_per_l, 'strength')}"),
        ("Sugars", f"{in_units(found.sugar_g_per_l, 'strength')}{', from honey' if found.honey_share > 0.5 else ''}"),
        ("Starter", f"{100 * found.starter_share:.0f} %{f' at pH {found.starter_ph:.2f}' if found.starter_ph is not None else ''}"),
    ]
    if found.ended_at is not None:
        rows.append((found.ended_as.capitalize() or "Ended", _when(found.ended_at)))
    return [*rows, ("Note", found.note)] if found.note else rows


def _measured(row: Any) -> str:
    said = [f"pH {row.ph:.2f} by {INSTRUMENTS[row.by].name.lower()}"] if row.ph is not None else []
    said += [in_units(row.temperature_degc, "temperature")] if row.temperature_degc is not None else []
    said += [f"acidity {in_units(row.acidity_g_per_l, 'acidity')}"] if row.acidity_g_per_l is not None else []
    said += [f"gravity {row.gravity:.3f}"] if row.gravity is not None else []
    return ", ".join(said)


def _seen(key: str) -> str:
    return OBSERVATIONS[key].name if key in OBSERVATIONS else key


def tables_of(found: BrewDocument) -> list[RecordTable]:
    """Put into words what happened, was read, tasted, seen and filled; what is empty is left out."""
    out = [
        RecordTable("Read", ("When", "What", "Note"), tuple((_when(r.at), _measured(r), r.note) for r in found.readings)),
        RecordTable("Tasted", ("When", "Who", "Taste", "Note"), tuple((_when(t.at), t.taster, score_word(t.score), t.note) for t in found.tastings)),
        RecordTable(
            "Seen",
            ("When", "What", "Note"),
            tuple((_when(one.at), ", ".join(_seen(key) for key in (one.surface, *one.signs, one.smell) if key), one.note) for one in found.looks),
        ),
        RecordTable("Poured and drawn", ("When", "What", "How much"), tuple((_when(h.at), f"{h.what} {h.note}".strip(), in_units(h.litres, "volume")) for h in found.happened)),
        RecordTable(
            "Bottles",
            ("Filled", "What", "Flavour", "Left"),
            tuple((_when(b.at), f"{b.count} × {units.words(b.volume_ml, 'bottle', g.units)}, {BOTTLES[b.kind].name.lower()}", b.flavour, str(b.left)) for b in found.bottles),
        ),
    ]
    return [one for one in out if one.rows]


@bp.get("/record/<int:number>")
def record(number: int) -> Response:
    """Show a brew's whole record on one page."""
    brew = queries.get(g.session, Brew, number)
    found = from_records.brew_document(brew, g.now)
    stop = stop_of(g.session, brew, brew.ended_at or g.now, g.household)
    return page(
        "data/record.html", None, brew=brew, facts=facts_of(found), tables=tables_of(found), stop=stop, curve=curve_of(stop),
        now_word=brew.status if not brew.alive else "today",
    )  # fmt: skip


@bp.get("/record/<int:number>.pdf")
def record_pdf(number: int) -> Response:
    """Give the same as a PDF, on the reader's paper."""
    brew = queries.get(g.session, Brew, number)
    stop = stop_of(g.session, brew, brew.ended_at or g.now, g.household)
    found = from_records.brew_document(brew, g.now)
    course = RecordTable("pH by the day", CURVE_HEADS, tuple(curve_rows(stop)[:: 2 if len(curve_rows(stop)) > 24 else 1]))
    return printing.pdf(_printed(f"{brew.vessel.name}, brew {number}", facts_of(found), [*tables_of(found), course]), f"brew-{number}")


def _printed(title: str, facts: list[tuple[str, str]], tables: list[RecordTable]) -> bytes:
    from reportlab.lib import colors
    from reportlab.lib.pagesizes import A4, LETTER
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.lib.units import mm
    from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table

    def words(text: str, bold: bool = False, size: float = 9.5) -> Any:
        font = printing.letters(text, "Helvetica-Bold" if bold else "Helvetica")
        safe = text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        return Paragraph(safe, ParagraphStyle("words", fontName=font, fontSize=size, leading=1.35 * size))

    paper = LETTER if has_letter_paper() else A4
    wide = paper[0] - 36 * mm - 12  # what a frame keeps at its edges
    lines = [("LINEBELOW", (0, 0), (-1, -1), 0.3, colors.Color(0.85, 0.8, 0.7)), ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)]
    story: list[Any] = [words(title, True, 18), Spacer(1, 4 * mm)]
    story.append(Table([[words(name), words(value)] for name, value in facts], colWidths=[32 * mm, wide - 32 * mm], style=lines))
    for one in tables:
        story += [Spacer(1, 5 * mm), words(one.title, True, 12), Spacer(1, 1 * mm)]
        rows = [[words(head, True) for head in one.heads], *([words(cell) for cell in row] for row in one.rows)]
        story.append(Table(rows, colWidths=[wide / len(one.heads)] * len(one.heads), style=lines, repeatRows=1))
    out = io.BytesIO()
    SimpleDocTemplate(out, pagesize=paper, leftMargin=18 * mm, rightMargin=18 * mm, topMargin=17 * mm, bottomMargin=17 * mm, title=title, invariant=1).build(story)
    return out.getvalue()
