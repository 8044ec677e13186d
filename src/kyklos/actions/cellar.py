"""Bottles that stand: chilled, put back to room temperature, burped, squeezed, opened, gone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.bottle import filled_l
from ..core.kinds import BottleState
from ..core.pouring import Way
from ..core.saying import bottles_word
from ..core.standing import PlaceKind
from ..store import queries
from ..store.models import Bottle, Hearing, Place
from .base import FUTURE_GRACE, Checks, Done, action
from .pouring import pour
from .standing import fridge, put

HEARD = ("burped", "squeezed")


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveBottles:
    """Bottles put into a fridge, or back to room temperature."""

    bottle_ids: tuple[int, ...]
    place_id: int | None = None  #: Where to; unless told the fridge, or where each was filled.
    at: datetime | None = None  #: Now unless told.


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
    """Find the place told; refuse one of the other kind."""
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
    at: datetime | None = None  #: Now unless told.


def _left(session: Session, bottle: Bottle, at: datetime, how: Way) -> None:
    """Let what is in a bottle go out with it."""
    bottle.state, bottle.gone_at = BottleState.GONE, at
    litres = filled_l(bottle.volume_ml, bottle.headspace_fraction)
    pour(session, at, litres, how, bottle.bottling.liquid, None)


def open_one(session: Session, ask: OpenBottle, at: datetime) -> Done:
    """Open a bottle, within another action."""
    when = ask.at or at
    bottle, checks = _present(session, (ask.bottle_id,), when, at)[0], Checks()
    checks.refuse_if(not 0 <= ask.hiss <= 4, "hiss", "Choose how it hissed, from silent to gushed.")
    checks.done()
    bottle.hiss, bottle.taste = ask.hiss, ask.taste.strip()[:300]
    _left(session, bottle, when, Way.DRUNK)
    return Done("Opened. Enjoy it.")


@action
def open_bottle(session: Session, ask: OpenBottle, at: datetime) -> Done:
    """Open a bottle: it is gone, its hiss and taste are kept."""
    return open_one(session, ask, at)


@dataclass(frozen=True, slots=True, kw_only=True)
class FinishBottles:
    """Bottles that left without a word on how they opened: drunk, given away, or lost."""

    bottle_ids: tuple[int, ...]
    drunk: bool = False
    at: datetime | None = None  #: Now unless told.


def finish(session: Session, ask: FinishBottles, at: datetime) -> Done:
    """Mark bottles as gone, within another action."""
    when = ask.at or at
    bottles = _present(session, ask.bottle_ids, when, at)
    for bottle in bottles:
        _left(session, bottle, when, Way.DRUNK if ask.drunk else Way.GONE)
    return Done(f"{bottles_word(len(bottles))} recorded as {'drunk' if ask.drunk else 'gone'}.")


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
    at: datetime | None = None  #: Now unless told.


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
