"""The household's file: migrations, the reader that cannot write, UTC times."""

import hashlib
import json
import re
import sqlite3
from contextlib import closing
from datetime import UTC, datetime, timedelta, timezone
from pathlib import Path

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm.exc import DetachedInstanceError

from kyklos.actions.base import ConflictError
from kyklos.actions.undo import Undo, undo
from kyklos.core.brewing.recipe_card import RecipeCard
from kyklos.store.file import keeping, layout, opening
from kyklos.store.file.database import Database, NewerFileError, _engine, alembic_config
from kyklos.store.read.documents import VERSION, UnreadableError, card_of, pack
from kyklos.store.records import Bottling, Brew, Culture, Place, StarterLot, Vessel
from kyklos.store.records.base import LAYOUT, Base


def test_models_and_migrations_agree(database):
    """A file made by the migrations is the one the models describe; an index of words is no record."""
    options = {"include_name": lambda name, kind, _: kind != "table" or not name.startswith("found")}
    with database.writer() as session:
        assert compare_metadata(MigrationContext.configure(session.connection(), opts=options), Base.metadata) == []


def test_a_new_file_is_what_all_migrations_leave(tmp_path):
    """Made in one go or by every migration in turn, an empty household is the same, statement for statement, whatever the order of constraints."""

    def lines(text):
        return [sorted(re.split(r",? *\n\s*|, (?=\w+ \w+)", one.rstrip(");"))) for one in text.split(";\n")]

    by_steps, at_once = tmp_path / "steps.db", tmp_path / "once.db"
    opening.create(by_steps)
    brought_to(by_steps, "head").dispose()
    Database(at_once).migrate()
    assert lines(layout.text_of(by_steps)) == lines(layout.text_of(at_once))
    assert layout.text_of(at_once) == layout.TEXT.read_text("utf-8")
    assert keeping.layout_in(by_steps) == keeping.layout_in(at_once) == LAYOUT


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


def brought_to(path, revision):
    """Make a file of an older layout; gives its engine."""
    config = alembic_config()
    config.attributes["engine"] = _engine(path, begin="BEGIN IMMEDIATE", foreign_keys=False)
    command.upgrade(config, revision)
    return config.attributes["engine"]


#: Text of each migration that landed, but where it finds the types of columns. One is added with each, none is changed.
LANDED = {
    "0001": "d3004e4190c1d3f5", "0002": "081ce6fdb84fb77c", "0003": "56d17a44348221cd", "0004": "c372bb589f662e3c", "0005": "80ec8e01d9c4856d",
    "0006": "16dfb6e52516cd66", "0007": "b2354ada2d74a12d", "0008": "1b322d6470037eb4", "0009": "404716c47e5d700f", "0010": "42cb24b9151c0f72",
    "0011": "2b163a0c926323c5", "0012": "61d5dd7a9bdf1ce7", "0013": "8b40c6b179e4cdc9", "0014": "a1fc2210761b4a78", "0015": "99e47cdc697a31b3",
    "0016": "39cd28427b7efb6a", "0017": "163bfb9a64ab2743", "0018": "563978364e02f548", "0019": "bc0c26d59b1faf22", "0020": "b9af8395796bb71b",
    "0021": "5af2844711df80cf", "0022": "656e4a5621a1915b", "0023": "dc6a9e0ac359aba2", "0024": "5a1386ceba70b857", "0025": "aff275adc280afd1", "0026": "eaaf8a6cca86112b", "0027": "2b36c3cbda23e3ba", "0028": "d6719b4c02c2e37a", "0029": "e66be90c955e5ac2", "0030": "5e28ab78f32290d2",
    "0031": "eeb17ebc99206729", "0032": "deb132a147e01730", "0033": "238a90ee6e9aa943",
}  # fmt: skip


def _digest(text):
    lines = [line for line in text.splitlines() if not line.startswith("from kyklos")]
    return hashlib.sha256("\n".join(lines).encode()).hexdigest()[:16]


def test_no_migration_that_landed_is_edited_again():
    """A file made by a migration is what that migration says today: its text is as it landed."""
    folder = Path(alembic_config().get_main_option("script_location")) / "versions"
    found = {p.name[:4]: _digest(p.read_text("utf-8")) for p in folder.glob("0*.py")}
    assert found == LANDED


def test_the_layout_is_that_of_the_newest_migration():
    """A change is undone only in the layout that it was written in, so the layout must be told right."""
    assert ScriptDirectory.from_config(alembic_config()).get_current_head() == LAYOUT


def test_the_copy_before_an_upgrade_holds_what_still_stands_in_the_log(tmp_path):
    """What was written a moment ago, and is not in the file itself yet, is in the backup; no backup overwrites another."""
    path = tmp_path / "kyklos.db"
    engine = brought_to(path, "0007")
    with engine.begin() as old:
        old.exec_driver_sql("PRAGMA wal_autocheckpoint=0")
    with engine.begin() as old:
        old.exec_driver_sql(
            "INSERT INTO place (id, name, celsius, light, reach, rivals, position) VALUES (5, 'Late', 20, 'shade', 'easy', 0, 0)"
        )
    Database(path).migrate()
    (copy_path,) = (tmp_path / "backups").glob("kyklos-*-before-0*.db")
    with closing(sqlite3.connect(copy_path)) as copy:
        assert copy.execute("SELECT name FROM place WHERE id = 5").fetchone() == ("Late",)
    moment = datetime(2027, 3, 1, tzinfo=UTC)
    made = [keeping.make(path, tmp_path / "backups", "by-hand", moment).path for _ in range(2)]
    assert len(set(made)) == 2


def test_a_file_of_a_newer_version_is_left_alone(tmp_path):
    """It is refused with a sentence, and not a byte of it changes."""
    path = tmp_path / "kyklos.db"
    Database(path).migrate()
    with closing(sqlite3.connect(path)) as raw, raw:
        raw.execute("UPDATE alembic_version SET version_num = '9999'")
        raw.execute("PRAGMA journal_mode=DELETE")
    before = path.read_bytes()
    with pytest.raises(NewerFileError, match="newer Kyklos"):
        Database(path).migrate()
    assert path.read_bytes() == before


def test_a_file_made_while_0007_was_still_being_written_is_mended(tmp_path):
    """It lacks a table, a column and dated losses: all are there after the next migration."""
    path = tmp_path / "kyklos.db"
    with brought_to(path, "0007").begin() as old:
        old.exec_driver_sql("DROP TABLE lot_loss")
        old.exec_driver_sql("ALTER TABLE starter_lot DROP COLUMN ripe_since")
        for row in (
            "culture (id, name, diet, origin, story, started_at, backups_wanted, passport, passport_key) VALUES (1, 'B', 'sugar', 'bought', '', '2027-01-01 00:00:00', 1, '{}', '')",
            "starter_lot (id, culture_id, made_at, volume_l, left_l, lost_l, instrument, kept_in, kind, doubt) VALUES (1, 1, '2027-01-01 00:00:00', 1.0, 0.7, 0.3, 'meter', 'shelf', 'fresh', '')",
        ):
            old.exec_driver_sql(f"INSERT INTO {row}")
    database = Database(path)
    database.migrate()
    with database.reader() as session:
        assert session.get(StarterLot, 1).ripe_since is None
        liquid = session.get(StarterLot, 1).liquid
        assert [(row.how, row.litres) for row in liquid.outflows] == [("lost", pytest.approx(0.3))]
        assert liquid.litres == pytest.approx(0.7)
    database.close()


def test_an_older_file_is_copied_and_brought_up(tmp_path):
    """A file of the first version keeps its rows, gains the new column filled, and stands beside its copy."""
    path = tmp_path / "kyklos.db"
    with brought_to(path, "0001").begin() as old:
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
        assert session.get(Bottling, 1).note == ""
        assert session.get(Vessel, 1).place.name == "Shelf"
        assert session.get(Vessel, 1).standings[0].since == datetime(2027, 1, 2, tzinfo=UTC)
    assert len(list((tmp_path / "backups").glob("kyklos-*-before-*.db"))) == 1
    database.close()


def test_migrating_twice_changes_nothing(tmp_path):
    """A file of today is left alone, and no copy is made."""
    database = Database(tmp_path / "kyklos.db")
    database.migrate()
    database.migrate()
    assert [p.name for p in tmp_path.glob("*.db")] == ["kyklos.db"]
    database.close()


#: A household of 0.4.0: a jar that was moved, a held brew to which starter was added a day later.
OLD_ROWS = (
    "place (id, name, celsius, position, light, reach, rivals) VALUES (1, 'Dresser', 24, 0, 'shade', 'easy', 0), (2, 'Pantry', 16, 1, 'dark', 'easy', 0)",
    "vessel (id, name, kind, nominal_l, usable_l, diameter_cm, material, tapped, heel_l, place_id, version) VALUES (1, 'Jar', 'jar', 4, 3.5, 15, 'glass', 0, 0, 2, 2)",
    "culture (id, name, diet, origin, story, started_at, backups_wanted, passport, passport_key) VALUES (1, 'B', 'sugar', 'bought', '', '2027-01-01 00:00:00', 1, '{}', '')",
    "starter_lot (id, culture_id, made_at, volume_l, left_l, lost_l, instrument, kept_in, kind, doubt, ph) VALUES (1, 1, '2027-01-01 00:00:00', 1.0, 0.4, 0, 'meter', 'shelf', 'fresh', '', 3.0)",
    "brew (id, kind, base, vessel_id, culture_id, starter_lot_id, tea, leaf_g_per_l, sugar_g_per_l, honey_share, invert_share, alkalinity_meq_per_l, starter_fraction, starter_ph, starter_instrument, starter_kind, final_l, plan, facts, pitched_at, status, no_next_brew, end_note, version)"
    " VALUES (1, 'batch', '', 1, 1, 1, 'black', 5, 55, 0, 0, 0.5, 0.1818, 3, 'meter', 'fresh', 3.3, '{}', '{}', '2027-01-02 00:00:00', 'held', 0, '', 2)",
    "starter_portion (id, brew_id, lot_id, name, kind, litres, ph) VALUES (1, 1, 1, 'B', 'fresh', 0.3, 3.0), (2, 1, 1, 'B', 'fresh', 0.3, 3.0)",
)


def test_the_journal_of_an_older_file_dates_moves_and_starter_added_later(tmp_path):
    """What 0.4.0 wrote only into its journal, when a jar was moved and when starter was added, is dated after the upgrade."""
    path = tmp_path / "kyklos.db"
    place = [{"place_id": n, "heater_c": None} for n in (1, 2)]
    brew = [{"final_l": 3.0, "starter_fraction": 0.1}, {"final_l": 3.3, "starter_fraction": 0.1818}]
    changes = (
        ("add_vessel", "2027-01-01 12:00:00", [["vessel", 1, None, place[0]]]),
        ("add_starter", "2027-01-03 00:00:00", [["brew", 1, *brew], ["starter_portion", 2, None, {"litres": 0.3}]]),
        ("change_vessel", "2027-01-05 00:00:00", [["vessel", 1, *place]]),
    )
    with brought_to(path, "0007").begin() as old:
        for row in OLD_ROWS:
            old.exec_driver_sql(f"INSERT INTO {row}")
        for name, at, rows in changes:
            told = (name, name, at, json.dumps(rows))
            old.exec_driver_sql("INSERT INTO change (action, says, at, rows) VALUES (?, ?, ?, ?)", told)
    database = Database(path)
    database.migrate()
    with database.reader() as session:
        jar, brew = session.get(Vessel, 1), session.get(Brew, 1)
        assert [(row.place.name, row.since.day) for row in jar.standings] == [("Dresser", 1), ("Pantry", 5)]
        assert (brew.started_l, brew.left_l, brew.starter_fraction) == (pytest.approx(3.0), pytest.approx(3.3), 0.1)
        assert [(t.how, t.at.day, t.litres) for t in brew.liquid.starters] == [("pitched", 2, 0.3), ("added", 3, 0.3)]
        assert session.get(StarterLot, 1).left_l == pytest.approx(0.4)
    with database.writer() as session, pytest.raises(ConflictError, match="before Kyklos was upgraded"):
        undo(session, Undo(1), datetime(2027, 2, 1, tzinfo=UTC))
    database.close()


def test_packed_documents_carry_their_version():
    """A card or plan tells its version; one of before is read, one of a newer version is refused with a sentence."""
    packed = pack(RecipeCard())
    assert packed["version"] == VERSION
    assert card_of({name: value for name, value in packed.items() if name != "version"}) == RecipeCard()
    with pytest.raises(UnreadableError, match="newer version"):
        card_of({**packed, "version": VERSION + 1})
    with pytest.raises(UnreadableError):
        card_of({**packed, "version": "old"})


def test_a_reading_session_that_ended_gives_no_rows_any_more(demo):
    """Closed, it holds none of its rows, and what one of them did not read yet is not read behind its back."""
    session = demo.reader()
    vessel = session.query(Vessel).first()
    session.close()
    assert len(session.identity_map) == 0
    del session
    with pytest.raises(DetachedInstanceError):
        _ = vessel.brews
