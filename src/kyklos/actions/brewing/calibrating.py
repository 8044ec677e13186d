"""Calibrating a pH meter: by what it showed in its buffers, or only that it was set; and the buffers' own bottles."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy.orm import Session

from ...core.base.kinds import MeasuredBy
from ...core.measuring import BufferPoint, CalibrationError, Judged, MeterLine, calibrate
from ...store.read import queries
from ...store.read.meters import buffers_in_use, line_of
from ...store.records import BufferBottle, Calibration, Instrument
from ..base import FUTURE_GRACE, Checks, Done, action, flushed

COLDEST_C, WARMEST_C = 0.0, 50.0  #: Of a buffer. [degC]
MOST_MV = 600.0  #: No electrode shows more. [mV]
SAYS = {
    Judged.GOOD: "is good", Judged.AGES: "ages, and is still honest", Judged.CLEAN_IT: "wants cleaning", Judged.WORN: "is worn: even clean it tells little", Judged.HALF: "was set at one buffer only",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class NoteCalibration:
    """A meter set by its buffers."""

    instrument_id: int
    at_seven: bool = True
    at_four: bool = True
    off_by: float | None = None  #: Before it was set. [pH]
    at: datetime | None = None  #: Now, unless given.
    points: tuple[BufferPoint, ...] = ()  #: What it showed in each buffer; none: nobody looked.
    cleaned: bool = False  #: Just before.
    sets_it: bool = True  #: The meter shows by it from then on; else it shows as before, and Kyklos puts it right.


@action
def note_calibration(session: Session, ask: NoteCalibration, at: datetime) -> Done:
    """Note a calibration: with both buffers, and no worse than ageing, the meter's readings count as calibrated for its interval."""
    row, checks, when = queries.get(session, Instrument, ask.instrument_id), Checks(), ask.at or at
    buffers = {point.buffer for point in ask.points}
    seven, four = (7 in buffers, 4 in buffers) if ask.points else (ask.at_seven, ask.at_four)
    checks.refuse_if(row.kind != MeasuredBy.METER, "", "Only a pH meter is calibrated here.")
    checks.refuse_if(not (seven or four), "at_seven", "Tick the buffers that you used.")
    checks.between(ask.off_by, "off_by", -3, 3, "Off by (pH)")
    checks.refuse_if(when > at + FUTURE_GRACE, "at", "That lies in the future.")
    for point in ask.points:
        checks.between(point.celsius, "celsius", COLDEST_C, WARMEST_C, "A buffer at", "temperature")
        checks.between(point.millivolts, "shown", -MOST_MV, MOST_MV, "A meter that shows (mV)")
    line = None if checks.problems or not ask.points else _line(checks, row, ask, when)
    checks.done()
    done = Calibration(
        instrument_id=row.id, at=when, at_seven=seven, at_four=four, off_by=ask.off_by, sets_it=ask.sets_it,
        slope=line.slope if line else None, offset_mv=line.offset_mv if line else None, judged=line.judged if line else "", points=[[p.buffer, p.celsius, p.millivolts] for p in ask.points],
    )  # fmt: skip
    made = {"calibration": flushed(session, done)}
    session.expire(row, ["calibrations"])
    if line is not None:
        return Done(f"{row.name} {SAYS[line.judged]}.", made)
    if seven and four:
        return Done(f"{row.name} is calibrated.", made)
    return Done(f"{row.name} was set at one buffer only: its readings still count as uncalibrated.", made)


def _line(checks: Checks, row: Instrument, ask: NoteCalibration, when: datetime) -> MeterLine | None:
    earlier = [line for one in row.calibrations if one.at < when and (line := line_of(one)) is not None]
    try:
        return calibrate(ask.points, earlier[-1].slope if earlier else None, cleaned=ask.cleaned)
    except CalibrationError as problem:
        checks.refuse_if(True, "", str(problem))
        return None


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenBuffer:
    """A bottle of buffer that is used from now on."""

    buffer: int  #: 7 or 4
    opened_on: date | None = None
    best_before: date | None = None


@action
def open_buffer(session: Session, ask: OpenBuffer, at: datetime) -> Done:
    """Note a new bottle of buffer; the one before is put away."""
    checks = Checks()
    checks.refuse_if(ask.buffer not in (7, 4), "buffer", "A buffer is 7 or 4.")
    checks.refuse_if(ask.opened_on is None and ask.best_before is None, "opened_on", "When was it opened, or how long is it good?")
    checks.refuse_if(ask.opened_on is not None and ask.opened_on > at.date(), "opened_on", "That lies in the future.")
    checks.done()
    for row in buffers_in_use(session):
        if row.buffer == ask.buffer:
            row.ended_at = at
    row = BufferBottle(buffer=ask.buffer, opened_on=ask.opened_on, best_before=ask.best_before)
    return Done(f"A new bottle of buffer {ask.buffer}.", {"buffer": flushed(session, row)})
