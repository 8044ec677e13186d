"""What is added to a brew in the bottle does to its pH: fruit, juice and roots by their own acids and ions.

Composition figures are typical (assumed: acids +-30 %, pH +-0.3). What is added is taken as 1 g/mL and as fully released.
"""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

import numpy as np

from . import acids
from .bottle import ADDED_SUCROSE_SHARE
from .errors import UnknownNameError, require_between
from .facts import FLAVOURINGS, limit
from .liquid import Liquid, blend

PH_MARGIN = 0.15  #: Composition is told no better: so far below the bound a foretold pH must lie. [pH]
STEPS = 30  #: Halvings of a search.


@lru_cache(maxsize=128)
def liquid_of(flavour: str) -> Liquid:
    """Return a litre of a flavouring: its sugar, its acids, and ions that give it its own pH.

    Raises:
        UnknownNameError: If the flavour is not known.
    """
    if flavour not in FLAVOURINGS:
        raise UnknownNameError("flavour", flavour, list(FLAVOURINGS))
    told = FLAVOURINGS[flavour]
    sugar = 10 * told.sugar
    plain = Liquid(
        sucrose_g_per_l=ADDED_SUCROSE_SHARE * sugar,
        monosaccharides_g_per_l=(1 - ADDED_SUCROSE_SHARE) * sugar,
        citric_mmol_per_l=told.citric,
        malic_mmol_per_l=told.malic,
        tartaric_mmol_per_l=told.tartaric,
        phosphate_mmol_per_l=told.phosphate,
    )
    if told.ph is None:
        return plain
    return replace(plain, strong_ions_meq_per_l=acids.charge_at(told.ph, plain.medium))


def flavoured(brew: Liquid, flavour: str, g_per_l: float) -> Liquid:
    """Return a brew with a flavouring in it.

    Args:
        brew: Plain.
        flavour: Name in the flavourings.
        g_per_l: In the filled bottle. [g/L]
    """
    require_between(0, 1000, "g/L", flavour_g_per_l=g_per_l)
    share = g_per_l / 1000
    if share <= 0:
        return brew
    return blend([brew.of(1 - share), liquid_of(flavour).of(share)])


def at_ph(brew: Liquid, ph: float) -> Liquid:
    """Return a brew with as much more or less of its own acids as gives it a pH, as far as acids can. [pH]"""
    low, high = 0.0, 20.0
    for _ in range(STEPS):
        middle = (low + high) / 2
        low, high = (middle, high) if _scaled(brew, middle).ph > ph else (low, middle)
    return _scaled(brew, (low + high) / 2)


def _scaled(brew: Liquid, factor: float) -> Liquid:
    return replace(brew, acetic_g_per_l=brew.acetic_g_per_l * factor, gluconic_g_per_l=brew.gluconic_g_per_l * factor)


def may_close(ph_after: float, measured_ph: float | None = None) -> bool:
    """Return whether a flavoured brew may be closed for fizz.

    Args:
        ph_after: As computed. [pH]
        measured_ph: In the mixed liquid, if anybody measured; it settles it. [pH]

    >>> may_close(4.0), may_close(4.1), may_close(4.1, 4.2)
    (True, False, True)
    """
    if measured_ph is not None:
        return measured_ph <= limit("safe_ph")
    return bool(np.round(ph_after + PH_MARGIN, 6) <= limit("safe_ph"))
