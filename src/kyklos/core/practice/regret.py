"""Regret: the loss of what was chosen less the least loss there was, given what the learner knew.

Source: losses as the handbook of practice has them: a taste's square, 4 above the gate, 0.02 a day of waiting, 10 past a bottle's limit (assumed).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..base import limit
from ..liquid.taste import TASTE_SD, TASTE_STEEPNESS
from .boxes import Graded

Array = NDArray[np.float64]

GATE_LOSS, WAIT_LOSS, BURST_LOSS = 4.0, 0.02, 10.0  #: For a member above its gate; a day of waiting; a member past its limit (assumed).
ASK_LOSS = 0.05  #: What a taste, or a squeeze, takes: a sip, a minute (assumed).
NO_REGRET, SOME_REGRET = 0.05, 0.3  #: Up to here it was as good as wise; up to there it cost little (assumed).
ALIKE = 0.02  #: Losses so near to each other are one (assumed).
UNSAFE_SHARE = 0.05  #: From this chance of something unsafe on, to go ahead is unsafe (assumed). [-]


def taste_scores(ta_g_per_l: Array | float, point_g_per_l: float) -> Array:
    """Return the score that each member would be given, of the shape given, from -3 to 3. [steps]"""
    return np.asarray(np.clip(TASTE_STEEPNESS * np.log(np.maximum(ta_g_per_l, 0.05) / point_g_per_l), -3, 3))


def harvest_losses(ta_g_per_l: Array, ph: Array, point_g_per_l: float, days: Array) -> Array:
    """Return each member's loss when harvested on each day.

    Args:
        ta_g_per_l: On each day, shape (days, members). [g/L]
        ph: Alike. [pH]
        point_g_per_l: Where the taster likes it. [g/L]
        days: From today on, shape (days,). [d]

    Returns: Shape (days, members).
    """
    waited = (days - days[0])[:, None]
    scores = taste_scores(ta_g_per_l, point_g_per_l)
    return np.asarray(scores**2 + GATE_LOSS * (ph > limit("safe_ph")) + WAIT_LOSS * waited)


def bottle_losses(gas: Array, bar: Array, limit_bar: float, wished_volumes: float) -> Array:
    """Return each member's loss when chilled on each day: 10 once it was past its limit, else the square of what fizz lacks.

    Args:
        gas: Shape (days, members). [volumes]
        bar: Gauge, alike. [bar]
        limit_bar: What the bottle holds. [bar]
        wished_volumes: [volumes]
    """
    past = np.maximum.accumulate(bar, axis=0) >= limit_bar
    return np.asarray(np.where(past, BURST_LOSS, (gas - wished_volumes) ** 2))


def loss_after_asking(losses: Array, signal: Array, cuts: Sequence[float], sd: float) -> float:
    """Return the least mean loss when one asks first: every answer leads to the day that is best for it.

    Args:
        losses: Of each member on each choice of a day, shape (days, members).
        signal: What asking measures of each member, shape (members,).
        cuts: Between its possible answers, rising.
        sd: Its noise, in the signal's unit.
    """
    edges = np.concatenate([[-np.inf], np.asarray(cuts, float), [np.inf]])
    below = np.array([[_normal((edge - value) / sd) for value in signal] for edge in edges])
    weights = np.diff(below, axis=0)
    return float(sum((losses @ weight).min() for weight in weights) / losses.shape[1])


def _normal(value: float) -> float:
    return 0.5 * (1 + math.erf(value / math.sqrt(2)))


TASTE_CUTS = (-2.5, -1.5, -0.5, 0.5, 1.5, 2.5)  #: Between the seven words of a taste. [steps]


def loss_after_tasting(losses: Array, scores: Array) -> float:
    """Return the least mean loss when it is tasted first, by the noise of one tasting.

    Args:
        losses: Shape (days, members).
        scores: What each member would be given today, shape (members,). [steps]
    """
    return loss_after_asking(losses, scores, TASTE_CUTS, TASTE_SD) + ASK_LOSS


@dataclass(frozen=True, slots=True)
class WeighedChoice:
    """What a choice would have cost."""

    key: str
    loss: float
    unsafe: float = 0.0  #: Chance that it was not safe. [-]


@dataclass(frozen=True, slots=True)
class Weighed:
    """All choices of a question, weighed."""

    choices: Mapping[str, WeighedChoice]

    @property
    def wise(self) -> str:
        """The choice of the least loss among those that are safe; of those nearly as good the first."""
        safe = [choice for choice in self.choices.values() if choice.unsafe < UNSAFE_SHARE] or list(self.choices.values())
        least = min(choice.loss for choice in safe)
        return next(choice.key for choice in safe if choice.loss <= least + ALIKE)

    def regret(self, key: str) -> float:
        """Return how much more a choice cost than the wise one, at least 0."""
        return max(0.0, self.choices[key].loss - self.choices[self.wise].loss)

    def outcome(self, key: str) -> Graded:
        """Grade a choice by its regret."""
        if self.choices[key].unsafe >= UNSAFE_SHARE:
            return Graded.UNSAFE
        regret = self.regret(key)
        return Graded.RIGHT if regret <= NO_REGRET else Graded.SAFE if regret <= SOME_REGRET else Graded.WRONG
