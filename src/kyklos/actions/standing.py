"""Putting vessels and bottles somewhere: a move ends one dated standing and begins the next; the past stays."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from ..core.liquid.standing import FRIDGE_C, PlaceKind
from ..store.read import queries
from ..store.records import Bottle, Place, Standing, Vessel
from .base import flushed


def put(session: Session, thing: Vessel | Bottle, place_id: int, at: datetime, heater_c: float | None = None) -> bool:
    """Put a vessel or bottle in a place from a moment on; returns whether anything changed.

    Args:
        session: The writing one.
        thing: The vessel or bottle; it has a number already.
        place_id: Where it stands from then on.
        at: Since when.
        heater_c: Set point of a vessel's heater; None: it has none. [degC]
    """
    now = next((row for row in reversed(thing.standings) if row.until is None), None)
    if now is not None and (now.place_id, now.heater_c) == (place_id, heater_c):
        return False
    if now is not None:
        now.until = max(at, now.since)
    row = Standing(place_id=place_id, heater_c=heater_c, since=at)
    if isinstance(thing, Vessel):
        row.vessel_id = thing.id
    else:
        row.bottle_id = thing.id
    session.add(row)
    session.flush()
    session.expire(thing)
    return True


def fridge(session: Session) -> Place:
    """Find the household's fridge, the first on the round; a household that has none gets one, as cold as most are."""
    found = queries.fridge(session)
    if found is None:
        place = Place(
            name="Fridge", kind=PlaceKind.FRIDGE, celsius=FRIDGE_C, light="dark", position=len(queries.places(session))
        )
        found = queries.get(session, Place, flushed(session, place))
    return found
