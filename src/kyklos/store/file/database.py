"""Opening a household's file: a reader that cannot write, a writer that takes its turn, migrations after a backup.

A write is acknowledged when it would survive a power cut, in the file that stands at its path: `synchronous=FULL` writes the log down at
each commit, and `opening.Hold` knows whether the file was moved or replaced meanwhile.
"""

from __future__ import annotations

import os
from collections.abc import Hashable, Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Lock
from typing import Any

from sqlalchemy import URL, Engine, create_engine, event

from ..records.base import LAYOUT
from . import finding, keeping, layout, opening
from .following import follow, state_of
from .opening import Hold, LostFileError, StorageError
from .session import FileState, HouseSession, PageContext

__all__ = ["Database", "LostFileError", "NewerFileError", "StorageError", "layouts", "trouble_of"]

SYNCHRONOUS = "FULL"  #: A commit waits until it is on the disk; tests, which nobody keeps, need not.
TRACES = ("secret", "certificate.pem")  #: Where one of these lies, a household was kept before.
SHOWN = 3  #: So many backups are named.
MOST_KEPT, MOST_ROWS = 4, 20_000  #: Sessions kept between pages, and rows in each.


class NewerFileError(StorageError):
    """A file was written by a newer version: it is left alone."""


def _engine(path: Path, *pragmas: str, begin: str, foreign_keys: bool = True, hold: Hold | None = None) -> Engine:
    def open_file() -> Any:
        if hold is not None:
            hold.take()
        return opening.connect(path, "rw" if hold is not None else "rwc")

    engine = create_engine(URL.create("sqlite", database=str(path)), creator=open_file)

    @event.listens_for(engine, "connect")
    def prepare(connection: Any, _record: Any) -> None:
        for pragma in ("journal_mode=WAL", f"foreign_keys={'ON' if foreign_keys else 'OFF'}", *pragmas):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def start(connection: Any) -> None:
        connection.exec_driver_sql(begin)

    return engine


class Database:
    """One household's file."""

    def __init__(self, path: Path, backups: Path | None = None) -> None:
        """Open a file; call `migrate` before the first use.

        Args:
            path: Of the household.
            backups: Where its backups lie; beside it unless given.
        """
        self.path, self.backups = path, keeping.folder_of(path, backups)
        self._hold = Hold(path)
        self._writing = _engine(path, f"synchronous={SYNCHRONOUS}", begin="BEGIN IMMEDIATE", hold=self._hold)
        self._reading = _engine(path, "query_only=ON", begin="BEGIN", hold=self._hold)
        self._kept: list[tuple[HouseSession, FileState, Hashable]] = []  #: What pages read, the state of the file then, and when.
        self._lock = Lock()

    def reader(self) -> HouseSession:
        """Open a session that cannot write."""
        return HouseSession(self._reading, autoflush=False, expire_on_commit=False)

    def borrowed(self, moment: Hashable) -> HouseSession:
        """Return a session that cannot write, with all that a page before read of the file and that nobody wrote since.

        Args:
            moment: Pages of another one begin anew.
        """
        with self._lock:
            kept = self._kept.pop() if self._kept else None
        if kept is not None:
            session, known, then = kept
            now = state_of(session)
            session.context = PageContext(state=now)
            if then == moment and follow(session, known, now):
                return session
            session.close()
        session = self.reader()
        session.context.state = state_of(session)
        return session

    def give_back(self, session: HouseSession, moment: Hashable) -> None:
        """Keep what a page read for the next one, unless that is too much, not all of it, or of a state nobody knows."""
        known = session.context.state
        if known is None or session.context.partial or session.dirty or len(session.identity_map) > MOST_ROWS:
            session.close()
            return
        session.commit()  # nothing was written: it ends what was read, so that the log can be taken in
        with self._lock:
            if len(self._kept) < MOST_KEPT:
                self._kept.append((session, known, moment))
                return
        session.close()

    def drop_kept(self) -> None:
        """Let go of all that pages read: the next one reads everything anew."""
        with self._lock:
            kept, self._kept = self._kept, []
        for session, *_ in kept:
            session.close()

    @contextmanager
    def writer(self) -> Iterator[HouseSession]:
        """Open the writing session; only actions use it.

        Raises:
            LostFileError: If the file is no longer the one at its path, before or after: nothing is acknowledged then.
        """
        self._hold.check()
        with HouseSession(self._writing, writing=True) as session:
            yield session
        self._hold.check()

    def require_there(self) -> None:
        """Pass while the file that was opened is the one at its path.

        Raises:
            LostFileError: If it was moved, replaced or deleted.
        """
        self._hold.check()

    @property
    def lost(self) -> str:
        """What to say on every page while the file that was opened is not the one at its path; empty: it is."""
        return opening.LOST if self._hold.lost() else ""

    def migrate(self) -> None:
        """Bring the file to today's models; an older one is backed up beside itself first.

        Raises:
            NewerFileError: If a newer version wrote the file; nothing of it is touched.
        """
        if not self.path.exists():
            opening.create(self.path)  # readable by its owner only, and its log too
        if keeping.layout_in(self.path) == LAYOUT:
            self._index_words()
            return
        if layout.is_bare(self.path):
            layout.make(self.path)
            return
        from alembic import command
        from alembic.runtime.migration import MigrationContext
        from alembic.script import ScriptDirectory

        config = alembic_config()
        scripts = ScriptDirectory.from_config(config)
        known, newest = {script.revision for script in scripts.walk_revisions()}, scripts.get_current_head()
        _refuse_newer(self.path, known)
        engine = self.for_migrations()
        with engine.connect() as connection:
            current = MigrationContext.configure(connection).get_current_revision()
        if current != newest:
            if current is not None:
                keeping.make(self.path, self.backups, f"before-{newest}")
            config.attributes["engine"] = engine
            command.upgrade(config, "head")
        engine.dispose()
        self._index_words()

    def _index_words(self) -> None:
        """Make the index of words where there is none yet: after an upgrade, or of an archive that was read in."""
        with self.reader() as session:
            if not finding.is_empty(session):
                return
        with self.writer() as session, session.begin():
            finding.rebuild(session)

    def for_migrations(self) -> Engine:
        """Make an engine for migrations: foreign keys are off, for a table rebuilt would delete its children.

        A file that is not there is made.
        """
        if not self.path.exists():
            opening.create(self.path)  # readable by its owner only, and its log too
        return _engine(self.path, begin="BEGIN IMMEDIATE", foreign_keys=False)

    def trouble(self) -> str:
        """Return what speaks against using this file, as a sentence that says what to do; empty: nothing.

        A file that is not there yet is no trouble where no household was kept before: one begins.
        """
        return trouble_of(self.path, self.backups)

    def close(self) -> None:
        """Close all connections."""
        self.drop_kept()
        self._writing.dispose()
        self._reading.dispose()
        self._hold.release()


def _refuse_newer(path: Path, known: set[str]) -> None:
    """Look at a file without writing to it, and refuse one that a newer version wrote."""
    layout = keeping.layout_in(path)
    if layout is not None and layout not in known:
        raise NewerFileError(
            f"{path.name} was written by a newer Kyklos (layout {layout}). Nothing was changed. "
            "Start that newer version, or open a backup made before it."
        )


def layouts() -> list[str]:
    """List the layouts that this version knows, the newest first."""
    from alembic.script import ScriptDirectory

    return [script.revision for script in ScriptDirectory.from_config(alembic_config()).walk_revisions()]


def kept_before(path: Path, backups: Path) -> bool:
    """Return whether a household was kept in this folder before: backups or the house's own small files tell."""
    return bool(keeping.listed(backups)) or any((path.parent / name).exists() for name in TRACES)


def is_bare(path: Path) -> bool:
    """Return whether no household stands at a path: no file, or one without any records."""
    return not path.exists() or keeping.whats_wrong(path, quick=True).words in {"it is empty", "nothing is in it"}


def trouble_of(path: Path, backups: Path) -> str:
    """Return what speaks against using a household's file; empty: nothing."""
    folder = path.parent
    if not path.exists():
        if kept_before(path, backups):
            return f"{path.name} is gone from {folder}. Nothing was put in its place. {_back_to(backups)}"
        return "" if os.access(folder, os.W_OK) else f"This user has no right to write to {folder}. Nothing was changed."
    if not os.access(path, os.R_OK):
        return f"This user has no right to read {path.name}. Nothing was changed. Start Kyklos as the user whose file it is."
    if not os.access(path, os.W_OK) or not os.access(folder, os.W_OK):
        return (
            f"{path.name} can only be read: nothing new can be kept. All that is in it is safe. "
            "Give this user the right to write there, or copy a backup to a folder where it has."
        )
    if not kept_before(path, backups) and is_bare(path):
        return ""  # a first start that was cut short
    wrong = keeping.whats_wrong(path, quick=True)
    if wrong and not wrong.spoilt:
        return f"{path.name} cannot be looked at: {wrong}. It is as it was. Mend that, then start again."
    if wrong:
        return f"{path.name}: {wrong}. It was left as it is, and nothing was put in its place. {_back_to(backups)}"
    return ""


def begin_anew(path: Path, backups: Path) -> Path | None:
    """Make way for an empty household where one was lost; what is left of it is kept beside the backups.

    Returns: Where it is kept; None: there was nothing.

    Raises:
        StorageError: If a whole household stands there.
    """
    log = opening.beside(path, "-wal")
    if is_bare(path) and not (log.exists() and log.stat().st_size):
        path.unlink(missing_ok=True)
        return None
    wrong = keeping.whats_wrong(path, quick=True)
    if path.exists() and not wrong:
        raise StorageError(f"There is a whole household at {path}. Nothing was changed: start without --new, or name another --folder.")
    if path.exists() and not wrong.spoilt:
        raise StorageError(f"{path.name} cannot be looked at: {wrong}. Nothing was changed.")
    aside = keeping.set_aside(path, backups)
    for end in ("", *opening.BESIDE):
        opening.beside(path, end).unlink(missing_ok=True)
    return aside


def _back_to(backups: Path) -> str:
    """Return which backups there are, the one to go back to first, and how to begin anew, as sentences."""
    every = keeping.listed(backups)
    anew = "To begin an empty household instead: kyklos serve --new."
    if not every:
        return f"There is no backup in its folder: look for one elsewhere, then kyklos restore FILE. {anew}"
    others = ", ".join(f"{one.at:%-d %b %Y %H:%M}" for one in every[1 : 1 + SHOWN])
    more = f" Older ones: {others}{f' and {len(every) - 1 - SHOWN} more' if len(every) > 1 + SHOWN else ''}." if others else ""
    return f"Go back to the backup of {every[0].at:%A, %-d %B %Y, %H:%M} UTC: kyklos restore {every[0].path}.{more} {anew}"


def alembic_config() -> Any:
    """Configure migrations without a file."""
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent.parent / "migrations").replace("%", "%%"))
    return config
