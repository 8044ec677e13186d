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
    "sea-buckthorn": "#e2902a",
    "orange": "#e59a3a",
    "quince": "#dcae57",
    "fig": "#a9744f",
    "beetroot": "#7a1f46",
    "pomegranate": "#a12c45",
    "herbs": "#b9a552",
    "ginger": "#d8b565",
}


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
        FLAVOUR_COLOURS.get(flavour, "#cf8a42"),
        (WIDTH / 2 - top_width - 1, FLOOR - top - 7, 2 * top_width + 2),
        min(1.0, max(0.0, likely_bar / limit_bar)) if rated else 0.0,
        min(1.0, max(0.0, high_bar / limit_bar)) if rated else 0.0,
        mark_share,
        rated,
    )
