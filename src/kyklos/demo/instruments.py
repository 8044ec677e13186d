"""Quince Yard's instruments: a pocket meter that ages, and a probe and a mat at the crock, with some weeks of what they sent."""

from __future__ import annotations

import random
from datetime import timedelta

from sqlalchemy import select

from ..actions import devices, pairing, receiving
from ..actions.brewing import calibrating
from ..core.measuring import BufferPoint
from ..core.measuring.calibrating import MV_PER_PH, buffer_ph, theta
from ..core.measuring.sent import SentReading
from ..instruments.physics import Crock, Probe, room_c
from ..store.records import Instrument, Pairing, Vessel
from .day import DEMO_NOW
from .kitchen import Kitchen

STAND_INS = {"probe": 1, "mat": 2, "meter": 3}  #: Which stand-in is which device of the sample.
PAIRED_AGO, EVERY_MINUTES = 16.0, 10
SET_C = 24.0
FELL_OUT, BACK_IN = 5.4, 5.25  #: Days ago: the probe lay beside the crock while it was wiped. [d]
#: Days ago, slope, offset of the pocket meter, as its buffers told. [d, -, mV]
CALIBRATED = ((88, 1.00, 2.0), (57, 0.985, 4.5), (29, 0.965, -6.0))


def paired(kitchen: Kitchen) -> None:
    """Pair the instruments, calibrate the meter, and let the probe tell the crock's warmth."""
    with kitchen.database.reader() as session:
        crock = session.scalars(select(Vessel.id).where(Vessel.name == "Stoneware crock")).one()
        meter = session.scalars(select(Instrument.id).where(Instrument.kind == "meter")).first()
    for name, kind, where, instrument in (("Crock probe", "thermometer", crock, None), ("Crock mat", "heater", crock, None), ("Pocket meter", "ph-meter", None, meter)):
        at = DEMO_NOW - timedelta(days=PAIRED_AGO)
        with kitchen.database.writer() as session:
            code = pairing.ask_pairing(session, name, kind, "stand-in 7", "127.0.0.1", at).code
        kitchen.do(devices.approve_pairing, devices.ApprovePairing(code=code, vessel_id=where, instrument_id=instrument), PAIRED_AGO)
    with kitchen.database.writer() as session, session.begin():
        for row in session.scalars(select(Pairing)):
            session.delete(row)
    kitchen.do(devices.set_heater, devices.SetHeater(device_id=STAND_INS["mat"], celsius=SET_C), PAIRED_AGO)
    _warmth(kitchen)
    beside = devices.DoubtReadings(
        device_id=STAND_INS["probe"], since=DEMO_NOW - timedelta(days=FELL_OUT + 0.01), until=DEMO_NOW - timedelta(days=BACK_IN - 0.03), why="It lay beside the crock while that was wiped.",
    )  # fmt: skip
    kitchen.do(devices.doubt_readings, beside, BACK_IN - 0.1)


def calibrated(kitchen: Kitchen, meter: int) -> None:
    """Calibrate the meter three times; it ages a little each time."""
    for ago, slope, offset in CALIBRATED:
        points = tuple(BufferPoint(buffer, 20.0, round(offset - slope * MV_PER_PH * theta(20.0) * (buffer_ph(buffer, 20.0) - 7.0), 1)) for buffer in (7, 4))
        kitchen.do(calibrating.note_calibration, calibrating.NoteCalibration(instrument_id=meter, points=points), ago)
    bought = (DEMO_NOW - timedelta(days=96)).date()
    for buffer in (7, 4):
        kitchen.do(calibrating.open_buffer, calibrating.OpenBuffer(buffer=buffer, opened_on=bought), 96)


def _warmth(kitchen: Kitchen) -> None:
    """Let probe and mat send what they would have sent, day by day, by the stand-ins' own physics."""
    lot, start = random.Random(7), DEMO_NOW - timedelta(days=PAIRED_AGO)
    begin, end = start.timestamp(), DEMO_NOW.timestamp()
    fell, back = ((DEMO_NOW - timedelta(days=ago)).timestamp() for ago in (FELL_OUT, BACK_IN))
    crock, probe = Crock(celsius=23.2, mat_c=23.2, set_c=SET_C), Probe(offset_k=0.1, reads_c=23.2)
    rows: list[SentReading] = []
    now, step = begin, EVERY_MINUTES * 60.0
    while now + step < end:
        now += step
        crock.answered_s, probe.fallen_out = now, fell <= now < back
        crock.wait(step, now, room_c(now))
        for _ in range(EVERY_MINUTES):
            probe.wait(60.0, crock.celsius, room_c(now))
        told = probe.reads(lot)
        rows.append(SentReading(id=f"past-{len(rows)}", at_s=now, celsius=told["celsius"], battery=told["battery"]))
        if len(rows) % (24 * 6) == 0 or now + step >= end:
            first = len(rows) - (len(rows) % (24 * 6) or 24 * 6)
            at = start + timedelta(seconds=now - begin)
            with kitchen.database.writer() as session:
                receiving.take_readings(session, STAND_INS["probe"], at, rows[first:], at)
    with kitchen.database.writer() as session:
        receiving.ask_set_point(session, STAND_INS["mat"], DEMO_NOW)
