"""What goes on inside bottles, whatever their room for gas and their limit: run some weeks at a time, as far as anybody asks.

Bottles whose steps are equal run as one: most of the time of a small run is spent on calling, not on computing.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from threading import RLock

import numpy as np
from numpy.typing import NDArray

from ..liquid import Kinetics
from ..liquid.ferment import CO2, MONO, SUCROSE
from ..liquid.integrator import Leg, side_by_side

Array = NDArray[np.float64]

SPENT_G_PER_L = 0.05  #: Less sugar than this makes no gas worth a word. [g/L]
Stretch = tuple[Array, Array, Array]  #: Edges of steps, and both ratios in each: shape (steps,) or (steps, members).


@dataclass(slots=True)
class Contents:
    """One bottle's contents over time, in all its members; the first is the likely one."""

    kinetics: Kinetics
    now: Array  #: State at the end of what was run, shape (8, members).
    stretch: Callable[[int], Stretch]  #: Steps of a stretch, by its number from 0.
    days: list[Array] = field(default_factory=list)  #: Edges of each stretch's steps, its first edge left out. [d since filling]
    co2: list[Array] = field(default_factory=list)  #: Formed since filling, shape (steps, members). [g/L]
    likely: list[Array] = field(default_factory=list)  #: States of the likely member, shape (steps, 8).
    lock: RLock = field(default_factory=RLock)

    @property
    def spent(self) -> bool:
        """Whether hardly any sugar is left."""
        return bool(self.now[SUCROSE].max() + self.now[MONO].max() < SPENT_G_PER_L)

    def keep(self, edges: Array, states: Array) -> None:
        """Add a stretch that was run, shape (steps, 8, members)."""
        self.days.append(edges[1:])
        self.co2.append(states[:, CO2].copy())
        self.likely.append(states[:, :, 0].copy())  # a view would keep every member alive
        self.now = states[-1].copy()


def run_on(many: Sequence[Contents], number: int) -> None:
    """Run those that have not been run through a stretch yet; those with equal steps in one go.

    Args:
        many: Each run through all stretches before; one may stand there twice.
        number: Of the stretch, from 0.
    """
    alike: dict[bytes, list[tuple[Contents, Stretch]]] = {}
    for contents in {id(one): one for one in many}.values():
        with contents.lock:
            if len(contents.days) > number:
                continue
            stretch = contents.stretch(number)
            if contents.spent:
                contents.keep(stretch[0], np.repeat(contents.now[None], len(stretch[0]) - 1, axis=0))
            else:
                alike.setdefault(stretch[0].tobytes(), []).append((contents, stretch))
    for group in alike.values():
        _run_alike(group, number)


def _run_alike(group: list[tuple[Contents, Stretch]], number: int) -> None:
    edges = group[0][1][0]
    legs = [Leg(one.now, one.kinetics, yeast, bacteria, np.diff(edges)) for one, (_, yeast, bacteria) in group]
    for (contents, _), states in zip(group, side_by_side(legs), strict=True):
        with contents.lock:
            if len(contents.days) == number:  # nobody was quicker
                contents.keep(edges, states[1:])
