"""Undo: every action can be taken back from the message that confirms it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from ..core.base.kinds import LIVING
from ..core.liquid.pouring import LEAST_L
from ..store.file.finding import follow_words
from ..store.file.journal import changed_since, put_back
from ..store.read import queries
from ..store.read.day_book import builds_on
from ..store.records import Brew, Change, Experiment, KeptLiquid, Note, Photo, PhotoContent
from ..store.records.base import LAYOUT
from .base import ConflictError, Done
from .outdating import outdate
from .pouring import course_of

OLD_LAYOUT = "This was done before Kyklos was upgraded, and cannot be undone in one step any more."
ENDS = ("liquid_id", "source_id", "target_id")  #: Columns that name a liquid.
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
                raise ConflictError(_built_on(session, change))
            put_back(session, change.rows)
            _refuse_below_nothing(session, change)
            _refuse_two_in_one(session, change)
            _refuse_untried(session, change)
            outdate(session, change.rows)
            follow_words(session, change.rows)
            change.undone_at = at
            kept = select(Photo.id).where(Photo.sha == PhotoContent.sha).exists() | select(Note.id).where(Note.photo_sha == PhotoContent.sha).exists()
            session.execute(delete(PhotoContent).where(~kept).execution_options(synchronize_session=False))
            return Done(f"Undone: {change.says}", change_id=change.id)
    except IntegrityError as problem:
        raise ConflictError(BUILT_ON) from problem


def _built_on(session: Session, change: Change) -> str:
    """Return what builds on a change."""
    later = builds_on(session, change)
    return BUILT_ON if later is None else f"{BUILT_ON} It is: {later.says}"


def _refuse_two_in_one(session: Session, change: Change) -> None:
    """Refuse to bring a brew back into a vessel that was filled again since."""
    for number in {number for table, number, _, _ in change.rows if table == "brew"}:
        brew = queries.find(session, Brew, number)
        if brew is None or not brew.alive:
            continue
        beside = queries.last_brew(
            session, Brew.vessel_id == brew.vessel_id, Brew.id != number, Brew.status.in_(LIVING)
        )
        if beside is not None:
            raise ConflictError(f"{brew.vessel.name} was filled again since. Undo that first.")


def _refuse_untried(session: Session, change: Change) -> None:
    """Refuse to take away a brew, filling or bottle that an experiment is about; its numbers are in no column of their own."""
    gone = {(table, number) for table, number, before, _ in change.rows if table in {"brew", "bottling", "bottle"} and before is None}
    if not gone:
        return
    for row in session.scalars(select(Experiment)):
        if gone & {(row.kind, number) for side in row.sides for number in side}:
            raise ConflictError(f"{BUILT_ON} It is: “{row.question}”")


def _refuse_below_nothing(session: Session, change: Change) -> None:
    """Refuse to take back what was poured out again since."""
    ends = [
        row[end]
        for _, _, before, after in change.rows
        for row in (before, after)
        if row
        for end in ENDS
        if row.get(end)
    ]
    session.expire_all()
    for number in sorted(set(ends)):
        liquid = queries.find(session, KeptLiquid, number)
        if liquid is not None and min((litres for _, litres in course_of(session, liquid)), default=0.0) < -LEAST_L:
            raise ConflictError("More was taken out since than would have been there. Undo that first.")
