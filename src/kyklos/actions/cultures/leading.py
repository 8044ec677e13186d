"""A line's own rules, and its way from one diet to another."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.cultures.conversion import STEP, TARGETS
from ...reckon.cultures import conversions
from ...store.read import culture_queries, queries
from ...store.records import Conversion, Culture
from ..base import Checks, Done, action, check_version, flushed


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeCulture:
    """A line's name, story and rule as they are to be."""

    culture_id: int
    name: str
    story: str = ""
    backups_wanted: int = 1
    version: int | None = None


@action
def change_culture(session: Session, ask: ChangeCulture, at: datetime) -> Done:
    """Write a line's name, story and how many backups the household keeps of it."""
    culture, checks, name = queries.get(session, Culture, ask.culture_id), Checks(), ask.name.strip()
    check_version(ask.version, culture.version, culture.name)
    checks.refuse_if(not 1 <= len(name) <= 40, "name", "Give the culture a name of up to 40 letters.")
    others = (c for c in culture_queries.cultures(session) if c.id != culture.id)
    checks.refuse_if(any(c.name.casefold() == name.casefold() for c in others), "name", "Another line has this name.")
    checks.between(ask.backups_wanted, "backups_wanted", 0, 20, "Backups of")
    checks.done()
    culture.name, culture.story, culture.backups_wanted = name, ask.story.strip()[:2000], int(ask.backups_wanted)
    return Done(f"{name} saved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class BeginConversion:
    """A line to be led to another diet."""

    culture_id: int
    target: str
    step: float = STEP  #: [-]


@action
def begin_conversion(session: Session, ask: BeginConversion, at: datetime) -> Done:
    """Begin to lead a line to another diet, by steps; it goes on until it is done or given up."""
    culture, checks = queries.get(session, Culture, ask.culture_id), Checks()
    checks.refuse_if(ask.target not in TARGETS, "target", "Choose where it is to be led.")
    checks.refuse_if(ask.target == culture.diet, "target", f"{culture.name} lives so already.")
    checks.refuse_if(conversions.running(culture) is not None, "", f"{culture.name} is being led already.")
    checks.between(ask.step, "step", 0.05, 0.5, "A step of")
    checks.done()
    row = Conversion(culture_id=culture.id, target=ask.target, step=ask.step, started_at=at)
    return Done(f"{culture.name} is being led to {TARGETS[ask.target][0]}.", {"conversion": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class EndConversion:
    """A conversion that is over."""

    conversion_id: int
    done: bool  #: It lives on the new diet; else it was given up.


@action
def end_conversion(session: Session, ask: EndConversion, at: datetime) -> Done:
    """End a conversion: the line's diet is the new one once its last step went well; or it is given up."""
    row, checks = queries.get(session, Conversion, ask.conversion_id), Checks()
    checks.refuse_if(row.ended_at is not None, "", "This conversion is over already.")
    arrived = conversions.advice_of(session, row.culture, at).kind == "done"
    checks.refuse_if(ask.done and not arrived, "", "Its last step is not there yet: go on, or give it up.")
    checks.done()
    row.ended_at = at
    if ask.done:
        row.culture.diet = row.target
        return Done(f"{row.culture.name} is fed with {TARGETS[row.target][0]} from now on.")
    return Done(f"{row.culture.name} is not led further.")
