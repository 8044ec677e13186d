"""What stood beside a thing: the same shelf at the same time, even if one of them was moved since."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import or_, select
from sqlalchemy.orm import Session, aliased

from ...store.records import Standing


def vessels_beside(session: Session, vessel_id: int, since: datetime, until: datetime) -> set[int]:
    """Return the vessels that stood on the same shelf as one at some moment of a span.

    Args:
        session: Of the household.
        vessel_id: Whose neighbours.
        since, until: The span.
    """
    own, other = aliased(Standing), aliased(Standing)
    query = (
        select(other.vessel_id)
        .join(own, own.place_id == other.place_id)
        .where(own.vessel_id == vessel_id, other.vessel_id.is_not(None), other.vessel_id != vessel_id)
        .where(own.since < until, or_(own.until.is_(None), own.until > since))
        .where(other.since < until, or_(other.until.is_(None), other.until > since))
        .where(or_(own.until.is_(None), other.since < own.until), or_(other.until.is_(None), own.since < other.until))
    )
    return {number for number in session.scalars(query) if number is not None}
