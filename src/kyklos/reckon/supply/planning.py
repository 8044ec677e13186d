"""The plan of enough to drink: what each vessel does, on which days, what stands ready with it and without it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from statistics import median

import numpy as np
from sqlalchemy.orm import Session

from ...core.base.kinds import BottleState
from ...core.bottles.room import filled_l
from ...core.brewing import BrewPlan, make_plan
from ...core.liquid.pouring import is_a_glass
from ...core.supply import Pace
from ...core.supply.ahead import DAYS_AHEAD, Ahead, Coming, WishAhead, ahead, arrivals, wished
from ...core.supply.demand import DAYS
from ...store.read import queries, supply_queries
from ...store.read.memory import remembered
from ...store.read.moments import days_between
from ..bottles.cellar import alike_in
from ..tapped_ahead import draws_ahead, plan_top_up, usual_litres
from . import drunk
from .cupboard import GoodKey, of_plan, totals
from .laying import BLOCKS, Floats, PlanLane, choices_of, for_peaks, laid
from .producers import DRAW_LOSS, Producer, WhatElse, middles_of, producers
from .seasons import Season, Warmer, season_middles, seasons

MONTH_DAYS = 365 / 12
LEAST_PLANNED_L = 0.5  #: Less sweet tea is not planned by itself. [L]
USUAL_BOTTLE_DAYS = 4.0  #: Of second ferment, where nobody kept bottles yet (assumed). [d]
FILLINGS_LOOKED_AT = 10
DUE_IN_DAYS = 1  #: A warm bottle whose day is past is ready tomorrow: it is cold by then. [d]
@dataclass(frozen=True, slots=True, kw_only=True)
class Enough:
    """What is drunk, what stands ready over twelve weeks, and the plan."""

    today: date
    pace: Pace
    known: bool  #: Whether anything was ever drunk: else the pace is only assumed.
    stock_l: float  #: Ready now. [L]
    wishes: tuple[WishAhead, ...]
    without: Ahead  #: Nobody starts anything more.
    ahead: Ahead  #: With the plan.
    lanes: tuple[PlanLane, ...]
    enough: bool
    gives_l: float  #: A week, by the plan. [L/week]
    buffer_l: float  #: Left on the shelf for a slow brew. [L]
    moved: int  #: Planned days that the plan does without.
    bottle_days: float
    made: tuple[Producer, ...]  #: What each vessel can do: in each block of days, then in the middle of each season.

    @property
    def in_plan(self) -> list[PlanLane]:
        """Vessels with which the plan reckons."""
        return [lane for lane in self.lanes if lane.producer.in_plan]

    @property
    def brew_days(self) -> list[tuple[int, PlanLane]]:
        """Days on which something is brewed, in order."""
        return sorted(((day, lane) for lane in self.lanes for day in lane.batches.days), key=lambda row: row[0])

    def day(self, number: int) -> date:
        """Return a day by its number from today."""
        return self.today + timedelta(days=number)


def enough(session: Session, now: datetime, what_if: WhatElse | None = None) -> Enough:
    """Plan the twelve weeks to come.

    Args:
        session: Of the household.
        now: The moment; a quarter of a day's answers are the same.
        what_if: What is asked besides what is.
    """
    asked = what_if or WhatElse()
    known = drunk.drunk(session, now)
    pace = known.pace if asked.litres_a_week is None else _said(known.pace, asked.litres_a_week)
    wishes = tuple(drunk.as_wishes(drunk.wishes_ahead(session, now), now))
    bottle_days = _bottle_days(session)
    stand, stock = standing(session, now, bottle_days)
    made = producers(session, now, asked, middles_of(BLOCKS) + season_middles(now))
    living = [_living(one, bottle_days) for one in made if one.stands is not None]
    there = stock + sum(one.litres for one in (*stand, *living) if one.likely < DAYS_AHEAD)
    plans = choices_of(made, _to_make(pace, wishes, there))
    level = _level(stock, [*stand, *living], pace, wishes)
    lanes, buffer = laid(session, made, plans, level, now, bottle_days, pace)
    lanes = for_peaks(session, lanes, made, level, now, bottle_days)
    habits = [one for lane in made if lane.standing is not None and lane.in_plan for one in _habit(lane)]
    coming = [one for lane in lanes for one in lane.coming]
    return Enough(
        today=now.date(),
        pace=pace,
        known=bool(known.drinks),
        stock_l=stock,
        wishes=wishes,
        without=ahead(stock, [*stand, *living, *habits], pace, wishes),
        ahead=ahead(stock, [*stand, *living, *coming], pace, wishes),
        lanes=lanes,
        enough=plans[0][0].enough,
        gives_l=sum(lane.choice.litres_a_week for lane in lanes),
        buffer_l=buffer,
        moved=sum(lane.batches.moved for lane in lanes),
        bottle_days=bottle_days,
        made=tuple(made),
    )


def through_year(session: Session, plan: Enough, now: datetime, asked: WhatElse) -> tuple[list[Season], Warmer | None]:
    """Return what the four seasons to come can give, and where a heater would help."""
    return seasons(session, plan.made, BLOCKS, now, plan.pace.litres_a_week, asked) if plan.made else ([], None)


def _to_make(pace: Pace, wishes: Sequence[WishAhead], there_l: float) -> float:
    """Return what must be made a week: what is drunk and wished for over the weeks to come, less what stands already but for a week's. [L/week]"""
    weeks = DAYS_AHEAD / DAYS
    spare = max(0.0, there_l - pace.litres_a_week)
    return max(0.0, pace.litres_a_week + (float(wished(wishes).sum()) - spare) / weeks)


def _said(learned: Pace, litres: float) -> Pace:
    """Return a pace that somebody asks for, as doubtful as the learned one."""
    factor = litres / max(learned.litres_a_week, 1e-6)
    return Pace(litres, learned.low * factor, learned.high * factor)


def _bottle_days(session: Session) -> float:
    """Return how long bottles stand warm until they are ready, as the last fillings did; 0 where nothing is bottled. [d]"""
    return remembered(session, ("bottle days",), lambda: _learned_bottle_days(session))


def _learned_bottle_days(session: Session) -> float:
    warm = supply_queries.warm_spans(session, FILLINGS_LOOKED_AT)
    if not warm:
        return 0.0 if supply_queries.first_drink(session) is not None else USUAL_BOTTLE_DAYS
    return float(round(median(warm)))


def standing(session: Session, now: datetime, bottle_days: float) -> tuple[list[Coming], float]:
    """Return what stands in warm bottles, by when it is ready, and what is ready now: cold, or running out of a tap. [L]"""
    stock = drunk.stock_l(session)
    coming = []
    for alike in alike_in(queries.bottles(session, BottleState.WARM), now):
        if alike.past or alike.spoiled_in:
            continue
        litres = sum(filled_l(one.volume_ml, one.headspace_fraction) for one in alike.bottles)
        due = bottle_days - alike.day if alike.chill_at is None else min(days_between(now, alike.chill_at), bottle_days - alike.day)
        ready = max(float(DUE_IN_DAYS), due)
        coming.append(Coming(litres, ready, ready, ready + 1))
    return coming, stock


def _living(one: Producer, bottle_days: float) -> Coming:
    ripe = one.stands
    assert ripe is not None
    return Coming(one.stands_l, ripe.early + bottle_days, ripe.likely + bottle_days, ripe.late + bottle_days)


def _habit(one: Producer) -> list[Coming]:
    """List what a tapped vessel gives when it goes on as it did."""
    if one.standing is None:
        return []
    litres = min(usual_litres(one.standing), one.standing.litres_for_good or 0.0)
    days = [days_between(one.standing.at, at) for at in draws_ahead(one.standing, float(DAYS_AHEAD))]
    return [Coming(litres * (1 - DRAW_LOSS), day, day, day) for day in days] if is_a_glass(litres) else []


def _level(stock: float, coming: Sequence[Coming], pace: Pace, wishes: Sequence[WishAhead]) -> Floats:
    gone = pace.litres_a_week / DAYS * np.arange(1, DAYS_AHEAD + 1) + np.cumsum(wished(wishes))
    return np.asarray(stock + np.cumsum(arrivals(coming, "late")) - gone)


@dataclass(frozen=True, slots=True, kw_only=True)
class Takes:
    """What the plan takes a month."""

    brew_days: float
    draws: float
    goods: dict[GoodKey, float]  #: [g]
    litres: float  #: Into bottles. [L]


def takes(session: Session, plan: Enough, now: datetime) -> Takes:
    """Add up what the plan takes a month, as its vessels work in the weeks to come."""
    goods: list[dict[GoodKey, float]] = []
    brews, draws, litres = 0.0, 0.0, 0.0
    for lane in plan.in_plan:
        if lane.choice.every_days is None:
            continue
        times = MONTH_DAYS / lane.choice.every_days
        if lane.producer.standing is not None:
            draws += times
            made: BrewPlan | None = make_plan(plan_top_up(session, lane.producer.standing, max(lane.draw_l, LEAST_PLANNED_L), now))
        else:
            brews, litres = brews + times, litres + times * lane.choice.litres_a_week * lane.choice.every_days / DAYS
            made = lane.producer.plan
        if made is not None:
            goods.append({key: grams * times for key, grams in of_plan(made).items()})
    return Takes(brew_days=brews, draws=draws, goods=totals(goods), litres=litres)
