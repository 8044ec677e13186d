"""What is expected of a culture before a brew is measured: its own last brews, shrunk to the typical culture when they are few."""

from __future__ import annotations

from typing import Any

import numpy as np

from .forecast import Posterior, Prior

TYPICAL_VIGOUR = {"sugar": 1.0, "jun": 1.5}  #: Of a culture nothing is known of. [-]
NEW_SPREAD = 0.35  #: Of ln vigour for a culture never brewed here. [-]
BREW_TO_BREW_SD = 0.18  #: How much ln vigour differs between brews of one line (assumed). [-]
FADING = 0.75  #: Weight of each older brew against the next newer. [-]


def culture_prior(diet: str, past: tuple[Posterior, ...]) -> Prior:
    """Learn what to expect of a culture from its own last brews, shrunk to the typical culture when there are few.

    Args:
        diet: sugar or jun.
        past: Posteriors of its brews, newest first.
    """
    typical = float(np.log(TYPICAL_VIGOUR[diet]))
    if not past:
        return Prior(TYPICAL_VIGOUR[diet], TYPICAL_VIGOUR[diet], NEW_SPREAD)
    shrunk = [
        _shrink(typical, [(np.log(p.yeast_vigour), p.yeast_sd) for p in past]),
        _shrink(typical, [(np.log(p.bacteria_vigour), p.bacteria_sd) for p in past]),
    ]
    spread = float(np.sqrt(BREW_TO_BREW_SD**2 + max(variance for _, variance in shrunk)))
    return Prior(float(np.exp(shrunk[0][0])), float(np.exp(shrunk[1][0])), min(spread, NEW_SPREAD))


def _shrink(typical: float, past: list[tuple[Any, float]]) -> tuple[float, float]:
    """Weigh past brews, newest most, with the typical culture: mean and variance of ln vigour."""
    weights = [FADING**i / (sd**2 + BREW_TO_BREW_SD**2) for i, (_, sd) in enumerate(past)]
    base = 1 / NEW_SPREAD**2
    total = base + sum(weights)
    mean = (base * typical + sum(w * float(value) for w, (value, _) in zip(weights, past, strict=True))) / total
    return mean, 1 / total
