"""The clock of a bottle: leave it, squeeze the tester, burp, chill or open; scored by regret against the fizz that is wished."""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from ..base import limit
from ..base.errors import UnknownNameError
from ..base.facts import BOTTLES
from ..bottles.bottle import TARGETS, BottleAsk, MembersRun, at_day, run_of
from ..liquid import Batch, Course, Recipe
from ..liquid.batch import run
from ..liquid.temperature import steady
from .regret import (
    ASK_LOSS,
    BURST_LOSS,
    UNSAFE_SHARE,
    WAIT_LOSS,
    Weighed,
    WeighedChoice,
    bottle_losses,
    loss_after_asking,
)

Array = NDArray[np.float64]

LEAVE, SQUEEZE, BURP, CHILL, OPEN = "leave", "squeeze", "burp", "chill", "open"
CHOICES = (LEAVE, SQUEEZE, BURP, CHILL, OPEN)
AHEAD_DAYS, LATEST_DAY = 10, 24  #: So far leaving is weighed; so late a bottle is looked at. [d]
COLD_C = 5.0  #: [degC]
BURP_LOSS = 0.1  #: A burp takes scent along, and may gush (assumed).
OPEN_WARM_LOSS = 0.5  #: Opened warm it foams over, and part of the gas is lost (assumed).
SQUEEZE_CUTS, SQUEEZE_SD = (0.5, 1.0, 1.8), 0.4  #: Between soft, firm, hard and like stone; what a thumb cannot tell (assumed). [bar]
BREW_DAY = 9  #: The brew was bottled on this day of its first ferment. [d]


class Moment(StrEnum):
    """When a bottle is looked at."""

    FRESH = "fresh"  #: The day after filling.
    BEFORE = "before"  #: On its way.
    THERE = "there"  #: Likely as wished.
    EDGE = "edge"  #: It belongs into the cold by tomorrow, whatever its fizz.
    OVER = "over"  #: More gas than was wished.


@dataclass(frozen=True, slots=True)
class BottleCard:
    """A moment of a bottle, from easy to hard."""

    key: str
    name: str
    moment: Moment
    kind: str  #: A bottle type.
    celsius: tuple[int, int]  #: [degC]
    sugar: tuple[float, float]  #: Added. [g/L]
    wish: str = "lively"
    form: str = "none"
    vigour_sd: float = 0.3  #: How unsure its yeast is. [-]
    cold: bool = False  #: It has stood in the cold since yesterday.


_CARDS = (
    BottleCard("fresh", "Just filled", Moment.FRESH, "swing-top", (20, 23), (4, 7)),
    BottleCard("edge", "In a warm kitchen", Moment.EDGE, "swing-top", (24, 27), (6, 9), form="juice"),
    BottleCard("there", "About there", Moment.THERE, "sparkling", (21, 24), (4, 6), vigour_sd=0.15),
    BottleCard("cold", "Cold since yesterday", Moment.THERE, "sparkling", (20, 23), (4, 6), vigour_sd=0.1, cold=True),
    BottleCard("cool", "In the cool", Moment.BEFORE, "swing-top", (16, 18), (4, 6)),
    BottleCard("thin", "A thin bottle", Moment.EDGE, "reused", (21, 23), (4, 6), wish="soft"),
    BottleCard("over", "More than was wished", Moment.OVER, "pet", (21, 24), (5, 7), wish="soft", vigour_sd=0.2),
    BottleCard("unsure", "A new flavour", Moment.THERE, "pet", (20, 23), (6, 9), form="pieces", vigour_sd=0.7),
)
CARDS: Mapping[str, BottleCard] = MappingProxyType({card.key: card for card in _CARDS})
DECK = tuple(CARDS)


@dataclass(frozen=True, slots=True)
class BottleQuestion:
    """A bottle on one day, as its brewer knows it."""

    card: BottleCard
    seed: int
    day: int  #: Since filling. [d]
    celsius: int
    ask: BottleAsk
    weighed: Weighed
    past_tomorrow: float  #: Chance that it is past its limit tomorrow. [-]
    best_day: int  #: To chill on, when left. [d since filling]

    @property
    def limit_bar(self) -> float:
        """What the bottle holds. [bar]"""
        return BOTTLES[self.card.kind].limit_bar


@lru_cache(maxsize=64)
def posed(key: str, seed: int) -> BottleQuestion:
    """Pose a card.

    Raises:
        UnknownNameError: If there is no such card.
    """
    if key not in CARDS:
        raise UnknownNameError("card", key, list(CARDS))
    card, chance = CARDS[key], random.Random(f"{key} {seed}")
    celsius, most = chance.randint(*card.celsius), BOTTLES[card.kind].limit_bar
    brew = run(Batch(recipe=Recipe(), course=steady(23)), BREW_DAY)
    start = tuple(float(part) for part in brew.state[-1, :, 0])
    ask = BottleAsk(
        start=start, added_sugar_g_per_l=round(chance.uniform(*card.sugar), 1), course=steady(celsius), form=card.form,
        vigour_sd=card.vigour_sd, days=LATEST_DAY + AHEAD_DAYS + 1,
    )  # fmt: skip
    day = _day_of(card, ask, most)
    if card.cold:
        ask = replace(ask, course=Course(((0.0, celsius), (day - 1.0, celsius), (day - 0.9, COLD_C)), COLD_C))
    weighed, past, best = weigh(ask, day, most, TARGETS[card.wish])
    return BottleQuestion(card, seed, day, celsius, ask, weighed, past, best)


def _day_of(card: BottleCard, ask: BottleAsk, limit_bar: float) -> int:
    """Find the day on which a bottle is in the moment of its card; never after it belongs into the cold. [d since filling]"""
    days = np.arange(1, LATEST_DAY, dtype=float)
    gas, bar = _members(run_of(ask), days)
    likely, high = np.median(gas, axis=1), np.quantile(bar, 0.9, axis=1)
    chill = _first_day(high >= limit("chill_share") * limit_bar)
    wished = _first_day(likely >= TARGETS[card.wish])
    over = _first_day(likely >= TARGETS[card.wish] + 0.5)
    day = {Moment.FRESH: 1, Moment.BEFORE: wished - 3, Moment.THERE: wished, Moment.EDGE: chill - 1, Moment.OVER: over}[card.moment]
    return max(1, min(day, chill - 1 if card.moment == Moment.EDGE else chill - 2))


def _first_day(reached: NDArray[np.bool_]) -> int:
    return 1 + int(reached.argmax()) if reached.any() else len(reached)


def weigh(ask: BottleAsk, today: int, limit_bar: float, wished_volumes: float) -> tuple[Weighed, float, int]:
    """Weigh what can be done with a bottle today.

    Args:
        ask: The bottle, looked at further than its limit.
        today: Since filling. [d]
        limit_bar: What it holds. [bar]
        wished_volumes: [volumes]

    Returns: The choices; the chance that it is past its limit tomorrow; the best day to chill it when it is left.
    """
    days = np.arange(today, today + AHEAD_DAYS + 1, dtype=float)
    gas, bar = _members(run_of(ask), days)
    losses = bottle_losses(gas, bar, limit_bar, wished_volumes)
    mean = losses.mean(axis=1)
    past_now, past_tomorrow = (float((bar[: number + 1] >= limit_bar).any(axis=0).mean()) for number in (0, 1))
    if np.quantile(bar[1], 0.9) >= limit("chill_share") * limit_bar:
        past_tomorrow = max(past_tomorrow, UNSAFE_SHARE)  # the house chills from there on
    best = 1 + int(mean[1:].argmin())
    squeezed = (loss_after_asking(losses[here:], bar[here], SQUEEZE_CUTS, SQUEEZE_SD) + ASK_LOSS for here in (0, 1))
    cold = float(ask.course.at(days[:1])[0]) <= COLD_C
    chilled, now = float(mean[0]), float(np.where(bar[0] >= limit_bar, BURST_LOSS, (gas[0] - wished_volumes) ** 2).mean())
    at_once, tomorrow = squeezed
    choices = {
        LEAVE: WeighedChoice(LEAVE, WAIT_LOSS + (chilled if cold else min(float(mean[best]), tomorrow)), 0.0 if cold else past_tomorrow),
        SQUEEZE: WeighedChoice(SQUEEZE, chilled + ASK_LOSS if cold else at_once, past_now),
        BURP: WeighedChoice(BURP, _after_burp(ask, days, limit_bar, wished_volumes), past_now),
        CHILL: WeighedChoice(CHILL, chilled + (ASK_LOSS if cold else 0.0)),
        OPEN: WeighedChoice(OPEN, now if cold else now + OPEN_WARM_LOSS, past_now),
    }
    return Weighed(choices), past_tomorrow, int(days[best])


def _after_burp(ask: BottleAsk, days: Array, limit_bar: float, wished_volumes: float) -> float:
    """Return the least mean loss of a bottle burped today and chilled on the best day from today on."""
    gas, bar = _members(run_of(replace(ask, burps=(*ask.burps, float(days[0])))), days)
    return float(bottle_losses(gas, bar, limit_bar, wished_volumes).mean(axis=1).min()) + BURP_LOSS


def _members(out: MembersRun, days: Array) -> tuple[Array, Array]:
    """Read gas and pressure of the members on days: shapes (days, members)."""
    gas, bar = (np.array([at_day(out.day, each, day)[1:] for day in days]) for each in (out.gas, out.bar))
    return gas, bar


def fizz_now(question: BottleQuestion) -> tuple[float, float, float]:
    """Return what is foretold of its gas today: low, likely, high. [volumes]"""
    gas, _ = _members(run_of(question.ask), np.array([float(question.day)]))
    low, likely, high = np.quantile(gas[0], (0.1, 0.5, 0.9))
    return float(low), float(likely), float(high)


def pressure_course(question: BottleQuestion) -> tuple[Array, Array]:
    """Return days, and the pressure then as quantiles: low, likely, high, shape (days, 3). [d, bar]"""
    days = np.arange(0, question.day + AHEAD_DAYS + 1, dtype=float)
    _, bar = _members(run_of(question.ask), days)
    return days, np.quantile(bar, (0.1, 0.5, 0.9), axis=1).T


def reason(question: BottleQuestion) -> str:
    """Return why the wise choice is wise."""
    wise, (low, likely, high) = question.weighed.wise, fizz_now(question)
    if question.past_tomorrow >= UNSAFE_SHARE:
        near = "By tomorrow it could come near what this bottle holds"
        return f"{near}: squeeze the tester now; firm, and it goes cold today." if wise == SQUEEZE else f"{near}: cold today, whatever the fizz."
    if wise == LEAVE:
        return f"Its fizz is on the way: likely best cold on day {question.best_day}, and far from its limit until then."
    if wise == SQUEEZE:
        return "How far it is nobody knows: the squeezed tester tells, and costs nothing."
    if wise == BURP:
        return "More gas than was wished: a burp takes some off. It is slowed so, not stopped."
    if wise == OPEN:
        return "It is as wished: drink it."
    return f"It has about what was wished ({low:.1f} to {high:.1f} volumes): the cold keeps it so." if likely else ""
