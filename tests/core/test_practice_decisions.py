"""Practice: the palate and the clock. The wise choice is that of the least mean loss, by trying all; regret is never negative."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from kyklos.core.base.facts import BOTTLES
from kyklos.core.bottles.bottle import TARGETS, run_of
from kyklos.core.forecast.answer import carried
from kyklos.core.practice import clock, harvest
from kyklos.core.practice.regret import (
    ASK_LOSS,
    BURST_LOSS,
    GATE_LOSS,
    TASTE_CUTS,
    WAIT_LOSS,
    Weighed,
    WeighedChoice,
    bottle_losses,
    harvest_losses,
    loss_after_asking,
    loss_after_tasting,
)

positive = st.floats(0.1, 12)


@given(arrays(float, (4, 6), elements=positive), arrays(float, (4, 6), elements=st.floats(2.5, 5)), st.floats(1.5, 6))
def test_the_loss_of_a_harvest_is_the_handbooks_sum_member_by_member(ta, ph, point):
    """A score's square, four above the gate, two hundredths a day: added up one by one."""
    days = np.array([5.0, 6.0, 7.0, 8.0])
    losses = harvest_losses(ta, ph, point, days)
    for day in range(4):
        for member in range(6):
            score = min(3.0, max(-3.0, 4 * np.log(ta[day, member] / point)))
            assert losses[day, member] == pytest.approx(score**2 + GATE_LOSS * (ph[day, member] > 4.2) + WAIT_LOSS * day)


@given(arrays(float, (5, 4), elements=st.floats(0, 5)), arrays(float, (5, 4), elements=st.floats(0, 8)))
def test_a_bottle_past_its_limit_once_is_lost_for_good(gas, bar):
    """Ten from the day on which it was past; before, the square of what fizz lacks."""
    losses = bottle_losses(gas, bar, 4.0, 2.2)
    for day in range(5):
        for member in range(4):
            past = (bar[: day + 1, member] >= 4.0).any()
            assert losses[day, member] == pytest.approx(BURST_LOSS if past else (gas[day, member] - 2.2) ** 2)


@settings(max_examples=25)
@given(arrays(float, (4, 12), elements=st.floats(0, 9)), arrays(float, 12, elements=st.floats(-3, 3)))
def test_asking_first_is_worth_what_trying_every_answer_says(losses, scores):
    """By simulating tastes and choosing the best day for each answer, the same mean loss comes out."""
    chance = np.random.default_rng(5)
    told = np.digitize(scores[:, None] + chance.normal(0, 0.9, (12, 20_000)), TASTE_CUTS)
    brute = 0.0
    for word in range(7):
        weight = (told == word).mean(axis=1)
        brute += min(float(losses[day] @ weight) for day in range(4)) / 12
    assert loss_after_tasting(losses, scores) - ASK_LOSS == pytest.approx(brute, abs=0.03)


@given(arrays(float, (4, 8), elements=st.floats(0, 9)), arrays(float, 8, elements=st.floats(0, 4)))
def test_knowing_more_never_costs(losses, signal):
    """An answer, however noisy, never makes the best choice worse; a useless one changes nothing."""
    least = losses.mean(axis=1).min()
    assert loss_after_asking(losses, signal, (1.0, 2.0), 0.3) <= least + 1e-9
    assert loss_after_asking(losses, np.ones(8), (1.0,), 0.3) == pytest.approx(least)


@given(st.dictionaries(st.sampled_from("abcde"), st.tuples(st.floats(0, 10), st.floats(0, 0.2)), min_size=1))
def test_the_wise_choice_is_safe_where_one_is_and_has_no_regret(told):
    """It is never one that is not safe while another is; nothing safe costs clearly less; no regret is negative."""
    weighed = Weighed({key: WeighedChoice(key, loss, unsafe) for key, (loss, unsafe) in told.items()})
    wise, safe = weighed.choices[weighed.wise], [c for c in weighed.choices.values() if c.unsafe < 0.05]
    assert not safe or wise.unsafe < 0.05
    assert wise.loss <= min(c.loss for c in (safe or weighed.choices.values())) + 0.02 + 1e-12
    assert all(weighed.regret(key) >= 0 for key in told)
    assert weighed.outcome(weighed.wise) == ("right" if wise.unsafe < 0.05 else "unsafe")
    assert all(weighed.outcome(c.key) == "unsafe" for c in weighed.choices.values() if c.unsafe >= 0.05)


@pytest.mark.parametrize("key", harvest.DECK)
def test_waiting_and_harvesting_are_weighed_as_by_trying_every_day(key):
    """By the members of the forecast itself, day by day: what harvesting today costs, and which day is best to wait for."""
    for seed in (1, 2):
        q = harvest.posed(key, seed)
        out, means = carried(q.ask), []
        for day in range(q.day, min(q.day + harvest.AHEAD_DAYS, int(out.day[-1])) + 1):
            total = 0.0
            for member in range(2, out.each_ta.shape[1]):
                ta, ph = (float(np.interp(day, out.day, each[:, member])) for each in (out.each_ta, out.each_ph))
                score = min(3.0, max(-3.0, 4 * np.log(ta / q.point.ta_g_per_l)))
                total += score**2 + GATE_LOSS * (ph > 4.2) + WAIT_LOSS * (day - q.day)
            means.append(total / (out.each_ta.shape[1] - 2))
        assert q.weighed.choices["harvest"].loss == pytest.approx(means[0])
        assert q.best_day == q.day + 1 + int(np.argmin(means[1:]))
        assert q.weighed.choices["wait"].loss <= min(means[1:]) + 1e-9
        assert harvest.reason(q)


def test_the_cards_of_the_palate_teach_all_three_choices():
    """Among their seeds each of taste, wait and harvest is wise somewhere; what is long past is never waited for."""
    wise = {harvest.posed(key, seed).weighed.wise for key in ("young", "past", "unmeasured") for seed in range(4)}
    assert wise == {"taste", "wait", "harvest"}
    assert all(harvest.posed("past", seed).weighed.outcome("wait") == "wrong" for seed in range(4))


@pytest.mark.parametrize("key", clock.DECK)
def test_a_bottle_is_weighed_as_by_trying_every_day(key):
    """By the members of the bottle's own forecast: what chilling today costs, and which day is best when it is left."""
    q = clock.posed(key, 2)
    out, limit_bar, wished = run_of(q.ask), BOTTLES[q.card.kind].limit_bar, TARGETS[q.card.wish]
    rows = [int(np.searchsorted(out.day, day + 1e-6, side="right")) - 1 for day in range(q.day, q.day + clock.AHEAD_DAYS + 1)]
    means = []
    for number in range(len(rows)):
        losses = [
            BURST_LOSS if (out.bar[rows[: number + 1], member] >= limit_bar).any() else (out.gas[rows[number], member] - wished) ** 2
            for member in range(1, out.gas.shape[1])
        ]
        means.append(float(np.mean(losses)))
    assert q.weighed.choices["chill"].loss == pytest.approx(means[0] + (ASK_LOSS if q.card.cold else 0.0))
    assert q.best_day == q.day + 1 + int(np.argmin(means[1:]))
    assert clock.reason(q)


def test_what_the_house_chills_is_never_left_in_play():
    """Where by tomorrow the band comes near what a bottle holds, leaving it is unsafe, whatever the fizz; nothing posed is past its limit."""
    for key in ("edge", "thin"):
        for seed in range(5):
            assert clock.posed(key, seed).weighed.outcome("leave") == "unsafe"
    for key in clock.DECK:
        q = clock.posed(key, 1)
        assert q.weighed.choices["open"].unsafe < 0.05  # what may be past its limit is not handled, nor asked about
