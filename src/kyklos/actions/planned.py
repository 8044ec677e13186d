"""What was planned for a vessel is done when it is done: a brew or a draw serves the day that was meant for it."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..store.records import PlannedDay

EARLY_DAYS = {"brew": 7, "draw": 2}  #: Done so much sooner it still serves the day that was meant. [d]


def served(session: Session, vessel_id: int, kind: str, at: datetime) -> None:
    """Mark the first open planned day of a vessel as done, where this is what it meant; days before it are over too."""
    last = at.date() + timedelta(days=EARLY_DAYS[kind])
    query = select(PlannedDay).where(PlannedDay.vessel_id == vessel_id, PlannedDay.kind == kind, PlannedDay.done_at.is_(None), PlannedDay.at <= at)
    rows = [row for row in session.scalars(query.order_by(PlannedDay.day, PlannedDay.id)) if row.day <= last or not row.by_plan]
    over = [row for row in rows if row.day <= at.date()] or rows[:1]
    for row in over:
        row.done_at = at
