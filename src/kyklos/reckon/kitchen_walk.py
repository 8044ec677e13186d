"""Where a day in the kitchen is: what is at hand, what goes on by itself, how late it is."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ..core.brewing.day_walk import DayWalk, StepTime, ahead, at_hand, running_waits
from ..store.read import planning_queries
from ..store.read.documents import NO_WALK, UnreadableError, walk_of
from ..store.records import KitchenDay

LATE_MINUTES = 3  #: Less is not worth a word (assumed). [min]


@dataclass(frozen=True, slots=True)
class DayWaiting:
    """Something that goes on by itself."""

    step: int
    vessel: str
    what: str  #: steeps, cools
    over_at: datetime


@dataclass(frozen=True, slots=True)
class Walked:
    """A day under way."""

    walk: DayWalk
    done: int  #: Steps.
    times: tuple[StepTime, ...]  #: Of those that are left. [min from the start]
    at_hand: tuple[int, ...]
    waiting: tuple[DayWaiting, ...]
    done_at: datetime
    idle_minutes: float  #: Until there is something to do again; 0 where there is. [min]
    late_minutes: int  #: Behind what was laid out; 0 where it hardly is. [min]


def under_way(session: Session, now: datetime) -> tuple[KitchenDay, Walked] | None:
    """Find the day that is under way, and where it is; None where there is none, or what was kept of it cannot be read."""
    day = planning_queries.kitchen_day(session)
    if day is None:
        return None
    try:
        return day, walked(day, now)
    except UnreadableError:
        return None


def walked(day: KitchenDay, now: datetime) -> Walked:
    """Return where a day is now.

    Raises:
        UnreadableError: If what was kept of it is no day.
    """
    walk = walk_of(day.walk)
    try:
        done = {int(step): float(minutes) for step, minutes in day.done.items() if 0 <= int(step) < len(walk.steps)}
    except (TypeError, ValueError) as problem:
        raise UnreadableError(NO_WALK) from problem
    minutes = max(0.0, (now - day.began_at) / timedelta(minutes=1))
    times = ahead(walk.steps, done, walk.hands, minutes)
    end = max((one.end for one in times), default=max(done.values(), default=0.0))
    planned = max((one.end for one in ahead(walk.steps, {}, walk.hands, 0.0)), default=0.0)
    late = round(end - planned)
    waits = tuple(
        DayWaiting(n, walk.vessel_of(walk.steps[n])[0], walk.steps[n].waiting, day.began_at + timedelta(minutes=over))
        for n, over in running_waits(walk.steps, done)
    )
    finish = day.began_at + timedelta(minutes=end)
    hand = at_hand(walk, times, minutes)
    idle = 0.0 if hand else max(0.0, min((one.ready for one in times if one.ready > minutes), default=minutes) - minutes)
    return Walked(walk, len(done), times, hand, waits, finish, idle, late if late >= LATE_MINUTES else 0)
