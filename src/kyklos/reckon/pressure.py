"""What is foretold of bottles: one builder of a bottle's question, for bottles that stand and for those about to be filled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
from sqlalchemy.orm import Session, object_session

from ..core.bottle import HEARD_SD, BottleAsk, BottleForecast, bottle_forecast, brew_share, vigour_after_hiss
from ..core.forecast import Forecast
from ..store.models import Bottle, Place, Standing
from ..store.read.moments import days_between
from .warmth import course_from, doubt_of

BURPED = "burped"
AHEAD_DAYS = 365  #: How far a bottle is looked ahead. [d]


@dataclass(frozen=True, slots=True, kw_only=True)
class Filled:
    """What a bottle was, or would be, filled with."""

    at: datetime
    start: tuple[float, ...]  #: State of the brew at filling, 8 parts as in `core/ferment.py`.
    vigour: float  #: Of its yeast. [-]
    added_sugar_g_per_l: float  #: [g/L]
    flavour: str
    headspace_fraction: float  #: [-]
    limit_bar: float  #: 0: not made for pressure. [bar]
    leaf_g_per_l: float  #: Of the brew. [g/L]
    brew_share: float = 1.0  #: The rest is what was added. [-]


def state_at_filling(out: Forecast, day: float) -> tuple[tuple[float, ...], float]:
    """Return the state that a bottle filled on a day starts from, and the vigour of its yeast. [d since pitch]"""
    return tuple(round(float(v), 6) for v in out.state_at(day)), round(out.posterior.yeast_vigour, 4)


def ask_for(session: Session, filled: Filled, standings: Sequence[Standing]) -> BottleAsk:
    """Put together all that a bottle's forecast depends on.

    Args:
        session: Of the household.
        filled: What is in it.
        standings: Where it stood and stands, in order of time.
    """
    return BottleAsk(
        start=filled.start,
        added_sugar_g_per_l=filled.added_sugar_g_per_l,
        course=course_from(session, standings, filled.at, AHEAD_DAYS),
        doubt_k=doubt_of(session, standings, filled.at),
        headspace_fraction=filled.headspace_fraction,
        flavour=filled.flavour,
        limit_bar=filled.limit_bar or None,
        vigour=filled.vigour,
        leaf_g_per_l=filled.leaf_g_per_l,
        brew_share=filled.brew_share,
        days=AHEAD_DAYS,
    )


def ask_if_filled(session: Session, filled: Filled, place: Place) -> BottleAsk:
    """Ask the same of a bottle that is not filled yet and would stand in a place."""
    return ask_for(session, filled, [Standing(place=place, place_id=place.id, since=filled.at)])


def _filled(bottle: Bottle) -> Filled:
    group = bottle.bottling
    return Filled(
        at=group.at,
        start=tuple(group.start),
        vigour=group.vigour,
        added_sugar_g_per_l=group.added_sugar_g_per_l,
        flavour=group.flavour,
        headspace_fraction=bottle.headspace_fraction,
        limit_bar=bottle.limit_bar,
        leaf_g_per_l=group.brew.leaf_g_per_l,
        brew_share=brew_share(group.flavour_g_per_l),
    )


def _own_ask(session: Session, bottle: Bottle) -> BottleAsk:
    return ask_for(session, _filled(bottle), bottle.standings)


def bottle_ask_of(bottle: Bottle) -> BottleAsk:
    """Put together all that a bottle's forecast depends on, with what was heard of its filling.

    Each bottle of the same filling that was opened, and the first burp or squeeze of each, teaches how lively the yeast is.
    What a burp lets out is not taken off the pressure foretold: it is back within a day or two, and so errs on the safe side.
    """
    session = object_session(bottle)
    if session is None:
        raise ValueError("A bottle's question needs the household's records.")
    ask = _own_ask(session, bottle)
    taught = [
        vigour_after_hiss(_own_ask(session, other), days_between(bottle.bottling.at, at), hiss)
        for other in bottle.bottling.bottles
        if other.limit_bar
        for at, hiss in _heard(other, bottle)
    ]
    if not taught:
        return ask
    return replace(ask, vigour=round(float(np.exp(np.mean(np.log(taught)))), 4), vigour_sd=HEARD_SD)


def _heard(other: Bottle, bottle: Bottle) -> list[tuple[datetime, int]]:
    """List when a bottle told how it presses while it still held all its gas, and how: opened, or first burped or squeezed."""
    closed = [(row.at, row.how, row.hiss) for row in other.heard]
    burped = next((at for at, how, _ in closed if how == BURPED), None)
    out = [(at, hiss) for at, _, hiss in closed[:1] if hiss is not None]
    gone = other.gone_at
    if other.hiss is not None and gone is not None and other.id != bottle.id and (burped is None or burped >= gone):
        out.append((gone, other.hiss))
    return out


def bottle_future(bottle: Bottle) -> BottleForecast:
    """Foretell a bottle as it stands."""
    return bottle_forecast(bottle_ask_of(bottle))
