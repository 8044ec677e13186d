"""The burette: a titration drop by drop to the first pink that stays, and what each drop too many does to the starter planned."""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from types import MappingProxyType

from ..base.errors import UnknownNameError
from ..brewing.starters import share_for_ph
from ..liquid import acids
from ..liquid.acids import END_POINT_PH, TeaAndWater
from ..measuring.titrating import DROP_ML
from .boxes import Graded

NORMALITY = 0.1  #: Of the base. [mol/L]
BREWED_WITH = TeaAndWater("black", 6.0, 0.5)
FIRST_PINK, MORE_PINK = 0.16, 0.09  #: How deep the first pink that stays is, and how much each drop past it adds (assumed). [-]
FADES_FROM = 0.9  #: From this share of the end point on, a drop's pink is slow to fade (assumed). [-]
START_PH = 4.2  #: What the starter is planned for. [pH]
JAR_L = 3.8  #: [L]
LEAST_RIGHT, MOST_RIGHT, MOST_SAFE = 0, 1, 2  #: Drops past the first pink that stays: read well, still of use.
TOO_SHORT = -2  #: So many drops short, or fewer, are still of use: it reads weaker, on the safe side.


@dataclass(frozen=True, slots=True)
class BuretteCard:
    """A kind of sample, from easy to hard."""

    key: str
    name: str
    ta: tuple[float, float]  #: Between which it lies. [g/L]
    sample_ml: float = 10.0  #: [mL]
    dark: float = 0.1  #: How far its own colour hides the pink. [-]
    warns: bool = True  #: Whether the drops before the last fade slowly.


_CARDS = (
    BuretteCard("usual", "A usual starter", (6.0, 9.0)),
    BuretteCard("weak", "A weak one", (2.5, 4.5)),
    BuretteCard("strong", "An old, strong one", (10.0, 16.0)),
    BuretteCard("small", "A small sample", (5.0, 9.0), sample_ml=5.0),
    BuretteCard("dark", "A dark tea hides the pink", (5.0, 9.0), dark=0.45),
    BuretteCard("sudden", "It comes all at once", (4.0, 12.0), dark=0.25, warns=False),
)
CARDS: Mapping[str, BuretteCard] = MappingProxyType({card.key: card for card in _CARDS})
DECK = tuple(CARDS)


@dataclass(frozen=True, slots=True)
class BuretteQuestion:
    """A sample under the burette."""

    card: BuretteCard
    seed: int
    ta_g_per_l: float  #: Hidden. [g/L]

    @property
    def end_drops(self) -> int:
        """How many drops bring the first pink that stays."""
        return _end_drops(self.ta_g_per_l, self.card.sample_ml)


def posed(key: str, seed: int) -> BuretteQuestion:
    """Pose a card.

    Raises:
        UnknownNameError: If there is no such card.
    """
    if key not in CARDS:
        raise UnknownNameError("card", key, list(CARDS))
    card, chance = CARDS[key], random.Random(f"{key} {seed}")
    return BuretteQuestion(card, seed, round(chance.uniform(*card.ta), 2))


def ph_after(ta_g_per_l: float, sample_ml: float, drops: int) -> float:
    """Return the pH of a sample after drops of base. [g/L, mL -> pH]"""
    where = BREWED_WITH.medium
    starter = acids.starter_from_titration(ta_g_per_l, where)
    base = 1000 * drops * DROP_ML * NORMALITY / sample_ml
    titrated = replace(where, strong_ions_meq_per_l=where.strong_ions_meq_per_l + base)
    return float(acids.ph(starter.acetic_g_per_l, starter.gluconic_g_per_l, titrated))


@lru_cache(maxsize=512)
def _end_drops(ta_g_per_l: float, sample_ml: float) -> int:
    low, high = 0, int(2 + ta_g_per_l * sample_ml / (NORMALITY * acids.ACETIC_MOLAR_MASS * DROP_ML) * 1.2)
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if ph_after(ta_g_per_l, sample_ml, middle) >= END_POINT_PH else (middle, high)
    return high


@dataclass(frozen=True, slots=True)
class FlaskLook:
    """How the flask looks after the last drop, stirred."""

    pink: float  #: That stays: 0 none to 1 deep. [-]
    fades: str  #: What the last drop made: empty, quick, some or slow to fade.
    word: str


def flask(question: BuretteQuestion, drops: int) -> FlaskLook:
    """Return how the flask looks after so many drops."""
    end = question.end_drops
    if drops >= end:
        over = drops - end
        pink = min(1.0, FIRST_PINK + MORE_PINK * over)
        return FlaskLook(pink, "", "A breath of pink stays." if over < 1 else "Pink stays." if over < 4 else "Deep pink.")
    share = drops / end
    if drops == 0:
        return FlaskLook(0.0, "", "No base yet.")
    if share < 0.6 or not question.card.warns:
        return FlaskLook(0.0, "quick", "A flash of pink, gone at once.")
    if share < FADES_FROM:
        return FlaskLook(0.0, "some", "Pink where the drop falls; it goes when stirred.")
    return FlaskLook(0.0, "slow", "Pink that fades slowly.")


@dataclass(frozen=True, slots=True)
class BuretteRead:
    """What a reading comes to."""

    outcome: Graded
    drops_over: int  #: Past the first pink that stays; below 0: stopped too early.
    read_g_per_l: float  #: Acidity as read. [g/L]
    true_g_per_l: float  #: [g/L]
    planned_l: float | None  #: Starter planned by the reading, for a jar. [L]
    needed_l: float | None  #: And what it takes. [L]
    starts_at: float | None  #: Where the jar would start with what is planned. [pH]

    @property
    def too_many(self) -> bool:
        """Whether it went past the end."""
        return self.drops_over > MOST_RIGHT

    @property
    def too_few(self) -> bool:
        """Whether it stopped before the end."""
        return self.drops_over < LEAST_RIGHT


def read_off(question: BuretteQuestion, drops: int) -> BuretteRead:
    """Read a burette off: too many drops make a starter seem stronger than it is, so that too little of it is planned.

    Args:
        question: The sample.
        drops: Used.
    """
    sample, end = question.card.sample_ml, question.end_drops
    over = drops - end
    read = acids.titration(drops * DROP_ML, NORMALITY, sample)
    planned, needed = (_starter_l(min(60.0, value)) for value in (read, question.ta_g_per_l))
    starts = None if planned is None else acids.start_ph(
        acids.starter_from_titration(question.ta_g_per_l, BREWED_WITH.medium), planned / JAR_L, BREWED_WITH.medium
    )
    return BuretteRead(_outcome(over, drops, end), over, read, question.ta_g_per_l, planned, needed, starts)


def _outcome(over: int, drops: int, end: int) -> Graded:
    if LEAST_RIGHT <= over <= MOST_RIGHT:
        return Graded.RIGHT
    if TOO_SHORT <= over <= MOST_SAFE or (over < 0 and drops >= 0.95 * end):
        return Graded.SAFE
    return Graded.UNSAFE if over > 0.1 * end else Graded.WRONG


@lru_cache(maxsize=512)
def _starter_l(ta_g_per_l: float) -> float | None:
    """Return how much of a starter brings a jar to pH 4.2; None: no share up to half of it. [g/L -> L]"""
    where = BREWED_WITH.medium
    share = share_for_ph(acids.starter_from_titration(ta_g_per_l, where), START_PH, where, BREWED_WITH)
    return None if share is None else share * JAR_L


def says(read: BuretteRead) -> str:
    """Put what came of a reading into a heading."""
    if read.outcome == Graded.RIGHT:
        return "To the drop." if read.drops_over == 0 else "Read well: one drop past."
    drops = abs(read.drops_over)
    many = f"{drops} drop{'s' if drops > 1 else ''}"
    return f"{many} too many." if read.drops_over > 0 else f"{many} short: no pink stayed yet."
