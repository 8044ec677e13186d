"""The quick line, saved: one line, one step to undo."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.base.kinds import BottleState, NoteOn
from ..core.base.saying import bottles_word
from ..core.quick.amounts import QuickAmount
from ..core.quick.said import DeedKind
from ..reckon.bottles.cellar import name_of
from ..store.read.queries import get
from ..store.records import Bottle, Bottling, Brew, Note
from .base import Checks, Done, action, flushed
from .bottles.cellar import FinishBottles, HearBottles, MoveBottles, OpenBottle, chill, finish, hear, open_one, warm
from .bottles.harvest import ReserveStarter, reserve
from .brewing.happenings import PutIn, TakeOut, put_in_brew, take_out_of
from .brewing.put_right import MoveVessel, move
from .brewing.readings import (
    LogLook,
    LogReading,
    LogTasting,
    goes_on,
    living,
    write_look,
    write_reading,
    write_tasting,
)
from .cultures.keeping import FeedHotel, tend
from .notes import MOST_WORDS
from .supply import Buy, CountGood, MakeWish, write_count, write_purchase, write_wish

COLD_FIRST = (BottleState.COLD, BottleState.WARM)
WHICH = {
    DeedKind.OPENED: COLD_FIRST,
    DeedKind.DRUNK: COLD_FIRST,
    DeedKind.GIVEN: COLD_FIRST,
    DeedKind.LOST: COLD_FIRST[::-1],
    DeedKind.CHILLED: (BottleState.WARM,),
    DeedKind.BURPED: (BottleState.WARM,),
    DeedKind.SQUEEZED: (BottleState.WARM,),
    DeedKind.WARMED: (BottleState.COLD,),
}  #: Which bottles a deed is about, those first that are likelier meant.


@dataclass(frozen=True, slots=True, kw_only=True)
class OnBottles:
    """What a line tells of bottles."""

    kind: DeedKind
    bottling_ids: tuple[int, ...]  #: Fillings.
    count: int | None = None  #: None: all that fit.
    hiss: int | None = None  #: 0 (silent) to 4 (gushed)


@dataclass(frozen=True, slots=True, kw_only=True)
class SaveQuick:
    """What a line was understood as."""

    brew_id: int | None = None  #: Where it tells of a brew.
    reading: LogReading | None = None
    tastings: tuple[LogTasting, ...] = ()
    look: LogLook | None = None
    amounts: tuple[QuickAmount, ...] = ()  #: Taken out or put in.
    starter: ReserveStarter | None = None
    move: MoveVessel | None = None
    feed: FeedHotel | None = None
    bottles: OnBottles | None = None
    buy: Buy | None = None
    count: CountGood | None = None
    wish: MakeWish | None = None
    note: str = ""
    at: datetime | None = None  #: Now, unless given.


@action
def save_quick(session: Session, ask: SaveQuick, at: datetime) -> Done:
    """Write all of a line, or nothing of it."""
    return _saved(session, ask, at)


@dataclass(frozen=True, slots=True, kw_only=True)
class SaveAll:
    """A line that tells several things."""

    lines: tuple[SaveQuick, ...]


@action
def save_all(session: Session, ask: SaveAll, at: datetime) -> Done:
    """Write all that a line tells, or nothing of it."""
    done = [_saved(session, one, at) for one in ask.lines]
    made = {kind: number for one in done for kind, number in one.made.items()}
    return Done(" ".join(one.says for one in done), made)


def _saved(session: Session, ask: SaveQuick, at: datetime) -> Done:
    checks, when = Checks(), ask.at or at
    deeds = (ask.starter, ask.move, ask.feed, ask.bottles, ask.buy, ask.count, ask.wish)
    text = ask.reading or ask.tastings or ask.look or ask.amounts or ask.note.strip()
    checks.refuse_if(not text and not any(deeds), "line", "There is nothing in it to keep.")
    of_no_jar = ask.feed or ask.bottles or ask.buy or ask.count or ask.wish
    checks.refuse_if(ask.brew_id is None and not of_no_jar, "line", "Say which jar or bottles.")
    checks.done()
    if ask.buy is not None:
        return write_purchase(session, ask.buy, at)
    if ask.count is not None:
        return write_count(session, ask.count, at)
    if ask.wish is not None:
        return write_wish(session, ask.wish, at)
    if ask.bottles is not None:
        return _on_bottles(session, ask.bottles, ask.note.strip(), when, at)
    if ask.feed is not None:
        return tend(session, ask.feed, at)
    brew = living(session, ask.brew_id or 0)
    made: dict[str, int] = {}
    says: list[str] = []
    if ask.reading is not None:
        made["reading"], words = write_reading(session, ask.reading, brew, at)
        goes_on(session, brew, made["reading"])
        says.append(words)
    if ask.look is not None:
        made["look"], words = write_look(session, ask.look, brew, at)
        says.append(words)
    for tasting in ask.tastings:
        made["tasting"], words = write_tasting(session, tasting, brew, at)
        says.append(words)
    says += [_amount(session, one, brew, ask.at, at) for one in ask.amounts]
    if ask.starter is not None:
        says.append(reserve(session, ask.starter, at).says.rstrip("."))
    if ask.move is not None:
        says.append(move(session, ask.move, at).says.rstrip("."))
    if ask.note.strip():
        made["note"] = flushed(session, Note(about=NoteOn.BREW, about_id=brew.id, at=when, text=ask.note.strip()[:MOST_WORDS]))
        says.append(f"“{ask.note.strip()[:60]}”")
    return Done(f"{brew.vessel.name}: {', '.join(says)}.", made)


def _amount(session: Session, amount: QuickAmount, brew: Brew, when: datetime | None, at: datetime) -> str:
    """Take out or put in what a line says; gives what it says."""
    if amount.put:
        return put_in_brew(session, PutIn(brew_id=brew.id, enters=amount.what, litres=amount.litres, at=when), at).says
    return take_out_of(session, TakeOut(brew_id=brew.id, leaves=amount.what, litres=amount.litres, at=when), at).says


def _meant(session: Session, ask: OnBottles) -> list[Bottle]:
    """Choose the bottles that a line is about; refuse when fewer stand than it tells."""
    wanted = WHICH[ask.kind]
    query = select(Bottle).where(Bottle.bottling_id.in_(ask.bottling_ids), Bottle.state.in_(wanted))
    there = sorted(session.scalars(query), key=lambda b: (wanted.index(BottleState(b.state)), b.id))
    checks = Checks()
    where = "" if len(wanted) > 1 else " at room temperature" if wanted[0] is BottleState.WARM else " in the fridge"
    checks.refuse_if(not there, "line", f"No such bottle stands{where}.")
    more = ask.count is not None and ask.count > len(there) > 0
    checks.refuse_if(more, "line", f"Only {bottles_word(len(there))} of it stand{where}.")
    checks.done()
    return there if ask.count is None else there[: ask.count]


def _on_bottles(session: Session, ask: OnBottles, words: str, when: datetime, at: datetime) -> Done:
    """Do with bottles what a line tells; words that are left are kept with them."""
    fillings = [get(session, Bottling, number) for number in ask.bottling_ids]
    name = name_of(fillings[0].bottles[0]) if len(fillings) == 1 else "Bottles"
    says = "" if ask.kind is DeedKind.SAID else _done(session, ask, _meant(session, ask), words, when, at).says
    if words and ask.kind is not DeedKind.OPENED:
        session.add_all(Note(about=NoteOn.FILLING, about_id=filling.id, at=when, text=words[:MOST_WORDS]) for filling in fillings)
        session.flush()
        says = f"{says} “{words[:60]}”".strip()
    return Done(f"{name}: {says}")


def _done(
    session: Session, ask: OnBottles, bottles: Sequence[Bottle], words: str, when: datetime, at: datetime
) -> Done:
    numbers = tuple(bottle.id for bottle in bottles)
    if ask.kind is DeedKind.OPENED:
        for number in numbers:
            open_one(session, OpenBottle(bottle_id=number, hiss=-1 if ask.hiss is None else ask.hiss, taste=words, at=when), at)
        return Done(f"{bottles_word(len(numbers))} opened. Enjoy.")
    if ask.kind in {DeedKind.BURPED, DeedKind.SQUEEZED}:
        return hear(session, HearBottles(bottle_ids=numbers, how=ask.kind, hiss=ask.hiss, at=when), at)
    if ask.kind is DeedKind.CHILLED:
        return chill(session, MoveBottles(bottle_ids=numbers, at=when), at)
    if ask.kind is DeedKind.WARMED:
        return warm(session, MoveBottles(bottle_ids=numbers, at=when), at)
    return finish(session, FinishBottles(bottle_ids=numbers, drunk=ask.kind is DeedKind.DRUNK, at=when), at)
