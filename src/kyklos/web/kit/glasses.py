"""What is drawn or drunk in one tap: the household's own glass, and usual sizes by its units."""

from __future__ import annotations

from ...store.records import Household

USUAL = {
    "metric": (("A glass", 0.25), ("Half a litre", 0.5), ("A jug", 1.0)),
    "us": (("A cup", 0.2366), ("A pint", 0.4732), ("A quart", 0.9464)),
}  #: Name and size. [L]


def glasses_of(house: Household) -> tuple[tuple[str, float], ...]:
    """List names and sizes, the household's own glass first. [L]"""
    usual = USUAL[house.units]
    return usual if house.glass_l is None else (("A glass", house.glass_l), *usual[1:])
