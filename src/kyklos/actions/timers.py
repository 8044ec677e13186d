"""Timers of a brew day: they live here, so that a closed lid stops none of them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ..store.read import queries
from ..store.records import Timer
from .base import Checks, Done, action, flushed
from .brew_days import living_day

LONGEST_TIMER_MINUTES = 48 * 60.0  #: [min]
LEAST_TIMED = timedelta(minutes=1)  #: A timer stopped sooner was a slip, and tells nothing.


@dataclass(frozen=True, slots=True, kw_only=True)
class StartTimer:
    """A wait."""

    day_id: int
    step: str
    name: str
    minutes: float  #: [min]


@action
def start_timer(session: Session, ask: StartTimer, at: datetime) -> Done:
    """Start a timer; it runs here, whatever happens to the page."""
    day, checks = living_day(session, ask.day_id), Checks()
    checks.refuse_if(
        not 0.05 <= ask.minutes <= LONGEST_TIMER_MINUTES, "minutes", "A timer runs from a few seconds to two days."
    )
    checks.done()
    name = f"{day.vessel.name}: {ask.name.strip()[:40] or 'timer'}"
    timer = Timer(
        day_id=day.id, step=ask.step[:40], name=name, started_at=at, ends_at=at + timedelta(minutes=ask.minutes)
    )
    return Done(f"{name} runs.", {"timer": flushed(session, timer)})


@dataclass(frozen=True, slots=True, kw_only=True)
class StopTimer:
    """A timer that is done, or not wanted."""

    timer_id: int


@action
def stop_timer(session: Session, ask: StopTimer, at: datetime) -> Done:
    """Stop a timer; how long it ran is a fact of its step."""
    timer = queries.get(session, Timer, ask.timer_id)
    timer.stopped_at = timer.stopped_at or at
    day = timer.day
    ran = timer.stopped_at - timer.started_at
    if timer.step.startswith("steep") and day.ended_at is None and ran >= LEAST_TIMED:
        minutes = round(ran / timedelta(minutes=1), 1)
        name = "steep_minutes" + timer.step.removeprefix("steep")
        day.facts = {**day.facts, timer.step: {name: minutes, **day.facts.get(timer.step, {})}}
    return Done(f"{timer.name} stopped.")
