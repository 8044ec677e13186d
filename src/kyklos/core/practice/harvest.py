"""The palate: a forecast with its band, a taster's point, what was tasted. Taste it, wait, or harvest; scored by regret."""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from ..base import limit
from ..base.errors import UnknownNameError
from ..forecast.answer import Carried, Forecast, carried, forecast
from ..forecast.ask import ForecastAsk, Observation, Prior
from ..forecast.palate import Palate
from ..liquid import Batch, Kinetics, Point, Recipe
from ..liquid.batch import run
from ..liquid.taste import TASTE_SD, TASTE_STEEPNESS, score_word
from ..liquid.temperature import steady
from .regret import UNSAFE_SHARE, Weighed, WeighedChoice, harvest_losses, loss_after_tasting, taste_scores

HARVEST, TASTE, WAIT = "harvest", "taste", "wait"
CHOICES = (HARVEST, TASTE, WAIT)
AHEAD_DAYS = 14  #: So far harvesting is weighed. [d]
SHOWN_DAYS = 26  #: [d]
FIRST_MEMBER = 2  #: Before it stand the likeliest brew, and that a degree warmer.
LATEST_DAY = 20  #: [d]
HIDDEN_SPREAD = 0.22  #: Of ln vigour of the made-up culture. [-]


@dataclass(frozen=True, slots=True)
class HarvestCard:
    """A moment of a brew, from easy to hard."""

    key: str
    name: str
    from_right: float  #: Days from the likely right one until today; below 0 before it. [d]
    celsius: tuple[float, float] = (22.0, 26.0)
    measured: bool = True  #: Whether its pH was read with a meter; else with nothing.
    tasted: bool = True  #: Whether it was tasted two days ago.
    point: tuple[float, float] = (3.4, 4.8)  #: Of the taster. [g/L]
    starter_ph: float = 3.1  #: [pH]
    day: int | None = None  #: Fixed, where it is not told by the right one. [d]


_CARDS = (
    HarvestCard("young", "Young", -5.0),
    HarvestCard("right", "About right", 0.2),
    HarvestCard("past", "Past it", 3.5),
    HarvestCard("nearly", "Nearly", -2.0),
    HarvestCard("unmeasured", "Never measured", -0.5, measured=False, tasted=False),
    HarvestCard("cool", "In the cool", -2.5, celsius=(17.5, 19.5)),
    HarvestCard("sweet-tooth", "For a sweet tooth", 0.5, celsius=(17.0, 18.5), point=(1.9, 2.3), starter_ph=3.5, tasted=False, day=5),
    HarvestCard("unsure", "A wide band", 1.0, measured=False, tasted=True),
)
CARDS: Mapping[str, HarvestCard] = MappingProxyType({card.key: card for card in _CARDS})
DECK = tuple(CARDS)


@dataclass(frozen=True, slots=True)
class HarvestQuestion:
    """A brew on one day, as its brewer knows it."""

    card: HarvestCard
    seed: int
    day: int  #: Today, since the pitch. [d]
    celsius: float  #: [degC]
    point: Point
    ask: ForecastAsk
    seen: tuple[Observation, ...]
    weighed: Weighed
    best_day: int  #: Of waiting. [d since the pitch]
    above_gate: float  #: Chance that it is above the limit today. [-]

    @property
    def window_g_per_l(self) -> tuple[float, float]:
        """Acidity from and to which it tastes right. [g/L]"""
        return Palate(self.point.ta_g_per_l, self.point.sd, TASTE_STEEPNESS, 0).window_g_per_l

    @property
    def forecast(self) -> Forecast:
        """What is foretold of it."""
        return forecast(self.ask)


@lru_cache(maxsize=64)
def posed(key: str, seed: int) -> HarvestQuestion:
    """Pose a card: a made-up brew with a vigour nobody knows, measured and tasted as a brewer would.

    Raises:
        UnknownNameError: If there is no such card.
    """
    if key not in CARDS:
        raise UnknownNameError("card", key, list(CARDS))
    card, chance = CARDS[key], random.Random(f"{key} {seed}")
    celsius = round(chance.uniform(*card.celsius), 1)
    point = Point("", round(chance.uniform(*card.point), 2), 0.15)
    recipe = Recipe(starter_ph=card.starter_ph, starter_fraction=round(chance.uniform(0.08, 0.14), 2))
    batch = Batch(recipe=recipe, course=steady(celsius))
    vigour = [float(np.exp(chance.gauss(0, HIDDEN_SPREAD))) for _ in range(2)]
    true = run(batch, LATEST_DAY + AHEAD_DAYS, kinetics=Kinetics(np.array([vigour[0]]), np.array([vigour[1]])))
    plain = forecast(ForecastAsk(batch=batch, points=(point,), days=SHOWN_DAYS + AHEAD_DAYS))
    likely = plain.ready[""].p50 or float(LATEST_DAY)
    day = card.day if card.day is not None else min(LATEST_DAY, max(2, round(likely + card.from_right)))
    seen = _seen(card, chance, true.day, true.ph[:, 0], true.ta_g_per_l[:, 0], day, point)
    ask = ForecastAsk(batch=batch, observations=seen, prior=Prior(), points=(point,), days=day + AHEAD_DAYS + 2)
    weighed, best, above = weigh(carried(ask), day, point.ta_g_per_l)
    return HarvestQuestion(card, seed, day, celsius, point, ask, seen, weighed, best, above)


def _seen(
    card: HarvestCard, chance: random.Random, days: NDArray[np.float64], ph: NDArray[np.float64], ta: NDArray[np.float64], today: int, point: Point
) -> tuple[Observation, ...]:
    out = []
    if card.measured:
        for at in sorted({0.2, max(1.0, today / 2), max(1.0, today - 1.0)}):
            out.append(Observation(at, "ph", round(float(np.interp(at, days, ph)) + chance.gauss(0, 0.05), 2)))
    if card.tasted and today > 3:
        at = today - 2.0
        score = float(taste_scores(float(np.interp(at, days, ta)), point.ta_g_per_l)) + chance.gauss(0, TASTE_SD)
        out.append(Observation(at, "taste", float(np.clip(round(score), -3, 3)), taster="you", point_g_per_l=point.ta_g_per_l, point_sd=point.sd))
    return tuple(sorted(out, key=lambda one: one.day))


def weigh(out: Carried, today: int, point_g_per_l: float) -> tuple[Weighed, int, float]:
    """Weigh harvesting today, tasting first, and waiting: for the best day, or to taste tomorrow.

    Args:
        out: The brew, member by member.
        today: Since the pitch. [d]
        point_g_per_l: Where the taster likes it. [g/L]

    Returns: The choices; the best day to wait for; the chance of being above the limit of pH today.
    """
    days = np.arange(today, min(today + AHEAD_DAYS, int(out.day[-1])) + 1, dtype=float)
    ta, ph = (_on(days, out.day, each)[:, FIRST_MEMBER:] for each in (out.each_ta, out.each_ph))
    losses = harvest_losses(ta, ph, point_g_per_l, days)
    mean = losses.mean(axis=1)
    above = float((ph[0] > limit("safe_ph")).mean())
    best = 1 + int(mean[1:].argmin())
    scores = taste_scores(ta[:2], point_g_per_l)
    choices = {
        HARVEST: WeighedChoice(HARVEST, float(mean[0]), above),
        TASTE: WeighedChoice(TASTE, loss_after_tasting(losses, scores[0])),
        WAIT: WeighedChoice(WAIT, min(float(mean[best]), loss_after_tasting(losses[1:], scores[1]))),
    }
    return Weighed(choices), int(days[best]), above


def _on(days: NDArray[np.float64], known: NDArray[np.float64], each: NDArray[np.float64]) -> NDArray[np.float64]:
    """Read members on days, straight between those known: shape (days, members)."""
    right = np.clip(np.searchsorted(known, days), 1, len(known) - 1)
    share = ((days - known[right - 1]) / (known[right] - known[right - 1]))[:, None]
    return np.asarray(each[right - 1] * (1 - share) + each[right] * share)


def reason(question: HarvestQuestion) -> str:
    """Return why the wise choice is wise."""
    wise, window = question.weighed.wise, question.forecast.ready[""]
    likely = "" if window.p50 is None else f" It is likely right on day {window.p50:.0f}."
    if question.above_gate >= UNSAFE_SHARE:
        return f"It may still be above pH 4.2: nothing is bottled then.{likely}"
    if wise == HARVEST:
        return "It is as near to right as it will come: each day more takes it past."
    if wise == TASTE:
        early, late = window.p10, window.p90
        wide = f"day {early:.0f} to {late:.0f}" if early is not None and late is not None else "more than a week"
        return f"The band is wide, {wide}: one sip tells more than the model knows."
    return f"Day {question.best_day} is better; today it would still be {score_word(_mean_score(question))}."


def _mean_score(question: HarvestQuestion) -> float:
    out = carried(question.ask)
    today = _on(np.array([float(question.day)]), out.day, out.each_ta)[0, FIRST_MEMBER:]
    return float(taste_scores(today, question.point.ta_g_per_l).mean())
