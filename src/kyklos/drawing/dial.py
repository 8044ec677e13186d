"""The dial: a vessel as seen from above, in a ring of four weeks.

One turn is 28 days for every vessel: day 7 stands at three o'clock, 14 below, 21 at nine. The surface is drawn as it
was last looked at, in the colour of the liquor, and nothing is written over it.
"""

from __future__ import annotations

import math
import random
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

from ..core.base.saying import day_of
from .shapes import Label, Point, Span, closed, merged, mixed, on_circle, ring_piece

DAYS_A_TURN = 28.0
CENTRE = 120.0
RING_OUTER, RING_INNER = 112.0, 100.0
RIM, LIQUOR = 90.0, 84.0
HATCHES = 3
LANE_STEP = 6.0

FRESH = {
    "black": "#8a4420",
    "oolong": "#a5602c",
    "green": "#b99a45",
    "white": "#c9ad62",
    "pu-erh": "#5d2d1a",
    "decaf": "#8a4420",
}
SOURED = {
    "black": "#cf8a42",
    "oolong": "#d9a257",
    "green": "#dcc477",
    "white": "#e3d093",
    "pu-erh": "#a8653a",
    "decaf": "#cf8a42",
}
SPOTTED = {"odd", "coloured", "fuzzy"}  #: Surfaces with spots on the disc.
RIMS = {"glass": "glass", "borosilicate": "glass", "stoneware": "stoneware", "stainless": "steel", "wood": "wood"}


@dataclass(frozen=True, slots=True, kw_only=True)
class DialFacts:
    """What a dial shows."""

    day: float | None = None  #: Today, since the pitch; None for an empty vessel. [d]
    measured: tuple[float, ...] = ()  #: Days of readings. [d]
    tasted: tuple[float, ...] = ()  #: Days of tastings. [d]
    windows: tuple[Span, ...] = ()  #: Per taster: name, from, to. [d]
    surface: str = "bare"  #: As last looked at.
    tea: str = "black"
    sourness: float = 0.0  #: 0 sweet tea to 1 vinegar: lightens the liquor. [-]
    material: str = "glass"
    seed: int = 1


@dataclass(frozen=True, slots=True)
class Arc:
    """A ready window on the ring."""

    name: str
    path: str
    lane: int


@dataclass(frozen=True, slots=True)
class Spot:
    """A round or blot on the surface."""

    x: float
    y: float
    r: float


@dataclass(frozen=True, slots=True)
class Dial:
    """The shapes of a dial, in a box of 240 by 240."""

    rim: str
    liquor: str
    ring: str
    gone: str
    hand: tuple[Point, Point] | None
    day_ticks: str
    week_ticks: str
    numbers: tuple[Label, ...]
    measured: tuple[Point, ...]
    tasted: tuple[Point, ...]
    arcs: tuple[Arc, ...]
    film: tuple[str, ...]
    growth: str
    inner_growth: str
    bubbles: tuple[Spot, ...]
    spots: tuple[str, ...]
    says: str


def turn(day: float) -> float:
    """Return how far round a day stands; days past the fourth week stay at the end.

    >>> turn(7.0)
    0.25
    """
    return min(max(day, 0.0), DAYS_A_TURN) / DAYS_A_TURN


def uneven(source: random.Random, x: float, y: float, radius: float, roughness: float, points: int = 72) -> list[Point]:
    """Draw an uneven round as really grown: a few waves of random phase."""
    waves = [(k, roughness * source.uniform(0.4, 1.0) / k, source.uniform(0, 2 * math.pi)) for k in (2, 3, 4, 5, 7, 11)]
    out = []
    for i in range(points):
        angle = 2 * math.pi * i / points
        r = radius * (1 + sum(a * math.sin(k * angle + phase) for k, a, phase in waves))
        out.append((x + r * math.sin(angle), y - r * math.cos(angle)))
    return out


def _surface(facts: DialFacts) -> tuple[tuple[str, ...], str, str, tuple[Spot, ...], tuple[str, ...]]:
    """Draw film, disc and its thicker middle, bubbles and spots."""
    source = random.Random(facts.seed)
    film: list[str] = []
    growth = inner = ""
    spots: list[str] = []
    if facts.surface in {"skin", "film-yeast"}:
        for _ in range(4):
            x, y = on_circle(CENTRE, source.uniform(12, 42), source.random())
            film.append(closed(uneven(source, x, y, source.uniform(20, 34), 0.35)))
    if facts.surface in {"disc", "jelly", *SPOTTED}:
        growth = closed(
            uneven(source, CENTRE + source.uniform(-3, 3), CENTRE + source.uniform(-3, 3), LIQUOR * 0.86, 0.1)
        )
        inner = closed(
            uneven(source, CENTRE + source.uniform(-10, 10), CENTRE + source.uniform(-8, 8), LIQUOR * 0.5, 0.17)
        )
    if facts.surface in SPOTTED:
        for _ in range(7 if facts.surface == "fuzzy" else 3):
            x, y = on_circle(CENTRE, source.uniform(15, 58), source.random())
            spots.append(closed(uneven(source, x, y, source.uniform(6, 11), 0.5, 40)))
    bubbles = []
    if facts.day is not None:
        for _ in range(9):
            x, y = on_circle(CENTRE, LIQUOR * math.sqrt(source.uniform(0.02, 0.82)), source.random())
            bubbles.append(Spot(round(x, 1), round(y, 1), round(source.uniform(1.2, 3.2), 1)))
    return tuple(film), growth, inner, tuple(bubbles), tuple(spots)


def _ticks(days: Iterable[int], length: float) -> str:
    """Draw marks outside the ring, as one path."""
    ends = ((on_circle(CENTRE, RING_OUTER, day / 28), on_circle(CENTRE, RING_OUTER + length, day / 28)) for day in days)
    return "".join(f"M{a[0]:.1f} {a[1]:.1f}L{b[0]:.1f} {b[1]:.1f}" for a, b in ends)


DAY_TICKS = _ticks((day for day in range(28) if day % 7), 2.5)
WEEK_TICKS = _ticks(range(0, 28, 7), 5.0)


def _arcs(windows: Sequence[Span]) -> tuple[Arc, ...]:
    out = []
    lanes = merged(windows)
    step = LANE_STEP if len(lanes) <= 2 else (RING_OUTER - RING_INNER) / len(lanes)
    for lane, (name, start, end) in enumerate(lanes):
        outer = RING_OUTER - lane * step if len(lanes) > 1 else RING_OUTER
        inner = outer - step if len(lanes) > 1 else RING_INNER
        out.append(
            Arc(name, ring_piece(CENTRE, inner, outer, turn(start), max(turn(end), turn(start) + 0.01)), lane % HATCHES)
        )
    return tuple(out)


def _words(facts: DialFacts) -> str:
    if facts.day is None:
        return "An empty vessel."
    seen = {
        "bare": "nothing on it yet",
        "skin": "a thin film",
        "disc": "a disc",
        "jelly": "jelly and bubbles on it",
        "film-yeast": "a wrinkled white film",
        "coloured": "coloured spots",
        "odd": "something odd on it",
        "fuzzy": "fuzzy spots",
        "eels": "threads at the rim",
        "insects": "insects",
    }.get(facts.surface, facts.surface)
    ready = "; ".join(f"right for {name} from day {start:.0f} to {end:.0f}" for name, start, end in facts.windows)
    return f"Day {day_of(facts.day)} of a ring of 28, {seen}" + (f"; {ready}." if ready else ".")


@lru_cache(maxsize=256)
@lru_cache(maxsize=256)
def dial(facts: DialFacts) -> Dial:
    """Draw a dial.

    Args:
        facts: What it shows.

    Returns: Shapes in a box of 240 by 240.
    """
    film, growth, inner, bubbles, spots = _surface(facts)
    middle = (RING_INNER + RING_OUTER) / 2
    now = facts.day
    liquor = mixed(FRESH.get(facts.tea, FRESH["black"]), SOURED.get(facts.tea, SOURED["black"]), facts.sourness)
    return Dial(
        rim=RIMS.get(facts.material, "glass"),
        liquor=liquor,
        ring=ring_piece(CENTRE, RING_INNER, RING_OUTER, 0, 1),
        gone=ring_piece(CENTRE, RING_INNER, RING_OUTER, 0, turn(now)) if now is not None and now > 0.05 else "",
        hand=(on_circle(CENTRE, RIM - 1, turn(now)), on_circle(CENTRE, RING_OUTER + 6, turn(now)))
        if now is not None
        else None,
        day_ticks=DAY_TICKS,
        week_ticks=WEEK_TICKS,
        numbers=(
            Label(CENTRE, 251, "14"),
            Label(245, CENTRE + 5.5, "7"),
            Label(-7, CENTRE + 5.5, "21"),
            Label(CENTRE, -3, "0"),
        ),
        measured=tuple(on_circle(CENTRE, middle, turn(day)) for day in facts.measured),
        tasted=tuple(on_circle(CENTRE, middle, turn(day)) for day in facts.tasted),
        arcs=_arcs(facts.windows),
        film=film,
        growth=growth,
        inner_growth=inner,
        bubbles=bubbles,
        spots=spots,
        says=_words(facts),
    )
