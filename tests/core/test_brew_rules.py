"""Rules around a brew day: water, cards, cost, the days of growing and trying, sentences with quantities."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.base.errors import CoreError, OutOfRangeError
from kyklos.core.base.facts import SWEETENERS, TEAS
from kyklos.core.base.saying import plain, said
from kyklos.core.base.water import SOURCES, TREATMENTS, Water, stand_hours, water_advice
from kyklos.core.brewing.kinds import KINDS, SCHOOLS
from kyklos.core.brewing.planner import PlanAsk, StarterTold, VesselFacts, make_plan, prior_on
from kyklos.core.brewing.recipe_card import RecipeCard
from kyklos.core.brewing.steps import steps_of
from kyklos.core.brewing.vessel_parts import disc_room_l, liquid_room_l
from kyklos.core.forecast.ask import Prior
from kyklos.core.judging.cautions import cautions_of
from kyklos.core.judging.due import DueFacts, due_now
from kyklos.core.judging.safety import BrewFacts, PhReading, SeenLook, judge, trial_verdict
from kyklos.core.liquid import heat, heat_methods, sweet_tea, teas
from kyklos.core.liquid.batch import ferment
from kyklos.core.liquid.ferment import GLUCONIC, MONO, SUCROSE, Recipe, start_state
from kyklos.core.liquid.temperature import steady
from kyklos.core.supply.cost import UNITS, CostLine, cost


@pytest.mark.parametrize("treatment", TREATMENTS)
@pytest.mark.parametrize("source", SOURCES)
def test_water_is_advised_by_what_is_in_it(source, treatment):
    """Standing is advised only against chlorine of the tap, never against chloramine; hard water is told."""
    soft, hard = (water_advice(Water(source, alkalinity, treatment)) for alkalinity in (0.5, 4.0))
    assert len(hard) == len(soft) + 1
    assert (treatment == "none") == (not soft)
    if treatment == "chloramine":
        assert stand_hours(Water(source, 0.5, treatment)) == 0
        assert "carbon" in soft[0]
    if source == "tap" and treatment == "chlorine":
        assert stand_hours(Water(source, 0.5, treatment)) == 24


@pytest.mark.parametrize(
    "wrong",
    [
        {"kind": "soup"},
        {"leaf_g_per_l": -1},
        {"sugar_g_per_l": 500},
        {"sweeteners": (("sugar", 0.5),)},
        {"sweeteners": (("sand", 1.0),)},
        {"steep": "forever"},
        {"floor": "none"},
        {"heat_method": "sun"},
        {"honey": "boiled"},
    ],
    ids=str,
)
def test_a_card_is_valid_from_birth(wrong):
    """No recipe card holds an unknown way, a mixture that does not sum, or a strength nobody brews."""
    with pytest.raises(CoreError):
        RecipeCard(**wrong)


def test_own_steeps_and_measures_beat_the_teas():
    """A brewer's own minutes, water, spoon and bag are taken; long steeps only where the tea bears them."""
    assert RecipeCard(tea="green").steeps_minutes == 3
    assert RecipeCard(tea="green", steep="long").steeps_minutes == 3
    assert RecipeCard(steep="long").steeps_minutes == 60
    assert RecipeCard(steep_minutes=7).steeps_minutes == 7
    assert RecipeCard(water_c=88).on_leaf_c == 88
    assert RecipeCard(g_per_spoon=4.5).measures_g == (4.5, 2)
    assert RecipeCard(sweeteners=(("honey", 1.0),)).raw_honey
    assert not RecipeCard(sweeteners=(("honey", 1.0),), honey="plain").raw_honey


@given(st.floats(0.01, 1e4), st.floats(0.01, 1e3), st.sampled_from(sorted(UNITS)), st.floats(0.1, 50))
def test_a_price_does_not_depend_on_the_unit_it_is_told_in(amount, price, unit, litres):
    """The same amount and price told in another unit of its kind cost the same."""
    kind, size = UNITS[unit]
    for other, (other_kind, other_size) in UNITS.items():
        if other_kind == kind:
            told = CostLine(amount=amount * size / other_size, unit=other, price=price, per_amount=1, per_unit=unit)
            assert told.money == pytest.approx(amount * price, rel=1e-9)
    whole = cost([CostLine(amount=amount, unit=unit, price=price, per_unit=unit)], litres, 500, 2.0)
    assert whole.per_litre * litres == pytest.approx(whole.total)
    assert whole.per_bottle == pytest.approx(whole.per_litre / 2)
    assert whole.saved == pytest.approx(2.0 * litres * 2 - whole.total, abs=1e-6)


def due(kind, day, last_look=None, **more):
    """What a brew of a kind wants on a day."""
    facts = BrewFacts(day=day, mean_c=24, now_c=24)
    given = {"status": "fermenting", "diet": "sugar", "mean_c": 24, "measures_ph": False, **more}
    return due_now(
        DueFacts(day=day, verdict=judge(facts), watch=KINDS[kind].watch, kind=kind, last_look_day=last_look, **given)
    )


@pytest.mark.parametrize(
    "kind, day, last_look, expected",
    [
        ("grow", 2, None, "nothing"),
        ("grow", 4.1, None, "look"),
        ("grow", 5, 4.1, "nothing"),
        ("grow", 14.2, 7, "look"),
        ("grow", 29, 28.1, "harvest"),
        ("trial", 3.1, None, "look"),
        ("trial", 4, 3.1, "nothing"),
        ("dried", 7.1, 4, "look"),
        ("batch", 4.1, 3.9, "nothing"),
    ],
)
def test_each_kind_is_looked_at_on_its_own_days(kind, day, last_look, expected):
    """Growing, reviving and trying keep their own days; growing ends with a step up, and is never tasted."""
    assert due(kind, day, last_look).kind == expected


def test_a_spoiled_grow_is_discarded_before_all_else():
    """Mould ends a growing disc whatever its day."""
    facts = BrewFacts(day=4, mean_c=24, now_c=24, looks=(SeenLook(4, "fuzzy"),))
    told = due_now(
        DueFacts(
            status="fermenting",
            diet="sugar",
            day=4,
            mean_c=24,
            verdict=judge(facts),
            measures_ph=False,
            watch=(4, 7),
            kind="grow",
        )
    )
    assert told.kind == "discard"


@pytest.mark.parametrize(
    "looks, ph, fit",
    [
        ((SeenLook(6, "disc"),), (PhReading(0, 4.5), PhReading(6, 4.1)), True),
        ((SeenLook(6, "disc"),), (PhReading(0, 4.5), PhReading(6, 4.1, "strip")), False),
        ((SeenLook(6, "disc"),), (PhReading(0, 4.5), PhReading(8, 4.1)), False),
        ((SeenLook(6, "disc"),), (PhReading(0, 4.7), PhReading(6, 4.3)), False),
        ((SeenLook(6, "skin"),), (PhReading(0, 4.5), PhReading(6, 4.1)), False),
        ((SeenLook(5, "odd"), SeenLook(6, "disc")), (PhReading(0, 4.5), PhReading(6, 4.1)), False),
        ((SeenLook(6, "disc"),), (PhReading(0, 3.9), PhReading(7, 5.0)), False),
        ((SeenLook(6, "disc"),), (PhReading(2, 3.9),), False),
        ((SeenLook(6, "disc"),), (PhReading(0, 4.2), PhReading(6, 4.1)), False),
        ((), (), False),
    ],
    ids=str,
)
def test_a_trial_is_fit_only_with_disc_no_mould_and_a_meter_in_time(looks, ph, fit):
    """Each of the three conditions alone keeps a trial from being tasted."""
    verdict = trial_verdict(BrewFacts(day=8, mean_c=24, now_c=24, looks=looks, ph=ph))
    assert verdict.fit == fit
    assert fit == (not verdict.missing)


def test_a_dried_disc_starts_slower_than_its_starter_alone_would():
    """Dried life seeds something without any starter, and less than fresh starter does."""
    bare, fresh = Recipe(starter_fraction=0.0, starter_kind="dried"), Recipe(starter_fraction=0.12)
    assert start_state(bare)[5, 0] > 0
    assert ferment(bare, steady(24), 12).ph[-1, 0] > ferment(fresh, steady(24), 12).ph[-1, 0]


@pytest.mark.parametrize("key", SWEETENERS)
def test_sugars_of_every_sweetener_are_counted_once(key):
    """Sucrose and simple sugars of a sweetener add up to the recipe's strength, honey's acid aside."""
    shares = ((key, 1.0),)
    recipe = Recipe(
        sugar_g_per_l=60,
        honey_share=sweet_tea.honey_share(shares),
        invert_share=sweet_tea.invert_share(shares),
        starter_fraction=0.0,
    )
    state = start_state(recipe)[:, 0]
    assert state[SUCROSE] + state[MONO] == pytest.approx(60)
    assert state[SUCROSE] == pytest.approx(60 * SWEETENERS[key].sucrose)
    assert state[GLUCONIC] == 0


@pytest.mark.parametrize("key", TEAS)
def test_every_tea_slows_or_keeps_what_is_expected(key):
    """A tea never speeds a culture up, and one that slows it widens the forecast."""
    vigour = teas.vigour_of(key)
    prior = prior_on(Prior(), vigour)
    assert prior.yeast_vigour == pytest.approx(vigour)
    assert (prior.spread > Prior().spread) == (vigour < 1)
    assert bool(cautions_of(key)) == (key in {"scented", "oily", "herbal", "decaf"})


def test_schools_have_reasons_and_a_default_of_their_own():
    """Each question on which brewers disagree has ways with reasons, and its default is one of them."""
    for school in SCHOOLS.values():
        assert school.default in school.ways
        assert all(len(reason) > 20 for _, reason in school.ways.values())


def test_sentences_say_quantities_as_the_household_likes_them():
    """A sentence keeps its numbers apart until a page says them; braces in names do no harm."""
    told = said(f"Pour {{it}} into {plain('{odd} jar')}.", it=(1.5, "volume"))
    assert told.words(lambda value, kind: f"{value} {kind}") == "Pour 1.5 volume into (odd) jar."


def test_a_disc_takes_room():
    """A disc a centimetre thick takes its area's worth, and a vessel full of discs is refused."""
    assert disc_room_l(20, 10) == pytest.approx(0.314, abs=0.001)
    assert liquid_room_l(3.4, 0.2) == pytest.approx(3.2)
    with pytest.raises(OutOfRangeError):
        liquid_room_l(1.0, 0.95)


@given(st.floats(0.2, 20), st.floats(3, 95), st.floats(3, 40), st.floats(0.05, 20))
def test_temperatures_settle_from_either_side(litres, start, around, hours):
    """What warms or cools for some hours is at a temperature that settling takes just as long to reach."""
    later = heat.temperature_after(litres, start, around, hours)
    assert min(start, around) - 1e-9 <= later <= max(start, around) + 1e-9
    if abs(later - start) > 0.2 and abs(later - around) > 0.2:
        assert heat.settling_hours(litres, start, around, later) == pytest.approx(hours, rel=0.01)


def test_a_cold_start_steeps_in_the_fridge_and_warms_before_the_pitch():
    """No more than 12 hours in the fridge, a little hot water for the sugar, and a wait to 18 degrees."""
    starter = StarterTold(key="a", name="a", left_l=2, ph=3.0, instrument="meter")
    plan = make_plan(PlanAsk(card=RecipeCard(heat_method="cold"), vessel=VesselFacts(), starters=(starter,), room_c=22))
    assert plan.heat.fridge_hours == heat_methods.FRIDGE_STEEP_HOURS
    assert plan.heat.heat_l < 0.3
    assert plan.heat.wait.hours > 0.5
    keys = [step.key for step in steps_of(plan)]
    assert keys[:4] == ["lay-out", "fridge", "sweeten", "pour"]
    assert next(step for step in steps_of(plan) if step.key == "fridge").timer_minutes == 720
