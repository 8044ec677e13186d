"""Devices by a person's hand: a pairing's yes or no, where a device stands, how warm a heater keeps its vessel, what is doubted, the end."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from ..core.base import marked
from ..core.base.kinds import DeviceKind, PairingState
from ..reckon.devices import PAIRS_FOR, look_again
from ..store.read import queries
from ..store.records import (
    Device,
    DeviceDoubt,
    DeviceStanding,
    DeviceState,
    Instrument,
    Pairing,
    Place,
    SetPoint,
    Vessel,
)
from .base import FUTURE_GRACE, Checks, Done, action, check_version, flushed
from .standing import put

LOWEST_C, HIGHEST_C = 15.0, 32.0  #: A heater is set within. [degC]
INSTRUMENTS = {DeviceKind.PH_METER: "meter", DeviceKind.THERMOMETER: "thermometer"}  #: What a device is among the instruments.
LEAST_RAW_DAYS, MOST_RAW_DAYS = 7.0, 400.0  #: Readings are kept whole so long. [d]
MOST_NAME = 60
LONGEST_PAUSE = timedelta(days=60)


@dataclass(frozen=True, slots=True, kw_only=True)
class ApprovePairing:
    """A person's yes, and what the device stands in or at; neither: in the hand."""

    code: str
    vessel_id: int | None = None
    place_id: int | None = None
    instrument_id: int | None = None  #: That it is; a new one unless given.


@action
def approve_pairing(session: Session, ask: ApprovePairing, at: datetime) -> Done:
    """Pair a device: from now on it may send, and its readings land where it stands."""
    checks = Checks()
    row = _waiting(session, ask.code, at, checks)
    checks.refuse_if(ask.vessel_id is not None and ask.place_id is not None, "where", "It stands in a vessel or at a place, not in both.")
    heater = row is not None and row.kind == DeviceKind.HEATER
    checks.refuse_if(heater and ask.vessel_id is None, "where", "A heater keeps a vessel warm: choose which.")
    look_again()
    checks.done()
    assert row is not None
    _there(session, ask.vessel_id, ask.place_id)
    device = Device(kind=row.kind, name=row.name, serial=row.serial, paired_at=at, instrument_id=_instrument(session, row, ask.instrument_id))
    number = flushed(session, device)
    session.add(DeviceStanding(device_id=number, vessel_id=ask.vessel_id, place_id=ask.place_id, since=at))
    session.add(DeviceState(device_id=number))
    row.state, row.device_id = PairingState.APPROVED, number
    return Done(f"{row.name} is paired.", {"device": number})


def _waiting(session: Session, code: str, at: datetime, checks: Checks) -> Pairing | None:
    plain = "".join(code.upper().split())
    plain = plain if "-" in plain else f"{plain[:3]}-{plain[3:]}"
    query = select(Pairing).where(Pairing.code == plain, Pairing.state == PairingState.WAITING, Pairing.asked_at > at - PAIRS_FOR)
    row = session.scalars(query).first()
    checks.refuse_if(row is None, "code", "No device waits with this code. A code is good for ten minutes.")
    return row


def _there(session: Session, vessel_id: int | None, place_id: int | None) -> str:
    """Return the name of where a device stands."""
    if vessel_id is not None:
        return str(queries.get(session, Vessel, vessel_id).name)
    return str(queries.get(session, Place, place_id).name) if place_id is not None else "the hand"


def _instrument(session: Session, row: Pairing, chosen: int | None) -> int | None:
    kind = INSTRUMENTS.get(DeviceKind(row.kind))
    if kind is None:
        return None
    known = queries.find(session, Instrument, chosen)
    if known is not None and known.kind == kind:
        return known.id
    return flushed(session, Instrument(kind=kind, name=row.name))


@dataclass(frozen=True, slots=True, kw_only=True)
class RefusePairing:
    """A person's no."""

    code: str


def refuse_pairing(session: Session, ask: RefusePairing, at: datetime) -> Done:
    """Refuse a device; it may ask again. Nothing of it stands in the journal."""
    checks = Checks()
    with session.begin():
        row = _waiting(session, ask.code, at, checks)
        checks.done()
        assert row is not None
        row.state = PairingState.REFUSED
        return Done(f"{row.name} was not paired.")


def _living(session: Session, number: int) -> Device:
    device, checks = queries.get(session, Device, number), Checks()
    checks.refuse_if(device.ended_at is not None, "", f"{device.name} is not paired any more.")
    checks.done()
    return device


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveDevice:
    """Where a device stands from a moment on."""

    device_id: int
    vessel_id: int | None = None
    place_id: int | None = None
    at: datetime | None = None  #: Now, unless given.


@action
def move_device(session: Session, ask: MoveDevice, at: datetime) -> Done:
    """Begin a new standing of a device; what was sent before stays where it was."""
    device, checks, when = _living(session, ask.device_id), Checks(), ask.at or at
    now = device.stands
    first = now is not None and len(device.standings) == 1 and (now.vessel_id, now.place_id) == (ask.vessel_id, ask.place_id)
    checks.refuse_if(ask.vessel_id is not None and ask.place_id is not None, "where", "It stands in a vessel or at a place, not in both.")
    checks.refuse_if(when > at + FUTURE_GRACE, "at", "That lies in the future.")
    checks.refuse_if(now is not None and when < now.since and not first, "at", "It came to where it stands later than that.")
    checks.refuse_if(device.kind == DeviceKind.HEATER and ask.vessel_id is None, "where", "A heater keeps a vessel warm: choose which.")
    look_again()
    checks.done()
    name = _there(session, ask.vessel_id, ask.place_id)
    if first and now is not None:
        now.since = min(when, now.since)  # it stood there before it was paired
        return Done(f"{device.name} has been there since then.")
    if now is not None:
        now.until = when
    session.add(DeviceStanding(device_id=device.id, vessel_id=ask.vessel_id, place_id=ask.place_id, since=when))
    return Done(f"{device.name} is in {name}." if ask.place_id is None else f"{device.name} is at {name}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class RenameDevice:
    """What a device is called."""

    device_id: int
    name: str
    version: int | None = None


@action
def rename_device(session: Session, ask: RenameDevice, at: datetime) -> Done:
    """Call a device something else."""
    device, checks, name = _living(session, ask.device_id), Checks(), " ".join(ask.name.split())
    check_version(ask.version, device.version, device.name)
    checks.refuse_if(not name or len(name) > MOST_NAME, "name", f"A name has up to {MOST_NAME} letters.")
    checks.done()
    device.name = name
    return Done(f"It is called {name}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class EndDevice:
    """A device that may send no more."""

    device_id: int


@action
def end_device(session: Session, ask: EndDevice, at: datetime) -> Done:
    """End a device at once: its token is forgotten, and no undo brings it back. What it sent stays."""
    device = _living(session, ask.device_id)
    look_again()
    device.ended_at = at
    if (now := device.stands) is not None:
        now.until = max(at, now.since)
    session.execute(update(DeviceState).where(DeviceState.device_id == device.id).values(token_sum=None))
    session.execute(delete(Pairing).where(Pairing.device_id == device.id))
    return Done(f"{device.name} is not paired any more.")


@dataclass(frozen=True, slots=True, kw_only=True)
class SetHeater:
    """How warm a heater is to keep its vessel."""

    device_id: int
    celsius: float | None  #: None: off. [degC]
    how: str = "hand"  #: hand, season or pause
    until: datetime | None = None  #: Of a pause.


@action
def set_heater(session: Session, ask: SetHeater, at: datetime) -> Done:
    """Set a heater; its vessel's standing follows, so that the forecast knows."""
    device, checks = _living(session, ask.device_id), Checks()
    checks.refuse_if(device.kind != DeviceKind.HEATER, "", f"{device.name} is no heater.")
    checks.refuse_if(ask.how not in {"hand", "season", "pause"}, "how", "Choose how.")
    checks.between(ask.celsius, "celsius", LOWEST_C, HIGHEST_C, "A heater set to", "temperature")
    late = ask.until is None or not at < ask.until <= at + LONGEST_PAUSE
    checks.refuse_if(ask.how == "pause" and late, "until", "Until when, within two months?")
    checks.done()
    look_again()
    session.add(SetPoint(device_id=device.id, at=at, celsius=ask.celsius, how=ask.how, until=ask.until if ask.how == "pause" else None))
    vessel = device.stands.vessel if device.stands is not None else None
    if vessel is not None and ask.how != "pause":
        put(session, vessel, vessel.place.id, at, ask.celsius)
    return Done(f"{device.name}: off." if ask.celsius is None else f"{device.name}: {marked(ask.celsius, 'temperature')}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class KeepWhole:
    """How long readings of devices are kept whole; what was drawn of them stays."""

    days: float  #: [d]


@action
def keep_whole(session: Session, ask: KeepWhole, at: datetime) -> Done:
    """Set how long readings of devices are kept whole."""
    checks = Checks()
    checks.refuse_if(not LEAST_RAW_DAYS <= ask.days <= MOST_RAW_DAYS, "days", f"From {LEAST_RAW_DAYS:g} to {MOST_RAW_DAYS:g} days.")
    checks.done()
    queries.household_of(session).raw_days = ask.days
    return Done(f"Readings are kept whole for {ask.days:g} days.")


@dataclass(frozen=True, slots=True, kw_only=True)
class DoubtReadings:
    """A span in which a device read something else, like the air."""

    device_id: int
    since: datetime
    until: datetime
    why: str = "It stood in the air."


@action
def doubt_readings(session: Session, ask: DoubtReadings, at: datetime) -> Done:
    """Set a device's readings of a span aside: they stay, struck, and nothing is reckoned from them."""
    device, checks = queries.get(session, Device, ask.device_id), Checks()
    checks.refuse_if(ask.until <= ask.since, "until", "It ends before it begins.")
    checks.refuse_if(ask.since > at + FUTURE_GRACE, "since", "That lies in the future.")
    checks.refuse_if(ask.until - ask.since > LONGEST_PAUSE, "until", "At most two months at once.")
    checks.done()
    row = DeviceDoubt(device_id=device.id, since=ask.since, until=ask.until, why=" ".join(ask.why.split())[:MOST_NAME] or "It stood in the air.")
    return Done(f"Set aside: what {device.name} read then.", {"doubt": flushed(session, row)})
