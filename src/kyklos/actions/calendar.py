"""Days: what is put off, absences, days planned on the almanac, the calendar's private address."""

from __future__ import annotations

import re
import secrets
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..store.read import planning_queries, queries
from ..store.records import Away, PlannedDay, PutOff, Vessel
from .base import Checks, Done, action, flushed

LONGEST_PUT_OFF = timedelta(days=14)
PLANS = {"harvest": "Harvest", "brew": "Brew in", "draw": "Draw from"}


@dataclass(frozen=True, slots=True, kw_only=True)
class PutOffDue:
    """A due thing that is not to be done now."""

    what: str  #: Like brew-7-taste or meter-1
    until: datetime


@action
def put_off(session: Session, ask: PutOffDue, at: datetime) -> Done:
    """Put a due thing off; it waits at the end of the round, and comes back by itself."""
    checks = Checks()
    checks.refuse_if(re.fullmatch(r"[a-z]+-\d+(-[a-z]+)?", ask.what) is None, "", "That cannot be put off.")
    grave = ask.what.endswith(("-discard", "-hold"))
    checks.refuse_if(grave, "", "That cannot wait: it is a matter of safety.")
    checks.refuse_if(ask.until <= at, "until", "Choose a time to come.")
    checks.refuse_if(ask.until > at + LONGEST_PUT_OFF, "until", "Two weeks at the most: then it asks again.")
    checks.done()
    for row in session.scalars(select(PutOff).where(PutOff.what == ask.what, PutOff.until > at)):
        session.delete(row)
    return Done(
        "Put off. It waits at the end of the round.",
        {"put_off": flushed(session, PutOff(what=ask.what, at=at, until=ask.until))},
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeUp:
    """A put-off thing taken up again."""

    number: int


@action
def take_up(session: Session, ask: TakeUp, at: datetime) -> Done:
    """Bring a put-off thing back to the round."""
    row = queries.get(session, PutOff, ask.number)
    row.until = at
    return Done("Back on the round.")


@dataclass(frozen=True, slots=True, kw_only=True)
class GoAway:
    """Dates of an absence; both days away."""

    leaves: date
    returns: date


@action
def go_away(session: Session, ask: GoAway, at: datetime) -> Done:
    """Keep the dates of an absence."""
    checks = Checks()
    checks.refuse_if(ask.returns <= ask.leaves, "returns", "You come back after you leave.")
    checks.refuse_if((ask.returns - ask.leaves).days > 180, "returns", "Half a year at the most.")
    checks.refuse_if(ask.leaves < ask.returns < at.date(), "returns", "That is over already.")
    checks.done()
    for row in session.scalars(select(Away).where(Away.back_at.is_(None))):
        session.delete(row)
    made = flushed(session, Away(leaves=ask.leaves, returns=ask.returns, at=at))
    return Done(f"Away from {ask.leaves:%-d %B} to {ask.returns:%-d %B}.", {"away": made})


@dataclass(frozen=True, slots=True, kw_only=True)
class ComeBack:
    """The end of an absence."""

    away_id: int


@action
def come_back(session: Session, ask: ComeBack, at: datetime) -> Done:
    """End an absence."""
    row = queries.get(session, Away, ask.away_id)
    row.back_at = at
    return Done("Welcome back.")


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanDay:
    """A day meant for something at a vessel."""

    kind: str  #: harvest, brew or draw
    vessel_id: int
    day: date
    plan_id: int | None = None  #: Of a planned day that is moved; None: the vessel's own of that kind, or a new one.


@action
def plan_day(session: Session, ask: PlanDay, at: datetime) -> Done:
    """Plan or move a day; a vessel has one of each kind, besides those of the plan."""
    vessel, checks = queries.get(session, Vessel, ask.vessel_id), Checks()
    brew = queries.brew_in(session, vessel.id)
    checks.refuse_if(ask.kind not in PLANS, "kind", "Choose what is meant.")
    checks.refuse_if(ask.kind == "draw" and not (brew is not None and brew.runs), "kind", "Nothing runs in it to draw from.")
    checks.refuse_if(ask.kind == "harvest" and brew is None, "kind", "Nothing stands in it to harvest.")
    checks.refuse_if(ask.day < at.date() - timedelta(days=1), "day", "That day is over.")
    checks.refuse_if((ask.day - at.date()).days > 400, "day", "That is too far ahead.")
    checks.done()
    there = [p for p in planning_queries.planned_days(session) if p.kind == ask.kind and p.vessel_id == vessel.id]
    row = next((p for p in there if p.id == ask.plan_id), None) or next((p for p in there if not p.by_plan), None)
    if row is None:
        row = PlannedDay(kind=ask.kind, vessel_id=vessel.id, day=ask.day, at=at, by_plan=False)
        session.add(row)
    row.day, row.brew_id = ask.day, brew.id if brew is not None and ask.kind == "harvest" else None
    session.flush()
    return Done(f"{PLANS[ask.kind]} {vessel.name} on {ask.day:%A %-d %B}.", {"plan": row.id})


@dataclass(frozen=True, slots=True, kw_only=True)
class DropPlan:
    """A planned day that is not meant any more."""

    plan_id: int


@action
def drop_plan(session: Session, ask: DropPlan, at: datetime) -> Done:
    """Take a planned day off the almanac."""
    row = queries.get(session, PlannedDay, ask.plan_id)
    row.done_at = at
    return Done("No longer planned.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Feed:
    """Whether the calendar has an address."""

    wanted: bool


@action
def set_feed(session: Session, ask: Feed, at: datetime) -> Done:
    """Give the calendar a new private address, or none; an earlier address is dead at once."""
    house = queries.household_of(session)
    if house.id is None:
        session.add(house)
    house.feed_key = secrets.token_urlsafe(24) if ask.wanted else ""
    return Done("The calendar has a new private address." if ask.wanted else "The calendar has no address any more.")
