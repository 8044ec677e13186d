"""Small shared pieces of geometry."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

Point = tuple[float, float]
Span = tuple[str, float, float]  #: A name, from, to.


@dataclass(frozen=True, slots=True)
class Label:
    """A word at a place."""

    x: float
    y: float
    text: str
    anchor: str = "middle"


def shortened(text: str, most: int) -> str:
    """Write a name in so many letters at most.

    >>> shortened("Tall jar", 12), shortened("Grandmother's crock", 12)
    ('Tall jar', 'Grandmother…')
    """
    return text if len(text) <= most else text[: max(1, most - 1)].rstrip() + "…"


def merged(windows: Sequence[Span]) -> list[Span]:
    """Merge names with the same span into one.

    >>> merged([("a", 1.0, 2.0), ("b", 1.0, 2.0)])
    [('a and b', 1.0, 2.0)]
    """
    together: dict[tuple[float, float], list[str]] = {}
    for name, start, end in windows:
        together.setdefault((round(start, 2), round(end, 2)), []).append(name)
    return [(" and ".join(names), *span) for span, names in together.items()]


def path_through(points: Sequence[Point]) -> str:
    """Draw a line through points.

    >>> path_through([(0, 0), (1, 2.5)])
    'M0 0L1 2.5'
    """
    return "".join(f"{'L' if i else 'M'}{x:.4g} {y:.4g}" for i, (x, y) in enumerate(points))


def _short(value: float) -> str:
    """Write a length to a tenth, as short as it goes."""
    text = f"{value:.1f}".rstrip("0").rstrip(".")
    return {"-0": "0", "": "0"}.get(text, text.replace("0.", ".", 1) if text.lstrip("-").startswith("0.") else text)


def short_line(points: Sequence[Point]) -> str:
    """Draw a line through points by its steps, to a tenth: half as long to send as by places.

    >>> short_line([(10, 10), (12.04, 9.5), (12, 9.04)])
    'M10 10l2-.5 0-.5'
    """
    x, y = round(points[0][0], 1), round(points[0][1], 1)
    out = []
    for to_x, to_y in points[1:]:
        dx, dy = round(to_x - x, 1), round(to_y - y, 1)
        x, y = x + dx, y + dy
        out.append(f"{_short(dx)}{'' if dy <= -0.05 else ' '}{_short(dy)}")
    return f"M{_short(points[0][0])} {_short(points[0][1])}l{' '.join(out)}"


def closed(points: Sequence[Point]) -> str:
    """Draw an area inside points."""
    return path_through(points) + "Z"


def on_circle(centre: float, radius: float, turn: float) -> Point:
    """Find a point on a circle, `turn` from 0 to 1 clockwise from the top."""
    angle = 2 * math.pi * turn
    return centre + radius * math.sin(angle), centre - radius * math.cos(angle)


def ring_piece(centre: float, inner: float, outer: float, start: float, end: float) -> str:
    """Draw a piece of a ring between two turns, clockwise; a full turn is cut just short."""
    end = min(end, start + 0.9999)
    large = int(end - start > 0.5)
    a, b = on_circle(centre, outer, start), on_circle(centre, outer, end)
    c, d = on_circle(centre, inner, end), on_circle(centre, inner, start)
    return (
        f"M{a[0]:.2f} {a[1]:.2f}A{outer:g} {outer:g} 0 {large} 1 {b[0]:.2f} {b[1]:.2f}"
        f"L{c[0]:.2f} {c[1]:.2f}A{inner:g} {inner:g} 0 {large} 0 {d[0]:.2f} {d[1]:.2f}Z"
    )


def mixed(start: str, end: str, share: float) -> str:
    """Mix two colours written as #rrggbb.

    >>> mixed("#000000", "#ffffff", 0.5)
    '#808080'
    """
    share = min(1.0, max(0.0, share))
    parts = [(int(start[i : i + 2], 16), int(end[i : i + 2], 16)) for i in (1, 3, 5)]
    return "#" + "".join(f"{math.floor(a + (b - a) * share + 0.5):02x}" for a, b in parts)
