"""What devices send: pairing asked and fetched, readings taken exactly once, set points told. It stands outside the journal and undo.

A reading lands where its device stood: temperature as a course of its brew or place, a row a day; a pH that stands still as a reading.
"""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete, func, insert, select, update
from sqlalchemy.orm import Session

from ..core.base import KyklosError
from ..core.base.kinds import PairingState
from ..core.measuring.sent import SentReading, WarmthSeen, seen_next, shift_s, stands_still, why_refused
from ..core.measuring.thinning import LONGEST_PH_S, LONGEST_S, WITHIN_K, Thinner, follow
from ..reckon.devices import set_point_now
from ..store.records import (
    Brew,
    Device,
    DeviceLanding,
    DeviceReading,
    DeviceStanding,
    DeviceState,
    Household,
    KnownReading,
    Pairing,
    Reading,
    TemperatureLog,
)

PAIRS_FOR_S = 600  #: A code is good for so long. [s]
MOST_WAITING, MOST_AN_HOUR = 5, 10
LETTERS, DIGITS = "ABCDEFGHJKLMNPQRSTUVWXYZ", "23456789"
DAY_S = 86400.0
MOVED_PH = 0.05  #: A pH lands anew once it moved so far (assumed). [pH]
LAST_PH = 12  #: So many are kept to tell whether it stands still.
SMOOTH = 0.2  #: How much the newest gap counts in the usual interval. [-]
MOST_LANDINGS = 1000  #: So many rows are remembered that pages follow.
PRUNED_AT_ONCE = 2000
ID_BITS = 62


class TooManyError(KyklosError):
    """Too many ask to be paired."""

    def __init__(self, says: str, after_s: int) -> None:
        super().__init__(says)
        self.after_s = after_s


def sum_of(secret: str) -> str:
    """Return what is kept of a secret or token: its SHA-256."""
    return hashlib.sha256(secret.encode()).hexdigest()


# Pairing -----------------------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Begun:
    """A pairing that waits."""

    number: int
    secret: str
    code: str
    expires_in: int = PAIRS_FOR_S  #: [s]


def ask_pairing(session: Session, name: str, kind: str, serial: str, address: str, now: datetime) -> Begun:
    """Let a device wait for a person's yes.

    Raises:
        TooManyError: If five wait already, or ten asked within the hour from this address.
    """
    with session.begin():
        since = now - timedelta(seconds=PAIRS_FOR_S)
        waiting = list(session.scalars(select(Pairing).where(Pairing.state == PairingState.WAITING, Pairing.asked_at > since).order_by(Pairing.asked_at)))
        if len(waiting) >= MOST_WAITING:
            raise TooManyError("Five devices wait to be paired already. Say yes or no to one of them first.", _left_s(waiting[0].asked_at, PAIRS_FOR_S, now))
        hour = now - timedelta(hours=1)
        of_it = list(session.scalars(select(Pairing.asked_at).where(Pairing.asked_by == address, Pairing.asked_at > hour).order_by(Pairing.asked_at)))
        if len(of_it) >= MOST_AN_HOUR:
            raise TooManyError("This address asked ten times within the hour. Wait a little.", _left_s(of_it[0], 3600, now))
        session.execute(delete(Pairing).where(Pairing.asked_at < now - timedelta(days=1)))
        secret, taken = secrets.token_urlsafe(32), {row.code for row in waiting}
        code = next(code for code in iter(_code, "") if code not in taken)
        row = Pairing(secret_sum=sum_of(secret), code=code, name=" ".join(name.split()), kind=kind, serial=serial.strip(), asked_at=now, asked_by=address[:60], state=PairingState.WAITING)
        session.add(row)
        session.flush()
        return Begun(row.id, secret, code)


def _left_s(since: datetime, seconds: float, now: datetime) -> int:
    return max(1, round(seconds - (now - since).total_seconds()))


def _code() -> str:
    pick = secrets.choice
    return f"{pick(LETTERS)}{pick(DIGITS)}{pick(LETTERS)}-{pick(DIGITS)}{pick(DIGITS)}"


@dataclass(frozen=True, slots=True)
class Fetched:
    """How a pairing stands for its device."""

    state: str  #: missing, wrong, waiting, gone or paired
    token: str = ""
    device: int = 0


def fetch_token(session: Session, number: int, secret: str, now: datetime) -> Fetched:
    """Give a paired device its token, once."""
    with session.begin():
        row = session.get(Pairing, number)
        if row is None:
            return Fetched("missing")
        if not secrets.compare_digest(row.secret_sum, sum_of(secret)):
            return Fetched("wrong")
        if row.state == PairingState.WAITING:
            late = (now - row.asked_at).total_seconds() > PAIRS_FOR_S
            return Fetched("gone" if late else "waiting")
        if row.state != PairingState.APPROVED or row.device_id is None:
            return Fetched("gone")
        state = session.scalars(select(DeviceState).where(DeviceState.device_id == row.device_id)).one()
        token = secrets.token_urlsafe(32)
        state.token_sum, row.state = sum_of(token), PairingState.FETCHED
        return Fetched("paired", token, row.device_id)


def give_token(session: Session, device_id: int) -> str:
    """Give a device a new token, without a pairing: for stand-ins that come with a sample household."""
    token = secrets.token_urlsafe(32)
    with session.begin():
        state = session.scalars(select(DeviceState).where(DeviceState.device_id == device_id)).one()
        state.token_sum = sum_of(token)
    return token


def device_of(session: Session, token: str) -> Device | None:
    """Find the device of a token; None: it has none, or was ended."""
    query = select(Device).join(DeviceState, DeviceState.device_id == Device.id).where(DeviceState.token_sum == sum_of(token), Device.ended_at.is_(None))
    return session.scalars(query).first()


# Readings ----------------------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Taken:
    """What became of a post."""

    accepted: int
    known: int
    refused: tuple[tuple[str, str], ...]  #: Id, why.


def known_as(device: int, reading: str) -> int:
    """Return the number by which a reading is known for ever: 62 bits of a sum of device and id."""
    return int.from_bytes(hashlib.blake2b(f"{device} {reading}".encode(), digest_size=8).digest(), "big") >> (64 - ID_BITS)


def take_readings(session: Session, device_id: int, sent_at: datetime, readings: Sequence[SentReading], now: datetime) -> Taken:
    """Take a post of readings: known ones are counted, absurd ones refused, the others kept, each once.

    Args:
        session: The writing one.
        device_id: Of the device.
        sent_at: By the device's clock.
        readings: In any order, as they came.
        now: By the house's clock.
    """
    shift, now_s = shift_s(sent_at.timestamp(), now.timestamp()), now.timestamp()
    with session.begin():
        fresh, known = _fresh(session, device_id, readings)
        shifted = [replace(one, at_s=one.at_s + shift) for one in fresh]
        why = [why_refused(one, now_s) for one in shifted]
        kept = [one for one, says in zip(shifted, why, strict=True) if not says]
        if kept:
            session.execute(insert(KnownReading), [{"id": known_as(device_id, one.id)} for one in kept])
        _landed(session, device_id, sorted(kept, key=lambda one: one.at_s), shift, now)
        refused = tuple((one.id, says) for one, says in zip(fresh, why, strict=True) if says)
        return Taken(len(kept), known, refused)


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
    if state.seen_at is not None:
        gap = min(DAY_S, max(0.0, (now - state.seen_at).total_seconds()))
        state.interval_s = gap if state.interval_s is None else (1 - SMOOTH) * state.interval_s + SMOOTH * gap
    state.seen_at, state.skew_s = now, shift
    if not kept:
        return
    raw = [{"device_id": device_id, "at_s": one.at_s, "celsius": one.celsius, "ph": one.ph, "millivolts": one.millivolts, "grams": one.grams} for one in kept]
    if told := [row for row in raw if any(row[name] is not None for name in ("celsius", "ph", "millivolts", "grams"))]:
        session.execute(insert(DeviceReading), told)
    _remember_last(state, kept)
    places = _Standings(session, device_id)
    _follow_warmth(session, state, places, [one for one in kept if one.celsius is not None], now)
    _follow_ph(session, state, places, [one for one in kept if one.ph is not None])
    _prune(session, device_id, now)


def _remember_last(state: DeviceState, kept: Sequence[SentReading]) -> None:
    newest = kept[-1]
    if state.read_at is not None and newest.at_s <= state.read_at.timestamp():
        return
    state.read_at = datetime.fromtimestamp(newest.at_s, UTC)
    for name in ("celsius", "ph", "millivolts", "grams", "battery"):
        value = next((found for one in reversed(kept) if (found := getattr(one, name)) is not None), None)
        if value is not None:
            setattr(state, name, value)


class _Standings:
    """Where a device stood when, and which brew stood there then."""

    def __init__(self, session: Session, device_id: int) -> None:
        self._session = session
        self._rows = list(session.scalars(select(DeviceStanding).where(DeviceStanding.device_id == device_id).order_by(DeviceStanding.since)))
        self._brews: dict[int, list[Brew]] = {}

    def in_vessel(self, at_s: float) -> bool:
        """Return whether it stood in a vessel then."""
        row = self._row(at_s)
        return row is not None and row.vessel_id is not None

    def where(self, at_s: float) -> tuple[str, int] | None:
        """Return the brew or place that a reading is of; None: neither."""
        row = self._row(at_s)
        if row is None:
            return None
        if row.place_id is not None:
            return "place_id", row.place_id
        brew = self.brew(at_s)
        return None if brew is None else ("brew_id", brew.id)

    def brew(self, at_s: float) -> Brew | None:
        """Return the brew in which it stood then."""
        row = self._row(at_s)
        if row is None or row.vessel_id is None:
            return None
        if row.vessel_id not in self._brews:
            query = select(Brew).where(Brew.vessel_id == row.vessel_id).order_by(Brew.pitched_at.desc()).limit(40)
            self._brews[row.vessel_id] = list(self._session.scalars(query))
        at = datetime.fromtimestamp(at_s, UTC)
        return next((one for one in self._brews[row.vessel_id] if one.pitched_at <= at and (one.ended_at is None or at < one.ended_at)), None)

    def _row(self, at_s: float) -> DeviceStanding | None:
        at = datetime.fromtimestamp(at_s, UTC)
        return next((row for row in self._rows if row.since <= at and (row.until is None or at < row.until)), None)


def _follow_warmth(session: Session, state: DeviceState, places: _Standings, warm: Sequence[SentReading], now: datetime) -> None:
    """Put temperatures into the courses of what the device stood in: those in order of time go on, late ones are put in again by the day."""
    told = state.followed.get("warmth", {})
    last_s = told.get("seen", {}).get("at_s", float("-inf"))
    late = [one for one in warm if one.at_s <= last_s]
    new = [one for one in warm if one.at_s > last_s]
    days = _Days(session, state.device_id)
    if new:
        told = _go_on(days, places, told, new)
    if late:
        raw_since = now.timestamp() - DAY_S * (session.scalar(select(Household.raw_days)) or 0.0)
        for day, where in sorted({(one.at_s // DAY_S, where) for one in late if (where := places.where(one.at_s)) is not None}):
            line, seen = _anew(session, days, places, state.device_id, day, where, late, day * DAY_S >= raw_since)
            if seen is not None and list(where) == told.get("where") and seen.at_s == told["seen"]["at_s"]:
                told = {**told, **_packed(line, seen)}
    state.followed = {**state.followed, "warmth": told}
    days.write()


class _Days:
    """The rows of a device's courses, one a day and brew or place: read once, written once."""

    def __init__(self, session: Session, device_id: int) -> None:
        self._session, self._device_id = session, device_id
        self._rows: dict[tuple[float, tuple[str, int]], dict[str, Any]] = {}

    def of(self, day: float, where: tuple[str, int]) -> dict[str, Any]:
        """Return a day's points and doubts; a new one begins empty."""
        key = (day, where)
        if key not in self._rows:
            log, column = TemperatureLog, getattr(TemperatureLog, where[0])
            query = select(log.id, log.points, log.doubtful).where(log.device_id == self._device_id, column == where[1], log.first_s >= day * DAY_S, log.first_s < (day + 1) * DAY_S, log.struck.is_(False))
            found = self._session.execute(query).first()
            self._rows[key] = {"id": None, "points": [], "doubtful": []} if found is None else {"id": found.id, "points": list(found.points), "doubtful": list(found.doubtful)}
        return self._rows[key]

    def write(self) -> None:
        """Write the rows, and let pages follow them."""
        name = None
        for (_, where), row in self._rows.items():
            if not row["points"] and not row["doubtful"]:
                continue
            name = name or self._session.scalar(select(Device.name).where(Device.id == self._device_id))
            moments = [point[0] for point in (*row["points"], *row["doubtful"])]
            values = {"points": row["points"], "doubtful": row["doubtful"], "first_s": min(moments), "last_s": max(moments)}
            if row["id"] is None:
                at = datetime.fromtimestamp(min(moments), UTC)
                log = TemperatureLog(**values, **{where[0]: where[1]}, device_id=self._device_id, name=str(name), at=at)
                self._session.add(log)
                self._session.flush()
                row["id"], row["marks"] = log.id, True
            else:
                self._session.execute(update(TemperatureLog).where(TemperatureLog.id == row["id"]).values(**values))
            if row.get("marks"):
                mark_landed(self._session, TemperatureLog.__tablename__, int(row["id"]))


def mark_landed(session: Session, table: str, number: int) -> None:
    """Let pages follow a row that no change of the journal tells."""
    session.execute(insert(DeviceLanding).values(name=table, number=number))


def _go_on(days: _Days, places: _Standings, told: dict[str, Any], new: Sequence[SentReading]) -> dict[str, Any]:
    """Follow a probe on: each day's row holds the points that draw its line, and the newest."""
    seen = WarmthSeen(**told["seen"]) if "seen" in told else None
    line, where_was = (Thinner(**told["line"]) if "line" in told else None), tuple(told["where"]) if told.get("where") else None
    marked_s = float(told.get("marked_s", 0.0))
    for one in new:
        if seen is not None and one.at_s <= seen.at_s:
            continue  # two of one moment: the first counts
        celsius = float(one.celsius or 0.0)
        was_doubted = bool(seen is not None and seen.doubt)
        seen = seen_next(seen, one.at_s, celsius, places.in_vessel(one.at_s))
        where = places.where(one.at_s)
        if where is None:
            line, where_was = None, None
            continue
        row = days.of(one.at_s // DAY_S, where)
        if seen.doubt:
            row["doubtful"].append([one.at_s, celsius, seen.doubt])
            row["marks"] = row.get("marks") or not was_doubted
            continue
        if where != where_was or (line is not None and one.at_s // DAY_S != line.last_s // DAY_S):
            line = None
        line, more = follow(line, one.at_s, celsius, WITHIN_K, LONGEST_S)
        points = [point for point in row["points"] if point[0] <= line.kept_s and (not more or point[0] < more[-1][0])]
        row["points"] = [*points, *([at, round(value, 2)] for at, value in more), *([[one.at_s, round(celsius, 2)]] if not more or more[-1][0] != one.at_s else [])]
        if (more or where != where_was) and (one.at_s - marked_s >= 60.0 or where != where_was):
            row["marks"], marked_s = True, one.at_s
        where_was = where
    return {"marked_s": marked_s, "where": list(where_was) if where_was else None, **_packed(line, seen)}


def _packed(line: Thinner | None, seen: WarmthSeen | None) -> dict[str, Any]:
    """Pack how far a course was followed."""
    out: dict[str, Any] = {} if seen is None else {"seen": asdict(seen)}
    if line is not None:
        out["line"] = {key: value for key, value in asdict(line).items() if abs(value) != float("inf")}
    return out


def _anew(session: Session, days: _Days, places: _Standings, device_id: int, day: float, where: tuple[str, int], late: Sequence[SentReading], whole: bool) -> tuple[Thinner | None, WarmthSeen | None]:
    """Put a day's course together anew, of all that is kept raw of it, or of its points and what came late."""
    row = days.of(day, where)
    if whole:
        query = select(DeviceReading.at_s, DeviceReading.celsius).where(DeviceReading.device_id == device_id, DeviceReading.at_s >= day * DAY_S, DeviceReading.at_s < (day + 1) * DAY_S, DeviceReading.celsius.is_not(None))
        points = [(float(at), float(c or 0.0)) for at, c in session.execute(query.order_by(DeviceReading.at_s))]
    else:
        points = sorted([*((float(at), float(c)) for at, c, *_ in (*row["points"], *row["doubtful"])), *((one.at_s, float(one.celsius or 0.0)) for one in late if one.at_s // DAY_S == day)])
    sound, row["doubtful"], seen = _judged(points, places, where)
    line: Thinner | None = None
    kept: list[list[float]] = []
    for at, celsius in sound:
        if line is not None and at <= line.last_s:
            continue
        line, more = follow(line, at, celsius, WITHIN_K, LONGEST_S)
        kept += [[one, round(value, 2)] for one, value in more]
    if line is not None and (not kept or kept[-1][0] != line.last_s):
        kept.append([line.last_s, round(line.last, 2)])
    row["points"], row["marks"] = kept, True
    return line, seen


def _judged(points: Iterable[tuple[float, float]], places: _Standings, where: tuple[str, int]) -> tuple[list[tuple[float, float]], list[list[Any]], WarmthSeen | None]:
    """Part a day's points of one brew or place into sound ones and doubted ones."""
    seen: WarmthSeen | None = None
    sound, doubted = [], []
    for at, celsius in points:
        if places.where(at) != where:
            continue
        if seen is not None and at <= seen.at_s:
            continue
        seen = seen_next(seen, at, celsius, where[0] == "brew_id")
        if seen.doubt:
            doubted.append([at, celsius, seen.doubt])
        else:
            sound.append((at, celsius))
    return sound, doubted, seen


def _follow_ph(session: Session, state: DeviceState, places: _Standings, acid: Sequence[SentReading]) -> None:
    """Let a pH that stands still land in the brew, once it moved or some hours passed; those before the last one seen stay raw."""
    told = state.followed.get("ph", {})
    last = [(float(at), float(ph)) for at, ph in told.get("last", [])]
    landed: dict[str, list[float]] = dict(told.get("landed", {}))
    for one in acid:
        ph = float(one.ph or 0.0)
        newest = not last or one.at_s > last[-1][0]
        still = bool(one.still) if one.still is not None else newest and stands_still(last, one.at_s, ph)
        if newest:
            last, state.still = [*last, (one.at_s, ph)][-LAST_PH:], still
        brew = places.brew(one.at_s) if still else None
        if brew is None:
            continue
        before = landed.get(str(brew.id))
        if before is not None and (one.at_s <= before[0] or (abs(ph - before[1]) < MOVED_PH and one.at_s - before[0] < LONGEST_PH_S)):
            continue
        landed = {str(brew.id): [one.at_s, ph]}
        _land_ph(session, state.device_id, brew, one)
    state.followed = {**state.followed, "ph": {"last": [list(pair) for pair in last], "landed": landed}}


def _land_ph(session: Session, device_id: int, brew: Brew, one: SentReading) -> None:
    device = session.get(Device, device_id)
    instrument = None if device is None else device.instrument_id
    row = Reading(
        liquid_id=brew.liquid_id, at=datetime.fromtimestamp(one.at_s, UTC), ph=round(float(one.ph or 0.0), 2), celsius=None if one.celsius is None else round(one.celsius, 1),
        millivolts=one.millivolts, instrument="meter", instrument_id=instrument, device_id=device_id, note="", gravity_by="", depth="",
    )  # fmt: skip
    session.add(row)
    session.flush()
    mark_landed(session, Reading.__tablename__, row.id)


def _prune(session: Session, device_id: int, now: datetime) -> None:
    """Let go of raw readings that are older than the household keeps them, a few at a time."""
    days = session.scalar(select(Household.raw_days)) or 0.0
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
    """Keep a weather service's outlook in place of an older one; gives how many hours were taken."""
    with session.begin():
        state = session.scalars(select(DeviceState).where(DeviceState.device_id == device_id)).one()
        state.seen_at = now
        if issued_at.timestamp() >= float(state.outlook.get("issued_s", float("-inf"))):
            state.outlook = {"issued_s": issued_at.timestamp(), "hours": [[at.timestamp(), celsius] for at, celsius in sorted(hours)]}
        return len(hours)

