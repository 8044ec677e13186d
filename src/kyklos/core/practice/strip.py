"""The strip: a colour held against its chart, in some light, tinted by the brew. Half units; near a limit nobody can tell."""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from ..base import limit
from ..base.errors import UnknownNameError
from ..base.kinds import MeasuredBy
from ..judging.brew_facts import settles
from .boxes import BOXES, Graded

CHART_PH = (2.5, 3.0, 3.5, 4.0, 4.5, 5.0, 5.5)  #: Fields of the chart. [pH]
CLOSE = 0.36  #: A field named so near to the pH is read well. [pH]
YES, NO, CANNOT = "yes", "no", "cannot tell"
ANSWERS = (YES, NO, CANNOT)


@dataclass(frozen=True, slots=True)
class StripCard:
    """A kind of reading, from easy to hard."""

    key: str
    name: str  #: What is hard about it.
    ph: tuple[float, float]  #: Between which it lies. [pH]
    lights: tuple[str, ...] = ("daylight",)
    teas: tuple[str, ...] = ("green", "white", "black")
    after: float = 0.0  #: How long the strip lay before it was read: it darkens. [min]


_CARDS = (
    StripCard("well-below", "Well below the limit", (2.6, 3.4)),
    StripCard("well-above", "Well above it", (4.9, 5.4)),
    StripCard("just-below", "Just below it", (3.9, 4.19)),
    StripCard("just-above", "Just above it", (4.21, 4.6)),
    StripCard("by-lamp", "By lamplight", (2.8, 4.4), lights=("lamp",)),
    StripCard("at-a-window", "Beside a window", (3.2, 4.9), lights=("window",)),
    StripCard("dark-tea", "A dark tea tints it", (2.8, 4.8), teas=("pu-erh",)),
    StripCard("dark-and-lamp", "A dark tea, by lamplight", (3.3, 4.6), lights=("lamp",), teas=("pu-erh", "black")),
    StripCard("late", "Read too late", (3.0, 4.5), after=5.0),
)
CARDS: Mapping[str, StripCard] = MappingProxyType({card.key: card for card in _CARDS})
DECK = tuple(CARDS)


@dataclass(frozen=True, slots=True)
class StripQuestion:
    """A strip as it lies there once."""

    card: StripCard
    seed: int
    ph: float  #: Of the brew. [pH]
    light: str
    tea: str
    tint: float  #: How far the brew colours the strip. [-]

    @property
    def field(self) -> float:
        """The field of the chart that it is nearest to. [pH]"""
        return min(CHART_PH, key=lambda known: abs(known - self.ph))

    @property
    def answer(self) -> str:
        """Whether it says that the brew is at or below the limit: a strip within half a unit of it cannot tell."""
        return said_by_strip(self.field)


def said_by_strip(field_ph: float) -> str:
    """Return what a reading by strip says of the limit of 4.2. [pH]

    >>> said_by_strip(3.5), said_by_strip(4.0), said_by_strip(5.0)
    ('yes', 'cannot tell', 'no')
    """
    bound = limit("safe_ph")
    if not settles(field_ph, MeasuredBy.STRIP, bound):
        return CANNOT
    return YES if field_ph <= bound else NO


def posed(key: str, seed: int, box: int = 1) -> StripQuestion:
    """Pose a card; in a later box the brew tints the strip more.

    Raises:
        UnknownNameError: If there is no such card.
    """
    if key not in CARDS:
        raise UnknownNameError("card", key, list(CARDS))
    card, chance = CARDS[key], random.Random(f"{key} {seed}")
    hard = min(max(box - 1, 0), BOXES - 1) / (BOXES - 1)
    tint = 0.05 + 0.12 * hard + (0.14 if card.teas == ("pu-erh",) else 0.0)
    return StripQuestion(card, seed, round(chance.uniform(*card.ph), 2), chance.choice(card.lights), chance.choice(card.teas), tint)


def graded(question: StripQuestion, field_ph: float, answer: str) -> Graded:
    """Grade a reading: taking for sour enough what is not, or what nobody can tell, is unsafe; more doubt than needed is safe.

    Args:
        question: As it was posed.
        field_ph: The field named. [pH]
        answer: yes, no or cannot tell.
    """
    if answer == YES and question.answer != YES:
        return Graded.UNSAFE
    near = abs(field_ph - question.ph) <= CLOSE
    if answer == question.answer:
        return Graded.RIGHT if near else Graded.SAFE
    return Graded.SAFE if answer == CANNOT or question.answer == CANNOT else Graded.WRONG


def says(question: StripQuestion, field_ph: float, answer: str) -> tuple[str, str]:
    """Put what came of a reading into a heading and a sentence."""
    outcome = graded(question, field_ph, answer)
    heads = {
        Graded.RIGHT: "Read well.",
        Graded.SAFE: "Safe; read it once more." if answer == question.answer else "Safe: more doubt than needed.",
        Graded.WRONG: "It could have been told.",
        Graded.UNSAFE: "Not safe.",
    }
    near = f"It is pH {question.ph:.1f}, nearest to the field {question.field:g}."
    how = {
        YES: "Clearly below: half a unit of doubt does not reach 4.2.",
        NO: "Clearly above, doubt or not: it waits, or goes by the rule of days.",
        CANNOT: "A strip is good to about half a unit, and 4.2 lies within that: read another in daylight, or wait and read again.",
    }[question.answer]
    late = " A strip is read at once; lying about it darkens." if question.card.after else ""
    return heads[outcome], f"{near} {how}{late}"
