"""Questions to a span of days: what came and where it went, brews that ended, scores."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ...core.base.kinds import BrewStatus
from ...core.liquid import Way
from ..records import Addition, Brew, Comparison, Culture, Lesson, Score, Transfer, Vessel
from .moments import days_between
from .supply_queries import drinks

LOST = (Way.LOST, Way.DISCARDED, Way.GONE)


@dataclass(frozen=True, slots=True)
class EndedRow:
    """A brew that ended."""

    number: int
    vessel: str
    culture: str
    honey_share: float
    days: float  #: [d]
    harvested: bool
    mean_c: float | None  #: [degC]
    tests: Sequence[Sequence[float]]
    tasted: Sequence[Sequence[float]]  #: Taster, score, moment [s], acidity [g/L], its sd.


def ended_between(session: Session, begins: datetime, ends: datetime) -> list[EndedRow]:
    """List brews that ended between two moments, with what was kept of them."""
    query = (
        select(Brew.id, Vessel.name, Culture.name, Brew.honey_share, Brew.pitched_at, Brew.ended_at, Brew.status, Lesson.mean_c, Lesson.tests, Lesson.tasted)
        .join(Vessel, Vessel.id == Brew.vessel_id)
        .join(Culture, Culture.id == Brew.culture_id)
        .outerjoin(Lesson, Lesson.brew_id == Brew.id)
        .where(Brew.ended_at >= begins, Brew.ended_at < ends)
        .order_by(Brew.ended_at)
    )
    return [
        EndedRow(number, vessel, culture, honey, days_between(pitched, ended), status == BrewStatus.HARVESTED, celsius, tests or (), tasted or ())
        for number, vessel, culture, honey, pitched, ended, status, celsius, tests, tasted in session.execute(query)
        if ended is not None
    ]


def begun_between(session: Session, begins: datetime, ends: datetime) -> int:
    """Count brews started between two moments."""
    return session.scalar(select(func.count()).select_from(Brew).where(Brew.pitched_at >= begins, Brew.pitched_at < ends)) or 0


def came_between(session: Session, begins: datetime, ends: datetime) -> float:
    """Return the litres that were put together or came from outside between two moments. [L]"""
    put = session.scalar(select(func.sum(Addition.litres)).where(Addition.at >= begins, Addition.at < ends)) or 0.0
    came = session.scalar(select(func.sum(Transfer.litres)).where(Transfer.at >= begins, Transfer.at < ends, Transfer.source_id.is_(None))) or 0.0
    return float(put + came)


def went_between(session: Session, begins: datetime, ends: datetime) -> dict[str, float]:
    """Return the litres that left for good between two moments, by Way. [L]"""
    query = select(Transfer.how, func.sum(Transfer.litres)).where(Transfer.at >= begins, Transfer.at < ends, Transfer.target_id.is_(None)).group_by(Transfer.how)
    return {str(how): float(litres) for how, litres in session.execute(query)}


def standing_at(session: Session, at: datetime) -> float:
    """Return the litres that stood anywhere at a moment: in jars, bottles, hotels, as starter. [L]"""
    put = session.scalar(select(func.sum(Addition.litres)).where(Addition.at < at)) or 0.0
    came = session.scalar(select(func.sum(Transfer.litres)).where(Transfer.at < at, Transfer.source_id.is_(None))) or 0.0
    went = session.scalar(select(func.sum(Transfer.litres)).where(Transfer.at < at, Transfer.target_id.is_(None))) or 0.0
    return float(put + came - went)


def drunk_between(session: Session, begins: datetime, ends: datetime) -> list[tuple[datetime, float]]:
    """List what was drunk between two moments: when, litres. [L]"""
    return [(row.at, row.litres) for row in drinks(session, begins, ends)]


def lost_between(session: Session, begins: datetime, ends: datetime) -> list[tuple[datetime, float]]:
    """List what was lost between two moments: when, litres. [L]"""
    query = select(Transfer.at, Transfer.litres).where(Transfer.at >= begins, Transfer.at < ends, Transfer.how.in_(LOST), Transfer.target_id.is_(None))
    return [(at, litres) for at, litres in session.execute(query)]


def scores_between(session: Session, begins: datetime, ends: datetime) -> list[tuple[int, int]]:
    """List scores between two moments that are not blind any more: filling, liked."""
    query = select(Score.bottling_id, Score.liked).outerjoin(Comparison, Score.comparison_id == Comparison.id)
    query = query.where(Score.at >= begins, Score.at < ends, Score.comparison_id.is_(None) | Comparison.revealed_at.is_not(None))
    return [(number, liked) for number, liked in session.execute(query)]
