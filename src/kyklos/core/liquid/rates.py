"""How quickly each part of a ferment changes: yeast turns sugar into alcohol and gas, bacteria turn alcohol and sugar into acid.

Many brews, or members of an ensemble, are computed side by side. Few of them cost about as much as one, for most of the time goes into
calling NumPy at all: so room for every step is made once, and each equation is written to it with as few calls as it takes.

Parameters were fitted to published courses (Chen & Liu 2000) and household experience; late ethanol is too high, a known weakness.
Growth and inhibition constants are assumed.
"""

from __future__ import annotations

from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from .ferment import ACETIC, BACTERIA, CO2, ETHANOL, GLUCONIC, MONO, SUCROSE, YEAST, Kinetics

Array = NDArray[np.float64]

CO2_PER_ETHANOL = 0.9553  #: 44.01/46.07. [g/g]
GLUCONIC_AS_ACETIC = 0.334  #: Acid made from glucose, as acetic. [g/g]
ACIDITY_OF_GLUCONIC = 0.306  #: How much gluconic acid slows yeast and bacteria, against acetic. [g/g]
#: What each flow feeds on by Michaelis and Menten, and at which amount it runs at half its speed: sucrose inverted, sugars taken up,
#: glucose to gluconic acid (F/(30+F) is G/(15+G), as G = F/2), alcohol to acetic acid, bacteria's growth, yeast's growth. [g/L]
FEEDS_ON = np.array([SUCROSE, MONO, MONO, ETHANOL, ETHANOL])
HALF_SPEED = np.array([[10.0], [8.0], [30.0], [0.6], [0.3], [5.0]])
SPEED = np.array([[12.0], [2.45], [0.70], [1.25], [0.48], [1.0]])  #: Of the same flows at their fastest. [g/(L d)], growth [1/d]
SLOWED_BY = np.array([[1 / 19], [1 / 6.5]])  #: Yeast and bacteria by acidity: at so much they work at half. [L/g]
#: How each part (rows) changes by what flows (columns): the six flows above, alcohol formed, and alcohol lost to the air.
FLOWS = np.zeros((8, 8))
FLOWS[SUCROSE, 0], FLOWS[MONO, :3] = -1.0, (1.053, -1.0, -1.0)
FLOWS[GLUCONIC, 2], FLOWS[ACETIC, 3], FLOWS[BACTERIA, 4], FLOWS[YEAST, 5] = 1.09, 1.30, 1.0, 1.0
FLOWS[ETHANOL, 3], FLOWS[ETHANOL, 6:], FLOWS[CO2, 6] = -1.0, (1.0, -0.03), CO2_PER_ETHANOL
ACID_MADE = np.array([GLUCONIC_AS_ACETIC, 1.30])  #: By the flows of gluconic and acetic acid, as acetic. [g/g]


class Rates(Protocol):
    """What the integrator asks at every step."""

    def step(self, yeast: Any, bacteria: Any) -> None:
        """Take the temperature ratios of a step, numbers or shape (n,). [-]"""

    def __call__(self, state: Array, out: Array) -> None:
        """Write how quickly each part of a state of shape (8, n) changes. [g/(L d), or 1/d for shares]"""


def rates_of(k: Kinetics, members: int) -> Rates:
    """Return the rates of brews under cloth, or of closed bottles.

    Args:
        k: Of the members.
        members: How many there are.
    """
    return OpenRates(k, members) if np.any(k.air) else ClosedRates(k, members)


class OpenRates:
    """Rates under cloth: everything goes on, as far as acid, warmth and air let it."""

    def __init__(self, k: Kinetics, members: int) -> None:
        """Make room for a number of members."""
        self.k = k
        self.yeast, self.bacteria = k.food * k.yeast, k.food * k.bacteria  # each times its temperature ratio, from step to step
        self.working_yeast, self.working_bacteria, self.most_acid = self.yeast, self.bacteria, np.inf
        self.speed = np.repeat(SPEED, members, axis=1)
        self.speed[2:5] *= k.air
        self.speed[2] *= k.gluconic
        self.speed[3] *= k.oxidation
        self.aired = not np.all(np.isfinite(k.oxygen))
        self.acidity, self.spare = np.empty(members), np.empty(members)
        self.slowed = np.empty((2, members))
        self.food, self.below, self.doing = (np.empty((6, members)) for _ in range(3))
        self.flow = np.empty((8, members))

    def step(self, yeast: Any, bacteria: Any) -> None:
        """Take the temperature ratios of a step, numbers or shape (n,). [-]"""
        self.working_yeast, self.working_bacteria = self.yeast * yeast, self.bacteria * bacteria
        if not self.aired:
            self.most_acid = self.k.oxygen * np.sqrt(bacteria)

    def __call__(self, state: Array, out: Array) -> None:
        """Write how quickly each part of a state of shape (8, n) changes. [g/(L d), or 1/d for shares]"""
        self._slow(state)
        self._work(state)
        state.take(FEEDS_ON, 0, self.food[:5])
        np.add(state[SUCROSE], state[MONO], self.food[5])
        np.add(self.food, HALF_SPEED, self.below)
        np.divide(self.food, self.below, self.food)
        flow = self.flow
        np.multiply(self.doing, self.food, flow[:6])
        np.multiply(flow[:6], self.speed, flow[:6])
        if not self.aired:
            self._breathe(flow[2:4])
        np.multiply(flow[1], self.k.ethanol_yield, flow[6])
        np.multiply(state[ETHANOL], self.k.air, flow[7])
        FLOWS.dot(flow, out)

    def _slow(self, state: Array) -> None:
        """Let acidity slow yeast and bacteria: how many times slower each is."""
        np.multiply(state[GLUCONIC], ACIDITY_OF_GLUCONIC, self.acidity)
        np.add(self.acidity, state[ACETIC], self.acidity)
        np.multiply(SLOWED_BY, self.acidity, self.slowed)
        np.multiply(self.slowed, self.slowed, self.slowed)
        np.add(self.slowed, 1.0, self.slowed)

    def _work(self, state: Array) -> None:
        """Put down who does what: inverts, takes up, makes gluconic and acetic acid, bacteria and yeast growing to their room."""
        inverts, takes_up, gluconic, acetic, bacteria_grow, yeast_grow = self.doing
        share, acid_makers, spare = state[YEAST], state[BACTERIA], self.spare
        np.multiply(self.working_yeast, share, inverts)
        np.divide(inverts, self.slowed[0], takes_up)
        np.multiply(self.working_bacteria, acid_makers, gluconic)
        np.divide(gluconic, self.slowed[1], gluconic)
        acetic[...] = gluconic
        np.divide(acid_makers, self.k.surface, spare)
        np.subtract(1.0, spare, spare)
        np.multiply(gluconic, spare, bacteria_grow)
        np.subtract(1.0, share, spare)
        np.multiply(takes_up, spare, yeast_grow)

    def _breathe(self, acids: Array) -> None:
        """Let no more acid come than the air through the surface allows."""
        spare = self.spare
        ACID_MADE.dot(acids, spare)
        np.maximum(spare, 1e-12, out=spare)
        np.divide(self.most_acid, spare, spare)
        np.minimum(spare, 1.0, out=spare)
        np.multiply(acids, spare, acids)


IN_A_BOTTLE = (0, 1, 6, 5)  #: Of the flows: inverted, taken up, alcohol formed, yeast's growth.
CLOSED_FLOWS, CLOSED_HALF_SPEED, CLOSED_SPEED = FLOWS[:, IN_A_BOTTLE], HALF_SPEED[[0, 1, 5]], SPEED[[0, 1, 5]]


class ClosedRates:
    """Rates where no air comes in: acid bacteria rest, and half the flows are nothing."""

    def __init__(self, k: Kinetics, members: int) -> None:
        """Make room for a number of members."""
        self.k = k
        self.yeast = k.food * k.yeast
        self.working_yeast = self.yeast
        self.slowed, self.spare = np.empty(members), np.empty(members)
        self.food, self.below, self.doing = (np.empty((3, members)) for _ in range(3))
        self.flow = np.empty((4, members))

    def step(self, yeast: Any, bacteria: Any) -> None:
        """Take the temperature ratio of yeast in a step, a number or shape (n,); bacteria rest. [-]"""
        self.working_yeast = self.yeast * yeast

    def __call__(self, state: Array, out: Array) -> None:
        """Write how quickly each part of a state of shape (8, n) changes. [g/(L d), or 1/d for shares]"""
        slowed, spare, food, flow = self.slowed, self.spare, self.food, self.flow
        np.multiply(state[GLUCONIC], ACIDITY_OF_GLUCONIC, slowed)
        np.add(slowed, state[ACETIC], slowed)
        np.multiply(slowed, SLOWED_BY[0], slowed)
        np.multiply(slowed, slowed, slowed)
        np.add(slowed, 1.0, slowed)
        inverts, takes_up, yeast_grow = self.doing
        np.multiply(self.working_yeast, state[YEAST], inverts)
        np.divide(inverts, slowed, takes_up)
        np.subtract(1.0, state[YEAST], spare)
        np.multiply(takes_up, spare, yeast_grow)
        food[:2] = state[: MONO + 1]
        np.add(state[SUCROSE], state[MONO], food[2])
        np.add(food, CLOSED_HALF_SPEED, self.below)
        np.divide(food, self.below, food)
        np.multiply(self.doing, food, food)
        np.multiply(food, CLOSED_SPEED, food)
        flow[:2], flow[3] = food[:2], food[2]
        np.multiply(flow[1], self.k.ethanol_yield, flow[2])
        CLOSED_FLOWS.dot(flow, out)
