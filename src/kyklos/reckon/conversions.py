"""What the records tell of a line that is led from one diet to another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session

from ..core import teas
from ..core.brew_kinds import KINDS
from ..core.conversion import STEP, Advice, StepTold, advise, outcome
from ..core.forecast import Forecast, forecast
from ..core.kinds import BrewStatus, Diet, KindOfBrew, VesselKind
from ..store import queries
from ..store.memory import remembered
from ..store.models import Brew, Conversion, Culture, Vessel
from ..store.read.moments import days_between
from . import forecasting


def running(culture: Culture) -> Conversion | None:
    """Find the conversion of a line that is not over."""
    return next((row for row in reversed(culture.conversions) if row.ended_at is None), None)


def _first(out: Forecast) -> float | None:
    """Say when the first of the tasters finds it right. [d since pitch]"""
    return min((w.p50 for w in out.ready.values() if w.p50 is not None), default=None)


def _step(session: Session, brew: Brew, now: datetime) -> StepTold:
    ask = forecasting.forecast_ask_of(session, brew)
    lasted = days_between(brew.pitched_at, brew.ended_at or now)
    expected, reached = _first(forecast(replace(ask, observations=()))), None
    if ask.observations:
        reached = _first(forecast(ask))
    if reached is not None and reached > lasted:
        reached = None
    green = sum(share for key, share in teas.parts_of(teas.from_text(brew.tea)) if key == "green")
    told = outcome(expected, reached, lasted, brew.alive)
    if brew.status == BrewStatus.HARVESTED and not ask.observations:
        told = "not told"
    return StepTold(round(brew.honey_share, 6), round(green, 6), told, expected, reached)


def brews_of(session: Session, conversion: Conversion) -> list[Brew]:
    """List the brews of a conversion, oldest first."""
    end = conversion.ended_at
    return [
        brew
        for brew in queries.with_past(session, conversion.culture)
        if brew.kind == KindOfBrew.CONVERSION and brew.pitched_at >= conversion.started_at and (end is None or brew.pitched_at <= end)
    ]  # fmt: skip


def steps_of(session: Session, conversion: Conversion, now: datetime) -> tuple[StepTold, ...]:
    """Judge each brew of a conversion, oldest first; answered from memory within the same hour."""
    key = ("conversion", conversion.id, now.replace(minute=0, second=0, microsecond=0))
    return remembered(session, key, lambda: tuple(_step(session, brew, now) for brew in brews_of(session, conversion)))


def advice_of(session: Session, culture: Culture, now: datetime) -> Advice:
    """Say what a line's next brew takes; one that is not being led yet is told the first step."""
    conversion = running(culture)
    if conversion is None:
        return advise([], Diet(culture.diet).other, STEP)
    return advise(steps_of(session, conversion, now), conversion.target, conversion.step)


BREW_DAYS = 10.0  #: From start to start, where the line has no brew to tell (assumed). [d]
SHORTEST_DAYS, LONGEST_DAYS = 3.0, 40.0  #: What a line's brews may take in a plan. [d]
LEAST_AHEAD_DAYS = 0.5  #: A brew that stands is not over sooner. [d]


def brew_days_of(brews: Sequence[Brew]) -> float:
    """Return how long a line's brews took, by the median of those harvested. [d]"""
    took = sorted(
        days_between(b.pitched_at, b.ended_at) for b in brews if b.status == BrewStatus.HARVESTED and b.ended_at
    )
    return min(max(took[len(took) // 2], SHORTEST_DAYS), LONGEST_DAYS) if took else BREW_DAYS


def next_vessel(session: Session, culture: Culture) -> tuple[Vessel | None, float]:
    """Return the vessel in which a line is likely to go on, and the share of starter: as in its last brew, else the largest. [-]"""
    low, high = KINDS[KindOfBrew.CONVERSION].share
    if culture.brews:
        last = culture.brews[-1]
        return last.vessel, min(max(last.starter_fraction, low), high)
    brewing = [v for v in queries.vessels(session) if v.kind != VesselKind.HOTEL]
    return max(brewing, key=lambda v: v.usable_l, default=None), (low + high) / 2


def next_begins(brews: Sequence[Brew], steps: Sequence[StepTold], now: datetime) -> float:
    """Return in how many days the next step can begin: at once, or when the brew that stands is foretold to be right. [d]"""
    if not brews or not brews[-1].alive or steps[-1].expected_day is None:
        return 0.0
    return max(LEAST_AHEAD_DAYS, steps[-1].expected_day - days_between(brews[-1].pitched_at, now))
