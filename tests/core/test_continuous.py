"""The tapped vessel: where it settles, how much it can give, against a table made apart; what holds for any draw."""

import csv
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.calc import CalcError, answer
from kyklos.core.liquid.ferment import BACTERIA, YEAST, Recipe
from kyklos.core.liquid.liquid import sweet_tea_of
from kyklos.core.tapped import cycle as continuous

ROWS = list(csv.DictReader((Path(__file__).parent / "reference" / "continuous.csv").open()))
NAMES = (
    "leaf_g_per_l", "sugar_g_per_l", "honey_share", "vigour", "alkalinity_meq_per_l", "surface_per_volume_per_cm",
    "bacteria_staying", "yeast_staying",
)  # fmt: skip


def question(row, **more):
    """A row of the table as it is asked."""
    told = {name: float(row[name]) for name in NAMES} | {"tea": row["tea"]}
    return {
        "temperature_c": float(row["temperature_c"]), "share": float(row["share_drawn"]), "every_days": float(row["every_days"]),
        **told, **more,
    }  # fmt: skip


@pytest.mark.parametrize("row", ROWS, ids=[f"{r['temperature_c']}-{r['share_drawn']}-{r['every_days']}-{i}" for i, r in enumerate(ROWS)])
def test_it_settles_where_the_table_says(row):
    """Acidity, pH, sugar, alcohol, bacteria and yeast at the draw within 1 %, and the largest share to a hundredth."""
    out = answer("continuous", question(row))
    steady = out["steady"]
    for name, there in (
        ("ta_before_g_per_l", "ta_before_g_per_l"), ("ph_before", "ph_before"), ("ta_after_g_per_l", "ta_after_topup_g_per_l"),
        ("ph_after", "ph_after_topup"), ("sugar_before_g_per_l", "sugar_before_g_per_l"), ("abv_before", "abv_before"),
        ("bacteria_before", "bacteria_before"), ("yeast_before", "yeast_before"),
    ):  # fmt: skip
        assert steady[name] == pytest.approx(float(row[there]), rel=0.01)
    assert out["sustainable_share"] == pytest.approx(float(row["most_share_for_ta4_ph4.2"]), abs=0.0101)
    assert out["least_share"] is None


def test_a_point_of_four_at_24_degrees_every_three_days_gives_what_is_advised():
    """About a third to nearly a half, so that no pH after topping up is needed."""
    found = continuous.reach(continuous.CycleAsk(recipe=Recipe(), celsius=24.0, every_days=3.0), 4.0, 5.0)
    assert (found.least, found.most) == (pytest.approx(0.39, abs=0.03), pytest.approx(0.46, abs=0.01))
    assert continuous.advised(found.most, measures_after=False) == found.most


shares, days = st.floats(0.02, 0.9), st.sampled_from([1.0, 2.0, 3.5, 7.0])


@settings(max_examples=40)
@given(shares, st.floats(0, 1), st.floats(0, 1))
def test_a_draw_and_its_top_up_balance_every_part(share, bacteria, yeast):
    """What is dissolved is what stayed and what came; of bacteria and yeast what sits stays, and none is made of nothing."""
    state = np.array([20.0, 15.0, 3.0, 4.0, 1.0, 0.9, 0.8, 0.0])[:, None]
    fresh = sweet_tea_of(Recipe())
    out = continuous.drawn_and_topped(state, np.array([share]), fresh.state, bacteria, yeast)
    plain = [row for row in range(8) if row not in (BACTERIA, YEAST)]
    assert out[plain, 0] == pytest.approx((1 - share) * state[plain, 0] + share * fresh.state[plain])
    for row, staying in ((BACTERIA, bacteria), (YEAST, yeast)):
        assert staying * state[row, 0] - 1e-9 <= out[row, 0] <= state[row, 0] + 1e-9
        assert out[row, 0] == pytest.approx(state[row, 0] * (1 - share * (1 - staying)))


@settings(max_examples=12, deadline=None)
@given(st.floats(0.1, 0.4), st.floats(20, 27))
def test_more_often_and_less_stays_nearer_the_point(share, celsius):
    """As many litres a week in twice as many draws: acidity swings less between a draw and the next."""
    seldom = continuous.settle(continuous.CycleAsk(recipe=Recipe(), celsius=celsius, every_days=6.0), np.array([share]))
    often = continuous.settle(continuous.CycleAsk(recipe=Recipe(), celsius=celsius, every_days=3.0), np.array([share / 2]))
    swings = [float((one.ta_before - one.ta_after)[0]) for one in (seldom, often)]
    assert swings[1] < swings[0]


@settings(max_examples=10, deadline=None)
@given(st.floats(0.1, 0.6), days)
def test_the_course_drifts_to_where_it_settles(share, every):
    """Computed from event to event over months, what stands at a draw is the steady cycle's."""
    share = min(share, 0.2 * every)  # more is washed out, and takes for ever to get there
    ask = continuous.CycleAsk(recipe=Recipe(), celsius=24.0, every_days=every)
    far = 10 + 120 * every
    out = continuous.course(ask, share, 8.0, far)
    before = out.ta_g_per_l[(out.day >= far - 1e-9)][0, 0]
    assert before == pytest.approx(float(continuous.settle(ask, np.array([share])).ta_before[0]), rel=0.01)


def test_what_cannot_be_asked_is_named():
    """A sour limit below the point, a share above the most that is looked for, an unknown key."""
    row = question(ROWS[0])
    for wrong, name in (({"sour_g_per_l": 3.0}, "sour_g_per_l"), ({"share": 1.2}, "share"), ({"litres": 3}, "litres")):
        with pytest.raises(CalcError, match=name):
            answer("continuous", row | wrong)


def test_the_least_share_keeps_it_from_turning_sour():
    """Below it the settled acidity is at or above the sour limit, from it on below."""
    ask = continuous.CycleAsk(recipe=Recipe(), celsius=24.0, every_days=3.0)
    least = continuous.reach(ask, 4.0, 6.0).least
    sour = continuous.settle(ask, np.array([least - 0.01, least])).ta_before
    assert sour[0] >= 6.0 > sour[1]


def test_every_share_to_a_hundredth_is_looked_at_from_a_sip_to_nearly_all():
    """Shares begin at the first step, end at the most that is drawn, and leave none out."""
    assert continuous.EVERY_SHARE[0] == continuous.SHARE_STEP
    assert continuous.EVERY_SHARE[-1] == continuous.MOST_SHARE
    assert np.diff(continuous.EVERY_SHARE) == pytest.approx(continuous.SHARE_STEP)
