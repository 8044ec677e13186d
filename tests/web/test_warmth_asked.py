"""A reading that the room would explain asks how warm it is; what is answered governs what comes."""

import re

import pytest

from kyklos.actions.brewing import readings
from kyklos.core.liquid.standing import Stood, course_through
from kyklos.reckon.forecast import forecasting
from kyklos.serving.app import create_app
from kyklos.store.records import Brew


def read(kitchen, brew, **told):
    """Write down a reading."""
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, **told))


@pytest.fixture
def jar(kitchen):
    """A brew of four days in a room of 24 degC that nobody measured, read as it was foretold so far; with its page."""
    kitchen.brew = kitchen.pitch()
    app = create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False)
    kitchen.client = app.test_client()
    kitchen.page = lambda: kitchen.client.get(f"/brews/{kitchen.brew}").get_data(as_text=True)
    for _ in range(2):
        kitchen.clock.turn(2)
        read(kitchen, kitchen.brew, ph=expected(kitchen), instrument="meter")
    return kitchen


def expected(kitchen):
    """What is foretold of its pH now."""
    with kitchen.database.reader() as session:
        out = forecasting.forecast_of(session, session.get(Brew, kitchen.brew))
        return round(out.at(out.ph, days(kitchen))[1], 2)


def days(kitchen):
    """How long it has stood."""
    with kitchen.database.reader() as session:
        return (kitchen.clock() - session.get(Brew, kitchen.brew).pitched_at).total_seconds() / 86400


def ready(kitchen):
    """The likely day on which it is right."""
    with kitchen.database.reader() as session:
        return next(iter(forecasting.forecast_of(session, session.get(Brew, kitchen.brew)).ready.values())).p50


@pytest.mark.parametrize(("off", "says"), [(0.45, "less sour than foretold. A colder spot"), (-0.45, "sourer than foretold. A warmer spot")])
def test_a_reading_that_the_room_would_explain_asks_for_its_warmth(jar, off, says):
    """Outside what was foretold and nobody looked: asked, in one line with a field. Answered: it is quiet, and the answer counts."""
    assert "How warm is it in the jar now?" not in jar.page()
    jar.clock.turn(2)
    read(jar, jar.brew, ph=expected(jar) + off, instrument="meter")
    page = jar.page()
    assert says in re.sub(r"\s+", " ", page)
    assert "How warm is it in the jar now?" in page
    before = ready(jar)
    answer = jar.client.post(f"/brews/{jar.brew}/reading", data={"celsius": "16" if off > 0 else "31"})
    assert answer.status_code in (200, 302, 303)
    assert "How warm is it in the jar now?" not in jar.page()
    assert ready(jar) != pytest.approx(before, abs=0.2)
    with jar.database.reader() as session:
        course = forecasting.forecast_ask_of(session, session.get(Brew, jar.brew)).course
    assert course.future_c == (16 if off > 0 else 31)


def test_a_measured_room_is_not_asked_about(jar):
    """Its warmth was read with the pH: nothing is asked."""
    jar.clock.turn(2)
    read(jar, jar.brew, ph=expected(jar) + 0.45, instrument="meter", celsius=24.0)
    assert "How warm is it in the jar now?" not in jar.page()


def test_a_far_off_room_began_some_time_before_and_goes_on():
    """Usual 24, read 16: straight there from the start, and 16 from then on. A warm pour, or a room a little off, is no other room."""
    stay = Stood(since=0.0, until=None, usual_c=24.0)
    assert course_through([stay], ((6.0, 16.0),)).points == ((0.0, 24.0), (6.0, 16.0))
    assert course_through([stay], ((6.0, 16.0),)).future_c == 16.0
    assert course_through([stay], ((6.0, 22.0),)).future_c == 24.0
    assert course_through([stay], ((0.1, 31.0),)).future_c == 24.0
