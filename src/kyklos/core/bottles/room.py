"""Room in a bottle: how much of what is in it is brew."""

from __future__ import annotations

HEADSPACE_CM = 2.5  #: Left free below the closure, unless somebody gives another (assumed). [cm]


def brew_share(flavour_g_per_l: float) -> float:
    """Return the share of brew in what a bottle is filled with (flavouring taken as 1 g/mL). [g/L filled -> -]

    >>> brew_share(150)
    0.85
    """
    return max(0.0, 1 - flavour_g_per_l / 1000)


def brew_in_bottle_l(volume_ml: float, headspace_fraction: float, flavour_g_per_l: float) -> float:
    """Return the brew in a bottle, without its flavouring.

    Args:
        volume_ml: Brimful. [mL]
        headspace_fraction: Share of the bottle that is gas. [-]
        flavour_g_per_l: Flavouring in the filled bottle. [g/L]

    Returns: Brew. [L]

    >>> brew_in_bottle_l(500, 0.04, 0)
    0.48
    """
    return filled_l(volume_ml, headspace_fraction) * brew_share(flavour_g_per_l)


def filled_l(volume_ml: float, headspace_fraction: float) -> float:
    """Return the liquid in a bottle, flavouring included. [mL, - -> L]"""
    return volume_ml / 1000 * (1 - headspace_fraction)
