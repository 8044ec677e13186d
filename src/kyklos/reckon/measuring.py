"""What a meter shows right now, and what its calibrations did to readings and brews."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.base.kinds import DeviceKind, MeasuredBy
from ..core.measuring.sent import STILL_S, stands_still
from ..store.read import meters, queries
from ..store.records import Brew, Device, DeviceReading, Instrument, Reading
from . import devices
from .forecast import forecasting

LIVE_S = 60.0  #: The span of a live course that is shown. [s]
HEARD_S = 30.0  #: A meter that was not heard of for longer is not live. [s]
FRESH = timedelta(days=90)  #: An opened buffer is good so long (assumed).
LOOK_BACK = timedelta(days=120)


@dataclass(frozen=True, slots=True)
class LivePh:
    """What a meter shows now."""

    course: tuple[tuple[float, float], ...]  #: Seconds ago, negative, and pH.
    ph: float
    millivolts: float | None
    celsius: float | None
    still: bool  #: For ten seconds.
    moved: float  #: Within the last ten seconds. [pH]


def live_ph(session: Session, device_id: int, now: datetime, since: datetime | None = None) -> LivePh | None:
    """Return what a pH meter shows now; None: it was not heard of just now.

    Args:
        session: Of the household.
        device_id: Of the meter.
        now: The moment.
        since: Nothing before counts: when it was dipped in.
    """
    r, begin = DeviceReading, now.timestamp() - LIVE_S
    first = max(begin, since.timestamp() if since is not None else begin)
    query = select(r.at_s, r.ph, r.millivolts, r.celsius).where(r.device_id == device_id, r.at_s >= first, r.ph.is_not(None)).order_by(r.at_s)
    rows = [(float(at), float(ph or 0.0), millivolts, celsius) for at, ph, millivolts, celsius in session.execute(query, execution_options={"anew": True})]
    if not rows or now.timestamp() - rows[-1][0] > HEARD_S:
        return None
    at, ph, millivolts, celsius = rows[-1]
    before = [(moment, value) for moment, value, *_ in rows[:-1]]
    lately = [value for moment, value in before if at - moment <= STILL_S] + [ph]
    course = tuple((moment - now.timestamp(), value) for moment, value in [*before, (at, ph)])
    return LivePh(course, ph, millivolts, celsius, stands_still(before, at, ph), max(lately) - min(lately))


def meter_device(session: Session, instrument: int) -> Device | None:
    """Return the device that a meter is, if it sends by itself."""
    query = select(Device).where(Device.instrument_id == instrument, Device.kind == DeviceKind.PH_METER, Device.ended_at.is_(None))
    return session.scalars(query.order_by(Device.id.desc())).first()


def sends_ph(session: Session) -> bool:
    """Return whether a pH meter is paired."""
    return any(one.kind == DeviceKind.PH_METER for one in devices.paired(session))


def sends_weight(session: Session) -> bool:
    """Return whether a scale is paired."""
    return any(one.kind == DeviceKind.SCALE for one in devices.paired(session))


def weights_live(session: Session, now: datetime) -> list[tuple[str, float]]:
    """List the scales that are heard of right now, and what they show. [g]"""
    scales = {one.id: one.name for one in devices.paired(session) if one.kind == DeviceKind.SCALE}
    live = devices.lives(session, list(scales)) if scales else {}
    return [(scales[number], one.grams) for number, one in live.items() if one.grams is not None and one.seen_at is not None and (now - one.seen_at).total_seconds() <= HEARD_S]


def meters_live(session: Session, now: datetime) -> list[tuple[Device, LivePh]]:
    """List the paired pH meters that are heard of right now."""
    found = [(one, live_ph(session, one.id, now)) for one in devices.paired(session) if one.kind == DeviceKind.PH_METER]
    return [(device, live) for device, live in found if live is not None]


@dataclass(frozen=True, slots=True)
class BrewByMeter:
    """What a meter's readings of a brew come to."""

    brew_id: int
    name: str
    shown: tuple[float, ...]
    right: tuple[float, ...]
    ready: tuple[tuple[str, float], ...]  #: Taster, likely day. [d]


def brews_by_meter(session: Session, instrument: int, now: datetime) -> dict[int, BrewByMeter]:
    """Return the living brews that a meter read, with what its readings come to and when each will be right."""
    brews = [brew for brew in queries.living_brews(session) if any(_is_of(one, instrument) for one in brew.readings)]
    return {brew.id: _of_brew(session, brew, instrument) for brew in brews}


def _is_of(reading: Reading, instrument: int) -> bool:
    return reading.instrument_id == instrument and reading.ph is not None and not reading.struck and reading.instrument == MeasuredBy.METER


def _of_brew(session: Session, brew: Brew, instrument: int) -> BrewByMeter:
    rows = [one for one in brew.readings if _is_of(one, instrument)]
    ready = forecasting.forecast_of(session, brew).ready
    likely = tuple((name, float(window.p50)) for name, window in ready.items() if window.p50 is not None)
    return BrewByMeter(brew.id, brew.vessel.name, tuple(float(one.ph or 0.0) for one in rows), tuple(meters.ph_told(one).ph for one in rows), likely)


LEAST_PH, LEAST_DAYS = 0.015, 0.2  #: Less is not worth a word. [pH, d]


@dataclass(frozen=True, slots=True)
class PutRightTold:
    """What a calibration changed in a brew."""

    brew_id: int
    name: str
    count: int  #: Readings that changed.
    too_high: float  #: By how much they were too high on the mean; negative: too low. [pH]
    later: float  #: How much later it is right now for the first taster; 0: about as before. [d]


def told_apart(before: dict[int, BrewByMeter], after: dict[int, BrewByMeter]) -> list[PutRightTold]:
    """Tell what changed between two looks at the brews that a meter read."""
    out = []
    for number, now in after.items():
        was = before.get(number)
        if was is None or len(was.right) != len(now.right):
            continue
        moved = [old - new for old, new in zip(was.right, now.right, strict=True) if abs(old - new) >= LEAST_PH]
        if not moved:
            continue
        days = dict(was.ready)
        later = next((day - days[name] for name, day in now.ready if name in days), 0.0)
        out.append(PutRightTold(number, now.name, len(moved), sum(moved) / len(moved), later if abs(later) >= LEAST_DAYS else 0.0))
    return out


@dataclass(frozen=True, slots=True)
class BufferTold:
    """A bottle of buffer as it stands."""

    buffer: int
    opened: str
    stale: bool
    says: str


def buffers_told(session: Session, now: datetime) -> list[BufferTold]:
    """List the bottles of buffer that are used, and which are stale."""
    out = []
    for row in meters.buffers_in_use(session):
        past = row.best_before is not None and row.best_before < now.date()
        old = row.opened_on is not None and now.date() - row.opened_on > FRESH
        told = [f"opened {row.opened_on:%-d %b %Y}"] if row.opened_on is not None else []
        told += [f"best before {row.best_before:%-d %b %Y}"] if row.best_before is not None else []
        says = "past its date" if past else "open for more than three months" if old else ""
        out.append(BufferTold(row.buffer, ", ".join(told), past or old, says))
    return out


def instrument_of(session: Session, number: int) -> Instrument:
    """Find an instrument."""
    return queries.get(session, Instrument, number)
