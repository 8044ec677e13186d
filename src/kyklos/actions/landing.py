"""Where a device's readings land: temperature as a course of its brew or place, a row a day; a pH that stands still as a reading.

Courses are thinned to what draws the same line; what is doubted stands beside it, and nothing is reckoned from it.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import insert, select, update
from sqlalchemy.orm import Session

from ..core.measuring.sent import SentReading, WarmthSeen, seen_next, stands_still
from ..core.measuring.thinning import LONGEST_PH_S, LONGEST_S, WITHIN_K, Thinner, follow
from ..store.records import (
    Brew,
    Device,
    DeviceLanding,
    DeviceReading,
    DeviceStanding,
    DeviceState,
    Household,
    Reading,
    TemperatureLog,
)

DAY_S = 86400.0
MOVED_PH = 0.05  #: A pH lands anew once it moved so far (assumed). [pH]
LAST_PH = 12  #: So many are kept to tell whether it stands still.
RAW_DAYS = 90.0  #: Readings are kept whole so long, until the household says otherwise. [d]


class WhereItStood:
    """Where a device stood when, and which brew stood there then."""

    def __init__(self, session: Session, device_id: int) -> None:
        self._session = session
        rows = session.scalars(select(DeviceStanding).where(DeviceStanding.device_id == device_id).order_by(DeviceStanding.since))
        self._rows = [(row.since.timestamp(), _end_s(row.until), row) for row in rows]
        self._brews: dict[int, list[tuple[float, float, Brew]]] = {}

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
            self._brews[row.vessel_id] = [(one.pitched_at.timestamp(), _end_s(one.ended_at), one) for one in self._session.scalars(query)]
        return next((one for since, until, one in self._brews[row.vessel_id] if since <= at_s < until), None)

    def _row(self, at_s: float) -> DeviceStanding | None:
        return next((row for since, until, row in self._rows if since <= at_s < until), None)


def _end_s(until: datetime | None) -> float:
    return float("inf") if until is None else until.timestamp()


def follow_warmth(session: Session, state: DeviceState, places: WhereItStood, warm: Sequence[SentReading], now: datetime) -> None:
    """Put temperatures into the courses of what the device stood in: those in order of time go on, late ones are put in again by the day."""
    told = state.followed.get("warmth", {})
    last_s = told.get("seen", {}).get("at_s", float("-inf"))
    late = [one for one in warm if one.at_s <= last_s]
    new = [one for one in warm if one.at_s > last_s]
    days = _Days(session, state.device_id)
    if new:
        told = _go_on(days, places, told, new)
    if late:
        raw_since = now.timestamp() - DAY_S * raw_days(session)
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


def _go_on(days: _Days, places: WhereItStood, told: dict[str, Any], new: Sequence[SentReading]) -> dict[str, Any]:
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
        points = row["points"]
        while points and (points[-1][0] > line.kept_s or (more and points[-1][0] >= more[-1][0])):
            points.pop()  # the newest stood there for the time being
        points += [[at, round(value, 2)] for at, value in more]
        if not more or more[-1][0] != one.at_s:
            points.append([one.at_s, round(celsius, 2)])
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


def _anew(session: Session, days: _Days, places: WhereItStood, device_id: int, day: float, where: tuple[str, int], late: Sequence[SentReading], whole: bool) -> tuple[Thinner | None, WarmthSeen | None]:
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


def _judged(points: Iterable[tuple[float, float]], places: WhereItStood, where: tuple[str, int]) -> tuple[list[tuple[float, float]], list[list[Any]], WarmthSeen | None]:
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


def follow_ph(session: Session, state: DeviceState, places: WhereItStood, acid: Sequence[SentReading]) -> None:
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


def raw_days(session: Session) -> float:
    """Return how long readings are kept whole. [d]"""
    days = session.scalar(select(Household.raw_days))
    return RAW_DAYS if days is None else days
