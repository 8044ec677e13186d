"""A whole household as an open archive: JSON lines, one file a table, photos, a manifest with checksums; and CSV beside it."""

from __future__ import annotations

import hashlib
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
from itertools import zip_longest
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.base import KyklosError
from ..reckon.readable import unreadable
from ..store.file import keeping, opening
from ..store.file.database import Database, alembic_config, is_bare
from ..store.file.own import SCRATCH
from ..store.file.trouble import words_of
from ..store.records import Culture, values
from ..store.records.base import LAYOUT
from .passport import Passport
from .plain_rows import lines_of, reader_of, tables_of

FORMAT, VERSION = "kyklos-household", 1
MOST_FILES, MOST_BYTES = 50_000, 4_000_000_000  #: An archive larger than that is none of ours.
MOST_LINE = 20_000_000  #: [bytes]
MOST_PHOTO = 20_000_000  #: [bytes]
ROOM = 1.5  #: So many times what is packed is free before it is unpacked.
UNREADABLE = (KeyError, ValueError, RuntimeError, EOFError, OSError, zipfile.BadZipFile, zlib.error)


class ArchiveError(KyklosError):
    """A file is no archive of a household, or does not hold together."""


@dataclass(frozen=True, slots=True)
class ArchiveContent:
    """What an archive holds."""

    layout: str
    made_at: str
    rows: int
    photos: int
    household: str


# Reading one, without trust ------------------------------------------------------------------------------------------


def look(path: Path) -> tuple[ArchiveContent, Mapping[str, Any]]:
    """Read an archive's manifest.

    Raises:
        ArchiveError: If it is none, or of another version.
    """
    try:
        with zipfile.ZipFile(path) as packed:
            names = packed.infolist()
            if len(names) > MOST_FILES or sum(info.file_size for info in names) > MOST_BYTES:
                raise ArchiveError(f"{path.name} is far too large for a household. Nothing was changed.")
            with packed.open("manifest.json") as file:
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
    told_ = ArchiveContent(str(manifest.get("layout")), str(manifest.get("written_at", ""))[:40], rows, photos, str(manifest.get("household", ""))[:80])
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
    found, files = look(path)
    if found.layout not in _known_layouts():
        raise ArchiveError(
            f"{path.name} holds a household of a newer Kyklos (layout {found.layout[:20]}). Nothing was changed: read it with that version."
        )
    with zipfile.ZipFile(path) as archive:
        needed = sum(info.file_size for info in archive.infolist())
        if needed * ROOM > keeping.free_bytes(folder):
            raise ArchiveError(f"{path.name} needs {needed * ROOM / 1e6:.0f} MB to unpack, and there is less room. Nothing was changed.")
        made = _filled(archive, files, folder / "unpacked.db", found.layout)
    if wrong := keeping.whats_wrong(made):
        raise ArchiveError(f"The archive does not hold together: {wrong}. Nothing was changed.")
    _brought_up(made)
    with closing(reader_of(made)) as connection:
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
    if layout == LAYOUT:
        Database(made).migrate()
        return
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
        tables = tables_of(connection)
        for table in tables:
            connection.execute(f'DELETE FROM "{table}"')
        for table in tables:
            if (name := f"tables/{table}.jsonl") not in files:
                raise _broken(name)
            _fill(connection, archive, table, name, files)
        connection.execute("COMMIT")
    return made


def _brought_up(made: Path) -> None:
    """Bring a file that came from elsewhere to today's layout; whatever makes a migration stumble is reported."""
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
        found = {key: _value(archive, value, files) for key, value in row.items()}
        marks = ", ".join("?" for _ in found)
        names = ", ".join(f'"{key}"' for key in found)
        try:
            connection.execute(f'INSERT INTO "{table}" ({names}) VALUES ({marks})', list(found.values()))
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
    with closing(reader_of(one)) as a, closing(reader_of(other)) as b:
        if tables_of(a) != tables_of(b):
            return False
        return all(
            all(x == y for x, y in zip_longest(lines_of(a, table), lines_of(b, table))) for table in tables_of(a)
        )


def is_empty(path: Path) -> bool:
    """Return whether nobody began to use a household: no vessel, no culture, no brew."""
    with closing(reader_of(path)) as connection:
        tables: Sequence[str] = [t for t in ("vessel", "culture", "brew", "bottling", "reading") if t in tables_of(connection)]
        return not any(connection.execute(f'SELECT 1 FROM "{table}" LIMIT 1').fetchone() for table in tables)


def bring_in(path: Path, household: Path, backups: Path, *, replace: bool = False) -> tuple[str, ArchiveContent]:
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
    found, _ = look(path)
    with tempfile.TemporaryDirectory(prefix=f"{SCRATCH}{os.getpid()}-", dir=household.parent) as folder:
        made = unpack(path, Path(folder))
        if not is_bare(household) and not keeping.whats_wrong(household, quick=True):
            if same(made, household):
                return "same", found
            if not is_empty(household) and not replace:
                raise ArchiveError(
                    "This household has records of its own. Import into an empty folder with --folder, or put the archive in its place "
                    "with --replace: what is here is backed up first."
                )
        if household.exists() and household.stat().st_size > 0:
            keeping.present(household, backups, "before-import")
        keeping.put_in_place(made, household)
    return "done", found
