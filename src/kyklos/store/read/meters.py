"""What pH meters read: what each was worth at the time, and its readings put right by the calibrations around them."""

from __future__ import annotations

from datetime import datetime
from typing import NamedTuple

from sqlalchemy import select
from sqlalchemy.orm import Session

from ...core.base.kinds import MeasuredBy
from ...core.judging.instruments import Calibrated, ph_sd, standing
from ...core.measuring import Judged, MeterLine, PutRight, put_right, voltage_of
from ..records import BufferBottle, Calibration, Instrument, Reading
from .moments import days_between


class PhTold(NamedTuple):
    """What a pH reading tells."""

    ph: float
    by: str  #: A key of data/instruments.toml.
    sd: float | None  #: None: as usual for what read it. [pH]


def read_by(reading: Reading) -> str:
    """Name what read a pH as it stood then: a meter past its interval counts as uncalibrated."""
    if reading.instrument != MeasuredBy.METER or reading.tool is None:
        return reading.instrument
    return standing(calibrated(reading.tool, reading.at), reading.tool.interval_days).key


def calibrated(tool: Instrument, at: datetime) -> list[Calibrated]:
    """List a meter's calibrations as they were at a moment."""
    return [Calibrated(days_between(c.at, at), c.at_seven, c.at_four, c.judged) for c in tool.calibrations]


def line_of(calibration: Calibration) -> MeterLine | None:
    """Return what a calibration told of a meter; None: nobody looked at its slope."""
    if calibration.slope is None or calibration.offset_mv is None or calibration.judged not in set(Judged):
        return None
    return MeterLine(calibration.slope, calibration.offset_mv, Judged(calibration.judged))


def right_ph(reading: Reading) -> PutRight | None:
    """Read a meter's pH by the calibrations around it; None: as it was typed."""
    if reading.ph is None or reading.instrument != MeasuredBy.METER or reading.tool is None:
        return None
    lines = [(c, line) for c in reading.tool.calibrations if (line := line_of(c)) is not None]
    before = next(((c, line) for c, line in reversed(lines) if c.at <= reading.at), None)
    if before is None:
        return None
    after = next(((c, line) for c, line in lines if c.at > reading.at), None)
    millivolts = reading.millivolts
    if millivolts is None:
        millivolts = voltage_of(reading.ph, reading.celsius, before[1] if before[0].sets_it else None)
    since = days_between(before[0].at, reading.at)
    if after is None:
        return put_right(millivolts, reading.celsius, before[1], since)
    return put_right(millivolts, reading.celsius, before[1], since, after[1], days_between(reading.at, after[0].at))


def ph_told(reading: Reading) -> PhTold:
    """Return what a pH reading tells: put right by its calibrations, with what read it, and how far it may be off where that is known."""
    key, found = read_by(reading), right_ph(reading)
    own = reading.tool.error if reading.tool is not None else None
    if found is None:
        return PhTold(float(reading.ph or 0.0), key, ph_sd(key, own) if own else None)
    sd = max(found.sd_ph, own or 0.0)
    return PhTold(found.ph, key, sd if key == MeasuredBy.METER else max(sd, ph_sd(key, own)))


def buffers_in_use(session: Session) -> list[BufferBottle]:
    """List the bottles of buffer that are used."""
    return list(session.scalars(select(BufferBottle).where(BufferBottle.ended_at.is_(None)).order_by(BufferBottle.buffer.desc())))
