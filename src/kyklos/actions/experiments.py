"""Experiments, from question to lesson: started, tasted blind, glasses told apart, named, and what was learned; and care of the kitchen."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.notebook.care import AFTER_MOULD, CARE
from ..core.notebook.experiments import PLACES, odd_place
from ..core.notebook.lessons import Applies
from ..store.read import queries
from ..store.records import CareRhythm, CareTaken, Experiment, Taster
from .base import Checks, Done, action, flushed
from .blind import name_all, refuse_named
from .notebook import KeepLesson, lesson_kept
from .trying import StartExperiment, started

MOST_TRIANGLES = 60  #: Of one experiment.
MOST_DAYS = 730.0  #: Of a rhythm. [d]
ANYWHERE = Applies()


@action
def start_experiment(session: Session, ask: StartExperiment, at: datetime) -> Done:
    """Begin an experiment; the glasses get numbers by lot."""
    return Done(f"“{' '.join(ask.question.split())}” is being tried.", {"experiment": started(session, ask, at).id})


def _open(session: Session, number: int, checks: Checks) -> Experiment:
    row = queries.get(session, Experiment, number)
    checks.refuse_if(row.ended_at is not None, "", "This experiment is over.")
    checks.refuse_if(row.waits, "", "One of the two is still to be brewed.")
    refuse_named(checks, row)
    return row


@dataclass(frozen=True, slots=True, kw_only=True)
class ScoreArm:
    """What a taster says of a numbered glass."""

    experiment_id: int
    taster_id: int
    label: int
    liked: int  #: 1 to 5.


@action
def score_arm(session: Session, ask: ScoreArm, at: datetime) -> Done:
    """Write what a taster says of a glass; the last word counts."""
    checks = Checks()
    row = _open(session, ask.experiment_id, checks)
    taster = queries.find(session, Taster, ask.taster_id)
    checks.refuse_if(taster is None, "taster", "Choose who tastes.")
    checks.refuse_if(ask.label not in row.labels, "label", "Choose a glass by its number.")
    checks.refuse_if(not 1 <= ask.liked <= 5, "liked", "From 1 to 5.")
    checks.done()
    row.sheets = [*row.sheets, [ask.taster_id, row.labels.index(ask.label), ask.liked]]
    return Done(f"Glass {ask.label}: {ask.liked} of 5.")


@dataclass(frozen=True, slots=True, kw_only=True)
class TellApart:
    """Which of three glasses a taster calls the odd one."""

    experiment_id: int
    taster_id: int
    place: int  #: 1 to 3.


@action
def tell_apart(session: Session, ask: TellApart, at: datetime) -> Done:
    """Write which glass was called the odd one; whether that was right is not said before the naming."""
    checks = Checks()
    row = _open(session, ask.experiment_id, checks)
    checks.refuse_if(queries.find(session, Taster, ask.taster_id) is None, "taster", "Choose who tastes.")
    checks.refuse_if(not 1 <= ask.place <= PLACES, "place", "The first, the second or the third glass.")
    checks.refuse_if(len(row.triangles) >= MOST_TRIANGLES, "", "So many triangles are enough.")
    checks.done()
    tried = sum(taster == ask.taster_id for taster, _, _ in row.triangles)
    row.triangles = [*row.triangles, [ask.taster_id, odd_place(row.id, ask.taster_id, tried)[0], ask.place - 1]]
    return Done("Written down.")


@dataclass(frozen=True, slots=True, kw_only=True)
class NameGlasses:
    """Everybody may know which glass is which."""

    experiment_id: int


@action
def name_glasses(session: Session, ask: NameGlasses, at: datetime) -> Done:
    """Name the glasses; nothing is tasted after that."""
    row, checks = queries.get(session, Experiment, ask.experiment_id), Checks()
    name_all(checks, row, [*row.sheets, *row.triangles], at)
    return Done("The glasses have their names.")


@dataclass(frozen=True, slots=True, kw_only=True)
class EndExperiment:
    """What was learned."""

    experiment_id: int
    text: str = ""  #: Of the lesson; empty: none is kept.
    applies: Applies = ANYWHERE


@action
def end_experiment(session: Session, ask: EndExperiment, at: datetime) -> Done:
    """End an experiment, and keep what was learned."""
    row, checks = queries.get(session, Experiment, ask.experiment_id), Checks()
    checks.refuse_if(row.ended_at is not None, "", "This experiment is over.")
    checks.done()
    row.ended_at = at
    if not ask.text.strip():
        return Done("The experiment is over.")
    kept = lesson_kept(session, KeepLesson(text=ask.text, applies=ask.applies, key=f"experiment:{row.id}", evidence=(("experiment", row.id),)), at)
    row.lesson_id = kept.made["lesson"]
    return Done(f"The experiment is over. {kept.says}", kept.made)


@dataclass(frozen=True, slots=True, kw_only=True)
class SetRhythms:
    """How often things of the kitchen are cared for; what has none is not asked for."""

    every_days: tuple[tuple[str, float | None], ...]  #: Keys of CARE, days. [d]


@action
def set_rhythms(session: Session, ask: SetRhythms, at: datetime) -> Done:
    """Write the rhythms of care."""
    checks = Checks()
    for key, days in ask.every_days:
        checks.refuse_if(key not in CARE, key, "That is not known.")
        checks.between(days, key, 1.0, MOST_DAYS, "A rhythm of")
    checks.done()
    there = {row.what: row for row in session.scalars(select(CareRhythm))}
    for key, days in ask.every_days:
        if days is None and key in there:
            session.delete(there[key])
        elif days is not None and key in there:
            there[key].every_days = days
        elif days is not None:
            session.add(CareRhythm(what=key, every_days=days))
    return Done("The rhythms are saved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class NoteCare:
    """Something that was washed or changed."""

    what: str  #: A key of CARE, or what mould touched.
    with_what: str = ""


@action
def note_care(session: Session, ask: NoteCare, at: datetime) -> Done:
    """Write that something was cared for."""
    checks = Checks()
    checks.refuse_if(ask.what not in {*CARE, AFTER_MOULD}, "", "That is not known.")
    checks.refuse_if(len(ask.with_what) > 60, "", "With what, in a few words.")
    checks.done()
    name = CARE[ask.what].name if ask.what in CARE else "What mould touched"
    return Done(f"{name}: done.", {"care": flushed(session, CareTaken(what=ask.what, at=at, with_what=ask.with_what.strip()))})
