"""Bottles that stand: chilled, moved, put back to room temperature, burped, squeezed, opened, closed again, gone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base.kinds import BottleState, LeftAs
from ...core.base.saying import bottles_word
from ...core.bottles.advice import may_be_past
from ...core.bottles.leaving import BURST_HISS, LEAVINGS
from ...core.bottles.room import filled_l
from ...core.liquid import Way
from ...core.liquid.standing import PlaceKind
from ...reckon.bottles.cellar import why_not_given
from ...reckon.bottles.pressure import bottle_future
from ...store.read import queries
from ...store.read.moments import days_between
from ...store.records import Bottle, Hearing, Place
from ..base import FUTURE_GRACE, Checks, Done, action
from ..pouring import pour
from ..standing import fridge, put

HEARD = ("burped", "squeezed")
RECLOSED = "reclosed"  #: Opened, flat, closed again.


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveBottles:
    """Bottles put into a fridge, or back to room temperature."""

    bottle_ids: tuple[int, ...]
    place_id: int | None = None  #: Where to; by default the fridge, or where each was filled.
    at: datetime | None = None  #: Now, unless given.


def _present(session: Session, numbers: Sequence[int], when: datetime, now: datetime) -> list[Bottle]:
    """Find bottles that stand, and that stood already at a moment."""
    bottles, checks = [queries.get(session, Bottle, number) for number in numbers], Checks()
    checks.refuse_if(not bottles, "", "Choose at least one bottle.")
    checks.refuse_if(any(b.state == BottleState.GONE for b in bottles), "", "One of these bottles is gone already.")
    checks.refuse_if(when > now + FUTURE_GRACE, "at", "That lies in the future.")
    checks.refuse_if(any(when < b.bottling.at for b in bottles), "at", "These bottles were filled later than that.")
    moved = any(b.standings and when < b.standings[-1].since for b in bottles)
    checks.refuse_if(moved, "at", "They were moved to where they stand now later than that.")
    checks.done()
    return bottles


def _target(session: Session, ask: MoveBottles, kind: PlaceKind, what: str) -> Place | None:
    """Find the place given; refuse one of the other kind."""
    place, checks = queries.find(session, Place, ask.place_id), Checks()
    checks.refuse_if(place is not None and place.kind != kind, "place", what)
    checks.done()
    return place


def chill(session: Session, ask: MoveBottles, at: datetime) -> Done:
    """Put bottles into a fridge, within another action."""
    when = ask.at or at
    bottles = _present(session, ask.bottle_ids, when, at)
    place = _target(session, ask, PlaceKind.FRIDGE, "That is no fridge.") or fridge(session)
    for bottle in bottles:
        put(session, bottle, place.id, when)
        bottle.state = BottleState.COLD
    return Done(f"{bottles_word(len(bottles))} moved to the fridge.")


@action
def chill_bottles(session: Session, ask: MoveBottles, at: datetime) -> Done:
    """Put bottles into a fridge."""
    return chill(session, ask, at)


def _warm_place(bottle: Bottle) -> int:
    """Find where a bottle last stood at room temperature; else where its brew stood."""
    rooms = [row.place_id for row in bottle.standings if row.place.kind == PlaceKind.ROOM]
    return rooms[-1] if rooms else bottle.bottling.brew.vessel.place.id


def warm(session: Session, ask: MoveBottles, at: datetime) -> Done:
    """Put bottles back to room temperature, within another action."""
    when = ask.at or at
    bottles, checks = _present(session, ask.bottle_ids, when, at), Checks()
    checks.refuse_if(any(b.limit_bar == 0 for b in bottles), "", "This one is not made for pressure: it stays cold.")
    checks.done()
    place = _target(session, ask, PlaceKind.ROOM, "That is a fridge.")
    for bottle in bottles:
        put(session, bottle, _warm_place(bottle) if place is None else place.id, when)
        bottle.state = BottleState.WARM
    return Done(f"{bottles_word(len(bottles))} moved back to room temperature.")


@action
def warm_bottles(session: Session, ask: MoveBottles, at: datetime) -> Done:
    """Put bottles that did not fizz back to room temperature."""
    return warm(session, ask, at)


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenBottle:
    """A bottle opened, and how it was."""

    bottle_id: int
    hiss: int  #: 0 (silent) to 4 (gushed)
    taste: str = ""
    at: datetime | None = None  #: Now, unless given.


def goes_out(session: Session, bottle: Bottle, at: datetime, how: Way, left_as: str) -> None:
    """Let what is in a bottle go out with it; one that is broken is the household's no longer."""
    bottle.state, bottle.gone_at, bottle.left_as = BottleState.GONE, at, left_as
    if bottle.type.owned and not LEAVINGS[left_as].comes_back:
        bottle.type.owned -= 1
        bottle.type.retired += int(LEAVINGS[left_as].broken)
    litres = filled_l(bottle.volume_ml, bottle.headspace_fraction)
    pour(session, at, litres, how, bottle.bottling.liquid, None)


def open_one(session: Session, ask: OpenBottle, at: datetime) -> Done:
    """Open a bottle, within another action."""
    when = ask.at or at
    bottle, checks = _present(session, (ask.bottle_id,), when, at)[0], Checks()
    checks.refuse_if(not 0 <= ask.hiss <= 4, "hiss", "Choose how it hissed, from silent to gushed.")
    checks.done()
    bottle.hiss, bottle.taste = ask.hiss, ask.taste.strip()[:300]
    goes_out(session, bottle, when, Way.DRUNK, "drunk")
    if ask.hiss == BURST_HISS:
        return Done(f"Opened; it gushed.{_warned(bottle)}")
    return Done("Opened. Enjoy it.")


def _warned(bottle: Bottle) -> str:
    """Return what is said of the brothers of a bottle that gushed or burst; empty where none stand."""
    standing = [b.state for b in bottle.bottling.bottles if b.state != BottleState.GONE]
    warm = standing.count(BottleState.WARM)
    if warm:
        return f" {bottles_word(warm)} of the same filling stand warm: look at them now."
    return f" {bottles_word(len(standing))} of the same filling stand in the fridge: open them cold, over a bowl." if standing else ""


@action
def open_bottle(session: Session, ask: OpenBottle, at: datetime) -> Done:
    """Open a bottle: it is gone, its hiss and taste are kept."""
    return open_one(session, ask, at)


@dataclass(frozen=True, slots=True, kw_only=True)
class FinishBottles:
    """Bottles that left without a word on how they opened: drunk, given away, or lost."""

    bottle_ids: tuple[int, ...]
    drunk: bool = False
    left_as: str = ""  #: A key of LEAVINGS; empty: drunk or, as it stood before, not given.
    to_whom: str = ""
    at: datetime | None = None  #: Now, unless given.


def finish(session: Session, ask: FinishBottles, at: datetime) -> Done:
    """Mark bottles as gone, within another action."""
    when = ask.at or at
    bottles = _present(session, ask.bottle_ids, when, at)
    checks = Checks()
    checks.refuse_if(bool(ask.left_as) and ask.left_as not in LEAVINGS, "left_as", "Choose how they went.")
    if ask.left_as in GIVEN:
        why = next(filter(None, (why_not_given(bottle, when) for bottle in bottles)), "")
        checks.refuse_if(bool(why), "left_as", why)
    checks.done()
    left_as = ask.left_as or (LeftAs.DRUNK if ask.drunk else LeftAs.GONE)
    for bottle in bottles:
        goes_out(session, bottle, when, WAYS.get(left_as, Way.GONE), left_as)
        bottle.to_whom = ask.to_whom.strip()[:80]
    return Done(f"{bottles_word(len(bottles))} recorded as {LEAVINGS[left_as].name}.")


GIVEN = {"party", "given"}  #: Carried, and drunk by others.
#: What a way to leave is in the record of liquids.
WAYS = {"drunk": Way.DRUNK, "party": Way.GIVEN, "given": Way.GIVEN, "poured": Way.GONE}


@dataclass(frozen=True, slots=True, kw_only=True)
class LoseBottle:
    """A bottle that burst, leaked, gushed empty or was dropped."""

    bottle_id: int
    left_as: str
    cause: str = ""
    at: datetime | None = None  #: Now, unless given.


@action
def lose_bottle(session: Session, ask: LoseBottle, at: datetime) -> Done:
    """Record a bottle that was lost; one that burst or gushed tells its brothers how they press."""
    when = ask.at or at
    bottle, checks = _present(session, (ask.bottle_id,), when, at)[0], Checks()
    checks.refuse_if(ask.left_as not in {LeftAs.BURST, LeftAs.LEAKED, LeftAs.GUSHED, LeftAs.DROPPED}, "left_as", "Choose what happened.")
    checks.done()
    way = LEAVINGS[ask.left_as]
    if way.alarms:
        bottle.hiss = BURST_HISS
    bottle.cause = ask.cause.strip()[:200]
    goes_out(session, bottle, when, Way.LOST, ask.left_as)
    return Done(f"One bottle {way.name}.{_warned(bottle) if way.alarms else ''}")


@dataclass(frozen=True, slots=True, kw_only=True)
class CloseAgain:
    """A bottle that was opened and is flat, closed again."""

    bottle_id: int
    place_id: int | None = None  #: Where it is warm; where it was last unless given.


@action
def close_again(session: Session, ask: CloseAgain, at: datetime) -> Done:
    """Close a flat bottle again and put it back to room temperature, for a day."""
    bottle, checks = _present(session, (ask.bottle_id,), at, at)[0], Checks()
    checks.refuse_if(bottle.limit_bar == 0, "", "This one is not made for pressure: drink it.")
    checks.done()
    session.add(Hearing(bottle_id=bottle.id, at=at, how=RECLOSED, hiss=0))
    place = _target(session, MoveBottles(bottle_ids=(bottle.id,), place_id=ask.place_id), PlaceKind.ROOM, "That is a fridge.")
    put(session, bottle, _warm_place(bottle) if place is None else place.id, at)
    bottle.state = BottleState.WARM
    return Done("Closed again, and warm for a day. Open one tomorrow, cold.")


@dataclass(frozen=True, slots=True, kw_only=True)
class ShiftBottles:
    """Bottles put somewhere else, warm or cold."""

    bottle_ids: tuple[int, ...]
    place_id: int


@action
def shift_bottles(session: Session, ask: ShiftBottles, at: datetime) -> Done:
    """Move bottles to a place: into a fridge they are cold, elsewhere warm; what may be past its limit is not carried."""
    bottles, checks = _present(session, ask.bottle_ids, at, at), Checks()
    place = queries.get(session, Place, ask.place_id)
    cold = place.kind == PlaceKind.FRIDGE
    checks.refuse_if(
        not cold and any(b.limit_bar == 0 for b in bottles), "", "Those not made for pressure stay in the fridge."
    )
    past = [b for b in bottles if _may_be_past(b, at)]
    checks.refuse_if(
        bool(past),
        "",
        "Some of these may be past their limit: they are not carried. Towel over them, let them cool where they stand.",
    )
    checks.done()
    for bottle in bottles:
        put(session, bottle, place.id, at)
        bottle.state = BottleState.COLD if cold else BottleState.WARM
    return Done(f"{bottles_word(len(bottles))} moved to {place.name}.")


def _may_be_past(bottle: Bottle, now: datetime) -> bool:
    """Return whether a bottle may press more than it holds."""
    if bottle.limit_bar == 0:
        return False
    return may_be_past(bottle_future(bottle), bottle.state, bottle.limit_bar, days_between(bottle.bottling.at, now))


@action
def finish_bottles(session: Session, ask: FinishBottles, at: datetime) -> Done:
    """Mark bottles as gone."""
    return finish(session, ask, at)


@dataclass(frozen=True, slots=True, kw_only=True)
class HearBottles:
    """Closed bottles burped or squeezed, and how they were."""

    bottle_ids: tuple[int, ...]
    how: str = "burped"  #: One of HEARD.
    hiss: int | None = None  #: 0 (silent, soft) to 4 (gushed, rock hard)
    at: datetime | None = None  #: Now, unless given.


def hear(session: Session, ask: HearBottles, at: datetime) -> Done:
    """Record a burp or squeeze, within another action."""
    when = ask.at or at
    bottles, checks = _present(session, ask.bottle_ids, when, at), Checks()
    checks.refuse_if(ask.how not in HEARD, "how", "Burped or squeezed.")
    checks.refuse_if(ask.hiss is not None and not 0 <= ask.hiss <= 4, "hiss", "From silent to gushed.")
    checks.done()
    session.add_all(Hearing(bottle_id=b.id, at=when, how=ask.how, hiss=ask.hiss) for b in bottles)
    return Done(f"{bottles_word(len(bottles))} {ask.how}.")


@action
def hear_bottles(session: Session, ask: HearBottles, at: datetime) -> Done:
    """Record that bottles were burped or squeezed: it tells how lively their filling is."""
    return hear(session, ask, at)
