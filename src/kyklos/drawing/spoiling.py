"""What does not belong on a brew, or has to be watched: film yeast, stains, mould, eels, flies, a dry crown."""

from __future__ import annotations

import math

from .dial import uneven
from .growing import bubbles, craters, shine, whole_disc
from .shapes import Point, closed, on_circle, path_through
from .surface_canvas import CENTRE, RADIUS, Canvas, grain, lines, patch, round_path, turned

FUZZ = {
    "white": "#dedbcf",
    "green": "#6f8f55",
    "blue": "#6d8fa3",
    "black": "#35332f",
    "grey": "#918f86",
    "pink": "#c98a86",
}
STAINS = {"pink": "#cf6f76", "orange": "#d0802f", "black": "#3a2f29"}
YOUNG_MOULD_DAYS = 5.0  #: Until then mould is mostly white down (assumed). [d]


def film_yeast(c: Canvas) -> None:
    """Draw a dull, thin sheet that lies flat on the liquid, in fine ripples all running one way, torn where it has not spread."""
    size = RADIUS * (0.5 + 0.47 * c.coverage)
    at = (CENTRE + c.chance.uniform(-1, 1) * (RADIUS - size) * 0.8, CENTRE + c.chance.uniform(-1, 1) * (RADIUS - size) * 0.8)
    outline = uneven(c.chance, *at, size, 0.14, 64)
    holes: list[tuple[Point, float]] = []
    for _ in range(int(9 * (1.15 - c.coverage))):
        spot, radius = c.spot(0.75), c.chance.uniform(4, 12)
        if all(math.dist(spot, known) > 1.5 * (radius + wide) for known, wide in holes) and math.dist(spot, at) < size * 0.7:
            holes.append((spot, radius))
    torn = "".join(patch(c, spot, radius, 0.35) for spot, radius in holes)
    c.add("sp-film", closed(outline) + torn)

    def inside(point: Point) -> bool:
        return math.dist(point, at) < size * 0.92 and all(math.dist(point, spot) > radius + 2 for spot, radius in holes)

    ripples = c.streams(inside, int(170 + 420 * c.coverage), 30 + c.age, 0.6)
    c.add("sp-wrinkle", lines(ripples))
    if ripples:
        longest = max(ripples, key=len)
        c.mark("wrinkle", longest[len(longest) // 2])
    c.mark("flat", outline[20])
    c.mark("dull", at)


def coloured(c: Canvas) -> None:
    """Draw flat stains: colour that has sunk in with soft edges, wet like the disc around, and no hair."""
    whole_disc(c)
    shade = STAINS.get(c.colour, STAINS["pink"])
    for _ in range(int(1 + 6 * c.coverage)):
        at, radius = c.spot(0.62), c.chance.uniform(9, 22) * (0.6 + 0.55 * c.coverage)
        for wide, kind in ((1.4, "sp-stain-edge"), (1.15, "sp-stain-edge"), (0.85, "sp-stain")):
            c.add(kind, patch(c, at, radius * wide, 0.16), shade)
        shine(c, at, radius)
        c.mark("stain", (at[0] + radius * 0.8, at[1] + radius * 0.5))
        c.mark("wet", (at[0] - radius * 0.36, at[1] - radius * 0.58))


def odd(c: Canvas) -> None:
    """Draw something that is neither: dim blots half sunk into the disc, some matt and some wet."""
    whole_disc(c)
    for number in range(int(2 + 4 * c.coverage)):
        at, radius = c.spot(0.58), c.chance.uniform(8, 17)
        c.blob("sp-odd-edge", at, radius * 1.25, 0.35)
        c.blob("sp-odd", at, radius, 0.4)
        c.add("sp-odd-fleck", c.dots(at, 0, radius * 0.8, 14, 0.5, 1.6))
        if number % 2:
            shine(c, at, radius)
        c.mark("odd", at)


def fuzzy(c: Canvas) -> None:
    """Draw mould: dry rounds standing above the disc, a fringe of fine hairs, a ring of spores, a shadow beside each."""
    whole_disc(c)
    grown = min(1.25, 0.55 + c.age / 18) * (0.62 + 0.6 * c.coverage)
    for _ in range(int(1 + 8 * c.coverage)):
        shade = FUZZ.get(c.colour) or c.chance.choice(list(FUZZ.values()))
        _colony(c, c.spot(0.66), c.chance.uniform(9, 17) * grown, shade)


def _colony(c: Canvas, at: Point, radius: float, shade: str) -> None:
    c.blob("sp-shadow", (at[0] + 3.5, at[1] + 4.5), radius * 1.24, 0.06)
    c.add("sp-down", patch(c, at, radius * 1.16, 0.05))
    c.add("sp-hair", c.hairs(at, radius * 0.86, radius * 1.45, int(46 + 3.6 * radius)))
    c.add("sp-fuzz-white", patch(c, at, radius, 0.07))
    ripe = min(1.0, max(0.0, (c.age - YOUNG_MOULD_DAYS + 3) / 6))
    if ripe:
        c.add("sp-fuzz", patch(c, at, radius * (0.35 + 0.4 * ripe), 0.1), shade)
    c.add("sp-powder", c.dots(at, radius * 0.3, radius * 0.92, int(14 + 50 * ripe), 0.5, 1.15), shade)
    c.add("sp-fluff", c.hairs(at, 0.0, radius * 0.8, 30))
    c.mark("hair", (at[0], at[1] - radius * 1.25))
    c.mark("shadow", (at[0] + radius, at[1] + radius))
    c.mark("spores", at)


def eels(c: Canvas) -> None:
    """Draw vinegar eels: hair-fine pale threads, bent, crowded in the liquid at the rim."""
    whole_disc(c, 0.7)
    threads = []
    for _ in range(int(30 + 60 * c.coverage)):
        turn, away = c.chance.random(), RADIUS * c.chance.uniform(0.79, 0.985)
        x, y = on_circle(CENTRE, away, turn)
        lean = c.chance.uniform(-0.9, 0.9) + 2 * math.pi * turn
        dx, dy = 3.4 * math.cos(lean), 3.4 * math.sin(lean)
        threads.append(
            f"M{x:.1f} {y:.1f}q{dx - dy:.1f} {dy + dx:.1f} {dx:.1f} {dy:.1f}q{dx * 0.2 + dy:.1f} {dy * 0.2 - dx:.1f} {dx * 1.1:.1f} {dy * 1.1:.1f}"
        )
        c.mark("eel", (x + dx, y + dy))
    c.add("sp-eel", "".join(threads))


def insects(c: Canvas) -> None:
    """Draw small flies with two wings, grains that they laid, and what crawled out of some."""
    whole_disc(c)
    for _ in range(int(2 + 5 * c.coverage)):
        at, turn = c.spot(0.72), c.chance.uniform(0, 360)
        for side in (-1, 1):
            wing = [(at[0] + side * 4 + 5.5 * math.cos(a), at[1] + 3 + 2.4 * math.sin(a)) for a in (i * 0.5 for i in range(13))]
            c.add("sp-wing", closed([turned(point, at, turn) for point in wing]))
        c.add("sp-fly", grain(at, 2.6, 6.4, turn))
        c.add("sp-fly-head", round_path(turned((at[0], at[1] - 7), at, turn), 2.1))
        c.mark("fly", at)
    _laid(c, 2)


def eggs(c: Canvas) -> None:
    """Draw what flies laid: clusters of long white grains, all of a size, and a crawling maggot or two."""
    whole_disc(c)
    _laid(c, int(1 + 5 * c.coverage))


def _laid(c: Canvas, clusters: int) -> None:
    for number in range(clusters):
        x, y = c.spot(0.72)
        for _ in range(c.chance.randint(7, 14)):
            at = (x + c.chance.uniform(-11, 11), y + c.chance.uniform(-8, 8))
            c.add("sp-egg", grain(at, 3.1, 1.15, c.chance.uniform(-35, 35)))
        c.mark("egg", (x, y))
        if number == 0:
            c.add("sp-maggot", f"M{x + 16:.1f} {y:.1f}q5 -6 10 -2t9 3")


def _dry_patch(c: Canvas, at: Point, radius: float) -> None:
    """Put a place that has dried: matt, paler, without any light on it, cracked into plates."""
    c.blob("sp-dry-edge", at, radius * 1.12, 0.12)
    c.blob("sp-dry", at, radius, 0.14)
    cracks = []
    for _ in range(9):
        x, y = at[0] + c.chance.uniform(-0.5, 0.5) * radius, at[1] + c.chance.uniform(-0.5, 0.5) * radius
        turn, line = c.chance.uniform(0, 2 * math.pi), [(x, y)]
        for _ in range(c.chance.randint(2, 4)):
            turn += c.chance.uniform(-0.9, 0.9)
            step = radius * c.chance.uniform(0.12, 0.24)
            x, y = x + step * math.cos(turn), y + step * math.sin(turn)
            line.append((x, y))
        cracks.append(path_through([point for point in line if math.dist(point, at) < radius * 0.92] or line[:1]))
    c.add("sp-crack", "".join(cracks))
    c.mark("dry", at)


def lifted(c: Canvas) -> None:
    """Draw a disc pushed up out of the liquid: a shadow along one side, a dull dry crown, bubbles at its edge."""
    c.blob("sp-shadow", (CENTRE + 10, CENTRE + 13), RADIUS * 0.86, 0.03)
    whole_disc(c, 0.84, (CENTRE - 3, CENTRE - 4))
    _dry_patch(c, (CENTRE - 6, CENTRE - 8), RADIUS * (0.4 + 0.25 * c.coverage))
    bubbles(c, 10, 3, 7, 0.96)


def dry(c: Canvas) -> None:
    """Draw a disc that lies flat, with a place that has dried."""
    whole_disc(c)
    for _ in range(1 + int(2 * c.coverage)):
        _dry_patch(c, c.spot(0.4), RADIUS * c.chance.uniform(0.2, 0.3 + 0.15 * c.coverage))
    craters(c, 3)
