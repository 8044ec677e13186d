"""Small rules that a small wrong change would break without anything else noticing: each by what holds."""

from dataclasses import replace
from datetime import UTC, datetime, time

import numpy as np
import pytest

from kyklos.core.base import limit
from kyklos.core.base.errors import CoreError, OutOfRangeError, require_between
from kyklos.core.base.facts import BOTTLES
from kyklos.core.bottles.bottle import BottleAsk, at_day
from kyklos.core.bottles.drink_by import chilled
from kyklos.core.bottles.filling import Stock, Wish, poured
from kyklos.core.brewing import RecipeCard, make_plan
from kyklos.core.brewing.by_weight import fits, strengths
from kyklos.core.brewing.kitchen_step import KitchenStep
from kyklos.core.brewing.measures import DryAmount
from kyklos.core.brewing.plan import StarterTold, VesselFacts
from kyklos.core.brewing.planner import PlanAsk, prior_on
from kyklos.core.brewing.salvage import uses
from kyklos.core.calc import answer
from kyklos.core.forecast import Prior
from kyklos.core.forecast.side_by_side import Side
from kyklos.core.forecast.vigour import Brewed, causes
from kyklos.core.judging.brew_facts import BrewFacts, PhReading, SeenLook, shows_life
from kyklos.core.judging.due import WARM_C, first_taste_day
from kyklos.core.judging.instruments import Calibrated, gravity_sd, standing
from kyklos.core.judging.safety import trial_verdict
from kyklos.core.liquid import Course
from kyklos.core.liquid.heat import mix_temperature
from kyklos.core.liquid.teas import main_of
from kyklos.core.quick.line import understand
from kyklos.core.quick.said import Context, Named
from kyklos.core.sheets.spreadsheet import SheetAsk
from kyklos.core.sheets.spreadsheet import read as read_sheet
from kyklos.core.sheets.tables import table
from kyklos.core.tapped.vessel import can_give, drawing
from tests.core.test_calc import GOOD
from tests.core.test_tapped import vessel as tapped_vessel

NOW = datetime(2027, 3, 1, 18, 30)
HERE = Context((Named(2, "Jar 2"),), (Named(1, "Ana"),), NOW)


def test_a_range_is_said_with_its_unit_and_without_one():
    """What lies outside is named with its unit where it has one; no unit leaves no gap."""
    for unit, words in (("g/L", "sugar is 300 g/L; it must lie from 0 to 200 g/L."), ("", "sugar is 300; it must lie from 0 to 200.")):
        with pytest.raises(OutOfRangeError) as refused:
            require_between(0, 200, unit, sugar=300)
        assert str(refused.value) == words


@pytest.mark.parametrize(("name", "within", "outside"), [("leaf", (0.0, 20.0), (-0.1, 20.1)), ("sugar", (5.0, 150.0), (4.9, 150.1))])
def test_what_a_brew_takes_ends_where_it_says(name, within, outside):
    """Both ends are taken; a tenth of a gram beyond is not."""
    assert all(fits(name, value) for value in within)
    assert not any(fits(name, value) for value in outside)


def ask(**card):
    """A brew day with one starter."""
    starter = StarterTold(key="lot", name="lot", left_l=1.0, ph=3.0, instrument="meter")
    return PlanAsk(card=RecipeCard(**card), vessel=VesselFacts(), starters=(starter,))


def test_what_is_weighed_comes_out_as_weighed():
    """The strengths found for weights give the very weights back, whatever the one does to the other; bags and cups weigh as they do."""
    given = {"leaf": DryAmount(18.0, "mass"), "sugar": DryAmount(210.0, "mass")}
    found = strengths(ask(), given)
    made = make_plan(ask(leaf_g_per_l=found["leaf"], sugar_g_per_l=found["sugar"])).made
    assert made.leaf_g == pytest.approx(18.0, rel=0.01)
    assert sum(grams for _, grams in made.sweeteners) == pytest.approx(210.0, rel=0.01)
    assert strengths(ask(), {"leaf": DryAmount(5.0, "strength"), "sugar": DryAmount(60.0, "strength")}) == {"leaf": 5.0, "sugar": 60.0}
    ten = strengths(ask(g_per_bag=2.0), {"leaf": DryAmount(9.0, "bags"), "sugar": DryAmount(60.0, "strength")})
    assert ten["leaf"] == pytest.approx(found["leaf"], rel=0.02)
    far = strengths(ask(), {"leaf": DryAmount(900.0, "mass"), "sugar": DryAmount(60.0, "strength")})
    assert not fits("leaf", far["leaf"])


def test_raw_honey_waits_until_it_is_cool_and_sugar_never():
    """Honey that is to stay raw goes in at the end, cool; heated honey and sugar go in hot."""
    keys = {name: [step.key for step in _steps(**card)] for name, card in {
        "raw": {"sweeteners": (("honey", 1.0),), "honey": "raw"}, "heated": {"sweeteners": (("honey", 1.0),), "honey": "hot"}, "sugar": {"honey": "raw"},
    }.items()}  # fmt: skip
    assert "honey" in keys["raw"]
    assert "honey" not in keys["heated"]
    assert "honey" not in keys["sugar"]


def _steps(**card):
    from kyklos.core.brewing.kinds import SCHOOLS
    from kyklos.core.brewing.steps import steps_of

    if card.get("honey") not in SCHOOLS["honey"].ways:
        card["honey"] = next(way for way in SCHOOLS["honey"].ways if way != "raw")
    return steps_of(make_plan(ask(**card)))


@pytest.mark.parametrize(("minutes", "whole"), [(None, 1), (0.2, 1), (1.4, 1), (12.6, 13)])
def test_a_timer_runs_for_whole_minutes_and_at_least_one(minutes, whole):
    """Half a minute is one; twelve and a half are thirteen."""
    assert KitchenStep("steep", "Steep", (), timer_minutes=minutes).whole_minutes == whole


@pytest.mark.parametrize(
    ("line", "hour"),
    [("jar 2 3.4 12 pm", 12), ("jar 2 3.4 12 am", 0), ("jar 2 3.4 12:30 pm", 12), ("jar 2 3.4 12:30 am", 0), ("jar 2 3.4 1 pm", 13), ("jar 2 3.4 11:05 am", 11)],
)
def test_noon_is_12_pm_and_midnight_12_am(line, hour):
    """Twelve turns over where people think it does."""
    assert understand(line, HERE).at.time().hour == hour


def test_a_clock_alone_is_today_unless_that_is_to_come():
    """At half past six in the evening 8 am was this morning, and 9 pm was yesterday."""
    morning, night = understand("jar 2 3.4 8 am", HERE).at, understand("jar 2 3.4 9 pm", HERE).at
    assert (morning.date(), morning.time()) == (NOW.date(), time(8))
    assert (NOW.date() - night.date()).days == 1


def test_a_trial_at_exactly_4_2_on_its_third_day_is_fit():
    """The bound itself is low enough, day 3 late enough, a strip is no meter, and a tenth of a day or a hundredth of pH more is not."""
    def fit(day=3.0, ph=4.2, by="meter"):
        looks = (SeenLook(2.5, "disc"),)
        return trial_verdict(BrewFacts(day=day, mean_c=24, now_c=24, ph=(PhReading(0.1, 4.9, "meter"), PhReading(day, ph, by)), looks=looks)).fit

    assert fit()
    assert not fit(ph=4.21)
    assert not fit(day=2.9)
    assert not fit(by="strip")


def test_a_bottle_put_into_the_fridge_keeps_what_it_stood_through():
    """Up to the very moment its warmth is its own; a reading at that moment is not told twice."""
    warm = BottleAsk(start=(0.5, 5, 5, 3, 4, 1, 0.2, 0.3), added_sugar_g_per_l=5, course=Course(((0.0, 20.0), (3.0, 26.0), (5.0, 24.0)), 24.0))
    cold = chilled(warm, 3.0)
    days = [day for day, _ in cold.course.points]
    assert days == sorted(set(days))
    assert dict(cold.course.points)[3.0] == 26.0
    assert cold.course.points[-1][1] == cold.course.future_c < 10


def test_what_is_over_sour_must_be_somewhat_sour():
    """A tenth of a gram is the least that is reckoned with, on either side; less is refused."""
    assert uses(0.1, 1.0, 0.1)
    for ta, point in ((0.09, 4.0), (8.0, 0.09)):
        with pytest.raises(OutOfRangeError):
            uses(ta, 1.0, point)


def test_a_flavoured_bottle_is_looked_at_for_a_week_unless_asked():
    """Without days the command line answers for seven."""
    given = GOOD["flavour"]
    bare = {key: value for key, value in given.items() if key != "days"}
    assert answer("flavour", bare) == answer("flavour", {**bare, "days": 7}) != answer("flavour", {**bare, "days": 8})


def test_a_meter_counts_as_calibrated_on_the_last_day_of_its_interval():
    """Thirty days after it was set it still is; a day later it is not, and two days before it says so."""
    stands = {days: standing([Calibrated(float(days))], 30.0) for days in (27, 28, 30, 31)}
    assert [stands[days].key for days in (30, 31)] == ["meter", "uncalibrated"]
    assert [stands[days].due_soon for days in (27, 28)] == [False, True]


def test_the_first_bottle_may_be_the_short_one():
    """Whichever is filled last is short: the first of the row as well, and no number beyond it."""
    rows = [(Stock("half", 0.5, 1), Wish("plain"))] * 3
    assert [b.short for b in poured(1.4, rows, 0).bottles].count(True) == 1
    mixed = [(Stock("a", 0.5, 1), Wish("x")), (Stock("b", 0.5, 1), Wish("y")), *rows[:1]]
    assert {b.bottle: b.litres for b in poured(1.4, mixed, 0).bottles} == {"a": pytest.approx(0.4), "b": 0.5, "half": 0.5}
    assert poured(1.4, rows, 3) == poured(1.4, rows, None) == poured(1.4, rows, -1)


def test_a_culture_that_came_dry_is_relied_on_from_its_third_brew():
    """Its first and its second brew are named as such; the third needs no word."""
    said = [[note.words(lambda value, _: f"{value:g}") for note in make_plan(replace(ask(), dried=True, earlier_brews=n)).notes] for n in range(3)]
    for count, word in ((0, "first"), (1, "second")):
        assert any("came dry: 2 brews" in text and f"this is its {word}" in text for text in said[count])
    assert not any("came dry" in text for text in said[2])


def test_where_no_sweet_tea_is_left_nothing_is_weighed():
    """A jar that its starter fills takes no leaf by weight: it says so, and nothing is divided by nothing."""
    full = StarterTold(key="heel", name="heel", left_l=3.4, ph=3.0, instrument="meter", fixed=True)
    with pytest.raises(CoreError):
        strengths(replace(ask(), starters=(full,)), {"leaf": DryAmount(9.0, "mass"), "sugar": DryAmount(100.0, "mass")})


def test_limits_begin_where_they_say():
    """Exactly as warm, exactly as much sourer, exactly so thin a headspace: the limit itself counts."""
    assert first_taste_day("sugar", WARM_C) == first_taste_day("sugar", WARM_C + 5) < first_taste_day("sugar", WARM_C - 0.01)
    facts = BrewFacts(day=8.0, mean_c=24.0, now_c=24.0)
    assert shows_life(facts, limit("sign_of_life_ta"))
    assert not shows_life(facts, limit("sign_of_life_ta") - 0.01)
    assert BOTTLES["swing-top"].headspace_fraction(0.0, 1000.0) == 0.005


def test_between_two_days_members_are_read_in_proportion():
    """In the first interval, in the last, and held at both ends."""
    day, values = np.array([0.0, 1.0, 3.0]), np.array([[0.0], [10.0], [20.0]])
    assert [float(at_day(day, values, at)[0]) for at in (0.0, 0.25, 2.0, 3.0, 9.0)] == [0.0, 2.5, 15.0, 20.0, 20.0]


def test_the_range_of_a_vigour_is_as_wide_below_as_above():
    """As a ratio: what the middle is over the low end, the high end is over the middle."""
    low, middle, high = Side("Bora", 3, Prior(1.2, 0.9, 0.2), None).vigour
    assert low < middle < high
    assert middle / low == pytest.approx(high / middle)
    assert middle == pytest.approx((1.2 * 0.9) ** 0.5)


def test_a_row_of_a_sheet_with_gaps_is_read_and_an_empty_one_is_not():
    """Cells may be left out; a row of nothing but spaces says nothing, and is no fault."""
    sheet = read_sheet([table("vessel,began,pH\nJar,2027-01-03,\n , ,\nTall jar,2027-01-05,4.1\n")], SheetAsk(), UTC, NOW.replace(tzinfo=UTC))
    assert [brew.vessel for brew in sheet.brews] == ["Jar", "Tall jar"]
    assert not sheet.wrong


def test_half_a_litre_may_be_drawn_from_a_tapped_vessel_and_less_than_nothing_may_not():
    """However little is drawn, it is answered."""
    ask = tapped_vessel()
    assert drawing(ask, 0.5).litres == 0.5
    with pytest.raises(OutOfRangeError):
        drawing(ask, -0.01)
    with pytest.raises(OutOfRangeError):
        drawing(ask, ask.line_l + 0.01)


def test_a_refractometer_is_trusted_less_than_a_hydrometer():
    """Alcohol and acids mislead it four times as far."""
    assert gravity_sd("refractometer") == 4 * gravity_sd("hydrometer") == 0.006


@pytest.mark.parametrize(("line", "clock"), [("jar look 23 o'clock", 23), ("jar look 0 o'clock", 0), ("jar look 24 o'clock", None)])
def test_a_day_has_hours_from_nought_to_twenty_three(line, clock):
    """The last one is an hour; the next is none."""
    at = understand(line, HERE).at
    assert (at is not None and (at.hour, at.minute) == (clock, 0)) == (clock is not None)


@pytest.mark.parametrize(("celsius", "doubts"), [(10, True), (9.9, False), (49, True), (50, False)])
def test_degrees_too_few_for_fahrenheit_are_taken_as_celsius_with_a_question(celsius, doubts):
    """From the coldest room on, and only where the household reads °F."""
    found = understand(f"jar 2 {celsius}", replace(HERE, us=True))
    assert any("Too cold for" in str(doubt) for doubt in found.doubts) == doubts


def test_two_titrations_show_that_acid_rose():
    """The second of two settles it, where nobody read a pH twice."""
    grown = (SeenLook(6.0, "disc"),)
    rose = BrewFacts(day=6, mean_c=24, now_c=24, ph=(PhReading(6.0, 3.4, "meter"),), looks=grown, ta=((1.0, 1.0), (6.0, 4.0)))
    assert trial_verdict(rose).fit
    assert not trial_verdict(replace(rose, ta=((6.0, 4.0),))).fit


@pytest.mark.parametrize(("days", "cause"), [((2.0, 40.0), True), ((35.0, 40.0), False), ((None, 40.0), True), ((2.0, 27.0), False)])
def test_old_starter_slows_a_line_only_where_it_grew_older(days, cause):
    """Old now, and ten days older than before; where before is unknown, old is enough."""
    brews = [
        Brewed(day=float(n), mean_c=24.0, starter_age_days=age, honey_share=0.0, leaf_g_per_l=6.0) for n, age in enumerate(days)
    ]
    assert any(found.key == "old starter" for found in causes(brews)) == cause


def test_a_tea_that_slows_a_culture_leaves_more_doubt():
    """What is not known of it is added where the vigours are, and taken from nowhere."""
    prior = Prior(1.0, 1.0, 0.2, 0.0, (0.05, 0.01, 0.0, 0.06, 0.0, 0.02))
    slowed = prior_on(prior, 0.5)
    assert slowed.yeast_vigour == 0.5
    more = slowed.spread**2 - prior.spread**2
    assert more > 0
    assert slowed.covariance == pytest.approx((0.05 + more, 0.01, 0.0, 0.06 + more, 0.0, 0.02))


def test_a_blend_goes_by_its_largest_part():
    """Wherever it stands in the list."""
    assert main_of((("green", 0.3), ("black", 0.7))) == main_of((("black", 0.7), ("green", 0.3))) == "black"


def test_what_is_mixed_is_a_thousand_litres_at_most():
    """More is a slip of the keys."""
    assert mix_temperature([(1000.0, 20.0)]) == 20.0
    with pytest.raises(OutOfRangeError):
        mix_temperature([(1000.5, 20.0)])


def test_a_vessel_gives_what_it_gives_in_the_room_it_stands_in():
    """Unless asked of a warmer room, which gives more."""
    ask = tapped_vessel()
    assert can_give(ask) == can_give(ask, 0.0)
    assert can_give(ask).most < can_give(ask, 2.0).most
