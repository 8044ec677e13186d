"""Questions for the notebook: what happened lately, lessons that are kept, the last notes."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from ...core.base.kinds import BottleState, BrewStatus
from ..records import (
    Bottle,
    Bottling,
    Brew,
    Comparison,
    CupboardCount,
    KeptLesson,
    Lesson,
    Note,
    Place,
    Score,
    Standing,
    Vessel,
)
from .memory import once


@once
def standing_lessons(session: Session) -> list[KeptLesson]:
    """List lessons that are kept, the newest first."""
    return list(session.scalars(select(KeptLesson).where(KeptLesson.standing == "kept").order_by(KeptLesson.at.desc(), KeptLesson.id.desc())))


def known_keys(session: Session) -> list[str]:
    """List the keys of proposals that were kept, dismissed or are over."""
    return list(session.scalars(select(KeptLesson.key).where(KeptLesson.key != "")))


def decided_since(session: Session, since: datetime) -> int:
    """Count the proposals that were kept or dismissed since a moment."""
    return session.scalar(select(func.count()).select_from(KeptLesson).where(KeptLesson.key != "", KeptLesson.at >= since)) or 0


def opened_since(session: Session, since: datetime) -> list[tuple[int, int | None, str]]:
    """List bottles that went, of fillings since a moment, in order of filling: filling, hiss, how it left."""
    query = select(Bottle.bottling_id, Bottle.hiss, Bottle.left_as).join(Bottling, Bottling.id == Bottle.bottling_id)
    rows = session.execute(query.where(Bottling.at >= since, Bottle.state == BottleState.GONE).order_by(Bottling.at, Bottle.id))
    return [(filling, hiss, left) for filling, hiss, left in rows]


def fillings(session: Session, numbers: Sequence[int]) -> list[Bottling]:
    """List fillings by number."""
    return list(session.scalars(select(Bottling).where(Bottling.id.in_(numbers)).options(joinedload(Bottling.kept)))) if numbers else []


def ended_since(session: Session, since: datetime) -> list[tuple[int, str, str, datetime, bool, list[list[float]]]]:
    """List brews that ended since a moment: number, vessel, place, when started, whether discarded, how its forecasts stood the test."""
    query = (
        select(Brew.id, Vessel.name, Place.name, Brew.pitched_at, Brew.status, Lesson.tests)
        .join(Vessel, Vessel.id == Brew.vessel_id)
        .outerjoin(Standing, (Standing.vessel_id == Brew.vessel_id) & (Standing.since <= Brew.pitched_at) & (Standing.until.is_(None) | (Standing.until > Brew.pitched_at)))
        .outerjoin(Place, Place.id == Standing.place_id)
        .outerjoin(Lesson, Lesson.brew_id == Brew.id)
        .where(Brew.ended_at >= since)
        .order_by(Brew.pitched_at)
    )
    return [(number, vessel, place or "", at, status == BrewStatus.DISCARDED, tests or []) for number, vessel, place, at, status, tests in session.execute(query)]


def scored_since(session: Session, since: datetime) -> list[tuple[int, str, int]]:
    """List scores since a moment that are not blind any more: filling, taster, liked."""
    query = select(Score).outerjoin(Comparison, Score.comparison_id == Comparison.id).options(joinedload(Score.taster))
    rows = session.scalars(query.where(Score.at >= since, Score.comparison_id.is_(None) | Comparison.revealed_at.is_not(None)).order_by(Score.at))
    return [(row.bottling_id, row.taster.name, row.liked) for row in rows]


def found_empty(session: Session, since: date) -> list[CupboardCount]:
    """List counts that found nothing since a day."""
    return list(session.scalars(select(CupboardCount).where(CupboardCount.day >= since, CupboardCount.amount == 0.0).order_by(CupboardCount.day)))


def last_notes(session: Session, most: int) -> list[Note]:
    """List the last notes, whatever they are about."""
    query = select(Note).where(Note.struck.is_(False)).options(joinedload(Note.taster)).order_by(Note.at.desc(), Note.id.desc()).limit(most)
    return list(session.scalars(query))
