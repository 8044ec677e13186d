"""What became of the brews of a vessel: the last few of every vessel, and one vessel's whole past in a line."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import Integer, Row, cast, func, select
from sqlalchemy.orm import Session, aliased

from ...core.base.kinds import BrewStatus
from ..records import Bottling, Brew, Score, Vessel

LAST = 5  #: So many brews of each vessel.


@dataclass(frozen=True, slots=True)
class PastBrew:
    """A brew that ended, and how its bottles were liked."""

    vessel_id: int
    brew_id: int
    pitched_at: datetime
    ended_at: datetime
    lost: bool
    liked: float | None  #: Mean of 1 to 5; None: nobody said. [-]


@dataclass(frozen=True, slots=True)
class VesselPast:
    """All brews of a vessel that ended, in figures."""

    brews: int
    since: datetime
    shortest_days: float
    longest_days: float
    lost: int
    best: PastBrew | None  #: The one whose bottles were liked most; None: nobody said.


_DAYS = func.julianday(Brew.ended_at) - func.julianday(Brew.pitched_at)
_ONE = aliased(Brew)
_LAST = (
    select(_ONE.id).where(_ONE.vessel_id == Vessel.id, _ONE.ended_at.is_not(None)).order_by(_ONE.ended_at.desc()).limit(LAST).correlate(Vessel)
)
_LIKED = select(Bottling.brew_id, func.avg(Score.liked).label("liked")).join(Score, Score.bottling_id == Bottling.id).group_by(Bottling.brew_id)


def _past(row: Row[Any]) -> PastBrew:
    values: tuple[Any, ...] = tuple(row)
    vessel, brew, pitched, ended, status, liked = values
    return PastBrew(vessel, brew, pitched, ended, status == BrewStatus.DISCARDED, liked)


def last_brews(session: Session) -> dict[int, list[PastBrew]]:
    """Return the last brews of each vessel that ended, the newest last."""
    kept = select(Brew.id).join(Vessel, Brew.id.in_(_LAST))
    liked = _LIKED.where(Bottling.brew_id.in_(kept)).subquery()
    query = (
        select(Brew.vessel_id, Brew.id, Brew.pitched_at, Brew.ended_at, Brew.status, liked.c.liked)
        .outerjoin(liked, liked.c.brew_id == Brew.id)
        .where(Brew.id.in_(kept))
        .order_by(Brew.ended_at)
    )
    out: dict[int, list[PastBrew]] = {}
    for row in session.execute(query):
        out.setdefault(row[0], []).append(_past(row))
    return out


def past_of(session: Session, vessel_id: int) -> VesselPast | None:
    """Return what became of all brews of a vessel; None: none ended."""
    lost = func.sum(cast(Brew.status == BrewStatus.DISCARDED, Integer))
    here = (Brew.vessel_id == vessel_id, Brew.ended_at.is_not(None))
    count, since, shortest, longest, gone = session.execute(
        select(func.count(), func.min(Brew.pitched_at), func.min(_DAYS), func.max(_DAYS), lost).where(*here)
    ).one()
    if not count:
        return None
    liked = _LIKED.subquery()
    best = session.execute(
        select(Brew.vessel_id, Brew.id, Brew.pitched_at, Brew.ended_at, Brew.status, liked.c.liked)
        .join(liked, liked.c.brew_id == Brew.id)
        .where(*here)
        .order_by(liked.c.liked.desc(), Brew.ended_at.desc())
        .limit(1)
    ).first()
    return VesselPast(count, since, float(shortest), float(longest), int(gone or 0), None if best is None else _past(best))
