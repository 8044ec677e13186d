"""Tomorrow's weather: how warm a room will be by an outlook, where it follows the outdoors. Without an outlook nothing is foretold."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from ...core.liquid.standing import PlaceKind
from ...core.measuring.outdoors import Follows, Outdoors, ahead, learned, outdoors_of
from ...store.file.session import context_of
from ...store.read import warmth_queries
from ...store.read.memory import for_a_minute, state_of
from ...store.records import DeviceState, OutdoorHour, Place

LEARNED_DAYS = 60.0  #: A room's following is learned from so far back. [d]
LAST_DAYS = 3.0  #: Read longer ago, nobody knows where a room begins. [d]
FRESH_DAYS = 1.5  #: An older outlook is none. [d]
HOUR_S, DAY_S = 3600.0, 86400.0
EPOCH = datetime(1970, 1, 1, tzinfo=UTC)

Points = Sequence[tuple[float, float]]


def days_of(at: datetime) -> float:
    """Count days since 1970. [d]"""
    return (at - EPOCH).total_seconds() / DAY_S


def outdoors_now(session: Session, now: datetime) -> Outdoors | None:
    """Return the outdoors of the last weeks and as the outlook has them; None: there is no outlook of late. A new outlook lands."""
    hour = now.replace(minute=0, second=0, microsecond=0)
    return for_a_minute(session, ("outdoors", state_of(session).landed), hour, lambda: _outdoors(session, now))


def _outdoors(session: Session, now: datetime) -> Outdoors | None:
    outlooks = [one for one in session.scalars(select(DeviceState.outlook)) if one]
    latest = max(outlooks, key=lambda one: float(one["issued_s"]), default=None)
    if latest is None or now.timestamp() - float(latest["issued_s"]) > FRESH_DAYS * DAY_S:
        return None
    to_come = [(at_s / DAY_S, float(celsius)) for at_s, celsius in latest["hours"] if at_s > now.timestamp()]
    past = _measured_outdoors(session, now) or _hours(session, now)
    return outdoors_of([*past, *to_come]) if past and to_come else None


def _hours(session: Session, now: datetime) -> list[tuple[float, float]]:
    first, last = (now.timestamp() - LEARNED_DAYS * DAY_S) / HOUR_S, now.timestamp() / HOUR_S
    query = select(OutdoorHour.hour, OutdoorHour.celsius).where(OutdoorHour.hour >= first, OutdoorHour.hour <= last).order_by(OutdoorHour.hour)
    return [(hour / 24, celsius) for hour, celsius in session.execute(query)]


def _measured_outdoors(session: Session, now: datetime) -> list[tuple[float, float]]:
    """List what a thermometer outdoors read, where the household has one that still reads."""
    place = session.scalars(select(Place).where(Place.kind == PlaceKind.OUTDOORS).order_by(Place.id)).first()
    if place is None:
        return []
    logs = warmth_queries.logs_in(session, place, now - timedelta(days=LEARNED_DAYS), now)
    rows = sorted((float(at_s) / DAY_S, float(celsius)) for log in logs for at_s, celsius in log.points if at_s <= now.timestamp())
    return rows if rows and rows[-1][0] > days_of(now) - 1.0 else []


def follows_of(session: Session, place: Place, now: datetime, outdoors: Outdoors, room: Points) -> Follows | None:
    """Return how a place follows the outdoors; learned once a day."""
    return for_a_minute(session, ("follows", place.id), now.date(), lambda: learned(room, outdoors))


def ahead_in(session: Session, place: Place, room: Points, own: Points, now: datetime) -> tuple[tuple[float, float], ...]:
    """Foretell how warm something in a place will be over the next days.

    Args:
        session: Of the household.
        place: Where it stands.
        room: What was read in the place in the last weeks: days since 1970, degC, in order of time.
        own: What was read in the thing itself, alike.
        now: [UTC]

    Returns: Days since 1970 and degC; empty where the place follows nothing, or nobody read it of late.
    """
    outdoors = outdoors_now(session, now)
    if outdoors is None or place.kind != PlaceKind.ROOM:
        return ()
    follows = follows_of(session, place, now, outdoors, room)
    today = days_of(now)
    last = next((one for one in (*own[-1:], *room[-1:]) if today - one[0] <= LAST_DAYS), None)
    if follows is None or last is None:
        return ()
    ever = [celsius for _, celsius in (*room, *own)]
    return ahead(follows, outdoors, last, today, min(ever), max(ever))


def is_known(session: Session) -> bool:
    """Return whether there is an outlook of late."""
    now = context_of(session).now
    return now is not None and outdoors_now(session, now) is not None
