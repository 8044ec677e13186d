"""What is known of a brew that speaks for or against a cause of its being slow, stuck or odd."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from typing import Any

from sqlalchemy.orm import object_session

from ...core.base.facts import INSTRUMENTS
from ...core.base.kinds import Diet
from ...core.forecast import ForecastAsk, forecast
from ...core.forecast.hindsight import surprise
from ...core.judging import BrewFacts
from ...core.judging.diagnosis import UNKNOWN, WARM_C, Evidence, pace_of
from ...core.judging.observations import GROWTH
from ...core.judging.safety import STILL_PH, PhReading, shows_life
from ...core.liquid import Course, acids, teas
from ...core.liquid.temperature import steady
from ...store.read import moments, queries, recorded, warmth_queries
from ...store.records import Brew

LOOKED_DAYS = 1.0  #: So long before a reading a measured warmth still explains it (assumed). [d]
EARLY_DAY = 1.5  #: A pace is mentioned from here on. [d]


def _fallen(facts: BrewFacts) -> tuple[float, float]:
    """Return how long pH has not fallen, and by how much it fell since the first reading. [d, pH]"""
    if len(facts.ph) < 2:
        return 0.0, 1.0
    first, last = facts.ph[0], facts.ph[-1]
    higher = [r.day for r in facts.ph if r.ph - last.ph >= STILL_PH]
    since = max(higher) if higher else first.day
    return last.day - since, first.ph - last.ph


def _pace(ask: ForecastAsk, course: Course, facts: BrewFacts) -> str:
    """Hold the last pH against what was foretold without this brew's own readings."""
    late = [r for r in facts.ph if r.day >= EARLY_DAY]
    if not late:
        return UNKNOWN
    last: PhReading = late[-1]
    alone = forecast(replace(ask.on(course), observations=()))
    low, _, high = alone.at(alone.ph, last.day)
    still, fallen = _fallen(facts)
    return pace_of(last.ph, INSTRUMENTS[last.instrument].sd_ph, low, high, still, fallen)


def _swing(brew: Brew) -> float | None:
    rows = [
        r.high_c - r.low_c for r in recorded.standing_readings(brew) if r.low_c is not None and r.high_c is not None
    ]
    return max(rows, default=None)


def asks_warmth(ask: ForecastAsk, brew: Brew) -> float:
    """Return by how much the last pH lies outside what was foretold, if the room may be why: nobody measured it for a day. [pH]"""
    session = object_session(brew)
    if not ask.observations or (session is not None and brew.vessel.place.id in warmth_queries.logged_places(session)):
        return 0.0
    looked = max((day for day, _ in recorded.by_hand(brew)), default=-1.0)
    return surprise(ask) if looked < ask.observations[-1].day - LOOKED_DAYS else 0.0


def _water(brew: Brew) -> tuple[str, str]:
    card: dict[str, Any] = brew.plan.get("card") or {}
    water: dict[str, Any] = card.get("water") or {}
    return str(water.get("treatment", "none")), str(water.get("source", "tap"))


def _start(brew: Brew, facts: BrewFacts) -> tuple[float | None, float | None]:
    first = [r.ph for r in facts.ph if r.day <= 0.5]
    gravity = [
        r.gravity
        for r in recorded.standing_readings(brew)
        if r.gravity is not None and moments.days_between(brew.pitched_at, r.at) <= 0.5
    ]
    return (first[0] if first else None), (gravity[0] if gravity else None)


def evidence_of(ask: ForecastAsk, brew: Brew, facts: BrewFacts, now: datetime) -> Evidence:
    """Put together what speaks for or against causes.

    Args:
        ask: The brew's forecast as it is asked.
        brew, facts: What is recorded of it.
        now: The time.
    """
    if brew.runs:  # what was read before the last topping up is of another liquid
        facts = replace(facts, ph=tuple(r for r in facts.ph if r.day >= facts.filled_day))
    recipe = recorded.recipe_of(brew)
    treatment, source = _water(brew)
    start_ph, start_gravity = _start(brew, facts)
    session = object_session(brew)
    alike = (Brew.culture_id == brew.culture_id, Brew.pitched_at < brew.pitched_at)
    before = queries.last_brew(session, *alike) if session is not None else None
    lot = next((t.source.lot for t in brew.liquid.starters if t.source is not None), None)
    rises = [after.ph - first.ph for first, after in zip(facts.ph, facts.ph[1:], strict=False)]
    seen = any(look.surface in GROWTH for look in facts.looks)
    planned = acids.start_ph(recipe.starter, recipe.starter_fraction, recipe.start_medium, recipe.honey_g_per_l)
    out = forecast(ask)
    risen = out.at(out.ta_g_per_l, facts.day)[1] - float(out.ta_g_per_l.p50[0]) if len(facts.ph) > 1 else None
    return Evidence(
        day=facts.day,
        pace=_pace(ask, ask.course, facts),
        pace_against_warm=_pace(ask, steady(WARM_C), facts),
        mean_c=facts.mean_c,
        hottest_c=facts.measured_c,
        swing_k=_swing(brew),
        treatment=treatment,
        source=source,
        skin=seen if facts.looks else None,
        life=shows_life(facts, risen),
        starter_fraction=brew.starter_fraction,
        starter_ph=brew.starter_ph,
        starter_age_days=moments.days_between(lot.made_at, brew.pitched_at) if lot is not None else None,
        start_ph=start_ph,
        planned_start_ph=planned,
        start_gravity=start_gravity,
        planned_sugar_g_per_l=brew.sugar_g_per_l * (1 - brew.starter_fraction) + 35 * brew.starter_fraction,
        tea_vigour=teas.vigour_of(teas.from_text(brew.tea)),
        honey_share=brew.honey_share,
        diet_honey_share=before.honey_share
        if before is not None
        else (1.0 if brew.culture.diet == Diet.JUN else brew.honey_share),
        sugar_g_per_l=brew.sugar_g_per_l,
        alkalinity_meq_per_l=brew.alkalinity_meq_per_l,
        largest_rise_ph=max(rises, default=0.0),
    )
