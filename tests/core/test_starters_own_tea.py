"""A starter is read in its own tea and water, and what is too little or too weak is met with plain choices."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from kyklos.core.base.kinds import KindOfBrew
from kyklos.core.base.water import Water
from kyklos.core.brewing.planner import PlanAsk, StarterTold, VesselFacts, make_plan
from kyklos.core.brewing.portions import instrument_sd
from kyklos.core.brewing.recipe_card import RecipeCard
from kyklos.core.calc import answer
from kyklos.core.forecast.answer import forecast
from kyklos.core.forecast.ask import ForecastAsk
from kyklos.core.liquid.acids import TeaAndWater, medium, ph, poured_together
from kyklos.core.liquid.batch import Batch
from kyklos.core.liquid.ferment import Recipe
from kyklos.core.liquid.temperature import steady
from kyklos.core.why import why_start_ph, why_starter

HARD = RecipeCard(leaf_g_per_l=6.0, water=Water("well", 4.0))
GALLON = VesselFacts(nominal_l=4.4, line_l=3.8)
CUP_L = 0.2366


def bottle(litres=2.0, **told):
    """A friend's or a shop's liquid of which nothing but a pH is known."""
    return StarterTold(key="other", name="the raw bottle", left_l=litres, **told)


def said(plan):
    """A plan's notes in words, volumes in cups."""
    return " ".join(note.words(lambda value, kind: f"{value / CUP_L:.2f} cups") for note in plan.notes)


def test_a_bought_starter_in_hard_water_starts_where_it_really_does():
    """pH 3.2 at 10 % into water of 4 meq/L starts at 4.86 by calc and by brew day; read in the new water it looked like 4.39."""
    asked = {"starter_ph": 3.2, "starter_fraction": 0.1, "alkalinity_meq_per_l": 4.0}
    assert answer("start-ph", asked)["start_ph"] == pytest.approx(4.39, abs=0.005)
    assert answer("start-ph", {**asked, "starter_alkalinity_meq_per_l": 0.5})["start_ph"] == pytest.approx(
        4.86, abs=0.005
    )
    card = replace(HARD, share=0.1)
    plan = make_plan(PlanAsk(card=card, vessel=GALLON, starters=(bottle(ph=3.2, instrument="meter"),)))
    assert plan.start_ph == pytest.approx(4.86, abs=0.005)
    assert plan.recipe.starter_in == TeaAndWater("black", 6.0, 0.5)
    assert why_start_ph(plan.recipe).value() == pytest.approx(plan.start_ph, abs=0.002)
    day_0 = forecast(ForecastAsk(batch=Batch(recipe=plan.recipe, course=steady(24)))).ph.p50[0]
    assert day_0 == pytest.approx(4.86, abs=0.05)


def test_a_starter_of_the_same_hard_water_is_read_in_it():
    """The household's own liquid, brewed with the same water, has the acid that its pH means there."""
    own = bottle(ph=3.2, instrument="meter", brewed_with=TeaAndWater("black", 6.0, 4.0))
    plan = make_plan(PlanAsk(card=replace(HARD, share=0.1), vessel=GALLON, starters=(own,)))
    assert plan.start_ph == pytest.approx(4.39, abs=0.005)


@given(
    st.lists(st.tuples(st.floats(0.1, 3), st.sampled_from(["black", "green", "herbal"]), st.floats(0, 12), st.floats(0, 6)), min_size=1, max_size=4)
)  # fmt: skip
@settings(max_examples=60, deadline=None)
def test_tea_and_water_mix_as_their_acids_and_ions_do(told):
    """What several liquids were brewed with, poured together, has the mean of their acids, ions and alkalinity by volume."""
    parts = [(litres, TeaAndWater(tea, leaf, alkalinity)) for litres, tea, leaf, alkalinity in told]
    total = sum(litres for litres, _ in parts)
    mixed = poured_together(parts).medium
    for name in ("tea_acid_mmol_per_l", "strong_ions_meq_per_l", "alkalinity_meq_per_l"):
        mean = sum(litres * getattr(part.medium, name) for litres, part in parts) / total
        assert getattr(mixed, name) == pytest.approx(mean, abs=1e-9)


@pytest.mark.parametrize(("by", "sd"), [("meter", 0.26), ("estimate", 0.52), ("strip", 0.77)])
def test_a_starters_acid_is_as_unsure_as_its_ph(by, sd):
    """The spread of its acid is 2.58 times that of its pH: the forecast's first acidity spreads so."""
    recipe = Recipe(starter_ph=3.2, starter_fraction=0.3, starter_ph_sd=max(0.1, instrument_sd(by)), leaf_g_per_l=0.0, alkalinity_meq_per_l=0.0)  # fmt: skip
    out = forecast(ForecastAsk(batch=Batch(recipe=recipe, course=steady(24)), warmth_sd_k=0.01))
    band = np.log(out.ta_g_per_l.p90[0] / out.ta_g_per_l.p10[0]) / 2.5631
    assert band == pytest.approx(1.1 * sd, rel=0.12)  # 1.1: the forecast's band is mildly widened


@pytest.mark.parametrize("leaf", [2.0, 4.0, 6.0, 9.0])
def test_a_plain_herbal_infusion_stands_near_neutral(leaf):
    """Between pH 6 and 7, not at 10."""
    assert 6.0 <= float(ph(0.0, 0.0, medium("herbal", leaf, 0.5))) <= 7.0


def test_a_cup_of_a_friends_liquid_for_a_gallon_is_met_with_plain_choices():
    """A smaller brew, or more of it: each with an amount that then works, and no vinegar where it is sour enough."""
    starters = (bottle(CUP_L),)
    plan = make_plan(PlanAsk(card=RecipeCard(kind=KindOfBrew.BATCH), vessel=GALLON, starters=starters))
    told = said(plan)
    assert "1.00 cups of this starter is too little for 16.06 cups" in told
    assert "brew only" in told
    assert "find more of it" in told
    assert "vinegar" not in told
    smaller = make_plan(PlanAsk(card=RecipeCard(), vessel=GALLON, starters=starters, liquid_l=plan.choice.smaller_l))
    assert smaller.choice.enough
    more = make_plan(PlanAsk(card=RecipeCard(), vessel=GALLON, starters=(bottle(plan.choice.wanted_l + 0.001),)))
    assert more.choice.enough


@given(st.floats(0.05, 0.6), st.floats(2.6, 4.4), st.sampled_from(["meter", "estimate", "strip"]), st.floats(0.0, 6.0))
@settings(max_examples=80, deadline=None)
def test_no_note_ever_asks_for_nothing(litres, value, by, alkalinity):
    """Whatever starter there is: no note asks for 0 mL of anything, and whoever has too little is told a way."""
    card = RecipeCard(water=Water("tap", alkalinity))
    plan = make_plan(PlanAsk(card=card, vessel=GALLON, starters=(bottle(litres, ph=value, instrument=by),)))
    amounts = [amount for note in plan.notes for _, (amount, kind) in note.values if kind == "volume"]
    assert all(amount >= 0.003 for amount in amounts)
    if not plan.choice.enough:
        assert (
            "too little" in said(plan)
            or "too weak" in said(plan)
            or "Advised" in said(plan)
            or "There is" in said(plan)
        )


@given(
    st.floats(2.7, 3.6), st.sampled_from(["meter", "uncalibrated", "strip", "estimate"]),
    st.sampled_from(["black", "green", (("black", 0.5), ("green", 0.5))]), st.floats(3, 9), st.floats(0, 4), st.floats(1.5, 8),
)  # fmt: skip
@settings(max_examples=80, deadline=None)
def test_what_harvest_says_to_reserve_is_what_brew_day_accepts(value, by, tea, leaf, alkalinity, line_l):
    """So much of a brew's liquid, with the same tea and water, fills the same vessel again without a word of too little."""
    recipe = Recipe(tea=tea, leaf_g_per_l=leaf, alkalinity_meq_per_l=alkalinity, starter_ph=value)
    own = replace(recipe, starter_in=recipe.brewed_with)
    reserve_ml = why_starter(own, max(0.1, instrument_sd(by)), line_l).value()
    assume(reserve_ml is not None)
    told = StarterTold(key="lot", name="own", left_l=reserve_ml / 1000 + 1e-6, ph=value, instrument=by, brewed_with=recipe.brewed_with)  # fmt: skip
    card = RecipeCard(tea=tea, leaf_g_per_l=leaf, water=Water("tap", alkalinity))
    plan = make_plan(PlanAsk(card=card, vessel=VesselFacts(nominal_l=line_l * 1.15, line_l=line_l), starters=(told,)))
    assert plan.choice.enough
    assert "too little" not in said(plan)
