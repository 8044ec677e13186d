"""What devices send: readings taken exactly once, set points told, outlooks kept. It stands outside the journal and undo."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from sqlalchemy import delete, func, insert, select, update
from sqlalchemy.orm import Session

from ..core.measuring.sent import SentReading, shift_s, why_refused
from ..reckon.devices import set_point_now
from ..store.records import Device, DeviceLanding, DeviceReading, DeviceState, KnownReading, OutdoorHour
from .landing import DAY_S, WhereItStood, follow_ph, follow_warmth, mark_landed, raw_days

SMOOTH = 0.2  #: How much the newest gap counts in the usual interval. [-]
MOST_LANDINGS = 1000  #: So many rows are remembered that pages follow.
PRUNED_AT_ONCE = 2000
HOUR_S = 3600.0
OUTDOOR_DAYS = 120  #: Hours outdoors are kept so long; rooms learn from the last of them. [d]
ID_BITS = 62
AT_ONCE = 250  #: So many readings are written under one lock.
_KNOWN, _RAW = KnownReading.__table__.insert(), DeviceReading.__table__.insert()  # type: ignore[attr-defined]


@dataclass(frozen=True, slots=True)
class ReadingsKept:
    """What became of a post."""

    accepted: int
    known: int
    refused: tuple[tuple[str, str], ...]  #: Id, why.


def known_as(device: int, reading: str) -> int:
    """Return the number by which a reading is known for ever: 62 bits of a sum of device and id."""
    return int.from_bytes(hashlib.blake2b(f"{device} {reading}".encode(), digest_size=8).digest(), "big") >> (64 - ID_BITS)


def take_readings(session: Session, device_id: int, sent_at: datetime, readings: Sequence[SentReading], now: datetime) -> ReadingsKept:
    """Take a post of readings: known ones are counted, absurd ones refused, the others kept, each once.

    Args:
        session: The writing one.
        device_id: Of the device.
        sent_at: By the device's clock.
        readings: In any order, as they came.
        now: By the house's clock.
    """
    shift = shift_s(sent_at.timestamp(), now.timestamp())
    accepted, known, refused = 0, 0, list[tuple[str, str]]()
    rows = sorted(readings, key=lambda one: one.at_s)
    for first in range(0, len(rows), AT_ONCE):  # whoever else writes waits for a part only; what was not answered is sent again
        with session.begin():
            taken = _taken(session, device_id, shift, rows[first : first + AT_ONCE], now)
        accepted, known, refused = accepted + taken.accepted, known + taken.known, [*refused, *taken.refused]
    with session.begin():
        _prune(session, device_id, now)
    return ReadingsKept(accepted, known, tuple(refused))


def _taken(session: Session, device_id: int, shift: float, readings: Sequence[SentReading], now: datetime) -> ReadingsKept:
    """Take a part of a post."""
    fresh, known = _fresh(session, device_id, readings)
    shifted = [replace(one, at_s=one.at_s + shift) for one in fresh] if shift else fresh
    why = [why_refused(one, now.timestamp()) for one in shifted]
    kept = [one for one, says in zip(shifted, why, strict=True) if not says]
    if kept:
        session.connection().execute(_KNOWN, [{"id": known_as(device_id, one.id)} for one in kept])
    _landed(session, device_id, kept, shift, now)
    return ReadingsKept(len(kept), known, tuple((one.id, says) for one, says in zip(fresh, why, strict=True) if says))


def _fresh(session: Session, device_id: int, readings: Sequence[SentReading]) -> tuple[list[SentReading], int]:
    """Leave out what came before, in this post or any other; says how many."""
    by_number: dict[int, SentReading] = {}
    for one in readings:
        by_number.setdefault(known_as(device_id, one.id), one)
    there = set(session.scalars(select(KnownReading.id).where(KnownReading.id.in_(list(by_number)))))
    fresh = [one for number, one in by_number.items() if number not in there]
    return fresh, len(readings) - len(fresh)


def _landed(session: Session, device_id: int, kept: Sequence[SentReading], shift: float, now: datetime) -> None:
    """Keep the readings raw, follow their courses, and remember what the device was last heard of."""
    state = session.scalars(select(DeviceState).where(DeviceState.device_id == device_id)).one()
    if state.seen_at is not None and state.seen_at != now:  # a post is one, in however many parts it is written
        gap = min(DAY_S, max(0.0, (now - state.seen_at).total_seconds()))
        state.interval_s = gap if state.interval_s is None else (1 - SMOOTH) * state.interval_s + SMOOTH * gap
    state.seen_at, state.skew_s = now, shift
    if not kept:
        return
    raw = [{"device_id": device_id, "at_s": one.at_s, "celsius": one.celsius, "ph": one.ph, "millivolts": one.millivolts, "grams": one.grams} for one in kept]
    if told := [row for row in raw if not (row["celsius"] is None and row["ph"] is None and row["millivolts"] is None and row["grams"] is None)]:
        session.connection().execute(_RAW, told)
    _remember_last(state, kept)
    places = WhereItStood(session, device_id)
    follow_warmth(session, state, places, [one for one in kept if one.celsius is not None], now)
    follow_ph(session, state, places, [one for one in kept if one.ph is not None])


def _remember_last(state: DeviceState, kept: Sequence[SentReading]) -> None:
    newest = kept[-1]
    if state.read_at is not None and newest.at_s <= state.read_at.timestamp():
        return
    state.read_at = datetime.fromtimestamp(newest.at_s, UTC)
    for name in ("celsius", "ph", "millivolts", "grams", "battery"):
        value = next((found for one in reversed(kept) if (found := getattr(one, name)) is not None), None)
        if value is not None:
            setattr(state, name, value)


def _prune(session: Session, device_id: int, now: datetime) -> None:
    """Let go of raw readings that are older than the household keeps them, a few at a time."""
    days = raw_days(session)
    old = select(DeviceReading.id).where(DeviceReading.device_id == device_id, DeviceReading.at_s < now.timestamp() - DAY_S * days).limit(PRUNED_AT_ONCE)
    session.execute(delete(DeviceReading).where(DeviceReading.id.in_(old.scalar_subquery())))
    newest = session.scalar(select(func.max(DeviceLanding.id))) or 0
    session.execute(delete(DeviceLanding).where(DeviceLanding.id <= newest - MOST_LANDINGS))


# Set points and outlooks -------------------------------------------------------------------------------------------


def ask_set_point(session: Session, device_id: int, now: datetime) -> float | None:
    """Return how warm a heater is to keep its vessel, and remember that it asked; None: off. [degC]"""
    with session.begin():
        session.execute(update(DeviceState).where(DeviceState.device_id == device_id).values(seen_at=now))
        device = session.get(Device, device_id)
        return None if device is None else set_point_now(session, device, now)


def take_outlook(session: Session, device_id: int, issued_at: datetime, hours: Sequence[tuple[datetime, float]], now: datetime) -> int:
    """Keep a weather service's outlook in place of an older one, and the hours that went by; gives how many hours were taken."""
    with session.begin():
        state = session.scalars(select(DeviceState).where(DeviceState.device_id == device_id)).one()
        state.seen_at = now
        if issued_at.timestamp() >= float(state.outlook.get("issued_s", float("-inf"))):
            before = state.outlook.get("hours", [])
            state.outlook = {"issued_s": issued_at.timestamp(), "hours": [[at.timestamp(), celsius] for at, celsius in sorted(hours)]}
            _keep_hours(session, before, state.outlook["hours"], now)
        return len(hours)


def _keep_hours(session: Session, before: Sequence[Sequence[float]], hours: Sequence[Sequence[float]], now: datetime) -> None:
    """Keep the hours that went by, as the newest outlook had them; pages follow."""
    gone = {int(at_s // HOUR_S): celsius for at_s, celsius in (*before, *hours) if at_s <= now.timestamp()}
    last = session.scalar(select(func.max(OutdoorHour.hour))) or 0
    went_by = [{"hour": hour, "celsius": float(celsius)} for hour, celsius in sorted(gone.items()) if hour > last]
    if went_by:
        session.execute(insert(OutdoorHour), went_by)
    session.execute(delete(OutdoorHour).where(OutdoorHour.hour < now.timestamp() / HOUR_S - 24 * OUTDOOR_DAYS))
    mark_landed(session, OutdoorHour.__tablename__, session.scalar(select(func.max(OutdoorHour.id))) or 0)

