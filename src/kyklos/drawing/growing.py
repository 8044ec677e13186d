"""What belongs on a brew: bubbles, films, discs, jelly, yeast. Drawn wet, soft and shining, as it looks from above."""

from __future__ import annotations

import math

from .shapes import Point, on_circle
from .surface_canvas import CENTRE, RADIUS, Canvas, patch, round_path

DISC_DAYS = 12.0  #: So old a disc is thick all over (assumed). [d]


def bubbles(c: Canvas, number: int, low: float, high: float, reach: float = 0.9) -> None:
    """Put bubbles on the liquid: a clear dome, a glint."""
    for _ in range(number):
        at, radius = c.spot(reach), c.chance.uniform(low, high)
        c.add("sp-bubble", round_path(at, radius))
        c.add("sp-glint", round_path((at[0] - radius * 0.35, at[1] - radius * 0.35), radius * 0.26))


def craters(c: Canvas, number: int, reach: float = 0.7) -> None:
    """Put holes that bubbles left in a disc: round, smooth, wet at the bottom, light at the lip."""
    for _ in range(number):
        at, radius = c.spot(reach), c.chance.uniform(3.5, 8.5)
        c.add("sp-crater-lip", round_path(at, radius * 1.22))
        c.add("sp-crater", round_path(at, radius))
        c.add("sp-crater-light", f"M{at[0] - radius * 0.5:.1f} {at[1] + radius * 0.45:.1f}a{radius * 0.7:.1f} {radius * 0.7:.1f} 0 0 0 {radius:.1f} 0")
        c.mark("crater", at)


def shine(c: Canvas, at: Point, radius: float) -> None:
    """Let light fall on something wet: a bent streak at its upper left, a spark beside it."""
    x, y = at[0] - radius * 0.52, at[1] - radius * 0.4
    c.add("sp-shine", f"M{x:.1f} {y:.1f}q{radius * 0.12:.1f} {-radius * 0.34:.1f} {radius * 0.5:.1f} {-radius * 0.42:.1f}")
    c.mark("shine", (x + radius * 0.2, y - radius * 0.25))


def whole_disc(c: Canvas, size: float = 0.93, at: Point = (CENTRE, CENTRE)) -> None:
    """Put a disc: cream, smooth, wet, thicker in places, browner where yeast lies under it."""
    grown = min(1.0, 0.45 + c.age / (2 * DISC_DAYS))
    c.add("sp-disc-under", patch(c, (at[0] + 2, at[1] + 3), RADIUS * size, 0.03))
    c.blob("sp-disc", at, RADIUS * size, 0.03)
    for _ in range(4):
        c.blob("sp-disc-thick", c.spot(0.4), RADIUS * size * c.chance.uniform(0.2, 0.42) * grown, 0.16)
    for _ in range(5):
        c.blob("sp-tan", c.spot(0.68), c.chance.uniform(5, 13), 0.3)
    c.add("sp-disc-rim", patch(c, at, RADIUS * size * 0.95, 0.03))
    shine(c, at, RADIUS * size * 0.86)
    c.mark("smooth", (at[0] + 18, at[1] + 8))


def bare(c: Canvas) -> None:
    """Draw liquid and a few bubbles."""
    bubbles(c, 6 + int(9 * c.coverage), 1.4, 4)


def skin(c: Canvas) -> None:
    """Draw a first film: see-through, wet, hardly there, with edges that show only where light catches them."""
    for _ in range(int(2 + 4 * c.coverage)):
        at, radius = c.spot(0.5), RADIUS * c.chance.uniform(0.3, 0.5)
        c.add("sp-skin", patch(c, at, radius, 0.18))
        shine(c, at, radius * 0.8)
        c.mark("clear", at)
    bubbles(c, 9, 1.4, 4)


def disc(c: Canvas) -> None:
    """Draw a disc as it should be."""
    whole_disc(c)
    bubbles(c, 4, 2, 5, 0.7)


def jelly(c: Canvas) -> None:
    """Draw wet lumps without a colour of their own, each with its light, and gas caught below like eyes."""
    whole_disc(c, 0.84)
    for _ in range(int(4 + 8 * c.coverage)):
        at, radius = c.spot(0.72), c.chance.uniform(10, 25)
        lump = patch(c, at, radius, 0.16)
        c.add("sp-jelly", lump)
        c.add("sp-jelly-edge", f"M{at[0] + radius * 0.75:.1f} {at[1] + radius * 0.2:.1f}q{-radius * 0.1:.1f} {radius * 0.6:.1f} {-radius * 0.9:.1f} {radius * 0.66:.1f}")
        shine(c, at, radius * 0.9)
        c.mark("jelly", (at[0] + radius * 0.3, at[1] + radius * 0.3))
        c.mark("wet", (at[0] - radius * 0.36, at[1] - radius * 0.58))
    for _ in range(int(4 + 6 * c.coverage)):
        at, radius = c.spot(0.74), c.chance.uniform(4, 8)
        c.add("sp-eye", round_path(at, radius))
        c.add("sp-eye-light", round_path((at[0] - radius * 0.32, at[1] - radius * 0.32), radius * 0.28))


def holed(c: Canvas) -> None:
    """Draw a disc with craters where bubbles broke, and bubbles still below it."""
    whole_disc(c)
    craters(c, int(6 + 12 * c.coverage))
    for _ in range(5):
        c.add("sp-gas", round_path(c.spot(0.6), c.chance.uniform(5, 11)))


def tilted(c: Canvas) -> None:
    """Draw a disc that lies askew: its low side under the liquid, a new film beginning beside it."""
    c.add("sp-skin", patch(c, (CENTRE + 40, CENTRE - 30), RADIUS * 0.5, 0.15))
    lean = c.chance.uniform(0, 360)
    at = (CENTRE - 16, CENTRE + 14)
    whole_disc(c, 0.7, at)
    low = on_circle(0, RADIUS * 0.42, lean / 360)
    c.add("sp-sunk", patch(c, (at[0] + low[0], at[1] + low[1]), RADIUS * 0.5, 0.08))
    bubbles(c, 8, 1.5, 4)


def froth(c: Canvas) -> None:
    """Draw a head of foam: bubbles of all sizes, packed."""
    c.blob("sp-foam-bed", (CENTRE, CENTRE), RADIUS * (0.75 + 0.22 * c.coverage), 0.05)
    for size, number in ((9.0, 34), (5.5, 66), (3.4, int(70 + 80 * c.coverage))):
        for _ in range(number):
            at, radius = c.spot(0.72 + 0.22 * c.coverage), c.chance.uniform(0.6, 1.2) * size
            c.add("sp-foam", round_path(at, radius))
    for _ in range(40):
        c.add("sp-glint", round_path(c.spot(0.85), c.chance.uniform(0.6, 1.3)))


def strings(c: Canvas) -> None:
    """Draw brown yeast that hangs under a disc: seen dimly through it, and swaying out at its edge."""
    under = []
    for _ in range(int(14 + 22 * c.coverage)):
        turn = c.chance.random()
        x, y = on_circle(CENTRE, RADIUS * c.chance.uniform(0.45, 0.74), turn)
        out = math.atan2(y - CENTRE, x - CENTRE) + c.chance.uniform(-0.5, 0.5)
        dx, dy = 10 * math.cos(out), 10 * math.sin(out)
        under.append(
            f"M{x:.1f} {y:.1f}q{dx - dy * 0.7:.1f} {dy + dx * 0.7:.1f} {dx * 1.4:.1f} {dy * 1.4:.1f}t{dx * 1.3:.1f} {dy * 1.3:.1f}"
        )
        c.mark("string", (x + dx * 1.8, y + dy * 1.8))
    c.add("sp-string-soft", "".join(under))
    c.add("sp-string", "".join(under))
    c.add("sp-disc-thin", patch(c, (CENTRE, CENTRE), RADIUS * 0.72, 0.05))
    for _ in range(4):
        c.blob("sp-tan", c.spot(0.5), c.chance.uniform(6, 15), 0.3)
    shine(c, (CENTRE, CENTRE), RADIUS * 0.62)


def clouds(c: Canvas) -> None:
    """Draw brown clouds of yeast in the liquid, soft at every edge, under a clear film."""
    for _ in range(int(4 + 6 * c.coverage)):
        x, y = c.spot(0.72)
        for _ in range(12):
            puff = (x + c.chance.gauss(0, 11), y + c.chance.gauss(0, 9))
            c.blob("sp-cloud", puff, c.chance.uniform(5, 17), 0.2)
        c.mark("cloud", (x, y))
    c.add("sp-skin", patch(c, (CENTRE, CENTRE), RADIUS * 0.8, 0.08))
    shine(c, (CENTRE, CENTRE), RADIUS * 0.7)
    bubbles(c, 8, 1.5, 3.5)
