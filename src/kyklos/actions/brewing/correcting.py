"""Corrections: what was said before is kept; what is struck out lies in the bin and can be put back."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ...core.judging.observations import FINAL
from ...core.judging.overrule import LEAST_WORDS
from ...store.read import queries
from ...store.records import Look, Note, Photo, Reading, Tasting, TemperatureLog
from ..base import Checks, Done, action
from .readings import LogReading, goes_on, living, write_reading


@dataclass(frozen=True, slots=True, kw_only=True)
class CorrectReading:
    """A reading as it should have been."""

    reading_id: int
    now: LogReading


@action
def correct_reading(session: Session, ask: CorrectReading, at: datetime) -> Done:
    """Put a corrected reading in place of one that was wrong; what was said before is kept beside it."""
    old = queries.get(session, Reading, ask.reading_id)
    checks = Checks()
    checks.refuse_if(old.struck, "", "This reading was corrected or struck out already.")
    checks.done()
    brew = living(session, old.brew.id)
    number, says = write_reading(session, replace(ask.now, brew_id=brew.id, at=ask.now.at or old.at), brew, at)
    queries.get(session, Reading, number).replaces_id = old.id
    old.struck, old.struck_at = True, at
    goes_on(session, brew, number)
    return Done(f"Corrected: {says}. What was said before is kept.", {"reading": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class Strike:
    """A record that was wrong, of a kind that can be struck out."""

    kind: str  #: reading, tasting, look, photo, note or log
    number: int
    why: str = ""  #: Of a look that cannot be overruled: what it was really.


RECORDS: dict[str, Any] = {
    "reading": Reading,
    "tasting": Tasting,
    "look": Look,
    "photo": Photo,
    "note": Note,
    "log": TemperatureLog,
}


NAMES = {
    "reading": "Reading",
    "tasting": "Tasting",
    "look": "Look",
    "photo": "Photo",
    "note": "Note",
    "log": "Temperatures",
}


@action
def strike(session: Session, ask: Strike, at: datetime) -> Done:
    """Strike out a record: it goes to the bin, is crossed out where it stood, and counts no more."""
    checks = Checks()
    checks.refuse_if(ask.kind not in RECORDS, "", "That cannot be struck out.")
    checks.done()
    record = queries.get(session, RECORDS[ask.kind], ask.number)
    if isinstance(record, Look):
        final = FINAL & {record.surface, record.smell, *record.signs}
        untold = bool(final) and len(ask.why.strip()) < LEAST_WORDS
        checks.refuse_if(untold, "why", "Say in a few words what it was really, and how you know.")
        checks.done()
        record.mistaken = ask.why.strip()[:300]
    record.struck, record.struck_at = True, at
    return Done(f"{NAMES[ask.kind]} struck out. The bin keeps it.")


@action
def put_back(session: Session, ask: Strike, at: datetime) -> Done:
    """Take a record out of the bin: it counts again."""
    checks = Checks()
    checks.refuse_if(ask.kind not in RECORDS, "", "That cannot be put back.")
    checks.done()
    record = queries.get(session, RECORDS[ask.kind], ask.number)
    later = (
        ask.kind == "reading"
        and session.scalars(select(Reading).where(Reading.replaces_id == record.id, Reading.struck.is_(False))).first()
    )
    checks.refuse_if(bool(later), "", "A corrected reading stands in its place: strike that out first.")
    checks.refuse_if(not record.struck, "", "It stands already.")
    checks.done()
    record.struck, record.struck_at = False, None
    return Done(f"{NAMES[ask.kind]} put back: it counts again.")
