"""Which bottle gets what: so many litres into the clean bottles, with the wished flavours.

All bottles are full but at most one. The least is left over; then the fewest are short; then the flavours are as even as wished, in what is bottled;
then the fewest bottles are used. A last one that would be less than six tenths full is drunk now instead. No flavour strays further than one bottle
from its wish to save a sip; where the bottles run out, all are filled and shared out as wished.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..base import require_between
from .share_out import LEAST_FULL, Task, best

LEAST_BREW = 0.05  #: No bottle holds less brew than this. [-]
LOSS_SHARE = 0.03  #: Stays in jug, funnel and sieve (assumed). [-]
LEAST_LEFT_L = 0.02  #: Less left over is nothing: it stays in the jug. [L]


@dataclass(frozen=True, slots=True)
class Stock:
    """Clean bottles of one kind."""

    key: str
    full_l: float  #: What one takes, its space on top left free. [L]
    number: int


@dataclass(frozen=True, slots=True)
class Wish:
    """A flavour that is wished."""

    key: str
    weight: float = 1.0  #: Against the others.
    brew_share: float = 1.0  #: Of a filled bottle that is brew; the rest is flavour. [-]


@dataclass(frozen=True, slots=True)
class InABottle:
    """What goes into a bottle."""

    bottle: str  #: Key of its kind.
    flavour: str  #: Key of its flavour.
    litres: float  #: Flavour included. [L]
    full_l: float  #: What it would take. [L]

    @property
    def short(self) -> bool:
        """Whether it is not full."""
        return self.litres < self.full_l - 1e-6


@dataclass(frozen=True, slots=True)
class FillingPlan:
    """Which bottle gets what."""

    bottles: tuple[InABottle, ...]
    left_over_l: float  #: Brew that goes into none: to be drunk now, or kept. [L]

    @property
    def short(self) -> InABottle | None:
        """The one that is not full."""
        return next((b for b in self.bottles if b.short), None)

    def of(self, flavour: str) -> list[InABottle]:
        """Return the bottles of a flavour, the short one last."""
        return [b for b in self.bottles if b.flavour == flavour]


@lru_cache(maxsize=256)
def plan(brew_l: float, stock: tuple[Stock, ...], wishes: tuple[Wish, ...]) -> FillingPlan:
    """Plan a filling.

    Args:
        brew_l: What there is to fill, after starter and losses. [L]
        stock: Clean bottles.
        wishes: At least one flavour; their weights say how the drink is shared out.

    Returns: The plan, in litres of filled drink. Exact up to some hundreds of arrangements; above that, flavours even to 5 mL are even.

    >>> made = plan(1.2, (Stock("half", 0.5, 9),), (Wish("plain"), Wish("damson")))
    >>> [(b.flavour, round(b.litres, 2)) for b in made.bottles], made.left_over_l
    ([('plain', 0.5), ('damson', 0.5)], 0.2)
    """
    require_between(0, 500, "L", brew_l=brew_l)
    sizes = sorted({round(s.full_l, 9) for s in stock if s.number > 0}, reverse=True)
    boxes = {size: [s.key for s in stock if round(s.full_l, 9) == size for _ in range(s.number)] for size in sizes}
    if not sizes:
        return _poured(brew_l, [])
    have = np.array([len(boxes[size]) for size in sizes], dtype=np.int64)
    weights = np.array([w.weight for w in wishes], dtype=float)
    found = best(Task(brew_l, np.array(sizes), have, weights, np.array([max(LEAST_BREW, w.brew_share) for w in wishes])))
    if found is None:
        return _poured(brew_l, [])
    rows = [
        (boxes[size].pop(0), wish, size)
        for wish, counts in zip(wishes, found.counts, strict=True)
        for size, n in zip(sizes, counts, strict=True)
        for _ in range(n)
    ]
    if found.short is not None:
        flavour, kind = found.short
        rows.append((boxes[sizes[kind]].pop(0), wishes[flavour], sizes[kind]))
    return _poured(brew_l, rows)


def poured(brew_l: float, rows: Sequence[tuple[Stock, Wish]], short: int | None = None) -> FillingPlan:
    """Return what an arrangement comes to: filled in its order, the last one short, the rest not at all.

    Args:
        brew_l: What there is to fill. [L]
        rows: Bottle and flavour, in order.
        short: Which of them is filled last, and so is the short one; None: the last of all.

    Returns: The plan; what a plan was and what it is filled as, bottle by bottle, are the same.
    """
    found = [(box.key, wish, box.full_l) for box, wish in rows]
    if short is None or not 0 <= short < len(found):
        return _poured(brew_l, found)
    order = [wish.key for _, wish, _ in found]
    return _poured(brew_l, [*found[:short], *found[short + 1 :], found[short]], order)


def _poured(brew_l: float, rows: Sequence[tuple[str, Wish, float]], flavours: Sequence[str] = ()) -> FillingPlan:
    left, out = brew_l, []
    for key, wish, size in rows:
        share = max(LEAST_BREW, wish.brew_share)
        litres = min(size, left / share)
        if litres < LEAST_FULL * size - 1e-9:
            break
        out.append(InABottle(key, wish.key, litres, size))
        left -= litres * share
    order = {key: i for i, key in enumerate(dict.fromkeys(flavours or [wish.key for _, wish, _ in rows]))}
    out.sort(key=lambda b: (order[b.flavour], b.short, -b.full_l))
    return FillingPlan(tuple(out), max(0.0, round(left, 6)))
