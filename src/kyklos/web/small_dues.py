"""What is due besides brews and bottles: meters to calibrate, a hotel to feed. For the round and the calendar."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from flask import url_for
from sqlalchemy.orm import Session

from ..store import hotels, queries
from ..store.memory import remembered
from ..store.models import PutOff
from .meters import says_of, standing_of
from .stops import put_off_now


@dataclass(frozen=True, slots=True)
class SmallDue:
    """Something small to do."""

    key: str  #: As which it is put off.
    what: str
    says: str
    address: str
    button: str


def _meters(session: Session, now: datetime) -> tuple[SmallDue, ...]:
    """List the meters to calibrate; asked anew when something changed, and every hour."""
    key = ("meters due", now.replace(minute=0, second=0, microsecond=0))
    return remembered(session, key, lambda: tuple(_meters_due(session, now)))


def _meters_due(session: Session, now: datetime) -> list[SmallDue]:
    return [
        SmallDue(
            f"meter-{row.id}",
            f"Calibrate {row.name}",
            says_of(found),
            url_for("instruments.show") + f"#instrument-{row.id}",
            "Calibrate",
        )
        for row in queries.instruments(session)
        if row.kind == "meter" and (found := standing_of(row, now)).due_soon
    ]


@dataclass(frozen=True, slots=True)
class NextFeed:
    """When a hotel was fed last, and when it wants food next."""

    vessel_id: int
    name: str
    last: datetime
    next: datetime
    address: str


def next_feeds(session: Session, now: datetime) -> tuple[NextFeed, ...]:
    """Foretell the feeds of hotels with guests, by their rhythm; asked anew when something changed, and every hour."""
    key = ("next feeds", now.replace(minute=0, second=0, microsecond=0))
    return remembered(session, key, lambda: tuple(_next_feeds(session, now)))


def _next_feeds(session: Session, now: datetime) -> list[NextFeed]:
    out = []
    for home in hotels.hotels_of(session, now):
        last = next((feed.at for feed in home.feeds if feed.of != "nothing"), None)
        if home.stays and last is not None:
            wants = last + timedelta(days=home.state.rhythm_days)
            address = url_for("cultures.hotel", number=home.vessel.id)
            out.append(NextFeed(home.vessel.id, home.vessel.name, last, wants, address))
    return out


def _hotels(session: Session, now: datetime) -> tuple[SmallDue, ...]:
    """List what hotels want; asked anew when something changed, and every hour."""
    key = ("hotels due", now.replace(minute=0, second=0, microsecond=0))
    return remembered(session, key, lambda: tuple(_hotels_due(session, now)))


def _hotels_due(session: Session, now: datetime) -> list[SmallDue]:
    out = []
    for home in hotels.hotels_of(session, now):
        if home.state.dues:
            what = ", ".join(due.what[0].lower() + due.what[1:] for due in home.state.dues)
            address = url_for("cultures.hotel", number=home.vessel.id)
            says = home.state.dues[0].why
            out.append(SmallDue(f"hotel-{home.vessel.id}", f"{home.vessel.name}: {what}", says, address, "Tend it"))
    return out


def small_dues(session: Session, now: datetime) -> tuple[list[SmallDue], list[tuple[SmallDue, PutOff]]]:
    """List small things that are due, and those of them that are put off."""
    due, off = [], []
    for one in (*_hotels(session, now), *_meters(session, now)):
        if (waiting := put_off_now(session, now).get(one.key)) is not None:
            off.append((one, waiting))
        else:
            due.append(one)
    return due, off
