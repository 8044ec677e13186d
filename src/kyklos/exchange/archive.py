"""A whole household as an open archive: JSON lines, one file a table, photos, a manifest with checksums; and CSV beside it."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import os
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from itertools import zip_longest
from pathlib import Path
from typing import Any
from urllib.parse import quote

from .. import __version__
from ..core.errors import KyklosError
from ..store import keeping
from ..store.database import Database, alembic_config

FORMAT, VERSION = "kyklos-household", 1
SKIPPED = {"alembic_version", "sqlite_sequence"}
MOST_FILES, MOST_BYTES = 50_000, 4_000_000_000  #: An archive larger than that is none of ours.
MOST_LINE = 20_000_000  #: [bytes]
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


class ArchiveError(KyklosError):
    """A file is no archive of a household, or does not hold together."""


@dataclass(frozen=True, slots=True)
class Told:
    """What an archive holds."""

    layout: str
    made_at: str
    rows: int
    photos: int
    household: str


def _reader(path: Path) -> sqlite3.Connection:
    connection = sqlite3.connect(f"file:{quote(str(path))}?mode=ro", uri=True, timeout=30)
    connection.row_factory = sqlite3.Row
    return connection


def _tables(connection: sqlite3.Connection) -> list[str]:
    rows = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")
    return [row[0] for row in rows if row[0] not in SKIPPED and not row[0].startswith("sqlite_")]


def _lines(connection: sqlite3.Connection, table: str) -> Iterator[str]:
    """Write each row of a table as one line of JSON, in the order of its number."""
    columns = [row[1] for row in connection.execute(f'PRAGMA table_info("{table}")')]
    order = "id" if "id" in columns else columns[0]
    for row in connection.execute(f'SELECT * FROM "{table}" ORDER BY "{order}"'):
        told = {key: row[key] for key in columns}
        for key, value in told.items():
            if isinstance(value, bytes):
                told[key] = {"photo": f"photos/{table}-{row['id']}-{key}", "sha256": hashlib.sha256(value).hexdigest()}
        yield json.dumps(told, ensure_ascii=False, separators=(",", ":"), sort_keys=False, allow_nan=False)


def _pictures(connection: sqlite3.Connection, table: str) -> Iterator[tuple[str, bytes]]:
    columns = [row[1] for row in connection.execute(f'PRAGMA table_info("{table}")')]
    if "id" not in columns:
        return
    for row in connection.execute(f'SELECT * FROM "{table}" ORDER BY id'):
        for key in columns:
            if isinstance(row[key], bytes):
                yield f"photos/{table}-{row['id']}-{key}", row[key]


def export(household: Path, target: Path, now: datetime | None = None) -> Told:
    """Write a whole household as an archive, from one look at it; the file appears whole or not at all.

    Args:
        household: Its file, which may be in use.
        target: The archive, a zip.
        now: When; the clock's unless told.

    Raises:
        ArchiveError: If it cannot be written.
    """
    part = target.with_name(f".{target.name}.part")
    try:
        os.close(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600))
        with closing(_reader(household)) as connection, zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as out:
            connection.execute("BEGIN")
            told = _written(connection, out, now or datetime.now(UTC))
        part.replace(target)
    except (OSError, sqlite3.Error) as problem:
        raise ArchiveError(f"No archive was written: {problem}. Your household is as it was.") from problem
    finally:
        part.unlink(missing_ok=True)
    return told


def _written(connection: sqlite3.Connection, out: zipfile.ZipFile, now: datetime) -> Told:
    layout = str(connection.execute("SELECT version_num FROM alembic_version").fetchone()[0])
    files: dict[str, dict[str, Any]] = {}
    rows = photos = 0
    for table in _tables(connection):
        name, digest, count = f"tables/{table}.jsonl", hashlib.sha256(), 0
        with out.open(_entry(name), "w") as file:
            for line in _lines(connection, table):
                data = f"{line}\n".encode()
                digest.update(data)
                file.write(data)
                count += 1
        files[name] = {"rows": count, "sha256": digest.hexdigest()}
        rows += count
        for path, content in _pictures(connection, table):
            out.writestr(_entry(path), content, zipfile.ZIP_STORED)
            files[path] = {"sha256": hashlib.sha256(content).hexdigest(), "bytes": len(content)}
            photos += 1
    for name, question in CSV_FILES.items():
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
    return Told(layout, str(manifest["written_at"]), rows, photos, str(manifest["household"]))


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
        writer.writerow([f"'{value}" if isinstance(value, str) and value[:1] in "=+-@\t\r" else value for value in row])
    return out.getvalue()


# Reading one, without trust ------------------------------------------------------------------------------------------


def look(path: Path) -> tuple[Told, Mapping[str, Any]]:
    """Read an archive's manifest.

    Raises:
        ArchiveError: If it is none, or of another version.
    """
    try:
        with zipfile.ZipFile(path) as told:
            names = told.infolist()
            if len(names) > MOST_FILES or sum(info.file_size for info in names) > MOST_BYTES:
                raise ArchiveError(f"{path.name} is far too large for a household. Nothing was changed.")
            with told.open("manifest.json") as file:
                raw = file.read(MOST_LINE + 1)
        manifest = json.loads(raw[:MOST_LINE].decode("utf-8"))
    except (OSError, KeyError, ValueError, zipfile.BadZipFile, RecursionError, NotImplementedError) as problem:
        raise ArchiveError(f"{path.name} is no archive of a household. Nothing was changed.") from problem
    if not isinstance(manifest, dict) or manifest.get("format") != FORMAT or not isinstance(manifest.get("files"), dict):
        raise ArchiveError(f"{path.name} is no archive of a household. Nothing was changed.")
    if manifest.get("version") != VERSION:
        raise ArchiveError(f"{path.name} was written in a newer form. Nothing was changed: read it with that version of Kyklos.")
    files = {str(key): value for key, value in manifest["files"].items() if isinstance(value, dict)}
    rows = sum(value["rows"] for value in files.values() if isinstance(value.get("rows"), int))
    photos = sum(name.startswith("photos/") for name in files)
    told_ = Told(str(manifest.get("layout")), str(manifest.get("written_at", ""))[:40], rows, photos, str(manifest.get("household", ""))[:80])
    return told_, files


def _file(archive: zipfile.ZipFile, name: str, files: Mapping[str, Any]) -> bytes:
    """Read one file of an archive and hold it against its checksum."""
    try:
        content = archive.read(name)
    except (KeyError, zipfile.BadZipFile, OSError, NotImplementedError, RuntimeError) as problem:
        raise ArchiveError(f"{name} is missing or broken in the archive. Nothing was changed.") from problem
    if hashlib.sha256(content).hexdigest() != files.get(name, {}).get("sha256"):
        raise ArchiveError(f"{name} is not as it was written: the archive is damaged. Nothing was changed.")
    return content


def _rows(archive: zipfile.ZipFile, name: str, files: Mapping[str, Any]) -> Iterator[dict[str, Any]]:
    for number, line in enumerate(_file(archive, name, files).rstrip(b"\n").split(b"\n"), 1):
        if not line:
            continue
        try:
            row = json.loads(line.decode("utf-8"))
        except (ValueError, RecursionError) as problem:
            raise ArchiveError(f"{name}, line {number} cannot be read. Nothing was changed.") from problem
        if not isinstance(row, dict):
            raise ArchiveError(f"{name}, line {number} is no record. Nothing was changed.")
        yield row


def unpack(path: Path, folder: Path) -> Path:
    """Make a household's file of an archive, checked and of today's layout.

    Args:
        path: The archive.
        folder: Where to make it.

    Raises:
        ArchiveError: If it does not hold together; nothing else is touched.
    """
    from alembic import command
    from alembic.script import ScriptDirectory

    told, files = look(path)
    config = alembic_config()
    known = {script.revision for script in ScriptDirectory.from_config(config).walk_revisions()}
    if told.layout not in known:
        raise ArchiveError(
            f"{path.name} holds a household of a newer Kyklos (layout {told.layout}). Nothing was changed: read it with that version."
        )
    made = folder / "unpacked.db"
    database = Database(made)
    config.attributes["engine"] = database.for_migrations()
    command.upgrade(config, told.layout)
    database.close()
    with closing(sqlite3.connect(made, isolation_level=None)) as connection, zipfile.ZipFile(path) as archive:
        connection.execute("PRAGMA foreign_keys = OFF")
        connection.execute("BEGIN IMMEDIATE")
        tables = _tables(connection)
        for table in tables:
            connection.execute(f'DELETE FROM "{table}"')
        for table in tables:
            name = f"tables/{table}.jsonl"
            if name in files:
                _fill(connection, archive, table, name, files)
        connection.execute("COMMIT")
    if wrong := keeping.whats_wrong(made):
        raise ArchiveError(f"The archive does not hold together: {wrong}. Nothing was changed.")
    database = Database(made)
    database.migrate()
    database.close()
    return made


def _fill(connection: sqlite3.Connection, archive: zipfile.ZipFile, table: str, name: str, files: Mapping[str, Any]) -> None:
    columns = [row[1] for row in connection.execute(f'PRAGMA table_info("{table}")')]
    for row in _rows(archive, name, files):
        strange = set(row) - set(columns)
        if strange:
            raise ArchiveError(f"{name} tells of {sorted(strange)[0][:40]}, which this layout does not know. Nothing was changed.")
        told = {key: _value(archive, value, files) for key, value in row.items()}
        marks = ", ".join("?" for _ in told)
        names = ", ".join(f'"{key}"' for key in told)
        try:
            connection.execute(f'INSERT INTO "{table}" ({names}) VALUES ({marks})', list(told.values()))
        except (sqlite3.Error, OverflowError, ValueError) as problem:
            raise ArchiveError(f"A record of {table} does not fit: {problem}. Nothing was changed.") from problem


def _value(archive: zipfile.ZipFile, value: Any, files: Mapping[str, Any]) -> Any:
    """Turn a value of JSON into one of the file; a picture is read from its own file."""
    if isinstance(value, dict) and set(value) == {"photo", "sha256"}:
        return _file(archive, str(value["photo"]), files)
    if isinstance(value, list | dict):
        raise ArchiveError("A record holds what no column can. Nothing was changed.")
    return value


def same(one: Path, other: Path) -> bool:
    """Return whether two households' files hold the same, record for record."""
    with closing(_reader(one)) as a, closing(_reader(other)) as b:
        if _tables(a) != _tables(b):
            return False
        return all(
            all(x == y for x, y in zip_longest(_lines(a, table), _lines(b, table))) for table in _tables(a)
        )


def is_empty(path: Path) -> bool:
    """Return whether nobody began to use a household: no vessel, no culture, no brew."""
    with closing(_reader(path)) as connection:
        tables: Sequence[str] = [t for t in ("vessel", "culture", "brew", "bottling", "reading") if t in _tables(connection)]
        return not any(connection.execute(f'SELECT 1 FROM "{table}" LIMIT 1').fetchone() for table in tables)


def bring_in(path: Path, household: Path, backups: Path, *, replace: bool = False) -> tuple[str, Told]:
    """Import an archive into a household that nobody uses now.

    Args:
        path: The archive.
        household: The household's file, migrated.
        backups: Where the present is kept first.
        replace: Put it in the place of what is there.

    Returns: "same" where it holds all of it already, or "done"; and what the archive holds.

    Raises:
        ArchiveError: If it does not hold together, or other records are there.
    """
    told, _ = look(path)
    with tempfile.TemporaryDirectory(prefix="kyklos-import-", dir=household.parent) as folder:
        made = unpack(path, Path(folder))
        if same(made, household):
            return "same", told
        if not is_empty(household) and not replace:
            raise ArchiveError(
                "This household has records of its own. Import into an empty folder with --folder, or put the archive in its place "
                "with --replace: what is here is backed up first."
            )
        keeping.make(household, backups, "before-import")
        keeping.put_in_place(made, household)
    return "done", told
