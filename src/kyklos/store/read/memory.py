"""Answers that hold until the household's file changes: frozen values only, never rows."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from copy import copy
from functools import wraps
from threading import Lock, RLock
from typing import Any, TypeVar, cast

from sqlalchemy.orm import Session

from ..file import following
from ..file.session import FileState, context_of
from ..records.base import Base

T = TypeVar("T")
ROOM = 256
_known: OrderedDict[Hashable, Any] = OrderedDict()
_wanted: dict[tuple[type[Base], ...], None] = {}  #: Sets of kinds of which a state was ever wanted.
_making: dict[Hashable, Any] = {}  #: Whose turn it is to make an answer that is not known yet.
_lock = Lock()


def once(ask: Callable[[Session], T]) -> Callable[[Session], T]:
    """Ask for a list or set once in a reading session, which lives for one page; a writing one sees its own changes.

    Each asker gets a list of its own. Not for a single row: a copied row is none.
    """
    key = ("once", ask.__module__, ask.__name__)

    @wraps(ask)
    def asked(session: Session) -> T:
        context = context_of(session)
        if context.writing:
            return ask(session)
        if key not in context.answers:
            context.answers[key] = ask(session)
        return copy(cast(T, context.answers[key]))

    return asked


def state_of(session: Session) -> FileState:
    """Return in which state the file is: every action, undo and lesson leaves a trace; asked once a session."""
    context = context_of(session)
    if context.state is None:
        context.state = following.state_of(session)
    return context.state


def _state_for(session: Session, kinds: tuple[type[Base], ...]) -> FileState:
    """Return in which state the file is as far as some kinds go; all that was ever wanted of this is asked in one question."""
    answers = context_of(session).answers
    if kinds not in answers:
        with _lock:
            _wanted.setdefault(kinds)
            several = list(_wanted)
        answers.update(zip(several, following.states_for(session, state_of(session), several), strict=True))
    return cast(FileState, answers[kinds])


def remembered(session: Session, key: Hashable, make: Callable[[], T], of: Sequence[type[Base]] = ()) -> T:
    """Answer from memory what was asked in this state of the file already.

    Args:
        session: A reading session; a writing one sees its own changes and is always answered anew.
        key: What is asked, with all that it depends on besides the file.
        make: Gives a frozen value.
        of: All that it is made of, where it is worth holding on to it while other things are written; all there is, unless given.
    """
    if context_of(session).writing:
        return make()
    return _kept((_state_for(session, tuple(of)) if of else state_of(session), key), make)


def _kept(whole: Hashable, make: Callable[[], T]) -> T:
    """Answer from memory, or make it and keep it; what was asked longest ago makes room.

    Two who ask the same at once make it once: the second waits for the first. What an answer is made of never asks for that answer,
    so that nobody waits for who waits for them.
    """
    with _lock:
        if whole in _known:
            _known.move_to_end(whole)
            return cast(T, _known[whole])
        turn = _making.setdefault(whole, RLock())
    with turn:
        with _lock:
            if whole in _known:
                return cast(T, _known[whole])
        try:
            made = make()
            with _lock:
                _known[whole] = made
                while len(_known) > ROOM:
                    _known.popitem(last=False)
        finally:
            with _lock:
                _making.pop(whole, None)
    return made


def for_a_minute(session: Session, key: Hashable, minute: Hashable, make: Callable[[], T]) -> T:
    """Answer from memory what was asked in this minute already, whatever was written since: for what devices send, which no change tells.

    Args:
        session: Of the household.
        key: What is asked; the first part of it names whose it is, for `forget_minute`.
        minute: Of the asking.
        make: Gives a frozen value.
    """
    return _kept(("minute", str(session.get_bind().engine.url), key, minute), make)


def forget_minute(key: Hashable) -> None:
    """Forget what was answered for a minute."""
    with _lock:
        for whole in [one for one in _known if isinstance(one, tuple) and one[0] == "minute" and one[2] == key]:
            del _known[whole]


def forget() -> None:
    """Forget all answers, as after a start."""
    with _lock:
        _known.clear()
