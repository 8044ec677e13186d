"""What the records tell of a line that is led from one diet to another."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session

from ..core import teas
from ..core.conversion import STEP, Advice, StepTold, advise, outcome
from ..core.forecast import Forecast, forecast
from ..core.kinds import BrewStatus, Diet, KindOfBrew
from ..store import queries
from ..store.memory import remembered
from ..store.models import Brew, Conversion, Culture
from ..store.read import moments
from . import forecasting


def running(culture: Culture) -> Conversion | None:
    """Find the conversion of a line that is not over."""
    return next((row for row in reversed(culture.conversions) if row.ended_at is None), None)


def _first(out: Forecast) -> float | None:
    """Say when the first of the tasters finds it right. [d since pitch]"""
    return min((w.p50 for w in out.ready.values() if w.p50 is not None), default=None)


def _step(session: Session, brew: Brew, now: datetime) -> StepTold:
    ask = forecasting.forecast_ask_of(session, brew)
    lasted = moments.days_between(brew.pitched_at, brew.ended_at or now)
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
