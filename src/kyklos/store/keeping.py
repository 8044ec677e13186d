"""Backups: one whole file by SQLite's own means, checked after writing, kept by day, week and month; restoring one."""

from __future__ import annotations

import contextlib
import os
import re
import shutil
import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from urllib.parse import quote

from ..core.errors import KyklosError

FOLDER = "backups"
DAILY = "daily"
KEPT_DAYS, KEPT_WEEKS, KEPT_MONTHS = 7, 4, 12  #: Of the daily ones.
KEPT_OTHERS = 12  #: Of those made by hand, before an upgrade, a restore or an import: so many of each.
DAY = timedelta(hours=24)
LEAST_FREE = 200_000_000  #: Less room than this is warned of. [bytes]
MAGIC = b"SQLite format 3\x00"
_NAME = re.compile(r"kyklos-(\d{8}-\d{6})(?:-(\d+))?-([a-z0-9-]+)\.db")


class KeepingError(KyklosError):
    """A backup could not be made, or a file is none: with a sentence that says what is safe and what to do."""


@dataclass(frozen=True, slots=True)
class Backup:
    """A backup that lies in the folder."""

    path: Path
    at: datetime
    why: str  #: daily, by-hand, before-0017, before-restore, before-import.
    size: int  #: [bytes]

    @property
    def words(self) -> str:
        """Why it was made, in words."""
        return {"by-hand": "made by hand", DAILY: "of the day"}.get(self.why, self.why.replace("-", " "))


def folder_of(household: Path, chosen: Path | None = None) -> Path:
    """Return where backups lie: beside the household's file, or where somebody chose."""
    return chosen if chosen is not None else household.parent / FOLDER


def listed(folder: Path) -> list[Backup]:
    """List the backups in a folder, the newest first; what is no backup is left out."""
    out = []
    for path in folder.glob("kyklos-*.db") if folder.is_dir() else ():
        found = _NAME.fullmatch(path.name)
        if found:
            with contextlib.suppress(ValueError, OSError):
                at = datetime.strptime(found[1], "%Y%m%d-%H%M%S").replace(tzinfo=UTC)
                out.append(Backup(path, at, found[3], path.stat().st_size))
    return sorted(out, key=lambda one: (one.at, one.path.name), reverse=True)


def back_up(path: Path, target: Path) -> None:
    """Copy a file by SQLite's own means, with what still stands in the log beside it, while it may be written to.

    Args:
        path: The household's file, which may be in use.
        target: Where to; it appears whole, or not at all, and only its owner can read it.

    Raises:
        KeepingError: If there is no room, no right, or what was written does not read back whole.
    """
    part = target.with_name(f".{target.name}.part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        part.unlink(missing_ok=True)
        os.close(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600))
        with closing(sqlite3.connect(path, timeout=30)) as source, closing(sqlite3.connect(part)) as copy:
            source.backup(copy, pages=2000, sleep=0.002)
            copy.execute("PRAGMA journal_mode=DELETE")
        if wrong := whats_wrong(part):
            raise KeepingError(f"The backup did not read back whole ({wrong}), so it was not kept. Your household is as it was.")
        with part.open("rb") as file:
            os.fsync(file.fileno())
        part.replace(target)
        _settle(target.parent)
    except (OSError, sqlite3.Error) as problem:
        raise KeepingError(
            f"No backup was made: {_words(problem)}. Your household is as it was. Make room, or choose another folder, and try again."
        ) from problem
    finally:
        with contextlib.suppress(OSError):
            part.unlink(missing_ok=True)


def _settle(folder: Path) -> None:
    """Write a folder's own entry down, where the system can."""
    with contextlib.suppress(OSError):
        number = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(number)
        finally:
            os.close(number)


def _words(problem: Exception) -> str:
    """Return what the system said, without its numbers."""
    said = getattr(problem, "strerror", None) or str(problem)
    known = {
        "No space left on device": "the disk is full",
        "database or disk is full": "the disk is full",
        "Permission denied": "this user has no right to write there",
        "Read-only file system": "the disk can only be read",
        "attempt to write a readonly database": "the file can only be read",
        "unable to open database file": "it cannot be opened",
    }
    return known.get(said, said[:1].lower() + said[1:])


def make(path: Path, folder: Path, why: str, now: datetime | None = None) -> Backup:
    """Make a backup under a name that is not taken.

    Args:
        path: The household's file.
        folder: Where backups lie.
        why: A word for its name: daily, by-hand, before-restore.
        now: UTC; the clock's unless told.
    """
    moment = now or datetime.now(UTC)
    stem = f"kyklos-{moment:%Y%m%d-%H%M%S}"
    for number in range(1000):
        target = folder / f"{stem}{f'-{number}' if number else ''}-{why}.db"
        if not target.exists():
            break
    back_up(path, target)
    prune(folder)
    return Backup(target, moment.replace(microsecond=0), why, target.stat().st_size)


def prune(folder: Path) -> list[Path]:
    """Let go of what is older than what is kept: 7 days, 4 weeks and 12 months of the daily ones, 12 of each other kind."""
    every, kept = listed(folder), set()
    daily = [one for one in every if one.why == DAILY]
    for key, most in (("%Y%m%d", KEPT_DAYS), ("%G%V", KEPT_WEEKS), ("%Y%m", KEPT_MONTHS)):
        seen: dict[str, Path] = {}
        for one in daily:
            seen.setdefault(one.at.strftime(key), one.path)
        kept |= set(list(seen.values())[:most])
    for why in {one.why for one in every} - {DAILY}:
        kept |= {one.path for one in [other for other in every if other.why == why][:KEPT_OTHERS]}
    gone = [one.path for one in every if one.path not in kept]
    for path in gone:
        with contextlib.suppress(OSError):
            path.unlink()
    return gone


def due(folder: Path, now: datetime) -> bool:
    """Return whether a daily backup is due."""
    last = next((one for one in listed(folder) if one.why == DAILY), None)
    return last is None or now - last.at >= DAY


def whats_wrong(path: Path, *, quick: bool = False) -> str:
    """Return what is wrong with a household's file, in a few words; empty: nothing.

    Args:
        path: Read only, nothing of it is touched.
        quick: Look at its structure only, not at each index.
    """
    try:
        size = path.stat().st_size
        if size == 0:
            return "it is empty"
        with path.open("rb") as file:
            if file.read(16) != MAGIC:
                return "it is no household of Kyklos"
        with closing(sqlite3.connect(f"file:{quote(str(path))}?mode=ro", uri=True, timeout=10)) as connection:
            found = connection.execute(f"PRAGMA {'quick_check' if quick else 'integrity_check'}(5)").fetchall()
            if found != [("ok",)]:
                return "it is damaged"
            tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if tables and not {"alembic_version", "household"} <= tables:
                return "it is no household of Kyklos"
            if not quick and connection.execute("PRAGMA foreign_key_check").fetchone() is not None:
                return "some of its records point nowhere"
    except sqlite3.DatabaseError as problem:
        return "it is damaged" if "malformed" in str(problem) or "not a database" in str(problem) else str(problem)
    except OSError as problem:
        return _words(problem)
    return ""


def layout_in(path: Path) -> str | None:
    """Return the layout of a household's file; None: it has none."""
    with closing(sqlite3.connect(f"file:{quote(str(path))}?mode=ro", uri=True)) as connection:
        told = connection.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if told else None
    return None if row is None else str(row[0])


@contextmanager
def taken(folder: Path, word: str = "serving") -> Iterator[None]:
    """Hold a household's folder for oneself, as long as the program runs.

    Raises:
        KeepingError: If another Kyklos holds it.
    """
    import fcntl

    path = folder / f"{word}.lock"
    number = os.open(path, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        try:
            fcntl.flock(number, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as problem:
            who = os.read(number, 20).decode("ascii", "replace").strip() or "unknown"
            raise KeepingError(
                f"Another Kyklos uses this household now (process {who}). Stop it first; nothing was changed."
            ) from problem
        os.ftruncate(number, 0)
        os.pwrite(number, str(os.getpid()).encode(), 0)
        yield
    finally:
        os.close(number)


def restore(source: Path, household: Path, folder: Path, known: Sequence[str]) -> Backup | None:
    """Put a backup in the place of the household's file; the present is backed up first.

    Args:
        source: The backup.
        household: The household's file; nobody else may use it.
        folder: Where the present is kept.
        known: Layouts that this version knows.

    Returns: The backup of what was there; None: there was nothing.

    Raises:
        KeepingError: If it is no household, damaged, or of a newer version; nothing is changed then.
    """
    if not source.is_file():
        raise KeepingError(f"There is no file {source.name}. Nothing was changed.")
    if wrong := whats_wrong(source):
        raise KeepingError(f"{source.name} cannot be restored: {wrong}. Nothing was changed; try an older backup.")
    layout = layout_in(source)
    if layout is None:
        raise KeepingError(f"{source.name} is no household of Kyklos. Nothing was changed.")
    if layout not in known:
        raise KeepingError(
            f"{source.name} was written by a newer Kyklos (layout {layout}). Nothing was changed. Restore it with that version."
        )
    before = None
    if household.exists() and household.stat().st_size > 0:
        before = _present(household, folder)
    put_in_place(source, household)
    return before


def _present(household: Path, folder: Path) -> Backup:
    """Back up what is there, or where it is damaged, keep the file as it is."""
    try:
        return make(household, folder, "before-restore")
    except KeepingError:
        moment = datetime.now(UTC)
        folder.mkdir(parents=True, exist_ok=True)
        target = folder / f"damaged-{moment:%Y%m%d-%H%M%S}.db"
        shutil.copy2(household, target)
        target.chmod(0o600)
        return Backup(target, moment, "damaged", target.stat().st_size)


def put_in_place(source: Path, household: Path) -> None:
    """Replace a household's file by a copy of another one, whole or not at all."""
    part = household.with_name(f".{household.name}.part")
    back_up(source, part)
    for beside in ("-wal", "-shm"):
        Path(f"{household}{beside}").unlink(missing_ok=True)
    part.replace(household)
    household.chmod(0o600)
    _settle(household.parent)


def free_bytes(folder: Path) -> int:
    """Return how much room is left where a folder lies. [bytes]"""
    return shutil.disk_usage(folder).free
