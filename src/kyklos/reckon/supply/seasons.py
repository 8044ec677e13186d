"""Through the year: what the vessels can give in each season, what is drunk takes of them, and where a heater would help."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session

from ...core.supply.plan import BatchVessel, TappedVessel, choose
from ...core.tapped import heater
from ...store.read import queries
from ...store.records import Vessel
from .producers import Producer, WhatElse, warmth_of

MIDDLES = ((1, 15), (4, 15), (7, 15), (10, 15))  #: Month and day in the middle of each season.
NORTH = ("winter", "spring", "summer", "autumn")
HEATED_C = heater.WORKS_WELL_C
DAYS_A_WEEK = 7.0


@dataclass(frozen=True, slots=True)
class Season:
    """One season, and what the vessels can give in it."""

    name: str
    middle: date
    celsius: tuple[float, float]  #: Coldest and warmest vessel. [degC]
    most_l: float  #: Every vessel as often as it can. [L/week]
    brew_days: float  #: A month, for what is drunk. [-]
    enough: bool


@dataclass(frozen=True, slots=True)
class Warmer:
    """A vessel that a heater would help, and what that takes."""

    vessel: Vessel
    season: str
    room_c: float  #: [degC]
    set_c: float  #: [degC]
    watts: float  #: Of a mat that can hold it. [W]
    kwh_a_week: float


def _ahead(now: datetime) -> list[tuple[str, date]]:
    """List the middles of the four seasons to come, in order of time."""
    today, out = now.date(), []
    for number, (month, day) in enumerate(MIDDLES):
        middle = date(today.year, month, day)
        if middle < today - timedelta(days=45):
            middle = date(today.year + 1, month, day)
        out.append((NORTH[number], middle))
    return sorted(out, key=lambda row: row[1])


def season_middles(now: datetime) -> tuple[float, ...]:
    """Return when the middle of each season to come is, in days from now. [d]"""
    return tuple(float((middle - now.date()).days) for _, middle in _ahead(now))


def seasons(session: Session, made: Sequence[Producer], first: int, now: datetime, litres_a_week: float, asked: WhatElse) -> tuple[list[Season], Warmer | None]:
    """Return what the four seasons to come can give, and the vessel that a heater would help most where it is short.

    Args:
        session: Of the household.
        made: What each vessel can do, the seasons' middles among its times.
        first: Which of them is the first season's.
        now: The moment.
        litres_a_week: What is drunk. [L/week]
        asked: What is asked besides what is.
    """
    works, middles, southern = [one for one in made if one.in_plan], season_middles(now), queries.southern(session)
    out = []
    for number, (name, middle) in enumerate(_ahead(now)):
        offered = [vessel for one in works if (vessel := _of(one, first + number)) is not None]
        warm = [warmth_of(one.vessel, now + timedelta(days=middles[number]), now, asked) for one in works]
        plan = choose(offered, litres_a_week)
        most = sum(max(one.litres_a_week for one in vessel.choices()) for vessel in offered)
        said = NORTH[(NORTH.index(name) + 2) % 4] if southern else name
        days = sum(one.effort for one in plan.choices if one.share is None) * 365 / 12 / DAYS_A_WEEK
        out.append(Season(said, middle, (min(warm, default=0.0), max(warm, default=0.0)), most, days, plan.enough))
    short = next((number for number, season in enumerate(out) if not season.enough), None)
    return out, None if short is None else _warmer(works, out[short], now, middles[short])


def _of(one: Producer, number: int) -> BatchVessel | TappedVessel | None:
    """Return what a vessel can do in a season."""
    return one.tapped[number] if one.tapped else one.batches[number] if one.batches else None


def _warmer(made: Sequence[Producer], season: Season, now: datetime, middle: float) -> Warmer | None:
    """Return the largest unheated vessel that stands colder than it works well, and what holding it there takes."""
    cold = []
    for one in made:
        room = warmth_of(one.vessel, now + timedelta(days=middle), now, WhatElse(no_heater=True))
        if one.vessel.heater_c is None and room < HEATED_C - 2:
            cold.append((one.vessel, room))
    if not cold:
        return None
    vessel, room = max(cold, key=lambda row: row[0].usable_l)
    watts = next((size for size in (15.0, 20.0, 25.0, 30.0, 40.0, 60.0) if heater.holding(vessel.usable_l, HEATED_C, room, size).holds), 60.0)
    return Warmer(vessel, season.name, room, HEATED_C, watts, heater.holding(vessel.usable_l, HEATED_C, room, watts).kwh_a_day * DAYS_A_WEEK)
