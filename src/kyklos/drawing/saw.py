"""The saw of a tapped vessel: acidity over days, falling at each draw and topping up, rising between; past solid, coming dotted."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..core.base import marked
from .shapes import Label, closed, path_through

WIDTH, HEIGHT = 800.0, 360.0
LEFT, RIGHT, TOP, BOTTOM = 52.0, 786.0, 40.0, 306.0
LABEL_ROOM = 44.0  #: Two amounts nearer than this are not both written. [px]
LEAST_LABELLED = 0.08  #: Of the largest draw: smaller ones are ticks only. [-]
NAME_ROOM = 18.0  #: Two names nearer than this stand beside one another. [px]

Array = NDArray[np.float64]
Place = Callable[[float], float]  #: Where a value stands. [px]


@dataclass(frozen=True, slots=True)
class Drawn:
    """A draw, past or to come."""

    day: float  #: [d]
    litres: float  #: [L]
    words: str  #: How much, as it is written.


@dataclass(frozen=True, slots=True)
class Liked:
    """What one taster likes."""

    name: str
    low: float  #: [g/L]
    high: float  #: [g/L]
    sour: float  #: Too sour from here on. [g/L]


@dataclass(frozen=True, slots=True, kw_only=True)
class SawFacts:
    """What the saw shows."""

    day: Array  #: Shape (t,); a moment before each draw and topping up, and after it. [d]
    low: Array  #: 10 %. [g/L]
    likely: Array  #: [g/L]
    high: Array  #: 90 %. [g/L]
    today: float  #: [d]
    first: float  #: From when it is shown. [d]
    last: float  #: Until when. [d]
    draws: Sequence[Drawn] = ()
    read: Sequence[float] = ()  #: Days of readings. [d]
    tasted: Sequence[tuple[float, str]] = ()  #: Day and what was said. [d]
    liked: Sequence[Liked] = ()
    gate: float | None = None  #: Acidity at which it stands at pH 4.2. [g/L]
    dates: Sequence[tuple[float, str]] = ()  #: Written below. [d]


@dataclass(frozen=True, slots=True)
class Span:
    """A taster's span, or what all call too sour."""

    y: float
    height: float
    name: Label
    lane: int


@dataclass(frozen=True, slots=True)
class Saw:
    """Shapes in a box of 800 by 360."""

    band: str
    past: str
    future: str
    today: float
    spans: tuple[Span, ...]
    sour: Span | None
    gate: tuple[float, Label] | None
    amounts: tuple[Label, ...]
    ticks: str  #: A short stroke for each draw, one path.
    read: tuple[tuple[float, float], ...]
    tasted: tuple[tuple[float, float, str], ...]
    dates: tuple[Label, ...]
    says: str


def saw(facts: SawFacts) -> Saw:
    """Draw it.

    Args:
        facts: What it shows; arrays of one length.
    """
    shown = (facts.day >= facts.first - 1e-6) & (facts.day <= facts.last + 1e-6)
    ceiling = max([float(facts.high[shown].max()) if shown.any() else 1.0, *(liked.sour * 1.15 for liked in facts.liked)])

    def x(day: float) -> float:
        share = (min(max(day, facts.first), facts.last) - facts.first) / max(facts.last - facts.first, 1e-6)
        return LEFT + (RIGHT - LEFT) * share

    def y(acidity: float) -> float:
        return BOTTOM - (BOTTOM - TOP) * min(max(acidity, 0.0), ceiling) / ceiling

    day = facts.day[shown]
    now = float(np.interp(facts.today, facts.day, facts.likely))
    line = [(x(d), y(v)) for d, v in zip(day, facts.likely[shown], strict=True)]
    split = int((day <= facts.today).sum())
    here = (x(facts.today), y(now))
    edge = [(x(d), y(v)) for d, v in zip(day, facts.high[shown], strict=True)]
    back = [(x(d), y(v)) for d, v in zip(day[::-1], facts.low[shown][::-1], strict=True)]

    def at(moment: float) -> float:
        return y(float(np.interp(moment, facts.day, facts.likely)))

    return Saw(
        band=closed(edge + back) if edge else "",
        past=path_through([*line[:split], here]),
        future=path_through([here, *line[split:]]),
        today=x(facts.today),
        spans=_spans(facts.liked, y),
        sour=_too_sour(facts.liked, y, ceiling),
        gate=None if facts.gate is None or facts.gate <= 0 else (y(facts.gate), Label(RIGHT - 6, y(facts.gate) + 14, "below the line: above pH 4.2", "end")),
        amounts=_amounts(facts, x, at),
        ticks="".join(f"M{x(d.day):.1f} {BOTTOM + 3:.0f}v6" for d in facts.draws if facts.first <= d.day <= facts.last),
        read=tuple((x(moment), at(moment)) for moment in facts.read if facts.first <= moment <= facts.today),
        tasted=tuple((x(moment), at(moment), words) for moment, words in facts.tasted if facts.first <= moment <= facts.today),
        dates=tuple(Label(x(moment), BOTTOM + 30, text) for moment, text in facts.dates),
        says=_words(facts, now),
    )


def _spans(liked: Sequence[Liked], y: Place) -> tuple[Span, ...]:
    """Place what each taster likes; names that would meet move apart along the plot."""
    out: list[Span] = []
    for lane, one in enumerate(liked):
        top, bottom = y(one.high), y(one.low)
        beside = sum(abs(span.name.y - (top + 15)) < NAME_ROOM for span in out)
        out.append(Span(top, bottom - top, Label(LEFT + 6 + 170 * beside, top + 15, f"right for {one.name}", "start"), lane % 3))
    return tuple(out)


def _too_sour(liked: Sequence[Liked], y: Place, ceiling: float) -> Span | None:
    """Place what all call too sour."""
    if not liked:
        return None
    sourest = max(liked, key=lambda one: one.sour)
    top, bottom = y(ceiling), y(sourest.sour)
    name = f"too sour for {sourest.name}" if len(liked) == 1 else "too sour for everybody"
    return Span(top, bottom - top, Label(RIGHT - 6, top + 15, name, "end"), 0)


def _amounts(facts: SawFacts, x: Place, at: Place) -> tuple[Label, ...]:
    """Write how much was drawn, below each fall, as far as they do not meet."""
    most = max((d.litres for d in facts.draws), default=0.0)
    out: list[Label] = []
    for one in facts.draws:
        if one.litres < LEAST_LABELLED * most or not facts.first <= one.day <= facts.last:
            continue
        place = x(one.day)
        if out and place - out[-1].x < LABEL_ROOM:
            continue
        low = min(at(one.day + 0.3), BOTTOM - 22)
        out.append(Label(place, low + 18, one.words))
    return tuple(out)


def _words(facts: SawFacts, now: float) -> str:
    past = [d for d in facts.draws if facts.first <= d.day <= facts.today]
    ahead = [d for d in facts.draws if facts.today < d.day <= facts.last]
    return f"Acidity over days. Now about {marked(now, 'acidity')}; {len(past)} draws in this time, {len(ahead)} to come."
