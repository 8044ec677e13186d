"""How a page acts: one action in the writing session, then a fresh look, and a message that can undo it."""

from __future__ import annotations

from typing import Any

from flask import current_app, g

from ..actions.base import Done
from ..store.values import household_of
from . import render


def look_afresh() -> None:
    """Open a reading session for this request, with what every question of it needs to know."""
    if (old := g.pop("session", None)) is not None:
        old.close()
    database, _ = current_app.extensions["kyklos"]
    g.session = database.reader()
    g.household = household_of(g.session)
    g.units = g.household.units
    g.session.info |= {"southern": g.household.southern, "now": g.now}


def act(run: Any, ask: Any, quiet: bool = False) -> Done:
    """Run an action in the writing session, then look afresh; leaves a message that can undo it, unless told to be quiet."""
    database, _ = current_app.extensions["kyklos"]
    with database.writer() as session:
        done: Done = run(session, ask, g.now)
    look_afresh()
    if run.__name__ != "undo" and not quiet:
        render.confirm(done)
    return done
