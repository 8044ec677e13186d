"""The household's file: migrations, the reader that cannot write, UTC times."""

from datetime import datetime, timedelta, timezone

import pytest
from alembic.autogenerate import compare_metadata
from alembic.runtime.migration import MigrationContext
from sqlalchemy.exc import OperationalError

from kyklos.store.base import Base
from kyklos.store.database import Database
from kyklos.store.models import Bottling, Culture, Place


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


def test_an_older_file_is_copied_and_brought_up(tmp_path):
    """A file of the first version keeps its rows, gains the new column filled, and stands beside its copy."""
    from alembic import command

    from kyklos.store.database import _engine, alembic_config

    path = tmp_path / "kyklos.db"
    config = alembic_config()
    config.attributes["engine"] = _engine(path, begin="BEGIN IMMEDIATE", foreign_keys=False)
    command.upgrade(config, "0001")
    with config.attributes["engine"].begin() as old:
        for row in (
            "place (id, name, celsius, position) VALUES (3, 'Shelf', 21, 0)",
            "vessel (id, name, kind, nominal_l, usable_l, diameter_cm, material, tapped, place_id, version)"
            " VALUES (1, 'Jar', 'jar', 4, 3, 15, 'glass', 0, 3, 1)",
            "culture (id, name, diet, origin, story, started_at) VALUES (1, 'B', 'sugar', 'bought', '', '2027-01-01 00:00:00')",
            "brew (id, vessel_id, culture_id, tea, leaf_g_per_l, sugar_g_per_l, honey_share, alkalinity_meq_per_l, starter_fraction,"
            " starter_ph, starter_instrument, final_l, plan, pitched_at, status, no_next_brew, end_note, version)"
            " VALUES (1, 1, 1, 'black', 5, 55, 0, 0.5, 0.1, 3, 'meter', 3, '{}', '2027-01-02 00:00:00', 'harvested', 0, '', 1)",
            "bottling (id, brew_id, at, flavour, flavour_g_per_l, sugar_g_per_l, added_sugar_g_per_l, note, start, vigour, celsius)"
            " VALUES (1, 1, '2027-01-09 00:00:00', 'plain', 0, 0, 0, '', '[]', 1, 21)",
        ):
            old.exec_driver_sql(f"INSERT INTO {row}")
    database = Database(path)
    database.migrate()
    with database.reader() as session:
        assert session.get(Bottling, 1).place.name == "Shelf"
    assert len(list(tmp_path.glob("kyklos-before-*.db"))) == 1
    database.close()


def test_migrating_twice_changes_nothing(tmp_path):
    """A file of today is left alone, and no copy is made."""
    database = Database(tmp_path / "kyklos.db")
    database.migrate()
    database.migrate()
    assert [p.name for p in tmp_path.glob("*.db")] == ["kyklos.db"]
    database.close()
