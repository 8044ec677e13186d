"""Share bottles out among flavours: full ones, at most one short, the least left over, then as even as wished.

Branch and bound: each flavour in turn takes a count of bottles near its wish, the last one takes what brew is left.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

LEAST_FULL = 0.6  #: A bottle less full than this is drunk now. [-]
SIP_L = 0.05  #: Where flavours take unequal shares of brew, what is left over counts in these steps (assumed). [L]
EVEN_L = 0.005  #: Flavours this near to their wish are even; nobody tells such drops (assumed). [L]
CLOSE_L = 1.5  #: The last litres of each flavour are planned bottle by bottle; the rest is given out before. [L]
ENOUGH = 300  #: Arrangements looked at before even ones are good enough. [-]
MOST = 1600  #: Arrangements looked at before the best so far is taken. [-]
TINY = 1e-7  #: Litres that are nothing. [L]

Counts = NDArray[np.int64]  #: Bottles of each size.


@dataclass(frozen=True, slots=True)
class Task:
    """What is to be shared out."""

    brew_l: float  #: [L]
    sizes: NDArray[np.float64]  #: Litres of a full one, the largest first. [L]
    have: Counts
    wished: NDArray[np.float64]  #: Weights of the flavours against each other.
    brew_shares: NDArray[np.float64]  #: Brew in a litre of each flavour. [-]

    @property
    def weights(self) -> NDArray[np.float64]:
        """Share of each flavour in what is bottled. [-]"""
        shares: NDArray[np.float64] = self.wished / self.wished.sum()
        return shares

    @property
    def drink_l(self) -> float:
        """What the brew comes to, flavours in. [L]"""
        return self.brew_l / float(self.weights @ self.brew_shares)


@dataclass(frozen=True, slots=True)
class Arrangement:
    """One way of sharing bottles out."""

    key: tuple[float, int, float, int]  #: Left over, short ones, unevenness, bottles: the least is the best.
    counts: tuple[Counts, ...]  #: Full bottles of each size, by flavour.
    short: tuple[int, int] | None  #: Flavour and size of the one that is not full.


def best(task: Task) -> Arrangement | None:
    """Return the best arrangement; large fillings are first planned with part of each flavour given out beforehand."""
    ahead = _given_ahead(task)
    if ahead.any():
        close = Task(
            task.brew_l - float((ahead @ task.sizes) @ task.brew_shares),
            task.sizes,
            task.have - ahead.sum(axis=0),
            task.wished,
            task.brew_shares,
        )
        found = _searched(close, task, ahead)
        if found is not None and found.key[0] == 0 and found.key[2] <= len(task.wished) * EVEN_L**2:
            return found
        ways = [one for one in (found, _searched(task, task, np.zeros_like(ahead))) if one is not None]
        return min(ways, key=lambda one: one.key, default=None)
    return _searched(task, task, np.zeros_like(ahead))


def _runs_out(task: Task) -> bool:
    """Return whether there are fewer bottles than drink."""
    return task.drink_l > float(task.have @ task.sizes) + TINY


def _given_ahead(task: Task) -> Counts:
    """Return full bottles for each flavour that are given without a choice: large ones first, some of each size kept."""
    wanted = task.weights * min(task.drink_l, float(task.have @ task.sizes)) - CLOSE_L
    given = np.zeros((len(task.wished), len(task.sizes)), dtype=np.int64)
    for k, size in enumerate(task.sizes):
        spare = max(0, int(task.have[k]) - 3 * len(task.wished))
        while spare and (wanted >= size).any():
            to = int(np.argmax(wanted))
            given[to, k] += 1
            wanted[to] -= size
            spare -= 1
    return given


def _searched(task: Task, whole: Task, ahead: Counts) -> Arrangement | None:
    """Search by branch and bound, each flavour once as the last, which takes what brew is left."""
    search = _Search(task, whole, ahead)
    for last in range(len(task.wished)):
        search.try_last(last)
        if _runs_out(whole):
            break
    if search.best is None and _runs_out(whole):
        search = _Search(task, whole, ahead, all_used=False)
        for last in range(len(task.wished)):
            search.try_last(last)
    return search.best


@dataclass(slots=True)
class _Search:
    """A search for the best arrangement of a task, some bottles being given ahead."""

    task: Task
    whole: Task
    ahead: Counts
    all_used: bool | None = None  #: Whether each bottle there is gets filled; None: where the bottles run out.
    best: Arrangement | None = None
    looked_at: int = 0
    targets: NDArray[np.float64] = field(init=False)
    near: list[tuple[Counts, NDArray[np.float64]]] = field(
        init=False
    )  #: By flavour: counts near its wish, and what they miss. [L]
    reach: float = field(init=False)  #: One bottle: no flavour strays further from its wish. [L]
    rising: list[tuple[Counts, NDArray[np.float64]]] = field(
        init=False
    )  #: The same by litres, and what they come to. [L]
    keeps: float = field(init=False)  #: Part of the unevenness that the rest cannot mend. [-]
    least: tuple[float, int] = field(init=False)  #: Left over and short ones that no arrangement betters.

    def __post_init__(self) -> None:
        """Lay out what each flavour may take."""
        task, weights, shares = self.task, self.whole.weights, self.whole.brew_shares
        if self.all_used is None:
            self.all_used = _runs_out(self.whole)
        drink = float(self.whole.have @ self.whole.sizes) if self.all_used else self.whole.drink_l
        self.targets = weights * drink - self.ahead @ task.sizes
        self.near = [_near(task, target) for target in self.targets]
        self.reach = float(task.sizes.max())
        self.rising = [
            (counts[order], (counts @ task.sizes)[order])
            for counts, misses in self.near
            for order in (np.argsort(misses, kind="stable"),)
        ]
        uneven = float(np.linalg.norm(1 - shares / float(weights @ shares)))
        self.keeps = 1.0 if self.all_used else max(0.0, 1 - float(np.linalg.norm(weights)) * uneven) ** 2
        self.least = (0.0, 0)
        if not self.all_used and np.ptp(shares) < 1e-12:
            self.least = _least_left(task, task.brew_l / float(shares[0]))
        elif math.prod(len(found) for found, _ in self.near) > MOST:
            self.least = (0.0, 1)

    def try_last(self, last: int) -> None:
        """Look at all arrangements in which this flavour takes what the others leave."""
        self.looked_at = 0
        others = sorted((f for f in range(len(self.targets)) if f != last), key=lambda f: -self.targets[f])
        self._descend(others, last, [None] * len(self.targets), self.task.have, 0.0)

    def _descend(self, others: list[int], last: int, taken: list[Counts | None], left: Counts, missed: float) -> None:
        self.looked_at += 1
        if not others:
            self._leaf(last, taken, left)
            return
        flavour = others[0]
        counts, misses = self.near[flavour]
        for i in np.flatnonzero((counts <= left).all(axis=1)):
            now = missed + float(misses[i]) ** 2
            if abs(misses[i]) > self.reach + TINY or self._hopeless(now):
                return
            taken[flavour] = counts[i]
            self._descend(others[1:], last, taken, left - counts[i], now)
            taken[flavour] = None

    def _hopeless(self, missed: float) -> bool:
        """Return whether nothing better can come, or enough was looked at."""
        if self.best is None:
            return False
        left, short, uneven, _ = self.best.key
        fine = (left, short) <= self.least and uneven <= len(self.targets) * EVEN_L**2
        if self.looked_at >= (ENOUGH if fine else MOST) / len(self.targets):
            return True
        return (left, short) <= self.least and missed * self.keeps > uneven + 1e-9

    def _leaf(self, last: int, taken: list[Counts | None], left: Counts) -> None:
        shares, sizes = self.whole.brew_shares, self.task.sizes
        given = np.array([0.0 if one is None else float(one @ sizes) for one in taken]) + self.ahead @ sizes
        drink = (self.whole.brew_l - float(given @ shares)) / float(shares[last])
        if drink < -TINY:
            return
        if (
            self.best is not None
            and self.best.key[:2] <= self.least == (0.0, self.least[1])
            and self._uneven(given, last, float(left @ sizes) if self.all_used else drink) >= self.best.key[2]
        ):
            return
        if self.all_used:
            options, full = left[None, :], np.array([float(left @ sizes)])
        else:
            options, full = self._below(last, drink)
            keep = (options <= left).all(axis=1)
            options, full = options[keep], full[keep]
        keep = full <= drink + TINY
        options, full = options[keep], full[keep]
        if not len(options):
            return
        rest = np.maximum(0.0, drink - full)
        number = options.sum(axis=1) + sum(int(one.sum()) for one in taken if one is not None) + int(self.ahead.sum())
        steps = TINY if np.ptp(shares) < 1e-12 else SIP_L
        lost = np.where(rest <= TINY, 0.0, np.ceil(rest * shares[last] / steps - 1e-6) * steps)
        if self.all_used:
            lost = np.zeros_like(lost)  # what no bottle takes is left over whoever gets which
        self._offer(last, taken, options, given, full, (lost, 0, number), None)
        for k, size in enumerate(sizes):
            fits = (rest > TINY) & (options[:, k] < left[k]) & (rest >= LEAST_FULL * size - 1e-9) & (rest < size - 1e-9)
            if fits.any():
                more = (np.zeros(int(fits.sum())), 1, number[fits] + 1)
                self._offer(last, taken, options[fits], given, full[fits] + rest[fits], more, k)

    def _below(self, flavour: int, drink_l: float) -> tuple[Counts, NDArray[np.float64]]:
        """Return counts that leave less than the largest bottle of so much drink, or all below it where none do."""
        counts, litres = self.rising[flavour]
        first, end = np.searchsorted(litres, [drink_l - float(self.task.sizes.max()) - TINY, drink_l + TINY])
        return (counts[first:end], litres[first:end]) if end > first else (counts[:end], litres[:end])

    def _uneven(self, given: NDArray[np.float64], last: int, drink_l: float) -> float:
        """Return the unevenness if the last flavour got all that is left. [L^2]"""
        filled = given.copy()
        filled[last] += drink_l
        missed = filled - self.whole.weights * filled.sum()
        return round(float(missed @ missed), 9)

    def _offer(
        self,
        last: int,
        taken: list[Counts | None],
        options: Counts,
        given: NDArray[np.float64],
        litres: NDArray[np.float64],
        found: tuple[NDArray[np.float64], int, NDArray[np.int64]],
        kind: int | None,
    ) -> None:
        """Keep the best of some ways to fill the last flavour, if it betters what is known."""
        lost, short, number = found
        filled = np.repeat(given[None, :], len(options), axis=0)
        filled[:, last] += litres
        uneven = ((filled - self.whole.weights * filled.sum(axis=1, keepdims=True)) ** 2).sum(axis=1)
        first = int(np.lexsort((number, np.round(uneven, 9), np.round(lost, 7)))[0])
        key = (round(float(lost[first]), 7), short, round(float(uneven[first]), 9), int(number[first]))
        if self.best is None or key < self.best.key:
            rows = [options[first] if one is None else one for one in taken]
            self.best = Arrangement(
                key, tuple(a + b for a, b in zip(rows, self.ahead, strict=True)), None if kind is None else (last, kind)
            )


def _near(task: Task, target: float) -> tuple[Counts, NDArray[np.float64]]:
    """List counts near a wish, the nearest first, of equal ones that with fewest bottles; and what each misses. [L]

    From two bottles below it, for a short one may come on top, to one above it.
    """
    reach = float(task.sizes.max())
    counts, litres = np.zeros((1, 0), dtype=np.int64), np.zeros(1)
    room = float(task.have @ task.sizes)
    for size, most in zip(task.sizes, task.have, strict=True):
        room -= float(size * most)
        more = np.arange(min(int(most), int(max(0.0, target + reach + TINY) / size)) + 1)
        counts = np.column_stack([np.repeat(counts, len(more), axis=0), np.tile(more, len(counts))])
        litres = (litres[:, None] + size * more[None, :]).ravel()
        keep = (litres <= target + reach + TINY) & (litres + room >= target - 2 * reach - TINY)
        counts, litres = counts[keep], litres[keep]
    missed = litres - target
    order = np.lexsort((counts.sum(axis=1), np.round(np.abs(missed), 9)))
    return counts[order], missed[order]


def _least_left(task: Task, drink_l: float) -> tuple[float, int]:
    """Return the least that can be left over, and how many are short then, whatever the flavours. [L of drink]"""
    counts, missed = _near(task, drink_l)
    rest = -missed
    if (np.abs(rest) <= TINY).any():
        return 0.0, 0
    for k, size in enumerate(task.sizes):
        if ((counts[:, k] < task.have[k]) & (rest >= LEAST_FULL * size - 1e-9) & (rest < size - 1e-9)).any():
            return 0.0, 1
    fits = rest[rest > 0]
    return (round(float(fits.min()) * float(task.brew_shares[0]), 7) if len(fits) else 0.0), 0
