"""What is due besides brews and bottles: meters to calibrate, a hotel to feed. For the round and the calendar."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from flask import url_for
from sqlalchemy.orm import Session

from ...core.base.kinds import BottleState, MeasuredBy
from ...reckon.bottles import drinking
from ...reckon.cultures import hotels
from ...reckon.judging.attention import put_off_now
from ...store.read import planning_queries, queries
from ...store.read.memory import remembered
from ...store.records import PutOff
from .meters import says_of, standing_of


@dataclass(frozen=True, slots=True)
class SmallDue:
    """Something small to do."""

    key: str  #: As which it is put off.
    what: str
    says: str
    address: str


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
        )
        for row in planning_queries.instruments(session)
        if row.kind == MeasuredBy.METER and (found := standing_of(row, now)).due_soon
    ]


@dataclass(frozen=True, slots=True)
class HotelTold:
    """What a hotel wants, and when."""

    vessel_id: int
    name: str
    address: str
    last_fed: datetime | None
    next_feed: datetime | None  #: By its rhythm; None: nobody lives there, or it was never fed.
    what: str  #: It wants now; empty: nothing.
    why: str


def hotels_told(session: Session, now: datetime) -> tuple[HotelTold, ...]:
    """List the hotels; asked anew when something changed, and every hour."""
    key = ("hotels due", now.replace(minute=0, second=0, microsecond=0))
    return remembered(session, key, lambda: tuple(_told(home) for home in hotels.hotels_of(session, now)))


def _told(home: hotels.Hotel) -> HotelTold:
    dues = home.state.dues
    last = next((feed.at for feed in home.feeds if feed.fed), None)
    return HotelTold(
        home.vessel.id,
        home.vessel.name,
        url_for("cultures.hotel", number=home.vessel.id),
        last,
        last + timedelta(days=home.state.rhythm_days) if last is not None and home.stays else None,
        ", ".join(due.what[0].lower() + due.what[1:] for due in dues),
        dues[0].why if dues else "",
    )


def _hotels(session: Session, now: datetime) -> list[SmallDue]:
    return [
        SmallDue(f"hotel-{hotel.vessel_id}", f"{hotel.name}: {hotel.what}", hotel.why, hotel.address)
        for hotel in hotels_told(session, now)
        if hotel.what
    ]


def _bottles(session: Session, now: datetime) -> list[SmallDue]:
    """List what jars and warm bottles want besides the cold; asked anew when something changed, and every hour."""
    key = ("bottles want", now.replace(minute=0, second=0, microsecond=0))
    return list(remembered(session, key, lambda: tuple(_bottles_want(session, now))))


def _bottles_want(session: Session, now: datetime) -> list[SmallDue]:
    out = []
    for one in drinking.wants(session, queries.bottles(session, BottleState.WARM), now):
        address = (
            url_for("flavours.jar", number=one.jar)
            if one.jar is not None
            else url_for("cellar.show_bottle", number=one.bottle or 0)
        )
        out.append(SmallDue(one.key, one.what, one.why, address))
    return out


def small_dues(session: Session, now: datetime) -> tuple[list[SmallDue], list[tuple[SmallDue, PutOff]]]:
    """List small things that are due, and those of them that are put off."""
    due, off = [], []
    for one in (*_hotels(session, now), *_bottles(session, now), *_meters(session, now)):
        if (waiting := put_off_now(session, now).get(one.key)) is not None:
            off.append((one, waiting))
        else:
            due.append(one)
    return due, off
