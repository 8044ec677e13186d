"""Whether every record can be read as the core reads it: what came from elsewhere is held to it before it is used."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.base import KyklosError
from ..store.read import recorded
from ..store.read.documents import ask_of, card_of
from ..store.records import Brew, BrewDay, KeptRecipe, Vessel
from ..store.records.flavours import OwnIngredient

BATCH = 200  #: So many records are held in memory at once.


def unreadable(session: Session) -> str:
    """Return the first record that cannot be read, as "brew 7"; empty: all can.

    Args:
        session: On a file of today's layout.
    """
    for kind, read in _READERS.items():
        for record in _each(session, kind):
            try:
                read(record)
            except (KyklosError, LookupError, TypeError, ValueError, AttributeError, ArithmeticError):
                return f"{kind.__tablename__.replace('_', ' ')} {record.id}"
    return ""


def _each(session: Session, kind: Any) -> Iterator[Any]:
    last = 0
    while rows := list(session.scalars(select(kind).where(kind.id > last).order_by(kind.id).limit(BATCH))):
        yield from rows
        last = rows[-1].id
        session.expunge_all()


def _brew(brew: Brew) -> None:
    recorded.recipe_of(brew)
    recorded.events_of(brew)
    recorded.measured(brew)
    recorded.looks_of(brew)
    recorded.own_word(brew)
    _steps(brew.facts, lists=True)
    if card := brew.plan.get("card"):
        card_of(card)
    if any(isinstance(value, list) for value in brew.plan.values()):
        raise TypeError("a plan holds amounts")


def _steps(facts: dict[str, Any], lists: bool = False) -> None:
    """Refuse what was done in a step where it is no set of amounts and words."""
    for key, entry in facts.items():
        if lists and key == "before" and isinstance(entry, list):
            continue
        if isinstance(entry, list) or (isinstance(entry, dict) and any(isinstance(one, list) for one in entry.values())):
            raise TypeError(f"{key} is no step")
        if key in {"done", "starter", "measure", "cool"} and not isinstance(entry, dict):
            raise TypeError(f"{key} is no step")


def _brew_day(day: BrewDay) -> None:
    ask_of(day.ask)
    _steps(day.facts)


def _vessel(vessel: Vessel) -> None:
    if vessel.stands is None:
        raise LookupError("it stands nowhere")


_READERS: dict[Any, Callable[[Any], Any]] = {
    Brew: _brew,
    BrewDay: _brew_day,
    KeptRecipe: lambda recipe: card_of(recipe.card),
    OwnIngredient: lambda ingredient: ingredient.as_ingredient,
    Vessel: _vessel,
}
