"""How a page acts: one action in the writing session, then a fresh look, and a message that can undo it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from typing import TypeAlias, TypeVar

from flask import current_app, g, has_request_context
from sqlalchemy.orm import Session

from ...actions.base import Done, RefusedError
from ...actions.undo import undo
from ...core.base.saying import spoken
from ...store.read.moments import quarter_of
from ...store.read.queries import household_of
from . import once, render, units
from .fields import KitchenForm

A = TypeVar("A")
Run: TypeAlias = Callable[[Session, A, datetime], Done]  #: An action, with the ask that it takes.


def look_afresh() -> None:
    """Open a reading session for this request, with what every question of it needs to know."""
    look_away(failed=False)
    database, _ = current_app.extensions["kyklos"]
    g.session = database.borrowed(quarter_of(g.now))
    g.household = household_of(g.session)
    g.units = g.household.units
    g.session.context.now = g.now


def look_away(failed: bool) -> None:
    """Let go of the request's session; what was read serves the next page, unless something failed."""
    if (session := g.pop("session", None)) is None:
        return
    if failed:
        session.close()
        return
    database, _ = current_app.extensions["kyklos"]
    database.give_back(session, quarter_of(g.now))


def in_units(value: float, kind: str) -> str:
    """Put a quantity into words, in the household's units."""
    return units.words(value, kind, g.units)


def act(run: Run[A], ask: A, quiet: bool = False) -> Done:
    """Run an action in the writing session, then look afresh; leaves a message that can undo it, unless asked to be quiet."""
    database, _ = current_app.extensions["kyklos"]
    try:
        with database.writer() as session:
            session.context.sent_as = once.next_key() if has_request_context() else None
            done = run(session, ask, g.now)
    except RefusedError as refused:
        raise refused.spoken(in_units) from refused
    current_app.extensions["kyklos learner"].nudge()
    look_afresh()
    done = replace(done, says=spoken(done.says, in_units))
    if run is not undo and not quiet:
        render.confirm(done)
    return done


def tried(form: KitchenForm, run: Run[A], ask: Callable[[], A], names: dict[str, str] | None = None) -> Done | None:
    """Act on a form that was sent; None when it does not hold or the action refuses, with every problem beside its field.

    Args:
        form: As it was sent.
        run: The action.
        ask: Makes its ask, once the form holds.
        names: Of the form's fields, where they differ from the ask's.
    """
    if not form.validate_on_submit():
        return None
    try:
        return act(run, ask())
    except RefusedError as refused:
        form.take(refused.renamed(names or {}))
        return None
