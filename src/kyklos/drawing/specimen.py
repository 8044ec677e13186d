"""Specimens: what may lie on a brew, drawn from above so that it can be compared with the jar.

Each is made from how old it is, how much it covers, and a seed, so that no two look the same and one always looks the same.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, field

from .dial import FRESH, uneven
from .shapes import Point, closed, on_circle, path_through

CENTRE, RADIUS = 110.0, 100.0
FUZZ = {
    "white": "#f4f2ea",
    "green": "#7d9a5e",
    "blue": "#7f9bab",
    "black": "#3a3833",
    "grey": "#a3a39a",
    "pink": "#d59a94",
}
KINDS = (
    "bare",
    "skin",
    "disc",
    "jelly",
    "film-yeast",
    "coloured",
    "odd",
    "fuzzy",
    "eels",
    "insects",
    "lifted",
    "tilted",
    "froth",
    "strings",
)


@dataclass(frozen=True, slots=True)
class Shape:
    """One path; its class says how it is painted, its fill is given only where it is the specimen's own colour."""

    kind: str
    path: str
    fill: str = ""


@dataclass(slots=True)
class _Canvas:
    """Collects shapes of one specimen."""

    chance: random.Random
    shapes: list[Shape] = field(default_factory=list)

    def add(self, kind: str, path: str, fill: str = "") -> None:
        """Put a shape on top."""
        self.shapes.append(Shape(kind, path, fill))

    def spot(self, reach: float) -> Point:
        """Find a place on the surface, evenly spread."""
        return on_circle(CENTRE, RADIUS * reach * math.sqrt(self.chance.random()), self.chance.random())

    def blob(self, kind: str, at: Point, radius: float, rough: float, fill: str = "") -> None:
        """Put an uneven round there."""
        self.add(kind, closed(uneven(self.chance, *at, radius, rough, 48)), fill)


@dataclass(frozen=True, slots=True)
class Specimen:
    """A drawing in a box of 220 by 220."""

    liquor: str
    shapes: tuple[Shape, ...]


def specimen(
    kind: str, age: float = 8.0, coverage: float = 0.5, seed: int = 1, colour: str = "", tea: str = "black"
) -> Specimen:
    """Draw a specimen.

    Args:
        kind: One of KINDS.
        age: Days since the pitch. [d]
        coverage: How much of the surface it takes. [-]
        seed: Which one of many.
        colour: Of mould, a key of FUZZ; several unless given. Of a stain: pink, orange or black.
        tea: Of the liquor below.
    """
    canvas = _Canvas(random.Random(f"{kind} {seed}"))
    _DRAW[kind](canvas, age, min(max(coverage, 0.05), 1.0), colour)
    return Specimen(FRESH.get(tea, FRESH["black"]), tuple(canvas.shapes))


def _circle(at: Point, radius: float) -> str:
    x, y = at
    return f"M{x - radius:.1f} {y:.1f}a{radius:.1f} {radius:.1f} 0 1 0 {2 * radius:.1f} 0a{radius:.1f} {radius:.1f} 0 1 0 {-2 * radius:.1f} 0Z"


def _bubbles(c: _Canvas, number: int, low: float, high: float, reach: float = 0.9) -> None:
    for _ in range(number):
        c.add("sp-bubble", _circle(c.spot(reach), c.chance.uniform(low, high)))


def _disc(c: _Canvas, age: float, size: float = 0.93) -> None:
    c.blob("sp-disc", (CENTRE, CENTRE), RADIUS * size, 0.035)
    for _ in range(3):
        c.blob("sp-disc-thick", c.spot(0.35), RADIUS * c.chance.uniform(0.25, 0.4) * min(1.0, 0.5 + age / 20), 0.16)
    for _ in range(4):
        c.blob("sp-tan", c.spot(0.7), c.chance.uniform(6, 14), 0.3)


def _bare(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    _bubbles(c, 10, 1.5, 4)


def _skin(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    for _ in range(int(3 + 5 * coverage)):
        c.blob("sp-skin", c.spot(0.6), RADIUS * c.chance.uniform(0.22, 0.42), 0.3)
    _bubbles(c, 8, 1.5, 4)


def _whole_disc(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    _disc(c, age)
    _bubbles(c, 5, 2, 5, 0.7)


def _jelly(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    """Wet lumps with a shine, and gas caught below them like eyes."""
    _disc(c, age, 0.8)
    for _ in range(int(5 + 7 * coverage)):
        at, radius = c.spot(0.75), c.chance.uniform(10, 24)
        c.blob("sp-jelly", at, radius, 0.2)
        c.add(
            "sp-shine",
            f"M{at[0] - radius * 0.5:.1f} {at[1] - radius * 0.3:.1f}q{radius * 0.3:.1f} {-radius * 0.4:.1f} {radius * 0.8:.1f} {-radius * 0.25:.1f}",
        )
    for _ in range(int(4 + 6 * coverage)):
        at, radius = c.spot(0.75), c.chance.uniform(5, 9)
        c.add("sp-eye", _circle(at, radius))
        c.add("sp-eye-light", _circle((at[0] - radius * 0.3, at[1] - radius * 0.3), radius * 0.32))


def _film_yeast(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    """A dull sheet with fine wrinkles all over, broken where it has not spread yet."""
    size = RADIUS * (0.55 + 0.42 * coverage)
    c.blob("sp-film", (CENTRE, CENTRE), size, 0.09)
    for row in range(-11, 12):
        y0, points = row * 9.0, []
        half = math.sqrt(max(0.0, (size * 0.93) ** 2 - y0**2))
        phase = c.chance.uniform(0, 6)
        for i in range(int(half * 2 / 5) + 1):
            x = -half + i * 5
            points.append((CENTRE + x, CENTRE + y0 + 2.6 * math.sin(x / 7 + phase) + c.chance.uniform(-1.2, 1.2)))
        if len(points) > 3:
            c.add("sp-wrinkle", path_through(points))
    for _ in range(int(7 * (1.1 - coverage))):
        c.blob("sp-hole", c.spot(0.55), c.chance.uniform(4, 12), 0.4)


def _coloured(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    """Flat stains with soft, even edges: colour, and no hair."""
    _disc(c, age)
    own = {"pink": "#d9837c", "orange": "#d8893c", "black": "#3d332c"}
    shade = own.get(colour, own["pink"])
    for _ in range(int(2 + 4 * coverage)):
        at, radius = c.spot(0.6), c.chance.uniform(10, 22)
        c.blob("sp-stain-edge", at, radius * 1.25, 0.12, shade)
        c.blob("sp-stain", at, radius, 0.12, shade)


def _odd(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    _disc(c, age)
    for _ in range(3):
        c.blob("sp-odd", c.spot(0.55), c.chance.uniform(8, 15), 0.5)


def _fuzzy(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    """Dry, raised rounds: a rim of hairs, a coloured heart, powder around, and a shadow since they stand above the disc."""
    _disc(c, age)
    for _ in range(int(3 + 6 * coverage)):
        shade = FUZZ.get(colour) or c.chance.choice(list(FUZZ.values()))
        at, radius = c.spot(0.68), c.chance.uniform(8, 17) * min(1.25, 0.7 + age / 25)
        c.blob("sp-shadow", (at[0] + 3, at[1] + 4), radius * 1.1, 0.08)
        hairs = []
        for i in range(70):
            turn = i / 70 + c.chance.uniform(-0.006, 0.006)
            long = radius * c.chance.uniform(1.1, 1.42)
            inner, outer = on_circle(0, radius * 0.75, turn), on_circle(0, long, turn + c.chance.uniform(-0.015, 0.015))
            hairs.append(
                f"M{at[0] + inner[0]:.1f} {at[1] + inner[1]:.1f}L{at[0] + outer[0]:.1f} {at[1] + outer[1]:.1f}"
            )
        c.add("sp-hair", "".join(hairs))
        c.blob("sp-fuzz-white", at, radius, 0.07)
        c.blob("sp-fuzz", at, radius * 0.66, 0.12, shade)
        for _ in range(26):
            dust = on_circle(0, radius * c.chance.uniform(0.1, 1.0), c.chance.random())
            c.add("sp-powder", _circle((at[0] + dust[0], at[1] + dust[1]), c.chance.uniform(0.6, 1.3)), shade)


def _eels(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    """Fine pale threads, crowded at the rim."""
    _disc(c, age, 0.72)
    for _ in range(int(24 + 40 * coverage)):
        turn, away = c.chance.random(), RADIUS * c.chance.uniform(0.8, 0.97)
        x, y = on_circle(CENTRE, away, turn)
        lean = c.chance.uniform(-0.9, 0.9) + 2 * math.pi * turn
        dx, dy = 4.5 * math.cos(lean), 4.5 * math.sin(lean)
        c.add(
            "sp-eel",
            f"M{x:.1f} {y:.1f}q{dx - dy:.1f} {dy + dx:.1f} {dx:.1f} {dy:.1f}q{dx * 0.2 + dy:.1f} {dy * 0.2 - dx:.1f} {dx * 1.1:.1f} {dy * 1.1:.1f}",
        )


def _insects(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    """Small flies with two wings, and grains of eggs in rows."""
    _disc(c, age)
    for _ in range(int(3 + 4 * coverage)):
        x, y = c.spot(0.72)
        turn = c.chance.uniform(0, 360)
        for side in (-1, 1):
            wing = [(x + side * 4 + 5.5 * math.cos(a), y + 3 + 2.4 * math.sin(a)) for a in (i * 0.5 for i in range(13))]
            c.add("sp-wing", closed([_turned(p, (x, y), turn) for p in wing]))
        body = [(x + 2.6 * math.cos(a), y + 6.5 * math.sin(a)) for a in (i * 0.45 for i in range(14))]
        c.add("sp-fly", closed([_turned(p, (x, y), turn) for p in body]))
    for _ in range(2):
        x, y = c.spot(0.6)
        for i in range(9):
            c.add("sp-egg", _circle((x + 4.2 * (i % 3) + c.chance.uniform(-1, 1), y + 3.6 * (i // 3)), 1.7))


def _turned(point: Point, about: Point, degrees: float) -> Point:
    a = math.radians(degrees)
    x, y = point[0] - about[0], point[1] - about[1]
    return about[0] + x * math.cos(a) - y * math.sin(a), about[1] + x * math.sin(a) + y * math.cos(a)


def _lifted(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    """A disc standing up out of the liquid on one side: a dull dry crown, a shadow, wet only at its edge."""
    c.blob("sp-shadow", (CENTRE + 9, CENTRE + 11), RADIUS * 0.84, 0.04)
    c.blob("sp-disc", (CENTRE - 3, CENTRE - 4), RADIUS * 0.84, 0.05)
    c.blob("sp-dry", (CENTRE - 8, CENTRE - 10), RADIUS * 0.6, 0.12)
    for _ in range(7):
        x, y = c.spot(0.45)
        c.add("sp-crack", path_through([(x - 10, y), (x - 5, y - 9), (x + 2, y - 11), (x + 9, y - 18)]))
    _bubbles(c, 9, 3, 7, 0.95)


def _tilted(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    """A disc that lies askew: its low side under the liquid, a new film beginning beside it."""
    c.blob("sp-skin", (CENTRE + 34, CENTRE - 26), RADIUS * 0.5, 0.2)
    c.blob("sp-disc", (CENTRE - 18, CENTRE + 16), RADIUS * 0.72, 0.05)
    c.blob("sp-sunk", (CENTRE - 48, CENTRE + 44), RADIUS * 0.42, 0.1)
    _bubbles(c, 8, 1.5, 4)


def _froth(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    for _ in range(int(110 + 120 * coverage)):
        c.add("sp-foam", _circle(c.spot(0.93), c.chance.uniform(3, 10)))


def _strings(c: _Canvas, age: float, coverage: float, colour: str) -> None:
    c.blob("sp-disc", (CENTRE, CENTRE), RADIUS * 0.7, 0.06)
    for _ in range(int(12 + 16 * coverage)):
        x, y = on_circle(CENTRE, RADIUS * c.chance.uniform(0.6, 0.78), c.chance.random())
        out = math.atan2(y - CENTRE, x - CENTRE)
        dx, dy = 9 * math.cos(out), 9 * math.sin(out)
        c.add(
            "sp-string",
            f"M{x:.1f} {y:.1f}q{dx - dy * 0.6:.1f} {dy + dx * 0.6:.1f} {dx * 1.3:.1f} {dy * 1.3:.1f}t{dx * 1.1:.1f} {dy * 1.1:.1f}",
        )


_DRAW = {
    "bare": _bare,
    "skin": _skin,
    "disc": _whole_disc,
    "jelly": _jelly,
    "film-yeast": _film_yeast,
    "coloured": _coloured,
    "odd": _odd,
    "fuzzy": _fuzzy,
    "eels": _eels,
    "insects": _insects,
    "lifted": _lifted,
    "tilted": _tilted,
    "froth": _froth,
    "strings": _strings,
}
