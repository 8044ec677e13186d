"""A page seen again is given as it was while it would say the same: with keys of its own, and never where it would say something else."""

import re

import pytest

from kyklos.actions.brewing import readings
from kyklos.serving import seen_again
from kyklos.serving.app import create_app

KEYS = re.compile(r'name="once" value="([^"]+)"')


WORD = re.compile(r'(X-CSRFToken|csrf_token)(\W+)(value=")?[\w.-]+"')  #: Of this second: another one a second later.


def bare(page):
    """A page without the keys of its forms."""
    return WORD.sub("", KEYS.sub("", page))


@pytest.fixture
def house(kitchen):
    """A jar that brews, and a browser whose forms carry keys against strangers' pages."""
    kitchen.brew = kitchen.pitch()
    kitchen.clock.turn(2)
    kitchen.app = create_app(kitchen.database, kitchen.clock, "x", TESTING=True)
    kitchen.client = kitchen.app.test_client()
    kitchen.kept = kitchen.app.extensions["kyklos seen"].kept
    kitchen.client.get("/")  # gets its cookie
    return kitchen


def rendered(house, path, monkeypatch, again=2):
    """Ask for a page some times; how often it was made, and each answer."""
    made = []
    real = house.app.view_functions
    monkeypatch.setattr(house.app, "view_functions", {name: lambda name=name, **more: made.append(name) or real[name](**more) for name in real})
    return [house.client.get(path).text for _ in range(again)], len(made)


def test_the_second_time_a_page_is_not_made_again(house, monkeypatch):
    """It says the same, and each of its forms has a key of its own."""
    (first, second), made = rendered(house, "/notes/brew/1", monkeypatch)
    assert made == 1
    assert bare(first) == bare(second)
    assert KEYS.findall(first)
    assert set(KEYS.findall(first)).isdisjoint(KEYS.findall(second))


def test_a_form_of_a_page_given_again_is_taken(house):
    """Its key against strangers' pages is this device's, and what is sent twice is written once."""
    house.client.get("/vessels/new")
    page = house.client.get("/notes/vessel/1").text
    page = house.client.get("/notes/vessel/1").text
    word, once = re.search(r'name="csrf_token" value="([^"]+)"', page)[1], KEYS.findall(page)[-1]
    sent = {"csrf_token": word, "once": once, "text": "Given again."}
    assert house.client.post("/notes/vessel/1", data=sent).status_code == 303
    house.client.post("/notes/vessel/1", data=sent)
    assert house.client.get("/notes/vessel/1").text.count("Given again.") == 2  # its line, and the name of its button


def test_another_device_gets_keys_of_its_own(house):
    """The page is shared, what stands in its forms against strangers is not."""
    mine = [house.client.get("/").text for _ in range(2)][-1]
    other = house.app.test_client()
    theirs = [other.get("/").text for _ in range(2)][-1]
    word = re.compile(r'name="csrf_token" value="([^"]+)"')
    assert word.search(mine)[1] != word.search(theirs)[1]
    assert other.post("/notes/vessel/1", data={"csrf_token": word.search(mine)[1], "text": "x"}).status_code == 400


def test_what_was_written_is_on_the_page(house):
    """After an action the page is made anew; a message is shown once."""
    for path in ("/", "/brews/1"):
        house.client.get(path)
    house.do(readings.log_reading, readings.LogReading(brew_id=house.brew, ph=3.97))
    assert "3.97" in house.client.get("/brews/1").text
    page = house.client.get("/brews/1").text
    form = {"csrf_token": re.search(r'name="csrf_token" value="([^"]+)"', page)[1], "text": "Warm."}
    house.client.post("/notes/brew/1", data=form | {"back": "/brews/1"})
    assert "Noted for" in house.client.get("/brews/1").text
    assert "Noted for" not in house.client.get("/brews/1").text


def test_the_next_minute_it_is_made_anew(house, monkeypatch):
    """What is said of now does not outlive the minute."""
    house.client.get("/")
    house.clock.turn(1 / 1440)
    _, made = rendered(house, "/", monkeypatch, 1)
    assert made == 1


def test_what_stands_beside_the_file_is_never_given_again(house, monkeypatch):
    """Settings say which backups there are and who is signed in."""
    _, made = rendered(house, "/settings/", monkeypatch)
    assert made == 2


def test_only_so_many_pages_are_kept(house, monkeypatch):
    """The one seen longest ago makes room; one longer than all that is kept is not."""
    monkeypatch.setattr(seen_again, "ROOM", 2)
    for path in ("/", "/vessels/", "/cultures/"):
        house.client.get(path)
    assert len(house.kept) == 2
    house.kept.clear()
    monkeypatch.setattr(seen_again, "MOST_LETTERS", 10)
    house.client.get("/vessels/")
    assert not house.kept
