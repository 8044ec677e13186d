"""The rack: bottles as they stand, with their liquid as liquid, and pressure as a gauge at the neck."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import lru_cache

WIDTH = 56.0
FLOOR = 128.0
#: Outlines by shape: (half width, height) steps from the floor up, and the closure's kind.
PROFILES: dict[str, tuple[tuple[float, float], ...]] = {
    "swing": ((17, 0), (17, 66), (7, 92), (7, 108)),
    "long": ((14, 0), (14, 56), (6, 84), (6, 110)),
    "wine": ((18, 0), (18, 62), (7, 94), (7, 112)),
    "pet": ((17, 0), (17, 78), (7, 98), (7, 106)),
    "jar": ((19, 0), (19, 72), (16, 78), (16, 84)),
}
FLAVOUR_COLOURS = {
    "damson": "#7b2d43",
    "plum": "#8a3a4c",
    "blackcurrant": "#5b2440",
    "blueberry": "#5b3a5e",
    "elderberry": "#4c2038",
    "raspberry": "#b5405a",
    "strawberry": "#c4565a",
    "cherry": "#9c2f42",
    "redcurrant": "#b23a48",
    "rhubarb": "#d98a7a",
    "sea-buckthorn-juice": "#e2902a",
    "orange-juice": "#e59a3a",
    "apricot": "#e0a24a",
    "dried-apricot": "#c98436",
    "peach": "#e6ab78",
    "nectarine": "#e2a070",
    "mango": "#e8a63a",
    "passion-fruit-puree": "#e0a838",
    "pineapple": "#e3c25a",
    "pineapple-juice": "#e3c25a",
    "lemon-juice": "#e2d27e",
    "lime-juice": "#c9cf7e",
    "grapefruit-juice": "#e6a08a",
    "apple": "#d9c06a",
    "apple-juice": "#d9b45a",
    "pear": "#d9cc8a",
    "pear-juice": "#d9cc8a",
    "grape": "#8a5a78",
    "grape-juice": "#7a4a6e",
    "blackberry": "#5a2b48",
    "raspberry-puree": "#b5405a",
    "gooseberry": "#b9bd72",
    "watermelon": "#d9807a",
    "melon": "#e0b878",
    "banana": "#e2d090",
    "papaya": "#e0925a",
    "cucumber": "#b7c48a",
    "carrot-juice": "#e08a3a",
    "turmeric-root": "#e0a52a",
    "hibiscus-flowers": "#a32f4a",
    "elderflower": "#e0d49a",
    "mint": "#a9b56a",
    "basil": "#9fae62",
    "rosemary": "#a8a86a",
    "thyme": "#b5aa66",
    "bay": "#b0ab68",
    "blackcurrant-leaf": "#a8ad62",
    "raisins": "#9a6a3e",
    "jam": "#a6455a",
    "honey": "#d9a03a",
    "quince": "#dcae57",
    "fig": "#a9744f",
    "beetroot": "#7a1f46",
    "pomegranate-juice": "#a12c45",
    "herbs": "#b9a552",
    "ginger-root": "#d8b565",
    "ginger-juice": "#d8b565",
}


PLAIN_COLOUR = "#cf8a42"


def colour_of(flavour: str) -> str:
    """Return the colour of a drink by the ingredient that tells most; plain where nobody knows it."""
    return FLAVOUR_COLOURS.get(flavour, PLAIN_COLOUR)


@dataclass(frozen=True, slots=True)
class BottleShape:
    """One bottle, in a box of 56 by 132."""

    outline: str
    liquid: str
    colour: str
    stopper: tuple[float, float, float]  #: x, y, width
    gauge_fill: float  #: 0 to 1 of the gauge.
    gauge_band: float  #: 0 to 1, the 90 % end.
    gauge_mark: float  #: 0 to 1, where to chill.
    rated: bool


def _half_width(profile: tuple[tuple[float, float], ...], height: float) -> float:
    for (w0, h0), (w1, h1) in itertools.pairwise(profile):
        if height <= h1:
            return w0 + (w1 - w0) * (height - h0) / (h1 - h0)
    return profile[-1][0]


def _outline(profile: tuple[tuple[float, float], ...], top: float) -> str:
    levels = [h for _, h in profile if h < top] + [top]
    middle = WIDTH / 2
    right = [(middle + _half_width(profile, h), FLOOR - h) for h in levels]
    left = [(middle - _half_width(profile, h), FLOOR - h) for h in reversed(levels)]
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in right + left) + "Z"


@lru_cache(maxsize=256)
def fill_height(shape: str, headspace_fraction: float) -> float:
    """Find the height of the liquid that leaves so much of the volume empty. [drawing units]"""
    profile = PROFILES[shape]
    steps = 200
    top = profile[-1][1]
    areas = [_half_width(profile, top * (i + 0.5) / steps) ** 2 for i in range(steps)]
    wanted, total = sum(areas) * (1 - headspace_fraction), 0.0
    for i, area in enumerate(areas):
        total += area
        if total >= wanted:
            return top * (i + 1) / steps
    return top


@lru_cache(maxsize=256)
def bottle_shape(
    shape: str,
    headspace_fraction: float,
    flavour: str,
    likely_bar: float,
    high_bar: float,
    limit_bar: float,
    mark_share: float = 0.7,
) -> BottleShape:
    """Draw a bottle.

    Args:
        shape: A profile's name.
        headspace_fraction: Share of the bottle that is gas. [-]
        flavour: Colours the liquid.
        likely_bar, high_bar, limit_bar: Pressure now, its 90 % end, and the bottle's limit, 0 if not rated. [bar]
        mark_share: Where the gauge marks to chill. [-]
    """
    profile = PROFILES.get(shape, PROFILES["jar"])
    top_width, top = profile[-1]
    rated = limit_bar > 0
    return BottleShape(
        _outline(profile, top),
        _outline(profile, fill_height(shape, headspace_fraction)),
        colour_of(flavour),
        (WIDTH / 2 - top_width - 1, FLOOR - top - 7, 2 * top_width + 2),
        min(1.0, max(0.0, likely_bar / limit_bar)) if rated else 0.0,
        min(1.0, max(0.0, high_bar / limit_bar)) if rated else 0.0,
        mark_share,
        rated,
    )
