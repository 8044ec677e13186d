"""What readings did to a forecast: what the last one changed, and how earlier forecasts stood the test."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..base.facts import INSTRUMENTS
from ..base.kinds import SeenKind
from .answer import Forecast, forecast
from .ask import ForecastAsk, Observation

FEW = 10  #: With fewer forecasts there is little to judge by.
PROMISED = 0.8  #: What a band of 10 to 90 % holds. [-]
AS_FORETOLD_PH = 0.03  #: A mean so small is no difference. [pH]
AHEAD_DAYS = 0.9  #: A forecast of the next hours is no test. [d]
LEAST_SHIFT = 0.15  #: A shorter one counts as none. [d]
BAND_SDS = 2.563  #: From the 10th to the 90th percentile of a normal, in sd. [-]


@dataclass(frozen=True, slots=True)
class Moved:
    """What one reading did to one window."""

    sooner_days: float  #: Of the median; negative: later. [d]
    before_width: float | None  #: [d]
    after_width: float | None  #: [d]

    @property
    def shift(self) -> float:
        """How much sooner it is right; 0 where that is too little to tell. [d]"""
        return self.sooner_days if abs(self.sooner_days) >= LEAST_SHIFT else 0.0

    @property
    def narrowed(self) -> float:
        """How much narrower the window is; 0 where that is too little to tell, or not known. [d]"""
        less = 0.0 if self.before_width is None or self.after_width is None else self.before_width - self.after_width
        return less if abs(less) >= LEAST_SHIFT else 0.0


def _width(low: float | None, high: float | None) -> float | None:
    return None if low is None or high is None else high - low


def moved(before: Forecast, after: Forecast) -> dict[str, Moved]:
    """Compare two forecasts of one brew, taster by taster; those without a median in both are left out."""
    out = {}
    for name, new in after.ready.items():
        old = before.ready.get(name)
        if old is not None and old.p50 is not None and new.p50 is not None:
            out[name] = Moved(old.p50 - new.p50, _width(old.p10, old.p90), _width(new.p10, new.p90))
    return out


def without_last(ask: ForecastAsk) -> tuple[ForecastAsk, Observation] | None:
    """Ask again as before the last reading or taste; None when there was none."""
    if not ask.observations:
        return None
    return replace(ask, observations=ask.observations[:-1]), ask.observations[-1]


@dataclass(frozen=True, slots=True)
class Tested:
    """A reading foretold by what was known up to the one before it."""

    day: float  #: Of the reading. [d]
    ahead: float  #: How long before it was foretold. [d]
    said: float  #: Median. [pH]
    low: float  #: 10 %, with the instrument's spread. [pH]
    high: float  #: 90 %. [pH]
    happened: float  #: [pH]

    @property
    def inside(self) -> bool:
        """Whether the band held what was measured."""
        return self.low <= self.happened <= self.high


def _foretold(out: Forecast, seen: Observation) -> tuple[float, float, float]:
    """Return what was foretold of a pH reading, with its instrument's spread: median, 10 % and 90 %. [pH]"""
    low, said, high = out.at(out.ph, seen.day)
    sd = INSTRUMENTS[seen.instrument].sd_ph if seen.sd is None else seen.sd
    below, above = (float(np.hypot(side, sd * BAND_SDS / 2)) for side in (said - low, high - said))
    return said, said - below, said + above


def surprise(ask: ForecastAsk) -> float:
    """Return by how much the last pH reading lies outside what those before it foretold; 0: inside, or there is none. [pH]"""
    before = without_last(ask)
    if before is None or before[1].kind != SeenKind.PH:
        return 0.0
    _, low, high = _foretold(forecast(before[0]), before[1])
    return min(0.0, before[1].value - low) + max(0.0, before[1].value - high)


def tested(ask: ForecastAsk) -> list[Tested]:
    """Foretell each pH reading of a brew from the readings before it.

    A reading less than a day after the one before is left out, and so is one from the hour of the pitch.
    """
    out = []
    for number, seen in enumerate(ask.observations):
        before = tuple(o for o in ask.observations[:number] if o.day < seen.day)
        ahead = seen.day - (before[-1].day if before else 0.0)
        if seen.kind != SeenKind.PH or ahead < AHEAD_DAYS:
            continue
        out_then = forecast(replace(ask, observations=before))
        said, low, high = _foretold(out_then, seen)
        out.append(Tested(seen.day, ahead, said, low, high, seen.value))
    return out


@dataclass(frozen=True, slots=True)
class Record:
    """How a household's forecasts stood the test."""

    tests: Sequence[Tested]

    @property
    def inside(self) -> int:
        """How many the band held."""
        return sum(test.inside for test in self.tests)

    @property
    def enough(self) -> bool:
        """Whether there is enough to go by."""
        return len(self.tests) >= FEW

    @property
    def off(self) -> float:
        """Mean of happened less said: positive means that brews were less sour than foretold. [pH]"""
        return float(np.mean([t.happened - t.said for t in self.tests])) if self.tests else 0.0

    @property
    def as_foretold(self) -> bool:
        """Whether brews were as sour as foretold, on the whole."""
        return abs(self.off) < AS_FORETOLD_PH

    @property
    def too_sure(self) -> bool:
        """Whether the bands hold less than they promise, as far as the brews show."""
        return self.likely_range[1] < PROMISED

    @property
    def too_careful(self) -> bool:
        """Whether the bands hold more than they promise, as far as the brews show."""
        return self.likely_range[0] > PROMISED

    @property
    def likely_range(self) -> tuple[float, float]:
        """Between which shares the truth of the band lies, with so few tests (Wilson, 90 %). [-]"""
        n = len(self.tests)
        if n == 0:
            return 0.0, 1.0
        z, p = 1.645, self.inside / n
        middle, half = (
            (p + z * z / (2 * n)) / (1 + z * z / n),
            z / (1 + z * z / n) * float(np.sqrt(p * (1 - p) / n + z * z / (4 * n * n))),
        )
        return max(0.0, middle - half), min(1.0, middle + half)
