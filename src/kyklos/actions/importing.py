"""A spreadsheet of brews and readings brought in: all of it at once, undone as one."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ..core.base.kinds import NoteOn
from ..core.sheets.spreadsheet import LONGEST_DAYS, BrewTold
from ..store.read import culture_queries, queries
from ..store.read.moments import days_between
from ..store.records import Brew, Note
from .base import Checks, Done, RefusedError, action
from .bottles.harvest import ended
from .brewing.readings import LogReading, write_reading
from .brewing.taking_over import TakeOver, begun_then

LEAST_LIFE = timedelta(hours=1)  #: A brew whose end is also its beginning counts as so long.


@dataclass(frozen=True, slots=True, kw_only=True)
class ImportSheet:
    """Brews as a spreadsheet holds them."""

    brews: tuple[BrewTold, ...]
    culture: str = "Imported"  #: Of those that name none.


@action
def import_sheet(session: Session, ask: ImportSheet, at: datetime) -> Done:
    """Write down brews with their readings; vessels and cultures are found by name, or begun."""
    checks = Checks()
    checks.refuse_if(not ask.brews, "", "There is no brew in it that can be brought in.")
    checks.done()
    readings = 0
    for row in sorted(ask.brews, key=lambda brew: (brew.began, brew.row)):
        try:
            readings += _one(session, row, ask.culture, at)
        except RefusedError as refused:
            checks.refuse_if(True, "", f"Row {row.row}: {refused}")
            checks.done()
    many = f"{len(ask.brews)} {'brew' if len(ask.brews) == 1 else 'brews'}"
    return Done(f"{many} and {readings} {'reading' if readings == 1 else 'readings'} brought in.", {"brews": len(ask.brews)})


def _one(session: Session, found: BrewTold, culture: str, at: datetime) -> int:
    """Write one brew; gives how many readings it has."""
    vessels = {v.name.casefold(): v.id for v in queries.vessels(session)}
    cultures = {c.name.casefold(): c.id for c in culture_queries.cultures(session)}
    line = found.culture or culture
    last = max([found.began, *(one.at for one in found.readings)])
    over = found.ended
    if over is None and days_between(found.began, at) > LONGEST_DAYS:
        over = last  # nobody said so, but it does not stand still
    days = days_between(found.began, min(over, at) if over is not None else at)
    began = min(found.began, at)
    ask = TakeOver(
        days_ago=max(0.0, days),
        doubt_days=0.0,
        litres=found.litres,
        vessel_id=vessels.get(found.vessel.casefold()),
        new_vessel=found.vessel,
        culture_id=cultures.get(line.casefold()),
        new_culture=line,
        sugar_g_per_l=found.sugar_g_per_l,
    )
    moment = began + timedelta(days=max(0.0, days))
    made = begun_then(session, ask, moment)
    brew = queries.get(session, Brew, made["brew"])
    for one in found.readings:
        reading = LogReading(brew_id=brew.id, ph=one.ph, celsius=one.celsius, instrument="strip", at=one.at, note=one.note, sure=True)
        write_reading(session, reading, brew, at)
    if found.note:
        session.add(Note(about=NoteOn.BREW, about_id=brew.id, at=last, text=found.note))
    if over is not None:
        session.flush()
        session.expire(brew)
        brew.no_next_brew = True
        ended(session, brew, max(over, last, found.began + LEAST_LIFE), keep_disc=False)
    session.flush()
    return len(found.readings)
