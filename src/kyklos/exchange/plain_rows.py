"""A household's file as plain rows: its tables, their lines as JSON, the pictures beside them."""

from __future__ import annotations

import hashlib
import json
import sqlite3
from collections.abc import Iterator
from pathlib import Path

from ..store.file import opening
from ..store.file.journal import SENT
from ..store.records import DataKey

SKIPPED = {"alembic_version", "sqlite_sequence", *(kind.__tablename__ for kind in (DataKey, *SENT))}  #: A household read in elsewhere pairs its devices anew.


def reader_of(path: Path) -> sqlite3.Connection:
    """Open a household's file for reading only."""
    connection = opening.reading(path, 30)
    connection.row_factory = sqlite3.Row
    return connection


def tables_of(connection: sqlite3.Connection) -> list[str]:
    """List the tables that hold records: an index of words, and what SQLite keeps for it, is made anew where they are read in."""
    rows = connection.execute("SELECT name, type FROM pragma_table_list WHERE schema = 'main' ORDER BY name")
    return [name for name, kind in rows if kind == "table" and name not in SKIPPED and not name.startswith("sqlite_")]


def lines_of(connection: sqlite3.Connection, table: str) -> Iterator[str]:
    """Write each row of a table as one line of JSON, in the order of its number."""
    columns = [row[1] for row in connection.execute(f'PRAGMA table_info("{table}")')]
    order = "id" if "id" in columns else columns[0]
    for row in connection.execute(f'SELECT * FROM "{table}" ORDER BY "{order}"'):
        values = {key: row[key] for key in columns}
        for key, value in values.items():
            if isinstance(value, bytes):
                values[key] = {"photo": f"photos/{table}-{row['id']}-{key}", "sha256": hashlib.sha256(value).hexdigest()}
        yield json.dumps(values, ensure_ascii=False, separators=(",", ":"), sort_keys=False, allow_nan=False)


def pictures_of(connection: sqlite3.Connection, table: str) -> Iterator[tuple[str, bytes]]:
    """List a table's pictures, each with the name it has in an archive."""
    columns = [row[1] for row in connection.execute(f'PRAGMA table_info("{table}")')]
    if "id" not in columns:
        return
    for row in connection.execute(f'SELECT * FROM "{table}" ORDER BY id'):
        for key in columns:
            if isinstance(row[key], bytes):
                yield f"photos/{table}-{row['id']}-{key}", row[key]
