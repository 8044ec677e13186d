"""A spreadsheet of brews, readings, tastings and bottles brought in: all of it at once, undone as one."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from ..core.base.kinds import LeftAs, NoteOn
from ..core.base.saying import bottles_word
from ..core.liquid import Way
from ..core.sheets.told import LONGEST_DAYS, BottlesTold, BrewTold
from ..store.read import culture_queries, queries
from ..store.read.moments import days_between
from ..store.records import Bottling, Brew, Note, SheetShape, Taster
from .base import Checks, Done, RefusedError, action, flushed
from .bottles.cellar import goes_out
from .bottles.filling import FindBottles, write_found
from .bottles.harvest import ended
from .brewing.readings import LogLook, LogReading, LogTasting, write_look, write_reading, write_tasting
from .brewing.taking_over import TakeOver, begun_then

A_DAY = timedelta(days=1)  #: A day without its hour may lie one day ahead.
LEAST_LIFE = timedelta(hours=1)  #: A brew whose end is also its beginning counts as so long.
USUAL_HEADSPACE = 0.05  #: Of a bottle that nobody looked at (assumed). [-]
MOST_SHAPES = 40  #: The oldest is forgotten then.


@dataclass(frozen=True, slots=True, kw_only=True)
class ImportSheet:
    """Brews as a spreadsheet holds them."""

    brews: tuple[BrewTold, ...]
    culture: str = "Imported"  #: Of those that name none.
    bottles_left: bool = False  #: Bottles of which nobody wrote whether they are left are still there.
    shape: str = ""  #: By which the next file with these heads is known again; empty: nothing is remembered.
    said: dict[str, Any] = field(default_factory=dict)  #: What was said of its columns and units.


@action
def import_sheet(session: Session, ask: ImportSheet, at: datetime) -> Done:
    """Write down brews with what was read, tasted and filled; vessels, cultures and tasters are found by name, or begun."""
    return bring_in(session, ask, at)


def bring_in(session: Session, ask: ImportSheet, at: datetime) -> Done:
    """Write down brews, within another action."""
    checks = Checks()
    checks.refuse_if(not ask.brews, "", "There is no brew in it that can be brought in.")
    checks.done()
    for row in sorted(ask.brews, key=lambda brew: (brew.began, brew.row)):
        try:
            _one(session, row, ask, at)
        except RefusedError as refused:
            checks.refuse_if(True, "", f"Row {row.row}: {refused}" if row.row else str(refused))
            checks.done()
    if ask.shape:
        _remember(session, ask, at)
    return Done(f"{_told(ask.brews)} brought in.", {"brews": len(ask.brews)})


def _told(brews: tuple[BrewTold, ...]) -> str:
    counts = (
        (len(brews), "brew"),
        (sum(len(b.readings) for b in brews), "reading"),
        (sum(len(b.tastings) for b in brews), "taste"),
    )
    said = [f"{count} {word}{'' if count == 1 else 's'}" for count, word in counts if count or word != "taste"]
    bottles = sum(row.count for brew in brews for row in brew.bottles)
    said += [bottles_word(bottles)] if bottles else []
    return ", ".join(said[:-1]) + " and " + said[-1]


def _one(session: Session, found: BrewTold, ask: ImportSheet, at: datetime) -> None:
    """Write one brew."""
    checks = Checks()
    for moment in (found.began, found.ended):
        checks.refuse_if(moment is not None and moment > at + A_DAY, "", "That lies in the future.")
    checks.done()
    vessels = {v.name.casefold(): v.id for v in queries.vessels(session)}
    cultures = {c.name.casefold(): c.id for c in culture_queries.cultures(session)}
    line = found.culture or ask.culture
    last = max([found.began, *(one.at for one in found.readings), *(one.at for one in found.tastings), *(one.at for one in found.looks)])
    over = found.ended
    if over is None and days_between(found.began, at) > LONGEST_DAYS:
        over = last  # nobody said so, but it does not stand still
    days = days_between(found.began, min(over, at) if over is not None else at)
    began = min(found.began, at)
    taken = TakeOver(
        days_ago=max(0.0, days),
        doubt_days=0.0,
        litres=found.litres,
        vessel_id=vessels.get(found.vessel.casefold()),
        new_vessel=found.vessel,
        culture_id=cultures.get(line.casefold()),
        new_culture=line,
        honey=found.honey,
        sugar_g_per_l=found.sugar_g_per_l,
        recipe=found.recipe,
    )
    made = begun_then(session, taken, began + timedelta(days=max(0.0, days)))
    brew = queries.get(session, Brew, made["brew"])
    for one in found.readings:
        reading = LogReading(
            brew_id=brew.id, ph=one.ph, celsius=one.celsius, ta_g_per_l=one.ta_g_per_l, gravity=one.gravity, gravity_by="hydrometer" if one.gravity else "", instrument=one.by, at=one.at, note=one.note, sure=True
        )  # fmt: skip
        write_reading(session, reading, brew, at)
    for taste in found.tastings:
        who = _taster(session, taste.taster)
        write_tasting(session, LogTasting(brew_id=brew.id, taster_id=who, score=taste.score, at=taste.at, note=taste.note), brew, at)
    for look in found.looks:
        seen = LogLook(brew_id=brew.id, surface=look.surface, signs=look.signs, smell=look.smell, note=look.note, at=look.at)
        write_look(session, seen, brew, at)
    if found.note:
        session.add(Note(about=NoteOn.BREW, about_id=brew.id, at=last, text=found.note))
    if over is not None:
        session.flush()
        session.expire(brew)
        brew.no_next_brew = True
        for row in found.bottles:
            _fill(session, brew, row, ask, at)
        ended(session, brew, max(over, last, found.began + LEAST_LIFE), keep_disc=False)
    session.flush()


def _taster(session: Session, name: str) -> int:
    """Find a taster by whole or first name, or add one; a taste that names nobody is the first taster's."""
    tasters = queries.tasters_of(session)
    wanted = name.strip().casefold()
    for one in tasters:
        if not wanted or wanted in {one.name.casefold(), one.name.split()[0].casefold()}:
            return one.id
    taster = Taster(name=name.strip() or "Me", position=len(tasters))
    return flushed(session, taster)


def _fill(session: Session, brew: Brew, row: BottlesTold, ask: ImportSheet, at: datetime) -> None:
    """Write bottles as filled then; those that are not left went, nobody knows when."""
    found = FindBottles(
        brew_id=brew.id,
        kind=row.kind,
        count=row.count,
        volume_ml=row.volume_ml,
        filled_at=max(min(row.at, at), brew.pitched_at),
        note=row.flavour or "plain",
        headspace_fraction=USUAL_HEADSPACE,
    )
    left = row.left if row.left is not None else row.count if ask.bottles_left else 0
    filling = queries.get(session, Bottling, write_found(session, brew, found))
    for bottle in filling.bottles[left:]:
        goes_out(session, bottle, at, Way.GONE, LeftAs.GONE)


def _remember(session: Session, ask: ImportSheet, at: datetime) -> None:
    """Keep what was said of a spreadsheet for the next one with the same heads."""
    kept = queries.sheet_shapes(session)
    same = next((row for row in kept if row.shape == ask.shape), None)
    if same is None:
        for old in kept[MOST_SHAPES - 1 :]:
            session.delete(old)
        same = SheetShape(shape=ask.shape)
        session.add(same)
    same.said, same.at = dict(ask.said), at
