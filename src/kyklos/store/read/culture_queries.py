"""Questions about lines: cultures, discs, starter that is kept, what a line did before."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session, contains_eager, joinedload, selectinload

from ...core.base.kinds import LIVING, BrewStatus, KindOfBrew
from ...core.liquid.pouring import LEAST_L
from ..records import (
    Brew,
    BrewDisc,
    Culture,
    Disc,
    Gift,
    HotelStay,
    KeptLiquid,
    Quarantine,
    Reading,
    StarterLot,
    Vessel,
)
from .memory import once
from .queries import IN_PLACE, with_records


@once
def cultures(session: Session) -> list[Culture]:
    """List culture lines, oldest first."""
    return list(session.scalars(select(Culture).order_by(Culture.started_at, Culture.id)))


@once
def in_use(session: Session) -> tuple[set[int], set[int]]:
    """List the numbers of vessels and discs that a living brew has."""
    rows = session.execute(select(Brew.vessel_id, Brew.disc_id).where(Brew.status.in_(LIVING))).all()
    beside = session.scalars(select(BrewDisc.disc_id).where(BrewDisc.until.is_(None)))
    return {vessel for vessel, _ in rows}, {disc for _, disc in rows if disc is not None} | set(beside)


@once
def living_discs(session: Session) -> list[Disc]:
    """List the discs that did not end, oldest first."""
    query = select(Disc).where(Disc.ended_at.is_(None)).options(joinedload(Disc.born_brew).load_only(Brew.ended_at))
    return list(session.scalars(query.order_by(Disc.id)))


def living_lines(session: Session) -> set[int]:
    """Return the lines of which a disc, a starter or a brew lives, by their keys."""
    discs = select(Disc.culture_id).where(Disc.ended_at.is_(None))
    lots = select(StarterLot.culture_id).join(StarterLot.liquid).where(KeptLiquid.ended_at.is_(None))
    return set(session.scalars(discs.union(lots, select(Brew.culture_id).where(Brew.status.in_(LIVING)))))


def ended_discs(session: Session, culture: Culture, most: int) -> list[Disc]:
    """List a line's discs that ended last, the oldest of them first."""
    query = select(Disc).where(Disc.culture_id == culture.id, Disc.ended_at.is_not(None))
    return list(session.scalars(query.order_by(Disc.ended_at.desc(), Disc.id.desc()).limit(most)))[::-1]


@once
def holders(session: Session) -> dict[int, int]:
    """Count by line the gifts that, as far as is known, still hold it."""
    rows = select(Gift.culture_id, func.count()).where(Gift.outward, Gift.still_holds).group_by(Gift.culture_id)
    return {int(line): int(count) for line, count in session.execute(rows)}


@once
def starter_lots(session: Session) -> list[StarterLot]:
    """List starter that is left, newest first."""
    query = (
        select(StarterLot)
        .join(StarterLot.liquid)
        .where(KeptLiquid.ended_at.is_(None))
        .options(
            contains_eager(StarterLot.liquid),
            joinedload(StarterLot.culture),
            selectinload(StarterLot.source_brew).joinedload(Brew.vessel),
        )
        .order_by(StarterLot.made_at.desc())
    )
    return [lot for lot in session.scalars(query) if lot.left_l > LEAST_L]


@once
def set_apart(session: Session) -> set[tuple[str, int]]:
    """List things in quarantine, by kind and number."""
    return {(row.kind, row.number) for row in session.scalars(select(Quarantine).where(Quarantine.lifted_at.is_(None)))}


def harvested(session: Session, culture: Culture) -> int:
    """Count a line's brews that were harvested."""
    query = select(func.count()).where(Brew.culture_id == culture.id, Brew.status == BrewStatus.HARVESTED)
    return int(session.scalar(query.select_from(Brew)) or 0)


def took_days(session: Session, culture: Culture, most: int) -> list[float]:
    """List how long a line's last harvested brews took. [d]"""
    query = select(Brew.pitched_at, Brew.ended_at).where(
        Brew.culture_id == culture.id, Brew.status == BrewStatus.HARVESTED, Brew.ended_at.is_not(None)
    )
    rows = session.execute(query.order_by(Brew.pitched_at.desc()).limit(most))
    return [(end - start).total_seconds() / 86400 for start, end in rows if end is not None]


def steps_between(session: Session, culture_id: int, since: datetime, until: datetime | None) -> list[Brew]:
    """List the brews by which a line was led to another diet, oldest first."""
    query = select(Brew).where(
        Brew.culture_id == culture_id, Brew.kind == KindOfBrew.CONVERSION, Brew.pitched_at >= since
    )
    if until is not None:
        query = query.where(Brew.pitched_at <= until)
    return list(session.scalars(query.options(*IN_PLACE).order_by(Brew.pitched_at)))


def measured(session: Session, culture: Culture, most: int) -> list[Brew]:
    """List the last brews of a line whose pH was read and that were not held back, oldest first, with all that their forecasts read."""
    found = select(Reading.liquid_id).where(Reading.ph.is_not(None), Reading.struck.is_(False))
    query = (
        select(Brew)
        .where(Brew.culture_id == culture.id, Brew.status != BrewStatus.HELD, Brew.liquid_id.in_(found))
        .options(*IN_PLACE)
    )
    last = list(session.scalars(query.order_by(Brew.pitched_at.desc()).limit(most)))
    return with_records(session, last[::-1])




def measured_counts(session: Session) -> dict[tuple[int, int | None], int]:
    """Count the brews of each line and disc whose pH was read and that were not held back: line and disc to how many."""
    found = select(Reading.liquid_id).where(Reading.ph.is_not(None), Reading.struck.is_(False))
    query = select(Brew.culture_id, Brew.disc_id, func.count()).where(Brew.status != BrewStatus.HELD, Brew.liquid_id.in_(found))
    return {(line, disc): count for line, disc, count in session.execute(query.group_by(Brew.culture_id, Brew.disc_id))}


def names_of_discs(session: Session, numbers: Sequence[int]) -> list[tuple[int, str]]:
    """Return the names of some discs, in the order of their numbers."""
    if not numbers:
        return []
    return [(number, name) for number, name in session.execute(select(Disc.id, Disc.name).where(Disc.id.in_(numbers)).order_by(Disc.id))]


def hotel_since(session: Session, vessel_id: int) -> datetime | None:
    """Return since when discs live in a vessel; None: none ever did."""
    return session.scalar(select(func.min(HotelStay.since)).where(HotelStay.vessel_id == vessel_id))


def lying_in_hotel(session: Session, vessel_id: int) -> list[Disc]:
    """List the discs that live in a hotel now."""
    stays = select(HotelStay).where(HotelStay.vessel_id == vessel_id, HotelStay.until.is_(None))
    return [stay.disc for stay in session.scalars(stays)]


def lies_in(session: Session, disc_id: int) -> str:
    """Name the vessel a disc lies in now: a hotel, or a jar with a brew; empty: none."""
    hotel = select(Vessel.name).join(HotelStay, HotelStay.vessel_id == Vessel.id).where(HotelStay.disc_id == disc_id, HotelStay.until.is_(None))
    own = select(Vessel.name).join(Brew, Brew.vessel_id == Vessel.id).where(Brew.disc_id == disc_id, Brew.status.in_(LIVING))
    guest = select(Vessel.name).join(Brew, Brew.vessel_id == Vessel.id).join(BrewDisc, BrewDisc.brew_id == Brew.id)
    guest = guest.where(BrewDisc.disc_id == disc_id, BrewDisc.until.is_(None), Brew.status.in_(LIVING))
    return session.scalars(hotel.union_all(own, guest)).first() or ""


def quarantines(session: Session) -> list[Quarantine]:
    """List what is set apart by hand and not cleared yet."""
    return list(session.scalars(select(Quarantine).where(Quarantine.lifted_at.is_(None))))
