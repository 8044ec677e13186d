"""Keeping what brews taught: computed from a reading session, outside the lock, and written in a moment."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from sqlalchemy.orm import Session

from ..reckon.forecast import forecasting
from ..reckon.forecast.learning import RULES, Learned, fingerprint_of, learn, vigour
from ..store.file.database import Database
from ..store.read import lessons, queries
from ..store.read.memory import state_of
from ..store.records import Brew, Lesson
from .outdating import mark, outdate_rules

HALF = "vigour"  #: Rules of a lesson of which only the line's vigour is learned yet.
SHARED = ("yeast_vigour", "bacteria_vigour", "yeast_sd", "bacteria_sd", "buffer")  #: What a line's later brews learn of a lesson.
LIVES, SAME = "lives", "same"  #: Why there is no lesson to write: the brew stands again; nothing of it changed.


def catch_up(database: Database, most: int = 1_000_000) -> int:
    """Learn what is to be learned; gives how many lessons were written.

    Args:
        database: The household's file.
        most: So many at once.
    """
    written = 0
    while written < most and _learn_next(database):
        written += 1
    return written


def _learn_next(database: Database) -> bool:
    """Learn the next lesson, or its first part; a brew that lives again has none. False: there is nothing to learn."""
    with database.reader() as session:
        number, only_vigour = lessons.pending(session)
        if number is None:
            return False
        brew = queries.get(session, Brew, number)
        session.context.now = brew.ended_at
        learned = _told(session, brew, only_vigour)
        seen = state_of(session)
        following = lessons.after(session, brew, forecasting.PAST_BREWS)
    with database.writer() as session, session.begin():
        row = session.query(Lesson).filter_by(brew_id=number).first()
        if row is not None and state_of(session) == seen:  # else it is looked at again
            _keep(session, row, learned, only_vigour, following)
    return True


def _told(session: Session, brew: Brew, only_vigour: bool) -> Learned | str:
    """Compute a lesson; or say why there is none to write."""
    if brew.ended_at is None:
        return LIVES
    if only_vigour:
        return vigour(brew)
    kept = lessons.by_brew(session, [brew.id]).get(brew.id)
    same = kept is not None and kept.rules == RULES and kept.fingerprint == fingerprint_of(brew)
    return SAME if same else learn(session, brew)


def _keep(session: Session, row: Lesson, learned: Learned | str, only_vigour: bool, following: list[int]) -> None:
    if learned == LIVES:
        session.delete(row)
        return
    if isinstance(learned, Learned):
        before = _shared(row)
        _write(row, learned)
        row.rules = HALF if only_vigour else RULES
        if before[0] is not None and before != _shared(row):
            mark(session, following)
    row.stale, row.revision = only_vigour, lessons.next_revision(session)


def _shared(row: Lesson) -> tuple[Any, ...]:
    """Return what a lesson tells the later brews of its line."""
    return (*(getattr(row, name) for name in SHARED), tuple(row.covariance))


def _write(row: Lesson, learned: Learned) -> None:
    values = asdict(learned)
    posterior = values.pop("posterior") or dict.fromkeys((*SHARED, "covariance"))
    posterior["covariance"] = list(posterior["covariance"] or ())
    for name, value in (values | posterior).items():
        setattr(row, name, value)


def new_rules(database: Database) -> None:
    """Mark what an older computation taught; called once at a start."""
    with database.writer() as session, session.begin():
        outdate_rules(session, RULES)
