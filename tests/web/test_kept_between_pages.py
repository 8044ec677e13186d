"""What a page read of the file serves the next one: nothing is asked twice, and nothing that was written since is missed."""

import threading
import time

import pytest
from sqlalchemy import event

from kyklos.actions import household
from kyklos.actions.brewing import readings
from kyklos.serving.app import create_app
from kyklos.store.file import database as database_module
from kyklos.store.file.database import Database
from kyklos.store.read import memory

PAGES = ("/", "/vessels/", "/cultures/", "/almanac/", "/brews/1")


@pytest.fixture
def house(kitchen):
    """A jar that brews, its pages, and what they ask of the file."""
    brew = kitchen.pitch()
    kitchen.clock.turn(2)
    kitchen.client = create_app(kitchen.database, kitchen.clock, "x", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    kitchen.brew, kitchen.asked = brew, []
    event.listen(kitchen.database._reading, "before_cursor_execute", lambda *given: kitchen.asked.append(given[2]))
    return kitchen


def ask(house, path):
    """Ask for a page; gives it, and how many statements it took."""
    house.asked.clear()
    page = house.client.get(path)
    assert page.status_code == 200, path
    return page.text, len(house.asked)


@pytest.mark.parametrize("path", PAGES)
def test_a_page_seen_again_asks_only_whether_something_was_written(house, path):
    """Of a page that was just seen nothing is asked but the file's state; of another one, less than of the first."""
    _, first = ask(house, path)
    _, again = ask(house, path)
    assert again <= 2 < first
    house.database.drop_kept()
    _, fresh = ask(house, "/vessels/")
    house.database.drop_kept()
    ask(house, "/")
    _, after = ask(house, "/vessels/")
    assert after < fresh


def test_a_write_of_anybody_is_on_the_next_page(house):
    """A reading by this server, another by another program, and one taken back: each page after shows what is in the file."""
    ask(house, "/brews/1")
    house.do(readings.log_reading, readings.LogReading(brew_id=house.brew, ph=3.97))
    assert "3.97" in ask(house, "/brews/1")[0]
    other = Database(house.database.path)
    with other.writer() as session:
        change = readings.log_reading(session, readings.LogReading(brew_id=house.brew, ph=3.55), house.clock()).change_id
    assert "3.55" in ask(house, "/brews/1")[0]
    other.close()
    assert house.client.post(f"/undo/{change}").status_code == 303
    ask(house, "/brews/1")  # which says that it was taken back
    assert "3.55" not in ask(house, "/brews/1")[0]


def test_a_name_changed_in_a_form_is_changed_everywhere(house):
    """A place renamed is renamed on pages that were read before, whatever rows they hold."""
    for path in PAGES:
        ask(house, path)
    house.do(household.change_place, household.ChangePlace(place_id=1, name="Windowsill", celsius=24.0))
    for path in ("/vessels/", "/"):
        text, _ = ask(house, path)
        assert "Windowsill" in text
        assert "Shelf" not in text


def test_a_quarter_of_an_hour_begins_anew(house):
    """What is known of a moment does not outlive it: later everything is read again."""
    _, first = ask(house, "/")
    house.clock.turn(20 / 1440)
    _, later = ask(house, "/")
    assert later > first / 2


def test_what_failed_or_is_too_much_is_not_kept(house, monkeypatch):
    """A request that raised leaves nothing behind; nor does one that read more rows than are kept."""
    monkeypatch.setattr(database_module, "MOST_ROWS", 1)
    ask(house, "/")
    assert house.database._kept == []
    monkeypatch.setattr(database_module, "MOST_ROWS", 20_000)
    ask(house, "/")
    assert len(house.database._kept) == 1
    house.database.drop_kept()
    assert house.client.get("/brews/999").status_code == 404
    assert ask(house, "/vessels/")[1] > 2


def test_two_who_ask_the_same_at_once_have_it_made_once(kitchen):
    """The second waits for the first; where the first fails, the second makes it."""
    made, answers = [], []

    def slow():
        made.append(1)
        time.sleep(0.2)
        if len(made) == 1:
            raise ValueError("the first time it cannot be made")
        return len(made)

    def ask():
        with kitchen.database.reader() as session:
            try:
                answers.append(memory.remembered(session, "slow", slow))
            except ValueError:
                answers.append(None)

    threads = [threading.Thread(target=ask) for _ in range(4)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert len(made) == 2
    assert sorted(answers, key=str) == [2, 2, 2, None]
