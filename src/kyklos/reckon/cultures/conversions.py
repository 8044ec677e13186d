"""What the records tell of a line that is led from one diet to another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base.kinds import BrewStatus, Diet, KindOfBrew, VesselKind
from ...core.brewing import KINDS
from ...core.cultures.conversion import STEP, StepAdvice, StepTold, advise, outcome
from ...core.liquid import teas
from ...store.read import culture_queries, lessons, queries
from ...store.read.memory import remembered
from ...store.read.moments import days_between
from ...store.records import Brew, Conversion, Culture, Lesson, Vessel
from ..forecast import forecasting
from ..forecast.learning import first_ready
from . import spoilage


def running(culture: Culture) -> Conversion | None:
    """Find the conversion of a line that is not over."""
    return next((row for row in reversed(culture.conversions) if row.ended_at is None), None)


def _step(session: Session, brew: Brew, kept: Lesson | None, now: datetime) -> StepTold:
    lasted = days_between(brew.pitched_at, brew.ended_at or now)
    seen = any(not row.struck for row in brew.readings) or any(not row.struck for row in brew.tastings)
    if kept is not None:
        expected, reached = kept.expected_day, kept.reached_day
    else:
        ask = forecasting.forecast_ask_of(session, brew)
        expected = first_ready(replace(ask, observations=()))
        reached = first_ready(ask) if ask.observations else None
    if reached is not None and reached > lasted:
        reached = None
    green = sum(share for key, share in teas.parts_of(teas.from_text(brew.tea)) if key == "green")
    went = outcome(expected, reached, lasted, brew.alive)
    if brew.status == BrewStatus.HARVESTED and not seen:
        went = "not known"
    return StepTold(round(brew.honey_share, 6), round(green, 6), went, expected, reached)


def brews_of(session: Session, conversion: Conversion) -> list[Brew]:
    """List the brews of a conversion, oldest first."""
    end = conversion.ended_at
    steps = culture_queries.steps_between(session, conversion.culture_id, conversion.started_at, end)
    return [brew for brew in queries.with_records(session, steps) if brew.split_by is None]  # a jar more is no step more


def steps_of(session: Session, conversion: Conversion, now: datetime) -> tuple[StepTold, ...]:
    """Judge each brew of a conversion, oldest first; answered from memory within the same hour."""
    key = ("conversion", conversion.id, now.replace(minute=0, second=0, microsecond=0))

    def make() -> tuple[StepTold, ...]:
        brews = brews_of(session, conversion)
        kept = lessons.by_brew(session, [brew.id for brew in brews])
        return tuple(_step(session, brew, kept.get(brew.id), now) for brew in brews)

    return remembered(session, key, make)


def advice_of(session: Session, culture: Culture, now: datetime) -> StepAdvice:
    """Return what a line's next brew takes; for one that is not being led yet, the first step."""
    conversion = running(culture)
    if conversion is not None and (ill := _spoiled_step(session, conversion, now)) is not None:
        past = steps_of(session, conversion, now)
        here = (past[-1].honey_share, past[-1].green_share) if past else (0.0, 0.0)
        return StepAdvice("wait", *here, f"Something grave was seen in {ill}: no step is taken from it. Go on with a clean backup.")
    if conversion is None:
        return advise([], Diet(culture.diet).other, STEP)
    return advise(steps_of(session, conversion, now), conversion.target, conversion.step)


def _spoiled_step(session: Session, conversion: Conversion, now: datetime) -> str | None:
    """Return the vessel of a step that stands and is spoiled, or held for what it touched."""
    held = spoilage.strongly(session, now)
    for brew in brews_of(session, conversion):
        if brew.alive and (("brew", brew.id) in held or any(spoilage.is_grave(look) for look in brew.looks)):
            return brew.vessel.name
    return None


LAST_BREWS = 24  #: How long brews take is judged by so many of the last ones.
BREW_DAYS = 10.0  #: From start to start, where the line has no brew to tell (assumed). [d]
SHORTEST_DAYS, LONGEST_DAYS = 3.0, 40.0  #: What a line's brews may take in a plan. [d]
LEAST_AHEAD_DAYS = 0.5  #: A brew that stands is not over sooner. [d]


def brew_days_of(session: Session, culture: Culture) -> float:
    """Return how long a line's last brews took, by the median of those harvested. [d]"""
    took = sorted(culture_queries.took_days(session, culture, LAST_BREWS))
    return min(max(took[len(took) // 2], SHORTEST_DAYS), LONGEST_DAYS) if took else BREW_DAYS


def next_vessel(session: Session, culture: Culture) -> tuple[Vessel | None, float]:
    """Return the vessel in which a line is likely to go on, and the share of starter: as in its last brew, else the largest. [-]"""
    low, high = KINDS[KindOfBrew.CONVERSION].share
    last = queries.last_brew(session, Brew.culture_id == culture.id)
    if last is not None:
        return last.vessel, min(max(last.starter_fraction, low), high)
    runs = {brew.vessel_id for brew in queries.living_brews(session) if brew.runs}
    brewing = [v for v in queries.vessels(session) if v.kind != VesselKind.HOTEL and v.id not in runs]
    return max(brewing, key=lambda v: v.usable_l, default=None), (low + high) / 2


def next_begins(brews: Sequence[Brew], steps: Sequence[StepTold], now: datetime) -> float:
    """Return in how many days the next step can begin: at once, or when the brew that stands is foretold to be right. [d]"""
    if not brews or not brews[-1].alive or steps[-1].expected_day is None:
        return 0.0
    return max(LEAST_AHEAD_DAYS, steps[-1].expected_day - days_between(brews[-1].pitched_at, now))
