"""Tomorrow's weather through the pages: an outlook arrives like a device's reading, a room that follows it is foretold, and it can be left out."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from kyklos.actions import pairing, receiving
from kyklos.actions.brewing import readings
from kyklos.actions.devices import ApprovePairing, approve_pairing
from kyklos.core.calc import answer
from kyklos.core.forecast import forecast
from kyklos.core.forecast.weathered import moved_by_weather
from kyklos.core.why import why_ready
from kyklos.instruments.bench import StandInBench
from kyklos.instruments.physics import Weather
from kyklos.reckon.forecast import forecasting, warmth, weather
from kyklos.store.file.session import context_of
from kyklos.store.read import memory
from kyklos.store.records import Brew, OutdoorHour, Place, TemperatureLog

from .test_stand_ins import paired, speaker_of

DAYS = 24
TOWN = Weather(seed=11)


@pytest.fixture
def window_sill(kitchen):
    """A brew on a shelf that follows the outdoors, read morning and evening, beside a weather service that sends its outlook."""
    brew = kitchen.pitch()
    with kitchen.database.writer() as session:
        code = pairing.ask_pairing(session, "Town weather", "weather", "", "127.0.0.1", kitchen.clock()).code
    device = kitchen.do(approve_pairing, ApprovePairing(code=code)).made["device"]
    level = TOWN.celsius(kitchen.clock().timestamp())
    for half in range(2 * DAYS):
        for _ in range(12):
            kitchen.clock.turn(1 / 24)
            level += (TOWN.celsius(kitchen.clock().timestamp()) - level) / 20
        tell_outlook(kitchen, device)
        if half > 1:
            kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, celsius=round(21 + 0.5 * (level - 9), 1), sure=True))
    kitchen.brew, kitchen.device, kitchen.level = brew, device, level
    return kitchen


def tell_outlook(kitchen, device):
    """Send what the service has now."""
    now = kitchen.clock()
    hours = [(datetime.fromtimestamp(at_s, UTC), celsius) for at_s, celsius in TOWN.outlook(now.timestamp())]
    with kitchen.database.writer() as session:
        receiving.take_outlook(session, device, now, hours, now)


def course(kitchen):
    """How warm the brew is taken to be."""
    memory.forget()
    with kitchen.database.reader() as session:
        context_of(session).now = kitchen.clock()
        brew = session.get(Brew, kitchen.brew)
        return warmth.course_of(brew), forecasting.forecast_ask_of(session, brew), brew.pitched_at


def test_the_next_days_move_with_the_outlook(window_sill, client):
    """Five days ahead are within what the room ever did, and two days ahead are nearer to what comes than the last reading is."""
    found, _, pitched = course(window_sill)
    assert found.ahead
    ever = [celsius for _, celsius in found.points]
    assert min(ever) <= min(c for _, c in found.ahead) <= max(c for _, c in found.ahead) <= max(ever)
    level, at = window_sill.level, window_sill.clock()
    for _ in range(48):
        at += timedelta(hours=1)
        level += (TOWN.celsius(at.timestamp()) - level) / 20
    really = 21 + 0.5 * (level - 9)
    then = (at - pitched).total_seconds() / 86400
    foretold = min(found.ahead, key=lambda point: abs(point[0] - then))[1]
    assert abs(foretold - really) <= abs(found.points[-1][1] - really) + 0.3
    page = client.get(f"/brews/{window_sill.brew}").text
    assert "Without the weather" in page
    assert client.get(f"/brews/{window_sill.brew}/what-if?kind=weather").status_code == 200


def test_the_answer_to_why_knows_the_weather_too(window_sill):
    """Asked again by the question that why shows, the day is the same."""
    _, ask, _ = course(window_sill)
    why = why_ready(ask, ask.points[0].taster)
    first, second = why.result
    told = answer(why.calculation, why.question)
    assert told[first][second] == pytest.approx(forecast(ask).ready[ask.points[0].taster].p50, abs=0.02)


def test_without_an_outlook_nothing_changes(window_sill):
    """Two days after the last outlook, and on a mat, the course is as if nobody had ever told of weather."""
    window_sill.clock.turn(2.0)
    assert course(window_sill)[0].ahead == ()
    tell_outlook(window_sill, window_sill.device)
    with window_sill.database.reader() as session:
        assert session.query(OutdoorHour).count() > 20 * 24
    assert course(window_sill)[0].ahead
    with window_sill.database.writer() as session, session.begin():
        session.get(Brew, window_sill.brew).vessel.standings[-1].heater_c = 26.0
    assert course(window_sill)[0].ahead == ()


def test_the_stand_in_sends_its_outlook_once_an_hour(client, kitchen):
    """Paired like any device, it tells the hours to come; asked again within the hour it says nothing."""
    bench = StandInBench(seed=5, now_s=kitchen.clock().timestamp())
    speaker = speaker_of(client, bench)
    paired(kitchen, speaker, "weather")
    for _ in range(4):
        speaker.once()
    assert bench.lines["weather"].sent == 1
    assert bench.lines["weather"].says == ""
    bench.wait(3601.0)
    kitchen.clock.turn(1 / 24)
    speaker.once()
    assert bench.lines["weather"].sent == 2
    assert len(bench.days_ahead()) == 5


@pytest.mark.parametrize("kelvin", [5.0, -5.0])
def test_what_is_said_of_the_days_ahead_is_what_they_do(kitchen, kelvin):
    """By how much sooner or later it is right is nearly what a forecast without the weather says."""
    kitchen.brew = kitchen.pitch()
    kitchen.clock.turn(2.0)
    found, ask, _ = course(kitchen)
    usual = float(found.at(np.array([3.0]))[0])
    with_it = ask.on(replace(ask.course, ahead=((2.0, usual), (2.1, usual + kelvin), (6.9, usual + kelvin), (7.0, usual))))
    out, without = forecast(with_it), forecast(ask)
    move = moved_by_weather(with_it, out, 2.0)
    really = min(w.p50 for w in without.ready.values()) - min(w.p50 for w in out.ready.values())
    assert move.kelvin == pytest.approx(kelvin, abs=0.1)
    assert move.sooner_days * kelvin > 0
    assert move.sooner_days == pytest.approx(really, abs=max(0.6, 0.4 * abs(really)))
    assert moved_by_weather(ask, without, 2.0) is None


def test_a_thermometer_outdoors_tells_better_than_the_service(window_sill):
    """What a household's own thermometer read outdoors goes before the hours that the service had; without it those stand."""
    now = window_sill.clock()
    with window_sill.database.reader() as session:
        _as_of(session, now)
        of_service = weather._outdoors(session, now)
    points = [[now.timestamp() - 3600 * hour, -5.0] for hour in range(24 * 20, -1, -1)]
    with window_sill.database.writer() as session, session.begin():
        place = Place(name="Yard", kind="outdoors", celsius=5.0, position=9)
        session.add(place)
        session.flush()
        session.add(TemperatureLog(place_id=place.id, name="Yard", at=now, points=points, first_s=points[0][0], last_s=points[-1][0]))
    with window_sill.database.reader() as session:
        _as_of(session, now)
        own = weather._outdoors(session, now)
    today = weather.days_of(now)
    assert np.interp(today - 3, own.day, own.celsius) == pytest.approx(-5.0)
    assert np.interp(today - 3, of_service.day, of_service.celsius) != pytest.approx(-5.0, abs=0.1)
    assert np.interp(today + 3, own.day, own.celsius) == pytest.approx(np.interp(today + 3, of_service.day, of_service.celsius), abs=0.5)


def _as_of(session, now):
    """Read as of a moment."""
    context_of(session).now = now
