"""A canvas for what lies on a brew: shapes from below upward, marks that say where a telling part is, and strokes that many share."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field

from .dial import uneven
from .shapes import Point, closed, on_circle, path_through

CENTRE, RADIUS = 110.0, 100.0


@dataclass(frozen=True, slots=True)
class Shape:
    """One path; its class says how it is painted, its fill is given only where it is the specimen's own colour."""

    kind: str
    path: str
    fill: str = ""


@dataclass(frozen=True, slots=True)
class TellingMark:
    """Where an arrow may point: a part by which one thing is told from another."""

    part: str  #: wrinkle, hair, shine, ...
    x: float
    y: float


@dataclass(slots=True)
class Canvas:
    """Collects shapes of one specimen."""

    chance: random.Random
    age: float  #: Since the pitch. [d]
    coverage: float  #: Share of the surface. [-]
    colour: str = ""
    shapes: list[Shape] = field(default_factory=list)
    marks: list[TellingMark] = field(default_factory=list)

    def add(self, kind: str, path: str, fill: str = "") -> None:
        """Put a shape on top; nothing where there is nothing to draw."""
        if path:
            self.shapes.append(Shape(kind, path, fill))

    def mark(self, part: str, at: Point) -> None:
        """Say where a part is; the first of its kind counts, unless it lies at the rim."""
        if all(known.part != part for known in self.marks) and math.dist(at, (CENTRE, CENTRE)) < 0.9 * RADIUS:
            self.marks.append(TellingMark(part, *at))

    def spot(self, reach: float, least: float = 0.0) -> Point:
        """Find a place on the surface, evenly spread between two shares of its radius."""
        share = math.sqrt(self.chance.uniform(least**2, reach**2))
        return on_circle(CENTRE, RADIUS * share, self.chance.random())

    def blob(self, kind: str, at: Point, radius: float, rough: float, fill: str = "") -> None:
        """Put an uneven round there."""
        self.add(kind, closed(uneven(self.chance, *at, radius, rough, 48)), fill)

    def hairs(self, at: Point, inner: float, outer: float, number: int) -> str:
        """Draw fine bent hairs around a place, as one path.

        Args:
            at: Their middle.
            inner, outer: Where they begin and how far the longest reach.
            number: How many.
        """
        out = []
        for i in range(number):
            turn = i / number + self.chance.uniform(-0.01, 0.01)
            far = inner + (outer - inner) * self.chance.uniform(0.45, 1.0)
            start, bend, end = (
                on_circle(0, radius, turn + lean)
                for radius, lean in ((inner, 0.0), ((inner + far) / 2, self.chance.uniform(-0.012, 0.012)), (far, self.chance.uniform(-0.03, 0.03)))
            )
            (sx, sy), (bx, by), (ex, ey) = start, bend, end
            out.append(f"M{at[0] + sx:.1f} {at[1] + sy:.1f}Q{at[0] + bx:.1f} {at[1] + by:.1f} {at[0] + ex:.1f} {at[1] + ey:.1f}")
        return "".join(out)

    def dots(self, at: Point, inner: float, outer: float, number: int, low: float, high: float) -> str:
        """Draw grains in a ring around a place, as one path."""
        out = []
        for _ in range(number):
            x, y = on_circle(0, self.chance.uniform(inner, outer), self.chance.random())
            out.append(round_path((at[0] + x, at[1] + y), self.chance.uniform(low, high)))
        return "".join(out)

    def streams(self, inside: Callable[[Point], bool], number: int, long: float, wave: float) -> list[list[Point]]:
        """Trace fine lines that follow one slowly turning direction, as wrinkles do.

        Args:
            inside: Whether a place belongs to the sheet.
            number: How many lines.
            long: The longest.
            wave: How much the direction turns over the surface. [rad]
        """
        base, a, b = (self.chance.uniform(0, 2 * math.pi) for _ in range(3))

        def step(x: float, y: float) -> tuple[float, float]:
            """Go along a level line of a gentle relief: such lines never run together."""
            dx = math.cos(base) - wave * math.sin(y / 21 + b) + 0.5 * math.cos((x + y) / 4.2 + a)
            dy = math.sin(base) + wave * math.sin(x / 26 + a) - 0.5 * math.cos((x + y) / 4.2 + a)
            long_ = math.hypot(dx, dy) or 1.0
            return x + 2 * dx / long_, y + 2 * dy / long_

        out = []
        for _ in range(number):
            x, y = self.spot(0.97)
            line = []
            for _ in range(int(self.chance.uniform(0.35, 1.0) * long / 2)):
                if not inside((x, y)):
                    break
                line.append((x, y))
                x, y = step(x, y)
            if len(line) > 3:
                out.append(line)
        return out


def round_path(at: Point, radius: float) -> str:
    """Draw a circle as a path."""
    x, y = at
    return f"M{x - radius:.1f} {y:.1f}a{radius:.1f} {radius:.1f} 0 1 0 {2 * radius:.1f} 0a{radius:.1f} {radius:.1f} 0 1 0 {-2 * radius:.1f} 0Z"


def lines(some: list[list[Point]], dx: float = 0.0, dy: float = 0.0) -> str:
    """Draw many lines as one path, moved by so much."""
    return "".join(path_through([(round(x + dx, 1), round(y + dy, 1)) for x, y in line]) for line in some)


def turned(point: Point, about: Point, degrees: float) -> Point:
    """Turn a point about another."""
    a = math.radians(degrees)
    x, y = point[0] - about[0], point[1] - about[1]
    return about[0] + x * math.cos(a) - y * math.sin(a), about[1] + x * math.sin(a) + y * math.cos(a)


def grain(at: Point, long: float, wide: float, degrees: float) -> str:
    """Draw a grain, longer than wide, lying at an angle."""
    rim = [(at[0] + long * math.cos(i * 0.7), at[1] + wide * math.sin(i * 0.7)) for i in range(9)]
    return closed([turned(point, at, degrees) for point in rim])
