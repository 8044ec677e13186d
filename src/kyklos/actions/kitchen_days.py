"""A day of several vessels, walked: begun, one step after another, put away."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ..core.brewing.day_walk import DayWalk
from ..reckon.kitchen_walk import under_way
from ..store.read import planning_queries, queries
from ..store.read.documents import pack, walk_of
from ..store.records import KitchenDay
from .base import Checks, ConflictError, Done, action, flushed

MOST_STEPS = 200
UNDER_WAY = "A day in the kitchen is under way: finish it or put it away first."


@dataclass(frozen=True, slots=True, kw_only=True)
class StartKitchenDay:
    """A day laid out, to be walked from now on."""

    walk: DayWalk


@action
def start_kitchen_day(session: Session, ask: StartKitchenDay, at: datetime) -> Done:
    """Begin a day; one at a time. One that cannot be read any more is put away."""
    checks, before = Checks(), planning_queries.kitchen_day(session)
    if before is not None:
        checks.refuse_if(under_way(session, at) is not None, "", UNDER_WAY)
        before.ended_at = at
    checks.refuse_if(not 1 <= len(ask.walk.steps) <= MOST_STEPS, "", "There is nothing to do: choose a vessel.")
    checks.done()
    names = ", ".join(name for name, _ in ask.walk.vessels)
    return Done(f"The day begins: {names}.", {"day": flushed(session, KitchenDay(walk=pack(ask.walk), done={}, began_at=at))})


@dataclass(frozen=True, slots=True, kw_only=True)
class FinishStep:
    """A step that is done."""

    day_id: int
    step: int


def _living(session: Session, number: int) -> KitchenDay:
    day = queries.get(session, KitchenDay, number)
    if day.ended_at is not None:
        raise ConflictError("This day in the kitchen is over.")
    return day


@action
def finish_step(session: Session, ask: FinishStep, at: datetime) -> Done:
    """Note that a step is done, and when; with the last one the day is over."""
    day, checks = _living(session, ask.day_id), Checks()
    steps = walk_of(day.walk).steps
    known = 0 <= ask.step < len(steps)
    checks.refuse_if(not known, "", "There is no such step.")
    checks.refuse_if(
        known and any(str(need.step) not in day.done for need in steps[ask.step].needs), "", "Something else has to be done before it."
    )
    checks.done()
    minutes = round((at - day.began_at) / timedelta(minutes=1), 2)
    day.done = {**day.done, str(ask.step): day.done.get(str(ask.step), minutes)}
    if len(day.done) == len(steps):
        day.ended_at = at
        return Done("The day in the kitchen is done.")
    return Done(f"Step {ask.step + 1} of {len(steps)} is done.")


@dataclass(frozen=True, slots=True, kw_only=True)
class StepBack:
    """The step done last was not done."""

    day_id: int


@action
def step_back(session: Session, ask: StepBack, at: datetime) -> Done:
    """Take back the step done last."""
    day, checks = _living(session, ask.day_id), Checks()
    checks.refuse_if(not day.done, "", "No step is done yet.")
    checks.done()
    last = max(day.done, key=lambda step: (day.done[step], int(step)))
    day.done = {step: minutes for step, minutes in day.done.items() if step != last}
    return Done(f"Step {int(last) + 1} is to be done again.")


@dataclass(frozen=True, slots=True, kw_only=True)
class EndKitchenDay:
    """A day put away before its end."""

    day_id: int


@action
def end_kitchen_day(session: Session, ask: EndKitchenDay, at: datetime) -> Done:
    """Put a day away; what was written down on the way stays."""
    _living(session, ask.day_id).ended_at = at
    return Done("The day in the kitchen is put away.")
