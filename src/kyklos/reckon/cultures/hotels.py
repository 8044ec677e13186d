"""What the records tell of a hotel: who lives there, how it was fed, how full it is."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, selectinload

from ...core.base.kinds import VesselKind
from ...core.cultures import discs
from ...core.cultures.hotel import HotelFacts, HotelState, state_of
from ...core.liquid import Way
from ...store.read import queries
from ...store.read.moments import days_between
from ...store.records import Brew, Disc, HotelFeed, HotelStay, KeptLiquid, Vessel


@dataclass(frozen=True, slots=True)
class Tended:
    """One time a hotel was looked after."""

    feed: HotelFeed
    what: str  #: What it was fed with; empty: nothing.
    brew: Brew | None  #: From which.
    level_l: float | None  #: Counted then. [L]


def _tended(vessel: Vessel, feed: HotelFeed) -> Tended:
    brew = feed.transfer.source.brew if feed.transfer is not None and feed.transfer.source is not None else None
    what = "brew" if feed.transfer is not None else "sweet tea" if feed.addition is not None else ""
    level = None
    if (liquid := vessel.liquid) is not None:
        flows = [*((t.at, t.litres) for t in liquid.inflows), *((t.at, -t.litres) for t in liquid.outflows)]
        flows += [(a.at, a.litres) for a in liquid.additions]
        if any(t.how == Way.COUNTED and t.at == feed.at for t in (*liquid.inflows, *liquid.outflows)):
            level = max(0.0, sum(litres for at, litres in flows if at <= feed.at))
    return Tended(feed, what, brew, level)


@dataclass(frozen=True, slots=True)
class Hotel:
    """A hotel as it stands."""

    vessel: Vessel
    stays: list[HotelStay]  #: From the top.
    feeds: list[HotelFeed]  #: Newest first.
    state: HotelState
    discs_l: float  #: Room the discs take. [L]
    reckoned_l: float | None  #: What went in less what went out, as far as it was counted once. [L]

    def shown(self, most: int) -> list[Tended]:
        """List how it was tended, newest first, with what it got and the level that was counted then."""
        return [_tended(self.vessel, feed) for feed in self.feeds[:most]]

    @property
    def ph(self) -> float | None:
        """The liquid's pH, as last measured."""
        return next((feed.ph for feed in self.feeds if feed.ph is not None), None)

    @property
    def level_l(self) -> float:
        """Liquid in it, as reckoned; to the line where nobody said so. [L]"""
        level = self.state.level_now_l
        return max(0.0, self.vessel.usable_l - self.discs_l) if level is None else level


def size_l(disc: Disc, vessel: Vessel) -> float:
    """Return how much room a disc takes; one nobody measured is as wide as the vessel. [L]"""
    return discs.disc_l(disc.thickness_mm, disc.diameter_cm or vessel.diameter_cm)


def _counted(liquid: KeptLiquid | None) -> tuple[float | None, datetime | None]:
    """Return what the records say is in a hotel and when last something of it was written; None until somebody counted."""
    flows = [] if liquid is None else [*liquid.inflows, *liquid.outflows]
    if liquid is None or not any(t.how == Way.COUNTED for t in flows):
        return None, None
    return max(0.0, liquid.litres), max([t.at for t in flows] + [a.at for a in liquid.additions])


def _facts(vessel: Vessel, stays: list[HotelStay], feeds: list[HotelFeed], now: datetime) -> HotelFacts:
    def ago(moment: datetime) -> float:
        return max(0.0, days_between(moment, now))

    level, since = _counted(vessel.liquid)
    acid = next((f for f in feeds if f.ph is not None), None)
    cover = next((f for f in feeds if f.fresh_cover), None)
    return HotelFacts(
        usable_l=vessel.usable_l,
        diameter_cm=vessel.diameter_cm,
        guests=len(stays),
        feeds_days_ago=tuple(ago(f.at) for f in feeds if f.fed),
        level_l=level,
        level_days_ago=ago(since) if since else 0.0,
        ph=acid.ph if acid else None,
        ph_days_ago=ago(acid.at) if acid else 0.0,
        cover_days_ago=ago(cover.at) if cover else None,
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
    feeds = list(session.scalars(fed.options(joinedload(HotelFeed.addition), joinedload(HotelFeed.transfer))))
    taken = sum(size_l(stay.disc, vessel) for stay in stays)
    return Hotel(vessel, stays, feeds, state_of(_facts(vessel, stays, feeds, now)), taken, _counted(vessel.liquid)[0])


def hotels_of(session: Session, now: datetime) -> list[Hotel]:
    """List the hotels."""
    return [hotel_of(session, v, now) for v in queries.vessels(session) if v.kind == VesselKind.HOTEL]
