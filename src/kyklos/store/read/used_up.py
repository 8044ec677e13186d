"""Questions about what was used up: tea and sweetener by brews and hotels, flavours, caps, strips, buffers; day by day, or in one sum."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from typing import Any

from sqlalchemy import ColumnElement, func, literal, or_, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from ...core.liquid.pouring import Added, LiquidKind
from ..records import Addition, Bottle, BottleType, Bottling, Brew, Calibration, KeptLiquid, Reading

EVER = date(1970, 1, 1)


@dataclass(frozen=True, slots=True)
class Days:
    """From which day, before which, and whether all of it is one sum."""

    since: date = EVER
    until: date | None = None
    whole: bool = False

    def of(self, at: InstrumentedAttribute[datetime]) -> tuple[ColumnElement[Any], ColumnElement[bool]]:
        """Return the day by which rows are put together, and which rows lie within."""
        day: ColumnElement[Any] = literal(self.since.isoformat()) if self.whole else func.date(at)
        within = at >= datetime.combine(self.since, time(), UTC)
        return day, within if self.until is None else within & (at < datetime.combine(self.until, time(), UTC))


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


def tea_uses(session: Session, days: Days, brew_ids: Sequence[int] | None = None) -> list[TeaUse]:
    """List the sweet tea that was made: by day and recipe, or of some brews by brew."""
    card = func.json_extract(Brew.plan, "$.card.sweeteners")
    day, within = days.of(Addition.at)
    own = Brew.id if brew_ids is not None else func.min(Brew.id)
    query = (
        select(day, Brew.tea, Brew.honey_share, card, func.sum(Addition.litres), func.sum(Addition.litres * Brew.leaf_g_per_l),
               func.sum(Addition.litres * Brew.sugar_g_per_l), own)
        .join(Brew, Brew.liquid_id == Addition.liquid_id)
        .where(Addition.what == Added.SWEET_TEA, within)
        .group_by(day, Brew.tea, Brew.honey_share, card, *([Brew.id] if brew_ids is not None else []))
    )  # fmt: skip
    if brew_ids is not None:
        query = query.where(Brew.id.in_(brew_ids))
    return [TeaUse(date.fromisoformat(at), tea, honey, _shares(text), litres, leaf, sugars, number) for at, tea, honey, text, litres, leaf, sugars, number in session.execute(query)]


def _shares(text: str | None) -> tuple[tuple[str, float], ...]:
    return () if not text else tuple((str(key), float(share)) for key, share in json.loads(text))


def hotel_uses(session: Session, days: Days) -> list[tuple[date, float]]:
    """List the sweet tea that hotels got: day, litres. [L]"""
    day, within = days.of(Addition.at)
    query = (
        select(day, func.sum(Addition.litres))
        .join(KeptLiquid, KeptLiquid.id == Addition.liquid_id)
        .where(KeptLiquid.kind == LiquidKind.HOTEL, Addition.what == Added.SWEET_TEA, within)
        .group_by(day)
    )
    return [(date.fromisoformat(at), litres) for at, litres in session.execute(query)]


@dataclass(frozen=True, slots=True)
class FlavourUse:
    """Flavour or priming sugar that went into fillings or jars."""

    day: date
    what: str  #: An Added: flavour or sugar.
    name: str  #: Key of the ingredient; empty for priming sugar.
    grams: float  #: [g]
    liquid_id: int  #: Where each filling is asked for by itself; else one of them.


def flavour_uses(session: Session, days: Days, liquid_ids: Sequence[int] | None = None) -> list[FlavourUse]:
    """List the flavour and priming sugar that went into bottles and jars: by day, or of some liquids by liquid."""
    day, within = days.of(Addition.at)
    own = Addition.liquid_id if liquid_ids is not None else func.min(Addition.liquid_id)
    query = (
        select(day, Addition.what, Addition.name, func.sum(Addition.grams), own)
        .where(Addition.what.in_((Added.FLAVOUR, Added.SUGAR)), Addition.grams > 0, within)
        .group_by(day, Addition.what, Addition.name, *([Addition.liquid_id] if liquid_ids is not None else []))
    )
    if liquid_ids is not None:
        query = query.where(Addition.liquid_id.in_(liquid_ids))
    return [FlavourUse(date.fromisoformat(at), what, name, grams, liquid) for at, what, name, grams, liquid in session.execute(query)]


def capped(session: Session, days: Days, usual: Mapping[str, str], closure: str) -> list[tuple[date, int]]:
    """List how many bottles were filled that a closure closes, by day.

    Args:
        session: Of the household.
        days: Which.
        usual: What closes each kind of bottle where nobody said.
        closure: A key of core/bottles/park.py: CLOSURES.
    """
    kinds = [kind for kind, key in usual.items() if key == closure]
    closes = or_(BottleType.closure == closure, (BottleType.closure == "") & BottleType.kind.in_(kinds))
    day, within = days.of(Bottling.at)
    query = select(day, func.count()).join(Bottle, Bottle.bottling_id == Bottling.id).join(BottleType, BottleType.id == Bottle.type_id)
    return [(date.fromisoformat(at), count) for at, count in session.execute(query.where(within, closes).group_by(day))]


def strips_read(session: Session, days: Days) -> list[tuple[date, int]]:
    """List how many pH strips were read, by day."""
    day, within = days.of(Reading.at)
    mine = (Reading.ph.is_not(None), Reading.instrument == "strip", Reading.replaces_id.is_(None))
    return [(date.fromisoformat(at), count) for at, count in session.execute(select(day, func.count()).where(within, *mine).group_by(day))]


def buffers_used(session: Session, days: Days) -> list[tuple[date, int, int]]:
    """List how often a meter was set by day: in the buffer of pH 7, and in that of pH 4."""
    day, within = days.of(Calibration.at)
    query = select(day, func.sum(Calibration.at_seven), func.sum(Calibration.at_four)).where(within).group_by(day)
    return [(date.fromisoformat(at), seven or 0, four or 0) for at, seven, four in session.execute(query)]
