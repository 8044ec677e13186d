"""What enough to drink asks for today: planned days, guests who come, flavours that run out, goods that are low."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session

from ...core.base.kinds import BottleState
from ...core.supply.shopping import GoodNeed
from ...store.read import planning_queries, queries, supply_queries
from ...store.records import PlannedDay, Wished
from .cupboard import InCupboard, cupboard, low
from .drunk import RunsOut, runs_out, wishes_ahead

OVERDUE_DAYS = 14  #: A planned day is asked for so long after it. [d]
GUESTS_DAYS = 7  #: Guests are said so long before they come. [d]
BEST_BEFORE_DAYS = 21  #: A best before day is said so long before (assumed). [d]
SOON_DAYS = 10.0  #: A flavour that lasts longer is not said (assumed). [d]


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is asked for today."""

    planned: tuple[PlannedDay, ...] = ()
    guests: tuple[Wished, ...] = ()
    running_out: tuple[RunsOut, ...] = ()
    low: tuple[GoodNeed, ...] = ()
    best_before: tuple[InCupboard, ...] = ()  #: Goods whose day is near.


def wanted(session: Session, today: date, now: datetime) -> Wanted:
    """Put together what is asked for today; nothing where there is plenty."""
    planned = tuple(row for row in planning_queries.planned_days(session) if row.kind != "harvest" and today - timedelta(days=OVERDUE_DAYS) <= row.day <= today)
    guests = tuple(row for row in wishes_ahead(session, now) if row.until is None and 0 <= (row.day - today).days <= GUESTS_DAYS)
    out: tuple[RunsOut, ...] = ()
    if supply_queries.first_drink(session) is not None:
        standing = queries.bottles(session, BottleState.WARM, BottleState.COLD)
        out = tuple(one for one in runs_out(session, standing, now) if one.likely_at <= now + timedelta(days=SOON_DAYS))
    if not supply_queries.keeps_account(session):
        return Wanted(planned, guests, out)
    near = tuple(one for one in cupboard(session, now) if one.left > 0 and one.best_before is not None and (one.best_before - today).days <= BEST_BEFORE_DAYS)
    return Wanted(planned, guests, out, tuple(low(session, now)), near)
