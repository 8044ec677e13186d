"""Opening a household's file: a reader that cannot write, a writer that takes its turn, migrations after a backup.

A write is acknowledged when it would survive a power cut: `synchronous=FULL` writes the log down at each commit.
"""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, create_engine, event

from ..core.errors import KyklosError
from . import keeping
from .session import HouseSession

SYNCHRONOUS = "FULL"  #: A commit waits until it is on the disk; tests, which nobody keeps, need not.


class StorageError(KyklosError):
    """A household's file cannot be used: with a sentence that says what is safe and what to do next."""


class NewerFileError(StorageError):
    """A file was written by a newer version: it is left alone."""


def _engine(path: Path, *pragmas: str, begin: str, foreign_keys: bool = True) -> Engine:
    engine = create_engine(f"sqlite:///{path}", connect_args={"isolation_level": None, "timeout": 10})

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
            backups: Where its backups lie; beside it unless told.
        """
        self.path, self.backups = path, keeping.folder_of(path, backups)
        self._writing = _engine(path, f"synchronous={SYNCHRONOUS}", begin="BEGIN IMMEDIATE")
        self._reading = _engine(path, "query_only=ON", begin="BEGIN")

    def reader(self) -> HouseSession:
        """Open a session that cannot write."""
        return HouseSession(self._reading, autoflush=False)

    @contextmanager
    def writer(self) -> Iterator[HouseSession]:
        """Open the writing session; only actions use it."""
        with HouseSession(self._writing, writing=True) as session:
            yield session

    def migrate(self) -> None:
        """Bring the file to today's models; an older one is backed up beside itself first.

        Raises:
            NewerFileError: If a newer version wrote the file; nothing of it is touched.
        """
        from alembic import command
        from alembic.runtime.migration import MigrationContext
        from alembic.script import ScriptDirectory

        config = alembic_config()
        scripts = ScriptDirectory.from_config(config)
        known, newest = {script.revision for script in scripts.walk_revisions()}, scripts.get_current_head()
        if self.path.exists():
            _refuse_newer(self.path, known)
        else:
            os.close(os.open(self.path, os.O_RDWR | os.O_CREAT, 0o600))  # readable by its owner only, and its log too
        engine = self.for_migrations()
        with engine.connect() as connection:
            current = MigrationContext.configure(connection).get_current_revision()
        if current != newest:
            if current is not None:
                keeping.make(self.path, self.backups, f"before-{newest}")
            config.attributes["engine"] = engine
            command.upgrade(config, "head")
        engine.dispose()

    def for_migrations(self) -> Engine:
        """Make an engine for migrations: foreign keys are off, for a table rebuilt would delete its children."""
        return _engine(self.path, begin="BEGIN IMMEDIATE", foreign_keys=False)

    def trouble(self) -> str:
        """Return what speaks against using this file, as a sentence that says what to do; empty: nothing.

        A file that is not there yet is no trouble: a household begins.
        """
        return trouble_of(self.path, self.backups)

    def close(self) -> None:
        """Close all connections."""
        self._writing.dispose()
        self._reading.dispose()


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


def trouble_of(path: Path, backups: Path) -> str:
    """Return what speaks against using a household's file; empty: nothing."""
    folder = path.parent
    if not path.exists():
        if keeping.listed(backups) or (folder / "secret").exists():
            return f"{path.name} is gone from {folder}. Nothing was put in its place. {_back_to(backups)}"
        return "" if os.access(folder, os.W_OK) else f"This user has no right to write to {folder}. Nothing was changed."
    if not os.access(path, os.R_OK):
        return f"This user has no right to read {path.name}. Nothing was changed. Start Kyklos as the user whose file it is."
    if not os.access(path, os.W_OK) or not os.access(folder, os.W_OK):
        return (
            f"{path.name} can only be read: nothing new can be kept. All that is in it is safe. "
            "Give this user the right to write there, or copy a backup to a folder where it has."
        )
    if path.stat().st_size == 0 and not keeping.listed(backups) and not (folder / "secret").exists():
        return ""  # a first start that was cut short
    wrong = keeping.whats_wrong(path, quick=True)
    if wrong:
        return f"{path.name}: {wrong}. It was left as it is, and nothing was put in its place. {_back_to(backups)}"
    return ""


def _back_to(backups: Path) -> str:
    """Return what to restore, as a sentence."""
    last = next(iter(keeping.listed(backups)), None)
    if last is None:
        return "There is no backup in its folder: look for one elsewhere, then `kyklos restore FILE`."
    return f"Go back to the backup of {last.at:%A, %-d %B %Y, %H:%M} UTC: kyklos restore {last.path}"


def alembic_config() -> Any:
    """Configure migrations without a file."""
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations").replace("%", "%%"))
    return config
