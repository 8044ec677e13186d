"""Whether two sets of scores differ, with its doubt, and how many more would tell; and the triangle test of three glasses.

Student's t for pairs, Welch's for others; the band is 90 %. How many more: the normal approximation for a two-sided 10 % and a
power of 80 %, of each or of pairs, beyond those there. Source: the comparing of docs/science.md.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..base import CoreError, require_between

BAND = 0.9  #: Of the interval. [-]
Z_TELLS = 1.645 + 0.842  #: Normal quantiles of a two-sided 10 %, and of a power of 80 %. [-]
APART = 0.05  #: A triangle this unlikely by guessing counts as told apart. [-]
GUESS = 1 / 3  #: Chance of naming the odd one of three by guessing. [-]
LEAST_SCORES = 2  #: Of each, or pairs, to know how far they spread.
NO_DIFFERENCE = 1e-12


class Higher(StrEnum):
    """Which of two is higher."""

    A = "a"
    B = "b"
    CANNOT_TELL = "cannot tell"


@dataclass(frozen=True, slots=True)
class Difference:
    """How much higher the first is, with its doubt. [in the scores' unit]"""

    difference: float
    low: float  #: 90 % band.
    high: float
    verdict: Higher
    more: int | None  #: Of each, or pairs, that would tell; 0: it is told, None: there is no difference to tell.


def compare(a: Sequence[float], b: Sequence[float], *, paired: bool = False) -> Difference:
    """Compare two sets of scores.

    Args:
        a, b: Scores; when paired, of the same people in the same order.
        paired: The same people scored both at one sitting.

    Raises:
        CoreError: With fewer than two scores of each, or pairs of unequal number.

    >>> compare([4, 4, 4, 4, 4, 4, 5], [3, 3, 3, 2, 2, 4, 3], paired=True).verdict
    <Higher.A: 'a'>
    """
    if min(len(a), len(b)) < LEAST_SCORES:
        raise CoreError("a and b: two scores of each, at least.")
    if paired and len(a) != len(b):
        raise CoreError("a and b: as many of each, when they are paired.")
    if paired:
        gaps = [x - y for x, y in zip(a, b, strict=True)]
        difference, variance, there = _mean(gaps), _variance(gaps), len(gaps)
        error, freedom = math.sqrt(variance / there), float(there - 1)
    else:
        difference, there = _mean(a) - _mean(b), min(len(a), len(b))
        parts = (_variance(a) / len(a), _variance(b) / len(b))
        error, variance = math.sqrt(sum(parts)), _variance(a) + _variance(b)
        shares = sum(part**2 / (len(some) - 1) for part, some in zip(parts, (a, b), strict=True))
        freedom = sum(parts) ** 2 / shares if shares > 0 else float(len(a) + len(b) - 2)
    half = student_quantile((1 + BAND) / 2, freedom) * error
    low, high = difference - half, difference + half
    verdict = Higher.A if low > 0 else Higher.B if high < 0 else Higher.CANNOT_TELL
    return Difference(difference, low, high, verdict, _more(difference, variance, there, verdict))


def _more(difference: float, variance: float, there: int, verdict: Higher) -> int | None:
    if verdict is not Higher.CANNOT_TELL:
        return 0
    if abs(difference) < NO_DIFFERENCE:
        return None
    return max(0, math.ceil(Z_TELLS**2 * variance / difference**2) - there)


def _mean(values: Sequence[float]) -> float:
    return sum(values) / len(values)


def _variance(values: Sequence[float]) -> float:
    middle = _mean(values)
    return sum((value - middle) ** 2 for value in values) / (len(values) - 1)


def student_below(t: float, freedom: float) -> float:
    """Return the chance that Student's t lies below a value: by the incomplete beta function. [-]"""
    if t == 0:
        return 0.5
    tail = 0.5 * _beta_below(freedom / (freedom + t * t), freedom / 2, 0.5)
    return 1 - tail if t > 0 else tail


def student_quantile(share: float, freedom: float) -> float:
    """Return a quantile of Student's t, by bisection.

    >>> round(student_quantile(0.95, 7), 4)
    1.8946
    """
    require_between(0.5, 1e9, "", freedom=freedom)
    low, high = -1.0, 1.0
    while student_below(low, freedom) > share:
        low *= 2
    while student_below(high, freedom) < share:
        high *= 2
    for _ in range(100):
        middle = (low + high) / 2
        low, high = (middle, high) if student_below(middle, freedom) < share else (low, middle)
    return (low + high) / 2


def _beta_below(x: float, a: float, b: float) -> float:
    """Return the regularised incomplete beta function, by Lentz's continued fraction. [-]"""
    if not 0 < x < 1:
        return 0.0 if x <= 0 else 1.0
    if x > (a + 1) / (a + b + 2):
        return 1 - _beta_below(1 - x, b, a)
    head = math.exp(math.lgamma(a + b) - math.lgamma(a) - math.lgamma(b) + a * math.log(x) + b * math.log1p(-x)) / a
    tiny = 1e-300
    c, d = 1.0, 1 / max(tiny, 1 - (a + b) * x / (a + 1))
    out = d
    for m in range(1, 400):
        for up in (m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)), -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1))):
            d = 1 / (1 + up * d or tiny)
            c = 1 + up / c or tiny
            out *= c * d
        if abs(c * d - 1) < 1e-14:
            break
    return head * out


@dataclass(frozen=True, slots=True)
class Triangle:
    """A triangle test: three glasses, two alike."""

    p: float  #: Chance of as many right by guessing alone. [-]
    told_apart: bool


def triangle(right: int, of: int) -> Triangle:
    """Judge a triangle test.

    Args:
        right: So many named the odd one.
        of: So many tried.

    >>> round(triangle(4, 6).p, 4)
    0.1001
    """
    require_between(1, 100_000, "", of=of)
    require_between(0, of, "", right=right)
    p = sum(math.comb(of, k) * GUESS**k * (1 - GUESS) ** (of - k) for k in range(right, of + 1))
    return Triangle(min(1.0, p), p <= APART)
