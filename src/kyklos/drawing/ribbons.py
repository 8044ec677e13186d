"""A line's ribbon, nearer to rope than to bars: its width swells and narrows smoothly, and fibres wind along it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import NamedTuple

EASE = 13.0  #: A change of width is spread over so much to each side of it, where there is room. [px]
TAPER = 0.35  #: A line begins and ends so thin, of its width. [-]
FIBRES = 3  #: That wind around each other.
TURN = 92.0  #: So long is one turn of a fibre. [px]
SAMPLE = 11.5  #: Between two points of a fibre. [px]
REACH = 0.37  #: Of the width, how far a fibre swings from the middle. [-]
MOST_FIBRED = 5200.0  #: A braid wider than that has none: nobody would see them, and they take their time. [px]
LEAST_FIBRED = 5.0  #: Nor has a ribbon thinner than that. [px]


class Stretch(NamedTuple):
    """A piece of a ribbon of one width and shade."""

    start: float  #: [px]
    end: float  #: [px]
    width: float  #: [px]
    shade: int


def _joint(before: Stretch | None, after: Stretch, closes: bool) -> float:
    """Return the width where two stretches meet; where nothing is before, the tapered beginning or end. [px]"""
    if before is None:
        return after.width * TAPER if closes else after.width
    return (before.width + after.width) / 2


def _edge(start: float, end: float, widths: tuple[float, float, float], y: float, side: int) -> str:
    """Draw one edge of a stretch, without the first point: eased in, straight, eased out.

    Args:
        start, end: From where to where; the lower edge is drawn from right to left. [px]
        widths: Where it starts, its own, where it ends. [px]
        y: Its middle. [px]
        side: -1 for the upper edge, 1 for the lower.
    """
    ease = math.copysign(min(EASE, abs(end - start) / 2), end - start)
    first, own, last = (round(y + side * width / 2, 1) for width in widths)
    out = ""
    if first != own:
        mid = round((first + own) / 2, 1)
        out += f"C{start + ease / 4:.1f} {mid} {start + ease / 2:.1f} {own} {start + ease:.1f} {own}"
    if last == own:
        return out + f"H{end:.1f}"
    mid = round((last + own) / 2, 1)
    out += f"H{end - ease:.1f}"
    return out + f"C{end - ease / 2:.1f} {own} {end - ease / 4:.1f} {mid} {end:.1f} {last}"


def outlines(stretches: Sequence[Stretch], y: float, ended: bool) -> tuple[tuple[str, int], ...]:
    """Draw a ribbon: one path for each shade.

    Args:
        stretches: From left to right, each beginning where the one before ends.
        y: Its middle. [px]
        ended: Whether nothing of the line lives any more: then it runs out thin.

    >>> outlines([Stretch(0, 100, 10, 0)], 50, False)
    (('M0.0 48.2C3.2 46.6 6.5 45.0 13.0 45.0H100.0V55.0H13.0C6.5 55.0 3.2 53.4 0.0 51.8z', 0),)
    """
    paths: dict[int, list[str]] = {}
    for number, one in enumerate(stretches):
        before = stretches[number - 1] if number else None
        after = stretches[number + 1] if number + 1 < len(stretches) else None
        left, right = _joint(before, one, True), _joint(after, one, ended)
        a, b = one.start, one.end
        top = _edge(a, b, (left, one.width, right), y, -1)
        low = _edge(b, a, (right, one.width, left), y, 1)
        paths.setdefault(one.shade, []).append(f"M{a:.1f} {y - left / 2:.1f}{top}V{y + right / 2:.1f}{low}z")
    return tuple(("".join(parts), shade) for shade, parts in sorted(paths.items()))


def fibres(stretches: Sequence[Stretch], y: float, whole: float) -> tuple[str, ...]:
    """Draw the fibres that wind along a ribbon, one path each; none where they would not be seen.

    Args:
        stretches: As `outlines` takes them.
        y: Its middle. [px]
        whole: The braid's width. [px]
    """
    if whole > MOST_FIBRED or not stretches or max(one.width for one in stretches) < LEAST_FIBRED:
        return ()
    return tuple(_fibre(stretches, y, math.tau * number / FIBRES) for number in range(FIBRES))


def _fibre(stretches: Sequence[Stretch], y: float, phase: float) -> str:
    begin, end = stretches[0].start, stretches[-1].end
    count = max(2, round((end - begin) / SAMPLE))
    points, place, width = [], 0, stretches[0].width * TAPER
    for step in range(count + 1):
        x = begin + (end - begin) * step / count
        while place + 1 < len(stretches) and x > stretches[place].end:
            place += 1
        width += (stretches[place].width - width) * 0.55  # follows the ribbon as smoothly as its edge does
        points.append((x, y + REACH * width * math.sin(phase + math.tau * x / TURN)))
    out = [f"M{points[0][0]:.0f} {points[0][1]:.1f}"]
    for (ax, ay), (bx, by) in itertools.pairwise(points[1:]):
        out.append(f"Q{ax:.0f} {ay:.1f} {(ax + bx) / 2:.0f} {(ay + by) / 2:.1f}")
    out.append(f"L{points[-1][0]:.0f} {points[-1][1]:.1f}")
    return "".join(out)


def parting(at: float, source: float, target: float, spread: float) -> str:
    """Draw fibres that leave one line and gather in another.

    Args:
        at: Where they arrive. [px]
        source, target: The middle of both lines. [px]
        spread: How far apart they leave. [px]
    """
    bend = max(26.0, min(76.0, abs(target - source) * 0.75))
    out = []
    for number in range(FIBRES):
        off = spread * (number - (FIBRES - 1) / 2)
        x = at - bend + 3 * off
        leaves, gathers = f"{at - bend / 4 + off:.1f} {source + off:.1f}", f"{at - bend / 1.6 + off:.1f} {target:.1f}"
        out.append(f"M{x:.1f} {source + off:.1f}C{leaves} {gathers} {at:.1f} {target:.1f}")
    return "".join(out)
