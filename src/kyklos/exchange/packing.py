"""A household written out as an open archive: one file a table, photos, a manifest with checksums, and CSV beside it."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import os
import sqlite3
import zipfile
from collections.abc import Mapping
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from .. import __version__
from ..store.file.own import create_part, part_of
from ..store.file.trouble import words_of
from ..store.records.base import LAYOUT
from .archive import FORMAT, VERSION, ArchiveContent, ArchiveError
from .plain_rows import lines_of, pictures_of, reader_of, tables_of

RECKONED = ("=", "+", "-", "@", "\t", "\r")  #: How a cell begins that a spreadsheet would reckon with.
CSV_FILES: Mapping[str, str] = {
    "readings": (
        "SELECT r.at AS at_utc, v.name AS vessel, c.name AS culture, b.id AS brew, r.ph, r.instrument, r.celsius AS degc, r.gravity, "
        "r.ta_g_per_l, r.note FROM reading r JOIN brew b ON b.liquid_id = r.liquid_id JOIN vessel v ON v.id = b.vessel_id "
        "JOIN culture c ON c.id = b.culture_id ORDER BY r.at, r.id"
    ),
    "tastings": (
        "SELECT t.at AS at_utc, v.name AS vessel, b.id AS brew, w.name AS taster, t.score FROM tasting t "
        "JOIN brew b ON b.liquid_id = t.liquid_id JOIN vessel v ON v.id = b.vessel_id JOIN taster w ON w.id = t.taster_id "
        "ORDER BY t.at, t.id"
    ),
    "brews": (
        "SELECT b.id AS brew, b.pitched_at AS begun_utc, b.ended_at AS ended_utc, b.status, b.kind, v.name AS vessel, "
        "c.name AS culture, b.tea, b.leaf_g_per_l, b.sugar_g_per_l, b.honey_share FROM brew b JOIN vessel v ON v.id = b.vessel_id "
        "JOIN culture c ON c.id = b.culture_id ORDER BY b.pitched_at, b.id"
    ),
    "bottles": (
        "SELECT x.id AS bottle, g.at AS filled_utc, g.brew_id AS brew, g.flavour, g.note AS name, y.kind, y.volume_ml, x.state, "
        "x.gone_at AS gone_utc, x.left_as, x.hiss, x.taste FROM bottle x JOIN bottling g ON g.id = x.bottling_id "
        "JOIN bottle_type y ON y.id = x.type_id ORDER BY g.at, x.id"
    ),
    "transfers": (
        "SELECT t.at AS at_utc, t.litres, t.how, t.source_id AS from_liquid, t.target_id AS into_liquid, t.name, t.ph FROM transfer t "
        "ORDER BY t.at, t.id"
    ),
}


def export(household: Path, target: Path, now: datetime | None = None) -> ArchiveContent:
    """Write a whole household as an archive, from one look at it; the file appears whole or not at all.

    Args:
        household: Its file, which may be in use; it is only read.
        target: The archive, a zip.
        now: When; the clock's unless given.

    Raises:
        ArchiveError: If it cannot be written.
    """
    part = part_of(target)
    try:
        with closing(reader_of(household)) as connection, os.fdopen(create_part(part), "w+b") as file:
            connection.execute("BEGIN")
            with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as out:
                content = _written(connection, out, now or datetime.now(UTC))
            file.flush()
            os.fsync(file.fileno())
        part.replace(target)
    except (OSError, sqlite3.Error, ValueError) as problem:
        raise ArchiveError(f"No archive was written: {words_of(problem)}. Your household is as it was.") from problem
    finally:
        part.unlink(missing_ok=True)
    return content


def _written(connection: sqlite3.Connection, out: zipfile.ZipFile, now: datetime) -> ArchiveContent:
    layout = str(connection.execute("SELECT version_num FROM alembic_version").fetchone()[0])
    files: dict[str, dict[str, Any]] = {}
    rows = photos = 0
    for table in tables_of(connection):
        name, digest, count = f"tables/{table}.jsonl", hashlib.sha256(), 0
        with out.open(_entry(name), "w") as file:
            for line in lines_of(connection, table):
                data = f"{line}\n".encode()
                digest.update(data)
                file.write(data)
                count += 1
        files[name] = {"rows": count, "sha256": digest.hexdigest()}
        rows += count
        for path, content in pictures_of(connection, table):
            out.writestr(_entry(path), content, zipfile.ZIP_STORED)
            files[path] = {"sha256": hashlib.sha256(content).hexdigest(), "bytes": len(content)}
            photos += 1
    current = layout == LAYOUT
    for name, question in CSV_FILES.items() if current else ():  # an older file has other columns; its tables are whole
        text = _csv(connection, question)
        out.writestr(_entry(f"csv/{name}.csv"), text)
        files[f"csv/{name}.csv"] = {"sha256": hashlib.sha256(text.encode()).hexdigest()}
    named = connection.execute("SELECT name FROM household LIMIT 1").fetchone()
    manifest = {
        "format": FORMAT,
        "version": VERSION,
        "layout": layout,
        "written_by": __version__,
        "written_at": now.astimezone(UTC).isoformat(timespec="seconds"),
        "household": named[0] if named else "",
        "files": files,
    }
    out.writestr(_entry("manifest.json"), json.dumps(manifest, indent=1, ensure_ascii=False))
    return ArchiveContent(layout, str(manifest["written_at"]), rows, photos, str(manifest["household"]))


def _entry(name: str) -> zipfile.ZipInfo:
    """Name a file of the archive, with the same date always: equal content gives equal files."""
    info = zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0))
    info.compress_type = zipfile.ZIP_DEFLATED
    info.external_attr = 0o600 << 16
    return info


def _csv(connection: sqlite3.Connection, question: str) -> str:
    """Write rows as CSV; a cell that a spreadsheet would reckon with is set behind an apostrophe."""
    found = connection.execute(question)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([column[0] for column in found.description])
    for row in found:
        writer.writerow([f"'{value}" if isinstance(value, str) and value.startswith(RECKONED) else value for value in row])
    return out.getvalue()
