"""Experiments: what differs beside the one thing, glasses numbered by lot, and what came of it, with its doubt."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from .comparing import Difference, Higher, Triangle, compare, triangle

LABELS = (101, 999)  #: Glasses bear three digits, which say nothing.
TENTHS_SPAN = 2.5631  #: A normal's 10 to 90 % span, in standard deviations. [-]
BAND_Z = 1.645  #: Of a 90 % band. [-]
PLACES = 3  #: Glasses of a triangle.
LESSON_LETTERS = 200
LEAST_FOR_SCORES = 2  #: Pairs of scores that can be compared.
HALF_DAY = 0.5  #: Days are said so finely. [d]


def labels_by_lot(seed: int | None = None) -> list[int]:
    """Return two numbers for the glasses, by lot."""
    return random.Random(seed).sample(range(LABELS[0], LABELS[1] + 1), 2)


def odd_place(experiment: int, taster: int, time: int) -> tuple[int, int]:
    """Return where the odd glass stands in a taster's next triangle, and which arm it is: by lot, and the same when asked again.

    Args:
        experiment, taster: Their numbers.
        time: How many triangles the taster has tried.

    Returns: Place from 0 to 2, arm 0 or 1.
    """
    lot = random.Random(f"{experiment}-{taster}-{time}")
    return lot.randrange(PLACES), lot.randrange(2)


@dataclass(frozen=True, slots=True)
class Differs:
    """Something in which two arms differ."""

    name: str
    first: str
    second: str


def differences(first: Mapping[str, str], second: Mapping[str, str]) -> tuple[list[Differs], list[str]]:
    """Tell in what two arms differ, and in what they do not.

    Args:
        first, second: What is known of each, by name, in words.

    >>> differences({"Tea": "black", "Place": "Dresser"}, {"Tea": "green", "Place": "Dresser"})
    ([Differs(name='Tea', first='black', second='green')], ['Place'])
    """
    names = [name for name in first if name in second]
    apart = [Differs(name, first[name], second[name]) for name in names if first[name] != second[name]]
    return apart, [name for name in names if first[name] == second[name]]


@dataclass(frozen=True, slots=True)
class DaysApart:
    """How much sooner the second was right than the first. [d]"""

    sooner: float
    low: float  #: 90 % band.
    high: float

    @property
    def told(self) -> bool:
        """Whether it is beyond doubt."""
        return self.low > 0 or self.high < 0


def days_apart(first: tuple[float, float, float], second: tuple[float, float, float]) -> DaysApart:
    """Compare two ready days, each with its 10, 50 and 90 % day.

    >>> round(days_apart((8.0, 9.0, 10.0), (7.0, 8.0, 9.0)).sooner, 1)
    1.0
    """
    spread = math.hypot(*((days[2] - days[0]) / TENTHS_SPAN for days in (first, second)))
    sooner = first[1] - second[1]
    return DaysApart(sooner, sooner - BAND_Z * spread, sooner + BAND_Z * spread)


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What came of an experiment, as far as is known."""

    liked: Difference | None = None  #: How much better the second was liked; None: too few scores.
    pairs: int = 0
    apart: Triangle | None = None  #: None: no triangle was tried.
    right: int = 0
    tried: int = 0
    days: DaysApart | None = None  #: None: not both have a ready day.


def outcome(sheets: Sequence[tuple[int, int, int]], triangles: Sequence[tuple[int, int, int]], days: DaysApart | None = None) -> Outcome:
    """Put together what was tasted.

    Args:
        sheets: Taster, arm, liked from 1 to 5; the last word of each counts.
        triangles: Taster, place of the odd glass, place that was said.
        days: How far their ready days lie apart.
    """
    said = {(taster, arm): liked for taster, arm, liked in sheets}
    both = sorted({taster for taster, _ in said if (taster, 0) in said and (taster, 1) in said})
    liked = None
    if len(both) >= LEAST_FOR_SCORES:
        liked = compare([float(said[taster, 1]) for taster in both], [float(said[taster, 0]) for taster in both], paired=True)
    right = sum(odd == named for _, odd, named in triangles)
    apart = triangle(right, len(triangles)) if triangles else None
    return Outcome(liked=liked, pairs=len(both), apart=apart, right=right, tried=len(triangles), days=days)


def days_words(days: DaysApart, name: str, *, over: bool = True) -> str:
    """Tell how much sooner or later the second was right, or is likely to be, with its doubt.

    >>> days_words(DaysApart(1.1, 0.2, 1.9), "Green")
    'Green was right a day sooner (0.2 to 1.9 days).'
    """
    size = abs(days.sooner)
    word = "no sooner and no later" if size <= HALF_DAY else f"{'a day' if round(size) == 1 else f'{size:.0f} days'} {'sooner' if days.sooner > 0 else 'later'}"
    low, high = (days.low, days.high) if days.sooner >= 0 else (-days.high, -days.low)
    band = f" ({low:.1f} to {high:.1f} days)".replace("-", "−")
    return f"{name} {'was' if over else 'is likely to be'} right {word}{band}{'.' if days.told else ': cannot tell yet.'}"


def liked_words(found: Difference, first: str, second: str) -> str:
    """Tell which was liked better, or how many more would tell."""
    if found.verdict is Higher.CANNOT_TELL:
        more = "more would not help: they score alike" if found.more is None else f"{found.more} more who taste both would tell"
        return f"Liked alike as far as can be told; {more}."
    better = second if found.verdict is Higher.A else first
    return f"{better} was liked better, by {abs(found.difference):.1f} of 5."


def triangle_words(found: Triangle, right: int, of: int) -> str:
    """Tell whether they are told apart."""
    return f"Told apart {right} of {of} times: {'they taste different' if found.told_apart else 'no better than guessing'}."


def lesson_words(changed: str, says: Sequence[str]) -> str:
    """Propose a lesson of what came of an experiment.

    >>> lesson_words("green tea", ["Green was right a day sooner (0.2 to 1.9 days)."])
    'Green tea: green was right a day sooner (0.2 to 1.9 days).'
    """
    if not says:
        return ""
    start = changed[:1].upper() + changed[1:]
    return f"{start}: {says[0][0].lower()}{says[0][1:]} {' '.join(says[1:])}".strip()
