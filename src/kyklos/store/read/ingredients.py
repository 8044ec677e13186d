"""Ingredients as a household knows them: those that Kyklos brings, and its own."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from ...core.bottles import Ingredient, Part, ingredient
from ...core.bottles.ingredients import INGREDIENTS, known
from ..records import Flavour, FlavourPart, OwnIngredient


def own(session: Session, *, retired: bool = False) -> list[OwnIngredient]:
    """List the household's own ingredients by name."""
    asked = select(OwnIngredient).order_by(OwnIngredient.name)
    return list(session.scalars(asked if retired else asked.where(OwnIngredient.retired.is_(False))))


def by_key(session: Session) -> Mapping[str, Ingredient]:
    """Return every ingredient by its key, also those that are retired."""
    return {**INGREDIENTS, **{row.key: row.as_ingredient for row in own(session, retired=True)}}


def named(session: Session, key: str) -> Ingredient | None:
    """Find an ingredient by its key or name; None: nobody knows it."""
    if known(key):
        return ingredient(key)
    return by_key(session).get(key)


def flavours(session: Session, *, retired: bool = False) -> list[Flavour]:
    """List the flavours kept by name."""
    asked = select(Flavour).options(selectinload(Flavour.parts)).order_by(Flavour.name, Flavour.id)
    return list(session.scalars(asked if retired else asked.where(Flavour.retired.is_(False))))


def part_of(session: Session, row: FlavourPart) -> Part | None:
    """Turn a part of a kept flavour into what the core knows; None: its ingredient is unknown by now."""
    found = named(session, row.ingredient)
    return None if found is None else Part(found, row.g_per_l, row.form)
