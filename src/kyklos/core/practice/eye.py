"""The eye: a drawn surface with its smell and story; carry on, watch, hold or discard, and by what sign. The rules of judging answer."""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from ..base.errors import UnknownNameError
from ..base.facts import table_of
from ..judging.observations import CARRY_ON, DISCARD, HOLD, OBSERVATIONS, ORDER, SeenLook, VerdictWord
from ..judging.safety import BrewFacts, PhReading, Verdict, judge
from ..liquid import Recipe
from ..liquid.batch import ferment
from ..liquid.temperature import steady
from .boxes import BOXES, Graded

BY_PH = "ph"
FALLS, NONE = "falls", "none"
TEAS = ("black", "black", "green", "oolong", "white")
VESSELS = ("glass", "glass", "glass", "stoneware")
WARM_C = (22, 26)  #: From, to. [degC]
SMELLS = {
    "": "Nobody smelled it.",
    "bread": "It smells of bread and vinegar.",
    "solvent": "It smells of nail varnish.",
    "bad": "It smells bad; of what is hard to say.",
    "rotten": "It smells of old cheese.",
}
GATE_LOOK_DAY = 6  #: By then a brewer who measures has measured. [d]
LAST_DAY = 20  #: pH is foretold so far. [d]


@dataclass(frozen=True, slots=True, kw_only=True)
class EyeCard:
    """One thing to tell, with what it is taken for."""

    key: str
    draws: str  #: What is drawn, a kind of specimen.
    surface: str  #: How it is recorded, an observation.
    sign: str  #: What decides: an observation, or "ph".
    days: tuple[int, int]  #: Between which it is looked at. [d]
    near: tuple[str, ...]  #: Signs for which it is taken.
    seen: str  #: The drawing in words, without the answer.
    signs: tuple[str, ...] = ()
    smells: tuple[str, ...] = ("bread", "")
    colours: tuple[str, ...] = ("",)
    ph: str | tuple[list[float], ...] = FALLS
    before: tuple[list[float | str], ...] = ()
    story: str = ""


CARDS: Mapping[str, EyeCard] = table_of("eye_cards", EyeCard)
DECK = tuple(CARDS)


@dataclass(frozen=True, slots=True)
class EyeQuestion:
    """A card as it is posed once: what is drawn, what is known besides, and what the rules say of it."""

    card: EyeCard
    seed: int
    day: int  #: Since the pitch. [d]
    celsius: int  #: [degC]
    coverage: float  #: [-]
    colour: str
    tea: str
    light: str
    material: str
    smell: str
    ph: tuple[PhReading, ...]
    verdict: Verdict
    signs: tuple[str, ...]  #: To choose from.

    @property
    def words(self) -> tuple[str, ...]:
        """What is known besides the drawing, in sentences."""
        read = [f"pH {r.ph:.1f} on day {r.day:.0f}" if r.day >= 1 else f"pH {r.ph:.1f} at the start" for r in self.ph]
        ph = "; ".join(read) + "." if read else "Nobody measured its pH."
        return tuple(part for part in (SMELLS[self.smell], ph, self.card.story) if part)

    @property
    def size_word(self) -> str:
        """How much of the surface it takes, in words."""
        return "on little of it" if self.coverage < 0.35 else "on about half of it" if self.coverage < 0.65 else "on most of it"


def card_of(key: str) -> EyeCard:
    """Look up a card.

    Raises:
        UnknownNameError: If there is none of that name.
    """
    if key not in CARDS:
        raise UnknownNameError("card", key, list(CARDS))
    return CARDS[key]


@lru_cache(maxsize=16)
def _usual_ph(celsius: int) -> tuple[float, ...]:
    return tuple(float(ph) for ph in ferment(Recipe(starter_ph=3.4), steady(celsius), LAST_DAY).ph[:, 0])


def _readings(card: EyeCard, day: int, celsius: int) -> tuple[PhReading, ...]:
    if isinstance(card.ph, tuple):
        return tuple(PhReading(float(at), float(ph)) for at, ph in card.ph)
    if card.ph == NONE:
        return ()
    usual = _usual_ph(celsius)
    days = (0,) if day < 2 else sorted({0, min(day - 1, GATE_LOOK_DAY), day - 1})
    return tuple(PhReading(max(0.2, float(at)), round(usual[min(at, LAST_DAY)], 1)) for at in days)


def posed(key: str, seed: int, box: int = 1) -> EyeQuestion:
    """Pose a card: easy to see in the first box, small and in poor light in the last.

    Args:
        key: Of a card.
        seed: Which one of many.
        box: In which the card stands, from 1.

    Raises:
        UnknownNameError: If there is no such card.
    """
    card, chance = card_of(key), random.Random(f"{key} {seed}")
    hard = min(max(box - 1, 0), BOXES - 1) / (BOXES - 1)
    day, celsius = chance.randint(*card.days), chance.randint(*WARM_C)
    coverage = chance.uniform(0.55 - 0.4 * hard, 0.95 - 0.5 * hard)
    light = "daylight" if chance.random() > 0.2 + 0.6 * hard else chance.choice(("lamp", "window"))
    smell = chance.choice(card.smells)
    readings = _readings(card, day, celsius)
    looks = tuple(SeenLook(day - float(ago), str(surface), (), str(smelled)) for ago, surface, smelled in card.before)
    facts = BrewFacts(
        day=day, mean_c=celsius, now_c=celsius, ph=readings, looks=(*looks, SeenLook(float(day), card.surface, card.signs, smell))
    )
    signs = [card.sign, *card.near]
    chance.shuffle(signs)
    return EyeQuestion(
        card, seed, day, celsius, coverage, chance.choice(card.colours), chance.choice(TEAS), light, chance.choice(VESSELS), smell,
        readings, judge(facts), tuple(signs),
    )  # fmt: skip


def sign_name(sign: str) -> str:
    """Return what a sign is called."""
    return "Its pH, against the days" if sign == BY_PH else OBSERVATIONS[sign].name


def graded(question: EyeQuestion, word: str, sign: str) -> Graded:
    """Grade an answer: carry on or watch for what must be held or discarded is unsafe; one step too careful is safe too.

    Args:
        question: As it was posed.
        word: carry on, watch, hold or discard.
        sign: By what sign.

    Raises:
        ValueError: If the word is no verdict.
    """
    said, is_ = ORDER.index(VerdictWord(word)), ORDER.index(VerdictWord(question.verdict.word))
    if said == is_:
        return Graded.RIGHT if sign == question.card.sign else Graded.SAFE
    if question.verdict.word in {HOLD, DISCARD} and said < ORDER.index(HOLD):
        return Graded.UNSAFE
    return Graded.SAFE if said == is_ + 1 else Graded.WRONG


def said_graver(question: EyeQuestion, word: str) -> bool:
    """Return whether an answer is graver than what is right."""
    return ORDER.index(VerdictWord(word)) > ORDER.index(VerdictWord(question.verdict.word))


def says(question: EyeQuestion, word: str, sign: str) -> str:
    """Put what came of an answer into one sentence."""
    outcome, right = graded(question, word, sign), question.verdict.word.capitalize()
    by_name = sign_name(question.card.sign)
    if outcome == Graded.RIGHT:
        return f"{right} is right."
    if outcome == Graded.UNSAFE:
        return f"Not safe: {question.verdict.word}."
    if outcome == Graded.SAFE and word == question.verdict.word:
        return f"{right} is right, but for another reason: {by_name.lower() if question.card.sign != BY_PH else 'its pH'}."
    if outcome == Graded.SAFE:
        more = {HOLD: "holding", DISCARD: "discarding"}.get(VerdictWord(word), "watching")
        return f"{right} is right; {more} is safe too."
    if right.lower() == CARRY_ON:
        return f"{right} would do: nothing here is to be {'held' if word == HOLD else 'thrown out'}."
    return f"{right} would do here." if said_graver(question, word) else f"{right} is right here."


def why(question: EyeQuestion) -> tuple[str, str]:
    """Return what tells it, and what follows: the entry of the table, or the reason of the rules."""
    reason = question.verdict.reasons[0] if question.verdict.reasons else None
    known = OBSERVATIONS.get(question.card.sign)
    tell = known.tell if known is not None else ""
    follows = reason.sentence if reason is not None else (known.why if known is not None else "")
    return tell, follows
