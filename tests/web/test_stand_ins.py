"""The stand-ins against the truth they hide: what Kyklos makes of a month of theirs, and their own behaviour."""

import random
from datetime import timedelta

import pytest
from sqlalchemy import select

from kyklos.actions import devices as dev
from kyklos.actions.brewing import calibrating
from kyklos.core.judging.instruments import KINDS
from kyklos.core.measuring import BufferPoint
from kyklos.instruments.bench import KINDS as STAND_INS
from kyklos.instruments.bench import StandInBench
from kyklos.instruments.page import create_page
from kyklos.instruments.physics import Crock, Meter, Scale
from kyklos.instruments.speaking import Speaker, Told
from kyklos.reckon import measuring
from kyklos.reckon.forecast import warmth
from kyklos.store.read import meters
from kyklos.store.records import Brew, DeviceReading, KnownReading, Reading


def speaker_of(client, bench):
    """A voice that speaks to an application without a network."""

    def send(method, path, body, headers):
        more = {} if body is None else {"json": body}
        found = client.open(f"/devices/v1{path}", method=method, headers=headers, **more)
        return Told(found.status_code, found.json if found.is_json else {}, dict(found.headers))

    return Speaker(bench, send)


def paired(kitchen, speaker, name, **where):
    """Pair a stand-in as a person would."""
    speaker.pair(name)
    done = kitchen.do(dev.approve_pairing, dev.ApprovePairing(code=speaker.bench.lines[name].code, **where))
    speaker.once()
    assert speaker.bench.lines[name].token
    return done.made["device"]


def pass_time(kitchen, bench, speaker, seconds, every=600.0):
    """Let time pass for both."""
    for _ in range(round(seconds / every)):
        bench.wait(every)
        kitchen.clock.now += timedelta(seconds=every)
        speaker.once()


def test_a_month_of_warmth_stays_within_its_doubt(client, kitchen):
    """A probe that is a little off, in steps, under a mat that switches: what is shown lies within the thermometer's doubt nine hours of ten."""
    number = kitchen.pitch()
    bench = StandInBench(seed=11, now_s=kitchen.clock().timestamp())
    speaker = speaker_of(client, bench)
    paired(kitchen, speaker, "probe", vessel_id=kitchen.vessel)
    mat = paired(kitchen, speaker, "mat", vessel_id=kitchen.vessel)
    kitchen.do(dev.set_heater, dev.SetHeater(device_id=mat, celsius=25.0))
    start, truth = kitchen.clock(), []
    for hour in range(30 * 24):
        bench.wait(3600.0)
        kitchen.clock.now += timedelta(hours=1)
        if hour % 4 == 3:
            speaker.once()
        truth.append(((kitchen.clock() - start) / timedelta(days=1), bench.crock.celsius))
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock()
        course = warmth.course_of(session.get(Brew, number))
        shown = [float(course.at([day])[0]) for day, _ in truth]
        count = len(list(session.scalars(select(DeviceReading.id))))
        assert len(list(session.scalars(select(KnownReading.id)))) == count == bench.lines["probe"].sent
    off = [abs(a - b) for a, (_, b) in zip(shown, truth, strict=True)]
    assert sum(one <= KINDS["thermometer"].error for one in off) >= 0.9 * len(off), max(off)
    assert 23.5 < sum(c for _, c in truth[48:]) / len(truth[48:]) < 26.0, "the mat follows its set point"


def test_a_month_of_a_meter_stays_within_its_doubt(client, kitchen):
    """It drifts and wears; calibrated each week, what its readings are taken for lies within twice their doubt nine times of ten."""
    number = kitchen.pitch()
    bench = StandInBench(seed=5, now_s=kitchen.clock().timestamp(), brew_day=0.0)
    speaker = speaker_of(client, bench)
    device = paired(kitchen, speaker, "meter", vessel_id=kitchen.vessel)
    with kitchen.database.reader() as session:
        instrument = session.get(measuring.Device, device).instrument_id
    truth = {}
    for day in range(28):
        if day % 7 == 0:
            points = []
            for glass in ("7", "4"):
                bench.hold("rinse")
                pass_time(kitchen, bench, speaker, 10, every=10.0)
                bench.hold(glass)
                pass_time(kitchen, bench, speaker, 90, every=30.0)
                told = bench.meter.reads(random.Random(1))
                points.append(BufferPoint(int(glass), told["celsius"], told["millivolts"]))
            kitchen.do(calibrating.note_calibration, calibrating.NoteCalibration(instrument_id=instrument, points=tuple(points), sets_it=False))
        bench.hold("jar")
        pass_time(kitchen, bench, speaker, 120, every=30.0)
        truth[kitchen.clock().date()] = bench.jar_ph()
        bench.hold("rinse")
        pass_time(kitchen, bench, speaker, 10, every=10.0)
        bench.hold("cap")
        pass_time(kitchen, bench, speaker, 23.8 * 3600, every=23.8 * 900)
    with kitchen.database.reader() as session:
        brew = session.get(Brew, number)
        rows = list(session.scalars(select(Reading).where(Reading.liquid_id == brew.liquid_id, Reading.device_id == device)))
        told = [(meters.ph_told(row), truth[row.at.date()]) for row in rows if row.at.date() in truth]
    lately = {row.at.date(): pair for row, pair in zip(rows, told, strict=True)}
    assert len(lately) >= 10
    inside = [abs(one.ph - real) <= 2 * (one.sd or 0.05) + 0.02 for one, real in lately.values()]
    assert sum(inside) >= 0.9 * len(inside), [(round(one.ph, 2), round(real, 2), one.sd) for one, real in lately.values()]


def test_a_dirty_meter_is_slow_and_a_clean_one_quick():
    """Half a minute in buffer 4 is enough for a clean one, and not for a dirty one; a cold buffer shifts its voltage."""
    lot = random.Random(3)
    for dirt, near in ((0.02, True), (1.0, False)):
        meter = Meter(dirt=dirt, shown_mv=0.0)
        meter.hold_in("4")
        for _ in range(30):
            meter.wait(1.0, lot, 21.0, 3.3, 24.0)
        assert (abs(meter.shown_mv - meter.true_mv(21.0, 3.3, 24.0)) < 3.0) == near
    meter = Meter()
    meter.hold_in("4")
    warm = meter.true_mv(21.0, 3.3, 24.0)
    meter.cold_c = {"4": 8.0}
    assert abs(warm - meter.true_mv(21.0, 3.3, 24.0)) > 5.0


def test_wear_battery_and_drift_go_on():
    """A year takes a quarter of the slope; dry it goes faster; an unplugged or silenced mat cools; a scale wanders."""
    lot = random.Random(1)
    meter = Meter(slope=1.0)
    meter.grow_older(365, lot)
    assert meter.slope == pytest.approx(1.0 - 0.02 * 365 / 30)
    dry, capped = Meter(), Meter()
    dry.hold_in("dry")
    for _ in range(20):
        dry.wait(86400.0, lot, 21.0, 3.3, 24.0)
        capped.wait(86400.0, lot, 21.0, 3.3, 24.0)
    assert dry.slope == pytest.approx(capped.slope - 0.08)
    for plugged, answered, warm in ((True, 4 * 86400.0, True), (False, 4 * 86400.0, False), (True, -86400.0, False)):
        crock = Crock(set_c=26.0, plugged=plugged, answered_s=answered)
        crock.wait(86400.0, 86400.0, 19.0)
        assert (crock.celsius > 25.0) == warm
    scale = Scale(drifting=True)
    scale.wait(3600.0, lot)
    assert abs(scale.grams()) >= 8


def test_hidden_truth_is_kept_over_a_restart(tmp_path):
    """Kept and taken up again: ageing, tokens and what waits are as they were; a torn file is left, and new ones stand up."""
    bench = StandInBench(seed=2, now_s=1000.0)
    bench.fault("older")
    bench.lines["probe"].token = "t"
    bench.wait(600)
    bench.keep(tmp_path / "kept.json")
    again = StandInBench(seed=9)
    assert again.take_up(tmp_path / "kept.json")
    assert (again.meter, again.crock, again.vigour, again.lines["probe"]) == (bench.meter, bench.crock, bench.vigour, bench.lines["probe"])
    (tmp_path / "torn.json").write_text("{")
    assert not StandInBench().take_up(tmp_path / "torn.json")


def test_what_is_not_acknowledged_is_sent_again(client, kitchen):
    """While Kyklos does not answer the readings wait; afterwards each stands once, also when an answer was lost on the way."""
    kitchen.pitch()
    bench = StandInBench(seed=4, now_s=kitchen.clock().timestamp())
    speaker = speaker_of(client, bench)
    paired(kitchen, speaker, "probe", vessel_id=kitchen.vessel)
    true = speaker.send
    speaker.send = lambda *told: Told(0, {}, {})
    pass_time(kitchen, bench, speaker, 3600.0, every=600.0)
    waiting = len(bench.lines["probe"].queue)
    assert waiting >= 55
    speaker.send = lambda *told: (true(*told), Told(0, {}, {}))[1]
    speaker.once()
    speaker.send = true
    speaker.once()
    with kitchen.database.reader() as session:
        assert len(list(session.scalars(select(DeviceReading.id)))) == waiting
    assert not bench.lines["probe"].queue


def test_their_page_obeys_its_own_machine_only():
    """Every glass, fault and thing has its button; a strange host or origin is turned away."""
    bench = StandInBench(seed=1, now_s=1_800_000_000.0)
    page = create_page(bench, Speaker(bench, lambda *told: Told(0, {}, {})), "http://127.0.0.1:1").test_client()
    text = page.get("/", headers={"Host": "127.0.0.1:8018"}).text
    for word in ("rinse water", "buffer 7", "a year older", "probe falls out", "unplug the mat", "it drifts", "Pair with Kyklos"):
        assert word in text
    for field, value in (("hold", "7"), ("fault", "dirty"), ("fault", "fallen"), ("fault", "unplugged"), ("weigh", "a cup of sugar"), ("weigh", "tare"), ("pair", "scale"), ("hold", "nonsense")):
        assert page.post("/do", data={field: value}, headers={"Host": "localhost:8018"}).status_code == 303
    assert (bench.meter.held_in, bench.meter.dirt, bench.probe.fallen_out, bench.crock.plugged, bench.scale.grams()) == ("7", 1.0, True, False, 0)
    assert "does not answer" in bench.lines["scale"].says
    assert page.get("/", headers={"Host": "evil.example"}).status_code == 403
    assert page.post("/do", data={"hold": "4"}, headers={"Host": "localhost:8018", "Origin": "http://evil.example"}).status_code == 403
    assert set(page.get("/live", headers={"Host": "localhost"}).json) >= {"ph", "probe", "grams", *(f"line-{name}" for name in STAND_INS)}
