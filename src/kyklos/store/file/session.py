"""A household's session, with what one page already knows: the moment it is asked at and answers worked out once."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session


@dataclass(slots=True)
class PageContext:
    """What holds for all that one page asks."""

    now: datetime | None = None  #: The moment the page is asked at; None: unknown.
    acted_at: datetime | None = None  #: The moment of the action that is written.
    southern: bool = False  #: The household lies south of the equator.
    sent_as: str | None = None  #: The key of the form that is written; None: an ordinary one.
    writing: bool = False  #: An action writes here: nothing is answered from memory.
    answers: dict[Hashable, Any] = field(default_factory=dict)  #: Worked out for this page already.


class HouseSession(Session):
    """A session that carries its page's context."""

    def __init__(self, *args: Any, writing: bool = False, **options: Any) -> None:
        """Open it; the context begins empty."""
        super().__init__(*args, **options)
        self.context = PageContext(writing=writing)

    def expunge_all(self) -> None:
        """Let go of all rows at once; of a reading session row by row is not needed, for nobody asks them for more.

        Detaching each of thousands of rows takes its time, and in CPython 3.11 it now and then ends the process: the attribute that
        it sets anew makes the interpreter rebuild a dictionary whose keys are shared (seen in `dictresize`, under eight threads).
        """
        if self.context.writing:
            super().expunge_all()
        else:
            self.identity_map = type(self.identity_map)()
            self._new, self._deleted = {}, {}


def context_of(session: Session) -> PageContext:
    """Return the context of a session's page.

    Raises:
        TypeError: If the session was not opened by the household's file.
    """
    if not isinstance(session, HouseSession):
        raise TypeError("This session was not opened by `store/file/database.py`.")
    return session.context
