"""The park of bottles: what is owned, washed, retired, and how its closures are."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base import CoreError
from ...core.base.saying import bottles_word
from ...core.bottles.park import CLOSURES, MOST, read_line
from ...store.read import park, queries
from ...store.records import BottleType
from ..base import Checks, Done, action, check_version
from .filling import type_of


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnBottles:
    """What bottles there are, as people say it."""

    line: str


@action
def own_bottles(session: Session, ask: OwnBottles, at: datetime) -> Done:
    """Add bottles to the park by one line: "12 swing-top 500 mL"."""
    checks = Checks()
    try:
        lines = read_line(ask.line)
    except CoreError as problem:
        checks.refuse_if(True, "line", str(problem))
    checks.done()
    for one in lines:
        row = type_of(session, one.kind, one.volume_ml)
        if row.owned is None:  # those that stand were there before anybody counted
            row.owned, row.washed_at = 0, at
        row.owned = min(MOST, row.owned + one.count)
        row.closure_since = row.closure_since or at
    return Done(f"{bottles_word(sum(one.count for one in lines))} added to your bottles.")


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeKind:
    """A kind of bottle as it is to be."""

    type_id: int
    owned: int
    limit_bar: float | None = None  #: The maker's. [bar]
    neck_mm: float | None = None  #: [mm]
    closure: str = ""
    fresh_closures: bool = False  #: New rings or caps from today.
    note: str = ""
    version: int | None = None


@action
def change_kind(session: Session, ask: ChangeKind, at: datetime) -> Done:
    """Put a kind of bottle right: how many, its limit, neck and closure."""
    row, checks = queries.get(session, BottleType, ask.type_id), Checks()
    check_version(ask.version, row.version, "This kind of bottle")
    checks.between(ask.owned, "owned", 0, MOST, "A count of")
    checks.refuse_if(
        ask.limit_bar is not None and row.limit_bar == 0 and ask.limit_bar > 0,
        "limit_bar",
        "Jars and square bottles are never for fizz, whatever is said.",
    )
    checks.between(ask.limit_bar, "limit_bar", 0.5, 15, "A limit of", "pressure")
    checks.between(ask.neck_mm, "neck_mm", 5, 150, "A neck of", "thickness")
    checks.refuse_if(bool(ask.closure) and ask.closure not in CLOSURES, "closure", "Choose what closes it.")
    checks.done()
    if ask.limit_bar is not None:
        row.limit_bar = ask.limit_bar
    row.owned, row.neck_mm, row.closure, row.note = ask.owned, ask.neck_mm, ask.closure, ask.note.strip()[:300]
    if ask.fresh_closures:
        row.closure_since = at
    return Done("Bottles saved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class WashBottles:
    """Empty bottles washed."""

    type_id: int
    left: int = 0  #: So many are still dirty.


@action
def wash_bottles(session: Session, ask: WashBottles, at: datetime) -> Done:
    """Record that empty bottles are clean again."""
    row, checks = queries.get(session, BottleType, ask.type_id), Checks()
    stands = park.counted_of(session, [row])[row.id]
    checks.refuse_if(not 0 <= ask.left <= stands.to_wash, "left", f"From 0 to {stands.to_wash} can be left.")
    checks.done()
    row.washed_at, row.to_wash = at, ask.left
    return Done(f"{bottles_word(stands.to_wash - ask.left)} clean again.")


@dataclass(frozen=True, slots=True, kw_only=True)
class RetireBottles:
    """Bottles that are scratched, chipped or dropped."""

    type_id: int
    count: int = 1


@action
def retire_bottles(session: Session, ask: RetireBottles, at: datetime) -> Done:
    """Take bottles out of use: a scratch is where glass bursts."""
    row, checks = queries.get(session, BottleType, ask.type_id), Checks()
    owned = row.owned or 0
    checks.refuse_if(not 1 <= ask.count <= owned, "count", f"From 1 to {owned} can be retired.")
    checks.done()
    row.owned, row.retired = owned - ask.count, row.retired + ask.count
    return Done(f"{bottles_word(ask.count)} retired.")
