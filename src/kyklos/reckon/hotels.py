"""What the records tell of a hotel: who lives there, how it was fed, how full it is."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, selectinload

from ..core import discs
from ..core.hotel import HotelFacts, HotelState, state_of
from ..store import queries
from ..store.models import Disc, HotelFeed, HotelStay, Vessel
from ..store.read import moments


@dataclass(frozen=True, slots=True)
class Hotel:
    """A hotel as it stands."""

    vessel: Vessel
    stays: list[HotelStay]  #: From the top.
    feeds: list[HotelFeed]  #: Newest first.
    state: HotelState
    discs_l: float  #: Room the discs take. [L]

    @property
    def ph(self) -> float | None:
        """Of its liquid, as last measured."""
        return next((feed.ph for feed in self.feeds if feed.ph is not None), None)

    @property
    def level_l(self) -> float:
        """Liquid in it, as reckoned; to the line where nobody told. [L]"""
        told = self.state.level_now_l
        return max(0.0, self.vessel.usable_l - self.discs_l) if told is None else told


def size_l(disc: Disc, vessel: Vessel) -> float:
    """Say how much room a disc takes; one nobody measured is as wide as the vessel. [L]"""
    return discs.disc_l(disc.thickness_mm, disc.diameter_cm or vessel.diameter_cm)


def _facts(vessel: Vessel, stays: list[HotelStay], feeds: list[HotelFeed], now: datetime) -> HotelFacts:
    def ago(feed: HotelFeed) -> float:
        return max(0.0, moments.days_between(feed.at, now))

    level = next((f for f in feeds if f.level_l is not None), None)
    acid = next((f for f in feeds if f.ph is not None), None)
    cover = next((f for f in feeds if f.fresh_cover), None)
    return HotelFacts(
        usable_l=vessel.usable_l,
        diameter_cm=vessel.diameter_cm,
        guests=len(stays),
        feeds_days_ago=tuple(ago(f) for f in feeds if f.of != "nothing"),
        level_l=level.level_l if level else None,
        level_days_ago=ago(level) if level else 0.0,
        ph=acid.ph if acid else None,
        ph_days_ago=ago(acid) if acid else 0.0,
        cover_days_ago=ago(cover) if cover else None,
    )


def hotel_of(session: Session, vessel: Vessel, now: datetime) -> Hotel:
    """Put a hotel together."""
    query = select(HotelStay).where(HotelStay.vessel_id == vessel.id, HotelStay.until.is_(None))
    query = query.options(
        joinedload(HotelStay.disc).options(
            joinedload(Disc.culture), joinedload(Disc.born_brew), selectinload(Disc.events)
        )
    )
    stays = list(session.scalars(query.order_by(HotelStay.position, HotelStay.id.desc())))
    fed = select(HotelFeed).where(HotelFeed.vessel_id == vessel.id).order_by(HotelFeed.at.desc(), HotelFeed.id.desc())
    feeds = list(session.scalars(fed))
    taken = sum(size_l(stay.disc, vessel) for stay in stays)
    return Hotel(vessel, stays, feeds, state_of(_facts(vessel, stays, feeds, now)), taken)


def hotels_of(session: Session, now: datetime) -> list[Hotel]:
    """List the hotels."""
    return [hotel_of(session, v, now) for v in queries.vessels(session) if v.kind == "hotel"]
