"""The rack: every bottle once, in its place, with what wants the same; looks show what they say."""

import re

import pytest

from kyklos.core.base.kinds import BottleState
from kyklos.core.bottles.advice import GIVEN, PRESSING, READY, SHORT, TO_CHILL, BottleStep
from kyklos.core.bottles.bottle import bottle_forecast
from kyklos.core.bottles.if_warmer import if_warmer
from kyklos.demo.household import DEMO_NOW
from kyklos.reckon.bottles.cellar import alike_in
from kyklos.reckon.bottles.pressure import bottle_ask_of
from kyklos.reckon.bottles.rack import RackLook, by_place, is_so, lots_of
from kyklos.store.read import queries
from kyklos.store.records import Bottle


@pytest.fixture
def session(demo):
    """A look at the sample household."""
    with demo.reader() as session:
        session.context.now = DEMO_NOW
        yield session


@pytest.fixture
def lots(session):
    """What stands there."""
    return lots_of(alike_in(queries.bottles(session, BottleState.WARM, BottleState.COLD), DEMO_NOW))


def test_every_bottle_stands_once_in_its_place(session, lots):
    """None is left out or doubled; a lot has one name, one place and one thing to do; the pressing stand first."""
    standing = sorted(bottle.id for bottle in queries.bottles(session, BottleState.WARM, BottleState.COLD))
    assert sorted(bottle.id for lot in lots for bottle in lot.bottles) == standing
    for lot in lots:
        assert len({(alike.place.id, alike.advice.step) for alike in lot.alikes}) == 1
    for _, some in by_place(lots):
        assert [lot.pressing for lot in some] == sorted((lot.pressing for lot in some), reverse=True)
    assert [place.position for place, _ in by_place(lots)] == sorted(place.position for place, _ in by_place(lots))


def test_looks_show_what_they_say(lots):
    """What is ready is cold or loose, what is to be chilled stands warm, what is given is none that presses; an unknown look shows all."""
    ready = [lot for lot in lots if is_so(lot, RackLook.READY, DEMO_NOW)]
    chill = [lot for lot in lots if is_so(lot, RackLook.TO_CHILL, DEMO_NOW)]
    assert ready
    assert chill
    assert not {id(lot) for lot in ready} & {id(lot) for lot in chill}
    assert all(lot.first.first.state == BottleState.WARM for lot in chill)
    assert not any(lot.pressing for lot in lots if is_so(lot, RackLook.TO_GIVE, DEMO_NOW))
    assert all((DEMO_NOW - min(b.bottling.at for b in lot.bottles)).days >= 30 for lot in lots if is_so(lot, RackLook.OLD, DEMO_NOW))
    assert all(is_so(lot, "", DEMO_NOW) for lot in lots)


def test_each_step_has_short_words_and_no_two_looks_disagree():
    """Every advice can stand under a bottle; what may be given is ready, and nothing ready is to be chilled."""
    assert set(SHORT) == set(BottleStep)
    assert GIVEN <= READY
    assert not READY & TO_CHILL
    assert not GIVEN & PRESSING


def test_warmer_it_presses_more_and_colder_less(lots):
    """From today on; what lies behind stays."""
    alike = next(lot.first for lot in lots if lot.first.limit_bar and lot.first.first.state == BottleState.WARM)
    ask, day = bottle_ask_of(alike.first), alike.day
    cold, here, warm = (bottle_forecast(if_warmer(ask, day, kelvin)) for kelvin in (-6.0, 0.0, 6.0))
    assert cold.at(day + 5)[1] < here.at(day + 5)[1] < warm.at(day + 5)[1]
    assert cold.at(day - 0.5)[1] == pytest.approx(warm.at(day - 0.5)[1])


def test_a_drawer_says_what_its_bottles_want(demo_client, lots):
    """Its curve, its deeds; past its limit none is opened, burped or given from there; what is gone opens nothing."""
    for lot in lots:
        page = demo_client.get("/cellar/some?of=" + ",".join(str(b.id) for b in lot.bottles)).text
        assert lot.name in page
        past = lot.step is BottleStep.PAST
        assert ("Open one" in page) != past
        assert ("holds" in page) == (lot.first.limit_bar > 0)
    assert demo_client.get("/cellar/some?of=999999").status_code == 404
    assert demo_client.get("/cellar/some?of=x").status_code in {400, 404}


def test_of_some_that_are_ticked_one_of_these_is_opened(demo_client, demo, lots):
    """Where only some are ticked, the first of them is; the others stand as they stood."""
    lot = next(lot for lot in lots if lot.step in TO_CHILL and len(lot.bottles) == 2)
    first, second = (bottle.id for bottle in lot.bottles)
    assert demo_client.post(f"/cellar/open/{first}", data={"hiss": "2", "bottle": str(second)}).status_code == 303
    with demo.reader() as session:
        assert [session.get(Bottle, number).state for number in (first, second)] == ["warm", "gone"]


def test_a_slider_moves_the_curve(demo_client, lots):
    """Warmer a second line is drawn, and the day on which the first would pass its limit is said anew."""
    lot = next(lot for lot in lots if lot.step in TO_CHILL)
    of = ",".join(str(b.id) for b in lot.bottles)
    part = demo_client.get(f"/cellar/some?of={of}&kelvin=6", headers={"HX-Request": "true"}).text
    assert 'class="other"' in part
    assert re.search("6 °C warmer from today: The first would pass its limit", part)
    assert demo_client.get(f"/cellar/some?of={of}&kelvin=900", headers={"HX-Request": "true"}).status_code == 200
