"""Verdicts that a food-safety person would sign: each fault that was found, and what holds for any record."""

import random
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.base.errors import CoreError
from kyklos.core.forecast.answer import forecast
from kyklos.core.forecast.ask import ForecastAsk, Observation
from kyklos.core.judging.observations import OBSERVATIONS, ORDER
from kyklos.core.judging.overrule import Own, applied, check
from kyklos.core.judging.safety import BrewFacts, PhReading, SeenLook, judge, may_bottle, trial_verdict
from kyklos.core.liquid.batch import Batch
from kyklos.core.liquid.ferment import Recipe
from kyklos.core.liquid.taste import Point
from kyklos.core.liquid.temperature import steady


def facts(day, *ph, by="meter", warm=24.0, **more):
    """What is known of a brew: readings as (day, pH) or (day, pH, instrument)."""
    told = tuple(PhReading(*one) if len(one) == 3 else PhReading(*one, by) for one in ph)
    return BrewFacts(day=day, mean_c=warm, now_c=warm, ph=told, **more)


CLEAN = SeenLook(12.5, "disc", (), "bread")

#: What is known, the word, whether it may be bottled, the rule that says so.
FOUND = [
    (facts(5.5, (0, 4.7), (5, 4.6)), "hold", False, "start"),
    (facts(6.6, (0, 4.9), (3, 4.6), (6.5, 4.35)), "carry on", False, ""),
    (facts(12, (0, 4.6), (7, 5.2), (12, 4.0)), "discard", False, "gate"),
    (facts(14, (0, 4.9), (5, 4.6), (14, 4.1)), "watch", True, "late"),
    (facts(20, (20, 4.1)), "watch", True, "late"),
    (facts(13, (0, 4.9), (5, 4.6), (12, 4.1), looks=(CLEAN,)), "carry on", True, ""),
    (facts(14, (0, 4.4), (10, 3.2), (14, 4.1)), "hold", False, "rise"),
    (facts(14, (0, 4.4), (10, 3.2), (14, 4.1), looks=(SeenLook(13, "disc"),)), "hold", False, "rise"),
    (facts(14, (0, 4.4), (6, 3.9), (10, 4.4), (12, 4.5)), "discard", False, "risen-twice"),
    (facts(7.2, (0, 4.8), (7, 4.5), by="strip"), "hold", False, "unsettled"),
    (facts(7.2, (0, 4.8), (7, 4.25), by="uncalibrated"), "hold", False, "unsettled"),
    (facts(7.2, (0, 4.8), (7, 4.15)), "carry on", True, ""),
    (facts(9, (0, 4.4), (6, 3.6), (9, 4.0, "strip")), "carry on", True, ""),
    (facts(2, (0, 4.4), looks=(SeenLook(1, "coloured"), SeenLook(1.6, "odd"))), "discard", False, "odd-again"),
    (facts(2, (0, 4.4), looks=(SeenLook(1, "coloured"), SeenLook(1.2, "odd"))), "hold", False, "odd"),
    (facts(10, (0, 4.4), (6, 3.1), measured_c=38.0, warmest_day=0.0, looks=(SeenLook(8, "disc"),)), "carry on", True, ""),
    (facts(10, (0, 3.4), measured_c=38.0, warmest_day=5.0, looks=(SeenLook(2, "skin"),)), "hold", False, "hot"),
    (facts(10), "watch", True, "bare"),
    (facts(10, looks=(SeenLook(9, "skin"),)), "carry on", True, ""),
    (facts(10, tastes=((8.0, 0.0),)), "carry on", True, ""),
    (facts(5, (0, 4.0), (5, 3.9)), "watch", True, "slow"),
    (facts(7.5, (0, 4.0), (7.2, 3.9)), "hold", False, "lifeless"),
    (facts(9, (0, 4.0), (8, 3.8), warm=18.0), "watch", True, "slow"),
    (facts(10.5, ta=((0.0, 1.0), (10.2, 1.3))), "hold", False, "lifeless"),
    (facts(3, (0, 4.8), (0.5, 5.1)), "hold", False, "start"),
    (facts(3, (0, 4.8), (2, 4.5, "strip")), "hold", False, "start"),
    (facts(3, (0, 4.8), (2, 4.5, "strip"), (2.5, 4.5, "strip")), "carry on", False, ""),
    (facts(1, (0, 4.5, "strip")), "watch", True, "start-unsettled"),
    (facts(1, (0, 4.5, "strip"), (0.1, 4.5, "strip")), "watch", True, "start-unsettled"),
    (facts(8.5, (0, 4.4), (5, 4.3), (8, 4.4), kind="continuous", top_ups=(6.0,)), "discard", False, "gate"),
    (facts(13, (0, 4.4), (8, 4.3), warm=18.0, kind="continuous", top_ups=(9.0,)), "hold", False, "gate-cool"),
    (facts(2, looks=(SeenLook(1, "disc", (), "solvent"), SeenLook(1.8, "disc"))), "hold", False, "solvent"),
    (facts(3, looks=(SeenLook(1, "disc", (), "solvent"), SeenLook(2.8, "disc", (), "bread"))), "carry on", True, ""),
    (facts(2, looks=(SeenLook(1, "coloured"), SeenLook(1.04, "disc"))), "hold", False, "coloured"),
    (facts(3, looks=(SeenLook(1, "coloured"), SeenLook(2, "", (), "bread"))), "hold", False, "coloured"),
    (facts(3, looks=(SeenLook(1, "coloured"), SeenLook(2, "disc"))), "carry on", True, ""),
    (facts(6, (0, 4.4), (5, 3.4), warm=40.0), "hold", False, "hot"),
    (BrewFacts(day=6, mean_c=25, now_c=45, ph=(PhReading(0, 4.4), PhReading(5, 3.4)), looks=(SeenLook(5, "disc"),)), "hold", False, "dead"),
    (facts(8.5, (0, 4.15), (8, 4.3)), "discard", False, "gate"),
    (facts(12.5, tastes=((12.0, -3.0),)), "watch", False, "still-sweet"),
    (facts(12.5, (5, 3.6), tastes=((12.0, -3.0),)), "carry on", True, ""),
    (facts(9, (0, 4.4), (5, 3.5, "strip"), (7, 3.5, "strip"), (9, 4.0, "strip")), "carry on", True, ""),
    (facts(9, (0, 4.4), (5, 3.0, "strip"), (9, 4.0, "strip")), "watch", True, "rise"),
    (facts(12, (0, 4.4), (6, 3.2), (11, 3.6), (12, 3.6)), "hold", False, "rise"),
    (facts(12, (0, 4.4), (6, 3.2), (11, 3.6), (12, 3.25)), "carry on", True, ""),
    (facts(5, (0, 4.0)), "watch", True, "unseen"),
    (facts(5, (0, 4.0), (5, 3.9), ta=((0.0, 1.0), (5.0, 2.1))), "carry on", True, ""),
    (facts(9, (0, 4.0), kind="grow"), "carry on", False, ""),
    (facts(20, (0, 3.9), (6, 3.3), (16, 4.3), kind="continuous", top_ups=(14.0,)), "watch", False, "tapped-high"),
    (facts(22, (0, 4.9), (6, 3.3), (15, 4.3), (19, 4.4), kind="continuous", top_ups=(14.0, 18.0)), "hold", False, "tapped-rest"),
    (facts(22, (0, 4.9), (6, 3.3), (21.5, 4.3), kind="continuous", top_ups=(14.0,)), "discard", False, "tapped-slow"),
]  # fmt: skip


@pytest.mark.parametrize("told, word, bottle, key", FOUND, ids=str)
def test_what_was_found_wrong_is_right(told, word, bottle, key):
    """Each record has its verdict, its leave to bottle, and the rule that gives it."""
    verdict = judge(told)
    assert (verdict.word, may_bottle(told)) == (word, bottle)
    assert (verdict.reasons[0].key if verdict.reasons else "") == key


def test_in_the_cool_nobody_is_told_a_day_that_is_past():
    """Below 20 degrees a hold runs to day 10; on day 16 the sentence asks for a measure now."""
    early, late = (judge(facts(day, (0, 4.8), (8, 4.5), warm=18.0)) for day in (8.5, 16.0))
    assert "by day 10" in early.reasons[0].sentence
    assert "by day 10" not in late.reasons[0].sentence
    assert early.word == late.word == "hold"
    assert judge(facts(11, (0, 4.8), (10, 4.5), warm=18.0)).word == "discard"


def test_a_meter_is_not_called_rough():
    """What a meter reads near the limit is not blamed on a strip."""
    for ph in (4.15, 4.2, 4.21, 4.25):
        assert "strip" not in " ".join(r.sentence.lower() for r in judge(facts(6, (0, 4.8), (6, ph))).reasons)


def test_a_trial_wants_its_last_reading_low():
    """3.9 then 5.0, or 3.9 alone on day 2, is not fit; a fall to 4.1 by a meter on day 6 with a disc is."""
    disc = (SeenLook(6, "disc"),)
    assert not trial_verdict(facts(7, (0, 3.9), (7, 5.0), looks=disc)).fit
    assert not trial_verdict(facts(7, (2, 3.9), looks=disc)).fit
    assert trial_verdict(facts(7, (0, 4.6), (6, 4.1), looks=disc)).fit


@pytest.mark.parametrize("key", ["fuzzy", "insects", "eels", "rotten"])
def test_mould_and_its_like_cannot_be_overruled(key):
    """Not by twelve letters, not by a page of them; a slow brew can."""
    look = SeenLook(3, "disc", (), key) if OBSERVATIONS[key].group == "smell" else SeenLook(3, key)
    verdict = judge(facts(3, looks=(look,)))
    assert verdict.final
    with pytest.raises(CoreError, match="cannot be overruled"):
        check("watch", "I have seen this a hundred times and it was nothing.", verdict)
    assert applied(verdict, Own("watch", "long ago", tuple(r.sentence for r in verdict.reasons))).word == "discard"
    check("watch", "The probe had not been rinsed that day.", judge(facts(8, (0, 4.8), (7.5, 4.5))))


LOOKS = st.builds(
    SeenLook,
    st.floats(0, 30).map(lambda d: round(d, 1)),
    st.sampled_from([key for key, seen in OBSERVATIONS.items() if seen.group == "surface"]),
    st.lists(st.sampled_from([key for key, seen in OBSERVATIONS.items() if seen.group == "sign"]), max_size=2).map(
        tuple
    ),
    st.sampled_from(["", *(key for key, seen in OBSERVATIONS.items() if seen.group == "smell")]),
)
READINGS = st.builds(
    PhReading,
    st.floats(0, 30).map(lambda d: round(d, 1)),
    st.floats(2.3, 5.6).map(lambda v: round(v, 2)),
    st.sampled_from(["meter", "uncalibrated", "strip"]),
)
RECORDS = st.builds(
    BrewFacts,
    day=st.just(31.0),
    mean_c=st.sampled_from([17.0, 22.0, 27.0]),
    now_c=st.just(22.0),
    ph=st.lists(READINGS, max_size=6),
    looks=st.lists(LOOKS, max_size=4),
    measured_c=st.sampled_from([None, 30.0, 38.0, 43.0]),
    warmest_day=st.floats(0, 20),
)
GRAVE = {key: ORDER.index(seen.verdict) for key, seen in OBSERVATIONS.items() if seen.group == "surface"}


@settings(max_examples=1500)
@given(told=RECORDS, bad=st.sampled_from(["fuzzy", "eels", "insects"]), day=st.floats(0, 31))
def test_a_bad_sign_never_makes_a_verdict_milder(told, bad, day):
    """Mould, eels or insects seen on any day, or a pH above the limit by a meter at the end: never milder than before."""
    before = ORDER.index(judge(told).word)
    seen = replace(told, looks=(*told.looks, SeenLook(day, bad)))
    assert ORDER.index(judge(seen).word) >= before
    assert ORDER.index(judge(seen).word) == len(ORDER) - 1
    high = replace(told, ph=(*told.ph, PhReading(30.9, 4.6, "meter")))
    assert ORDER.index(judge(high).word) >= before
    assert not may_bottle(high)
    hot = replace(told, measured_c=45.0, warmest_day=31.0)
    assert ORDER.index(judge(hot).word) >= ORDER.index(judge(replace(told, measured_c=None)).word)


@settings(max_examples=800)
@given(told=RECORDS, seed=st.integers(0, 999))
def test_the_order_of_entry_does_not_matter(told, seed):
    """Readings and looks written down in any order give the same verdict, word for word."""
    chance = random.Random(seed)
    ph, looks = list(told.ph), list(told.looks)
    chance.shuffle(ph)
    chance.shuffle(looks)
    assert judge(replace(told, ph=tuple(ph), looks=tuple(looks))) == judge(told)


KNOWN = ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(24)), points=(Point("", 4.0),))
AGREEING = ((0.0, 4.0), (2.0, 3.8), (4.0, 3.6))


def foretold(*readings, by="meter"):
    """A forecast from readings: day and pH."""
    return forecast(replace(KNOWN, observations=tuple(Observation(d, "ph", ph, by) for d, ph in readings)))


@pytest.mark.parametrize("wrong", [(6.0, 5.2), (6.0, 2.2), (5.0, 7.0), (3.0, 4.9)])
def test_one_wrong_reading_does_not_govern(wrong):
    """Three readings that agree foretell the day; one far off is set aside, named, and moves it by no more than half a day."""
    plain, mixed = foretold(*AGREEING), foretold(*sorted((*AGREEING, wrong)))
    assert [seen.value for seen in mixed.aside] == [wrong[1]]
    assert mixed.ready[""].p50 == pytest.approx(plain.ready[""].p50, abs=0.5)
    assert mixed.ready[""].p90 - mixed.ready[""].p10 < 1.5 * (plain.ready[""].p90 - plain.ready[""].p10)
    assert plain.aside == ()


@pytest.mark.parametrize("ph", [7.0, 2.0])
def test_a_single_impossible_reading_says_nothing(ph):
    """A single 7.0 or 2.0 leaves the forecast as it was before any reading, within a day."""
    assert foretold((3.0, ph)).ready[""].p50 == pytest.approx(foretold().ready[""].p50, abs=1.0)
    assert foretold((3.0, ph)).aside


def test_a_second_reading_that_agrees_brings_the_first_one_back():
    """Two readings far above the others, one after the other, are no misreading: both count."""
    assert foretold(*AGREEING, (6.0, 5.2), (7.0, 5.1)).aside == ()
    late = foretold(*AGREEING, (6.0, 5.2), (7.0, 5.1)).ready[""]
    assert late.p50 is None or late.p50 > 12


def test_readings_that_merely_surprise_all_count():
    """A slow brew, read three times, is believed: nothing is set aside, and the day moves."""
    slow = foretold((2.0, 4.2), (4.0, 4.1), (7.0, 3.95))
    assert slow.aside == ()
    assert slow.ready[""].p50 is None or slow.ready[""].p50 > foretold().ready[""].p50 + 2
