"""Tables of text: a file with commas, semicolons or tabs, or a sheet of a workbook."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from ..base import CoreError
from .columns import recognised

MOST_ROWS, MOST_CELL, MOST_COLUMNS, MOST_TABLES = 5_000, 2_000, 60, 12
HEAD_AMONG = 12  #: A head stands within so many rows; titles may stand above it.


@dataclass(frozen=True, slots=True)
class Table:
    """A table as it was found: a file of text, or a sheet of a workbook."""

    name: str
    rows: tuple[tuple[str, ...], ...]

    @property
    def head_at(self) -> int:
        """In which row its head stands: the one that names most columns, among the first."""
        found = [sum(bool(key) for key in recognised(row)) for row in self.rows[:HEAD_AMONG]]
        return max(range(len(found)), key=lambda i: (found[i], -i)) if found else 0

    @property
    def heads(self) -> tuple[str, ...]:
        """Its columns' heads."""
        return tuple(cell.strip()[:60] for cell in self.rows[self.head_at]) if self.rows else ()


def table(text: str, name: str = "") -> Table:
    """Read a table with commas, semicolons or tabs.

    Raises:
        CoreError: If it is none, or far too large.
    """
    text = text.replace("\r\n", "\n").replace("\r", "\n").replace("\x00", "").lstrip("\ufeff")
    counts = {mark: text[:4000].count(mark) for mark in (";", "\t", ",")}
    mark = ";" if counts[";"] else "\t" if counts["\t"] else ","
    try:
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=mark))
    except csv.Error as problem:
        raise CoreError("This is no table: a cell of it is far too long.") from problem
    return checked(Table(name, tuple(tuple(row) for row in rows)))


def checked(found: Table) -> Table:
    """Return a table without what is empty below it and beside it.

    Raises:
        CoreError: If it is none, or far too large.
    """
    wide = max((i + 1 for row in found.rows for i, cell in enumerate(row) if cell.strip()), default=0)
    rows = [row[:wide] for row in found.rows]
    while rows and not any(cell.strip() for cell in rows[-1]):
        rows.pop()
    if len(rows) < 2 or max(len(row) for row in rows) < 2:
        raise CoreError("This is no table with a head and rows: save the spreadsheet as CSV or XLSX and choose that file.")
    if len(rows) > MOST_ROWS or max(len(row) for row in rows) > MOST_COLUMNS:
        raise CoreError(f"At most {MOST_ROWS} rows and {MOST_COLUMNS} columns at once: cut it to the brews you want.")
    if any(len(cell) > MOST_CELL for row in rows for cell in row):
        raise CoreError("This is no table of brews: a cell of it is far too long.")
    return Table(found.name, tuple(rows))
