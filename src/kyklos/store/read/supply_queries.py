"""Questions about enough to drink: what was drunk, bought, counted, used up, wished for, and what stands on the list."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time

from sqlalchemy import ColumnElement, exists, func, or_, select
from sqlalchemy.orm import Session, aliased, joinedload

from ...core.base.kinds import BrewStatus
from ...core.liquid import Way
from ...core.liquid.pouring import LEAST_BOTTLE_L, Added, LiquidKind
from ...core.liquid.standing import PlaceKind
from ...core.supply import GoodKind
from ..records import (
    Addition,
    Bottle,
    BottleType,
    Bottling,
    Brew,
    Calibration,
    CupboardCount,
    Infusion,
    KeptLiquid,
    ListItem,
    Place,
    Purchase,
    Reading,
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


def all_purchases(session: Session) -> list[tuple[str, str, date, float, float | None]]:
    """List all purchases as kind, key, day, amount, price; for what is in the cupboard and what it cost."""
    rows = session.execute(select(Purchase.kind, Purchase.key, Purchase.day, Purchase.amount, Purchase.price))
    return [(kind, key, day, amount, price) for kind, key, day, amount, price in rows]


def all_counts(session: Session) -> list[tuple[str, str, date, float]]:
    """List all counts of the cupboard as kind, key, day, amount."""
    rows = session.execute(select(CupboardCount.kind, CupboardCount.key, CupboardCount.day, CupboardCount.amount))
    return [(kind, key, day, amount) for kind, key, day, amount in rows]


def last_packs(session: Session) -> dict[tuple[str, str], tuple[float, float | None]]:
    """Return how much was bought last of each good, and for what, by kind and key."""
    newest = select(func.max(Purchase.id)).group_by(Purchase.kind, Purchase.key)
    rows = session.execute(select(Purchase.kind, Purchase.key, Purchase.amount, Purchase.price).where(Purchase.id.in_(newest)))
    return {(kind, key): (amount, price) for kind, key, amount, price in rows}


def best_befores(session: Session, until: date) -> list[Purchase]:
    """List the newest purchase of each good that has a best before day, where that lies before a day."""
    newest = select(func.max(Purchase.id)).where(Purchase.best_before.is_not(None)).group_by(Purchase.kind, Purchase.key)
    return list(session.scalars(select(Purchase).where(Purchase.id.in_(newest), Purchase.best_before <= until).order_by(Purchase.best_before)))


@dataclass(frozen=True, slots=True)
class TeaUse:
    """Sweet tea of one recipe on one day."""

    day: date
    tea: str  #: As `core/liquid/teas.py: text_of` writes it.
    honey_share: float  #: [-]
    sweeteners: tuple[tuple[str, float], ...]  #: By shares of the sugars; empty: sugar, and honey by its share.
    litres: float  #: [L]
    leaf_g: float  #: [g]
    sugars_g: float  #: [g]
    brew_id: int | None = None  #: Where each brew is asked for by itself.


def tea_uses(session: Session, since: date, brew_ids: Sequence[int] | None = None) -> list[TeaUse]:
    """List the sweet tea that was made since a day: by day and recipe, or of some brews by brew."""
    card = func.json_extract(Brew.plan, "$.card.sweeteners")
    day, own = func.date(Addition.at), Brew.id if brew_ids is not None else func.min(Brew.id)
    query = (
        select(day, Brew.tea, Brew.honey_share, card, func.sum(Addition.litres), func.sum(Addition.litres * Brew.leaf_g_per_l),
               func.sum(Addition.litres * Brew.sugar_g_per_l), own)
        .join(Brew, Brew.liquid_id == Addition.liquid_id)
        .where(Addition.what == Added.SWEET_TEA, Addition.at >= _begins(since))
        .group_by(day, Brew.tea, Brew.honey_share, card, *([Brew.id] if brew_ids is not None else []))
    )  # fmt: skip
    if brew_ids is not None:
        query = query.where(Brew.id.in_(brew_ids))
    return [TeaUse(date.fromisoformat(at), tea, honey, _shares(text), litres, leaf, sugars, number) for at, tea, honey, text, litres, leaf, sugars, number in session.execute(query)]


def _begins(day: date) -> datetime:
    return datetime.combine(day, time(), UTC)


def _shares(text: str | None) -> tuple[tuple[str, float], ...]:
    import json

    return () if not text else tuple((str(key), float(share)) for key, share in json.loads(text))


def hotel_uses(session: Session, since: date) -> list[tuple[date, float]]:
    """List the sweet tea that hotels got since a day: day, litres. [L]"""
    day = func.date(Addition.at)
    query = (
        select(day, func.sum(Addition.litres))
        .join(KeptLiquid, KeptLiquid.id == Addition.liquid_id)
        .where(KeptLiquid.kind == LiquidKind.HOTEL, Addition.what == Added.SWEET_TEA, Addition.at >= _begins(since))
        .group_by(day)
    )
    return [(date.fromisoformat(at), litres) for at, litres in session.execute(query)]


@dataclass(frozen=True, slots=True)
class FlavourUse:
    """Flavour or priming sugar that went into one filling or jar."""

    day: date
    what: str  #: An Added: flavour or sugar.
    name: str  #: Key of the ingredient; empty for priming sugar.
    grams: float  #: [g]
    liquid_id: int


def flavour_uses(session: Session, since: date, liquid_ids: Sequence[int] | None = None) -> list[FlavourUse]:
    """List the flavour and priming sugar that went into bottles and jars since a day; of some liquids where they are given."""
    query = select(func.date(Addition.at), Addition.what, Addition.name, func.sum(Addition.grams), Addition.liquid_id).where(
        Addition.what.in_((Added.FLAVOUR, Added.SUGAR)), Addition.grams > 0, Addition.at >= _begins(since)
    )
    if liquid_ids is not None:
        query = query.where(Addition.liquid_id.in_(liquid_ids))
    rows = session.execute(query.group_by(func.date(Addition.at), Addition.what, Addition.name, Addition.liquid_id))
    return [FlavourUse(date.fromisoformat(at), what, name, grams, liquid) for at, what, name, grams, liquid in rows]


def capped(session: Session, since: date, usual: Mapping[str, str], closure: str) -> list[tuple[date, int]]:
    """List how many bottles were filled each day since a day that a closure closes.

    Args:
        session: Of the household.
        since: The day.
        usual: What closes each kind of bottle where nobody said.
        closure: A key of core/bottles/park.py: CLOSURES.
    """
    kinds = [kind for kind, key in usual.items() if key == closure]
    closes = or_(BottleType.closure == closure, (BottleType.closure == "") & BottleType.kind.in_(kinds))
    day = func.date(Bottling.at)
    query = select(day, func.count()).join(Bottle, Bottle.bottling_id == Bottling.id).join(BottleType, BottleType.id == Bottle.type_id)
    rows = session.execute(query.where(Bottling.at >= _begins(since), closes).group_by(day))
    return [(date.fromisoformat(at), count) for at, count in rows]


def strips_read(session: Session, since: date) -> list[tuple[date, int]]:
    """List how many pH strips were read each day since a day."""
    day = func.date(Reading.at)
    rows = session.execute(
        select(day, func.count())
        .where(Reading.at >= _begins(since), Reading.ph.is_not(None), Reading.instrument == "strip", Reading.replaces_id.is_(None))
        .group_by(day)
    )
    return [(date.fromisoformat(at), count) for at, count in rows]


def buffers_used(session: Session, since: date) -> list[tuple[date, bool, bool]]:
    """List calibrations since a day: day, whether at pH 7, whether at pH 4."""
    rows = session.execute(select(Calibration.at, Calibration.at_seven, Calibration.at_four).where(Calibration.at >= _begins(since)))
    return [(at.date(), seven, four) for at, seven, four in rows]


def passed_by(session: Session, since: datetime, until: datetime) -> dict[str, float]:
    """Return how many litres passed each way out of the house's liquids between two moments, by Way. [L]"""
    query = select(Transfer.how, func.sum(Transfer.litres)).where(Transfer.at >= since, Transfer.at < until, Transfer.target_id.is_(None)).group_by(Transfer.how)
    return {str(how): float(litres) for how, litres in session.execute(query)}


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
