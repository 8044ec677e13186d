"""What other programs and the keeper may do to a household's file while it is served: nothing acknowledged is lost."""

import ast
import json
import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

import kyklos
from kyklos.actions.household import AddPlace, add_place
from kyklos.serving.app import create_app
from kyklos.serving.keeper import Keeper
from kyklos.store.file import keeping
from kyklos.store.file.database import Database, LostFileError

NOW = datetime(2027, 3, 1, 9, tzinfo=UTC)
SOURCE = Path(kyklos.__file__).parent
LOCKS = """
import fcntl, struct, sys
held = []
for end, start, length in (("", 0x40000002, 510), ("-shm", 128, 1)):
    with open(sys.argv[1] + end, "rb+") as file:
        told = struct.pack("hhqqi4x", fcntl.F_WRLCK, 0, start, length, 0)
        held.append(struct.unpack("hhqqi4x", fcntl.fcntl(file, fcntl.F_GETLK, told))[0] != fcntl.F_UNLCK)
print(held)
"""
PASSES_BY = """
import sqlite3, sys
with sqlite3.connect(sys.argv[1]) as file:
    file.execute("SELECT count(*) FROM place").fetchone()
file.close()
"""
WATCHED = """
import json, os, sys
from pathlib import Path
from datetime import timedelta
from kyklos.store.file.database import Database
from kyklos.serving.app import create_app
from kyklos.serving.keeper import Keeper
from kyklos.demo.day import DEMO_NOW
from kyklos.exchange import packing
path, opened = Path(sys.argv[1]), []
real = {os.path.realpath(f"{path}{end}") for end in ("", "-wal", "-shm")}
def hook(event, told):
    if event == "open" and isinstance(told[0], (str, os.PathLike)) and os.path.realpath(told[0]) in real:
        opened.append(str(told[0]))
database = Database(path)
database.migrate()
sys.addaudithook(hook)
client = create_app(database, lambda: DEMO_NOW, "x", WTF_CSRF_ENABLED=False).test_client()
for address in ("/", "/settings/", "/cellar/", "/cultures/", "/almanac/", "/brews/7"):
    assert client.get(address).status_code == 200, address
assert client.post("/settings/backup").status_code == 303
keeper = Keeper(database, lambda: DEMO_NOW)
keeper.look(DEMO_NOW)
keeper.look(DEMO_NOW + timedelta(days=8))
packing.export(path, path.with_name("house.zip"))
print(json.dumps(opened))
"""


def python(text, *told):
    """Run a program of its own; gives what it prints."""
    return subprocess.run([sys.executable, "-c", text, *map(str, told)], capture_output=True, text=True, check=True).stdout


@pytest.fixture
def served(empty_file, tmp_path):
    """A household as it is served: both sessions were used."""
    path = tmp_path / "kyklos.db"
    shutil.copy(empty_file, path)
    database = Database(path)
    add(database, "First")
    with database.reader() as session:
        session.connection()
    yield database
    database.close()


def add(database, name):
    """Write a place."""
    with database.writer() as session:
        add_place(session, AddPlace(name=name, celsius=20), NOW)


def names(path):
    """Places that another program reads."""
    return set(json.loads(python("import json, sqlite3, sys\nprint(json.dumps([row[0] for row in sqlite3.connect(sys.argv[1]).execute('SELECT name FROM place')]))", path)))


def test_locks_are_held_after_each_round_of_the_keeper(served):
    """Backed up, looked at wholly, looked at again: SQLite's locks on the file and on its index are still there."""
    keeper = Keeper(served, lambda: NOW)
    for days in (0, 1, 8):
        keeper.look(NOW + timedelta(days=days))
        assert python(LOCKS, served.path).strip() == "[True, True]"


@pytest.mark.parametrize(
    "passing_by",
    [
        lambda path: python(PASSES_BY, path),
        lambda path: subprocess.run([sys.executable, "-m", "kyklos", "backup", "--folder", path.parent], check=True, capture_output=True),
        lambda path: subprocess.run([sys.executable, "-m", "kyklos", "check", "--folder", path.parent], check=True, capture_output=True),
        lambda path: subprocess.run([sys.executable, "-m", "kyklos", "export", path.parent / "a.zip", "--folder", path.parent], check=True, capture_output=True),
    ],
    ids=["sqlite", "backup", "check", "export"],
)  # fmt: skip
def test_a_program_that_opens_and_closes_the_file_takes_no_log_away(served, passing_by):
    """After the keeper's round another program passes by; what is written then is in the file that others read."""
    Keeper(served, lambda: NOW).look(NOW)
    passing_by(served.path)
    assert Path(f"{served.path}-wal").exists()
    add(served, "After")
    assert {"First", "After"} <= names(served.path)


def test_nothing_but_sqlite_opens_the_file_while_it_is_served(demo_file, tmp_path):
    """Pages, backups, the keeper's rounds and an export open it by SQLite alone."""
    shutil.copy(demo_file, tmp_path / "kyklos.db")
    assert json.loads(python(WATCHED, tmp_path / "kyklos.db")) == []


def test_one_module_opens_households():
    """Whoever wants a household's file asks `store/file/opening.py`."""
    found = set()
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and ast.unparse(node.func) in {"sqlite3.connect", "sqlite3.Connection", "aiosqlite.connect"}:
                found.add(str(path.relative_to(SOURCE)))
    assert found == {"store/file/opening.py"}


def moved_away(path):
    """Move the file elsewhere."""
    path.rename(path.with_name("elsewhere.db"))


def replaced(path):
    """Put a copy in its place."""
    shutil.copy(path, path.with_name("copy.db"))
    path.with_name("copy.db").replace(path)


@pytest.mark.parametrize(
    "take",
    [Path.unlink, moved_away, replaced, lambda path: Path(f"{path}-wal").unlink(), lambda path: Path(f"{path}-shm").unlink()],
    ids=["deleted", "moved", "replaced", "log deleted", "index deleted"],
)
def test_no_write_is_acknowledged_once_the_file_is_another(served, clock, take):
    """Deleted, moved or replaced under the server, by its log too: each write is refused in a sentence, and pages say so."""
    client = create_app(served, clock, "x", WTF_CSRF_ENABLED=False).test_client()
    assert client.get("/settings/").status_code == 200
    take(served.path)
    for number in range(4):
        answer = client.post("/vessels/places/1", data={"place_name": f"Shelf {number}", "celsius": "20"})
        assert answer.status_code == 503
        assert "moved, replaced or deleted" in answer.text
    with pytest.raises(LostFileError):
        add(served, "Lost")
    assert "moved, replaced or deleted" in client.get("/settings/").text
    assert not served.path.exists() or take not in (Path.unlink, moved_away)


def test_a_file_lost_between_is_told_and_one_put_back_goes_on(served):
    """What was written while the file went is not acknowledged; put back, the same file is written to again."""

    def between():
        with served.writer() as session:
            add_place(session, AddPlace(name="Between", celsius=20), NOW)
            moved_away(served.path)

    with pytest.raises(LostFileError):
        between()
    served.path.with_name("elsewhere.db").rename(served.path)
    add(served, "Back")
    assert {"First", "Between", "Back"} <= names(served.path)


def test_a_backup_under_load_is_one_look(served):
    """While others write on and on, a backup ends, whole, in one step."""
    with closing(sqlite3.connect(served.path, isolation_level=None)) as busy:
        busy.execute("PRAGMA journal_mode=WAL")
        busy.execute("BEGIN IMMEDIATE")
        busy.execute("UPDATE place SET celsius = 19")
        made = keeping.make(served.path, served.backups, "by-hand", NOW)
        busy.execute("ROLLBACK")
    assert not keeping.whats_wrong(made.path, served=False)
