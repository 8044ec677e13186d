"""What gathers in a tapped vessel and what leaves it: discs on top, sediment below, water through the cloth."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..liquid.temperature import bacteria_ratio
from .vessel import GROWTH_MM_A_DAY, SETTLES, SLOWER_FROM_MM, SOLIDS, YEAST_G_PER_G

DRIES_MM_A_WEEK = 2.0  #: What evaporates through the cloth (assumed). [mm/week]


def stack_mm(days: Sequence[tuple[float, float]], first_mm: float) -> float:
    """Return how thick the stack of discs is after days of such warmth.

    Args:
        days: Length and temperature of each stretch. [d, degC]
        first_mm: At first. [mm]
    """
    thick = max(first_mm, 0.5)
    for length, celsius in days:
        pace = GROWTH_MM_A_DAY * float(bacteria_ratio(np.array(celsius)))
        for part in _parts(length):
            thick += pace * part * min(1.0, SLOWER_FROM_MM / thick)
    return thick


def _parts(length: float) -> list[float]:
    count = max(1, int(np.ceil(length)))
    return [length / count] * count


def sediment_l(sugar_fermented_g: float) -> float:
    """Return how much wet sediment so much fermented sugar leaves; about a kilogram a litre. [g] to [L]

    >>> round(sediment_l(1000.0), 9)
    0.125
    """
    return sugar_fermented_g * YEAST_G_PER_G * SETTLES / SOLIDS / 1000


def dried_l(days: float, diameter_cm: float) -> float:
    """Return how much water went through the cloth. [d, cm] to [L]

    >>> round(dried_l(7, 20), 3)
    0.063
    """
    return float(np.pi / 4 * diameter_cm**2 * DRIES_MM_A_WEEK / 10 * days / 7 / 1000)
