"""Rules at their very edges: exactly at a limit, just beside it, and where a small wrong change would not be seen elsewhere."""

from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest

from kyklos.core.base.errors import OutOfRangeError
from kyklos.core.bottles.bottle import BottleAsk, _first, _warmth, bottle_forecast
from kyklos.core.bottles.gas import Gas, burp, gauge_bar, gauge_of
from kyklos.core.bottles.heard import Heard, vigour_heard
from kyklos.core.brewing import starters
from kyklos.core.brewing.portions import mixed, portion_from_ph, portion_from_titration, take
from kyklos.core.brewing.starters import Mix, choose, vinegar_needed
from kyklos.core.cultures.trace import WAYS, Link, exposed, proposal, shared, suspects
from kyklos.core.forecast.answer import Posterior, _crossing, _kept_days, forecast
from kyklos.core.forecast.ask import ForecastAsk, Observation
from kyklos.core.forecast.fit import _gravity, _measured
from kyklos.core.forecast.prior import culture_prior
from kyklos.core.judging.due import DueFacts, dues
from kyklos.core.judging.safety import BrewFacts, PhReading, Reason, SeenLook, Verdict, judge, shows_life
from kyklos.core.liquid import acids
from kyklos.core.liquid.acids import Medium, Starter, TeaAndWater, medium
from kyklos.core.liquid.batch import Batch, ferment
from kyklos.core.liquid.events import Move
from kyklos.core.liquid.ferment import ETHANOL, Kinetics, Recipe, step_length, surface_factor
from kyklos.core.liquid.liquid import Inert, Liquid, mature, mature_from_ph, starter_of
from kyklos.core.liquid.temperature import steady

OWN = TeaAndWater("black", 6, 0.5)
WHERE = OWN.medium


def facts(day, *ph, **more):
    """What is known of a brew: readings as (day, pH)."""
    told = tuple(PhReading(d, value, "meter") for d, value in ph)
    return BrewFacts(**{"day": day, "mean_c": 24.0, "now_c": 24.0, "measured_c": None, "ph": told, "looks": (), **more})


def word(*args, **more):
    """The verdict's word."""
    return judge(facts(*args, **more)).word


@pytest.mark.parametrize(
    "told, expected",
    [
        (facts(0, (0, 4.5)), "carry on"),
        (facts(0, (0, 4.51)), "hold"),
        (facts(7, (0, 4.0), (7, 4.2)), "hold"),
        (facts(7, (0, 4.4), (7, 4.31)), "discard"),
        (facts(8, (0, 4.4), (6.9, 4.31)), "hold"),
        (facts(6.9, (0, 4.4), (6.9, 4.31)), "carry on"),
        (facts(5, (0, 4.0), (5, 2.5)), "carry on"),
        (facts(5, (0, 4.0), (5, 2.49)), "watch"),
        (facts(9.9, (0, 4.4), (9.9, 4.4), mean_c=19.9), "hold"),
        (facts(10, (0, 4.4), (10, 4.4), mean_c=19.9), "discard"),
        (facts(9.9, (0, 4.4), (9.9, 4.4), mean_c=20.0), "discard"),
        (facts(1, (0, 4.0), (1, 4.7)), "hold"),
        (facts(1.1, (0, 4.0), (1.1, 4.7)), "hold"),
    ],
)
def test_limits_of_ph_hold_exactly(told, expected):
    """4.5 at the start, 4.2 on day 7 itself, 2.5 for drinking: at the limit it is all right, beside it not."""
    assert judge(told).word == expected


def test_heat_holds_and_kills_in_its_own_words():
    """At 37 nothing is held; above it a brew is held; only above 42 the culture is called dead."""
    assert word(3, measured_c=37.0) == "carry on"
    held, dead, just = (judge(facts(3, measured_c=c)).reasons[0].sentence for c in (38.0, 42.5, 42.0))
    assert "until it works again" in held
    assert "until it works again" in just
    assert "the culture is dead" in dead


def test_a_ph_that_stands_still_holds_after_four_days_and_three_tenths():
    """From day 7 on four days without a fall hold a brew; one that fell by 0.3 since the start lives; a new skin lives too."""
    still = ((0, 4.3), (3, 4.1), (7, 4.1))
    assert word(7, *still) == "hold"
    assert word(6, (0, 4.3), (2, 4.1), (6, 4.1)) == "carry on", "before day 7 it may still begin"
    assert word(8, (0, 4.4), (3, 4.3), (5, 4.2), (8, 4.19)) == "carry on", "a line through them falls"
    assert word(6, (0, 4.3), (2, 3.95), (6, 3.95)) == "carry on"
    assert word(6, (0, 4.3), (2, 4.0), (6, 4.0)) == "carry on", (
        "three tenths are three tenths, however a machine writes them"
    )
    assert shows_life(facts(6, (0, 4.3), (6, 4.0)))
    assert not shows_life(facts(6, (0, 4.29), (6, 4.0)))
    assert word(7, *still, looks=(SeenLook(5, "skin", (), ""),)) == "carry on"


DUE = DueFacts(
    status="fermenting", diet="sugar", day=8.0, mean_c=22.0, verdict=Verdict("carry on", (), True), measures_ph=True,
    last_ph_day=7.5, last_ph=3.4, last_look_day=7.0, last_taste_day=7.8, labelled=True,
)  # fmt: skip


def kinds(**change):
    """What is due, by kind."""
    return [due.kind for due in dues(replace(DUE, **change))]


def test_an_urgent_gate_stays_when_harvest_is_due():
    """Inside the window a measurement of every other day goes; the pH of day 7 does not."""
    late = {"ready_from": 7.0, "ready_to": 12.0, "last_taste_day": 7.9}
    assert kinds(**late, last_ph_day=5.0, last_ph=4.4) == ["measure", "harvest"]
    assert dues(replace(DUE, **late, last_ph_day=5.0, last_ph=4.4))[0].urgent
    assert kinds(**late, last_ph_day=6.0, last_ph=3.9) == ["harvest"]


def test_due_things_at_their_edges():
    """A taste counts for 0.8 days, a look is looked at again a day later, a high shelf is passed by and tasted sooner."""
    window = {"ready_from": 8.0, "ready_to": 12.0}
    assert kinds(**window, last_taste_day=7.15)[0] == "taste"
    assert kinds(**window, last_taste_day=7.25)[0] == "harvest"
    assert kinds(**window, last_taste_day=7.25, day=12.0)[0] == "taste"
    assert "Harvest it, or keep" in dues(replace(DUE, **window, day=12.1))[0].what
    watched = {"look_verdict": "watch", "day": 8.0}
    assert "look" not in kinds(**watched, last_look_day=7.11)
    assert kinds(**watched, last_look_day=7.09)[0] == "look"
    high = {"reach": "high", "day": 5.2, "last_ph_day": 4.0, "last_taste_day": None}
    assert kinds(**high, last_look_day=5.0) == ["taste"]
    assert kinds(**{**high, "reach": "easy"}, last_look_day=5.0) == []
    told = dues(
        replace(DUE, **{**high, "day": 13.0, "last_ph_day": 12.5, "last_look_day": 5.0, "last_taste_day": 12.9})
    )
    assert any("A high shelf is passed by" in due.why for due in told)
    assert not any("high shelf" in due.why for due in dues(replace(DUE, day=13.0, last_look_day=5.0)))


def test_a_grown_disc_is_stepped_up_on_the_last_of_its_days():
    """On day 28 and after, looked at, it is to be stepped up; the day before it is left in peace."""
    grow = {"kind": "grow", "watch": (4, 7, 14, 28), "measures_ph": False}
    assert kinds(**grow, day=28.0, last_look_day=28.0) == ["harvest"]
    assert kinds(**grow, day=27.0, last_look_day=26.0) == ["nothing"]
    assert "Next look on day 28" in dues(replace(DUE, **grow, day=27.0, last_look_day=26.0))[0].why


def test_starters_are_taken_whole_first_and_never_more_than_there_is():
    """A heel is in already; the rest is missing; the mix cannot be more than all; vinegar is nothing unless told."""
    heel = replace(portion_from_ph("h", "h", 0.3, 3.2, 0.1, OWN), fixed=True)
    lot = portion_from_ph("l", "l", 0.2, 3.0, 0.1, OWN)
    assert [(p.key, litres) for p, litres in take([lot, heel], 0.4)] == [("h", 0.3), ("l", pytest.approx(0.1))]
    assert take([lot], 1.0) == ((lot, 0.2),)
    short = choose([lot], Mix(3.0, WHERE), floor=0.1, share=0.2)
    assert short.short_l == pytest.approx(0.4)
    assert short.fraction == pytest.approx(0.2 / 3)
    mix = Mix(1.0, WHERE)
    assert mix.vinegar_l == 0.0
    pure = take([replace(lot, left_l=2.0)], 2.0)
    assert mix.start_ph(pure) == pytest.approx(3.0, abs=0.001)
    assert mixed(()) == Starter(0.0, 0.0)


def test_a_titrated_portion_has_a_range_on_both_sides():
    """Stronger than read lies as far below its pH as weaker lies above; of several, all must be titrated to count as that."""
    sour = portion_from_titration("t", "t", 1.0, 7.0, OWN)
    assert sour.low_ph < sour.ph < sour.high_ph
    assert sour.high_ph - sour.ph == pytest.approx(sour.ph - sour.low_ph, rel=0.15)
    read = portion_from_ph("p", "p", 1.0, 3.0, 0.1, OWN)
    assert starters.mixture_ta(((sour, 0.2), (read, 0.2))) is None
    assert starters.mixture_ta(((sour, 0.2),)) == pytest.approx(7.0)
    assert starters.mixture_ta(()) is None


def test_honey_and_vinegar_both_sour_the_start():
    """Each lowers the likely start; neither counts for what is advised; vinegar takes the place of sweet tea and its honey."""
    weak = portion_from_ph("w", "w", 0.3, 3.8, 0.1, OWN)
    taken = take([weak], 0.3)
    bare, honey, vinegar, both = (
        Mix(3.0, WHERE, honey_g_per_l=h, vinegar_l=v).start_ph(taken)
        for h, v in ((0, 0), (70, 0), (0, 0.05), (70, 0.05))
    )
    assert both < vinegar < honey < bare
    assert Mix(3.0, WHERE, 70, 0.05).start_ph(taken, bare=True) == pytest.approx(bare)
    more = Mix(3.0, WHERE, 70, 1.0).start_ph(taken)
    all_tea = float(acids.ph(0.1 * weak.likely.acetic_g_per_l + 50 / 3, 0.1 * weak.likely.gluconic_g_per_l, WHERE, 0.025 * 70 * 0.9))  # fmt: skip
    assert more > all_tea
    needed = vinegar_needed(taken, Mix(3.0, WHERE, 70))
    assert 0 < needed < vinegar_needed(taken, Mix(3.0, WHERE))
    assert Mix(3.0, WHERE, 70, needed).start_ph(taken, weak=True) == pytest.approx(4.2, abs=0.001)
    hard = replace(WHERE, strong_ions_meq_per_l=60.0)
    assert vinegar_needed(take([weak], 0.01), Mix(3.0, hard)) is None


def test_the_bracket_solves_what_newton_solves():
    """Where Newton's steps are not given time to settle, halving finds the same pH, over all acids and waters."""
    for alkalinity, acetic, citric in (
        (0.0, 0.0, 0.0),
        (0.5, 3.0, 0.0),
        (8.0, 0.1, 0.0),
        (0.0, 0.0, 200.0),
        (20.0, 0.0, 5.0),
    ):
        where = replace(medium("green", 5, alkalinity), citric_mmol_per_l=citric)
        quick = acids.ph(acetic, acetic / 3, where)
        slow = acids._bracketed_ph(np.asarray(acetic / 60.05 * 1000), np.asarray(acetic / 3 / 196.16 * 1000), where)
        assert float(slow) == pytest.approx(float(quick), abs=1e-4)
    assert float(acids._bracketed_ph(np.array(0.0), np.array(0.0), Medium(0, 500.0, 0))) > 10.9
    assert float(acids._bracketed_ph(np.array(1e6), np.array(0.0), Medium(0, 0, 0))) < 2.2


def test_newton_gives_up_to_the_bracket(monkeypatch):
    """Without enough steps the answer comes from the bracket, and is the same."""
    usual = float(acids.ph(3.0, 1.0, WHERE))
    monkeypatch.setattr(acids, "PLAIN_STEPS", 1)
    assert float(acids.ph(3.0, 1.0, WHERE)) == pytest.approx(usual, abs=1e-4)


def test_the_surface_counts_between_half_and_twice():
    """A pond gains no more than twice, a narrow bottle loses no more than half; between them the root of the surface counts."""
    assert [surface_factor(s) for s in (0.0125, 0.01, 0.05, 0.2, 0.5)] == [0.5, 0.5, 1.0, 2.0, 2.0]
    assert surface_factor(0.1) == pytest.approx(2**0.5)
    assert step_length(2.83) == 0.5
    assert step_length(2.84) == 0.25


def test_a_bottle_that_is_over_its_limit_when_it_is_filled_says_day_0():
    """What is reached at once is reached on day 0, not between two days; what is reached later lies between its days."""
    day = np.array([0.0, 1.0, 2.0])
    assert _first(day, np.array([3.0, 4.0, 5.0]), 2.0) == 0.0
    assert _first(day, np.array([3.0, 4.0, 5.0]), 3.0) == 0.0
    assert _first(day, np.array([1.0, 2.0, 5.0]), 3.5) == pytest.approx(1.5)
    assert _first(day, np.array([1.0, 2.0, 3.0]), 3.5) is None
    start = tuple(ferment(Recipe(), steady(24), 9).state[9, :, 0])
    out = bottle_forecast(BottleAsk(start=start, added_sugar_g_per_l=20, course=steady(30), limit_bar=0.2))
    assert (out.chill_by_day, out.passes_limit_day) == (0.0, 0.0)


def test_a_bottles_doubt_begins_on_its_day_and_sits_in_the_middle_of_each_step():
    """Before the fridge nothing is in doubt, from then on two kelvin are; the likely member follows the course itself."""
    start = tuple(ferment(Recipe(), steady(24), 9).state[9, :, 0])
    ask = BottleAsk(
        start=start, added_sugar_g_per_l=5, course=steady(20), doubt_k=((0.0, 0.0), (2.0, 2.0)), limit_bar=4.0
    )
    warmth = _warmth(ask, np.array([0.0, 1.99, 2.0, 5.0]))
    assert np.ptp(warmth[:2]) == 0
    assert warmth[2].std() == pytest.approx(2.0, rel=0.15)
    assert warmth[:, 0].tolist() == [20.0] * 4
    assert _warmth(replace(ask, doubt_k=()), np.array([1.0])).shape == (1, 1)
    sure = bottle_forecast(replace(ask, doubt_k=((0.0, 0.0),)))
    plain = bottle_forecast(replace(ask, doubt_k=()))
    assert sure.at(10)[1] == pytest.approx(plain.at(10)[1], rel=1e-3)
    step = BottleAsk(
        start=start, added_sugar_g_per_l=5, course=steady(20), doubt_k=((0.0, 0.0), (30.0, 2.0)), limit_bar=4.0
    )
    assert bottle_forecast(step).at(10)[2] == pytest.approx(plain.at(10)[2], rel=1e-3)


@pytest.mark.parametrize("wrong", [{"headspace_fraction": 0.0009}, {"headspace_fraction": 0.91}, {"added_sugar_g_per_l": 201}, {"days": 401}, {"vigour": 0.04}, {"limit_bar": 0.09}])  # fmt: skip
def test_a_bottle_that_cannot_be_is_refused_at_its_limits(wrong):
    """Just outside is refused, just inside is taken."""
    right = {"headspace_fraction": 0.001, "added_sugar_g_per_l": 200, "days": 400, "vigour": 0.05, "limit_bar": 0.1}
    told = {"start": (0.0,) * 8, "course": steady(20), **right}
    BottleAsk(**told)
    with pytest.raises(OutOfRangeError):
        BottleAsk(**{**told, **wrong})


def test_a_burp_lets_gas_and_air_in_proportion():
    """Two bar let down lose air to a third and a little gas; a flat bottle loses nothing; air warms with its bottle."""
    gas = Gas(2.6)
    before = gauge_of(gas, 20.0, 20.0, 0.05)
    after = burp(gas, 20.0, 20.0, 0.05)
    assert after.air_atm == pytest.approx(1 / (1 + before / 1.01325))
    assert 0.95 < after.co2_volumes / gas.co2_volumes < 0.99
    assert burp(Gas(0.0), 20.0, 20.0, 0.05) == Gas(0.0)
    assert gauge_of(gas, 30.0, 20.0, 0.05) - float(gauge_bar(2.6, 30.0, 0.05)) == pytest.approx(
        1.01325 * 10 / 293.15, rel=1e-6
    )


def test_a_hiss_teaches_by_where_it_lies():
    """A gush teaches more vigour than a clear hiss, a whisper less; silence where a hiss was due may be a leak, and says little."""
    start = tuple(ferment(Recipe(), steady(24), 9).state[9, :, 0])
    ask = BottleAsk(start=start, added_sugar_g_per_l=8, course=steady(22), limit_bar=4.0)
    taught = [vigour_heard(ask, [Heard(ask, 4.0, hiss)])[0] for hiss in range(5)]
    assert taught[1:] == sorted(taught[1:])
    assert taught[1] < taught[0] < 1.0 < 1.1 < taught[4]


def test_a_titration_is_compared_by_its_logarithm():
    """Ten per cent too sour counts the same at 1 and at 10 g/L; the least is told as 0.02."""
    values, sd = _measured((Observation(3, "ta", 1.0), Observation(5, "ta", 10.0), Observation(1, "ta", 0.0)))
    assert values.tolist() == pytest.approx([0.0, np.log(10.0), np.log(0.02)])
    assert sd.tolist() == [0.05] * 3
    batch = Batch(recipe=Recipe(), course=steady(24))
    plain = forecast(ForecastAsk(batch=batch))
    told = plain.at(plain.ta_g_per_l, 8)[1]
    seen = forecast(ForecastAsk(batch=batch, observations=(Observation(8, "ta", told),)))
    assert seen.at(seen.ta_g_per_l, 8)[1] == pytest.approx(told, rel=0.04)
    assert seen.contradicted == 1.0


def test_few_brews_shrink_to_the_typical_culture_and_old_ones_fade():
    """One lively brew moves the prior less than five do; the newest weighs most; a jun starts from 1.5."""
    lively, slow = Posterior(1.6, 1.6, 0.1, 0.1), Posterior(0.7, 0.7, 0.1, 0.1)
    one, five = culture_prior("sugar", (lively,)), culture_prior("sugar", (lively,) * 5)
    assert 1.2 < one.yeast_vigour < five.yeast_vigour < 1.6
    assert five.spread < one.spread < culture_prior("sugar", ()).spread
    newest_slow = culture_prior("sugar", (slow, lively))
    newest_lively = culture_prior("sugar", (lively, slow))
    assert newest_slow.yeast_vigour < newest_lively.yeast_vigour
    assert culture_prior("jun", ()).yeast_vigour == 1.5
    exact, vague = (culture_prior("sugar", (Posterior(1.6, 1.6, sd, sd),)) for sd in (0.05, 0.3))
    assert 0.18 < exact.spread < vague.spread < 0.35


def test_a_crossing_lies_between_its_days():
    """Reached at once is day 0, never is infinite, else straight between the two days."""
    day = np.array([0.0, 2.0, 4.0])
    values = np.array([[1.0, 5.0, 0.0], [3.0, 6.0, 0.5], [5.0, 7.0, 0.9]])
    assert _crossing(day, values, 4.0).tolist() == [3.0, 0.0, np.inf]


def test_gravity_is_that_of_the_table():
    """100 g/L of sugar stands at 1.0386, the half of it turned to alcohol lies below the sugar that is left."""
    state = np.zeros((8, 2))
    state[0] = 100.0, 50.0
    state[ETHANOL] = 0.0, 25.0
    sugar, half = _gravity(state)
    assert sugar == pytest.approx(1.0386, abs=0.0002)
    assert half == pytest.approx(1.0193 - 0.0067, abs=0.0003)


def test_days_told_end_with_the_forecast():
    """Half days at first, then whole ones, and nothing beyond the last day asked for."""
    ask = ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(24)))
    assert _kept_days(ask, 2.5).tolist() == [0.0, 0.5, 1.0, 1.5, 2.0, 2.5]
    assert _kept_days(ask, 30.0)[-2:].tolist() == [29.0, 30.0]


CHAIN = [Link(("brew", 1), ("lot", 1), 5.0, "kept"), Link(("lot", 1), ("brew", 2), 6.0, "starter"), Link(("lot", 1), ("brew", 3), 7.0, "fed")]  # fmt: skip


def test_a_trace_begins_and_ends_at_its_moment_itself():
    """What passed at the very moment counts, before and after it does not; each further step weakens the evidence by a tenth."""
    assert {r.node for r in exposed(CHAIN, ("brew", 1), 5.0)} == {("lot", 1), ("brew", 2), ("brew", 3)}
    assert exposed(CHAIN, ("brew", 1), 5.1) == []
    assert {r.node for r in suspects(CHAIN, ("brew", 2), 6.0)} == {("lot", 1), ("brew", 1)}
    assert suspects(CHAIN, ("brew", 2), 5.9) == []
    found = {r.node: r for r in exposed(CHAIN, ("brew", 1), 0.0)}
    assert found[("lot", 1)].strength == 1.0
    assert found[("brew", 2)].strength == pytest.approx(0.9)
    assert found[("brew", 3)].strength == pytest.approx(0.9 * 0.9)
    assert [r.node for r in exposed(CHAIN, ("brew", 1), 0.0)] == [("lot", 1), ("brew", 2), ("brew", 3)]
    assert [r.node for r in shared(CHAIN, ("brew", 2), 6.0)] == [("brew", 3)]
    assert max(strength for _, strength in WAYS.values()) == 1.0


def test_what_is_suspected_is_listed_strongest_first():
    """Of two that could have brought it the surer stands first, though the other was nearer in time."""
    links = [Link(("brew", 1), ("brew", 3), 1.0, "starter"), Link(("hotel", 2), ("brew", 3), 2.0, "lived")]
    assert [r.node for r in suspects(links, ("brew", 3), 5.0)] == [("brew", 1), ("hotel", 2)]
    assert [r.node for r in exposed([Link(("brew", 3), n, at, how) for n, at, how in ((("disc", 1), 1.0, "back"), (("lot", 2), 2.0, "kept"))], ("brew", 3), 0.0)] == [("lot", 2), ("disc", 1)]  # fmt: skip


def test_what_does_not_ferment_mixes_by_volume_too():
    """Leaf, honey's acid and the water's ions of two liquids meet in the middle when a litre meets a litre."""
    inert = Inert(Medium(2.0, 4.0, 1.0), 1.0, 6.0)
    other = Liquid(litres=1.0, honey_acid_meq_per_l=3.0, leaf_g_per_l=2.0, strong_ions_meq_per_l=2.0)
    both = inert.mixed(1.0, other)
    assert (both.honey_acid_meq_per_l, both.leaf_g_per_l, both.medium.strong_ions_meq_per_l) == (2.0, 4.0, 3.0)
    assert starter_of(Recipe()).litres == mature_from_ph(3.1).litres == 1.0
    assert mature(Starter(5.0, 1.7), WHERE, 6).litres == 1.0


def test_a_batch_is_held_to_what_can_be():
    """A thimble is a batch and less is not; a surface of twice the volume is the most."""
    thimble = Batch(recipe=Recipe(), course=steady(24), litres=0.001)
    with pytest.raises(OutOfRangeError):
        replace(thimble, litres=0.00105 - 0.0001)
    replace(thimble, events=(Move(1.0, 2.0),))
    for wrong in (2.1, 0.0009):
        with pytest.raises(OutOfRangeError):
            replace(thimble, events=(Move(1.0, wrong),))


def test_what_is_proposed_follows_from_the_evidence():
    """Three quarters and more is discarded, less set apart; what is gone needs nothing; what lies in it goes with it."""
    told = [SimpleNamespace(strength=s, node=("disc", 1), path=(), ways=()) for s in (0.75, 0.74)]
    assert [proposal(t, True) for t in told] == ["discard", "quarantine"]
    assert proposal(told[1], True, inside=True) == "discard"
    assert proposal(told[0], False) not in {"discard", "quarantine"}


def test_kinetics_and_reasons_are_plain_values():
    """A kinetics without more is the typical one; a reason carries its verdict."""
    assert (Kinetics().food, Kinetics().surface, Kinetics().air) == (1.0, 1.0, 1.0)
    assert Reason("watch", "x").verdict == "watch"
