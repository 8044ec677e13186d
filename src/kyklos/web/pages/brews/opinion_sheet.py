"""The sheet for a second opinion, as a PDF."""

from __future__ import annotations

import io
from collections.abc import Sequence

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfgen import canvas

from ...kit.printing import letters, write
from .opinion import Opinion

INK, QUIET = (0.16, 0.13, 0.11), (0.36, 0.31, 0.27)


class _Sheet:
    """Writes lines down a page, and turns it when it is full."""

    def __init__(self, letter: bool) -> None:
        self.out, size = io.BytesIO(), LETTER if letter else A4
        self.page = canvas.Canvas(self.out, pagesize=size)
        self.page.setTitle("Second opinion")
        self.top = self.y = size[1] - 17 * mm

    def room(self, height: float) -> None:
        """Turn the page if there is no room for so much. [points]"""
        if self.y - height < 15 * mm:
            self.page.showPage()
            self.y = self.top

    def line(self, text: str, size: float = 10.5, bold: bool = False, quiet: bool = False) -> None:
        """Write a paragraph, in a font that has its letters."""
        font = letters(text, "Helvetica-Bold" if bold else "Helvetica")
        for row in simpleSplit(text, font, size, 174 * mm):
            self.room(size * 1.4)
            self.page.setFont(font, size)
            self.page.setFillColorRGB(*(QUIET if quiet else INK))
            self.page.drawString(18 * mm, self.y, row)
            self.y -= size * 1.4
        self.y -= 2

    def pictures(self, found: Sequence[tuple[bytes, str]]) -> None:
        """Place photos two in a row."""
        width = 84 * mm
        for i in range(0, len(found), 2):
            pair = [(ImageReader(io.BytesIO(content)), word) for content, word in found[i : i + 2]]
            heights = [min(width * image.getSize()[1] / image.getSize()[0], 110 * mm) for image, _ in pair]
            self.room(max(heights) + 20)
            for place, ((image, word), height) in enumerate(zip(pair, heights, strict=True)):
                x = 18 * mm + place * (width + 6 * mm)
                self.page.drawImage(image, x, self.y - height, width, height, preserveAspectRatio=True, anchor="nw")
                write(self.page, x, self.y - height - 11, word, "Helvetica", 9, width)
            self.y -= max(heights) + 22


def sheet(opinion: Opinion, pictures: Sequence[tuple[bytes, str]], letter: bool = False) -> bytes:
    """Write the sheet as a PDF, on A4 or on paper of Letter size."""
    out = _Sheet(letter)
    out.line("A second opinion, please", 18, bold=True)
    out.line(opinion.title, 13, bold=True)
    for text in opinion.facts:
        out.line(text)
    out.line(f"Verdict so far: {opinion.verdict}", 12, bold=True)
    for reason in opinion.reasons:
        out.line(f"{reason.sentence} {reason.do}")
        if reason.changes:
            out.line(f"What would change it: {reason.changes}", 9.5, quiet=True)
    for heading, rows in (("Seen and smelled", opinion.looks), ("Measured", opinion.readings)):
        if rows:
            out.line(heading, 12, bold=True)
            for row in rows:
                out.line(row)
    out.pictures(pictures)
    out.line(
        "Fuzzy, dry or powdery spots mean discard, whatever else is true. When in doubt, throw it out.", 9.5, quiet=True
    )
    out.page.save()
    return out.out.getvalue()
