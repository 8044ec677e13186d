"""Devices as they stand: how warm a heater is to keep its vessel, which devices are silent, what waits to be paired."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.base import marked
from ..core.base.kinds import DeviceKind, PairingState
from ..core.measuring.heating import trouble_of
from ..core.measuring.sent import is_silent
from ..store.read.memory import for_a_minute, forget_minute, remembered
from ..store.records import Device, DeviceReading, DeviceStanding, DeviceState, Pairing, Place, SetPoint, Vessel
from .forecast import warmth

PAIRS_FOR = timedelta(seconds=600)
SEASON_K = 1.0  #: A heater by season is off while its place is within so much of the set point. [K]
LOOK_BACK = timedelta(hours=6)
TROUBLES = "device troubles"
LOW_BATTERY = 0.15  #: Of full. [-]


def point_in_force(device: Device, now: datetime) -> SetPoint | None:
    """Return the set point that holds now: a pause until it is over, then what was before."""
    rows = [row for row in device.set_points if row.at <= now and not (row.how == "pause" and row.until is not None and row.until <= now)]
    return rows[-1] if rows else None


def set_point_now(session: Session, device: Device, now: datetime) -> float | None:
    """Return how warm a heater is to keep its vessel now; None: off. [degC]"""
    row = point_in_force(device, now)
    if row is None or row.celsius is None:
        return None
    stands = device.stands
    place = stands.vessel.place if stands is not None and stands.vessel is not None else stands.place if stands is not None else None
    if row.how == "season" and place is not None and warmth.usual_celsius(place, now) >= row.celsius - SEASON_K:
        return None
    return row.celsius


@dataclass(frozen=True, slots=True)
class DeviceLive:
    """What a device was last heard of."""

    device_id: int
    seen_at: datetime | None
    read_at: datetime | None
    battery: float | None
    skew_s: float
    interval_s: float | None
    celsius: float | None
    ph: float | None
    millivolts: float | None
    grams: float | None
    still: bool
    doubt: str  #: Why its warmth is doubted now; empty: it is not.
    fetched: bool  #: It has its token.

    def silent(self, now: datetime) -> bool:
        """Return whether it missed three of its usual intervals."""
        return self.seen_at is not None and is_silent(self.seen_at.timestamp(), self.interval_s, now.timestamp())


def lives(session: Session, numbers: Sequence[int] | None = None) -> dict[int, DeviceLive]:
    """Return what devices were last heard of, by number; asked anew each time, for no change of the file tells it."""
    s = DeviceState
    query = select(s.device_id, s.seen_at, s.read_at, s.battery, s.skew_s, s.interval_s, s.celsius, s.ph, s.millivolts, s.grams, s.still, s.followed, s.token_sum)
    if numbers is not None:
        query = query.where(s.device_id.in_(numbers))
    out = {}
    for *told, followed, token in session.execute(query, execution_options={"anew": True}):
        doubt = str(followed.get("warmth", {}).get("seen", {}).get("doubt", ""))
        out[int(told[0])] = DeviceLive(*told, doubt, token is not None)  # type: ignore[call-arg]
    return out


def paired(session: Session) -> list[Device]:
    """List the devices that are paired, in order of pairing."""
    return list(session.scalars(select(Device).where(Device.ended_at.is_(None)).order_by(Device.id)))


@dataclass(frozen=True, slots=True)
class PairingAsks:
    """A device that waits for a person's yes."""

    number: int
    code: str
    name: str
    kind: str
    serial: str
    asked_by: str
    asked_at: datetime


def waiting(session: Session, now: datetime) -> list[PairingAsks]:
    """List the devices that wait to be paired; asked anew each time."""
    p = Pairing
    query = select(p.id, p.code, p.name, p.kind, p.serial, p.asked_by, p.asked_at).where(p.state == PairingState.WAITING, p.asked_at > now - PAIRS_FOR)
    return [PairingAsks(*row) for row in session.execute(query.order_by(p.asked_at), execution_options={"anew": True})]


@dataclass(frozen=True, slots=True)
class DeviceTrouble:
    """Something that is wrong with a device, and what to do."""

    device_id: int
    name: str
    says: str
    do: str


@dataclass(frozen=True, slots=True)
class DeviceKnown:
    """A paired device as far as only a person changes it."""

    number: int
    name: str
    kind: str
    vessel_id: int | None
    vessel: str
    points: tuple[HeaterPoint, ...]  #: Of a heater.


@dataclass(frozen=True, slots=True)
class HeaterPoint:
    """A heater's set point."""

    at: datetime
    celsius: float | None  #: None: off, or off while its place is warm enough. [degC]
    pause_until: datetime | None


def _known(session: Session, now: datetime) -> tuple[DeviceKnown, ...]:
    """Return the paired devices; asked anew when one of them was changed, and every hour."""
    key = ("devices known", now.replace(minute=0, second=0, microsecond=0))
    return remembered(session, key, lambda: tuple(_as_known(session, one, now) for one in paired(session)), of=(Device, DeviceStanding, SetPoint, Vessel, Place))


def _as_known(session: Session, device: Device, now: datetime) -> DeviceKnown:
    vessel = device.stands.vessel if device.stands is not None else None
    force, set_c = point_in_force(device, now), set_point_now(session, device, now)
    points = tuple(HeaterPoint(row.at, set_c if row is force else row.celsius, row.until if row.how == "pause" else None) for row in device.set_points)
    return DeviceKnown(device.id, device.name, device.kind, None if vessel is None else vessel.id, "" if vessel is None else vessel.name, points)


def _heaters(session: Session, known: Sequence[DeviceKnown], now: datetime) -> list[DeviceTrouble]:
    """List what is wrong with the household's heaters, by the probes that stand with them in their vessels."""
    heaters = [one for one in known if one.kind == DeviceKind.HEATER and one.vessel_id is not None]
    warm = {one.vessel_id for one in heaters}
    probes = {one.number: one.vessel_id for one in known if one.vessel_id in warm}
    read = courses(session, list(probes), now - LOOK_BACK, now) if heaters else []
    out = []
    for heater in heaters:
        course = [(at, celsius) for number, at, celsius in read if probes[number] == heater.vessel_id]
        force = next((one for one in reversed(heater.points) if one.at <= now and not (one.pause_until is not None and one.pause_until <= now)), None)
        found = trouble_of(force.celsius if force else None, force.at.timestamp() if force else 0.0, course, now.timestamp())
        if found is not None:
            set_c = force.celsius if force is not None and force.celsius is not None else 0.0
            out.append(DeviceTrouble(heater.number, heater.vessel, found.says.replace("{set}", marked(set_c, "temperature")), found.do))
    return out


def courses(session: Session, devices: Sequence[int], since: datetime, until: datetime) -> list[tuple[int, float, float]]:
    """Return what some devices read between two moments, in order. [-, s since 1970, degC]"""
    r = DeviceReading
    query = select(r.device_id, r.at_s, r.celsius).where(r.device_id.in_(devices), r.at_s > since.timestamp(), r.at_s <= until.timestamp(), r.celsius.is_not(None))
    return [(number, float(at), float(c or 0.0)) for number, at, c in session.execute(query.order_by(r.at_s), execution_options={"anew": True})]


def _span(passed: timedelta) -> str:
    hours = passed / timedelta(hours=1)
    return f"{60 * hours:.0f} minutes" if hours < 2 else f"{hours:.0f} hours" if hours < 48 else f"{hours / 24:.0f} days"


def troubles(session: Session, now: datetime) -> list[DeviceTrouble]:
    """List what is wrong with devices, the gravest first: heaters, probes in the air, silent ones, low batteries; looked at once a minute."""
    minute = now.replace(second=0, microsecond=0)
    return list(for_a_minute(session, TROUBLES, minute, lambda: tuple(_troubles(session, now))))


def look_again() -> None:
    """Look at the devices again before the minute is over: somebody changed something."""
    forget_minute(TROUBLES)


def _troubles(session: Session, now: datetime) -> list[DeviceTrouble]:
    known = _known(session, now)
    if not known:
        return []
    live, out = lives(session), _heaters(session, known, now)
    for device in known:
        seen = live.get(device.number)
        if seen is None or seen.seen_at is None:
            continue
        if seen.silent(now):
            out.append(DeviceTrouble(device.number, device.name, f"silent for {_span(now - seen.seen_at)}.", "Look to its battery, its plug and the network."))
        elif seen.doubt:
            out.append(DeviceTrouble(device.number, device.name, "seems to be out of the liquid; nothing is reckoned from it.", "Put it back, or tell where it stands now."))
        elif seen.battery is not None and seen.battery < LOW_BATTERY:
            out.append(DeviceTrouble(device.number, device.name, f"battery at {100 * seen.battery:.0f} %.", "Change it soon."))
    return out
