"""How much starter: by its acid where that was measured, else two cups a gallon and a strip in the brew."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.brewing.pitch_check import remedies
from kyklos.core.brewing.planner import PlanAsk, StarterTold, VesselFacts, make_plan
from kyklos.core.brewing.recipe_card import RecipeCard

GALLON = VesselFacts(name="the jar", nominal_l=4.4, line_l=3.8)


def plan_with(**told):
    """A gallon of black tea with one starter, plenty of it unless told."""
    return make_plan(PlanAsk(card=RecipeCard(), vessel=GALLON, starters=(StarterTold(**{"key": "lot-1", "name": "own", "left_l": 3.0, **told}),)))  # fmt: skip


@pytest.mark.parametrize("told", [{"ph": 3.0, "instrument": "strip"}, {"ph": 3.5, "instrument": "strip"}, {}, {"ph": 3.2, "instrument": "uncalibrated"}])
def test_a_starter_nobody_measured_well_is_taken_by_two_cups_a_gallon(told):
    """Not by its doubt: 12 %, never the half of a jar; a strip in the brew settles it, and the plan says so."""
    plan = plan_with(**told)
    assert plan.choice.fraction == pytest.approx(0.12, abs=0.001)
    assert plan.choice.settled_in_the_brew
    assert plan.choice.enough


def test_a_measured_starter_is_taken_by_its_acid():
    """Strong: the floor; weaker: what brings the cautious start to 4.2."""
    assert plan_with(ph=2.9, instrument="meter").choice.fraction == pytest.approx(0.10, abs=0.001)
    assert plan_with(ph=3.5, instrument="meter").choice.fraction > 0.2
    assert plan_with(ta_g_per_l=9.0, instrument="titration").choice.fraction == pytest.approx(0.10, abs=0.001)


@given(st.floats(2.6, 4.2), st.sampled_from(["strip", "estimate", "uncalibrated"]), st.floats(0.2, 6))
@settings(max_examples=80, deadline=None)
def test_doubt_alone_never_asks_for_more_than_a_quarter(ph, by, left):
    """Whatever a strip or nobody read: more than a quarter is asked for only where the likely value itself needs it for 4.5."""
    choice = plan_with(ph=ph, instrument=by, left_l=left).choice
    if choice.advised is not None and choice.advised > 0.25:
        assert choice.start_ph == pytest.approx(4.5, abs=0.02)


@pytest.mark.parametrize("kept_in, days, old", [("shelf", 20, False), ("shelf", 35, True), ("fridge", 35, False), ("fridge", 120, True)])
def test_what_stood_for_weeks_is_not_what_it_read_then(kept_in, days, old):
    """Five weeks on a shelf: no longer measured, its doubt wider, and the plan tells how long ago it was read."""
    plan = plan_with(ph=3.0, instrument="meter", kept_in=kept_in, read_days=float(days), age_days=float(days))
    portion = plan.choice.taken[0][0]
    assert (portion.measured, portion.read_days is not None) == (not old, old)
    assert plan.choice.fraction == pytest.approx(0.12 if old else 0.10, abs=0.001)
    assert (portion.high_ph - portion.ph > 0.2) == old


def test_what_makes_a_brew_sourer_is_offered_with_its_amount():
    """A spoon of vinegar for a gallon, a cup more of its own starter as long as there is so much left."""
    plan = plan_with(ph=3.5, instrument="strip")
    more, vinegar = remedies(plan, {})
    assert vinegar.litres == pytest.approx(0.015 * 3.8 / 4)
    assert more.litres == pytest.approx(0.06 * 3.8)
    assert [one.key for one in remedies(plan, {"lot-1": 2.9})] == ["vinegar"]
    assert make_plan(replace(plan.ask, vinegar_l=vinegar.litres)).start_ph < plan.start_ph
