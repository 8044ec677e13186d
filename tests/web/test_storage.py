"""Trouble with the household's file while it is served: each is a sentence that says what is safe; nothing half-done is kept."""

import sqlite3
from contextlib import closing

import pytest
from sqlalchemy import event

from kyklos.serving.app import create_app
from kyklos.store.records import Place
from kyklos.web.kit.errors import STORAGE, storage_words

NEW = {"name": "Crock", "kind": "crock", "nominal_l": "8", "usable_l": "7", "diameter_cm": "21", "material": "glass", "place": "0", "new_place": "Loft", "new_place_c": "19"}  # fmt: skip


@pytest.fixture
def served(database, clock):
    """A browserless client that is shown what people are shown."""
    app = create_app(database, clock, "test", TESTING=False, WTF_CSRF_ENABLED=False, PROPAGATE_EXCEPTIONS=False)
    return app.test_client()


def full(database):
    """Let the file grow no more."""

    @event.listens_for(database._writing, "connect")
    def bound(connection, _):
        pages = connection.execute("PRAGMA page_count").fetchone()[0]
        connection.execute(f"PRAGMA max_page_count={pages}")

    database._writing.dispose()


def test_a_full_disk_is_told_and_nothing_half_done_is_kept(served, database):
    """What does not fit is not kept at all; what was saved before is safe, and what comes after works again."""
    assert served.post("/vessels/new", data=NEW).status_code == 303
    full(database)
    wrong, sent = None, 0
    while wrong is None and sent < 200:
        sent += 1
        answer = served.post("/vessels/new", data={**NEW, "name": f"Crock {sent}", "new_place": f"Loft {sent}"})
        wrong = answer if answer.status_code != 303 else None
    assert wrong is not None
    assert wrong.status_code == 503
    assert "The disk is full" in wrong.text
    assert "Traceback" not in wrong.text
    with database.reader() as session:
        names = {place.name for place in session.query(Place)}
    assert f"Loft {sent}" not in names
    assert f"Loft {sent - 1}" in names or sent == 1
    assert served.get("/vessels/").status_code == 200


def test_a_file_that_can_only_be_read_is_told(served, database):
    """Pages show what there is; saving says that all before is safe."""

    @event.listens_for(database._writing, "connect")
    def bound(connection, _):
        connection.execute("PRAGMA query_only=ON")

    database._writing.dispose()
    answer = served.post("/vessels/new", data=NEW)
    assert answer.status_code == 503
    assert "can only be read" in answer.text
    assert served.get("/").status_code == 200


def test_a_file_that_is_damaged_meanwhile_is_told(served, database):
    """No page fails with anything but a sentence, and nothing is begun anew in its place."""
    served.post("/vessels/new", data=NEW)
    database.close()
    with closing(sqlite3.connect(database.path)) as file:
        file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    content = bytearray(database.path.read_bytes())
    content[100 : len(content)] = b"\xab" * (len(content) - 100)
    database.path.write_bytes(bytes(content))
    for path in ("/", "/vessels/", "/settings/"):
        answer = served.get(path)
        assert answer.status_code == 503, path
        assert "damaged" in answer.text
        assert "Traceback" not in answer.text
    assert database.path.read_bytes() == bytes(content)


@pytest.mark.parametrize("mark", [mark for mark, _ in STORAGE])
def test_each_word_of_the_files_own_has_its_sentence(mark):
    """What is safe, and what to do."""
    words = storage_words(f"something {mark} something")
    assert words.endswith(".")
    assert "safe" in words or "as it was" in words or "go back to" in words or "still here" in words
