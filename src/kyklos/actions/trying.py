"""Beginning an experiment, by itself or with a brew that is brewed twice."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from ..core.base.kinds import BottleState
from ..core.notebook.experiments import labels_by_lot
from ..store.read import queries
from ..store.records import Bottle, Bottling, Brew, Experiment
from .base import Checks, flushed

KINDS: dict[str, Any] = {"brew": Brew, "bottling": Bottling, "bottle": Bottle}
MOST_WORDS = 120


@dataclass(frozen=True, slots=True, kw_only=True)
class StartExperiment:
    """A question, and the two things that are to answer it; those to be brewed yet are joined when they are pitched."""

    question: str
    changed: str
    kind: str  #: brew, bottling or bottle
    plain: tuple[int, ...] = ()  #: As usual: a brew, a filling, some bottles; empty: still to be brewed.
    other: tuple[int, ...] = ()  #: With the one thing changed.
    seed: int | None = None  #: For tests and the sample household.


def started(session: Session, ask: StartExperiment, at: datetime) -> Experiment:
    """Keep an experiment within a larger action.

    Raises:
        RefusedError: If something of it is missing, or the two are not two.
    """
    checks, question, changed = Checks(), " ".join(ask.question.split()), " ".join(ask.changed.split())
    checks.refuse_if(not question or len(question) > MOST_WORDS, "question", f"Ask in up to {MOST_WORDS} letters, like: does green tea make it quicker?")
    checks.refuse_if(not changed or len(changed) > MOST_WORDS, "changed", "Say the one thing that differs, like green tea.")
    checks.refuse_if(ask.kind not in KINDS, "kind", "Choose brews or bottles.")
    checks.refuse_if(bool(set(ask.plain) & set(ask.other)), "other", "Choose two different ones.")
    missing = ask.kind != "brew" and not (ask.plain and ask.other)
    checks.refuse_if(missing, "other", "Choose bottles for both." if ask.kind == "bottle" else "Choose two fillings.")
    checks.refuse_if(ask.kind != "bottle" and max(len(ask.plain), len(ask.other)) > 1, "other", "One each.")
    checks.done()
    rows = [queries.get(session, KINDS[ask.kind], number) for number in (*ask.plain, *ask.other)]
    if ask.kind == "bottle":
        checks.refuse_if(len({row.bottling_id for row in rows}) > 1, "other", "Choose bottles of one filling.")
        checks.refuse_if(any(row.state == BottleState.GONE for row in rows), "other", "One of these is gone already.")
        checks.done()
    row = Experiment(
        question=question, changed=changed, kind=ask.kind, arms=[list(ask.plain), list(ask.other)], labels=labels_by_lot(ask.seed),
        sheets=[], triangles=[], started_at=at,
    )  # fmt: skip
    flushed(session, row)
    return row


def joined(session: Session, number: int | None, brew_id: int) -> str:
    """Let a brew that was just pitched be the next of the two it was brewed for.

    Returns: What is still to be done, in words; empty: nothing, or no experiment.
    """
    row = queries.find(session, Experiment, number)
    if row is None or row.ended_at is not None or not row.waits:
        return ""
    plain, other = row.sides
    row.arms = [list(plain), [brew_id]] if plain else [[brew_id], list(other)]
    return f" Now the other one, with {row.changed}." if row.waits else " Both stand now."


@dataclass(frozen=True, slots=True, kw_only=True)
class BrewedFor:
    """What a brew is brewed for: an experiment that goes on, or one that begins with it."""

    experiment_id: int | None = None
    question: str = ""  #: Of one that begins.
    changed: str = ""  #: The one thing that differs then.

    def experiment(self, session: Session, at: datetime) -> int | None:
        """Return the experiment's number; one that begins is kept.

        Raises:
            RefusedError: If only half of it was told.
        """
        if not (self.question.strip() or self.changed.strip()):
            return self.experiment_id
        return started(session, StartExperiment(question=self.question, changed=self.changed, kind="brew"), at).id
