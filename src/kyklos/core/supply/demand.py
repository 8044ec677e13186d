"""How much a household drinks, learned from what was opened, and when what stands runs out."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

PRIOR_L, PRIOR_SD = 2.0, 2.0  #: A week, before anything is known (assumed). [L]
HALF_LIFE_WEEKS = 3.0  #: What was drunk so long ago counts half (assumed). [weeks]
DAYS = 7.0


@dataclass(frozen=True, slots=True)
class Pace:
    """Litres a week, with their doubt."""

    litres_a_week: float  #: Likely. [L]
    low: float  #: 10 %. [L]
    high: float  #: 90 %. [L]

    def lasts_days(self, litres: float) -> tuple[float, float, float]:
        """Return when so many litres are drunk: at the earliest, likely, at the latest. [L -> d]"""
        return tuple(DAYS * litres / max(rate, 1e-3) for rate in (self.high, self.litres_a_week, self.low))  # type: ignore[return-value]


def pace(drunk: Sequence[tuple[float, float]], share: float = 1.0) -> Pace:
    """Learn how much is drunk, a gamma-Poisson over litres that fade by half in three weeks.

    Args:
        drunk: Days ago, and litres, of each bottle opened. [d, L]
        share: Of all that is drunk, that this kind is taken to be before anything is known. [-]

    >>> round(pace([]).litres_a_week, 2), pace([(1, 0.5)] * 20).litres_a_week > 2
    (2.0, True)
    """
    shape, weeks = (PRIOR_L / PRIOR_SD) ** 2 * share, PRIOR_L / PRIOR_SD**2
    fade = math.log(2) / HALF_LIFE_WEEKS
    shape += sum(litres * math.exp(-fade * days / DAYS) for days, litres in drunk)
    weeks += 1 / fade
    if not drunk:
        weeks -= 1 / fade
    mean = shape / weeks
    return Pace(mean, _quantile(shape, -1.2816) / weeks, _quantile(shape, 1.2816) / weeks)


def _quantile(shape: float, z: float) -> float:
    """Return a quantile of a gamma of unit rate, by Wilson and Hilferty's cube root."""
    k = max(shape, 0.05)
    return float(k * max(0.05, 1 - 1 / (9 * k) + z / (3 * math.sqrt(k))) ** 3)
