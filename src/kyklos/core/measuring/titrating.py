"""Titrating by drops: what was used to the first pink that stays, and whether two runs agree."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import mean

from ..liquid.acids import titration

DROP_ML = 0.05  #: Twenty drops are a millilitre (usual). [mL]
AGREE_SHARE = 0.05  #: Two runs within so much of their mean agree; a drop at least (assumed). [-]
MOST_RUNS = 4


@dataclass(frozen=True, slots=True)
class Titrated:
    """What runs of a titration come to."""

    base_ml: float  #: The mean of the runs that agree best. [mL]
    ta_g_per_l: float  #: As acetic. [g/L]
    apart: float | None  #: How far the two nearest lie apart, of their mean; None: one run only. [-]
    agree: bool


def titrated(runs_ml: Sequence[float], normality: float, sample_ml: float, drop_ml: float = DROP_ML) -> Titrated:
    """Put runs of a titration together: the two that lie nearest to each other count.

    Args:
        runs_ml: Base used in each; at least one. [mL]
        normality: Of the base. [mol/L]
        sample_ml: [mL]
        drop_ml: [mL]

    >>> titrated([5.30, 5.35], 0.1, 10.0).agree, round(titrated([5.30, 6.4, 5.35], 0.1, 10.0).base_ml, 3)
    (True, 5.325)
    """
    if len(runs_ml) == 1:
        return Titrated(runs_ml[0], titration(runs_ml[0], normality, sample_ml), None, False)
    ordered = sorted(runs_ml)
    low, high = min(pairwise(ordered), key=lambda pair: pair[1] - pair[0])
    base = mean((low, high))
    apart = (high - low) / base if base > 0 else 0.0
    return Titrated(base, titration(base, normality, sample_ml), apart, high - low <= max(AGREE_SHARE * base, drop_ml * 1.01))
