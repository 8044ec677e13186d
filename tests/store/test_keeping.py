"""Nothing is lost: backups are whole while they are written to, restoring goes back, trouble with the file is told plainly."""

import os
import shutil
import sqlite3
import stat
import threading
from contextlib import closing
from datetime import UTC, datetime, timedelta

import pytest
from click.testing import CliRunner

from kyklos.actions.household import AddPlace, add_place
from kyklos.cli import main
from kyklos.store import checking, keeping
from kyklos.store import database as database_module
from kyklos.store.database import Database, layouts, trouble_of
from kyklos.store.models import Place
from kyklos.web.keeper import Keeper
from tests.conftest import WAITS_FOR_THE_DISK

NOW = datetime(2027, 3, 1, 9, tzinfo=UTC)


def names_in(path):
    """Places in a file."""
    with closing(sqlite3.connect(path)) as file:
        return {row[0] for row in file.execute("SELECT name FROM place")}


def kyklos(*told):
    """Run the command line."""
    return CliRunner().invoke(main, [str(part) for part in told])


@pytest.fixture
def home(tmp_path, empty_file):
    """A folder with a household in it."""
    folder = tmp_path / "home"
    folder.mkdir()
    shutil.copy(empty_file, folder / "kyklos.db")
    return folder


def add(folder, name):
    """Write a place into a household."""
    database = Database(folder / "kyklos.db")
    with database.writer() as session:
        add_place(session, AddPlace(name=name, celsius=20), NOW)
    database.close()


def test_a_backup_made_while_it_is_written_to_holds_all_that_was_acknowledged(home):
    """While one thread writes, each backup holds at least what was acknowledged before it began, and is whole."""
    database, done, over = Database(home / "kyklos.db"), [], threading.Event()

    def write():
        i = 0
        while not over.is_set():
            with database.writer() as session:
                add_place(session, AddPlace(name=f"Place {i}", celsius=20), NOW)
            done.append(f"Place {i}")
            i += 1

    writer = threading.Thread(target=write)
    writer.start()
    try:
        for number in range(4):
            before = set(done)
            made = keeping.make(home / "kyklos.db", home / "backups", "by-hand", NOW + timedelta(seconds=number))
            assert before <= names_in(made.path)
            assert keeping.whats_wrong(made.path) == ""
            assert stat.S_IMODE(made.path.stat().st_mode) == 0o600
    finally:
        over.set()
        writer.join()
        database.close()
    assert len(done) > 5


def test_what_is_kept_are_seven_days_four_weeks_and_twelve_months(tmp_path):
    """Of two years of daily backups, and of many by hand, just those; the newest of each."""
    for day in range(730):
        at = NOW - timedelta(days=day)
        (tmp_path / f"kyklos-{at:%Y%m%d-%H%M%S}-daily.db").write_bytes(b"x")
    for second in range(20):
        (tmp_path / f"kyklos-20270101-0000{second:02d}-by-hand.db").write_bytes(b"x")
    (tmp_path / "something.db").write_bytes(b"mine")
    keeping.prune(tmp_path)
    left = keeping.listed(tmp_path)
    daily = [one.at for one in left if one.why == "daily"]
    assert daily[:7] == [NOW - timedelta(days=day) for day in range(7)]
    assert len({f"{at:%G%V}" for at in daily}) >= 4
    assert len({f"{at:%Y%m}" for at in daily}) == 12
    assert len(daily) <= 7 + 4 + 12
    assert sum(one.why == "by-hand" for one in left) == keeping.KEPT_OTHERS
    assert (tmp_path / "something.db").exists()


def test_backup_and_restore_by_command(home, tmp_path):
    """What is backed up comes back; what was there meanwhile is kept first, and can itself be gone back to."""
    add(home, "Before")
    assert kyklos("backup", tmp_path / "one.db", "--folder", home).exit_code == 0
    assert kyklos("backup", tmp_path / "one.db", "--folder", home).exit_code == 2  # nothing is written over
    add(home, "After")
    out = kyklos("restore", tmp_path / "one.db", "--folder", home)
    assert out.exit_code == 0, out.output
    assert names_in(home / "kyklos.db") >= {"Before"}
    assert "After" not in names_in(home / "kyklos.db")
    (kept,) = (one for one in keeping.listed(home / "backups") if one.why == "before-restore")
    assert kyklos("restore", kept.path, "--folder", home).exit_code == 0
    assert "After" in names_in(home / "kyklos.db")


def broken(path):
    """Write over the middle of a file."""
    content = bytearray(path.read_bytes())
    content[4096 : 4096 * 6] = b"\xff" * (4096 * 5)
    path.write_bytes(bytes(content))


def cut(path):
    """Cut a file short."""
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])


def other(path):
    """Make it another program's file."""
    path.unlink()
    with closing(sqlite3.connect(path)) as file, file:
        file.execute("CREATE TABLE songs (id)")


def newer(path):
    """Make it a newer version's."""
    with closing(sqlite3.connect(path)) as file, file:
        file.execute("UPDATE alembic_version SET version_num = '9999'")
        file.execute("PRAGMA journal_mode=DELETE")


@pytest.mark.parametrize("spoil", [broken, cut, other, newer, lambda p: p.write_bytes(b""), lambda p: p.write_text("hello")])
def test_what_is_no_whole_household_is_not_restored(home, tmp_path, spoil):
    """Damaged, cut short, empty, another's, newer or plain text: one sentence, and the present stays byte for byte."""
    add(home, "Mine")
    kyklos("backup", tmp_path / "one.db", "--folder", home)
    spoil(tmp_path / "one.db")
    before = names_in(home / "kyklos.db")
    out = kyklos("restore", tmp_path / "one.db", "--folder", home)
    assert out.exit_code == 2
    assert len(out.stderr.strip().splitlines()) == 1
    assert "Nothing was changed" in out.stderr
    assert names_in(home / "kyklos.db") == before


@pytest.mark.parametrize("spoil", [broken, cut, other, newer, lambda p: p.write_bytes(b""), lambda p: p.unlink()])
def test_a_household_in_trouble_is_never_replaced_by_an_empty_one(home, spoil):
    """At the start one sentence names the backup to go back to; the file stays as it is, and no new one is begun."""
    keeping.make(home / "kyklos.db", home / "backups", "daily", NOW)
    spoil(home / "kyklos.db")
    before = (home / "kyklos.db").read_bytes() if (home / "kyklos.db").exists() else None
    out = kyklos("serve", "--folder", home, "--port", "0")
    assert out.exit_code == 2
    assert "Traceback" not in out.output
    assert len(out.stderr.strip().splitlines()) == 1
    if spoil is not newer:
        assert "kyklos restore" in out.stderr
    assert ((home / "kyklos.db").read_bytes() if (home / "kyklos.db").exists() else None) == before


def test_a_file_or_folder_without_rights_is_told(home):
    """What can only be read is said to be safe, with what to do."""
    if os.geteuid() == 0:
        pytest.skip("who may do everything is refused nothing")
    (home / "kyklos.db").chmod(0o400)
    assert "can only be read" in trouble_of(home / "kyklos.db", home / "backups")


def test_two_do_not_use_a_household_at_once(home):
    """A second program is told which one uses it; once that ended it may."""
    with keeping.taken(home):
        out = kyklos("restore", home / "kyklos.db", "--folder", home)
        assert out.exit_code == 2
        assert "Another Kyklos" in out.stderr
    with keeping.taken(home):
        pass


def test_no_room_for_a_backup_is_told_and_leaves_none(home):
    """A backup that cannot be written leaves no half one."""
    target = home / "no-folder"
    target.write_text("a file is in the way")
    with pytest.raises(keeping.KeepingError, match="Your household is as it was"):
        keeping.make(home / "kyklos.db", target, "by-hand")
    assert list(home.glob(".*part")) == []


def test_the_keeper_backs_up_daily_and_looks_weekly(home, monkeypatch):
    """One backup a day; a damaged file and little room stand on every page, with what to do."""
    database = Database(home / "kyklos.db")
    keeper = Keeper(database, lambda: NOW)
    for hours in (0, 1, 23, 25):
        keeper.look(NOW + timedelta(hours=hours))
    assert [one.why for one in keeping.listed(home / "backups")] == ["daily"] * 2
    assert keeper.says == ""
    monkeypatch.setattr(keeping, "free_bytes", lambda _: 150_000_000)
    keeper.look(NOW + timedelta(hours=26))
    assert "150 MB" in keeper.says
    monkeypatch.setattr(keeping, "whats_wrong", lambda *_: "it is damaged")
    keeper.look(NOW + timedelta(days=9))
    assert "kyklos restore" in keeper.says
    database.close()


def test_check_finds_what_does_not_add_up(home, demo_file, tmp_path):
    """A whole household passes; a broken photo and a liquid below nothing are named."""
    folder = tmp_path / "demo"
    folder.mkdir()
    shutil.copy(demo_file, folder / "kyklos.db")
    assert kyklos("check", "--folder", folder).exit_code == 0
    with closing(sqlite3.connect(folder / "kyklos.db")) as file, file:
        file.execute("UPDATE photo_content SET large = X'0102' WHERE id = 1")
        file.execute("INSERT INTO transfer (at, litres, source_id, how, name, lively, stirred) VALUES ('2027-02-01', 99, 1, 'drunk', '', '', 0)")
    found = checking.findings(folder / "kyklos.db")
    assert any("photos do not open" in line for line in found.wrong)
    assert any("Less than nothing" in line for line in found.wrong)
    assert kyklos("check", "--folder", folder).exit_code == 1


def test_new_files_are_readable_by_their_owner_only(tmp_path):
    """The household, its log and its backups are nobody else's."""
    path = tmp_path / "kyklos.db"
    database = Database(path)
    database.migrate()
    with database.writer() as session, session.begin():
        session.add(Place(name="Loft", celsius=19, position=3))
    for file in tmp_path.iterdir():
        if file.is_file():
            assert stat.S_IMODE(file.stat().st_mode) == 0o600, file.name
    database.close()


def test_a_write_is_written_down_before_it_is_acknowledged(home, monkeypatch):
    """Each commit waits for the disk: what was acknowledged survives a power cut."""
    monkeypatch.setattr(database_module, "SYNCHRONOUS", WAITS_FOR_THE_DISK)
    with Database(home / "kyklos.db").writer() as session:
        assert session.connection().exec_driver_sql("PRAGMA synchronous").scalar() == 2


def test_a_backup_of_every_layout_can_be_restored(home):
    """Each layout that this version knows is accepted."""
    assert "0017" in layouts()
    assert "0001" in layouts()
