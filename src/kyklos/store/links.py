"""The household's links: which liquid and which disc went where, and when."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, selectinload

from ..core.lineage import Backups, backups
from ..core.observations import DISCARD, OBSERVATIONS
from ..core.trace import Link, Node, exposed
from . import queries
from .models import Brew, Culture, Disc, Gift, HotelFeed, HotelStay, StarterLot, StarterPortion, Vessel

LEAST_LIQUID_L = 0.05  #: Less liquid is no backup (assumed). [L]


def day_of(moment: datetime) -> float:
    """Put a moment on one clock. [d since 1970]"""
    return moment.timestamp() / 86400


def descent_of(session: Session) -> list[Link]:
    """List what made what: starter and disc into a brew, starter and disc born of one, disc parted from disc."""
    out: list[Link] = []
    query = select(Brew).options(selectinload(Brew.portions), selectinload(Brew.reserved))
    for brew in session.scalars(query):
        here: Node = ("brew", brew.id)
        lots = {p.lot_id for p in brew.portions if p.lot_id} | ({brew.starter_lot_id} if brew.starter_lot_id else set())
        out += [Link(("lot", number), here, day_of(brew.pitched_at)) for number in sorted(lots)]
        if brew.disc_id is not None:
            out.append(Link(("disc", brew.disc_id), here, day_of(brew.pitched_at)))
        out += [Link(here, ("lot", lot.id), day_of(lot.made_at)) for lot in brew.reserved]
    for disc in session.scalars(select(Disc).options(joinedload(Disc.born_brew), joinedload(Disc.parent))):
        if disc.born_brew is not None:
            born = disc.born_brew.ended_at or disc.born_brew.pitched_at
            out.append(Link(("brew", disc.born_brew.id), ("disc", disc.id), day_of(born)))
        if disc.parent is not None and disc.made_at is not None:
            out.append(Link(("disc", disc.parent.id), ("disc", disc.id), day_of(disc.made_at)))
    return out


def contact_of(session: Session, now: datetime) -> list[Link]:
    """List what touched what besides: a disc that came back out of a brew, discs that share the hotel, its feeds."""
    out: list[Link] = []
    for brew in session.scalars(select(Brew).where(Brew.status == "harvested", Brew.disc_id.is_not(None))):
        out.append(Link(("brew", brew.id), ("disc", brew.disc_id or 0), day_of(brew.ended_at or now)))
    for stay in session.scalars(select(HotelStay)):
        disc: Node = ("disc", stay.disc_id)
        out.append(Link(disc, ("hotel", stay.vessel_id), day_of(stay.since)))
        out.append(Link(("hotel", stay.vessel_id), disc, day_of(stay.until or now)))
    for feed in session.scalars(select(HotelFeed).where(HotelFeed.brew_id.is_not(None))):
        out.append(Link(("brew", feed.brew_id or 0), ("hotel", feed.vessel_id), day_of(feed.at)))
    hotels = list(session.scalars(select(Vessel).where(Vessel.kind == "hotel")))
    poured = select(StarterPortion).where(StarterPortion.kind == "hotel").options(joinedload(StarterPortion.brew))
    for portion in session.scalars(poured):
        if len(hotels) == 1:
            out.append(Link(("hotel", hotels[0].id), ("brew", portion.brew_id), day_of(portion.brew.pitched_at)))
    return out


def links_of(session: Session, now: datetime) -> list[Link]:
    """List all ways by which liquid or a disc passed."""
    return descent_of(session) + contact_of(session, now)


def spoiled(session: Session) -> list[Brew]:
    """List brews that were discarded for what was seen or smelled."""
    rows = session.scalars(select(Brew).where(Brew.status == "discarded").options(selectinload(Brew.looks)))
    grave = {key for key, seen in OBSERVATIONS.items() if seen.verdict == DISCARD}
    return [
        b for b in rows if any({look.surface, look.smell, *look.signs} & grave for look in b.looks if not look.struck)
    ]


def touched(session: Session, now: datetime) -> set[Node]:
    """List all that a spoiled brew could have reached, and itself."""
    known = links_of(session, now)
    out: set[Node] = set()
    for brew in spoiled(session):
        node: Node = ("brew", brew.id)
        out |= {node, *(r.node for r in exposed(known, node, day_of(brew.pitched_at)))}
    return out


def backups_of(session: Session, culture: Culture, now: datetime) -> Backups:
    """Count what a line could be begun again from, besides what works in a vessel."""
    used = queries.in_use(session)[1]
    kept: list[Node] = [("disc", d.id) for d in culture.discs if d.ended_at is None and d.id not in used]
    kept += [("lot", lot.id) for lot in culture.lots if lot.left_l > LEAST_LIQUID_L]
    holders = session.scalars(select(Gift).where(Gift.culture_id == culture.id, Gift.outward, Gift.still_holds))
    return backups(kept, touched(session, now), len(list(holders)), culture.backups_wanted)


def living(session: Session, node: Node) -> bool:
    """Say whether a thing is still there: a brew in its vessel, liquid left, a disc not ended."""
    kind, number = node
    if kind == "brew":
        brew = session.get(Brew, number)
        return brew is not None and brew.alive
    if kind == "lot":
        lot = session.get(StarterLot, number)
        return lot is not None and lot.left_l > 0.005
    if kind == "hotel":
        return session.get(Vessel, number) is not None
    disc = session.get(Disc, number)
    return disc is not None and disc.ended_at is None
