"""Vessels where they stand: when each is free, what became of its brews, and what can be done with it."""

import pytest
from sqlalchemy import select

from kyklos.actions.brewing import readings
from kyklos.core.base.kinds import BrewStatus
from kyklos.demo.household import DEMO_NOW
from kyklos.reckon.vessels_now import Frees, free_soon, vessels_now
from kyklos.store.read import vessel_history
from kyklos.store.records import Brew, Vessel


@pytest.fixture
def session(demo):
    """A look at the sample household."""
    with demo.reader() as session:
        session.context.now = DEMO_NOW
        yield session


def test_each_vessel_stands_once_and_says_when_it_is_free(session):
    """A held brew, a hotel, one that runs and an empty jar are told apart; what is free soon is counted once."""
    every = vessels_now(session, DEMO_NOW)
    assert sorted(one.vessel.id for one in every) == sorted(session.scalars(select(Vessel.id)))
    by_name = {one.vessel.name: one.frees for one in every}
    assert (by_name["Demijohn"], by_name["Stoneware crock"], by_name["The hotel"]) == (Frees.NOW, Frees.RUNS, Frees.HOTEL)
    assert all((one.at is not None) == (one.frees is Frees.BY_DAY) for one in every)
    free, by, more_l = free_soon(every, DEMO_NOW)
    assert [one.vessel.name for one in free] == ["Demijohn"]
    coming = [one for one in every if one.at is not None and one.at <= by]
    assert more_l == pytest.approx(sum(one.vessel.usable_l for one in coming))
    assert min(one.at for one in coming) >= DEMO_NOW


def test_the_past_of_a_vessel_is_what_its_brews_say(session):
    """Count, losses and days are those of the brews that ended; the last five stand in order."""
    last = vessel_history.last_brews(session)
    for vessel in session.scalars(select(Vessel)):
        ended = sorted((b for b in session.scalars(select(Brew).where(Brew.vessel_id == vessel.id)) if b.ended_at), key=lambda b: b.ended_at)
        past = vessel_history.past_of(session, vessel.id)
        assert [one.brew_id for one in last.get(vessel.id, [])] == [b.id for b in ended][-vessel_history.LAST :]
        if not ended:
            assert past is None
            continue
        days = [(b.ended_at - b.pitched_at).total_seconds() / 86400 for b in ended]
        lost = [b.status == BrewStatus.DISCARDED for b in ended]
        assert (past.brews, past.lost) == (len(ended), sum(lost))
        assert (past.shortest_days, past.longest_days) == (pytest.approx(min(days), abs=1e-3), pytest.approx(max(days), abs=1e-3))
        assert [one.lost for one in last[vessel.id]] == lost[-vessel_history.LAST :]


def test_a_touched_vessel_says_its_past_and_offers_what_makes_sense(demo_client, session):
    """An empty one is planned with, one that is held is not harvested, a hotel is looked into; another shelf is a tap away."""
    pages = {one.vessel.name: demo_client.get(f"/vessels/{one.vessel.id}/card").text for one in vessels_now(session, DEMO_NOW)}
    assert "Plan a brew" in pages["Demijohn"]
    assert "Look into it" in pages["The hotel"]
    assert "Draw, top up" in pages["Stoneware crock"]
    assert "Harvest" in pages["Stone jar"]
    assert ">Harvest<" not in pages["Jar one"]
    empty = next(one.vessel for one in vessels_now(session, DEMO_NOW) if one.frees is Frees.NOW)
    other = next(place for place in (1, 2, 3) if place != empty.place.id)
    assert demo_client.post(f"/vessels/{empty.id}/place", data={"place": str(other)}).status_code == 303
    assert demo_client.post(f"/vessels/{empty.id}/place", data={"place": "x"}).status_code == 404
    assert demo_client.get("/vessels/999/card").status_code == 404


def test_a_brew_put_on_hold_frees_its_vessel_no_more(kitchen):
    """Until it is settled no day is told."""
    kitchen.pitch()
    kitchen.clock.turn(3)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=1, ph=3.9))
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        assert vessels_now(session, kitchen.clock.now)[0].frees in {Frees.BY_DAY, Frees.LATE}
    kitchen.do(readings.log_look, readings.LogLook(brew_id=1, surface="fuzzy"))
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        assert vessels_now(session, kitchen.clock.now)[0].frees in {Frees.LOST, Frees.HELD}
