"""Lessons: kept as proposed or reworded, written by hand, dismissed for good; and whether they helped."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.notebook.lessons import Applies, LessonStands
from ..store.read import queries
from ..store.records import KeptLesson
from .base import Checks, Done, action, check_version, flushed

MOST_WORDS = 200  #: Of a lesson. [letters]


def _checked(text: str, applies: Applies) -> str:
    checks, words = Checks(), " ".join(text.split())
    checks.refuse_if(not words, "text", "Write the lesson in a line.")
    checks.refuse_if(len(words) > MOST_WORDS, "text", f"A lesson has at most {MOST_WORDS} letters; this one has {len(words)}.")
    checks.refuse_if(any(len(value) > 80 for value in applies.given.values()), "applies", "Choose where it comes back.")
    checks.done()
    return words


@dataclass(frozen=True, slots=True, kw_only=True)
class KeepLesson:
    """A lesson to come back where it applies."""

    text: str
    applies: Applies
    key: str = ""  #: Of the proposal; empty: written by hand.
    evidence: tuple[tuple[str, int], ...] = ()


def lesson_kept(session: Session, ask: KeepLesson, at: datetime) -> Done:
    """Keep a lesson within an action."""
    words = _checked(ask.text, ask.applies)
    checks = Checks()
    checks.refuse_if(not ask.applies.given, "applies", "Choose where it comes back: a flavour, a jar, a place, a season.")
    checks.done()
    row = KeptLesson(key=ask.key[:160], text=words, standing=LessonStands.KEPT, applies=ask.applies.given, evidence=[list(one) for one in ask.evidence], helped=0, at=at)
    return Done(f"Kept. It comes back for {ask.applies.says}.", {"lesson": flushed(session, row)})


@action
def keep_lesson(session: Session, ask: KeepLesson, at: datetime) -> Done:
    """Keep a lesson."""
    return lesson_kept(session, ask, at)


@dataclass(frozen=True, slots=True, kw_only=True)
class DismissLesson:
    """A proposal that is not wanted, now or later."""

    key: str
    text: str


@action
def dismiss_lesson(session: Session, ask: DismissLesson, at: datetime) -> Done:
    """Dismiss a proposal for good."""
    words = _checked(ask.text, Applies())
    row = KeptLesson(key=ask.key[:160], text=words, standing=LessonStands.DISMISSED, applies={}, evidence=[], helped=0, at=at)
    return Done("Not proposed again.", {"lesson": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class RewordLesson:
    """A lesson in other words, or for another place."""

    lesson_id: int
    text: str
    applies: Applies
    version: int | None = None


@action
def reword_lesson(session: Session, ask: RewordLesson, at: datetime) -> Done:
    """Put a lesson in other words."""
    row = queries.get(session, KeptLesson, ask.lesson_id)
    check_version(ask.version, row.version, "The lesson")
    row.text = _checked(ask.text, ask.applies)
    if ask.applies.given:
        row.applies = ask.applies.given
    return Done("Reworded.")


@dataclass(frozen=True, slots=True, kw_only=True)
class SayHelped:
    """What a lesson was worth."""

    lesson_id: int
    helped: bool  #: False: not any more.


@action
def say_helped(session: Session, ask: SayHelped, at: datetime) -> Done:
    """Count that a lesson helped, or let it come back no more."""
    row = queries.get(session, KeptLesson, ask.lesson_id)
    if ask.helped:
        row.helped += 1
        return Done("Good. It comes back next time.")
    row.standing = LessonStands.OVER
    return Done("It does not come back any more.")
