"""Advice that pages only show: what to do with a bottle, whether a mix may be started, what an over-sour brew is for."""

from types import SimpleNamespace

import pytest

from kyklos.core.base.facts import SWEETENERS
from kyklos.core.base.kinds import BottleState, Diet, DueKind
from kyklos.core.bottles.advice import (
    PRESSING,
    BottleStep,
    advise,
    alcohol_range,
    burp_is_worth_telling,
    fizz_word,
    in_a_week,
    may_be_past,
    nearness,
    would_hold,
)
from kyklos.core.brewing.away import gate_is_open
from kyklos.core.brewing.measures import leaf_g, sugars_g, two_shares
from kyklos.core.brewing.pitch_check import check
from kyklos.core.brewing.salvage import is_called_for
from kyklos.core.forecast.hindsight import Moved
from kyklos.core.liquid import teas
from kyklos.core.liquid.sweet_tea import SPOONS_PER_CUP


def future(*, high=1.0, chill=None, passes=None, rise=0.0):
    """A bottle's future: pressure now and a week on, and its days."""
    return SimpleNamespace(
        at=lambda day: (high / 2, high * 0.8 + rise * day, high + rise * day),
        chill_by_day=chill,
        passes_limit_day=passes,
        passes_warm_day=None,
    )


@pytest.mark.parametrize(
    "told, state, limit_bar, step",
    [
        (future(), "warm", 0.0, BottleStep.LOOSE),
        (future(), "cold", 0.0, BottleStep.LOOSE),
        (future(), "cold", 4.0, BottleStep.COLD),
        (future(passes=40.1), "cold", 4.0, BottleStep.COLD),
        (future(passes=39.9), "cold", 4.0, BottleStep.CREEPS),
        (future(high=4.0, chill=3), "warm", 4.0, BottleStep.PAST),
        (future(high=3.9, chill=9.9), "warm", 4.0, BottleStep.NOW),
        (future(chill=10.0), "warm", 4.0, BottleStep.NOW),
        (future(chill=10.75), "warm", 4.0, BottleStep.TODAY),
        (future(chill=10.8), "warm", 4.0, BottleStep.BY),
        (future(), "warm", 4.0, BottleStep.FAR),
    ],
)
def test_a_bottle_is_told_what_to_do_by_where_it_is_and_how_near(told, state, limit_bar, step):
    """On day 10: the gravest thing first, chilling by its day, and what is not made for pressure never closed."""
    found = advise(told, state, limit_bar, 10.0)
    assert found.step == step
    assert found.pressing == (step in PRESSING)
    assert found.pressing == (step in {BottleStep.CREEPS, BottleStep.PAST, BottleStep.PAST_COLD, BottleStep.NOW, BottleStep.TODAY})


def test_a_week_on_and_what_a_burp_is_worth():
    """Over the limit is told at the limit itself; a burp is told only at room temperature and while it could help."""
    told = future(high=3.0, rise=0.2)
    assert in_a_week(told, 4.4, 0.0) == (pytest.approx(3.8), pytest.approx(4.4), True)
    assert burp_is_worth_telling(told, BottleState.WARM, 2.3, 0.0)
    assert not burp_is_worth_telling(told, BottleState.WARM, 2.2, 0.0)
    assert not burp_is_worth_telling(told, BottleState.COLD, 4.0, 0.0)
    assert may_be_past(future(high=4.0), "warm", 4.0, 1.0)
    assert not may_be_past(future(high=4.0), "cold", 4.0, 1.0)
    assert not may_be_past(future(high=4.0), "warm", 0.0, 1.0)


def test_words_for_gas_and_the_range_of_alcohol():
    """Each word begins at its own figure; alcohol is a range and never told as none."""
    assert [fizz_word(v) for v in (2.8, 2.79, 2.2, 1.5, 0.9, 0.0)] == [
        "sparkling", "lively", "lively", "soft", "a little gas", "still",
    ]  # fmt: skip
    assert alcohol_range(0.01) == (0.1, 0.1)
    order = sorted(
        [(True, 1.0, 4.0), (False, 3.9, 4.0), (False, 1.0, 4.0), (True, 0.5, 0.0)], key=lambda g: nearness(*g)
    )
    assert order == [(True, 1.0, 4.0), (True, 0.5, 0.0), (False, 3.9, 4.0), (False, 1.0, 4.0)]


@pytest.mark.parametrize(
    "celsius, ph, instrument, word, part",
    [
        (32.1, 4.0, "meter", "hold", "Above 32"),
        (32.0, 4.0, "meter", "watch", "Best is 18 to 30"),
        (17.9, 4.0, "meter", "watch", "Best is"),
        (24.0, None, "meter", "watch", "Not measured"),
        (24.0, 4.51, "meter", "hold", "Above pH 4.5"),
        (24.0, 4.3, "strip", "watch", "at the edge of 4.5"),
        (24.0, 4.2, "meter", "carry on", "low enough"),
        (None, 4.2, "meter", "carry on", "low enough"),
    ],
)
def test_a_mix_is_judged_before_the_culture_goes_in(celsius, ph, instrument, word, part):
    """Heat harms first, then comes the pH; what cannot settle a limit says so."""
    found, why = check(celsius, ph, instrument)
    assert found == word
    assert part in why.words(lambda value, kind: f"{value:g}")


def test_small_rules():
    """The gate is answered by a low reading from day 6 on; other uses are told when it is a quarter too sour; diets have another."""
    assert gate_is_open([(5.9, 3.9), (6.5, 4.3)])
    assert not gate_is_open([(6.0, 4.2)])
    assert is_called_for(DueKind.HARVEST, 5.0, 4.0)
    assert not is_called_for(DueKind.HARVEST, 4.99, 4.0)
    assert not is_called_for(DueKind.SALVAGE, 9.0, 0.0)
    assert not is_called_for(DueKind.TASTE, 9.0, 4.0)
    assert (Diet.JUN.other, Diet.SUGAR.other) == (Diet.SUGAR, Diet.JUN)


def test_amounts_in_cups_spoons_and_bags_weigh_what_they_should():
    """Sugar in cups, leaf in bags: weighed by kind; honey gives fewer sugars; two sweeteners share by their sugars."""
    assert two_shares("black", "", 30) == [("black", 1.0)]
    assert two_shares("black", "black", 30) == [("black", 1.0)]
    assert two_shares("black", "green", 100) == [("green", 1.0)]
    assert sugars_g(100, "mass", [("sugar", 1.0)]) == pytest.approx(100 * SWEETENERS["sugar"].sugars)
    assert sugars_g(1, "cups", [("sugar", 1.0)]) == pytest.approx(
        SWEETENERS["sugar"].g_per_cup * SWEETENERS["sugar"].sugars
    )
    honey, half = sugars_g(100, "mass", [("honey", 1.0)]), sugars_g(100, "mass", [("sugar", 0.5), ("honey", 0.5)])
    assert honey < half < 100
    assert leaf_g(10, "bags", "black") == 10 * teas.grams_each("black")[1]
    assert leaf_g(10, "bags", "black", g_per_bag=3.0) == 30.0
    assert leaf_g(1, "cups", "black", g_per_spoon=2.0) == SPOONS_PER_CUP * 2.0
    assert leaf_g(12, "mass", "black") == 12


def test_bottles_that_would_hold_are_the_strong_ones():
    """Warmer needs stronger glass; still beer is held by all that are made for pressure; none holds all in great heat."""
    assert set(would_hold("sparkling", 22, 0.04)) < set(would_hold("soft", 22, 0.04))
    assert set(would_hold("sparkling", 30, 0.04)) <= set(would_hold("sparkling", 20, 0.04))
    assert would_hold("sparkling", 20, 0.04)


def test_what_a_reading_moved_is_told_only_where_it_is_enough():
    """Under about four hours it did not change the forecast; a window that cannot be known has not narrowed."""
    assert Moved(0.14, 2.0, 1.9).shift == 0.0
    assert Moved(0.14, 2.0, 1.9).narrowed == 0.0
    assert Moved(-0.5, 2.0, 2.5).shift == -0.5
    assert Moved(-0.5, 2.0, 2.5).narrowed == -0.5
    assert Moved(0.5, None, 2.5).narrowed == 0.0
