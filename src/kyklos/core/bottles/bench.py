"""A trial on the bench: a drink or juice weighed into a glass of brew step by step, the best one scaled to bottles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..base import CoreError, require_between

GLASS_G, STEP_G = 100.0, 10.0  #: Usual practice. [g]
SCORES = {-2: "much too little", -1: "a little more", 0: "right", 1: "a little less", 2: "much too much"}


@dataclass(frozen=True, slots=True)
class BenchStep:
    """One amount, and what somebody said of it."""

    grams: float  #: In the glass by then. [g]
    score: int  #: A key of SCORES.


def g_per_l(grams: float, glass_g: float = GLASS_G) -> float:
    """Return what an amount in a glass of brew comes to in a bottle. [g, g -> g/L of the filled bottle]

    >>> g_per_l(25)
    200.0
    """
    require_between(0, 2000, "g", grams=grams)
    require_between(10, 2000, "g", glass_g=glass_g)
    return 1000 * grams / (glass_g + grams)


def best(steps: Sequence[BenchStep]) -> float:
    """Return the amount that was said to be nearest to right: the mean of what all said of it; the smaller of two alike. [g]

    Raises:
        CoreError: If nothing was tasted.

    >>> best([BenchStep(10, -1), BenchStep(20, 0), BenchStep(30, 0), BenchStep(40, 2)])
    20
    """
    if not steps:
        raise CoreError("Nothing was tasted yet: taste at least one step.")
    amounts = sorted({s.grams for s in steps})

    def off(grams: float) -> float:
        said = [s.score for s in steps if s.grams == grams]
        return abs(sum(said) / len(said))

    return min(amounts, key=lambda grams: (off(grams), grams))
