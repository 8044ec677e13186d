"""How an action runs: in one transaction, recorded so that it can be undone, refused with problems beside the fields."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import wraps
from typing import Any, TypeVar

from sqlalchemy.orm import Session
from sqlalchemy.orm.exc import StaleDataError

from ..core.base import CoreError, KyklosError, OutOfRangeError, marked
from ..core.base.errors import Problem
from ..core.base.saying import spoken
from ..core.cultures import Node
from ..reckon.cultures.quarantine import refusal
from ..store.file.finding import follow_words
from ..store.file.journal import recording, touched_by
from ..store.file.session import context_of
from ..store.read.queries import was_sent
from ..store.records import Change
from .outdating import outdate

A = TypeVar("A")
FUTURE_GRACE = timedelta(minutes=5)


class RefusedError(KyklosError):
    """An action is refused; every problem has its field."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__(" ".join(problem.message for problem in problems))
        self.problems = problems

    def spoken(self, in_units: Callable[[float, str], str]) -> RefusedError:
        """Return the same with its quantities in somebody's units."""
        return RefusedError([Problem(p.field, spoken(p.message, in_units)) for p in self.problems])

    def renamed(self, names: dict[str, str]) -> RefusedError:
        """Return the same with other names of fields."""
        return RefusedError([Problem(names.get(p.field, p.field), p.message) for p in self.problems])


class ConflictError(KyklosError):
    """Somebody else wrote the same record meanwhile; nothing of it was lost."""


class SentAlreadyError(KyklosError):
    """A form came again after all while it was being written: it was kept once."""


@dataclass(frozen=True, slots=True)
class Done:
    """What happened, in words, and what it made."""

    says: str  #: With quantities marked, as `core/base/saying.py: marked` writes them.
    made: dict[str, int] = field(default_factory=dict)  #: Numbers of new records by kind.
    change_id: int = 0  #: For undo.


class Checks:
    """Collects problems, to tell all at once."""

    def __init__(self) -> None:
        """Start with none."""
        self.problems: list[Problem] = []

    def refuse_if(self, wrong: bool, field_name: str, message: str) -> None:
        """Note a problem if something is wrong."""
        if wrong:
            self.problems.append(Problem(field_name, message))

    def between(self, value: float | None, field_name: str, low: float, high: float, what: str, kind: str = "") -> None:
        """Note a value outside a range; None passes. With a kind it is said in the household's units."""
        if value is not None and not low <= value <= high:
            said, least, most = (marked(v, kind) if kind else f"{v:g}" for v in (value, low, high))
            self.problems.append(Problem(field_name, f"{what} {said} does not look right; from {least} to {most}."))

    def refuse_apart(self, session: Session, field_name: str, *nodes: Node | None) -> None:
        """Note a problem if any of these things is in quarantine; every way of bringing liquids and discs together asks."""
        why = refusal(session, *nodes)
        self.refuse_if(bool(why), field_name, why)

    def done(self) -> None:
        """Refuse if there was any problem."""
        if self.problems:
            raise RefusedError(self.problems)


def check_version(checks_seen: int | None, version: int, what: str) -> None:
    """Refuse a change made on an older page than the record.

    Raises:
        ConflictError: If somebody changed it meanwhile.
    """
    if checks_seen is not None and checks_seen != version:
        raise ConflictError(
            f"{what} was changed in another window meanwhile. What you typed is still here: "
            "compare with what it says now, then save again."
        )


ACTIONS: dict[str, Callable[..., Done]] = {}


def action(run: Callable[[Session, A, datetime], Done]) -> Callable[[Session, A, datetime], Done]:
    """Make a function an action: one transaction, recorded in the journal.

    A refused action writes nothing. Times that core values refuse become a problem too.
    """

    @wraps(run)
    def wrapped(session: Session, ask: A, at: datetime) -> Done:
        try:
            with session.begin(), recording(session) as recorder:
                context_of(session).acted_at = at
                sent_as = context_of(session).sent_as
                if sent_as is not None and was_sent(session, sent_as):
                    raise SentAlreadyError("This was saved already; it was kept once.")
                done = run(session, ask, at)
                session.flush()
                change = Change(action=run.__name__, says=done.says, at=at, rows=recorder.rows, sent_as=sent_as)
                session.add(change)
                session.flush()
                session.add_all(touched_by(change))
                outdate(session, recorder.rows)
                follow_words(session, recorder.rows)
                return Done(done.says, done.made, change.id)
        except StaleDataError as stale:
            raise ConflictError(
                "It was changed in another window meanwhile; nothing was saved. Look, then try again."
            ) from stale
        except OutOfRangeError as problem:
            raise RefusedError([Problem(problem.name, str(problem))]) from problem
        except CoreError as problem:
            raise RefusedError([Problem("", str(problem))]) from problem

    ACTIONS[run.__name__] = wrapped
    return wrapped


def flushed(session: Session, record: Any) -> int:
    """Add a record and give its number."""
    session.add(record)
    session.flush()
    return int(record.id)
