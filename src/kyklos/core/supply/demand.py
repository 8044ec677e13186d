"""How much a household drinks, learned from what left to be drunk, and when what stands runs out."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..base import require_between

PORTION_L = 0.5  #: People drink in portions, not in drops (assumed). [L]
PRIOR_L, PRIOR_SD = 2.0, 2.0  #: A week, before anything is known (assumed). [L]
HALF_LIFE_WEEKS = 3.0  #: What was drunk so long ago counts half (assumed). [weeks]
DAYS = 7.0
LOW, HIGH = 0.1, 0.9  #: Ends of the band. [-]
FADE = math.log(2) / HALF_LIFE_WEEKS  #: [1/week]
LEAST_RATE = 1e-3  #: Who drinks less drinks nothing. [L/week]
_PRIOR_SHAPE = (PRIOR_L / PRIOR_SD) ** 2
_PRIOR_WEEKS = PRIOR_L / PRIOR_SD**2 * PORTION_L


@dataclass(frozen=True, slots=True)
class Pace:
    """Litres a week, with their doubt."""

    litres_a_week: float  #: Likely. [L]
    low: float  #: 10 %. [L]
    high: float  #: 90 %. [L]

    def lasts_days(self, litres: float) -> tuple[float, float, float]:
        """Return when so many litres are drunk: at the earliest, likely, at the latest. [L -> d]"""
        return tuple(DAYS * litres / max(rate, LEAST_RATE) for rate in (self.high, self.litres_a_week, self.low))  # type: ignore[return-value]

    def of(self, share: float) -> Pace:
        """Return a share of it. [-]"""
        return Pace(self.litres_a_week * share, self.low * share, self.high * share)

    def a_day(self) -> tuple[float, float, float]:
        """Return litres a day: few, likely, many. [L/d]"""
        return self.low / DAYS, self.litres_a_week / DAYS, self.high / DAYS


def faded(days_ago: float) -> float:
    """Return how much a drink so long ago still counts. [d -> -]"""
    return math.exp(-FADE * days_ago / DAYS)


def pace(drunk: Sequence[tuple[float, float]], known_days: float | None = None) -> Pace:
    """Learn how much is drunk: a gamma-Poisson over portions that fade by half in three weeks.

    A household that began a week ago is not one that drinks little: what counts is the time since its first drink.

    Args:
        drunk: Days ago, and litres, of each drink. [d, L]
        known_days: Since the first drink that is known; the oldest of `drunk` unless given. [d]

    >>> round(pace([]).litres_a_week, 2), round(pace([(3.5, 1.5), (0.5, 1.5)], 7).litres_a_week, 1)
    (2.0, 2.9)
    """
    shape = _PRIOR_SHAPE + sum(litres / PORTION_L * faded(days) for days, litres in drunk)
    known = max((days for days, _ in drunk), default=0.0) if known_days is None else known_days
    weeks = _PRIOR_WEEKS + (-math.expm1(-FADE * known / DAYS)) / FADE
    each = PORTION_L / weeks
    return Pace(each * shape, each * gamma_quantile(shape, LOW), each * gamma_quantile(shape, HIGH))


def shares(drunk: Mapping[str, Sequence[tuple[float, float]]], liked: Sequence[str]) -> dict[str, float]:
    """Return the share of each flavour in what is drunk: one portion in all is spread over what is liked before anything is known.

    Args:
        drunk: Days ago, and litres, by flavour. [d, L]
        liked: What is there to be drunk; what was drunk is liked too.

    >>> shares({"plain": [(0, 1.0)]}, ["damson"])
    {'plain': 0.8333333333333334, 'damson': 0.16666666666666666}
    """
    names = list(dict.fromkeys([*drunk, *liked]))
    portions = {name: sum(litres / PORTION_L * faded(days) for days, litres in drunk.get(name, ())) for name in names}
    whole = 1 + sum(portions.values())
    return {name: (portions[name] + 1 / len(names)) / whole for name in names}


def gamma_below(shape: float, x: float) -> float:
    """Return the chance that a gamma of unit rate lies below a value: the regularised lower incomplete gamma function. [-]"""
    if x <= 0:
        return 0.0
    head = math.exp(shape * math.log(x) - x - math.lgamma(shape))
    if x < shape + 1:
        term = total = 1 / shape
        step = shape
        while term > total * 1e-12:
            step += 1
            term *= x / step
            total += term
        return head * total
    tiny, b = 1e-300, x + 1 - shape  # Lentz's continued fraction of the upper part
    c, d = 1 / tiny, 1 / b
    h = d
    for n in range(1, 1000):
        a = -n * (n - shape)
        b += 2
        d = 1 / (a * d + b or tiny)
        c = b + a / c or tiny
        h *= d * c
        if abs(d * c - 1) < 1e-12:
            break
    return 1 - head * h


def gamma_quantile(shape: float, share: float) -> float:
    """Return a quantile of a gamma of unit rate, by bisection.

    Args:
        shape: Above 0. [-]
        share: Of the chance below it. [-]

    >>> round(gamma_quantile(1, 0.9), 4)
    2.3026
    """
    require_between(1e-6, 1e9, "", shape=shape)
    low, high = 0.0, shape + 1.0
    while gamma_below(shape, high) < share:
        high *= 2
    for _ in range(80):
        middle = (low + high) / 2
        low, high = (middle, high) if gamma_below(shape, middle) < share else (low, middle)
    return (low + high) / 2
