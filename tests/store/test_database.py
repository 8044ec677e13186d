"""The household's file: migrations, the reader that cannot write, UTC times."""

from datetime import datetime, timedelta, timezone

import pytest
from alembic.autogenerate import compare_metadata
from alembic.runtime.migration import MigrationContext
from sqlalchemy.exc import OperationalError

from kyklos.store.database import Database
from kyklos.store.models import Base, Culture, Place


def test_models_and_migrations_agree(database):
    """A file made by the migrations is the one the models describe."""
    with database.writer() as session:
        assert compare_metadata(MigrationContext.configure(session.connection()), Base.metadata) == []


def test_the_reader_cannot_write(database):
    """A page's session is refused any write."""
    with database.reader() as session:
        session.add(Place(name="x", celsius=1, position=0))
        with pytest.raises(OperationalError, match="readonly"):
            session.flush()


def test_times_are_kept_in_utc(database):
    """A moment written in another zone comes back as the same moment, in UTC."""
    at = datetime(2027, 3, 28, 1, 30, tzinfo=timezone(timedelta(hours=2)))
    with database.writer() as session, session.begin():
        session.add(Culture(name="x", started_at=at))
    with database.reader() as session:
        found = session.get(Culture, 1).started_at
    assert found == at
    assert found.utcoffset() == timedelta(0)


def test_migrating_twice_changes_nothing(tmp_path):
    """A file of today is left alone, and no copy is made."""
    database = Database(tmp_path / "kyklos.db")
    database.migrate()
    database.migrate()
    assert [p.name for p in tmp_path.glob("*.db")] == ["kyklos.db"]
    database.close()
