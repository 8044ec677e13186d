"""How long a brew that nobody has started yet would take, and how long it stays right: what a plan of many brews asks."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from ..liquid import Kinetics
from ..liquid.batch import run
from ..liquid.temperature import bacteria_ratio, steady, yeast_ratio
from .answer import forecast
from .ask import ForecastAsk

LOOKED_DAYS = 70  #: What is not right by then is not waited for. [d]
PLAN_STEP_DAYS = 0.25  #: Longest step where months are compared. [d]
LATE_FACTOR = 1.4  #: A late day beyond the days looked at counts as so much after the likely one (assumed). [-]


@dataclass(frozen=True, slots=True)
class Ripe:
    """When a brew would be right, and when it has had its day. [d since the start]"""

    early: float
    likely: float
    late: float
    last_day: float  #: Then it is likely too sour.

    def at_pace(self, factor: float) -> Ripe:
        """Return the same for a brew that takes so much longer. [-]"""
        return Ripe(*(value * factor for value in (self.early, self.likely, self.late, self.last_day)))


def ripe(ask: ForecastAsk, sour_g_per_l: float) -> Ripe | None:
    """Return when a brew would be right for its first point; None: not within the days looked at.

    Args:
        ask: The brew, with one point.
        sour_g_per_l: Too sour from here on. [g/L]
    """
    out = forecast(replace(ask, days=LOOKED_DAYS))
    window = out.ready[ask.points[0].taster]
    if window.p50 is None:
        return None
    likely = window.p50
    sour = np.flatnonzero(out.ta_g_per_l.p50 >= sour_g_per_l)
    last = float(np.interp(sour_g_per_l, out.ta_g_per_l.p50, out.day)) if sour.size else float(LOOKED_DAYS)
    early = likely if window.p10 is None else window.p10
    return Ripe(early, likely, LATE_FACTOR * likely if window.p90 is None else window.p90, max(last, likely))


@lru_cache(maxsize=256)
def likely_days(ask: ForecastAsk, celsius: tuple[float, ...]) -> tuple[float | None, ...]:
    """Return when the likeliest brew would reach its first point in places so warm, all computed at once. [degC -> d]

    None: not within the days looked at.
    """
    first, warm = celsius[0], np.array(celsius)
    yeast, bacteria = (np.asarray(ratio(warm) / ratio(np.array(first))) for ratio in (yeast_ratio, bacteria_ratio))
    kinetics = Kinetics(ask.prior.yeast_vigour * yeast, ask.prior.bacteria_vigour * bacteria)
    batch = replace(ask.batch, course=steady(first))
    start = np.repeat(batch.first_state(), len(celsius), axis=1)
    sour = (course := run(batch, float(LOOKED_DAYS), start=start, kinetics=kinetics, step_days=PLAN_STEP_DAYS)).ta_g_per_l >= ask.points[0].ta_g_per_l
    return tuple(float(course.day[np.argmax(row)]) if row.any() else None for row in sour.T)


def slower(ask: ForecastAsk, celsius: tuple[float, ...]) -> tuple[float | None, ...]:
    """Return how much longer it takes in each place than in the first; None: it would not be right there. [degC -> -]"""
    first, *rest = likely_days(ask, celsius)
    return (1.0, *(None if there is None or not first else there / first for there in rest))
