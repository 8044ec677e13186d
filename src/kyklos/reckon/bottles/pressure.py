"""What is foretold of bottles: one builder of a bottle's question, for bottles that stand and for those about to be filled."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session, object_session

from ...core.base.kinds import BottleState
from ...core.bottles import BottleAsk, BottleForecast, bottle_forecast
from ...core.bottles.bottle import VOLUMES_AT_FILLING, run_together
from ...core.bottles.drink_by import drunk_as
from ...core.bottles.heard import Heard, taught
from ...core.bottles.room import brew_share
from ...core.forecast import Forecast
from ...store.file.session import context_of
from ...store.read.moments import days_between
from ...store.records import Bottle, Place, Standing
from ..forecast.warmth import Stay, warmth_from

BURPED, SQUEEZED, RECLOSED = "burped", "squeezed", "reclosed"
LETS_OUT = (BURPED, RECLOSED)  #: After these a bottle goes on with what gas is left in it.
REFILLS_DAYS = 0.25  #: Gas takes so long to come out of the liquid after a burp; sooner it tells nothing (assumed). [d]
AHEAD_DAYS = 365  #: How far a bottle is looked ahead. [d]


@dataclass(frozen=True, slots=True, kw_only=True)
class Filled:
    """What a bottle was, or would be, filled with."""

    at: datetime
    start: tuple[float, ...]  #: State of the brew at filling, 8 parts as in `core/liquid/ferment.py`.
    vigour: float  #: Of its yeast. [-]
    added_sugar_g_per_l: float  #: [g/L]
    headspace_fraction: float  #: [-]
    limit_bar: float  #: 0: not made for pressure. [bar]
    leaf_g_per_l: float  #: Of the brew. [g/L]
    brew_share: float = 1.0  #: The rest is what was added. [-]
    form: str = "none"  #: Of what was added, as it drives the yeast.
    added_ethanol_g_per_l: float = 0.0  #: [g/L]
    pour_yeast: float = 1.0  #: [-]
    volumes: float = VOLUMES_AT_FILLING  #: Gas of the brew at filling. [volumes]
    burped_at: tuple[datetime, ...] = ()  #: When gas was let out of it.


def state_at_filling(out: Forecast, day: float) -> tuple[tuple[float, ...], float]:
    """Return the state that a bottle filled on a day starts from, and the vigour of its yeast. [d since pitch]"""
    return tuple(round(float(v), 6) for v in out.state_at(day)), round(out.posterior.yeast_vigour, 4)


def ask_for(session: Session, filled: Filled, standings: Sequence[Standing | Stay], spot_c: float | None = None) -> BottleAsk:
    """Put together all that a bottle's forecast depends on.

    Args:
        session: Of the household.
        filled: What is in it.
        standings: Where it stood and stands, in order of time.
        spot_c: As warm it is there at filling, if somebody looked just now. [degC]
    """
    warmth = warmth_from(session, standings, filled.at, AHEAD_DAYS, spot_c)
    return BottleAsk(
        start=filled.start,
        added_sugar_g_per_l=filled.added_sugar_g_per_l,
        course=warmth.course,
        doubt_k=warmth.doubt_k,
        warmer_k=warmth.warmer_k,
        headspace_fraction=filled.headspace_fraction,
        form=filled.form,
        added_ethanol_g_per_l=filled.added_ethanol_g_per_l,
        pour_yeast=filled.pour_yeast,
        volumes=filled.volumes,
        burps=tuple(days_between(filled.at, at) for at in filled.burped_at),
        limit_bar=filled.limit_bar or None,
        vigour=filled.vigour,
        leaf_g_per_l=filled.leaf_g_per_l,
        brew_share=filled.brew_share,
        days=AHEAD_DAYS,
    )


def ask_if_filled(session: Session, filled: Filled, place: Place, spot_c: float | None = None) -> BottleAsk:
    """Ask the same of a bottle that is not filled yet and would stand in a place, so warm just now if somebody looked. [degC]"""
    return ask_for(session, filled, [Stay(place=place, since=filled.at)], spot_c)


def _filled(bottle: Bottle, until: tuple[datetime, int] | None = None) -> Filled:
    """Return what a bottle was filled with, and what was let out of it, before it was heard where that is known."""
    group = bottle.bottling
    burps = [row.at for row in bottle.heard if row.how in LETS_OUT and (until is None or (row.at, row.id) < until)]
    return Filled(
        at=group.at,
        start=tuple(group.start),
        vigour=group.vigour,
        added_sugar_g_per_l=group.added_sugar_g_per_l,
        form=group.form,
        added_ethanol_g_per_l=group.added_ethanol_g_per_l,
        pour_yeast=group.pour_yeast,
        volumes=group.volumes,
        burped_at=tuple(sorted(burps)),
        headspace_fraction=bottle.headspace_fraction,
        limit_bar=bottle.limit_bar,
        leaf_g_per_l=group.brew.leaf_g_per_l,
        brew_share=brew_share(group.flavour_g_per_l),
    )


def _own_ask(session: Session, bottle: Bottle, until: tuple[datetime, int] | None = None) -> BottleAsk:
    return ask_for(session, _filled(bottle, until), bottle.standings)


def bottle_ask_of(bottle: Bottle) -> BottleAsk:
    """Put together all that a bottle's forecast depends on, with what was heard of its filling.

    Each burp, squeeze and opening of the same filling teaches how lively its yeast is, read against what that bottle held by
    then: a bottle that was burped goes on with the gas that is left in it. A page asks once for each bottle.
    """
    session = _session_of(bottle)
    context, key = context_of(session), ("bottle ask", bottle.id)
    if context.writing:
        return taught(_own_ask(session, bottle), _heard_of(bottle))
    if key not in context.answers:
        context.answers[key] = taught(_own_ask(session, bottle), _heard_of(bottle))
    asked: BottleAsk = context.answers[key]
    return asked


def _session_of(bottle: Bottle) -> Session:
    session = object_session(bottle)
    if session is None:
        raise ValueError("A bottle's question needs the household's records.")
    return session


def _heard_of(bottle: Bottle) -> list[Heard]:
    """List what was heard of a bottle's filling, each with the question of the bottle that was heard."""
    session = _session_of(bottle)
    return [
        Heard(_own_ask(session, other, (at, number)), days_between(bottle.bottling.at, at), hiss, other.id, other.id == bottle.id)
        for other in bottle.bottling.bottles
        if other.limit_bar
        for at, number, hiss in _heard(other, bottle)
    ]


def _heard(other: Bottle, bottle: Bottle) -> list[tuple[datetime, int, int]]:
    """List when it was heard or felt how a bottle presses, in which record, and how loud: burped, squeezed, opened."""
    out = []
    for row in other.heard:
        let_out = [days_between(b.at, row.at) for b in other.heard if b.how in LETS_OUT and (b.at, b.id) < (row.at, row.id)]
        if row.hiss is not None and min(let_out, default=1.0) >= REFILLS_DAYS:
            out.append((row.at, row.id, row.hiss))
    if other.hiss is not None and other.gone_at is not None and other.id != bottle.id:
        out.append((other.gone_at, sys.maxsize, other.hiss))
    return out


def foretell_together(bottles: Sequence[Bottle], now: datetime) -> None:
    """Run many bottles at once, so that each is then foretold from memory: what was heard, how they press, by when to drink them."""
    run_together(one.ask for bottle in bottles for one in _heard_of(bottle))
    asks = [bottle_ask_of(bottle) for bottle in bottles]
    run_together(asks)
    days = [max(0.0, days_between(bottle.bottling.at, now)) for bottle in bottles]
    run_together(
        drunk_as(ask, cold=bottle.state == BottleState.COLD, today=day) for bottle, ask, day in zip(bottles, asks, days, strict=True)
    )


def bottle_future(bottle: Bottle) -> BottleForecast:
    """Foretell a bottle as it stands."""
    return bottle_forecast(bottle_ask_of(bottle))
