"""How much is in a vessel by its weight."""

from __future__ import annotations

BREW_G_PER_L = 1015.0  #: Sweet tea weighs more, ripe brew less (assumed). [g/L]
LEAST_L = 0.02  #: Less is nothing. [L]


def litres_by_weight(grams: float, tare_g: float) -> float | None:
    """Return how much stands in a vessel; None: hardly anything, or it is not on the scale. [g -> L]

    >>> round(litres_by_weight(4285.0, 1240.0), 2)
    3.0
    """
    litres = (grams - tare_g) / BREW_G_PER_L
    return litres if litres >= LEAST_L else None
