"""Nothing is lost: backups are whole while they are written to, restoring goes back, trouble with the file is told plainly."""

import json
import os
import random
import shutil
import sqlite3
import stat
import subprocess
import sys
import tempfile
import threading
from contextlib import closing, contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from click.testing import CliRunner

from kyklos.actions.household import AddPlace, add_place
from kyklos.cli import main
from kyklos.serving.keeper import Keeper
from kyklos.store.file import checking, keeping
from kyklos.store.file import database as database_module
from kyklos.store.file.database import Database, layouts, trouble_of
from kyklos.store.records import Place
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
            assert not keeping.whats_wrong(made.path)
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
    monkeypatch.setattr(keeping, "whats_wrong", lambda *_, **__: keeping.FileFault("it is damaged"))
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


def test_each_listed_backup_can_be_restored_the_oldest_too(home):
    """Of twelve made before restoring, each comes back when it is the oldest: none is let go of, emptied or written to."""
    for number in range(keeping.KEPT_OTHERS):
        add(home, f"Step {number}")
        keeping.make(home / "kyklos.db", home / "backups", "before-restore", NOW + timedelta(hours=number))
    for _ in range(keeping.KEPT_OTHERS):
        oldest = keeping.listed(home / "backups")[-1]
        before, held = names_in(oldest.path), oldest.path.read_bytes()
        out = kyklos("restore", oldest.path, "--folder", home)
        assert out.exit_code == 0, out.output
        assert names_in(home / "kyklos.db") == before
        assert oldest.path.read_bytes() == held
        oldest.path.unlink()


def test_a_backup_that_is_not_there_is_not_made_by_naming_it(home):
    """Nothing is created, nothing is changed, and the household itself is no backup."""
    for wrong in (home / "backups" / "kyklos-20200101-000000-daily.db", home / "kyklos.db"):
        there = wrong.exists()
        assert kyklos("restore", wrong, "--folder", home).exit_code == 2
        assert wrong.exists() == there


def test_a_clock_that_was_wrong_once_ends_nothing(home):
    """A backup dated 2099 stops no daily one; one made by a clock set back is not let go of at once."""
    path, folder = home / "kyklos.db", home / "backups"
    keeping.make(path, folder, "daily", datetime(2099, 1, 1, tzinfo=UTC))
    assert keeping.due(folder, NOW)
    assert [one.at for one in keeping.listed(folder, NOW)] == [NOW]
    for day in range(12):
        assert keeping.make(path, folder, "daily", NOW + timedelta(days=day)).path.exists()
    back = keeping.make(path, folder, "daily", NOW - timedelta(days=900))
    assert back.path.exists()
    assert keeping.listed(folder)[0].path == back.path
    assert not keeping.due(folder, NOW - timedelta(days=900) + timedelta(hours=1))


@pytest.mark.parametrize("seed", range(3))
def test_a_year_of_the_keeper_with_a_clock_that_jumps(tmp_path, monkeypatch, seed):
    """However the clock jumps, no three days pass without a backup, the last seven are there, and their number stays bounded."""
    chance, made = random.Random(seed), []
    monkeypatch.setattr(keeping, "back_up", lambda _, target: (target.parent.mkdir(exist_ok=True), target.write_bytes(b"x")))
    jump, days = timedelta(0), [-1]
    for day in range(365):
        if chance.random() < 0.1:
            jump = timedelta(days=chance.choice([0, 0, -400, -1, 1, 3, 30_000]))
        for hour in (0, 6, 12, 18):
            now = NOW + timedelta(days=day, hours=hour) + jump
            if keeping.due(tmp_path, now):
                made.append(keeping.make(tmp_path / "kyklos.db", tmp_path, "daily", now))
                assert made[-1].path.exists()
                assert day - days[-1] <= 3
                days.append(day)
        left = [one.path for one in keeping.listed(tmp_path)]
        last_days = list(dict.fromkeys(one.at.date() for one in reversed(made)))[: keeping.KEPT_DAYS]
        newest = [next(one.path for one in reversed(made) if one.at.date() == wanted) for wanted in last_days]
        assert set(newest) <= set(left)
        assert len(left) <= keeping.KEPT_DAYS + keeping.KEPT_WEEKS + keeping.KEPT_MONTHS
    assert len(made) > 340


def bare(path):
    """Leave a file of SQLite without a table."""
    path.unlink()
    with closing(sqlite3.connect(path)) as file:
        file.execute("PRAGMA user_version=1")


@pytest.mark.parametrize("lost", [lambda path: path.unlink(), bare, lambda path: path.write_bytes(b"")])
@pytest.mark.parametrize("trace", ["secret", "backups"])
def test_a_lost_household_is_told_and_begun_anew_only_by_word(home, monkeypatch, lost, trace):
    """The backups there are are named; `--new` begins an empty one, and never in the place of a whole one."""
    monkeypatch.setattr("kyklos.cli.serving._serve", lambda *_: None)
    if trace == "secret":
        (home / "secret").write_text("a" * 64)
    else:
        for day in range(6):
            keeping.make(home / "kyklos.db", home / "backups", "daily", NOW + timedelta(days=day))
    assert kyklos("serve", "--new", "--folder", home).exit_code == 2
    lost(home / "kyklos.db")
    for command in (("serve",), ("backup",), ("check",), ("export", home / "x.zip")):
        out = kyklos(*command, "--folder", home)
        assert out.exit_code == 2, command
        assert "serve --new" in out.stderr
        assert ("kyklos restore" in out.stderr and "2 more" in out.stderr) or trace == "secret"
    assert kyklos("serve", "--new", "--folder", home).exit_code == 0
    assert kyklos("serve", "--folder", home).exit_code == 0
    assert "Before" not in names_in(home / "kyklos.db")


def test_a_damaged_file_is_kept_when_another_is_begun(home, monkeypatch):
    """What is left of it lies beside the backups, byte for byte."""
    monkeypatch.setattr("kyklos.cli.serving._serve", lambda *_: None)
    broken(home / "kyklos.db")
    held = (home / "kyklos.db").read_bytes()
    assert kyklos("serve", "--new", "--folder", home).exit_code == 0
    (aside,) = (home / "backups").glob("set-aside-*.db")
    assert aside.read_bytes() == held


LITTER = (".kyklos-20270301-090000-n000001-daily.db.part", ".kyklos.db.999999999-0a1b2c3d.part", ".kyklos.db.999999999-0a1b2c3d.part-journal", "kyklos-import-999999999-abc")  # fmt: skip


@pytest.mark.parametrize("command", ["check", "serve"])
def test_what_killed_programs_left_is_cleared(home, monkeypatch, command):
    """Half-written backups and imports go at the next start and check; what a living program writes, and all else, stays."""
    monkeypatch.setattr("kyklos.cli.serving._serve", lambda *_: None)
    folder = home / "backups"
    folder.mkdir()
    for name in LITTER:
        for place in (home, folder):
            (place / name).mkdir() if "import" in name else (place / name).write_bytes(b"x" * 1000)
    other = subprocess.Popen(["sleep", "60"])
    living = folder / f".kyklos-20270301-090000-n000002-daily.db.{other.pid}-00ff00ff.part"
    living.write_bytes(b"x")
    (home / ".part of a song").write_text("mine")
    assert kyklos(command, "--folder", home).exit_code == 0
    left = {path.name for place in (home, folder) for path in place.iterdir()}
    assert not left & set(LITTER)
    assert living.name in left
    assert ".part of a song" in left
    other.kill()
    other.wait()


def test_all_that_is_made_is_its_owners_alone_whatever_the_umask(tmp_path, monkeypatch):
    """Household, secret, password, backups and their folder: nobody else may read them."""
    monkeypatch.setattr("kyklos.cli.serving._serve", lambda *_: None)
    before = os.umask(0o000)
    try:
        home = tmp_path / "made"
        assert kyklos("serve", "--folder", home).exit_code == 0
        assert kyklos("backup", "--folder", home).exit_code == 0
        assert CliRunner().invoke(main, ["password", "--folder", str(home)], input="sour jar seven\n" * 2).exit_code == 0
    finally:
        os.umask(before)
    for path in [home, *home.rglob("*")]:
        assert stat.S_IMODE(path.stat().st_mode) & 0o077 == 0, path


def test_a_layout_that_is_not_known_fails_the_check(home):
    """A file of a newer version is not called whole."""
    newer(home / "kyklos.db")
    out = kyklos("check", "--folder", home)
    assert out.exit_code != 0
    assert "newer Kyklos" in out.stderr


FULL = r"""
import contextlib, json, os, shutil, sys
from pathlib import Path
from click.testing import CliRunner
import kyklos.cli.serving as serving
from kyklos.cli import main
serving._serve = lambda *_: None
disk, source = Path(sys.argv[1]), Path(sys.argv[2])
home, told = disk / "home", {}
def run(*words, **more):
    out = CliRunner().invoke(main, [*map(str, words), "--folder", str(more.pop("folder", home))], **more)
    return [out.exit_code, out.output, type(out.exception).__name__ if out.exception and not isinstance(out.exception, SystemExit) else ""]
home.mkdir()
shutil.copy(source, home / "kyklos.db")
assert run("serve")[0] == 0
assert run("password", input="sour jar seven\n" * 2)[0] == 0
assert run("backup", disk / "one.db")[0] == 0
run("export", disk / "a.zip")
kept = {name: (home / name).read_bytes() for name in ("secret", "password", "kyklos.db")}
with contextlib.suppress(OSError), (disk / "filler").open("wb", buffering=0) as filler:
    while True:
        filler.write(b"x" * 4096)
told["backup"] = run("backup")
told["restore"] = run("restore", disk / "one.db")
told["export"] = run("export", disk / "b.zip")
told["import"] = run("import", "--replace", disk / "a.zip")
told["password"] = run("password", input="another jar eight\n" * 2)
told["first start"] = run("serve", folder=disk / "new")
told["check"] = run("check")
told["serve"] = run("serve")
told["kept"] = all((home / name).read_bytes() == content for name, content in kept.items())
told["half"] = [path.name for path in disk.rglob("*") if ".part" in path.name or "import-" in path.name]
told["secret"] = (disk / "new" / "secret").exists() and (disk / "new" / "secret").stat().st_size == 0
print(json.dumps(told))
"""


def test_a_full_disk_is_told_as_one_and_nothing_half_written_is_left(tmp_path, empty_file):
    """On a disk of 6 MB that is full each command says so in a sentence; household, secret and password are as they were."""
    disk = tmp_path / "disk"
    disk.mkdir()
    asks = ["unshare", "-rm", "sh", "-c", f'mount -t tmpfs -o size=6m tmpfs "{disk}" && exec "{sys.executable}" -c "$0" "{disk}" "{empty_file}"', FULL]
    if shutil.which("unshare") is None or subprocess.run(["unshare", "-rm", "true"], capture_output=True).returncode:
        pytest.skip("this system lends no disk of its own")
    out = subprocess.run(asks, capture_output=True, text=True)
    assert out.returncode == 0, out.stderr
    told = json.loads(out.stdout)
    assert told.pop("kept")
    assert told.pop("half") == []
    assert not told.pop("secret")
    assert told.pop("check")[0] == 0
    assert told.pop("serve")[0] == 0
    for name, (status, said, fault) in told.items():
        assert fault == "", (name, fault)
        assert status == 2, (name, said)
        assert "full" in said or "less room" in said, (name, said)
        assert "damaged" not in said, (name, said)


@pytest.fixture
def as_another():
    """Run something as a user who owns nothing here; only the system's keeper can try that."""
    if os.geteuid() != 0:
        pytest.skip("only root can be somebody else")

    @contextmanager
    def somebody():
        os.seteuid(65534)
        try:
            yield
        finally:
            os.seteuid(0)

    return somebody


def test_a_folder_of_another_users_is_told_as_that(home, tmp_path, monkeypatch, as_another):
    """No trace, nothing about damage: who may not read or write is told so."""
    monkeypatch.setattr("kyklos.cli.serving._serve", lambda *_: None)
    kyklos("backup", tmp_path / "one.db", "--folder", home)
    warm = tmp_path / "warm"  # everything that is needed is read in once
    commands = [("serve",), ("backup",), ("restore", tmp_path / "one.db"), ("check",), ("export", home / "a.zip"), ("import", tmp_path / "no.zip")]
    for command in commands:
        kyklos(*command, "--folder", warm)
    for command in commands:
        with as_another():
            out = kyklos(*command, "--folder", home)
        assert out.exit_code == 2, command
        assert out.exception is None or isinstance(out.exception, SystemExit), command
        assert "right" in out.stderr or "no file" in out.stderr, (command, out.stderr)
        assert "damaged" not in out.stderr
    with as_another():
        out = CliRunner().invoke(main, ["password", "--folder", str(home)], input="sour jar seven\n" * 2)
    assert out.exit_code == 2
    assert "right" in out.stderr


def test_what_root_makes_in_anothers_folder_does_not_bar_its_owner(empty_file, as_another):
    """A backup, a password and a restored household made by root belong to the folder's owner, who goes on with them."""
    with tempfile.TemporaryDirectory() as made:
        home = Path(made) / "home"
        home.mkdir()
        Path(made).chmod(0o755)
        shutil.copy(empty_file, home / "kyklos.db")
        for path in (home, home / "kyklos.db"):
            os.chown(path, 65534, 65534)
        assert kyklos("backup", "--folder", home).exit_code == 0
        (first,) = keeping.listed(home / "backups")
        assert kyklos("restore", first.path, "--folder", home).exit_code == 0
        assert CliRunner().invoke(main, ["password", "--folder", str(home)], input="sour jar seven\n" * 2).exit_code == 0
        for path in home.rglob("*"):
            assert path.stat().st_uid == 65534, path
        with as_another():
            assert kyklos("backup", "--folder", home).exit_code == 0


@pytest.mark.parametrize("password", ["        ", "short", "x" * 201, "a b c d e f"])
def test_a_password_that_would_not_do_is_refused(tmp_path, password):
    """Blanks, too short, or longer than the form takes: a sentence, and none is set."""
    out = CliRunner().invoke(main, ["password", "--folder", str(tmp_path)], input=f"{password}\n{password}\n")
    assert out.exit_code == 2
    assert not (tmp_path / "password").exists()
