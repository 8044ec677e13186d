"""Which bottle gets what: so many litres into the clean bottles, with the wished flavours, exactly.

All bottles are full but at most one. The least is left over; then the fewest are short; then the flavours are as even as wished, in what is bottled;
then the fewest bottles are used. A last one that would be less than six tenths full is drunk now instead.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

from .errors import require_between

LEAST_FULL = 0.6  #: A bottle less full than this is drunk now. [-]
LOSS_SHARE = 0.03  #: Stays in jug, funnel and sieve (assumed). [-]
EXACT = 9  #: Decimals of a litre that count. [-]


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

    Returns: The plan: least left over, fewest short, evenest, fewest bottles. Exact, in litres of filled drink.

    >>> made = plan(1.2, (Stock("half", 0.5, 9),), (Wish("plain"), Wish("damson")))
    >>> [(b.flavour, round(b.litres, 2)) for b in made.bottles], made.left_over_l
    ([('plain', 0.5), ('damson', 0.5)], 0.2)
    """
    require_between(0, 500, "L", brew_l=brew_l)
    total = sum(w.weight for w in wishes)
    mean = sum(w.weight * w.brew_share for w in wishes) / total
    litres = brew_l / mean
    sizes = sorted({round(s.full_l, EXACT) for s in stock if s.number > 0}, reverse=True)
    have = [sum(s.number for s in stock if round(s.full_l, EXACT) == size) for size in sizes]
    used, short, kinds = _best(litres, sizes, have, [w.weight / total for w in wishes])
    boxes = {size: [s.key for s in stock if round(s.full_l, EXACT) == size for _ in range(s.number)] for size in sizes}
    rows = []
    for wish, counts in zip(wishes, used, strict=True):
        rows += [(boxes[size].pop(0), wish, size) for size, count in zip(sizes, counts, strict=True) for _ in range(count)]
    if short is not None:
        rows.append((boxes[sizes[kinds]].pop(0), wishes[short], sizes[kinds]))
    return _poured(brew_l, rows)


def poured(brew_l: float, rows: Sequence[tuple[Stock, Wish]], short: int | None = None) -> FillingPlan:
    """Return what an arrangement comes to: filled in its order, the last one short, the rest not at all.

    Args:
        brew_l: What there is to fill. [L]
        rows: Bottle and flavour, in order.
        short: Which of them is filled last, and so is the short one; None: the last of all.

    Returns: The plan; what a plan was and what it is filled as, bottle by bottle, are the same.
    """
    told = [(box.key, wish, box.full_l) for box, wish in rows]
    if short is None or not 0 <= short < len(told):
        return _poured(brew_l, told)
    order = [wish.key for _, wish, _ in told]
    return _poured(brew_l, [*told[:short], *told[short + 1 :], told[short]], order)


def _poured(brew_l: float, rows: Sequence[tuple[str, Wish, float]], flavours: Sequence[str] = ()) -> FillingPlan:
    left, out = brew_l, []
    for key, wish, size in rows:
        share = max(0.05, wish.brew_share)
        litres = min(size, left / share)
        if litres < LEAST_FULL * size - 1e-9:
            break
        out.append(InABottle(key, wish.key, litres, size))
        left -= litres * share
    order = {key: i for i, key in enumerate(dict.fromkeys(flavours or [wish.key for _, wish, _ in rows]))}
    out.sort(key=lambda b: (order[b.flavour], b.short, -b.full_l))
    return FillingPlan(tuple(out), max(0.0, round(left, 6)))


def _best(
    litres: float, sizes: Sequence[float], have: Sequence[int], shares: Sequence[float]
) -> tuple[list[tuple[int, ...]], int | None, int]:
    """Return how many of each size each flavour gets, which flavour has the short one, and of which size that is."""
    ranked = sorted(_candidates(litres, sizes, have))
    least = ranked[0][:2]
    best_cost, best = math.inf, None
    for *_, counts, kind in itertools.takewhile(lambda found: found[:2] == least, ranked):
        last = litres - sum(n * s for n, s in zip(counts, sizes, strict=True)) if kind >= 0 else 0.0
        items = [*sizes, last] if kind >= 0 else list(sizes)
        amounts = (*counts, 1) if kind >= 0 else counts
        filled = sum(n * s for n, s in zip(amounts, items, strict=True))
        found = _shared(items, amounts, [filled * share for share in shares], best_cost)
        if found is not None and found[0] < best_cost - 1e-12:
            best_cost, best = found[0], (found[1], kind)
            if best_cost < 1e-12:
                break  # none is evener, and fewer bottles came first
    if best is None:
        return [(0,) * len(sizes) for _ in shares], None, 0
    rows, kind = best
    short = next((i for i, row in enumerate(rows) if kind >= 0 and row[-1]), None)
    return [row[: len(sizes)] for row in rows], short, max(0, kind)


def _candidates(
    litres: float, sizes: Sequence[float], have: Sequence[int]
) -> Iterator[tuple[float, int, int, tuple[int, ...], int]]:
    """List ways to take bottles: left over, short ones, bottles used, how many of each size, and the short one's size or -1."""
    largest = max(sizes, default=0.0)
    for counts in _counts(litres, sizes, have, largest):
        rest = litres - sum(n * s for n, s in zip(counts, sizes, strict=True))
        free = [i for i, n in enumerate(counts) if n < have[i]]
        number = sum(counts)
        yield (max(0.0, round(rest, EXACT)), 0, number, counts, -1)
        for i in free:
            if LEAST_FULL * sizes[i] - 1e-9 <= rest < sizes[i] - 1e-9:
                yield (0.0, 1, number + 1, counts, i)


def _counts(litres: float, sizes: Sequence[float], have: Sequence[int], largest: float) -> Iterator[tuple[int, ...]]:
    """List counts of each size that leave less than the largest bottle takes, or that use up what there is."""
    if not sizes:
        yield ()
        return
    if len(sizes) == 1:
        most = min(have[0], int((litres + 1e-9) / sizes[0]))
        least = most
        while least > 0 and litres - (least - 1) * sizes[0] < largest - 1e-9:
            least -= 1
        for count in range(most, least - 1, -1):
            yield (count,)
        return
    for count in range(min(have[0], int((litres + 1e-9) / sizes[0])), -1, -1):
        for others in _counts(litres - count * sizes[0], sizes[1:], have[1:], largest):
            yield (count, *others)


def _shared(
    items: Sequence[float], counts: Sequence[int], targets: Sequence[float], at_most: float
) -> tuple[float, list[tuple[int, ...]]] | None:
    """Share bottles out among flavours so that the squares of what each misses are least; None where that is over a bound."""
    first, rough = _greedy(items, counts, targets)
    bound = min(first + 1e-12, at_most)
    known: dict[tuple[int, tuple[int, ...]], tuple[float, list[tuple[int, ...]]] | None] = {}

    def rest(i: int, left: tuple[int, ...], allowed: float) -> tuple[float, list[tuple[int, ...]]] | None:
        if i == len(targets) - 1:
            cost = (sum(n * s for n, s in zip(left, items, strict=True)) - targets[i]) ** 2
            return (cost, [left]) if cost <= allowed + 1e-12 else None
        if (i, left) in known:
            return known[i, left]
        reach = math.sqrt(bound)
        best: tuple[float, list[tuple[int, ...]]] | None = None
        for taken, litres in _within(items, left, targets[i] - reach, targets[i] + reach):
            cost = (litres - targets[i]) ** 2
            after = rest(i + 1, tuple(a - b for a, b in zip(left, taken, strict=True)), bound)
            if after is not None and (best is None or cost + after[0] < best[0] - 1e-12):
                best = (cost + after[0], [taken, *after[1]])
        known[i, left] = best
        return best

    found = rest(0, tuple(counts), bound)
    return found if found is not None else ((first, rough) if first < at_most else None)


def _within(
    items: Sequence[float], have: Sequence[int], low: float, high: float
) -> Iterator[tuple[tuple[int, ...], float]]:
    """List counts whose litres lie within bounds."""
    if not items:
        if low <= 1e-12 and high >= -1e-12:
            yield (), 0.0
        return
    most_after = sum(n * s for n, s in zip(have[1:], items[1:], strict=True))
    for count in range(min(have[0], int(max(0.0, high + 1e-9) / items[0])), -1, -1):
        here = count * items[0]
        if here + most_after < low - 1e-9:
            break
        for others, litres in _within(items[1:], have[1:], low - here, high - here):
            yield (count, *others), here + litres


def _greedy(
    items: Sequence[float], counts: Sequence[int], targets: Sequence[float]
) -> tuple[float, list[tuple[int, ...]]]:
    """Give each bottle, the largest first, to the flavour that misses most."""
    shares = [[0] * len(items) for _ in targets]
    litres = [0.0] * len(targets)
    for i in sorted(range(len(items)), key=lambda i: -items[i]):
        for _ in range(counts[i]):
            to = max(range(len(targets)), key=lambda f: targets[f] - litres[f])
            shares[to][i] += 1
            litres[to] += items[i]
    return sum((a - b) ** 2 for a, b in zip(litres, targets, strict=True)), [tuple(row) for row in shares]
