"""The one integrator of the house, and how several computations use it at once.

A computation that integrates is written as a generator: it yields a `Leg` and goes on with the states that come back. `alone` drives
one; `together` drives many in step, for a brew and ten brews cost about the same: most of the time goes into calling NumPy at all.
"""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass, fields
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from .ferment import Kinetics
from .rates import rates_of

Array = NDArray[np.float64]
T = TypeVar("T")


def integrate(state: Array, k: Kinetics, yeast: Array, bacteria: Array, steps_days: Array) -> Array:
    """Integrate by Runge-Kutta steps of fourth order; the only place in the house that does.

    Args:
        state: At the start, shape (8, n).
        k: Vigour and the rest.
        yeast, bacteria: Temperature ratios by step, shape (steps,) or (steps, n). [-]
        steps_days: Length of each step, shape (steps,). [d]

    Returns: States at every edge of a step, shape (steps + 1, 8, n).
    """
    course = np.empty((len(yeast) + 1, *state.shape))
    course[0] = state
    rates = rates_of(k, state.shape[1])
    first, second, third, fourth, there = (np.empty(state.shape) for _ in range(5))
    for i, step in enumerate(steps_days):
        here, after = course[i], course[i + 1]
        rates.step(yeast[i], bacteria[i])
        rates(here, first)
        rates(_ahead(here, first, step / 2, there), second)
        rates(_ahead(here, second, step / 2, there), third)
        rates(_ahead(here, third, step, there), fourth)
        second += third
        second *= 2
        second += first
        second += fourth
        np.maximum(_ahead(here, second, step / 6, there), 0.0, out=after)
    return course


def _ahead(state: Array, rate: Array, days: float, out: Array) -> Array:
    """Write where a state comes to at a rate. [d]"""
    np.multiply(rate, days, out)
    return np.add(state, out, out)


@dataclass(frozen=True, slots=True, eq=False)
class Leg:
    """A stretch of time to integrate: what `integrate` asks for."""

    state: Array  #: At the start, shape (8, n).
    k: Kinetics
    yeast: Array  #: Temperature ratios by step, shape (steps,) or (steps, n). [-]
    bacteria: Array  #: [-]
    steps_days: Array  #: Shape (steps,). [d]

    @property
    def members(self) -> int:
        """How many members there are."""
        return int(self.state.shape[1])

    @property
    def open_to_air(self) -> tuple[bool, bool]:
        """Whether air comes to it, and whether it allows any amount of acid: only what is alike in this runs together."""
        return bool(np.any(self.k.air)), bool(np.all(np.isfinite(self.k.oxygen)))


Computing = Generator[Leg, Array, T]  #: Yields what is to be integrated, goes on with its states, and ends with its answer.


def alone(way: Computing[T]) -> T:
    """Drive one computation to its end."""
    try:
        leg = next(way)
        while True:
            leg = way.send(integrate(leg.state, leg.k, leg.yeast, leg.bacteria, leg.steps_days))
    except StopIteration as end:
        answer: T = end.value
        return answer


def together(ways: Sequence[Computing[T]]) -> list[T]:
    """Drive several computations to their ends, in the order given; each answer is as if it had been driven alone, to rounding."""
    answers: dict[int, T] = {}
    waiting: dict[int, Leg] = {}

    def go_on(number: int, states: Array | None) -> None:
        try:
            waiting[number] = next(ways[number]) if states is None else ways[number].send(states)
        except StopIteration as end:
            answers[number] = end.value

    for number in range(len(ways)):
        go_on(number, None)
    while waiting:
        asked, waiting = waiting, {}
        for group in _alike(asked):
            for number, states in zip(group, side_by_side([asked[number] for number in group]), strict=True):
                go_on(number, states)
    return [answers[number] for number in range(len(ways))]


def _alike(asked: dict[int, Leg]) -> list[list[int]]:
    """Put together what can run side by side: the same air, and steps that are the first ones of the longest."""
    groups: list[list[int]] = []
    for number in sorted(asked, key=lambda number: -len(asked[number].steps_days)):
        leg = asked[number]
        for group in groups:
            longest = asked[group[0]]
            same = np.array_equal(longest.steps_days[: len(leg.steps_days)], leg.steps_days)
            if same and longest.open_to_air == leg.open_to_air:
                group.append(number)
                break
        else:
            groups.append([number])
    return groups


def side_by_side(legs: Sequence[Leg]) -> list[Array]:
    """Integrate legs that have air in common and the longest one's first steps, the longest first.

    Returns: For each its states at every edge of its own steps, shape (steps + 1, 8, n).
    """
    if len(legs) == 1:
        one = legs[0]
        return [integrate(one.state, one.k, one.yeast, one.bacteria, one.steps_days)]
    sizes = [leg.members for leg in legs]
    steps = len(legs[0].steps_days)
    k = Kinetics(**{part.name: np.concatenate([_each(getattr(leg.k, part.name), leg.members) for leg in legs]) for part in fields(Kinetics)})
    yeast = np.concatenate([_padded(leg.yeast, leg.members, steps) for leg in legs], axis=1)
    bacteria = np.concatenate([_padded(leg.bacteria, leg.members, steps) for leg in legs], axis=1)
    states = integrate(np.concatenate([leg.state for leg in legs], axis=1), k, yeast, bacteria, legs[0].steps_days)
    parts = np.split(states, np.cumsum(sizes)[:-1], axis=2)
    return [part[: len(leg.steps_days) + 1] for part, leg in zip(parts, legs, strict=True)]


def _each(value: Any, members: int) -> Array:
    return np.broadcast_to(np.asarray(value, float), (members,))


def _padded(ratio: Array, members: int, steps: int) -> Array:
    """Widen ratios of shape (steps,) or (steps, n) to every member and to more steps, in which nothing works."""
    out = np.zeros((steps, members))
    out[: len(ratio)] = ratio.reshape(len(ratio), -1)
    return out
