"""A wolf is cried neither too often nor too late: five hundred normal brews, and five hundred spoiled or dead ones."""

import numpy as np
import pytest

from kyklos.core.judging.safety import BrewFacts, PhReading, SeenLook, judge
from kyklos.core.liquid.batch import Batch, run
from kyklos.core.liquid.ferment import BACTERIA, YEAST, Kinetics, Recipe, start_state
from kyklos.core.liquid.temperature import steady

READ_ON = (0.1, 3.0, 5.0, 7.2, 10.0)
JUDGED_ON = (1.0, 4.0, 6.0, 8.0, 10.5, 12.0)


def normal(rng):
    """Twenty-five recipes in rooms of 20 to 27 degC, twenty cultures each: pH on the days on which it is read, shape (500, 5)."""
    out = []
    for _ in range(25):
        recipe = Recipe(
            starter_fraction=float(rng.uniform(0.1, 0.2)),
            starter_ph=float(rng.uniform(2.9, 3.4)),
            sugar_g_per_l=float(rng.uniform(45, 80)),
            leaf_g_per_l=float(rng.uniform(4, 8)),
        )
        state = start_state(recipe, 20)
        state[YEAST], state[BACTERIA] = (np.minimum(1, state[i] * np.exp(rng.normal(0, 0.3, 20))) for i in (YEAST, BACTERIA))
        k = Kinetics(np.exp(rng.normal(0, 0.25, 20)), np.exp(rng.normal(0, 0.25, 20)))
        course = run(Batch(recipe=recipe, course=steady(float(rng.uniform(20, 27)))), 12, start=state, kinetics=k)
        out.append(np.array([np.interp(READ_ON, course.day, course.ph[:, i]) for i in range(20)]))
    return np.concatenate(out)


def spoiled(rng):
    """A fifth each: dead and sour, dead and sweet, too slow, acid eaten from the fifth day on, never sour at all."""
    day, many = np.array(READ_ON), 100
    sour, sweet, high = (rng.uniform(*ends, (many, 1)) for ends in ((3.5, 4.15), (4.35, 4.5), (4.6, 5.3)))
    eaten = rng.uniform(3.5, 4.0, (many, 1)) + np.maximum(0, day - 5) * rng.uniform(0.12, 0.3, (many, 1))
    slow = sweet - 0.01 * day * rng.uniform(0, 1, (many, 1))
    return np.concatenate([sour - 0.005 * day, sweet - 0.005 * day, slow, eaten, high - 0.02 * day])


def words(true, by, rng, judged_on=JUDGED_ON, looks=()):
    """Judge a brew on some days, from what was read and seen until then."""
    if by == "meter":
        read = np.round(true + rng.normal(0, 0.03) + rng.normal(0, 0.04, len(true)), 2)
    else:
        read = np.round((true + rng.normal(0, 0.25, len(true))) * 2) / 2
    told = [PhReading(day, float(ph), by) for day, ph in zip(READ_ON, read, strict=True)]
    out = []
    for day in judged_on:
        verdict = judge(
            BrewFacts(
                day=day,
                mean_c=23.0,
                now_c=23.0,
                ph=tuple(r for r in told if r.day <= day),
                looks=tuple(look for look in looks if look.day <= day),
            )
        )
        out.append((verdict.word, tuple(reason.key for reason in verdict.reasons)))
    return out


@pytest.mark.parametrize(("by", "most"), [("meter", 0.02), ("strip", 0.05)])
def test_normal_brews_are_hardly_ever_held_and_never_discarded(by, most):
    """Read on five days, and two in three looked at on day 6, when a new skin shows: by a meter 2 % ever held, by strips 5 %."""
    rng = np.random.default_rng(5)
    skin = (SeenLook(5.9, "skin"),)
    told = [words(true, by, rng, looks=skin if i % 3 else ()) for i, true in enumerate(normal(rng))]
    assert not [keys for brew in told for word, keys in brew if word == "discard"]
    held = [keys for brew in told for word, keys in brew if word == "hold"]
    ever = sum(any(word == "hold" for word, _ in brew) for brew in told)
    assert ever <= most * len(told), held[:20]


def test_no_spoiled_or_dead_brew_is_carried_on_past_day_ten():
    """Read by a meter: each is held or thrown out by then, or at least watched."""
    rng = np.random.default_rng(6)
    told = [words(true, "meter", rng, (10.5,))[0] for true in spoiled(rng)]
    assert len(told) == 500
    assert not [one for one in told if one[0] == "carry on"]
