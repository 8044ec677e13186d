"""Properties of the core that hold for any allowed input."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.base.errors import CoreError
from kyklos.core.bottles.bottle import BottleAsk, bottle_forecast
from kyklos.core.bottles.burping import burp_buys_days
from kyklos.core.bottles.gas import Gas, burp, gauge_of
from kyklos.core.bottles.heard import Heard, vigour_heard
from kyklos.core.forecast import answer
from kyklos.core.forecast.answer import Posterior, forecast
from kyklos.core.forecast.ask import ForecastAsk, Observation, Prior
from kyklos.core.forecast.prior import culture_prior
from kyklos.core.liquid import acids, heat, sweet_tea
from kyklos.core.liquid.batch import Batch, ferment
from kyklos.core.liquid.ferment import CO2, GLUCONIC, MONO, SUCROSE, Recipe
from kyklos.core.liquid.taste import Point
from kyklos.core.liquid.temperature import Course, steady

TEAS = st.sampled_from(["black", "oolong", "green", "white", "pu-erh", "decaf"])
RECIPES = st.builds(
    Recipe,
    tea=TEAS,
    leaf_g_per_l=st.floats(0, 20),
    sugar_g_per_l=st.floats(0, 150),
    honey_share=st.floats(0, 1),
    starter_fraction=st.floats(0.02, 0.6),
    starter_ph=st.floats(2.2, 4.5),
    alkalinity_meq_per_l=st.floats(0, 6),
    vigour=st.floats(0.2, 3),
    surface_per_volume_per_cm=st.floats(0.005, 0.5),
)
quick = settings(max_examples=40, deadline=None)


@given(st.lists(st.tuples(st.floats(0.01, 50), st.floats(0, 100)), min_size=1, max_size=5))
def test_mixing_stays_within_the_range_of_its_parts(parts):
    """A mix is never hotter than its hottest nor colder than its coldest part."""
    celsius = [c for _, c in parts]
    assert min(celsius) - 1e-9 <= heat.mix_temperature(parts) <= max(celsius) + 1e-9


@given(RECIPES, st.floats(0.01, 0.45), st.floats(0.001, 0.4))
@quick
def test_more_starter_never_raises_the_starting_ph(recipe, share, more):
    """A larger share of starter, sourer than the sweet tea, starts at the same pH or lower, with honey too."""
    sour = replace(recipe, starter_ph=min(recipe.starter_ph, 3.0))
    low, high = (acids.start_ph(sour.starter, s, sour.medium, sour.honey_g_per_l) for s in (share, share + more))
    assert high <= low + 1e-6


@given(RECIPES, st.floats(0, 35), st.floats(0, 60), st.floats(0.01, 0.4))
@quick
def test_no_bottle_has_an_impossible_number(recipe, celsius, added, headspace):
    """Any brew, warmth, sugar and headspace give finite pressures, in order, that never fall in the steady warm."""
    start = tuple(ferment(recipe, steady(22), 8).state[8, :, 0])
    ask = BottleAsk(
        start=start,
        added_sugar_g_per_l=added,
        course=steady(celsius),
        headspace_fraction=headspace,
        limit_bar=4,
        days=10,
    )
    out = bottle_forecast(ask)
    assert np.isfinite([out.gauge_bar, out.low_bar, out.high_bar, out.abv_percent]).all()
    assert (out.low_bar <= out.high_bar).all()
    assert (np.diff(out.gauge_bar) >= -1e-9).all()


@given(RECIPES, st.floats(18, 29), st.floats(0.1, 1.0))
@quick
def test_warmer_is_never_later(recipe, celsius, warmer):
    """Between 18 and 30 degC a warmer brew reaches 4 g/L of acid no later."""
    days = []
    for c in (celsius, celsius + warmer):
        over = ferment(recipe, steady(c), 40).ta_g_per_l[:, 0] >= 4.0
        days.append(int(over.argmax()) if over.any() else 99)
    assert days[1] <= days[0]


@given(RECIPES, st.floats(0, 45))
@quick
def test_no_number_is_lost_and_nothing_goes_negative(recipe, celsius):
    """Any allowed recipe at any temperature gives finite, non-negative states and a pH from 1 to 11."""
    out = ferment(recipe, steady(celsius), 40)
    assert np.isfinite(out.state).all()
    assert (out.state >= 0).all()
    assert ((out.ph > 1) & (out.ph < 11)).all()


@given(RECIPES, st.floats(10, 34))
@quick
def test_sugar_and_mass_balances_close(recipe, celsius):
    """Sugar gone is found again: in gas and alcohol, and in gluconic acid, by the yields of the model."""
    out = ferment(recipe, steady(celsius), 30).state[:, :, 0]
    sugar = 1.053 * out[:, SUCROSE] + out[:, MONO]
    fermented, oxidised = out[:, CO2] / (0.9553 * 0.46), (out[:, GLUCONIC] - out[0, GLUCONIC]) / 1.09
    assert sugar + fermented + oxidised == pytest.approx(sugar[0], abs=0.02)


@given(RECIPES, st.floats(0.2, 60))
@quick
def test_parts_sum_to_the_final_volume(recipe, final_l):
    """Starter, water without what the leaf keeps, and the sweetener's room sum to the fill line within 1 mL."""
    made = sweet_tea.amounts(recipe, final_l)
    if made.tea_water_ml > 0:
        total = made.starter_ml + made.tea_water_ml - made.leaf_keeps_ml + made.sweetener_ml
        assert total == pytest.approx(1000 * final_l, abs=1)
    assert sweet_tea.amounts(recipe, 2 * final_l).leaf_g == pytest.approx(2 * made.leaf_g)


@given(st.floats(1, 20), st.floats(0.05, 0.3), st.floats(60, 100), st.floats(3, 22), st.floats(20, 28))
def test_heat_plans_land_on_target_or_say_so(final_l, share, hot_c, cold_c, target_c):
    """A plan mixes to within 0.5 degC of the target, or tells the wait, or says that no wait helps."""
    plan = heat.heat_plan(final_l, share * final_l, 20, hot_c, cold_c, target_c)
    assert plan.hot_l + plan.cold_l + share * final_l == pytest.approx(final_l)
    if plan.wait_hours == 0 and plan.cold_l > 0:
        assert plan.final_c == pytest.approx(target_c, abs=0.5)
    elif plan.wait_hours:
        parts = [(plan.hot_l, plan.pour_c), (plan.cold_l, cold_c), (share * final_l, 20)]
        assert heat.mix_temperature(parts) == pytest.approx(target_c, abs=0.5)


@given(st.floats(2.4, 4.0), TEAS)
def test_starter_ph_and_titration_tell_the_same_acid(ph, tea):
    """Acids read from a pH titrate to a value that reads back as the same acids."""
    where = acids.medium(tea, 6, 0.5)
    starter = acids.starter_from_ph(ph, where)
    ta = float(acids.titrated_acidity(starter.acetic_g_per_l, starter.gluconic_g_per_l, where))
    if starter.acetic_g_per_l > 0 and ta >= 0:
        assert acids.starter_from_titration(ta, where).acetic_g_per_l == pytest.approx(
            starter.acetic_g_per_l, rel=1e-3, abs=1e-3
        )


@given(
    st.lists(st.floats(3.0, 4.2), max_size=4), st.sampled_from(["meter", "strip", "uncalibrated"]), st.integers(-3, 3)
)
@quick
def test_any_readings_give_a_finite_ordered_forecast(values, instrument, taste):
    """Whatever is read, quantiles are finite and in order, and equal questions have equal answers."""
    seen = (
        *tuple(Observation(i + 1.0, "ph", v, instrument) for i, v in enumerate(values)),
        Observation(5, "taste", taste),
    )
    ask = ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(24)), observations=seen)
    out = forecast(ask)
    for band in (out.ph, out.ta_g_per_l, out.sugar_g_per_l, out.abv_percent):
        assert np.isfinite(band.p50).all()
        assert (band.p10 <= band.p50 + 1e-9).all()
        assert (band.p50 <= band.p90 + 1e-9).all()
    answer.forget()
    assert np.array_equal(forecast(ask).ph.p50, out.ph.p50)


def test_readings_narrow_the_window_and_move_it():
    """Readings along the likely course narrow the window; a sourer one brings it nearer."""
    points = (Point("", 4.0),)
    bare = forecast(ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(24)), points=points))
    as_told = tuple(Observation(d, "ph", round(float(np.interp(d, bare.day, bare.ph.p50)), 2)) for d in (2.0, 4.0, 5.0))
    told = forecast(
        ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(24)), points=points, observations=as_told)
    ).ready[""]
    sour = tuple(Observation(o.day, "ph", o.value - 0.25) for o in as_told)
    soon = forecast(
        ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(24)), points=points, observations=sour)
    ).ready[""]
    assert told.p90 - told.p10 < 0.8 * (bare.ready[""].p90 - bare.ready[""].p10)
    assert soon.p50 < told.p50 - 0.5


def test_a_taste_moves_the_forecast_as_a_reading_does():
    """A brew tasted sourer than expected is nearer, one tasted sweeter is farther."""
    days = [
        forecast(
            ForecastAsk(
                batch=Batch(recipe=Recipe(), course=steady(24)),
                observations=(Observation(6, "taste", t, taster="a"),),
                points=(Point("a", 4.0),),
            )
        )
        .ready["a"]
        .p50
        for t in (-2, 0, 2)
    ]
    assert days[0] > days[1] > days[2]


def test_ready_waits_for_a_sign_of_life():
    """A brew that starts sour from its starter alone is not ready on day 0."""
    out = forecast(
        ForecastAsk(
            batch=Batch(recipe=Recipe(starter_fraction=0.5, starter_ph=2.6), course=steady(24)),
            points=(Point("", 1.0),),
        )
    )
    assert out.ready[""].p10 > 0.3


def test_a_culture_is_expected_as_its_last_brews_went():
    """Vigorous past brews raise the prior and narrow it; a new culture is typical and wide."""
    fast = Posterior(1.6, 1.5, 0.12, 0.1)
    learned, new = culture_prior("sugar", (fast, fast, fast)), culture_prior("sugar", ())
    assert learned.bacteria_vigour > 1.25
    assert learned.spread < new.spread
    assert new == Prior(1.0, 1.0, new.spread)


@given(st.floats(0.7, 3), st.floats(4, 30), st.floats(0.02, 0.2))
def test_a_burp_lowers_pressure_to_none_and_keeps_most_gas(volumes, celsius, headspace):
    """Burping takes a little gas and most of the air; the liquid fills the headspace again below what it was."""
    before = Gas(volumes)
    over = gauge_of(before, celsius, celsius, headspace)
    after = burp(before, celsius, celsius, headspace)
    assert gauge_of(after, celsius, celsius, headspace) < over
    assert 0.6 * volumes < after.co2_volumes < volumes
    assert after.air_atm < 1


def test_burping_at_two_bar_takes_about_four_percent():
    """At 5 % headspace and 2 bar a burp takes about 4 % of the gas and most of the air."""
    after = burp(Gas(1.78), 20, 20, 0.05)
    assert after.co2_volumes / 1.78 == pytest.approx(0.96, abs=0.02)
    assert after.air_atm < 0.4


def test_pressure_creeps_in_the_fridge_and_runs_in_the_warm():
    """A warm bottle has a chill-by day before the day it could pass its limit; a cold one still creeps up."""
    start = tuple(ferment(Recipe(starter_ph=3.0), steady(24), 9).state[9, :, 0])
    warm = bottle_forecast(BottleAsk(start=start, added_sugar_g_per_l=8, course=steady(23), limit_bar=4))
    cold = bottle_forecast(BottleAsk(start=start, added_sugar_g_per_l=8, course=steady(4), limit_bar=4))
    assert warm.chill_by_day < warm.passes_limit_day
    assert cold.passes_limit_day is None
    assert cold.gauge_bar[-1] > cold.gauge_bar[0]
    assert warm.ceiling_bar > 4
    assert (
        "sparkling"
        not in bottle_forecast(
            BottleAsk(start=start, added_sugar_g_per_l=8, course=steady(23), limit_bar=2.5)
        ).target_days
    )


def test_a_loud_brother_brings_chill_by_nearer_and_a_silent_one_farther():
    """A hiss louder than foretold raises the vigour of the brothers, a silent one lowers it."""
    start = tuple(ferment(Recipe(starter_ph=3.0), steady(24), 9).state[9, :, 0])
    ask = BottleAsk(start=start, added_sugar_g_per_l=4, course=steady(22), limit_bar=4)
    learned = [vigour_heard(ask, [Heard(ask, 3.0, hiss)])[0] for hiss in (0, 1, 3, 4)]
    assert learned[1:] == sorted(learned[1:])
    assert learned[0] < 0.95 < 1.05 < learned[-1]


def test_a_burp_buys_about_a_day():
    """In the warm a burped bottle is as high again within a day or two."""
    start = tuple(ferment(Recipe(starter_ph=3.0), steady(24), 9).state[9, :, 0])
    ask = BottleAsk(start=start, added_sugar_g_per_l=4, course=steady(22), limit_bar=4)
    assert 0.25 <= burp_buys_days(ask, 3.0) <= 3


def test_a_gravity_reading_teaches_the_yeast():
    """A gravity below what was foretold says the yeast is quicker, one above that it is slower."""
    vigours = [
        forecast(
            ForecastAsk(
                batch=Batch(recipe=Recipe(), course=steady(24)), observations=(Observation(8, "gravity", gravity),)
            )
        ).posterior.yeast_vigour
        for gravity in (1.010, 1.020, 1.023)
    ]
    assert vigours == sorted(vigours, reverse=True)


def test_a_dried_starter_is_slower_than_a_fresh_one():
    """A dried disc or a bottle carries less life than a finished brew, a hotel's liquid fewer yeasts."""
    acids_by_kind = {
        kind: float(ferment(Recipe(starter_kind=kind), steady(24), 10).ta_g_per_l[10, 0])
        for kind in ("fresh", "dried", "bottle", "hotel")
    }
    assert acids_by_kind["dried"] == acids_by_kind["bottle"] < acids_by_kind["fresh"]


@pytest.mark.parametrize(
    "make",
    [
        lambda: Course((), None),
        lambda: Course(((2.0, 20.0), (1.0, 20.0))),
        lambda: Recipe(tea="nettle"),
        lambda: Recipe(starter_fraction=float("nan")),
        lambda: acids.medium((("black", 0.4),), 6, 0.5),
        lambda: heat.mix_temperature([]),
        lambda: Prior(spread=0),
        lambda: Observation(1, "ph", 15),
    ],
)
def test_impossible_values_are_refused_at_birth(make):
    """A value that cannot be is refused with a sentence, not carried on."""
    with pytest.raises(CoreError, match=r"[a-z]"):
        make()
