"""Questions about what is planned and kept for it: recipes, tools, instruments, absences, planned days, brew days under way."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, contains_eager, joinedload

from ..records import Away, BrewDay, Instrument, KeptRecipe, KitchenDay, PlannedDay, PutOff, Timer, Tool
from .memory import once

_ABSENCE = select(Away).where(Away.back_at.is_(None)).order_by(Away.id.desc())
_INSTRUMENTS = select(Instrument).where(Instrument.retired_at.is_(None)).order_by(Instrument.id)
_TIMERS = (
    select(Timer)
    .join(Timer.day)
    .where(Timer.stopped_at.is_(None), BrewDay.ended_at.is_(None))
    .options(contains_eager(Timer.day).load_only(BrewDay.step))
    .order_by(Timer.ends_at)
)
def recipes(session: Session) -> list[KeptRecipe]:
    """List kept recipes by name."""
    return list(session.scalars(select(KeptRecipe).where(KeptRecipe.dropped_at.is_(None)).order_by(KeptRecipe.name)))


@once
def tools(session: Session) -> list[Tool]:
    """List the kitchen's tools."""
    return list(session.scalars(select(Tool).order_by(Tool.kind, Tool.litres.desc(), Tool.id)))


@once
def instruments(session: Session) -> list[Instrument]:
    """List instruments in use."""
    return list(session.scalars(_INSTRUMENTS))


def waiting(session: Session, now: datetime) -> list[PutOff]:
    """List what is put off until later than now."""
    return list(session.scalars(select(PutOff).where(PutOff.until > now).order_by(PutOff.until)))


def absence(session: Session) -> Away | None:
    """Find the absence that is not over."""
    return session.scalars(_ABSENCE).first()


@once
def planned_days(session: Session) -> list[PlannedDay]:
    """List planned days that still stand: not done, and their brew lives where they are for one."""
    query = (
        select(PlannedDay)
        .where(PlannedDay.done_at.is_(None))
        .options(joinedload(PlannedDay.vessel), joinedload(PlannedDay.brew))
    )
    rows = session.scalars(query.order_by(PlannedDay.day, PlannedDay.id))
    return [row for row in rows if row.brew is None or row.brew.alive]


def running_days(session: Session) -> list[BrewDay]:
    """List brew days that were begun and are not over."""
    return list(session.scalars(select(BrewDay).where(BrewDay.ended_at.is_(None)).order_by(BrewDay.started_at)))


@once
def kitchen_day(session: Session) -> KitchenDay | None:
    """Find the day in the kitchen that is under way."""
    return session.scalars(select(KitchenDay).where(KitchenDay.ended_at.is_(None)).order_by(KitchenDay.id.desc())).first()


def running_timers(session: Session) -> list[Timer]:
    """List timers that were not stopped, of brew days that are not over, soonest first."""
    return list(session.scalars(_TIMERS))


