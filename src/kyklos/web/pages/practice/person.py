"""Who practises on this device, and writing how it goes."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any, TypeVar

from flask import current_app, g, session

from ....store.read import queries
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


def day_of_calendar(day: int) -> date:
    """Return the date of a day of the calendar. [d]"""
    return date.fromordinal(day)


def keep(run: Callable[..., Kept], *args: Any) -> Kept:
    """Write how practice goes, beside the household's records."""
    database, _ = current_app.extensions["kyklos"]
    with database.writer() as writing:
        return run(writing, *args)
