"""A household's session, with what one page already knows: the moment it is asked at and answers worked out once."""

from __future__ import annotations

from collections.abc import Collection, Hashable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy import Table, event
from sqlalchemy.orm import ORMExecuteState, Session
from sqlalchemy.sql import visitors
from sqlalchemy.sql.cache_key import HasCacheKey

MOST_ASKED = 600  #: So many questions are kept; then it begins anew.


class FileState(NamedTuple):
    """In which state a household's file is: every action, undo and lesson leaves a trace."""

    file: str
    change: int | None  #: The last one.
    undone: int  #: So many were taken back.
    lesson: int | None  #: The last revision of what was learned.
    stale: int  #: So many lessons are to be learned anew.
    landed: int | None = None  #: The last row that devices' readings wrote.


@dataclass(slots=True)
class PageContext:
    """What holds for all that one page asks."""

    now: datetime | None = None  #: The moment the page is asked at; None: unknown.
    state: FileState | None = None  #: In which state the file is; None: not asked yet.
    acted_at: datetime | None = None  #: The moment of the action that is written.
    sent_as: str | None = None  #: The key of the form that is written; None: an ordinary one.
    writing: bool = False  #: An action writes here: nothing is answered from memory.
    answers: dict[Hashable, Any] = field(default_factory=dict)  #: Worked out for this page already.
    partial: bool = False  #: Some rows were given less than all of their lists: the next page reads them anew.


class HouseSession(Session):
    """A session that carries its page's context."""

    def __init__(self, *args: Any, writing: bool = False, **options: Any) -> None:
        """Open it; the context begins empty."""
        super().__init__(*args, **options)
        self.context = PageContext(writing=writing)
        self.asked: dict[Hashable, tuple[frozenset[str] | None, Any]] = {}  #: What was asked: of which tables, and the rows.

    def forget(self, tables: Collection[str]) -> None:
        """Forget the answers to questions that asked one of some tables, or of which that cannot be told."""
        self.asked = {key: one for key, one in self.asked.items() if one[0] is not None and one[0].isdisjoint(tables)}

    def expunge_all(self) -> None:
        """Let go of all rows at once; of a reading session row by row is not needed, for nobody asks them for more.

        Detaching each of thousands of rows takes its time, and in CPython 3.11 it now and then ends the process: the attribute that
        it sets anew makes the interpreter rebuild a dictionary whose keys are shared (seen in `dictresize`, under eight threads).
        """
        self.asked.clear()
        if self.context.writing:
            super().expunge_all()
        else:
            self.identity_map = type(self.identity_map)()
            self._new, self._deleted = {}, {}


@event.listens_for(HouseSession, "do_orm_execute")
def _ask_once(state: ORMExecuteState) -> Any:
    """Answer a question from memory that was asked in this reading session before: the file does not change under it."""
    session = state.session
    if not isinstance(session, HouseSession) or session.context.writing or not state.is_select or state.is_relationship_load or state.is_column_load:
        return None
    key = None if state.execution_options.get("anew") else _key_of(state)
    if key is None:
        return None
    if key not in session.asked:
        if len(session.asked) >= MOST_ASKED:
            session.asked.clear()
        session.asked[key] = (tables_of(state.statement), state.invoke_statement().freeze())
    return session.asked[key][1]()


def tables_of(statement: Any) -> frozenset[str] | None:
    """Return which tables a question asks; None where that cannot be told."""
    return frozenset(one.name for one in visitors.iterate(statement) if isinstance(one, Table)) or None


def _key_of(state: ORMExecuteState) -> Hashable | None:
    """Return by what a question is known: its text and what it is asked with; None where it has no such key."""
    given = state.parameters or {}
    made = state.statement._generate_cache_key() if isinstance(state.statement, HasCacheKey) else None
    if made is None or not isinstance(given, Mapping):
        return None
    values = [(name, _plain(value)) for name, value in sorted(given.items())]
    key = (made.key, tuple(_plain(one.effective_value) for one in made.bindparams), tuple(values))
    try:
        hash(key)
    except TypeError:
        return None
    return key


def _plain(value: Any) -> Any:
    return tuple(value) if isinstance(value, list | set | tuple) else value


def context_of(session: Session) -> PageContext:
    """Return the context of a session's page.

    Raises:
        TypeError: If the session was not opened by the household's file.
    """
    if not isinstance(session, HouseSession):
        raise TypeError("This session was not opened by `store/file/database.py`.")
    return session.context
