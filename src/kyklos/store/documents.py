"""Frozen core values packed into records and out again, checked on the way in."""

from __future__ import annotations

from typing import Any, TypeVar

from pydantic import TypeAdapter, ValidationError

from ..core.brew_plan import PlanAsk
from ..core.errors import CoreError, KyklosError
from ..core.recipe_card import RecipeCard

V = TypeVar("V")


class UnreadableError(KyklosError):
    """A packed record does not hold what it should."""


_ADAPTERS: dict[Any, TypeAdapter[Any]] = {}


def _adapter(kind: Any) -> TypeAdapter[Any]:
    if kind not in _ADAPTERS:
        _ADAPTERS[kind] = TypeAdapter(kind)
    return _ADAPTERS[kind]


def pack(value: RecipeCard | PlanAsk) -> dict[str, Any]:
    """Turn a card or a plan's ask into plain JSON."""
    packed: dict[str, Any] = _adapter(type(value)).dump_python(value, mode="json")
    return packed


def _unpack(kind: type[V], packed: dict[str, Any]) -> V:
    try:
        value: V = _adapter(kind).validate_python(packed)
        return value
    except (ValidationError, CoreError) as problem:
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
