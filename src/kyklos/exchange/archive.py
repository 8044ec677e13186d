"""A whole household as an open archive: JSON lines, one file a table, photos, a manifest with checksums; and CSV beside it."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import math
import os
import sqlite3
import tempfile
import zipfile
import zlib
from collections.abc import Iterator, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from itertools import zip_longest
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from .. import __version__
from ..core.errors import KyklosError
from ..reckon.readable import unreadable
from ..store import keeping, opening, values
from ..store.base import LAYOUT
from ..store.database import Database, alembic_config, is_bare
from ..store.models import Culture
from ..store.own import SCRATCH, create_part, part_of
from ..store.trouble import words_of
from .passport import Passport

FORMAT, VERSION = "kyklos-household", 1
SKIPPED = {"alembic_version", "sqlite_sequence"}
MOST_FILES, MOST_BYTES = 50_000, 4_000_000_000  #: An archive larger than that is none of ours.
MOST_LINE = 20_000_000  #: [bytes]
MOST_PHOTO = 20_000_000  #: [bytes]
ROOM = 1.5  #: So many times what is packed is free before it is unpacked.
RECKONED = ("=", "+", "-", "@", "\t", "\r")  #: How a cell begins that a spreadsheet would reckon with.
UNREADABLE = (KeyError, ValueError, RuntimeError, EOFError, OSError, zipfile.BadZipFile, zlib.error)
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
    connection = opening.reading(path, 30)
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
        household: Its file, which may be in use; it is only read.
        target: The archive, a zip.
        now: When; the clock's unless told.

    Raises:
        ArchiveError: If it cannot be written.
    """
    part = part_of(target)
    try:
        with closing(_reader(household)) as connection, os.fdopen(create_part(part), "w+b") as file:
            connection.execute("BEGIN")
            with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as out:
                told = _written(connection, out, now or datetime.now(UTC))
            file.flush()
            os.fsync(file.fileno())
        part.replace(target)
    except (OSError, sqlite3.Error, ValueError) as problem:
        raise ArchiveError(f"No archive was written: {words_of(problem)}. Your household is as it was.") from problem
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
        writer.writerow([f"'{value}" if isinstance(value, str) and value.startswith(RECKONED) else value for value in row])
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
    except UNREADABLE as problem:  # RuntimeError: too deep, encrypted or packed in a way not known
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


def _broken(name: str) -> ArchiveError:
    return ArchiveError(f"{name[:80]} is missing or broken in the archive. Nothing was changed.")


def _changed(name: str) -> ArchiveError:
    return ArchiveError(f"{name[:80]} is not as it was written: the archive is damaged. Nothing was changed.")


def _photo(archive: zipfile.ZipFile, name: str, files: Mapping[str, Any]) -> bytes:
    """Read one picture of an archive and hold it against its checksum."""
    try:
        if archive.getinfo(name).file_size > MOST_PHOTO:
            raise ArchiveError(f"{name[:80]} is far too large for a photo. Nothing was changed.")
        content = archive.read(name)
    except UNREADABLE as problem:
        raise _broken(name) from problem
    if hashlib.sha256(content).hexdigest() != files.get(name, {}).get("sha256"):
        raise _changed(name)
    return content


def _rows(archive: zipfile.ZipFile, name: str, files: Mapping[str, Any]) -> Iterator[dict[str, Any]]:
    """Read the records of a table one by one, whatever its size, and hold all of it against its checksum at the end."""
    digest, number = hashlib.sha256(), 0
    try:
        with archive.open(name) as file:
            while line := file.readline(MOST_LINE):
                digest.update(line)
                number += 1
                if line.strip():
                    yield _row(line, name, number)
    except UNREADABLE as problem:
        raise _broken(name) from problem
    if digest.hexdigest() != files.get(name, {}).get("sha256"):
        raise _changed(name)


def _no_constant(name: str) -> float:
    raise ValueError(f"{name} is no number")


def _finite(text: str) -> float:
    value = float(text)
    return value if math.isfinite(value) else _no_constant(text)


def _row(line: bytes, name: str, number: int) -> dict[str, Any]:
    try:
        row = json.loads(line.decode("utf-8"), parse_constant=_no_constant, parse_float=_finite)
    except (ValueError, RecursionError) as problem:
        raise ArchiveError(f"{name}, line {number} cannot be read. Nothing was changed.") from problem
    if not isinstance(row, dict):
        raise ArchiveError(f"{name}, line {number} is no record. Nothing was changed.")
    return row


def unpack(path: Path, folder: Path) -> Path:
    """Make a household's file of an archive, checked and of today's layout.

    Args:
        path: The archive.
        folder: Where to make it.

    Raises:
        ArchiveError: If it does not hold together; nothing else is touched.
    """
    told, files = look(path)
    if told.layout not in _known_layouts():
        raise ArchiveError(
            f"{path.name} holds a household of a newer Kyklos (layout {told.layout[:20]}). Nothing was changed: read it with that version."
        )
    with zipfile.ZipFile(path) as archive:
        needed = sum(info.file_size for info in archive.infolist())
        if needed * ROOM > keeping.free_bytes(folder):
            raise ArchiveError(f"{path.name} needs {needed * ROOM / 1e6:.0f} MB to unpack, and there is less room. Nothing was changed.")
        made = _filled(archive, files, folder / "unpacked.db", told.layout)
    if wrong := keeping.whats_wrong(made):
        raise ArchiveError(f"The archive does not hold together: {wrong}. Nothing was changed.")
    _brought_up(made)
    with closing(_reader(made)) as connection:
        if (problem := next(values.problems(connection), "")) or (problem := _household_is_one(connection)):
            raise ArchiveError(f"The archive holds what Kyklos cannot: {problem}. Nothing was changed.")
    database = Database(made)
    try:
        with database.reader() as session:
            if problem := unreadable(session) or _strange_passport(session):
                raise ArchiveError(f"The archive holds what Kyklos cannot: {problem}. Nothing was changed.")
    finally:
        database.close()
    return made


def _strange_passport(session: Session) -> str:
    """Return the first line whose kept passport is none."""
    for culture in session.scalars(select(Culture)):
        try:
            if culture.passport:
                Passport.model_validate(culture.passport)
        except ValidationError:
            return f"the passport of culture {culture.id}"
    return ""


def _known_layouts() -> set[str]:
    from alembic.script import ScriptDirectory

    return {script.revision for script in ScriptDirectory.from_config(alembic_config()).walk_revisions()}


def _bare(made: Path, layout: str) -> None:
    """Make a file of a layout, without records."""
    from alembic import command

    config = alembic_config()
    config.attributes["engine"] = Database(made).for_migrations()
    command.upgrade(config, layout)
    config.attributes["engine"].dispose()


def _filled(archive: zipfile.ZipFile, files: Mapping[str, Any], made: Path, layout: str) -> Path:
    """Make a file of an archive's layout and put its records in."""
    _bare(made, layout)
    with closing(opening.connect(made, "rw")) as connection:
        connection.execute("PRAGMA foreign_keys = OFF")
        connection.execute("BEGIN IMMEDIATE")
        tables = _tables(connection)
        for table in tables:
            connection.execute(f'DELETE FROM "{table}"')
        for table in tables:
            if (name := f"tables/{table}.jsonl") not in files:
                raise _broken(name)
            _fill(connection, archive, table, name, files)
        connection.execute("COMMIT")
    return made


def _brought_up(made: Path) -> None:
    """Bring a file that came from elsewhere to today's layout; whatever its records make a migration stumble over is told."""
    database = Database(made)
    try:
        database.migrate()
    except Exception as problem:
        raise ArchiveError(f"The archive's records do not fit today's layout ({type(problem).__name__}). Nothing was changed.") from problem
    finally:
        database.close()


def _household_is_one(connection: sqlite3.Connection) -> str:
    count = connection.execute("SELECT count(*) FROM household").fetchone()[0]
    return "" if count == 1 else f"{count} households, not one"


def _fill(connection: sqlite3.Connection, archive: zipfile.ZipFile, table: str, name: str, files: Mapping[str, Any]) -> None:
    columns = [row[1] for row in connection.execute(f'PRAGMA table_info("{table}")')]
    for row in _rows(archive, name, files):
        strange = set(row) - set(columns)
        if strange:
            raise ArchiveError(f"{name} tells of {sorted(strange)[0][:40]!r}, which this layout does not know. Nothing was changed.")
        told = {key: _value(archive, value, files) for key, value in row.items()}
        marks = ", ".join("?" for _ in told)
        names = ", ".join(f'"{key}"' for key in told)
        try:
            connection.execute(f'INSERT INTO "{table}" ({names}) VALUES ({marks})', list(told.values()))
        except (sqlite3.Error, OverflowError, ValueError) as problem:
            raise ArchiveError(f"A record of {table} does not fit: {words_of(problem)}. Nothing was changed.") from problem


def _value(archive: zipfile.ZipFile, value: Any, files: Mapping[str, Any]) -> Any:
    """Turn a value of JSON into one of the file; a picture is read from its own file."""
    if isinstance(value, dict) and set(value) == {"photo", "sha256"}:
        return _photo(archive, str(value["photo"]), files)
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
        household: The household's file; it need not be there yet.
        backups: Where the present is kept first.
        replace: Put it in the place of what is there.

    Returns: "same" where it holds all of it already, or "done"; and what the archive holds.

    Raises:
        ArchiveError: If it does not hold together, or other records are there.
    """
    told, _ = look(path)
    with tempfile.TemporaryDirectory(prefix=f"{SCRATCH}{os.getpid()}-", dir=household.parent) as folder:
        made = unpack(path, Path(folder))
        if not is_bare(household) and not keeping.whats_wrong(household, quick=True):
            if same(made, household):
                return "same", told
            if not is_empty(household) and not replace:
                raise ArchiveError(
                    "This household has records of its own. Import into an empty folder with --folder, or put the archive in its place "
                    "with --replace: what is here is backed up first."
                )
        if household.exists() and household.stat().st_size > 0:
            keeping.present(household, backups, "before-import")
        keeping.put_in_place(made, household)
    return "done", told
