"""The device protocol: pairing with a person's yes, readings exactly once in any order, doubts and refusals, set points, and nothing else."""

import itertools
import json
import random
import re
import threading
import urllib.error
import urllib.request
from datetime import datetime, timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import func, select
from werkzeug.security import generate_password_hash

from kyklos import serving
from kyklos.actions import devices as dev
from kyklos.actions.brewing import watching
from kyklos.actions.undo import Undo, undo
from kyklos.demo.household import DEMO_NOW
from kyklos.reckon import devices as known
from kyklos.reckon.forecast import warmth
from kyklos.serving.app import create_app
from kyklos.serving.sign_in import knows
from kyklos.store.read import meters
from kyklos.store.records import Brew, Change, DeviceReading, DeviceState, KnownReading, Place, Reading, TemperatureLog

V1 = "/devices/v1"


def auth(token):
    """The header that a device sends."""
    return {"Authorization": f"Bearer {token}"}


def ask(client, kind="thermometer", name="Probe"):
    """A device asks to be paired."""
    return client.post(f"{V1}/pair", json={"name": name, "kind": kind, "serial": "s-1"})


def paired(kitchen, client, kind="thermometer", name="Probe", **where):
    """A paired device: its token and number."""
    begun = ask(client, kind, name).json
    made = kitchen.do(dev.approve_pairing, dev.ApprovePairing(code=begun["code"], **where)).made
    found = client.get(f"{V1}/pair/{begun['pairing']}", headers=auth(begun["secret"]))
    assert found.status_code == 200
    return found.json["token"], made["device"]


def send(client, token, rows, at=None):
    """A post of readings: each a moment and numbers."""
    now = at or client.application.extensions["kyklos"][1]()
    readings = [{"at": moment.isoformat(), **more} for moment, more in rows]
    return client.post(f"{V1}/readings", headers=auth(token), json={"sent_at": now.isoformat(), "readings": readings})


def rows_of(database, kind, *where):
    """All rows of a kind."""
    with database.reader() as session:
        return list(session.scalars(select(kind).where(*where)))


def test_pairing_takes_a_persons_yes_and_gives_its_token_once(client, kitchen):
    """Waiting, then paired once, then over; a wrong secret, a wrong code and a late yes are refused."""
    begun = ask(client).json
    here = f"{V1}/pair/{begun['pairing']}"
    assert (begun["expires_in"], len(begun["code"])) == (600, 6)
    assert client.get(here, headers=auth(begun["secret"])).status_code == 202
    assert client.get(here, headers=auth("guess")).status_code == 401
    assert client.get(here).status_code == 401
    assert client.get(f"{V1}/pair/99", headers=auth("guess")).status_code == 404
    with pytest.raises(Exception, match="No device waits"):
        kitchen.do(dev.approve_pairing, dev.ApprovePairing(code="A2B-22"))
    kitchen.do(dev.approve_pairing, dev.ApprovePairing(code=begun["code"].lower().replace("-", "")))
    assert client.get(here, headers=auth(begun["secret"])).json.keys() == {"token", "device"}
    assert client.get(here, headers=auth(begun["secret"])).status_code == 410
    late = ask(client).json
    kitchen.clock.turn(11 / 1440)
    assert client.get(f"{V1}/pair/{late['pairing']}", headers=auth(late["secret"])).status_code == 410
    refused = ask(client).json
    with kitchen.database.writer() as session:
        dev.refuse_pairing(session, dev.RefusePairing(code=refused["code"]), kitchen.clock())
    assert client.get(f"{V1}/pair/{refused['pairing']}", headers=auth(refused["secret"])).status_code == 410


def test_five_wait_at_once_and_ten_an_hour(client, kitchen):
    """The sixth is told how long to wait; so is the eleventh within the hour."""
    assert [ask(client).status_code for _ in range(6)] == [201] * 5 + [429]
    kitchen.clock.turn(11 / 1440)
    again = [ask(client) for _ in range(6)]
    assert [one.status_code for one in again] == [201] * 5 + [429]
    assert 0 < int(again[-1].headers["Retry-After"]) <= 3600
    assert again[-1].content_type == "application/problem+json"


def test_a_reading_counts_once(client, kitchen):
    """Sent twice in one post, in another one, or years later: known; only hashes of secrets stand in the file."""
    brew = kitchen.pitch()
    token, device = paired(kitchen, client, vessel_id=kitchen.vessel)
    kitchen.clock.turn(0.1)
    one = (kitchen.clock(), {"id": "a1", "celsius": 24.1, "battery": 0.8})
    assert send(client, token, [one, one]).json | {"server_time": ""} == {"accepted": 1, "known": 1, "refused": [], "server_time": ""}
    assert send(client, token, [one]).json["known"] == 1
    kitchen.clock.turn(800)
    later = send(client, token, [one, (kitchen.clock(), {"id": "b1", "celsius": 24.0})]).json
    assert (later["accepted"], later["known"]) == (1, 1)
    assert len(rows_of(kitchen.database, DeviceReading)) == 1, "older than ninety days is let go of"
    assert len(rows_of(kitchen.database, KnownReading)) == 2
    log = rows_of(kitchen.database, TemperatureLog)
    assert {(row.brew_id, row.device_id) for row in log} == {(brew, device)}
    assert token not in json.dumps([row.token_sum for row in rows_of(kitchen.database, DeviceState)])


@pytest.mark.parametrize(
    ("sent", "says"),
    [
        ({"celsius": 111}, "from -10 to 110"), ({"ph": -0.1}, "from 0 to 14"), ({"grams": 60000}, "from -50000 to 50000"), ({"battery": 2}, "from 0 to 1"),
        ({"celsius": 20, "at": timedelta(minutes=6)}, "ahead"), ({"celsius": 20, "at": timedelta(days=-401)}, "older than 400 days"),
    ],
)  # fmt: skip
def test_absurd_readings_are_refused_one_by_one(client, kitchen, sent, says):
    """What cannot be is refused with why, and the sound one beside it is kept."""
    token, _ = paired(kitchen, client, place_id=kitchen.place)
    at = kitchen.clock() + sent.pop("at", timedelta(0))
    found = send(client, token, [(at, {"id": "x", **sent}), (kitchen.clock(), {"id": "y", "celsius": 20})]).json
    assert found["accepted"] == 1
    assert [(one["id"], says in one["why"]) for one in found["refused"]] == [("x", True)]


@pytest.mark.parametrize(
    ("body", "status", "says"),
    [
        (b"nonsense", 400, "JSON"), (b"[]", 400, ""), (b'{"sent_at": "2027-02-18T08:30:00", "readings": [{"id": "a", "at": "2027-02-18T08:30:00Z", "ph": 3}]}', 400, "sent_at"),
        (b'{"sent_at": "2027-02-18T08:30:00Z", "readings": []}', 400, "readings"),
        (b'{"sent_at": "2027-02-18T08:30:00Z", "readings": [{"id": "a", "at": "2027-02-18T08:30:00Z"}]}', 400, "at least one number"),
        (b'{"sent_at": "2027-02-18T08:30:00Z", "readings": [{"id": "a b", "at": "2027-02-18T08:30:00Z", "ph": 3}]}', 400, "readings.0.id"),
        (b'{"sent_at": "2027-02-18T08:30:00Z", "readings": [{"id": "a", "at": "2027-02-18T08:30:00Z", "ph": "3"}]}', 400, "readings.0.ph"),
        (b"[" * 100_000, 400, ""), (b" " * 256_001, 413, "256 kB"),
    ],
)  # fmt: skip
def test_what_is_not_of_the_shape_is_a_problem_that_names_the_field(client, kitchen, body, status, says):
    """Never a page, never a trace: a problem as JSON with the field."""
    token, _ = paired(kitchen, client)
    found = client.post(f"{V1}/readings", data=body, headers=auth(token), content_type="application/json")
    assert (found.status_code, found.content_type) == (status, "application/problem+json")
    assert says in found.json["detail"]
    assert found.json["detail"].endswith(".")


def test_every_wrong_way_is_a_problem(client, kitchen):
    """No token, an ended one, another kind, another type of content, another address or method."""
    token, device = paired(kitchen, client)
    assert client.get(f"{V1}/setpoint", headers=auth(token)).status_code == 403
    assert client.post(f"{V1}/outlook", headers=auth(token), json={}).status_code == 403
    assert client.post(f"{V1}/readings", headers=auth(token), data="{}").status_code == 415
    for answer in (client.get(f"{V1}/readings"), client.get(V1), client.options(f"{V1}/pair"), client.get(f"{V1}/nowhere"), client.post(f"{V1}/readings", json={})):
        assert answer.content_type == "application/problem+json"
        assert answer.status_code in {401, 404, 405}
    done = kitchen.do(dev.end_device, dev.EndDevice(device_id=device))
    assert send(client, token, [(kitchen.clock(), {"id": "a", "celsius": 20})]).status_code == 401
    with kitchen.database.writer() as session:
        undo(session, Undo(change_id=done.change_id), kitchen.clock())
    assert send(client, token, [(kitchen.clock(), {"id": "a", "celsius": 20})]).status_code == 401, "no undo brings a token back"


def test_a_token_reads_nothing_but_its_set_point(client, kitchen, database, clock):
    """With a password on the house a device still sends, and no page opens to its token; its pages ask nobody else's file."""
    token, _ = paired(kitchen, client)
    shared = create_app(database, clock, "s", KYKLOS_SHARED=True, KYKLOS_PASSWORD="x", TESTING=True).test_client()
    assert send(shared, token, [(clock(), {"id": "a", "celsius": 20})]).json["accepted"] == 1
    for page in ("/", "/brews/1", "/instruments/", "/settings/", "/notebook/"):
        found = shared.get(page, headers=auth(token))
        assert (found.status_code, "sign-in" in found.headers.get("Location", "")) == (303, True)


def test_clocks_are_put_right(client, kitchen):
    """A device whose clock is an hour behind: its moments are shifted, and it is known by how much."""
    kitchen.pitch()
    token, device = paired(kitchen, client, vessel_id=kitchen.vessel)
    kitchen.clock.turn(1)
    wrong = kitchen.clock() - timedelta(hours=1)
    send(client, token, [(wrong, {"id": "a", "celsius": 24})], at=wrong)
    assert rows_of(kitchen.database, DeviceReading)[0].at_s == pytest.approx(kitchen.clock().timestamp())
    with kitchen.database.reader() as session:
        assert known.lives(session)[device].skew_s == pytest.approx(3600)


def test_warmth_lands_in_the_brew_and_doubts_do_not(client, kitchen):
    """A jar's probe draws its warmth; what it reads in the air is struck with why, and a person sets a span aside."""
    number = kitchen.pitch()
    token, device = paired(kitchen, client, vessel_id=kitchen.vessel)
    start = kitchen.clock()
    kitchen.clock.turn(0.25)
    warm = [(start + timedelta(minutes=m), {"id": f"m{m}", "celsius": 27.0 if m < 120 or m > 200 else 15.0}) for m in range(1, 360)]
    assert send(client, token, warm).json["accepted"] == 359
    log = rows_of(kitchen.database, TemperatureLog)[0]
    assert len(log.points) < 20
    assert {point[1] for point in log.points} == {27.0}
    assert 60 < len(log.doubtful) <= 82
    with kitchen.database.reader() as session:
        brew = session.get(Brew, number)
        assert warmth.measured_of(brew)
        assert {c for _, c in warmth.course_of(brew).points} == {27.0}
    kitchen.do(dev.doubt_readings, dev.DoubtReadings(device_id=device, since=start, until=start + timedelta(hours=5)))
    with kitchen.database.reader() as session:
        brew = session.get(Brew, number)
        assert min(day for day, _ in warmth.course_of(brew).points if day > 0) > 5 / 24
    page = client.get(f"/brews/{number}").text
    assert "out of the liquid" in page or "It jumped" in page


def test_a_ph_lands_when_it_stands_still(client, kitchen):
    """Only still ones, and only once they moved: a reading by the meter, with the device as its source; pages show it at once."""
    number = kitchen.pitch()
    token, device = paired(kitchen, client, "ph-meter", "Jar probe", vessel_id=kitchen.vessel)
    kitchen.clock.turn(2)
    at = kitchen.clock()
    assert "3.62" not in client.get(f"/brews/{number}").text
    sent = [(at, {"id": "a", "ph": 3.9, "still": False}), (at + timedelta(seconds=20), {"id": "b", "ph": 3.62, "millivolts": 199.0, "celsius": 24.0, "still": True}), (at + timedelta(seconds=40), {"id": "c", "ph": 3.63, "still": True})]
    send(client, token, sent, at=at)
    with kitchen.database.reader() as session:
        rows = list(session.scalars(select(Reading).where(Reading.device_id == device)))
        assert [(one.ph, one.millivolts, one.tool.name) for one in rows] == [(3.62, 199.0, "Jar probe")]
    assert "3.62" in client.get(f"/brews/{number}").text


def test_a_place_s_probe_tells_its_warmth_and_a_vessel_s_own_goes_before(client, kitchen):
    """The shelf's probe is the shelf's warmth; once one stands in the jar itself, that one counts; a move is a standing with a date."""
    number = kitchen.pitch()
    token, device = paired(kitchen, client, place_id=kitchen.place)
    start = kitchen.clock()
    kitchen.clock.turn(1)
    send(client, token, [(start + timedelta(hours=h), {"id": f"h{h}", "celsius": 19.0}) for h in range(1, 24)])
    with kitchen.database.reader() as session:
        place = session.get(Place, kitchen.place)
        assert warmth.measured_in(session, place, start - timedelta(days=2), start + timedelta(days=3))
        assert {c for _, c in warmth.course_of(session.get(Brew, number)).points} == {19.0}
    kitchen.do(dev.move_device, dev.MoveDevice(device_id=device, vessel_id=kitchen.vessel))
    kitchen.clock.turn(1)
    send(client, token, [(start + timedelta(hours=24 + h), {"id": f"i{h}", "celsius": 25.0}) for h in range(1, 24)])
    with kitchen.database.reader() as session:
        assert 25.0 in {c for _, c in warmth.course_of(session.get(Brew, number)).points}


def test_a_heater_asks_for_its_set_point(client, kitchen):
    """By hand, by season, for a pause, off; the same answer is 304; outside 15 to 32 is refused; the vessel's standing follows."""
    token, device = paired(kitchen, client, "heater", "Mat", vessel_id=kitchen.vessel)
    assert client.get(f"{V1}/setpoint", headers=auth(token)).json == {"celsius": None, "hysteresis": 1.0}
    kitchen.do(dev.set_heater, dev.SetHeater(device_id=device, celsius=25.0))
    found = client.get(f"{V1}/setpoint", headers=auth(token))
    assert found.json["celsius"] == 25.0
    assert client.get(f"{V1}/setpoint", headers=auth(token) | {"If-None-Match": found.headers["ETag"]}).status_code == 304
    kitchen.do(dev.set_heater, dev.SetHeater(device_id=device, celsius=None, how="pause", until=kitchen.clock() + timedelta(days=2)))
    assert client.get(f"{V1}/setpoint", headers=auth(token) | {"If-None-Match": found.headers["ETag"]}).json["celsius"] is None
    kitchen.clock.turn(3)
    assert client.get(f"{V1}/setpoint", headers=auth(token)).json["celsius"] == 25.0
    for wrong in (14.9, 32.1):
        with pytest.raises(Exception, match="does not look right"):
            kitchen.do(dev.set_heater, dev.SetHeater(device_id=device, celsius=wrong))
    kitchen.do(dev.set_heater, dev.SetHeater(device_id=device, celsius=24.5, how="season"))
    assert client.get(f"{V1}/setpoint", headers=auth(token)).json["celsius"] is None, "the shelf is warm enough itself"


def test_a_newer_outlook_takes_the_place_of_the_older(client, kitchen):
    """Up to a week of hours; an older one that comes late changes nothing."""
    token, _ = paired(kitchen, client, "weather", "Hill station")
    at = kitchen.clock()

    def tell(issued, celsius):
        hours = [{"at": (at + timedelta(hours=h)).isoformat(), "celsius": celsius} for h in range(168)]
        return client.post(f"{V1}/outlook", headers=auth(token), json={"issued_at": issued.isoformat(), "hours": hours})

    assert tell(at, 8.5).json == {"accepted": 168}
    assert tell(at - timedelta(hours=3), 1.0).status_code == 200
    assert rows_of(kitchen.database, DeviceState)[0].outlook["hours"][0][1] == 8.5


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.integers(0, 10_000))
def test_any_order_any_repeats_nothing_lost_nothing_twice(client, kitchen, seed):
    """Three devices' readings cut into posts, mixed, sent again: each stands once, and the course is the same line as in order."""
    lot = random.Random(seed)
    start = kitchen.clock() - timedelta(days=2)
    told = {}
    for number in range(3):
        token, device = paired(kitchen, client, name=f"P{seed}-{number}", place_id=kitchen.place)
        kitchen.do(dev.move_device, dev.MoveDevice(device_id=device, place_id=kitchen.place))
        rows = [(start + timedelta(minutes=15 * n), {"id": f"r{n}", "celsius": round(20 + lot.gauss(0, 0.4), 2)}) for n in range(120)]
        told[token] = (device, rows)
        kitchen.clock.turn(601 / 86400)
    with kitchen.database.writer() as session, session.begin():
        for device, _ in told.values():
            for row in session.execute(select(known.Device).where(known.Device.id == device)).scalars():
                row.standings[0].since = start - timedelta(days=1)
    posts = []
    for token, (_, rows) in told.items():
        mixed = lot.sample(rows, len(rows)) if lot.random() < 0.7 else list(rows)
        posts += [(token, mixed[n : n + 25]) for n in range(0, len(mixed), 20)]
    posts += lot.sample(posts, 4)
    lot.shuffle(posts)
    for token, rows in posts:
        assert send(client, token, rows).status_code == 200
    with kitchen.database.reader() as session:
        for device, rows in told.values():
            count = session.scalar(select(func.count()).select_from(DeviceReading).where(DeviceReading.device_id == device))
            assert count == len(rows)
            logs = list(session.scalars(select(TemperatureLog).where(TemperatureLog.device_id == device)))
            points = sorted(tuple(point[:2]) for log in logs for point in (*log.points, *log.doubtful))
            assert len(points) == len(set(points))
            for at, more in rows:
                line = [pair for pair in itertools.pairwise(points) if pair[0][0] <= at.timestamp() <= pair[1][0]]
                (x0, y0), (x1, y1) = line[0] if line else (points[0], points[-1])
                drawn = y0 if x0 == x1 else y0 + (y1 - y0) * (at.timestamp() - x0) / (x1 - x0)
                same_day = int(x0 // 86400) == int(x1 // 86400)
                assert not line or not same_day or abs(drawn - more["celsius"]) <= 0.12


def test_silence_is_told_on_the_round(client, kitchen):
    """Three of its usual intervals without a word, and never within ten minutes: one quiet line; heard again, it is gone."""
    kitchen.pitch()
    token, _ = paired(kitchen, client, place_id=kitchen.place, name="Shelf probe")
    for n in range(5):
        kitchen.clock.turn(5 / 1440)
        send(client, token, [(kitchen.clock(), {"id": f"a{n}", "celsius": 20})])
    assert "Shelf probe" not in client.get("/").text
    kitchen.clock.turn(16 / 1440)
    assert "Shelf probe" in client.get("/").text
    send(client, token, [(kitchen.clock(), {"id": "z", "celsius": 20})])
    kitchen.clock.turn(2 / 1440)
    assert "Shelf probe" not in client.get("/").text


def test_nothing_of_what_is_sent_stands_in_the_day_book(client, kitchen):
    """A thousand readings make no change of the journal."""
    token, _ = paired(kitchen, client, place_id=kitchen.place)
    before = len(rows_of(kitchen.database, Change))
    start = kitchen.clock()
    kitchen.clock.turn(1)
    send(client, token, [(start + timedelta(minutes=n), {"id": f"n{n}", "celsius": 20 + n / 500}) for n in range(1000)])
    assert len(rows_of(kitchen.database, Change)) == before


def test_the_description_is_of_what_is_answered(client):
    """OpenAPI 3.1, made from the shapes that read: every call of the protocol stands in it."""
    told = client.get(f"{V1}/openapi.json").json
    assert told["openapi"].startswith("3.1")
    assert set(told["paths"]) == {"/pair", "/pair/{pairing}", "/readings", "/setpoint", "/outlook", "/openapi.json"}
    assert told["components"]["schemas"]["ReadingsSent"]["properties"]["readings"]["maxItems"] == 1000
    assert isinstance(DEMO_NOW, datetime)


def test_a_token_of_another_household_is_refused(client, kitchen, demo_client):
    """What is paired here means nothing there."""
    token, _ = paired(kitchen, client)
    assert send(demo_client, token, [(DEMO_NOW, {"id": "a", "celsius": 20})]).status_code == 401


def test_a_probe_that_stood_there_before_it_was_paired(client, kitchen):
    """Its first standing reaches back by a date, so that what it kept meanwhile lands; a later one does not."""
    number = kitchen.pitch()
    start = kitchen.clock()
    kitchen.clock.turn(2)
    token, device = paired(kitchen, client, vessel_id=kitchen.vessel)
    told = client.post(f"/instruments/devices/{device}/move", data={"where": f"vessel-{kitchen.vessel}", "at": "2027-03-01T10:00"})
    assert told.status_code == 303, told.text
    send(client, token, [(start + timedelta(hours=h), {"id": f"h{h}", "celsius": 26.0}) for h in range(3, 40)])
    with kitchen.database.reader() as session:
        assert {c for _, c in warmth.course_of(session.get(Brew, number)).points} == {26.0}
    kitchen.do(dev.move_device, dev.MoveDevice(device_id=device, place_id=kitchen.place))
    with pytest.raises(Exception, match="later than that"):
        kitchen.do(dev.move_device, dev.MoveDevice(device_id=device, vessel_id=kitchen.vessel, at=start))


def test_what_a_calibration_changes_is_said(client, kitchen):
    """Typed readings stay; what they are taken for moves by both calibrations, and the page that ends it says so; swapped buffers are named."""
    number = kitchen.pitch()
    meter = kitchen.do(watching.add_instrument, watching.AddInstrument(kind="meter", name="Pen")).made["instrument"]
    here = f"/instruments/{meter}/calibration"

    def calibrate(seven, four):
        first = client.post(f"{here}/seven", data={"shown": seven, "celsius": "25", "keeps": "1"})
        assert first.status_code == 303
        taken = dict(part.split("=") for part in first.location.partition("?")[2].split("&"))["seven"].replace("+", " ").replace("%20", " ")
        return client.post(f"{here}/four", data={"shown": four, "celsius": "25", "seven": taken, "keeps": "1"})

    assert "<h1>Good</h1>" in calibrate("7.02", "4.03").text
    for _ in range(3):
        kitchen.clock.turn(2)
        client.post(f"/brews/{number}/reading", data={"ph": "3.60", "instrument": f"meter:{meter}"})
    kitchen.clock.turn(0.1)
    page = calibrate("7.05", "4.25").text
    assert "readings of Jar were" in page
    assert "too high" in page
    with kitchen.database.reader() as session:
        rows = list(session.scalars(select(Reading).where(Reading.instrument_id == meter)))
        assert {row.ph for row in rows} == {3.6}
        assert rows[-1].ph - meters.ph_told(rows[-1]).ph > rows[0].ph - meters.ph_told(rows[0]).ph > 0
    assert "swapped" in calibrate("4.0", "7.0").text
    assert client.post(f"{here}/seven", data={"celsius": "25"}).status_code == 422
    half = client.post(f"{here}/seven", data={"shown": "7.0", "celsius": "25", "only": "1"})
    assert "<h1>Half</h1>" in half.text


def test_a_scale_fills_what_is_weighed(client, kitchen):
    """Its grams stand beside the field; with the vessel's own weight it tells litres; a scale that is silent tells nothing."""
    token, _ = paired(kitchen, client, "scale", "Kitchen scale")
    send(client, token, [(kitchen.clock(), {"id": "a", "grams": 4285})])
    assert "data-pour" not in client.get(f"/instruments/weights?vessel={kitchen.vessel}").text
    form = client.get(f"/vessels/{kitchen.vessel}").text
    assert "/instruments/weights" in form
    version = re.search(r'name="version" value="(\d+)"', form)[1]
    told = {"name": "Jar", "kind": "jar", "nominal_l": "4", "usable_l": "3.5", "diameter_cm": "15", "material": "glass", "place": "1", "version": version}
    assert "does not look right" in client.post(f"/vessels/{kitchen.vessel}", data={**told, "tare_g": "3"}).text
    assert client.post(f"/vessels/{kitchen.vessel}", data={**told, "tare_g": "1240"}).status_code == 303
    shown = client.get(f"/instruments/weights?vessel={kitchen.vessel}").text
    assert 'data-weigh="4285"' in shown
    assert 'data-pour="3"' in shown
    kitchen.clock.turn(0.01)
    assert "data-weigh" not in client.get(f"/instruments/weights?vessel={kitchen.vessel}").text


def test_a_token_lets_a_large_post_through_and_nobody_else(client, kitchen, database, clock):
    """On a house with a password: a device's 100 kB come in, a stranger's are cut off, and what is said is a problem as JSON."""
    token, _ = paired(kitchen, client)
    app = create_app(database, clock, "s", KYKLOS_SHARED=True, KYKLOS_PASSWORD=generate_password_hash("sour jar seven"))
    server = serving.make(app, "127.0.0.1", 0, knows=knows(app))
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    rows = [{"id": f"{'x' * 50}{n}", "at": clock().isoformat(), "celsius": 20} for n in range(900)]
    body = json.dumps({"sent_at": clock().isoformat(), "readings": rows}).encode()
    assert len(body) > 90_000
    found = {}
    try:
        for name, told in (("paired", token), ("stranger", "guess")):
            asked = urllib.request.Request(f"http://127.0.0.1:{server.port}{V1}/readings", body, {"Content-Type": "application/json", "Authorization": f"Bearer {told}"})
            try:
                with urllib.request.urlopen(asked, timeout=20) as answer:
                    found[name] = (answer.status, json.loads(answer.read()))
            except urllib.error.HTTPError as refused:
                found[name] = (refused.code, json.loads(refused.read()))
    finally:
        server.stop()
        thread.join(2)
    assert found["paired"][0] == 200
    assert found["paired"][1]["accepted"] == 900
    assert found["stranger"][0] == 413
    assert found["stranger"][1]["detail"]
