"""The quick line, saved: one line, one step to undo."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.quick_amounts import Amount
from ..store.models import Brew, Note
from .base import Checks, Done, action, flushed
from .brewing import LogLook, LogReading, LogTasting, goes_on, living, write_look, write_reading, write_tasting
from .happenings import PutIn, TakeOut, put_in_brew, take_out_of


@dataclass(frozen=True, slots=True, kw_only=True)
class SaveQuick:
    """What a line was understood as."""

    brew_id: int
    reading: LogReading | None = None
    tastings: tuple[LogTasting, ...] = ()
    look: LogLook | None = None
    amounts: tuple[Amount, ...] = ()  #: Taken out or put in.
    note: str = ""
    at: datetime | None = None  #: Now unless told.


@action
def save_quick(session: Session, ask: SaveQuick, at: datetime) -> Done:
    """Write all of a line, or nothing of it."""
    brew, checks = living(session, ask.brew_id), Checks()
    checks.refuse_if(
        not (ask.reading or ask.tastings or ask.look or ask.amounts or ask.note.strip()),
        "line",
        "There is nothing in it to keep.",
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
    says += [_amount(session, one, brew, ask.at, at) for one in ask.amounts]
    if ask.note.strip():
        made["note"] = flushed(session, Note(liquid_id=brew.liquid_id, at=ask.at or at, text=ask.note.strip()[:500]))
        says.append(f"“{ask.note.strip()[:60]}”")
    return Done(f"{brew.vessel.name}: {', '.join(says)}.", made)


def _amount(session: Session, amount: Amount, brew: Brew, when: datetime | None, at: datetime) -> str:
    """Take out or put in what a line says; gives what it says."""
    if amount.put:
        return put_in_brew(session, PutIn(brew_id=brew.id, enters=amount.what, litres=amount.litres, at=when), at).says
    return take_out_of(session, TakeOut(brew_id=brew.id, leaves=amount.what, litres=amount.litres, at=when), at).says
