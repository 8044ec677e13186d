"""What an ended brew taught: its line's vigour, the acidity at each tasting, how the forecasts stood the test."""

from __future__ import annotations

import hashlib
from dataclasses import astuple, dataclass, field, replace
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from ...core.base.kinds import KindOfBrew
from ...core.forecast import ForecastAsk, Posterior, forecast
from ...core.forecast.hindsight import Record, Tested, tested
from ...store.read import lessons, queries
from ...store.read.moments import days_between
from ...store.records import Brew
from . import forecasting, palates, warmth

RULES = "3"  #: A new number when the computation changes: every lesson is then learned anew.
TESTED_BREWS = 60  #: The last ones tell how good forecasts are.
JUDGED = (KindOfBrew.BATCH, KindOfBrew.JUN, KindOfBrew.CONVERSION)  #: Kinds whose forecasts are put to the test.


@dataclass(frozen=True, slots=True, kw_only=True)
class Learned:
    """What one brew taught, and a fingerprint of all that it was computed from."""

    fingerprint: str
    posterior: Posterior | None = None  #: None: nobody measured or tasted it.
    mean_c: float = 0.0  #: While it stood. [degC]
    expected_day: float | None = None  #: Of a step of a conversion. [d since pitch]
    reached_day: float | None = None  #: [d since pitch]
    jun: bool = False
    tasted: list[Any] = field(default_factory=list)
    tests: list[Any] = field(default_factory=list)


def fingerprint_of(brew: Brew) -> str:
    """Return a fingerprint of all that a brew's lesson is computed from: recipe, events, warmth, readings, tastings, the line's past."""
    found = (RULES, brew.kind, brew.ended_at, forecasting.unspoilt(brew), forecasting.untasted(brew), _tastings(brew))
    return hashlib.sha256(repr(found).encode()).hexdigest()[:24]


def _tastings(brew: Brew) -> list[tuple[Any, ...]]:
    return [(t.taster_id, t.score, t.at) for t in brew.tastings if not t.struck]


def first_ready(ask: ForecastAsk) -> float | None:
    """Return when the first of the tasters finds a brew right. [d since pitch]"""
    return min((w.p50 for w in forecast(ask).ready.values() if w.p50 is not None), default=None)


def vigour(brew: Brew) -> Learned:
    """Compute the part of a lesson that rests on the brew alone: what it taught of its line's vigour, and how warm it stood."""
    lasted = max(0.5, days_between(brew.pitched_at, brew.ended_at or brew.pitched_at))
    return Learned(
        fingerprint="",
        posterior=forecasting.posterior_of(brew) if forecasting.unspoilt(brew).observations else None,
        mean_c=float(warmth.course_of(brew).at(np.linspace(0, lasted, 40)).mean()),
        jun=palates.is_jun(brew),
    )


def learn(session: Session, brew: Brew) -> Learned:
    """Compute what an ended brew taught; takes some tenths of a second."""
    ask = forecasting.forecast_ask_of(session, brew)
    leads = brew.kind == KindOfBrew.CONVERSION
    return replace(
        vigour(brew),
        fingerprint=fingerprint_of(brew),
        expected_day=first_ready(replace(ask, observations=())) if leads else None,
        reached_day=first_ready(ask) if leads and ask.observations else None,
        tasted=[list(one) for one in palates.tasted_of(brew)],
        tests=[list(astuple(test)) for test in tested(ask)] if brew.kind in JUDGED else [],
    )


def record(session: Session) -> Record:
    """Return how the forecasts of the household's last brews stood the test: those that ended as it is kept, those that stand as now."""
    kept = [Tested(*test) for tests in lessons.tests(session, TESTED_BREWS) for test in tests]
    standing = [brew for brew in queries.living_brews(session) if brew.kind in JUDGED]
    now = [test for brew in standing for test in tested(forecasting.forecast_ask_of(session, brew))]
    return Record([*now, *kept])
