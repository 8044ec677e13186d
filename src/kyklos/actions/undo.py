"""Undo: every action can be taken back from the message that confirms it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from ..store import queries
from ..store.base import LAYOUT
from ..store.journal import changed_since, put_back
from ..store.lessons import outdate
from ..store.models import Change, Photo, PhotoContent
from .base import ConflictError, Done

OLD_LAYOUT = "This was done before Kyklos was upgraded, and cannot be undone in one step any more."
BUILT_ON = "Something later builds on this. Undo that first."


@dataclass(frozen=True, slots=True)
class Undo:
    """A change to take back."""

    change_id: int


def undo(session: Session, ask: Undo, at: datetime) -> Done:
    """Put back every row that an action wrote.

    Raises:
        ConflictError: If it was undone already, or something later built on it.
        MissingError: If there is no such change.
    """
    try:
        with session.begin():
            change = queries.get(session, Change, ask.change_id)
            if change.undone_at is not None:
                raise ConflictError("This was undone already.")
            if change.layout != LAYOUT:
                raise ConflictError(OLD_LAYOUT)
            if changed_since(session, change.rows):
                raise ConflictError(BUILT_ON)
            put_back(session, change.rows)
            outdate(session, change.rows)
            change.undone_at = at
            kept = select(Photo.id).where(Photo.sha == PhotoContent.sha).exists()
            session.execute(delete(PhotoContent).where(~kept).execution_options(synchronize_session=False))
            return Done(f"Undone: {change.says}", change_id=change.id)
    except IntegrityError as problem:
        raise ConflictError(BUILT_ON) from problem
