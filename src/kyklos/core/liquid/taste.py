"""Taste: a score from much too sweet to much too sour against acidity, and each taster's point."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base import require_between

TASTE_STEEPNESS = 4.0  #: Steps of the scale per unit of ln acidity, until learned. [-]
TASTE_SD = 0.9  #: Spread of one tasting. [step]
POINT_SD = 0.35  #: How uncertain a taster's point is until learned, in ln acidity. [-]
POINT_G_PER_L = 4.0  #: A taster's point until learned. [g/L]
JUN_POINT_G_PER_L = 3.0  #: The same for jun. [g/L]
JUN_HONEY_SHARE = 0.5  #: From here on a brew is tasted as jun (assumed). [-]
ALL_HONEY = 0.99  #: From here on there is no sugar but honey's. [-]
SCORE_WORDS = ("much too sweet", "too sweet", "a bit sweet", "right", "a bit sour", "too sour", "much too sour")


@dataclass(frozen=True, slots=True)
class Point:
    """Where one taster likes a brew."""

    taster: str
    ta_g_per_l: float  #: Acidity that tastes right. [g/L]
    sd: float = POINT_SD  #: How uncertain that is, in ln acidity. [-]

    def __post_init__(self) -> None:
        require_between(0.3, 30, "g/L", ta_g_per_l=self.ta_g_per_l)


def is_jun(honey_share: float) -> bool:
    """Return whether a brew is jun, by honey's share of its sugars. [-]"""
    return honey_share >= JUN_HONEY_SHARE


def is_all_honey(honey_share: float) -> bool:
    """Return whether a brew has no sugar but honey's. [-]"""
    return honey_share >= ALL_HONEY


def usual_point(honey_share: float) -> float:
    """Return the acidity that tastes right until a taster's own point is learned.

    Args:
        honey_share: Share of the sugars from honey. [-]

    Returns: Titratable acidity. [g/L]

    >>> usual_point(1.0)
    3.0
    """
    return JUN_POINT_G_PER_L if is_jun(honey_share) else POINT_G_PER_L


LIKES = ((0.7, "sweet"), (0.9, "rather sweet"), (1.15, "neither sweet nor tart"), (1.45, "rather tart"), (float("inf"), "tart"))
#: Of the usual point: up to which share a taster's own is called so (assumed). [-]


def likes_word(point_g_per_l: float, honey_share: float) -> str:
    """Name how someone likes it, against what is usual for kombucha or jun.

    Args:
        point_g_per_l: Titratable acidity that is right for them. [g/L]
        honey_share: Share of the sugars from honey. [-]

    >>> likes_word(4.7, 0.0), likes_word(3.0, 1.0)
    ('rather tart', 'neither sweet nor tart')
    """
    share = point_g_per_l / usual_point(honey_share)
    return next(word for most, word in LIKES if share <= most)


MUCH_TOO_SWEET = -2.5  #: A score at or below is called much too sweet. [steps]


def score(ta_g_per_l: float, point_g_per_l: float) -> float:
    """Foretell the score, from -3 (much too sweet) to 3 (much too sour). [step]

    >>> score(4.0, 4.0)
    0.0
    """
    return float(np.clip(TASTE_STEEPNESS * np.log(max(ta_g_per_l, 0.05) / point_g_per_l), -3, 3))


def point_told(ta_g_per_l: float, score: float) -> float:
    """Return the acidity at which it would have been right, as one tasting tells it. [g/L]

    Args:
        ta_g_per_l: Of what was tasted. [g/L]
        score: From -3 (much too sweet) to 3 (much too sour).

    >>> round(point_told(4.0, 0)), round(point_told(4.0, 2), 2)
    (4, 2.43)
    """
    return float(ta_g_per_l * np.exp(-score / TASTE_STEEPNESS))


def score_word(value: float) -> str:
    """Put a score into words.

    >>> score_word(-1)
    'a bit sweet'
    """
    return SCORE_WORDS[int(np.clip(round(value), -3, 3)) + 3]
