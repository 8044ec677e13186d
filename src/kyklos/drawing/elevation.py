"""Vessels as they stand, seen from the side and to one scale: level, disc, tap."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from .dial import FRESH, RIMS, SOURED
from .shapes import mixed

TALLEST = 150.0  #: Of the tallest vessel on a page. [px]
ABOVE_BRIM = 1.06  #: A vessel's wall reaches so far above what it holds brimful. [-]
WALL = {"glass": 3.0, "stoneware": 6.0, "steel": 4.0, "wood": 7.0}  #: [px]
TAP_UP, TAP_OUT, LEAST_SIDE = 0.16, 22.0, 24.0  #: Share of the height [-], and lengths. [px]
CORNER = 9.0  #: [px]


@dataclass(frozen=True, slots=True, kw_only=True)
class ElevationFacts:
    """What of a vessel is seen from the side."""

    width_cm: float
    nominal_l: float
    litres: float = 0.0  #: In it now.
    disc_mm: float = 0.0  #: Thickness of what floats on it; 0: nothing does. [mm]
    tea: str = "black"
    sourness: float = 0.0  #: 0 sweet tea to 1 vinegar. [-]
    material: str = "glass"
    tapped: bool = False

    @property
    def height_cm(self) -> float:
        """How tall a round vessel of that width and volume is. [cm]"""
        return self.nominal_l * 1000 / (math.pi * self.width_cm**2 / 4) * ABOVE_BRIM


@dataclass(frozen=True, slots=True)
class Elevation:
    """One vessel in a box of its own, its foot at the bottom."""

    box: tuple[float, float]  #: Width and height. [px]
    wall: str
    wall_width: float
    kind: str  #: glass, stoneware, steel or wood
    liquid: tuple[float, float, float, float] | None  #: x, y, width, height
    colour: str
    disc: tuple[float, float, float, float] | None
    tap: str


def elevations(every: Sequence[ElevationFacts]) -> list[Elevation]:
    """Draw vessels to one scale, the tallest as tall as a shelf allows."""
    tallest = max((one.height_cm for one in every), default=1.0)
    return [_drawn(one, TALLEST / tallest) for one in every]


def _drawn(facts: ElevationFacts, px_per_cm: float) -> Elevation:
    kind = RIMS.get(facts.material, "glass")
    wide, high = max(LEAST_SIDE, facts.width_cm * px_per_cm), max(LEAST_SIDE, facts.height_cm * px_per_cm)
    wall, corner = WALL[kind], min(CORNER, wide / 4)
    inside, left = high / ABOVE_BRIM, wall
    level = inside * min(1.0, facts.litres / facts.nominal_l)
    disc = min(max(3.0, facts.disc_mm / 10 * px_per_cm), level) if facts.disc_mm and level else 0.0
    path = f"M{wall / 2:.1f} 0V{high - corner:.1f}q0 {corner - wall / 2:.1f} {corner - wall / 2:.1f} {corner - wall / 2:.1f}"
    path += f"H{wide - corner:.1f}q{corner - wall / 2:.1f} 0 {corner - wall / 2:.1f} {wall / 2 - corner:.1f}V0"
    at = high * (1 - TAP_UP)
    return Elevation(
        (wide + (TAP_OUT if facts.tapped else 0.0), high),
        path,
        wall,
        kind,
        (left, high - wall - level, wide - 2 * wall, level) if level else None,
        mixed(FRESH.get(facts.tea, FRESH["black"]), SOURED.get(facts.tea, SOURED["black"]), min(1.0, max(0.0, facts.sourness))),
        (left, high - wall - level, wide - 2 * wall, disc) if disc else None,
        f"M{wide:.1f} {at:.1f}h{TAP_OUT - 8:.1f}M{wide + TAP_OUT - 9:.1f} {at - 7:.1f}v16" if facts.tapped else "",
    )
