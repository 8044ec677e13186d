"""Opening a household's file: a reader that cannot write, a writer that takes its turn, migrations after a copy."""

from __future__ import annotations

import itertools
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from urllib.parse import quote

from sqlalchemy import Engine, create_engine, event

from ..core.errors import KyklosError
from .session import HouseSession


class NewerFileError(KyklosError):
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

    def __init__(self, path: Path) -> None:
        """Open a file; call `migrate` before the first use."""
        self.path = path
        self._writing = _engine(path, "synchronous=NORMAL", begin="BEGIN IMMEDIATE")
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
        engine = _engine(self.path, begin="BEGIN IMMEDIATE", foreign_keys=False)
        with engine.connect() as connection:
            current = MigrationContext.configure(connection).get_current_revision()
        if current != newest:
            if current is not None:
                back_up(self.path, free_name(self.path, f"before-{newest}"))
            config.attributes["engine"] = engine
            command.upgrade(config, "head")
        engine.dispose()

    def close(self) -> None:
        """Close all connections."""
        self._writing.dispose()
        self._reading.dispose()


def _refuse_newer(path: Path, known: set[str]) -> None:
    """Look at a file without writing to it, and refuse one that a newer version wrote."""
    with closing(sqlite3.connect(f"file:{quote(str(path))}?mode=ro", uri=True)) as connection:
        told = connection.execute("SELECT 1 FROM sqlite_master WHERE name = 'alembic_version'").fetchone()
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone() if told else None
    if row is not None and row[0] not in known:
        raise NewerFileError(
            f"{path.name} was written by a newer Kyklos (layout {row[0]}). Nothing was changed. "
            "Start that newer version, or open a backup made before it."
        )


def back_up(path: Path, target: Path) -> None:
    """Copy a file by SQLite's own means, with what still stands in the log beside it.

    Args:
        path: The household's file, which may be in use.
        target: Where to; a name that is not taken.
    """
    with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(target)) as copy:
        source.backup(copy)


def free_name(path: Path, word: str) -> Path:
    """Return a name beside a file that was never used: with the moment, and a number where that is taken."""
    stem = f"{path.stem}-{word}-{datetime.now(UTC):%Y%m%d-%H%M%S}"
    names = (path.with_name(f"{stem}{f'-{n}' if n else ''}{path.suffix}") for n in itertools.count())
    return next(name for name in names if not name.exists())


def alembic_config() -> Any:
    """Configure migrations without a file."""
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations").replace("%", "%%"))
    return config
