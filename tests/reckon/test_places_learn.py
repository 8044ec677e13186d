"""A place's own warmth: what was read in its brews corrects what was told of it, for what comes after."""

from datetime import timedelta

import pytest

from kyklos.actions.bottles import harvest
from kyklos.actions.brewing import readings
from kyklos.reckon.forecast import warmth
from kyklos.store.records import Brew, Place


def brew_read_at(kitchen, celsius, days=9):
    """A brew read every other day at so much, ended."""
    brew = kitchen.pitch()
    for _ in range(days // 3):
        kitchen.clock.turn(3)
        kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, celsius=celsius, ph=3.5))
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    kitchen.do(harvest.end_brew, harvest.EndBrew(brew_id=brew))
    return brew


def test_the_next_brew_is_expected_as_warm_as_the_last_really_was(kitchen):
    """Told 24, read 26: the next is expected near 26, and the one before still as it was; a brew of its own readings follows those."""
    first = brew_read_at(kitchen, 26.0)
    kitchen.clock.turn(1)
    second = kitchen.pitch(lot=2)
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        assert warmth.course_of(session.get(Brew, second)).future_c == pytest.approx(25.6, abs=0.3)
        assert warmth.course_of(session.get(Brew, first)).future_c == 24.0
        assert not warmth.measured_of(session.get(Brew, second))


def test_a_lone_reading_or_another_room_teaches_nothing(kitchen):
    """One day's reading is too little; five degrees off is a heater that failed, not the place."""
    brew = kitchen.pitch()
    kitchen.clock.turn(2)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, celsius=26.0))
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        assert warmth.offset_of(session, session.get(Place, 1), kitchen.clock()) == 0
    for _ in range(3):
        kitchen.clock.turn(3)
        kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, celsius=17.0))
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        assert warmth.offset_of(session, session.get(Place, 1), kitchen.clock()) == 0


def test_what_was_known_then_is_asked_the_same_way_later(kitchen):
    """Years later a brew is foretold as warm as it was: by what was known when it began."""
    brew_read_at(kitchen, 22.5)
    kitchen.clock.turn(1)
    began = kitchen.clock()
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        soon = warmth.offset_of(session, session.get(Place, 1), began)
    with kitchen.database.reader() as session:
        session.context.now = began + timedelta(days=900)
        later = warmth.offset_of(session, session.get(Place, 1), began)
    assert soon == later
    assert -1.5 < soon < -0.8
