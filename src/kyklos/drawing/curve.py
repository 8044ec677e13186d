"""The curve of a brew: pH over days with readings, band, windows and the gate at day 7."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from .shapes import Label, Span, closed, merged, path_through

LEFT, RIGHT, TOP, BOTTOM = 48.0, 790.0, 58.0, 318.0
GATE_WORDS = 150.0  #: Room that the words beside the mark of a low pH take.
NAME_WIDTH = 150.0  #: Room for the name of a window. [px]
ROWS_ABOVE, HATCHES = 3, 3


@dataclass(frozen=True, slots=True, kw_only=True)
class CurveFacts:
    """What the curve shows."""

    day: NDArray[np.float64]  #: Shape (t,). [d]
    low: NDArray[np.float64]  #: 10 %. [pH]
    likely: NDArray[np.float64]  #: [pH]
    high: NDArray[np.float64]  #: 90 %. [pH]
    today: float  #: [d]
    readings: Sequence[tuple[float, float, float]] = ()  #: Day, pH, spread. [d, pH, pH]
    tastings: Sequence[tuple[float, str, int]] = ()  #: Day, name, score. [d, -, step]
    windows: Sequence[Span] = ()  #: Name, from, to. [d]
    gate_day: float = 7.0  #: [d]
    gate_ph: float = 4.2  #: [pH]
    other: NDArray[np.float64] | None = None  #: Likely pH in another future, shape (t,). [pH]
    other_windows: Sequence[Span] = ()  #: Windows in it. [d]


@dataclass(frozen=True, slots=True)
class MeasuredDot:
    """A reading with its spread."""

    x: float
    y: float
    top: float
    bottom: float


@dataclass(frozen=True, slots=True)
class DrawnWindow:
    """A taster's ready window."""

    name: str
    x: float
    width: float
    label: Label
    lane: int


@dataclass(frozen=True, slots=True)
class Curve:
    """Shapes in a box of 800 by 380."""

    band: str
    past: str
    future: str
    today: float
    measured: tuple[MeasuredDot, ...]
    tasted: tuple[Label, ...]
    windows: tuple[DrawnWindow, ...]
    gate_x: float
    gate_top: float
    gate_y: float
    gate_label: Label
    axis: Label  #: What the numbers below are; never under the word for today.
    days: tuple[Label, ...]
    levels: tuple[Label, ...]
    last_day: float
    says: str
    other: str = ""
    other_spans: tuple[tuple[float, float], ...] = ()  #: x, width.


@dataclass(frozen=True, slots=True)
class _Scale:
    last_day: float
    low: float
    high: float

    def x(self, day: float) -> float:
        return LEFT + (RIGHT - LEFT) * min(day, self.last_day) / self.last_day

    def y(self, ph: float) -> float:
        return TOP + (BOTTOM - TOP) * (self.high - min(max(ph, self.low), self.high)) / (self.high - self.low)


def _scale(facts: CurveFacts) -> _Scale:
    end = max([facts.today + 2, 10.0, *(w[2] + 2 for w in (*facts.windows, *facts.other_windows))])
    last = float(min(math.ceil(end / 2) * 2, facts.day[-1]))
    shown = facts.day <= last
    values = [
        float(facts.low[shown].min()),
        float(facts.high[shown].max()),
        facts.gate_ph + 0.1,
        *(r[1] for r in facts.readings),
    ]
    return _Scale(last, math.floor(min(values) * 5 - 0.2) / 5, math.ceil(max(values) * 5 + 0.2) / 5)


def _windows(facts: CurveFacts, scale: _Scale) -> tuple[DrawnWindow, ...]:
    """Place every taster's window; names that would touch stand in rows of their own, the first nearest to the plot."""
    out: list[DrawnWindow] = []
    taken: list[list[float]] = []  # middles of the names in each row
    for lane, (name, start, end) in enumerate(facts.windows):
        x, right = scale.x(start), scale.x(end)
        width = max(right - x, 4.0)
        middle = min(max(x + width / 2, LEFT + 60), RIGHT - 60)
        row = next((n for n, row in enumerate(taken) if all(abs(middle - m) >= NAME_WIDTH for m in row)), len(taken))
        if row == len(taken):
            taken.append([])
        taken[row].append(middle)
        out.append(DrawnWindow(name, x, width, Label(middle, _name_y(row), name), lane % HATCHES))
    return tuple(out)


def _name_y(row: int) -> float:
    """Three rows of names fit above the plot; more stand inside it."""
    return TOP - 10 - 18 * row if row < ROWS_ABOVE else TOP + 16 * (row - ROWS_ABOVE + 1)


def curve(facts: CurveFacts) -> Curve:
    """Draw a brew's curve.

    Args:
        facts: What it shows; arrays of one length.
    """
    facts = replace(facts, windows=merged(facts.windows))
    scale = _scale(facts)
    grid = np.union1d(facts.day[facts.day <= scale.last_day], [min(facts.today, scale.last_day)])
    low, likely, high = (np.interp(grid, facts.day, values) for values in (facts.low, facts.likely, facts.high))
    line = [(scale.x(d), scale.y(v)) for d, v in zip(grid, likely, strict=True)]
    edge = [(scale.x(d), scale.y(v)) for d, v in zip(grid, high, strict=True)]
    back = [(scale.x(d), scale.y(v)) for d, v in zip(grid[::-1], low[::-1], strict=True)]
    split = int((grid <= facts.today).sum())
    step = 2 if scale.last_day <= 24 else 4
    return Curve(
        band=closed(edge + back),
        past=path_through(line[:split]),
        future=path_through(line[max(split - 1, 0) :]),
        today=scale.x(facts.today),
        measured=tuple(
            MeasuredDot(scale.x(d), scale.y(v), scale.y(v + sd), scale.y(v - sd)) for d, v, sd in facts.readings
        ),
        tasted=tuple(
            Label(scale.x(d), BOTTOM - 12, f"{name}: {score:+d}" if score else f"{name}: right")
            for d, name, score in facts.tastings
        ),
        windows=_windows(facts, scale),
        gate_x=scale.x(facts.gate_day),
        gate_top=TOP,
        gate_y=scale.y(facts.gate_ph),
        gate_label=_gate_label(facts, scale.x(facts.gate_day)),
        axis=Label(LEFT, BOTTOM + 50, "days since the start", "start") if scale.x(facts.today) > (LEFT + RIGHT) / 2
        else Label(RIGHT, BOTTOM + 50, "days since the start", "end"),
        days=tuple(Label(scale.x(d), BOTTOM + 24, str(d)) for d in range(0, int(scale.last_day) + 1, step)),
        levels=tuple(
            Label(LEFT - 10, scale.y(v / 10) + 5, f"{v / 10:.1f}", "end")
            for v in range(round(scale.low * 10), round(scale.high * 10) + 1, 4)
        ),
        last_day=scale.last_day,
        says=_words(facts),
        other=_other(facts, scale, grid),
        other_spans=tuple((scale.x(a), max(scale.x(b) - scale.x(a), 4.0)) for _, a, b in facts.other_windows),
    )


def _gate_label(facts: CurveFacts, x: float) -> Label:
    """Write what is wanted by when beside its mark: to the left of it where there is room."""
    text = f"pH {facts.gate_ph:g} or lower by day {facts.gate_day:g}"
    return Label(x - 12, TOP + 13, text, "end") if x > LEFT + GATE_WORDS else Label(x + 12, TOP + 13, text, "start")


def _other(facts: CurveFacts, scale: _Scale, grid: NDArray[np.float64]) -> str:
    """Draw the other future from today on."""
    if facts.other is None:
        return ""
    ahead = grid[grid >= min(facts.today, scale.last_day)]
    likely = np.interp(ahead, facts.day, facts.other)
    return path_through([(scale.x(d), scale.y(v)) for d, v in zip(ahead, likely, strict=True)])


def _words(facts: CurveFacts) -> str:
    now = float(np.interp(facts.today, facts.day, facts.likely))
    ready = "; ".join(f"right for {name} from day {start:.1f} to {end:.1f}" for name, start, end in facts.windows)
    return f"pH over days since the pitch. Day {facts.today:.1f}, pH about {now:.2f}, {len(facts.readings)} reading{'' if len(facts.readings) == 1 else 's'}; {ready}."
