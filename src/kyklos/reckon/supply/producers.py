"""What each vessel can give: how long a batch takes there in each month, or how much it lets draw, and why some are left out."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ...core.base.kinds import VesselKind
from ...core.brewing import BrewPlan
from ...core.brewing.planner import forecast_ask
from ...core.cultures import Node
from ...core.forecast import ForecastAsk
from ...core.forecast.ripe import Ripe, ripe, slower
from ...core.liquid import Point
from ...core.liquid.teas import text_of
from ...core.liquid.temperature import steady
from ...core.supply.plan import BatchVessel, TappedVessel
from ...core.tapped.cycle import advised, reach
from ...core.tapped.vessel import sour_limit
from ...store.read import culture_queries, queries
from ...store.read.memory import remembered
from ...store.read.moments import days_between
from ...store.records import Brew, Vessel
from ..brewing import brew_days
from ..cultures.quarantine import kept_away
from ..forecast import forecasting, palates, warmth
from ..judging.attention import attention_of
from ..tapped import TappedStanding, standing_of

LOSS_SHARE = 0.05  #: Of a batch, left in sieve and sediment (assumed). [-]
DRAW_LOSS = 0.02  #: Of a draw (assumed). [-]
DRAW_EVERY = (3.0, 5.0, 7.0, 10.0)  #: Rhythms that a household keeps (assumed). [d]
SHARE_STEP = 0.05  #: Draws are offered in twentieths of the vessel. [-]
BLOCK_DAYS = 28  #: Warmth is taken alike for so long. [d]
WARM_STEP = 0.5  #: Rooms are told apart by half a degree. [K]
HOUSE = "the household"
LOOKED_AT = 3  #: So many of the times asked for are of the days to come.
MID_BATCH_DAYS = 7.0  #: A batch is as warm as its place is so long after its start. [d]


@dataclass(frozen=True, slots=True, kw_only=True)
class WhatElse:
    """What is asked besides what is: it changes nothing that is kept."""

    litres_a_week: float | None = None  #: Drunk; None: as learned. [L/week]
    without: int | None = None  #: Number of a vessel that is not used.
    jar_l: float | None = None  #: One more jar of so much. [L]
    no_heater: bool = False
    colder_k: float = 0.0  #: [K]

    @property
    def asked(self) -> bool:
        """Whether anything is asked."""
        return self != WhatElse()


@dataclass(frozen=True, slots=True, kw_only=True)
class Producer:
    """A vessel, and what it can do over the days to come."""

    vessel: Vessel
    name: str
    why_not: str = ""  #: Why it is left out of the plan; empty: it is in it.
    brew: Brew | None = None  #: What stands in it.
    plan: BrewPlan | None = None  #: How its next brew is made, with its amounts.
    batches: tuple[BatchVessel | None, ...] = ()  #: By each of the times asked for; None: it would not be right.
    ripe: tuple[Ripe | None, ...] = ()
    free_in: float = 0.0  #: Until it can be filled. [d]
    stands: Ripe | None = None  #: What stands in it, from now on. [d from now]
    stands_l: float = 0.0  #: What that will give. [L]
    tapped: tuple[TappedVessel | None, ...] = ()  #: By the same times.
    standing: TappedStanding | None = None

    @property
    def in_plan(self) -> bool:
        """Whether the plan reckons with it."""
        return not self.why_not

    @property
    def starter_l(self) -> float:
        """What a batch in it takes as starter. [L]"""
        return 0.0 if self.plan is None else self.plan.made.starter_ml / 1000


def middles_of(blocks: int) -> tuple[float, ...]:
    """Return when each block of four weeks is as warm as its batches are, in days from now. [d]"""
    return tuple(MID_BATCH_DAYS + BLOCK_DAYS * number for number in range(blocks))


def block_of(day: int, blocks: int) -> int:
    """Return in which block of days a day lies."""
    return min(max(day, 0) // BLOCK_DAYS, blocks - 1)


def producers(session: Session, now: datetime, what_if: WhatElse, middles: tuple[float, ...]) -> list[Producer]:
    """List what each vessel can do; those that are left out with why.

    Args:
        session: Of the household.
        now: The moment.
        what_if: What is asked besides what is.
        middles: In days from now: for each block of days, how warm it is then counts.
    """
    if not culture_queries.cultures(session):
        return []
    apart = kept_away(session)
    out = [
        _producer(session, vessel, now, what_if, middles, apart)
        for vessel in queries.vessels(session)
        if vessel.kind != VesselKind.HOTEL and vessel.place is not None and vessel.id != what_if.without
    ]
    first = next((one for one in out if one.in_plan and one.batches), None)
    if what_if.jar_l and first is not None:
        out.append(_one_more(first, what_if.jar_l))
    return out


def _one_more(like: Producer, litres: float) -> Producer:
    """Return one more jar beside another: it ferments as that does, filled for the first time when that is harvested."""
    batches = tuple(None if one is None else replace(one, name="One more jar", litres=litres) for one in like.batches)
    return Producer(vessel=like.vessel, name="One more jar", plan=like.plan, batches=batches, ripe=like.ripe, free_in=like.free_in)


def _producer(session: Session, vessel: Vessel, now: datetime, what_if: WhatElse, middles: tuple[float, ...], apart: set[Node]) -> Producer:
    brew = queries.brew_in(session, vessel.id)
    if brew is None:
        return _free(session, vessel, now, what_if, middles)
    known = attention_of(session, brew, now)
    if known.lost:
        return Producer(vessel=vessel, name=vessel.name, brew=brew, why_not="to be thrown out first")
    if known.on_hold or ("brew", brew.id) in apart:
        return Producer(vessel=vessel, name=vessel.name, brew=brew, why_not="on hold")
    if known.not_drunk:
        return Producer(vessel=vessel, name=vessel.name, brew=brew, why_not="grows what nobody drinks")
    if brew.runs:
        standing = standing_of(session, known, now)
        if standing.paused:
            return Producer(vessel=vessel, name=vessel.name, brew=brew, standing=standing, why_not="paused")
        tapped = tuple(_draws(standing, now, middle, what_if) for middle in middles)
        return Producer(vessel=vessel, name=vessel.name, brew=brew, standing=standing, tapped=tapped)
    days = [(w.p10, w.p50, w.p90) for w in known.forecast.ready.values()]
    likely = [p50 for _, p50, _ in days if p50 is not None]
    if not likely or len(likely) < len(days):
        return Producer(vessel=vessel, name=vessel.name, brew=brew, why_not="no ready day in sight")
    early = min(p10 if p10 is not None else p50 or 0.0 for p10, p50, _ in days)
    late = max(p90 if p90 is not None else (p50 or 0.0) * 1.4 for _, p50, p90 in days)
    stands = Ripe(*(max(0.0, value - known.day) for value in (early, max(likely), late, late)))
    made = _free(session, vessel, now, what_if, middles)
    gives = max(0.0, brew.left_l - made.starter_l) * (1 - LOSS_SHARE)
    return replace(made, brew=brew, free_in=stands.likely, stands=stands, stands_l=gives, why_not=made.why_not)


def _free(session: Session, vessel: Vessel, now: datetime, what_if: WhatElse, middles: tuple[float, ...]) -> Producer:
    """Return what batches in a vessel give, whatever stands in it now."""
    plan = brew_days.usual_plan(session, vessel, now)
    culture = brew_days.last_culture(session, vessel)
    point = house_point(session, plan.recipe.honey_share)
    ask = forecast_ask(plan, forecasting.prior_of(culture, tea=text_of(plan.recipe.tea)), (point,))
    found = _ripe(session, ask, vessel, now, middles, what_if)
    share = plan.made.starter_ml / 1000 / max(plan.final_l, 1e-6)
    batches = tuple(
        None if one is None else BatchVessel(vessel.name, plan.final_l, one.likely, max(one.last_day, math.ceil(one.likely)), 0.0, min(share, 1.0), LOSS_SHARE)
        for one in found
    )
    why = "" if any(batches[:LOOKED_AT]) else "too cold to brew in"
    return Producer(vessel=vessel, name=vessel.name, plan=plan, batches=batches, ripe=found, why_not=why)


def house_point(session: Session, honey_share: float) -> Point:
    """Return where the household likes it together: the middle of its tasters' points."""
    points = palates.points_of(session, honey_share)
    middle = math.exp(sum(math.log(one.ta_g_per_l) for one in points) / len(points))
    return Point(HOUSE, round(middle, 2), round(max(one.sd for one in points), 3))


def warmth_of(vessel: Vessel, day: datetime, now: datetime, what_if: WhatElse) -> float:
    """Return how warm a vessel will stand around a day: by its heater, or as its place is in that month. [degC]"""
    room = warmth.expected_celsius(vessel.place, day, now) - what_if.colder_k
    heated = vessel.heater_c if vessel.heater_c is not None and not what_if.no_heater else None
    celsius = room if heated is None else max(heated, room)
    return round(min(max(celsius, 5.0), 34.0) / WARM_STEP) * WARM_STEP


def _ripe(session: Session, ask: ForecastAsk, vessel: Vessel, now: datetime, middles: tuple[float, ...], what_if: WhatElse) -> tuple[Ripe | None, ...]:
    """Return when a batch would be right that is started in each block of days."""
    warm = tuple(warmth_of(vessel, now + timedelta(days=middle), now, what_if) for middle in middles)
    asked = replace(ask, batch=replace(ask.batch, course=steady(warm[0])))
    first = remembered(session, ("ripe", vessel.id, asked), lambda: ripe(asked, sour_limit(asked.points[0].ta_g_per_l)))
    if first is None:
        return (None,) * len(middles)
    return tuple(None if factor is None else first.at_pace(factor) for factor in slower(asked, warm))


def _draws(standing: TappedStanding, now: datetime, middle: float, what_if: WhatElse) -> TappedVessel | None:
    """Return which draws a tapped vessel can give for good in a block of days."""
    tapped, vessel = standing.tapped, standing.vessel
    celsius = warmth_of(vessel, now + timedelta(days=middle), now, what_if)
    kelvin = round((celsius - tapped.celsius) / WARM_STEP) * WARM_STEP
    draws: list[tuple[float, float]] = []
    for every in DRAW_EVERY:
        found = reach(tapped.cycle(every, kelvin), tapped.lowest, tapped.sourest)
        most = advised(found.most, tapped.measures_after)
        if most is None:
            continue
        least = found.least or SHARE_STEP
        steps = range(max(1, math.ceil(least / SHARE_STEP - 1e-9)), math.floor(min(most, tapped.to_tap) / SHARE_STEP + 1e-9) + 1)
        draws += [(every, round(number * SHARE_STEP, 2)) for number in steps]
    return TappedVessel(vessel.name, tapped.line_l, tuple(draws), DRAW_LOSS) if draws else None


def free_starter_l(session: Session, culture_id: int) -> float:
    """Return how much starter of a line is at hand. [L]"""
    return sum(lot.left_l for lot in brew_days.sound_lots(session) if lot.culture_id == culture_id)


def starter_in_days(session: Session, made: Sequence[Producer], one: Producer, now: datetime) -> float | None:
    """Return when there is starter for a vessel in which nothing stands: now, from the next harvest of its line, or never. [d]"""
    culture = brew_days.last_culture(session, one.vessel)
    if one.brew is not None or free_starter_l(session, culture.id) >= one.starter_l * 0.9:
        return one.free_in
    sour = [days for brew, days in brew_days.gives_starter(session, culture, now) if days_between(brew.pitched_at, now) >= 0]
    return min(sour, default=None)
