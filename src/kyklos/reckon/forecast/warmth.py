"""How warm it was, and is likely to be, where a vessel or bottle stands."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, object_session

from ...core.brewing.places import learned_offset, seasonal
from ...core.liquid import Course
from ...core.liquid.standing import FRIDGE_SD_K, PlaceKind, Stood, course_through, place_doubts, place_points
from ...store.file.session import context_of
from ...store.read import queries, warmth_queries
from ...store.read.memory import remembered
from ...store.read.moments import days_between, since_start
from ...store.read.recorded import by_hand, logged, sound_points
from ...store.records import (
    Brew,
    Device,
    DeviceDoubt,
    Household,
    Place,
    Reading,
    SpotReading,
    Standing,
    TemperatureLog,
    Vessel,
)
from . import weather

RECENT_DAYS, RECENT_READINGS = 14.0, 2  #: A place is as warm as its brews lately were, if measured so often. [d, -]
SETTLED_DAYS = 0.5  #: A brew takes some hours to its place's warmth. [d]
LEARNED_DAYS, LATELY_DAYS = 365.0, 60.0  #: A place's own warmth is learned so far back; brews of late share one question. [d]
MOMENT_DAYS = 0.02  #: A change of what is expected takes so long. [d]
#: What the warmth of places is made of; what else is written changes nothing of it.
WARMTH_OF = (Place, Standing, Household, Reading, Brew, Vessel, SpotReading, TemperatureLog, Device, DeviceDoubt)
LOOK_BACK_DAYS = 14.0  #: Before a bottle came to a place: what was measured there still tells. [d]

DAY_S = 86400.0

Steps = tuple[tuple[float, float], ...]


def usual_celsius(place: Place, at: datetime) -> float:
    """Return how warm a place usually is at that time of the year. [degC]"""
    if place.winter_c is None or place.summer_c is None:
        return place.celsius
    session = object_session(place)
    southern = session is not None and queries.southern(session)
    return seasonal(place.winter_c, place.summer_c, at.timetuple().tm_yday, southern)


def expected_celsius(place: Place, at: datetime, known_by: datetime) -> float:
    """Return how warm a place is expected to be: as usual at that time of the year, and as it differed from that before a moment. [degC]

    Args:
        place: Where.
        at: When.
        known_by: Only what was measured before counts: what is past stays as it was foretold.
    """
    session = object_session(place)
    usual = usual_celsius(place, at)
    return usual if session is None or place.kind == PlaceKind.FRIDGE else usual + offset_of(session, place, known_by)


def offset_of(session: Session, place: Place, known_by: datetime) -> float:
    """Return by how much a place was warmer than recorded, in the year before a moment: read in unheated brews there. [K]"""
    now = context_of(session).now
    shared = now is not None and timedelta(0) <= now - known_by <= timedelta(days=LATELY_DAYS)
    until = now.replace(hour=0, minute=0, second=0, microsecond=0) + timedelta(days=1) if shared and now is not None else known_by
    rows = remembered(session, ("differed", place.id, until), lambda: tuple(_differed(session, place, until)), WARMTH_OF)
    by_s = known_by.timestamp()
    since_s = by_s - LEARNED_DAYS * DAY_S
    return learned_offset([((at_s - since_s) / DAY_S, kelvin) for at_s, kelvin in rows if since_s <= at_s < by_s])


def _differed(session: Session, place: Place, until: datetime) -> list[tuple[float, float]]:
    """List by how much it was warmer in a place than usual, when it was read there. [s since 1970, K]"""
    rows = remembered(session, ("looks", until), lambda: tuple(_looks(session, until)), WARMTH_OF)
    return [(at.timestamp(), celsius - usual_celsius(place, at)) for number, at, celsius in rows if number == place.id]


def _looks(session: Session, until: datetime) -> list[tuple[int, datetime, float]]:
    """List temperatures read in settled, unheated brews over a year and some weeks, by place."""
    since = until - timedelta(days=LEARNED_DAYS + LATELY_DAYS)
    query = (
        select(Standing.place_id, Reading.at, Reading.celsius, Brew.pitched_at)
        .join(Brew, Brew.liquid_id == Reading.liquid_id)
        .join(Standing, Standing.vessel_id == Brew.vessel_id)
        .where(
            Standing.since <= Reading.at,
            Standing.until.is_(None) | (Standing.until > Reading.at),
            Standing.heater_c.is_(None),
            Reading.struck.is_(False),
            Reading.celsius.is_not(None),
            Reading.at > since,
            Reading.at <= until,
        )
    )
    settled = timedelta(days=SETTLED_DAYS)
    return [(number, at, float(c)) for number, at, c, pitched in session.execute(query) if c is not None and at > pitched + settled]


def _read_there(session: Session, place_id: int, since: datetime, until: datetime) -> list[tuple[datetime, float]]:
    """List temperatures read in brews while they stood in a place, settled, in order of time."""
    query = (
        select(Reading.at, Reading.celsius, Brew.pitched_at)
        .join(Brew, Brew.liquid_id == Reading.liquid_id)
        .join(Standing, Standing.vessel_id == Brew.vessel_id)
        .where(
            Standing.place_id + 0 == place_id,  # found by its time, not by all that ever stood there
            Standing.since <= Reading.at,
            Standing.until.is_(None) | (Standing.until > Reading.at),
            Reading.struck.is_(False),
            Reading.celsius.is_not(None),
            Reading.at > since,
            Reading.at <= until,
        )
        .order_by(Reading.at, Reading.id)
    )
    settled = timedelta(days=SETTLED_DAYS)
    return [(at, float(c)) for at, c, pitched in session.execute(query) if c is not None and at > pitched + settled]


def place_now(session: Session, place: Place, now: datetime) -> tuple[float, bool]:
    """Return how warm a place is now, as measured in its brews lately or as usual, and whether it was measured. [degC]"""
    found = [c for _, c in _read_there(session, place.id, now - timedelta(days=RECENT_DAYS), now)]
    if len(found) >= RECENT_READINGS:
        return float(np.mean(found)), True
    return expected_celsius(place, now, now), False


@dataclass(frozen=True, slots=True, kw_only=True)
class Stay:
    """A stay in a place that is not written down: of a jar, or of a bottle that is not filled yet. Asked like a `Standing`."""

    place: Place
    since: datetime
    until: datetime | None = None  #: None: it stands there still.
    heater_c: float | None = None  #: [degC]

    @property
    def place_id(self) -> int:
        """The number of its place."""
        return self.place.id


def _stays(standings: Sequence[Standing | Stay], start: datetime, end: datetime | None) -> list[Stood]:
    """List where something stood between two moments, in days from the first."""
    out = []
    for row in standings:
        later = end is not None and row.since >= end and row.since > start
        if later or (row.until is not None and row.until <= start):
            continue
        last = row.until is None or (end is not None and row.until >= end)
        out.append(
            Stood(
                since=since_start(start, row.since),
                until=None if last or row.until is None else since_start(start, row.until),
                usual_c=expected_celsius(row.place, max(start, row.since), start),
                heater_c=row.heater_c,
            )
        )
    return out


def course_of(brew: Brew) -> Course:
    """Return a brew's temperatures: what was measured, else what its places usually were while it stood in them."""
    return _known_of(brew)[0]


def measured_of(brew: Brew) -> bool:
    """Return whether anybody ever measured how warm a brew was: in it, or by a logger in the air of its place."""
    return _known_of(brew)[1]


def _known_of(brew: Brew) -> tuple[Course, bool]:
    """Work out a brew's temperatures and whether any was measured; a page does it once."""
    session = object_session(brew)
    if session is None:
        return _course_of(brew, [])
    context = context_of(session)
    if context.writing:
        return _weathered(session, brew, *_course_of(brew, warmth_queries.logs_of(session, brew)))
    key = ("course", brew.id)
    if key not in context.answers:
        context.answers[key] = _weathered(session, brew, *_course_of(brew, warmth_queries.logs_of(session, brew)))
    known: tuple[Course, bool] = context.answers[key]
    return known


def _weathered(session: Session, brew: Brew, course: Course, measured: bool) -> tuple[Course, bool]:
    """Let the outlook tell the next days of a brew that stands unheated in a room which follows the outdoors."""
    now = context_of(session).now
    standing = brew.vessel.standings[-1] if brew.alive and brew.vessel.standings else None
    if now is None or standing is None or standing.heater_c is not None or not weather.is_known(session):
        return course, measured
    began = weather.days_of(brew.pitched_at)
    own = [(began + day, celsius) for day, celsius in course.points if measured and day <= days_between(brew.pitched_at, now)]
    foretold = weather.ahead_in(session, standing.place, _room_lately(session, standing.place, now), own, now)
    after = course.points[-1][0] if course.points else -1.0
    points = [(round(day - began, 3), celsius) for day, celsius in foretold if day - began > after]
    if len(points) < 2:
        return course, measured
    if not course.points and course.future_c is not None:  # nobody read it: as usual until now
        points = [(0.0, course.future_c), (max(0.0, round(points[0][0] - MOMENT_DAYS, 3)), course.future_c), *points]
    return replace(course, ahead=tuple(points)), measured


def _room_lately(session: Session, place: Place, now: datetime) -> list[tuple[float, float]]:
    """List what was read in a place in the last weeks, in its air and in settled, unheated brews: days since 1970, degC."""
    since = now - timedelta(days=weather.LEARNED_DAYS)
    until = now.replace(hour=0, minute=0, second=0, microsecond=0) + timedelta(days=1)
    rows = remembered(session, ("looks", until), lambda: tuple(_looks(session, until)), WARMTH_OF)
    read = [(at, celsius) for number, at, celsius in rows if number == place.id and since <= at <= now]
    air = _daily_air(session, place, since, now) if place.id in warmth_queries.logged_places(session) else []
    return sorted((weather.days_of(at), celsius) for at, celsius in (*air, *read))


def _course_of(brew: Brew, logs: Sequence[TemperatureLog]) -> tuple[Course, bool]:
    points = {day: celsius for day, celsius in (*_logged(brew, logs), *by_hand(brew)) if day >= 0}
    measured = tuple(sorted((d, float(c)) for d, c in points.items()))
    return course_through(_stood(brew), measured), bool(measured)


def _stood(brew: Brew) -> list[Stood]:
    """List where a brew stood since it was started, along the vessels in which it was. [d since pitch]"""
    if not brew.earlier:
        return _stays(brew.vessel.standings, brew.pitched_at, brew.ended_at)
    out: list[Stood] = []
    for stay in brew.earlier:
        start, end = since_start(brew.pitched_at, stay.since), since_start(brew.pitched_at, stay.until)
        there = _stays(stay.vessel.standings, stay.since, stay.until)
        out += [_later(one, start, end) for one in there]
    last = brew.earlier[-1].until
    here = _stays(brew.vessel.standings, last, brew.ended_at)
    return out + [_later(one, since_start(brew.pitched_at, last), None) for one in here]


def _later(stood: Stood, days: float, end: float | None) -> Stood:
    """Count a stay from an earlier start; the last one in a vessel ends when the brew left it. [d]"""
    until = end if stood.until is None else stood.until + days
    return replace(stood, since=stood.since + days, until=until)


def _logged(brew: Brew, logs: Sequence[TemperatureLog]) -> list[tuple[float, float]]:
    """List a logger's points of a brew: in its liquid, or else in the air of the places where it stood."""
    own = [log for log in logs if log.brew_id == brew.id]
    if own:
        return logged(brew, own)
    out = []
    for row in brew.vessel.standings:
        since = since_start(brew.pitched_at, row.since)
        until = float("inf") if row.until is None else days_between(brew.pitched_at, row.until)
        air = [log for log in logs if log.place_id == row.place_id]
        out += [(day, celsius) for day, celsius in logged(brew, air) if since <= day < until]
    return out


def _daily_air(session: Session, place: Place, since: datetime, until: datetime) -> list[tuple[datetime, float]]:
    """List the daily means of loggers in a place's air between two moments: middle of the day, degC."""
    days: dict[int, list[float]] = {}
    for log in warmth_queries.logs_in(session, place, since - timedelta(days=1), until + timedelta(days=1)):
        for seconds, celsius in sound_points(log):
            days.setdefault(int(seconds // DAY_S), []).append(float(celsius))
    means = [
        (datetime.fromtimestamp((day + 0.5) * DAY_S, UTC), float(np.mean(some))) for day, some in sorted(days.items())
    ]
    return [(at, celsius) for at, celsius in means if since < at <= until]


def measured_in(session: Session, place: Place, since: datetime, until: datetime) -> list[tuple[datetime, float]]:
    """List what was measured of a place's warmth: by loggers in its air, in brews that stood there, and where bottles were put."""
    air = _daily_air(session, place, since, until) if place.id in warmth_queries.logged_places(session) else []
    read = [] if place.kind == PlaceKind.FRIDGE else _read_there(session, place.id, since, until)
    return sorted([*air, *read, *warmth_queries.spots_read(session, place, since, until)], key=lambda row: row[0])


@dataclass(frozen=True, slots=True)
class Warmth:
    """How warm a bottle is along the places where it stands, and how sure that is."""

    course: Course
    doubt_k: Steps  #: How unsure, from each day on. [d, K]
    warmer_k: Steps  #: By how much it is rather warmer than recorded: where nobody measured. [d, K]


def warmth_from(session: Session, standings: Sequence[Standing | Stay], start: datetime, days: float, spot_c: float | None = None) -> Warmth:
    """Return the warmth of a bottle along the places where it stood, and on where it stands now.

    It follows each place as it goes on being measured; where nobody measured, the season, and rather warmer than that.

    Args:
        session: Of the household.
        standings: The bottle's, in order of time.
        start: When it was filled.
        days: How far ahead to look. [d since filling]
        spot_c: As warm it is there now, not written down yet; None: nobody looked. [degC]
    """
    key = ("warmth from", tuple((row.place_id, row.since, row.until) for row in standings), start, days, spot_c)
    return remembered(session, key, lambda: _warmth_from(session, standings, start, days, spot_c), WARMTH_OF)


def _warmth_from(session: Session, standings: Sequence[Standing | Stay], start: datetime, days: float, spot_c: float | None) -> Warmth:
    points: list[tuple[float, float]] = []
    doubts: list[tuple[float, float, float]] = []
    for row in standings:
        since = since_start(start, row.since)
        until = days if row.until is None else min(days, since_start(start, row.until))
        seen = _seen_near(session, row.place, start, since, until)
        if spot_c is not None:
            seen = [*(one for one in seen if one[0] < 0), (0.0, spot_c)]
        found = place_points(since, until, seen, _usual_of(session, row.place, start))
        if points:
            found = [(points[-1][0] + 0.001, found[0][1]), *found[1:]]
        points += [(round(day, 3), round(celsius, 2)) for day, celsius in found if not points or day > points[-1][0]]
        doubts += _doubts(session, row.place, since, until, [day for day, _ in seen])
    sure = all(sd == 0 for _, sd, _ in doubts)
    return Warmth(
        Course(tuple(points)),
        () if sure else tuple((day, sd) for day, sd, _ in doubts),
        tuple((day, more) for day, _, more in doubts) if any(more for *_, more in doubts) else (),
    )


def _usual_of(session: Session, place: Place, start: datetime) -> Callable[[float], float]:
    """Return how warm a place is expected to be on a day, by what was known of it at the start; asked once for all days. [d -> degC]"""
    offset = 0.0 if place.kind == PlaceKind.FRIDGE else offset_of(session, place, start)
    return lambda day: usual_celsius(place, start + timedelta(days=day)) + offset


def _doubts(session: Session, place: Place, since: float, until: float, seen: list[float]) -> list[tuple[float, float, float]]:
    """Return how unsure a stay's warmth is: a logger's is known, a fridge differs, a room by whether somebody measured."""
    if place.id in warmth_queries.logged_places(session):
        return [(since, 0.0, 0.0)]
    if place.kind == PlaceKind.FRIDGE:
        return [(since, FRIDGE_SD_K, 0.0)]
    return [(round(day, 3), sd, more) for day, sd, more in place_doubts(since, until, seen)]


def _seen_near(session: Session, place: Place, start: datetime, since: float, until: float) -> list[tuple[float, float]]:
    begins, ends = start + timedelta(days=since - LOOK_BACK_DAYS), start + timedelta(days=until)
    return [(days_between(start, at), c) for at, c in _measured_once(session, place, begins, ends)]


def _measured_once(session: Session, place: Place, since: datetime, until: datetime) -> tuple[tuple[datetime, float], ...]:
    """Return what was measured in a place between two moments; a page asks once for all of it since the year before."""
    now = context_of(session).now
    if context_of(session).writing or now is None or until < since:
        return tuple(measured_in(session, place, since, until))
    first, last = datetime(max(since.year - 1, 1), 1, 1, tzinfo=UTC), now.replace(hour=0, minute=0, second=0, microsecond=0) + timedelta(days=2)
    rows = remembered(session, ("measured in", place.id, first, last), lambda: tuple(measured_in(session, place, first, last)), WARMTH_OF)
    return tuple(row for row in rows if since < row[0] <= until)
