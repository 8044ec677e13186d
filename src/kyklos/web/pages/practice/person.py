"""Who practises on this device, where their season stands, and writing how it goes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from flask import current_app, g, session

from ....core.practice.moves import RefusedMoveError, after
from ....store.read import practising, queries
from ....store.records import Taster
from ...kit.words import local_today

Kept = TypeVar("Kept")
WHO = "practises"  #: In this device's cookie.


def tasters() -> list[Taster]:
    """List who may practise."""
    return list(queries.tasters_of(g.session))


def person() -> int:
    """Return who practises here: a taster's number; 0: nobody in particular."""
    known = [taster.id for taster in tasters()]
    chosen = session.get(WHO)
    return chosen if chosen in known else known[0] if known else 0


def choose(number: int | None) -> None:
    """Let this device remember who practises."""
    if number in {taster.id for taster in tasters()}:
        session[WHO] = number


def today() -> int:
    """Return today as days of the calendar. [d]"""
    return local_today().toordinal()


def season_kept() -> practising.SeasonKept | None:
    """Return the season of who practises here; None: none was begun. One that the rules refuse since begins anew."""
    kept = practising.season(g.session, person())
    if kept is None:
        return None
    try:
        after(kept.seed, kept.moves)
    except RefusedMoveError:
        return practising.SeasonKept(kept.seed, "")
    return kept


def keep(run: Callable[..., Kept], *args: Any) -> Kept:
    """Write how practice goes, beside the household's records."""
    database, _ = current_app.extensions["kyklos"]
    with database.writer() as writing:
        return run(writing, *args)
