"""The sample household: made up, repeatable, and with every state that these screens can show."""

from datetime import datetime

import pytest

from kyklos.core.base.facts import BOTTLES
from kyklos.demo.household import DEMO_NOW
from kyklos.demo.sample import lived
from kyklos.reckon.forecast import forecasting
from kyklos.reckon.judging import verdicts as judging
from kyklos.store.file import keeping
from kyklos.store.file.database import Database
from kyklos.store.read import moments, queries
from kyklos.store.records import Brew, Change, Lesson, PracticeSeason
from kyklos.web.kit.bottle_groups import groups_of
from tests.core.test_answers_stay import differs


@pytest.fixture
def session(demo):
    """A look at the sample household."""
    with demo.reader() as session:
        yield session


def test_every_stage_of_a_first_ferment_stands_in_it(session):
    """Held, young, inside its window, past it; measured and never measured; harvested and discarded."""
    living = queries.living_brews(session)
    assert {b.status for b in living} == {"held", "fermenting"}
    assert {b.status for b in session.query(Brew)} == {"held", "fermenting", "harvested", "discarded"}
    assert {judging.verdict_of(b, DEMO_NOW).measured for b in living} == {True, False}
    stages = set()
    for brew in living:
        day = moments.days_between(brew.pitched_at, DEMO_NOW)
        for window in forecasting.forecast_of(session, brew).ready.values():
            stages.add("before" if day < window.p10 else "inside" if day <= window.p90 else "past")
    assert stages == {"before", "inside", "past"}


def test_bottles_stand_in_every_state(session, demo):
    """Warm and far from their limit, warm and past it, cold, unrated in the cold, and gone with a hiss."""
    from flask import g

    from kyklos.serving.app import create_app

    bottles = queries.bottles(session, "warm", "cold", "gone")
    assert {b.state for b in bottles} == {"warm", "cold", "gone"}
    assert any(BOTTLES[b.kind].limit_bar == 0 and b.state == "cold" for b in bottles)
    assert {b.hiss for b in bottles} >= {1, 2, 3, 4}
    app = create_app(demo, lambda: DEMO_NOW, "x", TESTING=True)
    with app.test_request_context("/"):
        app.preprocess_request()
        groups = groups_of(queries.bottles(g.session, "warm"), DEMO_NOW)
    assert [group.past for group in groups] == sorted((group.past for group in groups), reverse=True)
    assert {group.past for group in groups} == {True, False}


def plain(value):
    """What is told of a row; a picture is the same whatever its bytes."""
    if isinstance(value, dict):
        return {key: plain(one) for key, one in value.items() if key != "sha"}
    if isinstance(value, datetime):
        return value.isoformat()
    return [plain(one) for one in value] if isinstance(value, list | tuple) else value


def test_what_is_packed_is_what_the_scenario_fills(demo_file, tmp_path):
    """Change by change, lesson by lesson and every move of practice; where it is not, `python -m kyklos.demo.sample` packs it anew."""
    lived(tmp_path / "again.db")
    told = []
    for path in (demo_file, tmp_path / "again.db"):
        database = Database(path)
        with database.reader() as session:
            changes = [plain((c.action, c.says, c.at, c.rows)) for c in session.query(Change)]
            lessons = [plain((row.brew_id, row.stale, row.rules, row.yeast_vigour, row.bacteria_vigour, row.tasted)) for row in session.query(Lesson)]
            seasons = [(row.person, row.seed, row.moves) for row in session.query(PracticeSeason)]
            told.append([changes, lessons, plain(seasons), keeping.layout_in(path)])
        database.close()
    assert differs(told[0], told[1]) is None
