"""Notes on things of the household: what each is about, and what was written of it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from ...core.base.kinds import NoteOn
from ..records import Base, Bottle, Bottling, Brew, Culture, Flavour, Instrument, KeptRecipe, Note, Place, Vessel

ABOUT: Mapping[NoteOn, type[Base]] = {
    NoteOn.BREW: Brew, NoteOn.FILLING: Bottling, NoteOn.BOTTLE: Bottle, NoteOn.CULTURE: Culture, NoteOn.VESSEL: Vessel,
    NoteOn.PLACE: Place, NoteOn.FLAVOUR: Flavour, NoteOn.RECIPE: KeptRecipe, NoteOn.INSTRUMENT: Instrument,
}  # fmt: skip


def thing(session: Session, about: str, number: int) -> Any | None:
    """Find what a note is about, or None where there is no such kind or thing."""
    kind = ABOUT.get(NoteOn(about)) if about in set(NoteOn) else None
    return None if kind is None else session.get(kind, number)


def notes_on(session: Session, about: NoteOn, number: int, struck: bool = False) -> list[Note]:
    """List the notes on a thing, the newest first; those struck out only where wanted."""
    query = select(Note).where(Note.about == about, Note.about_id == number).options(joinedload(Note.taster))
    if not struck:
        query = query.where(Note.struck.is_(False))
    return list(session.scalars(query.order_by(Note.at.desc(), Note.id.desc())))
