"""How much of a liquid there is."""

from __future__ import annotations

from ..core.bottle import brew_in_bottle_l
from ..store.models import Bottle, Brew


def liquid_l(bottle: Bottle) -> float:
    """Return the brew in a bottle, without its flavouring. [L]"""
    return brew_in_bottle_l(bottle.volume_ml, bottle.headspace_fraction, bottle.bottling.flavour_g_per_l)


def volume_left_l(brew: Brew) -> float:
    """Return the litres left in a brew that are neither reserved nor bottled. [L]"""
    gone = sum(lot.volume_l for lot in brew.reserved)
    for group in brew.bottlings:
        gone += sum(liquid_l(bottle) for bottle in group.bottles)
    return brew.final_l - gone
