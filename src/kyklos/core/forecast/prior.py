"""What is expected of a culture before a brew is measured: its own last brews, shrunk to the typical culture when they are few."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .answer import Posterior
from .ask import Prior
from .fit import BUFFER_SD, symmetric

TYPICAL_VIGOUR = {"sugar": 1.0, "jun": 1.5}  #: Of a culture nothing is known of. [-]
NEW_SPREAD = 0.35  #: Of ln vigour for a culture never brewed here. [-]
BREW_TO_BREW_SD = 0.18  #: How much ln vigour differs between brews of one line (assumed). [-]
TEA_TO_TEA_SD = 0.06  #: How much ln buffer differs between brews of one tea in one water (assumed). [-]
DIFFERS = np.array([BREW_TO_BREW_SD, BREW_TO_BREW_SD, TEA_TO_TEA_SD]) ** 2  #: Between brews of a line. [-]
FADING = 0.9  #: Weight of each older brew against the next newer. [-]

Matrix = NDArray[np.float64]


def culture_prior(diet: str, past: tuple[Posterior, ...]) -> Prior:
    """Learn what to expect of a culture from its own last brews, shrunk to the typical culture when there are few.

    Vigour and the buffer of its tea are learned together: a reading tells of both at once, and so does their covariance.

    Args:
        diet: sugar or jun.
        past: Posteriors of its brews, newest first.
    """
    typical = float(np.log(TYPICAL_VIGOUR[diet]))
    if not past:
        return Prior(TYPICAL_VIGOUR[diet], TYPICAL_VIGOUR[diet], NEW_SPREAD)
    line_var = NEW_SPREAD**2 - BREW_TO_BREW_SD**2
    known = np.diag([1 / line_var, 1 / line_var, 1 / (BUFFER_SD**2 - TEA_TO_TEA_SD**2)])
    pull = known @ np.array([typical, typical, 0.0])
    for i, brew in enumerate(past):
        evidence, found = _evidence(typical, brew)
        differing = np.eye(3) - evidence @ np.linalg.inv(evidence + np.diag(1 / DIFFERS))
        known += FADING**i * (differing @ evidence)
        pull += FADING**i * (differing @ found)
    covariance = np.linalg.inv((known + known.T) / 2)
    yeast, bacteria, buffer = covariance @ pull
    covariance += np.diag(DIFFERS)
    spread = float(np.sqrt(max(covariance[0, 0], covariance[1, 1])))
    upper = tuple(round(float(v), 5) for v in covariance[np.triu_indices(3)])
    return Prior(float(np.exp(yeast)), float(np.exp(bacteria)), min(spread, NEW_SPREAD), round(float(buffer), 4), upper)


def _evidence(typical: float, brew: Posterior) -> tuple[Matrix, Matrix]:
    """Return what a brew showed of its line by itself, without the prior of a new culture with which it was weighed.

    Returns: Precision of ln both vigours and ln buffer, shape (3, 3), never less than none; and that times what it showed.
    """
    spread = symmetric(brew.covariance) if brew.covariance else np.diag([brew.yeast_sd**2, brew.bacteria_sd**2, BUFFER_SD**2])
    after, before = np.linalg.inv(spread), np.diag([NEW_SPREAD**-2, NEW_SPREAD**-2, BUFFER_SD**-2])
    size, axes = np.linalg.eigh(after - before)
    mean = np.array([np.log(brew.yeast_vigour), np.log(brew.bacteria_vigour), brew.buffer])
    pull = after @ mean - before @ np.array([typical, typical, 0.0])
    return (axes * np.maximum(size, 0.0)) @ axes.T, axes @ (np.where(size > 0, 1.0, 0.0) * (axes.T @ pull))
