"""The quick line, saved: one line, one step to undo."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..store.models import Note
from .base import Checks, Done, action, flushed
from .brewing import LogLook, LogReading, LogTasting, goes_on, living, write_look, write_reading, write_tasting


@dataclass(frozen=True, slots=True, kw_only=True)
class SaveQuick:
    """What a line was understood as."""

    brew_id: int
    reading: LogReading | None = None
    tastings: tuple[LogTasting, ...] = ()
    look: LogLook | None = None
    note: str = ""
    at: datetime | None = None  #: Now unless told.


@action
def save_quick(session: Session, ask: SaveQuick, at: datetime) -> Done:
    """Write all of a line, or nothing of it."""
    brew, checks = living(session, ask.brew_id), Checks()
    checks.refuse_if(
        not (ask.reading or ask.tastings or ask.look or ask.note.strip()), "line", "There is nothing in it to keep."
    )
    checks.done()
    made: dict[str, int] = {}
    says: list[str] = []
    if ask.reading is not None:
        made["reading"], told = write_reading(session, ask.reading, brew, at)
        goes_on(brew, ask.reading.ph)
        says.append(told)
    if ask.look is not None:
        made["look"], told = write_look(session, ask.look, brew, at)
        says.append(told)
    for tasting in ask.tastings:
        made["tasting"], told = write_tasting(session, tasting, brew, at)
        says.append(told)
    if ask.note.strip():
        made["note"] = flushed(session, Note(liquid_id=brew.liquid_id, at=ask.at or at, text=ask.note.strip()[:500]))
        says.append(f"“{ask.note.strip()[:60]}”")
    return Done(f"{brew.vessel.name}: {', '.join(says)}.", made)
