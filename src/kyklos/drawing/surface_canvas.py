"""A canvas for what lies on a brew: shapes from below upward, marks that say where a telling part is, and strokes that many share."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field

from .dial import uneven
from .shapes import Point, closed, on_circle, short_line

CENTRE, RADIUS = 110.0, 100.0
STEP = 2.6  #: Of a line that is traced.
LEAST_POINTS, MOST_POINTS = 14, 48  #: Of an outline, by its size.


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
        """Keep where a part is; the first of its kind counts, unless it lies at the rim."""
        if all(known.part != part for known in self.marks) and math.dist(at, (CENTRE, CENTRE)) < 0.9 * RADIUS:
            self.marks.append(TellingMark(part, *at))

    def spot(self, reach: float, least: float = 0.0) -> Point:
        """Find a place on the surface, evenly spread between two shares of its radius."""
        share = math.sqrt(self.chance.uniform(least**2, reach**2))
        return on_circle(CENTRE, RADIUS * share, self.chance.random())

    def blob(self, kind: str, at: Point, radius: float, rough: float, fill: str = "") -> None:
        """Put an uneven round there."""
        self.add(kind, patch(self, at, radius, rough), fill)

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
            out.append(f"M{at[0] + sx:.1f} {at[1] + sy:.1f}q{bx - sx:.1f} {by - sy:.1f} {ex - sx:.1f} {ey - sy:.1f}")
        return "".join(out)

    def dots(self, at: Point, inner: float, outer: float, number: int, low: float, high: float) -> str:
        """Draw grains in a ring around a place, as one path."""
        out = []
        for _ in range(number):
            x, y = on_circle(0, self.chance.uniform(inner, outer), self.chance.random())
            size = self.chance.uniform(low, high)
            out.append(f"M{at[0] + x:.1f} {at[1] + y - size:.1f}l{size:.1f} {size:.1f}-{size:.1f} {size:.1f}-{size:.1f}-{size:.1f}z")
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
            return x + STEP * dx / long_, y + STEP * dy / long_

        out = []
        for _ in range(number):
            x, y = self.spot(0.97)
            line = []
            for _ in range(int(self.chance.uniform(0.35, 1.0) * long / STEP)):
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


def lines(some: list[list[Point]]) -> str:
    """Draw many lines as one path."""
    return "".join(short_line(line) for line in some)


def patch(canvas: Canvas, at: Point, radius: float, rough: float) -> str:
    """Draw an uneven round, by as many points as it is large."""
    points = uneven(canvas.chance, *at, radius, rough, int(min(MOST_POINTS, max(LEAST_POINTS, 1.3 * radius))))
    return short_line(points) + "z"


def turned(point: Point, about: Point, degrees: float) -> Point:
    """Turn a point about another."""
    a = math.radians(degrees)
    x, y = point[0] - about[0], point[1] - about[1]
    return about[0] + x * math.cos(a) - y * math.sin(a), about[1] + x * math.sin(a) + y * math.cos(a)


def grain(at: Point, long: float, wide: float, degrees: float) -> str:
    """Draw a grain, longer than wide, lying at an angle."""
    rim = [(at[0] + long * math.cos(i * 0.7), at[1] + wide * math.sin(i * 0.7)) for i in range(9)]
    return closed([turned(point, at, degrees) for point in rim])
