"""Opening a household's file: a reader that cannot write, a writer that takes its turn, migrations after a copy."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session


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

    def reader(self) -> Session:
        """Open a session that cannot write."""
        return Session(self._reading, autoflush=False)

    @contextmanager
    def writer(self) -> Iterator[Session]:
        """Open the writing session; only actions use it."""
        with Session(self._writing) as session:
            session.info["writing"] = True
            yield session

    def migrate(self) -> None:
        """Bring the file to today's models; an older one is copied beside itself first."""
        from alembic import command
        from alembic.runtime.migration import MigrationContext
        from alembic.script import ScriptDirectory

        config = alembic_config()
        newest = ScriptDirectory.from_config(config).get_current_head()
        engine = _engine(self.path, begin="BEGIN IMMEDIATE", foreign_keys=False)
        with engine.connect() as connection:
            current = MigrationContext.configure(connection).get_current_revision()
        if current != newest:
            if current is not None:
                shutil.copy2(self.path, self.path.with_name(f"{self.path.stem}-before-{newest}{self.path.suffix}"))
            config.attributes["engine"] = engine
            command.upgrade(config, "head")
        engine.dispose()

    def close(self) -> None:
        """Close all connections."""
        self._writing.dispose()
        self._reading.dispose()


def alembic_config() -> Any:
    """Configure migrations without a file."""
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations").replace("%", "%%"))
    return config
