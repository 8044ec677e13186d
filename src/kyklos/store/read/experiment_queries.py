"""Questions about experiments, and about what of the kitchen was cared for."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from ...core.base.kinds import BottleState
from ...core.judging.observations import DISCARD, OBSERVATIONS
from ..records import Bottle, Bottling, Brew, CareRhythm, CareTaken, Experiment, Look, Vessel
from .memory import once

MOST = 40  #: So many are listed.


def experiments(session: Session) -> list[Experiment]:
    """List the last experiments, the newest first."""
    return list(session.scalars(select(Experiment).order_by(Experiment.id.desc()).limit(MOST)))


def brews_since(session: Session, since: datetime) -> list[Brew]:
    """List brews started since a moment, the newest first."""
    query = select(Brew).where(Brew.pitched_at >= since).order_by(Brew.pitched_at.desc()).limit(MOST)
    return list(session.scalars(query.options(joinedload(Brew.vessel), joinedload(Brew.culture))))


def fillings_since(session: Session, since: datetime) -> list[Bottling]:
    """List fillings since a moment, the newest first."""
    return list(session.scalars(select(Bottling).where(Bottling.at >= since).order_by(Bottling.at.desc()).limit(MOST).options(joinedload(Bottling.kept))))


def bottles_left(session: Session, fillings: Sequence[int]) -> dict[int, int]:
    """Count the bottles that are left of each filling."""
    query = select(Bottle.bottling_id, func.count()).where(Bottle.bottling_id.in_(fillings), Bottle.state != BottleState.GONE).group_by(Bottle.bottling_id)
    return {row[0]: row[1] for row in session.execute(query)}


def waiting(session: Session) -> list[Experiment]:
    """List experiments of which one brew is still to be brewed, the newest first."""
    return [row for row in experiments(session) if row.waits and row.ended_at is None]


@once
def _rhythms(session: Session) -> list[CareRhythm]:
    return list(session.scalars(select(CareRhythm)))


def rhythms(session: Session) -> dict[str, float]:
    """Return how often each thing is cared for, by its key. [d]"""
    return {row.what: row.every_days for row in _rhythms(session)}


def last_done(session: Session) -> dict[str, datetime]:
    """Return when each thing was last cared for."""
    rows = session.execute(select(CareTaken.what, func.max(CareTaken.at)).group_by(CareTaken.what))
    return {what: at for what, at in rows if at is not None}


def done_lately(session: Session, most: int) -> list[CareTaken]:
    """List what was cared for last, the newest first."""
    return list(session.scalars(select(CareTaken).order_by(CareTaken.at.desc(), CareTaken.id.desc()).limit(most)))


def moulded_since(session: Session, since: datetime) -> list[tuple[str, datetime]]:
    """List vessels in which something was seen since a moment that ends a brew: name, when."""
    grave = [key for key, one in OBSERVATIONS.items() if one.verdict == DISCARD and one.group == "surface"]
    query = select(Vessel.name, func.max(Look.at)).join(Brew, Brew.liquid_id == Look.liquid_id).join(Vessel, Vessel.id == Brew.vessel_id)
    rows = session.execute(query.where(Look.at >= since, Look.surface.in_(grave), Look.struck.is_(False)).group_by(Vessel.name))
    return [(name, at) for name, at in rows if at is not None]
