"""What the pages say of one brew never contradicts: over many states, page, round, almanac, calendar and harvest agree."""

import itertools
import re
from datetime import timedelta

import pytest

from kyklos.actions.brewing import readings
from kyklos.reckon.judging import verdicts as judging
from kyklos.serving.app import create_app
from kyklos.store.records import Brew

STATES = [
    (day, ph, by, surface)
    for day, ph, by, surface in itertools.product(
        (3, 6, 8, 12), (None, 5.3, 4.4, 4.1, 3.3), ("meter", "strip"), ("", "fuzzy", "odd", "disc")
    )
    if ph is not None or by == "meter"
]
WINDOWS = re.compile(r"[Rr]ight for (Ana|Ben)")


@pytest.fixture
def client(kitchen):
    """A browserless client of a small household."""
    return create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()


def words(page):
    """A page's words."""
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", page.text))


@pytest.mark.parametrize("state", STATES[::3], ids=str)
def test_no_page_says_otherwise_than_the_verdict(client, kitchen, state):
    """A brew to be discarded has no window, no harvest and no bottles anywhere; a held one says first what is to be settled."""
    day, ph, by, surface = state
    brew = kitchen.pitch(measured_ph=4.45)
    kitchen.clock.turn(day)
    if ph is not None:
        kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=ph, instrument=by, sure=True))
    if surface:
        kitchen.do(readings.log_look, readings.LogLook(brew_id=brew, surface=surface))
    with kitchen.database.reader() as session:
        word = judging.verdict_of(session.get(Brew, brew), kitchen.clock()).word
    own, round_, almanac = (words(client.get(path)) for path in (f"/brews/{brew}", "/", "/almanac/"))
    start, end = kitchen.clock() + timedelta(days=1), kitchen.clock() + timedelta(days=9)
    away = words(client.get(f"/almanac/away?leaves={start.date()}&returns={end.date()}"))
    if word == "discard":
        for page in (own, round_, almanac):
            assert not WINDOWS.search(page)
            assert "Harvest it" not in page
            assert "Bottle it" not in page
        assert "Discard" in own
        assert "Discard" in round_
        assert "Bottle" not in away.split("Going away")[-1]
    if word == "hold":
        assert "On hold: settle that first." in own
        assert own.index("Hold.") > 0
        assert "Harvest it" not in own
    if word in {"discard", "hold"}:
        client.post(f"/brews/{brew}/harvest/reserve", data={"litres": "0.3", "instrument": "meter"})
        with kitchen.database.reader() as session:
            assert not session.get(Brew, brew).reserved
    if word == "carry on":
        assert "On hold" not in own + round_
        assert "Discard it" not in own + round_
