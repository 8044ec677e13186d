"""Specimens: what may lie on a brew, drawn from above so that it can be compared with the jar.

Each is made from how old it is, how much it covers, and a seed, so that no two look the same and one always looks the same.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from . import growing, spoiling
from .dial import FRESH, RIMS, SOURED
from .shapes import mixed
from .spoiling import FUZZ, STAINS
from .surface_canvas import CENTRE, RADIUS, Canvas, Shape, TellingMark

__all__ = ["CENTRE", "FUZZ", "KINDS", "LIGHTS", "RADIUS", "STAINS", "Shape", "Specimen", "TellingMark", "specimen"]

LIGHTS = ("daylight", "lamp", "window")
SOUR_DAYS = 24.0  #: So old the liquor has its lightest colour (assumed). [d]

_DRAW: Mapping[str, Callable[[Canvas], None]] = MappingProxyType(
    {
        "bare": growing.bare,
        "skin": growing.skin,
        "disc": growing.disc,
        "jelly": growing.jelly,
        "film-yeast": spoiling.film_yeast,
        "coloured": spoiling.coloured,
        "odd": spoiling.odd,
        "fuzzy": spoiling.fuzzy,
        "eels": spoiling.eels,
        "insects": spoiling.insects,
        "lifted": spoiling.lifted,
        "tilted": growing.tilted,
        "froth": growing.froth,
        "strings": growing.strings,
        "holed": growing.holed,
        "clouds": growing.clouds,
        "eggs": spoiling.eggs,
        "dry": spoiling.dry,
    }
)
KINDS = tuple(_DRAW)


@dataclass(frozen=True, slots=True)
class Specimen:
    """A drawing in a box of 220 by 220."""

    liquor: str
    shapes: tuple[Shape, ...]
    marks: tuple[TellingMark, ...] = ()
    light: str = "daylight"  #: One of LIGHTS.
    rim: str = "glass"  #: glass, stoneware, steel or wood

    def mark(self, part: str) -> TellingMark | None:
        """Find where a telling part is; None: it is not in this drawing."""
        return next((mark for mark in self.marks if mark.part == part), None)


def specimen(
    kind: str,
    age: float = 8.0,
    coverage: float = 0.5,
    seed: int = 1,
    colour: str = "",
    tea: str = "black",
    light: str = "daylight",
    material: str = "glass",
) -> Specimen:
    """Draw a specimen.

    Args:
        kind: One of KINDS.
        age: Days since the pitch. [d]
        coverage: How much of the surface it takes. [-]
        seed: Which one of many.
        colour: Of mould, a key of FUZZ; several unless given. Of a stain, a key of STAINS.
        tea: Of the liquor below; it lightens as it sours.
        light: In which it is seen, one of LIGHTS.
        material: Of the vessel.
    """
    canvas = Canvas(random.Random(f"{kind} {seed}"), age, min(max(coverage, 0.05), 1.0), colour)
    _DRAW[kind](canvas)
    tea = tea if tea in FRESH else "black"
    liquor = mixed(FRESH[tea], SOURED[tea], 0.7 * min(1.0, max(0.0, age) / SOUR_DAYS))
    return Specimen(liquor, tuple(canvas.shapes), tuple(canvas.marks), light, RIMS.get(material, "glass"))
