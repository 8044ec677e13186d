"""Putting a brew right later: when it began, how much, of what, in which jar; and since when a jar stands where it stands."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ...core.base import CoreError, marked
from ...core.liquid import Way, teas
from ...core.liquid.pouring import LEAST_L, Added
from ...store.read import queries
from ...store.records import Brew, Standing, Transfer, Vessel
from ..base import FUTURE_GRACE, Checks, Done, action, check_version
from ..pouring import course_of
from ..standing import put

RESTS = (Way.LEFT_OVER, Way.DISCARDED)  #: How what is left goes when a brew ends.
MOST_DOUBT_DAYS = 30.0  #: A start that is remembered no better is none. [d]


@dataclass(frozen=True, slots=True, kw_only=True)
class CorrectBrew:
    """How a brew began, as it is known now."""

    brew_id: int
    pitched_at: datetime
    start_doubt_days: float  #: Give or take. [d]
    litres: float  #: That it was started with. [L]
    tea: str
    leaf_g_per_l: float  #: [g/L]
    sugar_g_per_l: float  #: [g/L]
    starter_ph: float  #: [pH]
    vessel_id: int
    version: int | None = None


def _check_start(checks: Checks, session: Session, brew: Brew, ask: CorrectBrew, now: datetime) -> None:
    checks.refuse_if(ask.pitched_at > now + FUTURE_GRACE, "pitched_at", "That lies in the future.")
    checks.between(ask.start_doubt_days, "start_doubt_days", 0, MOST_DOUBT_DAYS, "Give or take (days)")
    found = [
        row.at
        for rows in (brew.readings, brew.tastings, brew.looks)
        for row in rows
        if not row.struck and row.at > brew.pitched_at
    ]
    found += [t.at for t in brew.liquid.outflows] + ([brew.ended_at] if brew.ended_at else [])
    first = min(found, default=None)
    checks.refuse_if(
        first is not None and ask.pitched_at > first,
        "pitched_at",
        "Something was measured, tasted or taken out before that. Put that right first.",
    )
    for transfer in brew.liquid.starters:
        lot = transfer.source.lot if transfer.source is not None else None
        checks.refuse_if(
            lot is not None and transfer.at == brew.pitched_at and ask.pitched_at < lot.made_at,
            "pitched_at",
            "Its starter was set aside later than that.",
        )
    beside = queries.filled_then(session, ask.vessel_id, ask.pitched_at, brew.ended_at or now, brew.id)
    checks.refuse_if(
        beside is not None, "vessel", f"{queries.get(session, Vessel, ask.vessel_id).name} was full at that time."
    )


def _check_recipe(checks: Checks, ask: CorrectBrew) -> None:
    checks.between(ask.litres, "litres", 0.1, 250, "A brew of", "volume")
    checks.between(ask.leaf_g_per_l, "leaf_g_per_l", 0, 20, "Leaf of", "strength")
    checks.between(ask.sugar_g_per_l, "sugar_g_per_l", 5, 150, "Sugar of", "strength")
    checks.between(ask.starter_ph, "starter_ph", 1.8, 5.5, "A starter's pH of")
    try:
        teas.from_text(ask.tea)
    except CoreError:
        checks.refuse_if(True, "tea", "Choose a tea.")


def as_it_said(brew: Brew) -> dict[str, Any]:
    """Return how a brew began, as its record says now."""
    return {
        "pitched_at": brew.pitched_at.isoformat(),
        "start_doubt_days": brew.start_doubt_days,
        "litres": round(brew.started_l, 4),
        "tea": brew.tea,
        "leaf_g_per_l": brew.leaf_g_per_l,
        "sugar_g_per_l": brew.sugar_g_per_l,
        "starter_ph": brew.starter_ph,
        "vessel": brew.vessel.name,
    }


@action
def correct_brew(session: Session, ask: CorrectBrew, at: datetime) -> Done:
    """Put right how a brew began; all that follows is computed anew, and what was said before is kept with it."""
    brew, checks = queries.get(session, Brew, ask.brew_id), Checks()
    check_version(ask.version, brew.version, brew.vessel.name)
    checks.refuse_if(brew.split_by is not None, "", "It was split from another brew: put that one right.")
    _check_recipe(checks, ask)
    checks.done()
    _check_start(checks, session, brew, ask, at)
    least = brew.started_l - min([litres for _, litres in course_of(session, brew.liquid)], default=0.0)
    least -= brew.liquid.went_l(*RESTS) if not brew.alive else 0.0  # the rest that went at its end follows the volume
    checks.refuse_if(
        ask.litres < least - LEAST_L,
        "litres",
        f"At least {marked(least, 'volume')} was in it by what was taken out since.",
    )
    checks.done()
    before = as_it_said(brew)
    _pour_right(session, brew, ask.litres - brew.started_l)
    if brew.pitched_at != ask.pitched_at:
        _begin_at(brew, ask.pitched_at)
    if brew.vessel_id != ask.vessel_id:
        brew.vessel_id = ask.vessel_id
    brew.start_doubt_days, brew.starter_ph = ask.start_doubt_days, ask.starter_ph
    brew.tea, brew.leaf_g_per_l, brew.sugar_g_per_l = ask.tea, ask.leaf_g_per_l, ask.sugar_g_per_l
    session.flush()
    session.expire(brew)
    if as_it_said(brew) == before:
        return Done("Nothing was changed.")
    brew.facts = {**brew.facts, "before": [*brew.facts.get("before", []), {"until": at.isoformat(), **before}]}
    return Done(f"{brew.vessel.name} put right. What it said before is kept.")


def _pour_right(session: Session, brew: Brew, more_l: float) -> None:
    """Let the sweet tea that it began with tell the volume; the share of starter follows. [L]"""
    if abs(more_l) < LEAST_L:
        return
    first = next((a for a in brew.liquid.additions if a.what == Added.SWEET_TEA and a.at <= brew.liquid.began_at), None)
    checks = Checks()
    checks.refuse_if(first is None or first.litres + more_l < 0, "litres", "There was more starter in it than that.")
    checks.done()
    assert first is not None
    share = brew.starter_fraction * brew.started_l / (brew.started_l + more_l)
    first.litres += more_l
    if not brew.alive:
        _rest_right(session, brew, more_l)
    brew.starter_fraction = min(0.95, share)
    session.flush()


def _rest_right(session: Session, brew: Brew, more_l: float) -> None:
    """Let the rest that went when a brew ended follow its volume, so that nothing stands in an empty jar. [L]"""
    rest = next((t for t in brew.liquid.outflows if t.how in RESTS), None)
    if rest is not None:
        rest.litres = max(0.0, rest.litres + more_l)
    elif more_l > 0 and brew.ended_at is not None:
        session.add(Transfer(at=brew.ended_at, litres=more_l, source_id=brew.liquid_id, how=Way.LEFT_OVER))


def _begin_at(brew: Brew, start: datetime) -> None:
    """Let a brew, and all that was done at its start, begin at another moment."""
    old = brew.pitched_at
    for addition in brew.liquid.additions:
        addition.at = start if addition.at <= old else addition.at
    for transfer in brew.liquid.inflows:
        transfer.at = start if transfer.at <= old else transfer.at
    for reading in brew.readings:
        reading.at = start if reading.at <= old else reading.at
    if brew.earlier:
        brew.earlier[0].since = start
    brew.liquid.began_at = brew.pitched_at = start


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveVessel:
    """A vessel put somewhere else, at a date."""

    vessel_id: int
    place_id: int
    at: datetime | None = None  #: Now, unless given.
    heater_c: float | None = None  #: Set point of its heater; as it was unless given. [degC]
    heater_off: bool = False  #: It is taken off, or unplugged.


@action
def move_vessel(session: Session, ask: MoveVessel, at: datetime) -> Done:
    """Move a vessel to another place; where it stood before stays as it was."""
    return move(session, ask, at)


def move(session: Session, ask: MoveVessel, at: datetime) -> Done:
    """Move a vessel, within another action."""
    vessel, checks, when = queries.get(session, Vessel, ask.vessel_id), Checks(), ask.at or at
    place = queries.get(session, type(vessel.place), ask.place_id)
    checks.refuse_if(when > at + FUTURE_GRACE, "at", "That lies in the future.")
    checks.refuse_if(
        when < vessel.stands.since, "at", "It came to where it stands now later than that. Put that date right first."
    )
    checks.between(ask.heater_c, "heater_c", 15, 40, "A heater at", "temperature")
    checks.done()
    before = vessel.heater_c
    heater_c = None if ask.heater_off else before if ask.heater_c is None else ask.heater_c
    if not put(session, vessel, place.id, when, heater_c):
        return Done(f"{vessel.name} stands there already.")
    if before is not None and heater_c is None:
        return Done(f"{vessel.name} moved to {place.name}; its heater is off.")
    warm = f", its heater set to {marked(heater_c, 'temperature')}" if heater_c is not None else ""
    return Done(f"{vessel.name} moved to {place.name}{warm}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class CorrectMove:
    """Since when a vessel stands, or stood, in a place."""

    standing_id: int
    since: datetime


@action
def correct_move(session: Session, ask: CorrectMove, at: datetime) -> Done:
    """Put right the date of a move; the stay before it ends then."""
    row, checks = queries.get(session, Standing, ask.standing_id), Checks()
    others = select(Standing).where(
        Standing.vessel_id == row.vessel_id, Standing.id != row.id, Standing.until == row.since
    )
    before = session.scalars(others).first() if row.vessel_id is not None else None
    checks.refuse_if(before is None, "since", "It stood there from the first: there was no move.")
    checks.refuse_if(ask.since > (row.until or at), "since", "It was gone from there by then.")
    checks.refuse_if(
        before is not None and ask.since <= before.since, "since", "It came to the place before that later."
    )
    checks.done()
    assert before is not None
    row.since = before.until = ask.since
    return Done("The date of the move is put right.")
