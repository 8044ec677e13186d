"""A spreadsheet's file as tables of text: CSV, or the sheets of an XLSX workbook."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Sequence
from datetime import date, datetime, time

from ..core.base import CoreError
from ..core.sheets.tables import MOST_COLUMNS, MOST_ROWS, MOST_TABLES, Table, checked, table

LARGEST_BYTES = 1_500_000
MOST_CARRIED = 400_000  #: Letters of all tables, as a form carries them along.
LARGEST_UNPACKED = 40_000_000  #: A workbook that unpacks to more is refused before it is read. [bytes]


def tables_of(content: bytes, name: str = "") -> list[Table]:
    """Read the tables in a file; sheets without a table are left out.

    Args:
        content: CSV in UTF-8 or as older programs wrote it, or XLSX.
        name: Of the file; what it is, is told by its bytes.

    Raises:
        CoreError: If it is too large, or holds no table.
    """
    if len(content) > LARGEST_BYTES:
        raise CoreError(f"At most {LARGEST_BYTES / 1_000_000:g} MB at once: cut it into parts.")
    found = _sheets(content) if content[:4] == b"PK\x03\x04" else [_text(content, name)]
    if len(carried(found)) > MOST_CARRIED:
        raise CoreError(f"At most {MOST_CARRIED // 1000} kB of text at once: cut it into parts.")
    return found


def _text(content: bytes, name: str) -> Table:
    if content[:8] == b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1":
        raise CoreError("This is a workbook of an old kind: save it as XLSX or CSV and choose that file.")
    try:
        text = content.decode("utf-16" if content[:2] in {b"\xff\xfe", b"\xfe\xff"} else "utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", "replace")
    return table(text, name[:40])


def _sheets(content: bytes) -> list[Table]:
    from openpyxl import load_workbook  # only here: it takes a while to load

    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(one.file_size for one in packed.infolist()) > LARGEST_UNPACKED:
                raise CoreError("This workbook is too large: cut it to the brews you want.")
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True, keep_links=False)
        found = [Table(str(sheet.title)[:40], _rows(sheet)) for sheet in book.worksheets[:MOST_TABLES]]
        book.close()
    except CoreError:
        raise
    except Exception as problem:  # whatever a damaged workbook makes of its reader
        raise CoreError("This workbook cannot be read: save it anew as XLSX, or as CSV.") from problem
    out = []
    for one in found:
        if len([row for row in one.rows if any(cell.strip() for cell in row)]) >= 2:
            out.append(checked(one))
    if not out:
        raise CoreError("There is no table with a head and rows in this workbook.")
    return out


def _rows(sheet: object) -> tuple[tuple[str, ...], ...]:
    rows = sheet.iter_rows(max_row=MOST_ROWS + 1, max_col=MOST_COLUMNS + 1, values_only=True)  # type: ignore[attr-defined]
    return tuple(tuple(_cell(value) for value in row) for row in rows)


def _cell(value: object) -> str:
    """Write a cell's value as text that is read in one way only."""
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == time() else value.isoformat(" ", "minutes")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, time):
        return value.isoformat("minutes")
    if isinstance(value, float):
        return f"{value:.10g}"
    return str(value)


def carried(tables: Sequence[Table]) -> str:
    """Write tables as one text, to be carried along by a form."""
    return json.dumps([[one.name, one.rows] for one in tables], ensure_ascii=False, separators=(",", ":"))


def uncarried(text: str) -> list[Table]:
    """Read tables that a form carried along.

    Raises:
        CoreError: If it is none of ours.
    """
    try:
        found = json.loads(text)
        tables = [Table(str(name), tuple(tuple(str(cell) for cell in row) for row in rows)) for name, rows in found[:MOST_TABLES]]
    except (ValueError, TypeError, RecursionError, KeyError) as problem:
        raise CoreError("The table did not come along: choose the file again.") from problem
    return [checked(one) for one in tables]
