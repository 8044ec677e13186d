"""Frozen core values packed into records and out again, checked on the way in."""

from __future__ import annotations

from typing import Any, TypeVar

from pydantic import TypeAdapter, ValidationError

from ...core.base import CoreError, KyklosError
from ...core.brewing import RecipeCard
from ...core.brewing.day_walk import DayWalk
from ...core.brewing.planner import PlanAsk

V = TypeVar("V")
VERSION = 1  #: Of packed documents; one more with each change of what they hold.
FIRST_VERSION = 1  #: Of documents from before they carried one.
NEWER = "This record was kept by a newer version, and cannot be read here."

NO_WALK = "This day in the kitchen cannot be read: lay it out anew."
MOST_HANDS = 6


class UnreadableError(KyklosError):
    """A packed record does not hold what it should."""


_ADAPTERS: dict[Any, TypeAdapter[Any]] = {}


def _adapter(kind: Any) -> TypeAdapter[Any]:
    if kind not in _ADAPTERS:
        _ADAPTERS[kind] = TypeAdapter(kind)
    return _ADAPTERS[kind]


def pack(value: RecipeCard | PlanAsk | DayWalk) -> dict[str, Any]:
    """Turn a card, a plan's ask or a day laid out into plain JSON."""
    packed: dict[str, Any] = _adapter(type(value)).dump_python(value, mode="json")
    return {"version": VERSION, **packed}


def _unpack(kind: type[V], packed: dict[str, Any]) -> V:
    values = {name: entry for name, entry in packed.items() if name != "version"}
    try:
        if int(packed.get("version", FIRST_VERSION)) > VERSION:
            raise UnreadableError(NEWER)
        value: V = _adapter(kind).validate_python(values)
        return value
    except (ValidationError, CoreError, TypeError, ValueError) as problem:
        raise UnreadableError("This record was kept by another version, and cannot be read here.") from problem


def card_of(packed: dict[str, Any]) -> RecipeCard:
    """Read a card.

    Raises:
        UnreadableError: If it is none.
    """
    return _unpack(RecipeCard, packed)


def ask_of(packed: dict[str, Any]) -> PlanAsk:
    """Read a plan's ask.

    Raises:
        UnreadableError: If it is none.
    """
    return _unpack(PlanAsk, packed)


def walk_of(packed: dict[str, Any]) -> DayWalk:
    """Read a day laid out.

    Raises:
        UnreadableError: If it is none, or a step needs one that comes later.
    """
    walk = _unpack(DayWalk, packed)
    if not 1 <= walk.hands <= MOST_HANDS or any(not 0 <= need.step < number for number, step in enumerate(walk.steps) for need in step.needs):
        raise UnreadableError(NO_WALK)
    return walk
