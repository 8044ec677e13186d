"""What an earlier tasting taught stays: no draw, no topping up, no later reading of a tapped vessel changes it."""

import pytest

from kyklos.actions.brewing.correcting import CorrectReading, correct_reading
from kyklos.actions.brewing.readings import LogReading, LogTasting, log_reading, log_tasting
from kyklos.actions.undo import Undo, undo
from kyklos.reckon.forecast import palates
from kyklos.store.records import Brew, TastedThen
from tests.actions.test_tapping import crock

__all__ = ["crock"]


def taught(crock):
    """Acidity that each tasting taught, by its moment, as the almanac, the tasters' page and every forecast read it."""
    session = crock.database.reader()
    session.context.now = crock.clock.now
    rows = [one for told in palates.tasted_by(session).values() for one in told]
    return sorted((row.ta_g_per_l, row.ta_sd, row.score) for row in rows)


def taste(crock, score):
    """One taster's word."""
    return crock.do(log_tasting, LogTasting(brew_id=crock.brew, taster_id=1, score=score))


def test_topping_up_for_months_never_changes_what_a_taste_taught(crock):
    """Draws, sweet tea and readings over four months move the course's beginning past the first tastings: they teach the same."""
    taste(crock, 0)
    crock.clock.turn(0.5)
    taste(crock, 1)
    first = taught(crock)
    assert first[0][0] > 2.0
    for _ in range(24):
        crock.clock.turn(5.5)
        crock.draw(1.0)
        crock.top_up(1.0, ph=3.5, instrument="meter")
        crock.do(log_reading, LogReading(brew_id=crock.brew, ph=3.4))
        assert taught(crock) == first


def test_a_corrected_reading_before_it_does_change_it(crock):
    """A reading of before the taste, told otherwise, is a correction of its own brew; undone, it teaches as it did."""
    taste(crock, 0)
    first = taught(crock)
    with crock.database.reader() as session:
        number = session.get(Brew, crock.brew).readings[-1].id
    done = crock.do(correct_reading, CorrectReading(reading_id=number, now=LogReading(brew_id=crock.brew, ph=3.0)))
    assert taught(crock)[0][0] > first[0][0] + 0.5
    crock.do(undo, Undo(done.change_id))
    assert taught(crock)[0] == pytest.approx(first[0], abs=0.01)


def test_an_undone_tasting_leaves_nothing_behind(crock):
    """What was kept of it goes with it."""
    done = taste(crock, 0)
    crock.do(undo, Undo(done.change_id))
    with crock.database.reader() as session:
        assert not session.query(TastedThen).all()
