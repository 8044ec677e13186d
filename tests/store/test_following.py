"""A kept session that follows the file: after any action it says what a fresh one says, and asks only about what was written."""

from functools import cache

import pytest
from sqlalchemy import inspect, select
from sqlalchemy.orm import configure_mappers

from kyklos.actions.base import ACTIONS
from kyklos.actions.brewing import readings
from kyklos.actions.household import AddPlace, add_place
from kyklos.actions.undo import Undo, undo
from kyklos.core.base.kinds import LIVING
from kyklos.store.records import Brew, Place, Reading
from kyklos.store.records.base import Base
from tests.actions.test_undo import WALK

DELETING = {"drop_tool", "drop_purchase", "change_settings", "keep_flavour"}  #: These delete a row: all is read anew.


@cache
def kinds():
    """How to ask for all rows of each table, and what each row holds."""
    configure_mappers()
    return [(select(mapper.class_).order_by(mapper.class_.id), [one.key for one in mapper.attrs]) for mapper in Base.registry.mappers]


def everything(session):
    """Read all rows of all tables and all that each holds, as questions that are kept."""
    for asked, keys in kinds():
        for row in session.scalars(asked):
            for key in keys:
                getattr(row, key)


def plain(value):
    """What an attribute says, rows by table and number."""
    if isinstance(value, Base):
        return value.__tablename__, value.id
    return [plain(one) for one in value] if isinstance(value, list) else value


def said(session):
    """All that a session says of every row, by table and number."""
    out = {}
    for asked, keys in kinds():
        for row in session.scalars(asked):
            out[plain(row)] = {key: plain(getattr(row, key)) for key in keys}
    return out


@pytest.mark.parametrize("name", WALK)
def test_after_any_action_a_followed_session_says_what_a_fresh_one_says(kitchen, name):
    """Every row, list and question, whatever the action wrote."""
    ask = WALK[name](kitchen)
    kept = kitchen.database.borrowed("now")
    everything(kept)
    kitchen.database.give_back(kept, "now")
    kitchen.do(ACTIONS[name], ask)
    followed = kitchen.database.borrowed("now")
    assert (followed is kept) == (name not in DELETING)
    with kitchen.database.reader() as fresh:
        assert said(followed) == said(fresh)
    followed.close()


def test_what_was_not_written_is_not_asked_again(kitchen, statements):
    """After a reading, brews and readings are asked anew, places and vessels are not; after nothing at all, only whether."""
    brew = kitchen.pitch()
    kept = kitchen.database.borrowed("now")
    everything(kept)
    kitchen.database.give_back(kept, "now")
    statements.clear()
    kitchen.database.give_back(kitchen.database.borrowed("now"), "now")
    assert len([one for one in statements if one != "BEGIN"]) == 1
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=3.9))
    session = kitchen.database.borrowed("now")
    statements.clear()
    assert [row.ph for row in session.scalars(select(Reading).order_by(Reading.id))][-1] == 3.9
    assert session.scalars(select(Brew).where(Brew.status.in_(LIVING))).one().readings[-1].ph == 3.9
    assert len(session.scalars(select(Place).order_by(Place.id)).all()) >= 1
    assert not any("FROM place" in one for one in statements)
    session.close()


def test_what_was_taken_back_or_is_too_much_begins_anew(kitchen):
    """After an undo, after more changes than are followed, and in another quarter of an hour, nothing old is left."""
    kept = kitchen.database.borrowed("now")
    everything(kept)
    kitchen.database.give_back(kept, "now")
    done = kitchen.do(add_place, AddPlace(name="Loft", celsius=19))
    kitchen.do(undo, Undo(done.change_id))
    anew = kitchen.database.borrowed("now")
    assert anew is not kept
    assert not anew.identity_map.values()
    everything(anew)
    kitchen.database.give_back(anew, "now")
    for number in range(13):
        kitchen.do(add_place, AddPlace(name=f"Loft {number}", celsius=19))
    assert kitchen.database.borrowed("now") is not anew
    third = kitchen.database.borrowed("now")
    kitchen.database.give_back(third, "now")
    assert kitchen.database.borrowed("later") is not third


@pytest.fixture
def statements(kitchen):
    """What is asked of the file by those who read."""
    from sqlalchemy import event

    found = []
    event.listen(kitchen.database._reading, "before_cursor_execute", lambda *given: found.append(given[2]))
    return found


def test_every_list_of_every_record_can_be_followed():
    """No relation is of a kind that following does not know: each is found by the table that its rows are of."""
    from kyklos.store.file.following import _reaches

    configure_mappers()
    known = {(reach.owner, reach.key) for some in _reaches().values() for reach in some}
    assert known == {(mapper.class_, relation.key) for mapper in Base.registry.mappers for relation in inspect(mapper.class_).relationships}
