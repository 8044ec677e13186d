"""The plan of a brew day: its parts sum, it scales, it lands where it says, and it says what deserves a second thought."""

from dataclasses import replace

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from kyklos.core.base.errors import CoreError
from kyklos.core.base.facts import SWEETENERS, TEAS
from kyklos.core.base.water import Water, stand_hours, water_advice
from kyklos.core.brewing import rounds, starters
from kyklos.core.brewing.kinds import base_refused
from kyklos.core.brewing.places import PlaceTold, advise, plan_back, seasonal
from kyklos.core.brewing.planner import PlanAsk, StarterTold, VesselFacts, make_plan
from kyklos.core.brewing.recipe_card import RecipeCard
from kyklos.core.brewing.steps import steps_of
from kyklos.core.brewing.tools import needs_of
from kyklos.core.forecast.answer import Window
from kyklos.core.forecast.ask import Prior
from kyklos.core.liquid import acids, heat_methods, sweet_tea, teas
from kyklos.core.liquid.taste import Point

LOT = StarterTold(key="lot-1", name="Bora", left_l=3.0, ph=3.0, instrument="meter", line="Bora", diet="sugar")


def ask(card=None, **more):
    """A plan's ask: four-litre jar, plenty of good starter."""
    given = {"vessel": VesselFacts(), "culture": "Bora", "starters": (LOT,), **more}
    return PlanAsk(card=card or RecipeCard(), **given)


def said(plan):
    """The notes in plain words."""
    return " ".join(note.words(lambda value, kind: f"{value:.3f} {kind}") for note in plan.notes)


cards = st.builds(
    RecipeCard,
    kind=st.sampled_from(["batch", "jun", "first", "conversion"]),
    tea=st.sampled_from(["black", "green", "oolong", (("black", 0.5), ("green", 0.5)), "decaf"]),
    leaf_g_per_l=st.floats(2, 10),
    sugar_g_per_l=st.floats(30, 95),
    sweeteners=st.sampled_from(
        [(("sugar", 1.0),), (("honey", 1.0),), (("cane", 0.6), ("maple", 0.4)), (("agave", 0.3), ("honey", 0.7))]
    ),
    heat_method=st.sampled_from(heat_methods.METHODS),
    honey=st.sampled_from(["raw", "plain"]),
    floor=st.sampled_from(["usual", "more"]),
)
asks = st.builds(
    lambda card, line, disc, heel, room, cold, ph: ask(
        card,
        vessel=VesselFacts(nominal_l=line * 1.2, line_l=line, tapped=True),
        disc_l=disc * line,
        room_c=room,
        cold_c=cold,
        starters=(
            replace(LOT, left_l=line, ph=ph),
            *((StarterTold(key="heel", name="Heel", left_l=heel * line, ph=3.1, fixed=True),) if heel > 0.01 else ()),
        ),
    ),
    cards,
    st.floats(0.9, 60),
    st.floats(0, 0.15),
    st.floats(0, 0.08),
    st.floats(16, 30),
    st.floats(3, 25),
    st.floats(2.6, 3.3),
)


@given(asks)
def test_the_parts_sum_to_the_fill_line(asked):
    """Disc, heel, starter, sweetener's room and water sum to the line within 1 mL, and to the water heated and cold, leaf's included."""
    plan = make_plan(asked)
    parts, made, heat = plan.parts, plan.made, plan.heat
    assert parts.filled_l == pytest.approx(asked.vessel.line_l, abs=0.001)
    assert parts.filled_l + parts.headspace_l == pytest.approx(asked.vessel.nominal_l, abs=0.001)
    assert made.leaf_keeps_ml == pytest.approx(3.0 * made.leaf_g)
    poured = made.tea_water_ml - made.leaf_keeps_ml + made.sweetener_ml + made.starter_ml
    assert poured == pytest.approx(1000 * plan.final_l, abs=1.0)
    assert heat.heat_l + heat.cold_l == pytest.approx(made.tea_water_ml / 1000, abs=0.001)
    assert sum(pot.water_l for pot in plan.rounds.pots) == pytest.approx(heat.heat_l, abs=0.001)


def test_a_wait_of_a_minute_is_drawn_to_its_end():
    """However short the wait, its course ends where it may be poured, not later and colder."""
    air, bath, ice = heat_methods.waits_for(0.1, 76.0, 74.75, 17.0, 10.5, 17.0)
    for wait in (air, bath, ice):
        assert 0 < wait.hours < 0.05
        assert wait.course[-1] == pytest.approx((wait.hours, 74.75), abs=1e-6)


@given(asks)
def test_a_concentrate_lands_on_its_target_or_says_that_it_cannot(asked):
    """Poured after its wait, the mix is within half a degree of the target, or a note or an endless wait says so."""
    plan = make_plan(replace(asked, card=replace(asked.card, heat_method="concentrate")))
    lands = abs(plan.heat.lands_c - plan.heat.target_c) <= 0.5
    assert lands or plan.heat.wait.hours is None or "cooler than" in said(plan)
    if plan.heat.wait.hours and plan.heat.must_wait:
        assert plan.heat.wait.course[-1][1] == pytest.approx(plan.heat.pour_c, abs=0.2)
        assert plan.heat.waits[2].hours < min(plan.heat.wait.hours, plan.heat.waits[1].hours or 99)


@given(cards, st.floats(0.5, 50), st.floats(1.1, 6), st.floats(0.05, 0.4))
def test_scaling_is_linear(card, litres, factor, share):
    """A recipe for twice the volume takes twice of everything."""
    recipe = replace(make_plan(ask(card)).recipe, starter_fraction=share)
    small, large = (sweet_tea.amounts(recipe, v, card.sweeteners) for v in (litres, litres * factor))
    for name in ("leaf_g", "sugar_g", "honey_g", "starter_ml", "tea_water_ml", "sweetener_ml"):
        assert getattr(large, name) == pytest.approx(factor * getattr(small, name), rel=1e-9, abs=1e-9)
    assert large.start_brix == pytest.approx(small.start_brix)


@given(st.floats(1, 3000), st.sampled_from(sorted(SWEETENERS)))
def test_household_measures_say_what_rounding_lost(grams, key):
    """What the words weigh differs from the plan by what they say, and by at most a quarter of a tablespoon."""
    measured = sweet_tea.in_cups(grams, SWEETENERS[key].g_per_cup)
    assert measured.grams - measured.off_g == pytest.approx(grams)
    assert abs(measured.off_g) <= SWEETENERS[key].g_per_cup / 16 / 4 + 1e-6
    assert ("cup" in measured.words) == (measured.grams >= SWEETENERS[key].g_per_cup / 4 - 1e-9)


@given(st.floats(1, 500), st.sampled_from(sorted(SWEETENERS)), st.sampled_from(sorted(SWEETENERS)))
def test_one_sweetener_for_another_brings_the_same_sugars(grams, of, wanted):
    """Honey for sugar, and any other swap, goes by fermentable sugar, there and back."""
    swapped = sweet_tea.equivalent(grams, of, wanted)
    assert sweet_tea.as_sugars(wanted, swapped) == pytest.approx(sweet_tea.as_sugars(of, grams))
    assert sweet_tea.equivalent(swapped, wanted, of) == pytest.approx(grams)


def test_honey_for_sugar_is_about_three_quarters_by_volume():
    """A cup of sugar is matched by about three quarters of a cup of honey."""
    honey_cups = sweet_tea.equivalent(200, "sugar", "honey") / SWEETENERS["honey"].g_per_cup
    assert honey_cups == pytest.approx(0.72, abs=0.01)


@given(asks, st.floats(0.01, 0.4))
def test_a_weaker_starter_is_never_needed_less_of(asked, weaker):
    """The advised share starts at pH 4.2 or lower even at the weak end, is at least the floor, and grows as starter weakens."""
    plan = make_plan(asked)
    assume(plan.choice.advised is not None and not any(p.fixed for p, _ in plan.choice.taken))
    assert plan.choice.advised >= (0.2 if asked.card.floor == "more" else 0.1) - 1e-6
    bare = starters.Mix(plan.final_l, plan.recipe.medium).start_ph(plan.choice.taken, weak=True, bare=True)
    assert bare <= 4.2 + 1e-3
    other = make_plan(replace(asked, starters=(replace(asked.starters[0], ph=asked.starters[0].ph + weaker),)))
    assert other.choice.advised is None or other.choice.advised >= plan.choice.advised - 1e-4


THREE = tuple(
    StarterTold(key=f"lot-{i}", name=f"Lot {i}", left_l=litres, ph=ph, instrument=by, line="Bora", diet="sugar")
    for i, (litres, ph, by) in enumerate([(0.2, 3.6, "strip"), (0.15, 3.7, "strip"), (0.25, 3.8, "estimate")])
)


def test_three_lots_that_are_too_weak_are_told_with_what_can_be_done():
    """All is taken, the note names plain choices, and the vinegar named brings the start to 4.2 even if they are weak."""
    plan = make_plan(ask(vessel=VesselFacts(nominal_l=8, line_l=7), starters=THREE))
    assert plan.choice.advised is None
    assert sum(litres for _, litres in plan.choice.taken) == pytest.approx(0.6)
    assert "too little for" in said(plan)
    assert "distilled vinegar" in said(plan)
    with_vinegar = make_plan(
        ask(vessel=VesselFacts(nominal_l=8, line_l=7), starters=THREE, vinegar_l=plan.choice.vinegar_l)
    )
    assert with_vinegar.start_ph_high == pytest.approx(4.2, abs=0.01)
    assert with_vinegar.choice.fraction == pytest.approx(plan.choice.fraction, rel=1e-3)
    strong = tuple(replace(lot, ph=3.0, instrument="meter") for lot in THREE)
    short = make_plan(ask(vessel=VesselFacts(nominal_l=8, line_l=7), starters=strong))
    smaller = make_plan(
        ask(vessel=VesselFacts(nominal_l=8, line_l=7), starters=strong, liquid_l=short.choice.smaller_l)
    )
    assert smaller.choice.advised is not None


def test_titration_beats_ph_and_a_strip_is_widest():
    """The range of a starter's acidity is narrowest titrated, wider by meter, widest by strip."""
    where = acids.TeaAndWater("black", 5, 0.5)
    wide = {}
    for by in ("meter", "strip"):
        told = StarterTold(key="a", name="a", left_l=1, ph=3.2, instrument=by).portion(where)
        wide[by] = told.high_ph - told.low_ph
    titrated = StarterTold(key="a", name="a", left_l=1, ta_g_per_l=7.0, ph=3.2).portion(where)
    assert titrated.high_ph - titrated.low_ph < wide["meter"] < wide["strip"]


@pytest.mark.parametrize(
    "change, sentence",
    [
        ({"vessel": VesselFacts(nominal_l=4, line_l=3.4), "liquid_l": 3.6}, "overflow its fill line by 0.200 volume"),
        ({"vessel": VesselFacts(nominal_l=4, line_l=3.4), "liquid_l": 4.5}, "run over its brim by 0.500 volume"),
        ({"starters": (replace(LOT, line="Meltemi", diet="jun"),)}, "Is that what you want"),
        ({"starters": (replace(LOT, line="", diet="jun"),)}, "Starter of jun is for jun"),
        ({"card": RecipeCard(sweeteners=(("honey", 1.0),))}, "straight swap"),
        ({"card": RecipeCard(leaf_g_per_l=15)}, "of leaf here"),
        ({"card": RecipeCard(steep_minutes=40, tea="green")}, "usually steeps"),
        ({"card": RecipeCard(steep="long", tea="green")}, "Only black tea"),
        ({"card": RecipeCard(water_c=72, tea="green")}, "5 minutes"),
        ({"card": RecipeCard(heat_method="cold"), "room_c": 15.0}, "not get warm"),
        ({"card": RecipeCard(water=Water("well", 5.0))}, "250 mg/L"),
        ({"card": RecipeCard(water=Water("tap", 0.5, "chloramine"))}, "does not leave by standing"),
        ({"card": RecipeCard(kind="trial", base="oat milk", leaf_g_per_l=0)}, "No trial with milk"),
        ({"card": RecipeCard(kind="first")}, "no tap"),
        ({"card": RecipeCard(kind="dried"), "starters": ()}, "brings no acid"),
        ({"dried": True}, "its first"),
        ({"starters": (replace(LOT, ph=3.5, instrument="strip"),), "card": RecipeCard(share=0.1)}, "a strip in the brew settles it"),
        ({"pot_l": 0.4, "pitcher_l": 0.8}, "pots of tea and"),
    ],
    ids=lambda value: str(value)[:40],
)
def test_each_second_thought_is_told(change, sentence):
    """Overflow, another line's starter, odd strengths, steeps, water, bases and strips are each told in a sentence."""
    assert sentence in said(make_plan(ask(**change)))


def test_hard_water_asks_for_more_starter():
    """Alkalinity of 5 meq/L takes more of the same starter than 0.5."""
    soft, hard = (make_plan(ask(RecipeCard(water=Water("well", a)))) for a in (0.5, 5.0))
    assert hard.choice.advised > soft.choice.advised + 0.02
    assert stand_hours(Water(treatment="chlorine")) == 24
    assert len(water_advice(Water("well", 5.0, "chlorine"))) == 2


def test_a_temperature_on_the_way_corrects_the_curve():
    """A pot that cools faster than assumed is ready sooner, and slower later."""
    plan = make_plan(ask(room_c=20.0))
    start, half = plan.heat.after_steep_c, plan.heat.wait.hours / 2
    usual = next(c for h, c in plan.heat.wait.course if h >= half)
    faster, slower = (make_plan(ask(room_c=20.0, logged=(half, c))).heat for c in (usual - 8, usual + 8))
    assert faster.wait.hours < plan.heat.wait.hours < slower.wait.hours
    assert faster.learned_u > 17 > slower.learned_u
    assert start > usual
    with pytest.raises(CoreError):
        make_plan(ask(room_c=20.0, logged=(half, 5.0)))


@pytest.mark.parametrize(
    "base, refused",
    [("Bone broth", True), ("carrot juice", True), ("hazelnut", True), ("cold coffee", False), ("grape juice", False)],
)
def test_bases_that_acid_does_not_keep_are_refused(base, refused):
    """Milk, nut, broth and vegetable bases are refused, in any spelling; others may be tried."""
    assert bool(base_refused(base)) == refused


@pytest.mark.parametrize("kind", ["batch", "jun", "first", "grow", "dried", "conversion", "trial"])
def test_every_kind_has_its_steps(kind):
    """Steps have names of their own, each with something to do, and nothing measured is filled in beforehand."""
    plan = make_plan(ask(RecipeCard(kind=kind, base="coffee" if kind == "trial" else ""), pot_l=0.5))
    steps = steps_of(plan)
    assert len({step.key for step in steps}) == len(steps)
    assert all(step.do and step.title and step.why for step in steps)
    assert steps[-1].key == "cover"
    assert all(asked.planned is None for step in steps if step.key == "measure" for asked in step.asked)
    assert ("control" in {step.key for step in steps}) == (kind == "trial")
    steeps = [step for step in steps if step.key.startswith("steep")]
    assert len(steeps) == len(plan.rounds.pots)
    assert all(step.timer_minutes for step in steeps)
    assert {need.key for need in needs_of(plan, frozenset({"pot"})) if need.owned is False} >= {"strainer", "cloth"}


def test_plain_tea_stays_hot_long_enough_for_the_leaf():
    """Green tea steeps three minutes; the step keeps it hot until five have passed."""
    step = next(s for s in steps_of(make_plan(ask(RecipeCard(tea="green")))) if s.key == "steep")
    assert step.timer_minutes == 3
    assert "till 5 have passed" in " ".join(line.text for line in step.do)


@given(st.floats(0.05, 80), st.floats(0.1, 9))
def test_pours_never_exceed_what_carries_them(total, at_once):
    """Pours sum to the whole, and none is more than the pitcher holds."""
    pours = rounds.split(total, at_once)
    assert sum(pours) == pytest.approx(total)
    assert max(pours) <= max(at_once, 1e-9) + 1e-9


def test_blends_share_out_and_keep_their_text():
    """A blend written into a record reads back the same, and lies between its parts."""
    blend = teas.blend((("black", 3.0), ("herbal", 1.0)))
    assert teas.from_text(teas.text_of(blend)) == blend
    assert TEAS["herbal"].vigour < teas.vigour_of(blend) < 1
    assert teas.steep_minutes(blend)[1] == 10
    with pytest.raises(CoreError):
        teas.blend((("black", 0.0),))


HERE = (
    PlaceTold(key=1, name="Sunny sill", celsius=24, light="sun"),
    PlaceTold(key=2, name="Cupboard", celsius=24, light="dark"),
    PlaceTold(key=3, name="Cold hall", celsius=14),
    PlaceTold(key=4, name="High shelf", celsius=24, reach="high"),
    PlaceTold(key=5, name="By the krauts", celsius=24, rivals=True),
    PlaceTold(key=6, name="Pantry", celsius=18),
)


def test_places_are_ranked_and_planned_back():
    """Warm, dark and in reach comes first, too cold last; a wanted day is reached later in the warm than in the cool."""
    advice = advise(make_plan(ask()), HERE, Prior(), (Point("Ana", 4.0),))
    assert advice[0].place.name == "Cupboard"
    assert advice[-1].place.name == "Cold hall"
    assert not advice[-1].fits
    back = {b.place.name: b.pitch_in_days for b in plan_back(advice, 20)}
    assert back["Cupboard"] > back["Pantry"]
    assert "Cold hall" not in back
    assert all(isinstance(a.window, Window) for a in advice)


@given(st.floats(-5, 20), st.floats(0, 15), st.integers(1, 365))
def test_a_season_stays_between_winter_and_summer(winter, more, day):
    """A place is never colder than its winter nor warmer than its summer, and half a year away on the other side."""
    here, there = (seasonal(winter, winter + more, day, southern) for southern in (False, True))
    assert winter - 1e-9 <= here <= winter + more + 1e-9
    assert here + there == pytest.approx(2 * winter + more)
