"""What tasters say of bottles: a ranking from scores and comparisons, honest about how few there are."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

#: A full sheet: what is asked, and the words of its ends.
SHEET: Mapping[str, tuple[str, str, str]] = {
    "smell": ("Smell", "dull", "lovely"),
    "fizz": ("Fizz", "flat", "lively"),
    "sweet": ("Sweet", "dry", "very sweet"),
    "sour": ("Sour", "mild", "sharp"),
    "body": ("Body", "thin", "full"),
    "clarity": ("Clarity", "cloudy", "clear"),
    "likeness": ("Like its flavour", "hardly", "very"),
    "aftertaste": ("Aftertaste", "bad", "good"),
}
LIKED = ("not for me", "so-so", "all right", "good", "the best")  #: 1 to 5.
PRIOR_SD = 1.0  #: Of how a flavour is liked before anything is known, on the scale of log odds (assumed). [-]
SURE = 0.9  #: So likely must it be that one is liked better, to say so (assumed). [-]
STEPS = 50


@dataclass(frozen=True, slots=True)
class FlavourScore:
    """How one taster liked a flavour."""

    taster: str
    flavour: str
    liked: int  #: 1 to 5.
    side_by_side: int | None = None  #: Number of the comparison in which it was tasted.


@dataclass(frozen=True, slots=True)
class Ranked:
    """A flavour's place."""

    flavour: str
    better: float  #: Log odds of being liked better than one nobody knows. [-]
    sd: float  #: [-]
    tastings: int
    mean: float  #: Of what was said, 1 to 5.
    beats_next: float | None  #: How likely it is liked better than the next one; None: it is the last. [-]

    @property
    def sure(self) -> bool:
        """Whether it stands before the next one for good reason."""
        return self.beats_next is not None and self.beats_next >= SURE


def wins(said: Sequence[FlavourScore]) -> dict[tuple[str, str], float]:
    """Count how often a taster liked one flavour better than another; equal counts half to both.

    What stood side by side counts whole; the rest is put in pairs of one taster, and counts half: another day, another mood.
    """
    out: dict[tuple[str, str], float] = {}
    for taster in {one.taster for one in said}:
        mine = [one for one in said if one.taster == taster]
        for i, one in enumerate(mine):
            for other in mine[i + 1 :]:
                if one.flavour == other.flavour:
                    continue
                together = one.side_by_side is not None and one.side_by_side == other.side_by_side
                many = max(sum(x.flavour in (one.flavour, other.flavour) for x in mine) - 1, 1)
                weight = 1.0 if together else 0.5 / many
                won = 0.5 if one.liked == other.liked else float(one.liked > other.liked)
                for key, part in (((one.flavour, other.flavour), won), ((other.flavour, one.flavour), 1 - won)):
                    out[key] = out.get(key, 0.0) + weight * part
    return out


def ranking(said: Sequence[FlavourScore]) -> list[Ranked]:
    """Rank flavours, the best liked first.

    Args:
        said: Of one taster, or of all together.

    Source: Bradley & Terry's model of paired comparisons, with a normal prior; the most likely values and their spread.

    >>> [r.flavour for r in ranking([FlavourScore("A", "damson", 5), FlavourScore("A", "plain", 2), FlavourScore("A", "damson", 4)])]
    ['damson', 'plain']
    """
    names = sorted({one.flavour for one in said})
    if not names:
        return []
    won = wins(said)
    w = np.array([[won.get((a, b), 0.0) for b in names] for a in names])
    games = w + w.T
    better = np.zeros(len(names))
    for _ in range(STEPS):
        p = 1 / (1 + np.exp(better[None, :] - better[:, None]))
        gradient = (w - games * p).sum(axis=1) - better / PRIOR_SD**2
        curve = games * p * (1 - p)
        hessian = np.diag(curve.sum(axis=1) + 1 / PRIOR_SD**2) - curve
        step = np.linalg.solve(hessian, gradient)
        better += step
        if np.abs(step).max() < 1e-9:
            break
    spread = np.linalg.inv(hessian)
    order = sorted(range(len(names)), key=lambda i: (-better[i], names[i]))
    out = []
    for place, i in enumerate(order):
        mine = [one.liked for one in said if one.flavour == names[i]]
        beats = None
        if place + 1 < len(order):
            j = order[place + 1]
            sd = math.sqrt(max(1e-12, spread[i, i] + spread[j, j] - 2 * spread[i, j]))
            beats = 0.5 * (1 + math.erf((better[i] - better[j]) / sd / math.sqrt(2)))
        out.append(Ranked(names[i], float(better[i]), float(spread[i, i]) ** 0.5, len(mine), sum(mine) / len(mine), beats))
    return out


def guessed(right: int, tries: int, chance: float = 1 / 3) -> float:
    """Return how likely so many right, or more, come about by guessing: three glasses, two alike.

    >>> round(guessed(3, 3), 3), guessed(0, 4)
    (0.037, 1.0)
    """
    return min(1.0, sum(math.comb(tries, k) * chance**k * (1 - chance) ** (tries - k) for k in range(right, tries + 1)))
