"""The household's links: which liquid and which disc went where, and when."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from sqlalchemy import and_, or_, select
from sqlalchemy.orm import Session, selectinload

from ...core.base.kinds import LIVING, BrewStatus, NodeKind, StarterKind, VesselKind
from ...core.cultures import Link, Node
from ...core.cultures.trace import exposed, without
from ...core.judging import OBSERVATIONS
from ...core.judging.observations import DISCARD
from ...core.liquid import Way
from ...core.liquid.pouring import LEAST_L
from ...store.file.session import context_of
from ...store.read import culture_queries, queries
from ...store.read.moments import ALWAYS
from ...store.records import (
    Brew,
    BrewDisc,
    CutLink,
    Disc,
    HotelFeed,
    HotelStay,
    KeptLiquid,
    StarterLot,
    Transfer,
    Vessel,
)

SHOWN_DAYS = 400.0  #: What spoiled a brew so long ago would have shown itself by now where it went (assumed). [d]


def day_of(moment: datetime) -> float:
    """Put a moment on one clock. [d since 1970]"""
    return moment.timestamp() / 86400


#: By which way of the trace a transfer passes what is in it; others lead out, or are no contact.
TRACED: dict[str, str] = {
    Way.PITCHED: "starter",
    Way.ADDED: "starter",
    Way.RESERVED: "kept",
    Way.MERGED: "merged",
    Way.FED: "fed",
    Way.DRAWN: "drawn",
    Way.SPLIT: "split",
    Way.JOINED: "blended",
}
CONTACT = {Way.FED, Way.DRAWN}  #: Ways through a hotel: they touch, they do not descend.


DESCENDS_BY = (KeptLiquid, Brew, StarterLot, Transfer, Disc, HotelStay, BrewDisc, Vessel)  #: What descent is read from.


def _nodes(session: Session, since: datetime) -> dict[int, Node]:
    """Name every liquid that the trace knows, and that was there since a moment, by the thing that it is."""
    there = or_(KeptLiquid.ended_at.is_(None), KeptLiquid.ended_at >= since)
    brews = select(Brew.id, Brew.liquid_id).join(Brew.liquid).where(there)
    lots = select(StarterLot.id, StarterLot.liquid_id).join(StarterLot.liquid).where(there)
    out: dict[int, Node] = {liquid: ("brew", number) for number, liquid in session.execute(brews)}
    out |= {liquid: ("lot", number) for number, liquid in session.execute(lots)}
    hotels = select(Vessel.id, Vessel.liquid_id).where(Vessel.liquid_id.is_not(None))
    return out | {liquid or 0: ("hotel", number) for number, liquid in session.execute(hotels)}


def _passed(session: Session, since: datetime) -> list[tuple[Link, str]]:
    """List what passed between liquids, and in which way."""
    names = _nodes(session, since)
    rows = session.execute(
        select(Transfer.source_id, Transfer.target_id, Transfer.at, Transfer.how)
        .where(
            Transfer.source_id.is_not(None),
            Transfer.target_id.is_not(None),
            Transfer.how.in_(list(TRACED)),
            Transfer.at >= since,
        )
        .order_by(Transfer.at, Transfer.id)
    )
    return [
        (Link(names[source or 0], names[target or 0], day_of(at), TRACED[how]), how) for source, target, at, how in rows
    ]


def descent_of(session: Session, since: datetime = ALWAYS) -> list[Link]:
    """List what made what: starter and disc into a brew, starter and disc born of one, disc parted from disc, lots merged.

    Args:
        session: Of the household.
        since: Only what happened from then on.
    """
    out = [link for link, how in _passed(session, since) if how not in CONTACT]
    recent = or_(Brew.ended_at.is_(None), Brew.ended_at >= since)
    rows = session.execute(select(Brew.id, Brew.pitched_at, Brew.ended_at, Brew.disc_id).where(recent)).all()
    ended = {row.id: day_of(row.ended_at or row.pitched_at) for row in rows}
    out += [
        Link(("disc", row.disc_id or 0), ("brew", row.id), day_of(row.pitched_at), "disc")
        for row in rows
        if row.disc_id is not None
    ]
    discs = select(Disc.id, Disc.born_brew_id, Disc.parent_id, Disc.made_at)
    if since > ALWAYS:
        born = select(Brew.id).where(recent)
        discs = discs.where(or_(Disc.made_at >= since, Disc.born_brew_id.in_(born)))
    for disc, brew, parent, made in session.execute(discs):
        if brew is not None and brew in ended:
            out.append(Link(("brew", brew), ("disc", disc), ended[brew], "born"))
        if parent is not None and made is not None:
            out.append(Link(("disc", parent), ("disc", disc), day_of(made), "parted"))
    return out + _through_company(session, since)


def _into_lots(
    session: Session, source: type[Brew] | type[Vessel], how: Way, since: datetime
) -> list[tuple[int, int, datetime]]:
    """List starters poured off from brews or hotels: the number of the brew or hotel, lot, moment."""
    rows = session.execute(
        select(source.id, StarterLot.id, Transfer.at)
        .join(Transfer, Transfer.source_id == source.liquid_id)
        .join(StarterLot, StarterLot.liquid_id == Transfer.target_id)
        .where(Transfer.how == how, Transfer.at >= since)
        .order_by(StarterLot.id)
    )
    return [(number, lot, at) for number, lot, at in rows]


def _stays(session: Session, since: datetime) -> list[HotelStay]:
    return list(session.scalars(select(HotelStay).where(or_(HotelStay.until.is_(None), HotelStay.until >= since))))


def _guests(session: Session, since: datetime) -> list[BrewDisc]:
    return list(session.scalars(select(BrewDisc).where(or_(BrewDisc.until.is_(None), BrewDisc.until >= since))))


def _through_company(session: Session, since: datetime) -> list[Link]:
    """List what discs gave to things made where they lay: liquid drawn from a hotel, what came of a jar they shared."""
    out: list[Link] = []
    stays = _stays(session, since)
    for hotel, lot, at in _into_lots(session, Vessel, Way.DRAWN, since):
        here = [s for s in stays if s.vessel_id == hotel and s.since <= at]
        discs = sorted({s.disc_id for s in here if s.until is None or s.until >= at})
        out += [Link(("disc", disc), ("lot", lot), day_of(at), "drawn") for disc in discs]
    kept: dict[int, list[tuple[int, datetime]]] = {}
    for brew, lot, at in _into_lots(session, Brew, Way.RESERVED, since):
        kept.setdefault(brew, []).append((lot, at))
    for guest in _guests(session, since):
        for lot, at in kept.get(guest.brew_id, []):
            if guest.since <= at and (guest.until is None or at <= guest.until):
                out.append(Link(("disc", guest.disc_id), ("lot", lot), day_of(at), "kept"))
    return out


def contact_of(session: Session, now: datetime, since: datetime = ALWAYS) -> list[Link]:
    """List what touched what besides: a disc back out of a brew, discs in the hotel and in shared jars, feeds, liquid drawn."""
    out: list[Link] = []
    backs = select(Brew.id, Brew.disc_id, Brew.ended_at).where(
        Brew.status == BrewStatus.HARVESTED, Brew.disc_id.is_not(None), Brew.ended_at >= since
    )
    for brew, disc, ended in session.execute(backs):
        out.append(Link(("brew", brew), ("disc", disc or 0), day_of(ended or now), "back"))
    out += _shared_liquid(session, now, since)
    out += [link for link, how in _passed(session, since) if how in CONTACT]
    return out + _poured_from_hotel(session, since)


def _moments(session: Session, stays: list[HotelStay], since: datetime) -> dict[Node, set[float]]:
    """List when something came or went where discs lie."""
    out: dict[Node, set[float]] = {}
    for stay in stays:
        out.setdefault(("hotel", stay.vessel_id), set()).add(day_of(stay.since))
    for feed in session.scalars(select(HotelFeed).where(HotelFeed.at >= since)):
        out.setdefault(("hotel", feed.vessel_id), set()).add(day_of(feed.at))
    for hotel, _, at in _into_lots(session, Vessel, Way.DRAWN, since):
        out.setdefault(("hotel", hotel), set()).add(day_of(at))
    for brew, _, at in _into_lots(session, Brew, Way.RESERVED, since):
        out.setdefault(("brew", brew), set()).add(day_of(at))
    for parent, made in session.execute(select(Disc.parent_id, Disc.made_at)):
        if parent is not None and made is not None:
            out.setdefault(("disc", parent), set()).add(day_of(made))
    return out


def _shared_liquid(session: Session, now: datetime, since: datetime) -> list[Link]:
    """List discs in the liquid they lay in: both touch all the while, so at every moment at which something came or went."""
    stays, guests = _stays(session, since), _guests(session, since)
    moments = _moments(session, stays, since)
    lay: list[tuple[Node, Node, float, float, str, str]] = [
        (("disc", x.disc_id), ("hotel", x.vessel_id), day_of(x.since), day_of(x.until or now), "housed", "lived")
        for x in stays
    ]
    lay += [
        (("disc", x.disc_id), ("brew", x.brew_id), day_of(x.since), day_of(x.until or now), "joined", "joined")
        for x in guests
    ]
    out: list[Link] = []
    for disc, liquid, came, went, there, back in lay:
        times = {t for t in (moments.get(liquid, set()) | moments.get(disc, set())) if came <= t <= went}
        for at in sorted(times | {came, went}):
            out += [Link(disc, liquid, at, there), Link(liquid, disc, at, back)]
    return out


def _poured_from_hotel(session: Session, since: datetime) -> list[Link]:
    """List liquid named on a brew day as the hotel's, where there is only one hotel it can have come from."""
    hotels = list(session.scalars(select(Vessel.id).where(Vessel.kind == VesselKind.HOTEL)))
    if len(hotels) != 1:
        return []
    query = (
        select(Brew.id, Transfer.at)
        .join(Transfer, Transfer.target_id == Brew.liquid_id)
        .where(Transfer.source_id.is_(None), Transfer.lively == StarterKind.HOTEL, Transfer.at >= since)
    )
    return [Link(("hotel", hotels[0]), ("brew", brew), day_of(at), "starter") for brew, at in session.execute(query)]


def closed_ways(session: Session) -> list[CutLink]:
    """List ways that the brewer knows to be closed."""
    return list(session.scalars(select(CutLink).where(CutLink.opened_at.is_(None)).order_by(CutLink.at)))


def links_of(session: Session, now: datetime, since: datetime = ALWAYS) -> list[Link]:
    """List all ways by which liquid or a disc passed since a moment, but for those that are closed."""
    cut = [((row.source_kind, row.source_id), (row.target_kind, row.target_id)) for row in closed_ways(session)]
    return without(descent_of(session, since) + contact_of(session, now, since), cut)


def spoiled(session: Session, since: datetime) -> list[Brew]:
    """List brews in which something grave was seen or smelled: those that stand still, and those discarded since a moment."""
    discarded = and_(Brew.status == BrewStatus.DISCARDED, Brew.ended_at >= since)
    rows = session.scalars(
        select(Brew)
        .where(or_(discarded, Brew.status.in_(LIVING)))
        .options(*queries.LIGHT, selectinload(Brew.looks))
    )
    grave = {key for key, seen in OBSERVATIONS.items() if seen.verdict == DISCARD}
    return [
        b for b in rows if any({look.surface, look.smell, *look.signs} & grave for look in b.looks if not look.struck)
    ]


def touched(session: Session, now: datetime) -> set[Node]:
    """List all that a spoiled brew could have reached, and itself; walked once a reading session.

    Of brews that spoiled more than a year before anything was made that is kept here, for what they brought would have shown
    itself in between, nothing is returned.
    """
    context = context_of(session)
    if context.writing:
        return _touched(session, now)
    if "touched" not in context.answers:
        context.answers["touched"] = _touched(session, now)
    return set(context.answers["touched"])


def _touched(session: Session, now: datetime) -> set[Node]:
    out: set[Node] = set()
    bad = spoiled(session, min(now, _oldest_kept(session)) - timedelta(days=SHOWN_DAYS))
    known = links_of(session, now, min(brew.pitched_at for brew in bad) - timedelta(days=1)) if bad else []
    for brew in bad:
        node: Node = ("brew", brew.id)
        out |= {node, *(r.node for r in exposed(known, node, day_of(brew.pitched_at)))}
    return out


def _oldest_kept(session: Session) -> datetime:
    """Return when the oldest starter or disc was made that is kept."""
    born = [
        disc.made_at or (disc.born_brew.ended_at if disc.born_brew else None) for disc in culture_queries.living_discs(session)
    ]
    made = [lot.made_at for lot in culture_queries.starter_lots(session)] + [at for at in born if at is not None]
    return min(made, default=datetime.max.replace(tzinfo=UTC))


def living(session: Session, node: Node) -> bool:
    """Return whether a thing is still there: a brew in its vessel, liquid left, a disc not ended."""
    kind, number = node
    if kind == NodeKind.BREW:
        brew = session.get(Brew, number)
        return brew is not None and brew.alive
    if kind == NodeKind.LOT:
        lot = session.get(StarterLot, number)
        return lot is not None and lot.left_l > LEAST_L
    if kind == NodeKind.HOTEL:
        return session.get(Vessel, number) is not None
    disc = session.get(Disc, number)
    return disc is not None and disc.ended_at is None
