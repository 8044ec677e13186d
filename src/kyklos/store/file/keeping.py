"""Backups: one whole file by SQLite's own means, checked after writing, kept by day, week and month; restoring one.

Backups are put in order by the number in their name, which grows with each one made. A clock may be wrong: dates only name them.
"""

from __future__ import annotations

import contextlib
import os
import re
import shutil
import sqlite3
from collections.abc import Collection, Iterator, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

from ...core.base import KyklosError
from . import opening
from .own import create_part, give_to_owner, own_folder, part_of, settle
from .trouble import is_spoilt, words_of

FOLDER = "backups"
DAILY = "daily"
KEPT_DAYS, KEPT_WEEKS, KEPT_MONTHS = 7, 4, 12  #: Of the daily ones.
KEPT_OTHERS = 12  #: Of those made by hand, before an upgrade, a restore or an import: so many of each.
DAY = timedelta(hours=24)
LEAST_FREE = 200_000_000  #: Less room than this is warned of. [bytes]
_NAME = re.compile(r"kyklos-(\d{8}-\d{6})-n(\d{1,12})-([a-z0-9-]+)\.db")
_OLD_NAME = re.compile(r"kyklos-(\d{8}-\d{6})(?:-(\d{1,3}))?-([a-z0-9-]+)\.db")  #: Up to 0.4, without a number of its own.


class KeepingError(KyklosError):
    """A backup could not be made, or a file is none: with a sentence that says what is safe and what to do."""


@dataclass(frozen=True, slots=True)
class Backup:
    """A backup that lies in the folder."""

    path: Path
    at: datetime  #: As the clock said; it may have been wrong.
    why: str  #: daily, by-hand, before-0017, before-restore, before-import.
    size: int  #: [bytes]
    number: int = 0  #: Grows with each one made; 0: by an older version.

    @property
    def words(self) -> str:
        """Why the backup was made, in words."""
        return {"by-hand": "made by hand", DAILY: "of the day"}.get(self.why, self.why.replace("-", " "))


@dataclass(frozen=True, slots=True)
class FileFault:
    """What is wrong with a file; false: nothing."""

    words: str = ""
    spoilt: bool = True  #: The file itself; False: it could not be looked at, by disk, rights or another program.

    def __bool__(self) -> bool:
        return bool(self.words)

    def __str__(self) -> str:
        return self.words


def folder_of(household: Path, chosen: Path | None = None) -> Path:
    """Return where backups lie: beside the household's file, or where somebody chose."""
    return chosen if chosen is not None else household.parent / FOLDER


def listed(folder: Path, now: datetime | None = None) -> list[Backup]:
    """List the backups in a folder, the one made last first; what is no backup is left out.

    Args:
        folder: Where they lie.
        now: None was made later than that, whatever its name says; None: dates as named.
    """
    out = []
    for path in folder.glob("kyklos-*.db") if folder.is_dir() else ():
        with contextlib.suppress(ValueError, OSError):
            if (found := _named(path)) is not None:
                out.append(found if now is None else replace(found, at=min(found.at, now)))
    return sorted(out, key=lambda one: (one.number, one.at, one.path.name), reverse=True)


def _named(path: Path) -> Backup | None:
    found = _NAME.fullmatch(path.name)
    number = int(found[2]) if found else 0
    found = found or _OLD_NAME.fullmatch(path.name)
    if found is None:
        return None
    at = datetime.strptime(found[1], "%Y%m%d-%H%M%S").replace(tzinfo=UTC)
    return Backup(path, at, found[3], path.stat().st_size, number)


def back_up(path: Path, target: Path, *, served: bool = True) -> None:
    """Copy a file by SQLite's own means, with what still stands in the log beside it, while it may be written to.

    Args:
        path: The household's file; it is only read.
        target: Where to; it appears whole, or not at all, and only its owner can read it.
        served: Somebody may use the file; else nothing is written beside it either.

    Raises:
        KeepingError: If there is no room, no right, or what was written does not read back whole.
    """
    part = part_of(target)
    try:
        own_folder(target.parent)
        os.close(create_part(part))
        opened = opening.reading(path, 30) if served else opening.reading_untouched(path)
        with closing(opened) as source, closing(opening.connect(part, "rw")) as copy:
            copy.execute("PRAGMA synchronous=OFF")  # it is written down as a whole, below
            source.backup(copy)
            copy.execute("PRAGMA journal_mode=DELETE")
        if wrong := whats_wrong(part, served=False):
            raise KeepingError(f"The backup did not read back whole ({wrong}), so it was not kept. Your household is as it was.")
        with part.open("rb+") as file:
            os.fsync(file.fileno())
        give_to_owner(part)
        part.replace(target)
        settle(target.parent)
    except (OSError, sqlite3.Error) as problem:
        raise KeepingError(
            f"No backup was made: {words_of(problem)}. Your household is as it was. Make room, or choose another folder, and try again."
        ) from problem
    finally:
        for left in (part, part.with_name(f"{part.name}-journal")):
            with contextlib.suppress(OSError):
                left.unlink(missing_ok=True)


def make(path: Path, folder: Path, why: str, now: datetime | None = None, keep: Collection[Path] = ()) -> Backup:
    """Make a backup under a name that is not taken, then let go of what is old.

    Args:
        path: The household's file.
        folder: Where backups lie.
        why: A word for its name: daily, by-hand, before-restore.
        now: UTC, for its name; the clock's unless given.
        keep: Backups that are not let go of, however old.
    """
    moment = now or datetime.now(UTC)
    number = max((one.number for one in listed(folder)), default=0)
    while True:
        number += 1
        target = folder / f"kyklos-{moment:%Y%m%d-%H%M%S}-n{number:06d}-{why}.db"
        if not target.exists():
            break
    back_up(path, target)
    prune(folder, {target, *keep})
    return Backup(target, moment.replace(microsecond=0), why, target.stat().st_size, number)


def prune(folder: Path, keep: Collection[Path] = ()) -> list[Path]:
    """Let go of what is older than what is kept: 7 days, 4 weeks and 12 months of the daily ones, 12 of each other kind.

    Args:
        folder: Where backups lie.
        keep: What stays whatever its age: what was made or named just now.
    """
    every, kept = listed(folder), {path.resolve() for path in keep}
    daily = [one for one in every if one.why == DAILY]
    for key, most in (("%Y%m%d", KEPT_DAYS), ("%G%V", KEPT_WEEKS), ("%Y%m", KEPT_MONTHS)):
        seen: dict[str, Path] = {}
        for one in daily:
            seen.setdefault(one.at.strftime(key), one.path)
        kept |= {path.resolve() for path in list(seen.values())[:most]}
    for why in {one.why for one in every} - {DAILY}:
        kept |= {one.path.resolve() for one in [other for other in every if other.why == why][:KEPT_OTHERS]}
    gone = [one.path for one in every if one.path.resolve() not in kept]
    for path in gone:
        with contextlib.suppress(OSError):
            path.unlink()
    return gone


def due(folder: Path, now: datetime) -> bool:
    """Return whether a daily backup is due; one that bears a later date than today tells nothing."""
    last = next((one for one in listed(folder) if one.why == DAILY), None)
    return last is None or not timedelta(0) <= now - last.at < DAY


def whats_wrong(path: Path, *, quick: bool = False, served: bool = True) -> FileFault:
    """Return what is wrong with a household's file, in a few words; false: nothing.

    Args:
        path: Read only, by SQLite alone.
        quick: Look at its structure only, not at each index.
        served: Somebody may use the file; else nothing is written beside it either.
    """
    try:
        if path.stat().st_size == 0:
            return FileFault("it is empty")
        with closing(opening.reading(path) if served else opening.reading_untouched(path)) as connection:
            found = connection.execute(f"PRAGMA {'quick_check' if quick else 'integrity_check'}(5)").fetchall()
            if found != [("ok",)]:
                return FileFault("it is damaged")
            tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if not tables:
                return FileFault("nothing is in it")
            if not {"alembic_version", "household"} <= tables:
                return FileFault("it is no household of Kyklos")
            if not quick and connection.execute("PRAGMA foreign_key_check").fetchone() is not None:
                return FileFault("some of its records point nowhere")
    except (sqlite3.Error, OSError) as problem:
        return FileFault(words_of(problem), is_spoilt(problem))
    return FileFault()


def layout_in(path: Path, *, served: bool = True) -> str | None:
    """Return the layout of a household's file; None: it has none."""
    with closing(opening.reading(path) if served else opening.reading_untouched(path)) as connection:
        found = connection.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if found else None
    return None if row is None else str(row[0])


@contextmanager
def taken(folder: Path, word: str = "serving") -> Iterator[None]:
    """Hold a household's folder for oneself, as long as the program runs.

    Raises:
        KeepingError: If another Kyklos holds it, or the folder cannot be written to.
    """
    import fcntl

    path = folder / f"{word}.lock"
    try:
        number = os.open(path, os.O_RDWR | os.O_CREAT, 0o600)
    except OSError as problem:
        raise KeepingError(f"{folder} cannot be used: {words_of(problem)}. Nothing was changed.") from problem
    try:
        give_to_owner(path)
        try:
            fcntl.flock(number, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as problem:
            who = os.read(number, 20).decode("ascii", "replace").strip() or "unknown"
            raise KeepingError(
                f"Another Kyklos uses this household now (process {who}). Stop it first; nothing was changed."
            ) from problem
        with contextlib.suppress(OSError):  # who holds it is only told: a full disk keeps nobody out
            os.ftruncate(number, 0)
            os.pwrite(number, str(os.getpid()).encode(), 0)
        yield
    finally:
        os.close(number)


def restore(source: Path, household: Path, folder: Path, known: Sequence[str]) -> Backup | None:
    """Put a backup in the place of the household's file; the present is backed up first.

    Args:
        source: The backup; it is only read, and stays.
        household: The household's file; nobody else may use it.
        folder: Where the present is kept.
        known: Layouts that this version knows.

    Returns: The backup of what was there; None: there was nothing.

    Raises:
        KeepingError: If it is no household, damaged, or of a newer version; nothing is changed then.
    """
    if not source.is_file():
        raise KeepingError(f"There is no file {source.name}. Nothing was changed.")
    if household.exists() and source.samefile(household):
        raise KeepingError(f"{source.name} is the household itself. Nothing was changed: name a backup.")
    if wrong := whats_wrong(source, served=False):
        more = "; try an older backup" if wrong.spoilt else ""
        raise KeepingError(f"{source.name} cannot be restored: {wrong}. Nothing was changed{more}.")
    layout = layout_in(source, served=False)
    if layout is None:
        raise KeepingError(f"{source.name} is no household of Kyklos. Nothing was changed.")
    if layout not in known:
        raise KeepingError(
            f"{source.name} was written by a newer Kyklos (layout {layout}). Nothing was changed. Restore it with that version."
        )
    before = None
    if household.exists() and household.stat().st_size > 0:
        before = present(household, folder, "before-restore", {source})
    put_in_place(source, household)
    if wrong := whats_wrong(household, served=False):
        raise KeepingError(f"{household.name} does not read back as it was written: {wrong}. {source.name} is as it was: look to the disk.")
    return before


def present(household: Path, folder: Path, why: str, keep: Collection[Path] = ()) -> Backup:
    """Keep what stands in the household's place: as a backup, or as it is where it is damaged.

    Raises:
        KeepingError: If there is no room or no right for it.
    """
    try:
        return make(household, folder, why, keep=keep)
    except KeepingError:
        if not whats_wrong(household).spoilt:
            raise
        aside = set_aside(household, folder)
        return Backup(aside, datetime.now(UTC), "set-aside", aside.stat().st_size)


def set_aside(household: Path, folder: Path) -> Path:
    """Copy a spoilt file into the folder of backups, byte for byte, under a name that no pruning takes.

    Raises:
        KeepingError: If there is no room or no right.
    """
    moment = datetime.now(UTC)
    try:
        own_folder(folder)
        target = next(
            path for n in range(1000) if not (path := folder / f"set-aside-{moment:%Y%m%d-%H%M%S}{f'-{n}' if n else ''}.db").exists()
        )
        opening.copy_as_it_is(household, target)
    except OSError as problem:
        raise KeepingError(f"What is there cannot be kept: {words_of(problem)}. Nothing was changed.") from problem
    return target


def put_in_place(source: Path, household: Path) -> None:
    """Replace a household's file, which nobody uses, by a copy of another one, whole or not at all.

    Raises:
        KeepingError: If the copy cannot be made; what was there is as it was.
    """
    part = part_of(household)
    try:
        back_up(source, part, served=False)
        _fold_log(household)
        for end in opening.BESIDE:  # a log of the old file would be read into the new one
            opening.beside(household, end).unlink(missing_ok=True)
        part.replace(household)
        give_to_owner(household)
        settle(household.parent)
    except OSError as problem:
        raise KeepingError(f"Nothing was put in place: {words_of(problem)}. What was there is as it was.") from problem
    finally:
        with contextlib.suppress(OSError):
            part.unlink(missing_ok=True)


def _fold_log(household: Path) -> None:
    """Write what stands in a file's log into the file, so that nothing is lost if the program ends before the new one is there."""
    if household.exists():
        with contextlib.suppress(sqlite3.Error), closing(opening.connect(household, "rw")) as connection:
            connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def free_bytes(folder: Path) -> int:
    """Return how much room is left where a folder lies. [bytes]"""
    return shutil.disk_usage(folder).free
