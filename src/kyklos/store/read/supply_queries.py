"""Questions about enough to drink: what was drunk, bought, counted, used up, wished for, and what stands on the list."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy import ColumnElement, exists, func, or_, select
from sqlalchemy.orm import Session, aliased, joinedload

from ...core.base.kinds import BrewStatus
from ...core.liquid import Way
from ...core.liquid.pouring import LEAST_BOTTLE_L
from ...core.liquid.standing import PlaceKind
from ...core.supply import GoodKind
from ..records import (
    Addition,
    Bottle,
    Bottling,
    Brew,
    CupboardCount,
    Infusion,
    ListItem,
    Place,
    Purchase,
    Standing,
    Transfer,
    Wished,
)
from .memory import once
from .moments import days_between

_BOTTLED = aliased(Transfer)


def _was_drunk() -> ColumnElement[bool]:
    """What counts as drunk: what was poured to be drunk, and what was left of a harvest of which nothing was bottled."""
    bottled = exists().where(_BOTTLED.source_id == Transfer.source_id, _BOTTLED.how.in_((Way.BOTTLED, Way.INFUSED)))
    whole = (Transfer.how == Way.LEFT_OVER) & (Transfer.litres >= LEAST_BOTTLE_L) & (Brew.status == BrewStatus.HARVESTED) & ~bottled
    return or_(Transfer.how == Way.DRUNK, whole)


@dataclass(frozen=True, slots=True)
class DrinkRow:
    """Something that was drunk."""

    at: datetime
    litres: float  #: [L]
    filling_id: int | None  #: Of the bottles; None: from a vessel or jar.
    brew_id: int | None


def drinks(session: Session, since: datetime, until: datetime) -> list[DrinkRow]:
    """List what was drunk between two moments, in order of time."""
    query = (
        select(Transfer.at, Transfer.litres, Bottling.id, func.coalesce(Bottling.brew_id, Infusion.brew_id, Brew.id))
        .outerjoin(Bottling, Bottling.liquid_id == Transfer.source_id)
        .outerjoin(Infusion, Infusion.liquid_id == Transfer.source_id)
        .outerjoin(Brew, Brew.liquid_id == Transfer.source_id)
        .where(Transfer.at >= since, Transfer.at <= until, _was_drunk())
        .order_by(Transfer.at)
    )
    return [DrinkRow(*row) for row in session.execute(query)]


def first_drink(session: Session) -> datetime | None:
    """Return when something was first drunk; None: never."""
    query = select(Transfer.at).outerjoin(Brew, Brew.liquid_id == Transfer.source_id).where(_was_drunk())
    return session.scalars(query.order_by(Transfer.at).limit(1)).first()


def fillings_by_number(session: Session, numbers: Sequence[int]) -> list[Bottling]:
    """List fillings by their numbers."""
    return list(session.scalars(select(Bottling).where(Bottling.id.in_(numbers)))) if numbers else []


@once
def open_wishes(session: Session) -> list[Wished]:
    """List wishes that were not called off, the soonest first."""
    return list(session.scalars(select(Wished).where(Wished.ended_at.is_(None)).order_by(Wished.day, Wished.id)))


@once
def open_items(session: Session) -> list[ListItem]:
    """List what was written on the shopping list by hand and was not bought yet."""
    return list(session.scalars(select(ListItem).where(ListItem.ended_at.is_(None)).order_by(ListItem.id)))


def ticked_since(session: Session, since: datetime) -> list[ListItem]:
    """List what was ticked off the list since a moment, in order of time."""
    query = select(ListItem).where(ListItem.ended_at >= since, ListItem.purchase_id.is_not(None)).order_by(ListItem.ended_at, ListItem.id)
    return list(session.scalars(query))


def purchases(session: Session, most: int, before: date | None = None) -> list[Purchase]:
    """List the last purchases, the newest first."""
    query = select(Purchase).order_by(Purchase.day.desc(), Purchase.id.desc()).limit(most)
    return list(session.scalars(query if before is None else query.where(Purchase.day < before)))


def purchases_since(session: Session, since: date) -> list[tuple[str, str, date, float, float | None]]:
    """List purchases from a day on as kind, key, day, amount, price."""
    rows = session.execute(select(Purchase.kind, Purchase.key, Purchase.day, Purchase.amount, Purchase.price).where(Purchase.day >= since))
    return [(kind, key, day, amount, price) for kind, key, day, amount, price in rows]


def counts_since(session: Session, since: date) -> list[tuple[str, str, date, float]]:
    """List counts of the cupboard from a day on as kind, key, day, amount."""
    rows = session.execute(select(CupboardCount.kind, CupboardCount.key, CupboardCount.day, CupboardCount.amount).where(CupboardCount.day >= since))
    return [(kind, key, day, amount) for kind, key, day, amount in rows]


@dataclass(frozen=True, slots=True)
class Before:
    """A good before a day: where its account begins, and what was bought from there on."""

    kind: str
    key: str
    begins: date  #: Of its last count then, or else its first purchase.
    counted: float  #: [g or pieces]
    bought: float  #: From there until the day. [g or pieces]
    price: float | None  #: Of one gram or piece, of the last that had a price. [the household's money]


def goods_before(session: Session, until: date) -> list[Before]:
    """Return how each good stood before a day, apart from what was used: three questions, whatever the age."""
    last = select(func.max(CupboardCount.id)).where(CupboardCount.day < until).group_by(CupboardCount.kind, CupboardCount.key)
    counts = {(row.kind, row.key): row for row in session.scalars(select(CupboardCount).where(CupboardCount.id.in_(last)))}
    counted = aliased(CupboardCount)
    since = select(func.max(counted.day)).where(counted.kind == Purchase.kind, counted.key == Purchase.key, counted.day < until).scalar_subquery()
    own = or_(since.is_(None), Purchase.day > since)
    rows = session.execute(
        select(Purchase.kind, Purchase.key, func.min(Purchase.day), func.sum(Purchase.amount)).where(Purchase.day < until, own).group_by(Purchase.kind, Purchase.key)
    )
    bought = {(kind, key): (first, amount) for kind, key, first, amount in rows}
    newest = select(func.max(Purchase.id)).where(Purchase.day < until, Purchase.price.is_not(None)).group_by(Purchase.kind, Purchase.key)
    prices = {(row.kind, row.key): (row.price or 0.0) / row.amount for row in session.scalars(select(Purchase).where(Purchase.id.in_(newest)))}
    out = []
    for good in {*counts, *bought}:
        first, amount = bought.get(good, (None, 0.0))
        count = counts.get(good)
        begins = count.day if count is not None else first
        if begins is not None:
            out.append(Before(*good, begins, count.amount if count is not None else 0.0, amount, prices.get(good)))
    return out


def last_packs(session: Session) -> dict[tuple[str, str], tuple[float, float | None]]:
    """Return how much was bought last of each good, and for what, by kind and key."""
    newest = select(func.max(Purchase.id)).group_by(Purchase.kind, Purchase.key)
    rows = session.execute(select(Purchase.kind, Purchase.key, Purchase.amount, Purchase.price).where(Purchase.id.in_(newest)))
    return {(kind, key): (amount, price) for kind, key, amount, price in rows}


def best_befores(session: Session, until: date) -> list[Purchase]:
    """List the newest purchase of each good that has a best before day, where that lies before a day."""
    newest = select(func.max(Purchase.id)).where(Purchase.best_before.is_not(None)).group_by(Purchase.kind, Purchase.key)
    return list(session.scalars(select(Purchase).where(Purchase.id.in_(newest), Purchase.best_before <= until).order_by(Purchase.best_before)))


def passed_by(session: Session, since: datetime) -> dict[tuple[str, str], float]:
    """Return how many litres passed each way out of the house's liquids since a moment, by month and Way. [L]"""
    month = func.strftime("%Y-%m", Transfer.at)
    query = select(month, Transfer.how, func.sum(Transfer.litres)).where(Transfer.at >= since, Transfer.target_id.is_(None)).group_by(month, Transfer.how)
    return {(at, how): float(litres) for at, how, litres in session.execute(query)}


def put_into(session: Session, liquid_ids: Sequence[int]) -> dict[int, float]:
    """Return how many litres ever went into some liquids. [L]"""
    out: dict[int, float] = dict.fromkeys(liquid_ids, 0.0)
    for owner, litres in ((Addition.liquid_id, Addition.litres), (Transfer.target_id, Transfer.litres)):
        for number, amount in session.execute(select(owner, func.sum(litres)).where(owner.in_(liquid_ids)).group_by(owner)):
            if number is not None:
                out[number] += amount
    return out


def harvested_brews(session: Session, most: int) -> list[Brew]:
    """List the last brews that were harvested or run, the newest first."""
    query = select(Brew).where(Brew.status.in_((BrewStatus.HARVESTED, BrewStatus.FERMENTING))).order_by(Brew.pitched_at.desc(), Brew.id.desc()).limit(most)
    return list(session.scalars(query))


def went_of(session: Session, liquid_ids: Sequence[int]) -> dict[tuple[int, str], float]:
    """Return how many litres left some liquids, by liquid and Way. [L]"""
    query = select(Transfer.source_id, Transfer.how, func.sum(Transfer.litres)).where(Transfer.source_id.in_(liquid_ids)).group_by(Transfer.source_id, Transfer.how)
    return {(number, how): litres for number, how, litres in session.execute(query) if number is not None}


def warm_spans(session: Session, most: int) -> list[float]:
    """List how long bottles of the last fillings stood until the first of each went into the fridge. [d]"""
    cold = (
        select(Bottle.bottling_id, func.min(Standing.since).label("since"))
        .join(Standing, Standing.bottle_id == Bottle.id)
        .join(Place, Place.id == Standing.place_id)
        .where(Place.kind == PlaceKind.FRIDGE)
        .group_by(Bottle.bottling_id)
        .subquery()
    )
    last = select(Bottling.id).order_by(Bottling.at.desc()).limit(2 * most).subquery()
    query = select(Bottling.at, cold.c.since).join(cold, cold.c.bottling_id == Bottling.id).where(Bottling.id.in_(select(last.c.id))).order_by(Bottling.at.desc()).limit(most)
    return [max(0.0, days_between(filled, chilled)) for filled, chilled in session.execute(query)]


def lasting_bought(session: Session) -> list[tuple[date, float]]:
    """List what was paid for bottles and the like: day, money."""
    query = select(Purchase.day, Purchase.price).where(Purchase.kind == GoodKind.BOTTLE, Purchase.price.is_not(None))
    return [(day, price) for day, price in session.execute(query) if price is not None]


def heated(session: Session, since: datetime) -> list[Standing]:
    """List where vessels stood heated since a moment."""
    query = select(Standing).where(Standing.heater_c.is_not(None), Standing.vessel_id.is_not(None), Standing.until.is_(None) | (Standing.until > since))
    return list(session.scalars(query.options(joinedload(Standing.vessel), joinedload(Standing.place))))


def fillings_since(session: Session, since: datetime) -> list[Bottling]:
    """List fillings since a moment, with their brews and liquids."""
    query = select(Bottling).where(Bottling.at >= since).order_by(Bottling.at)
    return list(session.scalars(query.options(joinedload(Bottling.brew), joinedload(Bottling.liquid), joinedload(Bottling.kept))))


def keeps_account(session: Session) -> bool:
    """Return whether anything was ever bought or counted."""
    return session.scalars(select(Purchase.id).limit(1)).first() is not None or session.scalars(select(CupboardCount.id).limit(1)).first() is not None
