"""Palates, what-ifs, hindsight, causes, overrules, absences, salvage, traces: each rule by what holds."""

import itertools
import time
from dataclasses import replace
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.base.errors import CoreError
from kyklos.core.brewing import away, salvage
from kyklos.core.cultures import growth, trace
from kyklos.core.forecast import compromise, hindsight
from kyklos.core.forecast.answer import forecast
from kyklos.core.forecast.ask import ForecastAsk, Observation
from kyklos.core.forecast.palate import Tasted, drift, learn, learn_at
from kyklos.core.forecast.what_if import Alternative, what_if
from kyklos.core.judging import overrule
from kyklos.core.judging.diagnosis import CAUSES, CHECKS, Evidence, diagnose, pace_of
from kyklos.core.judging.due import DueFacts, dues
from kyklos.core.judging.instruments import Calibrated, ph_sd, standing
from kyklos.core.judging.observations import ORDER, Reason
from kyklos.core.judging.safety import Verdict
from kyklos.core.liquid.batch import Batch
from kyklos.core.liquid.ferment import Recipe
from kyklos.core.liquid.taste import Point
from kyklos.core.liquid.temperature import Course
from kyklos.core.sheets import logger_file
from tests.pace import slower

READ = (Observation(2.0, "ph", 3.75), Observation(4.0, "ph", 3.5))
ASK = ForecastAsk(batch=Batch(recipe=Recipe(), course=Course(((0.0, 23.0),), 22.0)), observations=READ, points=(Point("Ana", 4.0), Point("Ben", 5.5)))  # fmt: skip
few = settings(max_examples=25, deadline=None)


def tastings(point, count, seed=1, age=0.0):
    """Tastings of someone whose point is known."""
    rng = np.random.default_rng(seed)
    acidity = rng.uniform(1.5, 9, count)
    scores = np.clip(np.round(4 * np.log(acidity / point) + rng.normal(0, 0.7, count)), -3, 3)
    return [Tasted(float(s), float(a), 0.05, age) for s, a in zip(scores, acidity, strict=True)]


def test_a_palate_is_learned_and_until_then_usual():
    """Nothing tasted gives the usual point; thirty tastings find a tart taster's within a tenth, and narrow it."""
    assert learn([]).ta_g_per_l == pytest.approx(4.0)
    assert learn([], jun=True).ta_g_per_l == pytest.approx(3.0)
    known = learn(tastings(5.8, 30))
    assert known.ta_g_per_l == pytest.approx(5.8, rel=0.1)
    assert known.sd < 0.1 < learn(tastings(5.8, 1)).sd
    low, high = known.window_g_per_l
    assert known.score(low) == pytest.approx(-0.7, abs=1e-6)
    assert known.score(high) == pytest.approx(0.7, abs=1e-6)


def test_old_tastings_fade_and_a_drift_is_told():
    """Two years old counts a quarter of fresh; a taster who grew tart is said to have drifted, another not."""
    old = tastings(3.0, 12, age=730)
    new = tastings(5.5, 12, seed=2)
    assert learn(old + new).ta_g_per_l > np.sqrt(3.0 * 5.5) * 1.1
    moved = drift([*tastings(3.0, 12, age=400), *new])
    assert moved.clear
    assert moved.share > 0.3
    same = drift([*tastings(4.0, 12, age=400), *tastings(4.0, 12, seed=3)])
    assert not same.clear
    assert drift(new) is None
    assert learn_at(old + new, 365).tastings == 12


@given(st.permutations(range(6)))
def test_a_palate_does_not_depend_on_the_order_of_tastings(order):
    """The same tastings in any order teach the same point."""
    known = tastings(5.0, 6)
    assert learn([known[i] for i in order]) == learn(known)


@pytest.mark.alone
def test_warmer_is_sooner_and_each_what_if_answers_quickly():
    """A warmer room brings the day nearer, a cold week pushes it off, the fridge stops it; each within 150 ms of a common machine."""
    forecast(ASK)
    usual = forecast(ASK).ready["Ben"].p50
    days = []
    for change in (Alternative("room", 30.0), Alternative("heater", 26.0), Alternative("cold-week", None, 4.5), Alternative("fridge")):
        best = np.inf
        for nudge in (0.0, 0.01, 0.02):
            started = time.process_time()
            out = what_if(ASK, 4.2 + nudge, change)
            best = min(best, time.process_time() - started)
        assert best < 0.15 * slower()
        days.append(out.ready["Ben"].p50)
    assert days[0] < days[1] < usual < days[2]
    assert days[3] is None
    more = what_if(replace(ASK, observations=()), 0.5, Alternative("starter", share=0.1)).ready["Ben"].p50
    assert more < forecast(replace(ASK, observations=())).ready["Ben"].p50


@pytest.mark.parametrize(
    "change", [Alternative("room"), Alternative("room", 60.0), Alternative("starter", share=0.1), Alternative("starter"), Alternative("tea")]
)
def test_a_what_if_that_cannot_be_is_refused(change):
    """A number missing, out of range, or too late is refused with a sentence."""
    with pytest.raises(CoreError):
        what_if(ASK, 5.0, change)


def test_a_heater_never_cools_and_the_past_stays():
    """A set point below the room changes nothing; the curve until today is the same in every future."""
    assert what_if(ASK, 4.2, Alternative("heater", 18.0)).ready["Ana"].p50 == pytest.approx(
        forecast(ASK).ready["Ana"].p50, abs=0.05
    )
    then, now = what_if(ASK, 4.5, Alternative("room", 30.0)), forecast(ASK)
    past = now.day <= 4.0
    assert np.allclose(then.ph.p50[past], now.ph.p50[past], atol=0.01)


@given(st.floats(0.5, 9.0), st.sampled_from(["meter", "uncalibrated", "strip"]))
@few
def test_a_reading_that_agrees_never_widens_the_band(day, instrument):
    """A reading at what was foretold makes the band of pH no wider, then or later, but for rounding."""
    before = forecast(replace(ASK, observations=()))
    _, value, _ = before.at(before.ph, day)
    after = forecast(replace(ASK, observations=(Observation(day, "ph", value, instrument),)))
    later = (before.day >= day) & (before.day <= 14)
    assert np.all((after.ph.p90 - after.ph.p10)[later] <= (before.ph.p90 - before.ph.p10)[later] + 0.02)


def test_readings_that_contradict_widen_it():
    """Two readings that cannot both be true leave more uncertainty than two that agree."""
    agree = forecast(replace(ASK, observations=(Observation(3, "ph", 3.7), Observation(3.5, "ph", 3.65))))
    fight = forecast(replace(ASK, observations=(Observation(3, "ph", 3.3), Observation(3.5, "ph", 4.1))))
    at = int(np.argmin(np.abs(agree.day - 8)))
    assert (fight.ph.p90 - fight.ph.p10)[at] > 1.3 * (agree.ph.p90 - agree.ph.p10)[at]


def test_hindsight_tests_each_reading_by_those_before_it():
    """A brew that goes as foretold is inside the band; few tests are called few, and leave a wide range."""
    truth = forecast(replace(ASK, observations=()))
    seen = tuple(Observation(d, "ph", round(truth.at(truth.ph, d)[1], 2)) for d in (2.0, 4.0, 6.0, 6.3, 8.0))
    record = hindsight.Record(hindsight.tested(replace(ASK, observations=seen)))
    assert [t.day for t in record.tests] == [2.0, 4.0, 6.0, 8.0]
    assert record.inside == 4
    assert not record.enough
    low, high = record.likely_range
    assert low < 0.8 < high
    wrong = hindsight.Record(hindsight.tested(replace(ASK, observations=(Observation(6.0, "ph", 4.2),))))
    assert wrong.inside == 0
    assert wrong.off > 0
    moved = hindsight.moved(truth, forecast(replace(ASK, observations=(Observation(5, "ph", 3.2),))))
    assert moved["Ana"].sooner_days > 0


USUAL = Evidence(day=8.0, pace="usual", pace_against_warm="usual", skin=True, life=True, start_ph=4.1, planned_start_ph=4.1, starter_age_days=5.0)  # fmt: skip
#: Each cause with evidence under which it, and only what belongs to it, is named.
CASES = {
    "cold": {"pace_against_warm": "slow", "mean_c": 17.0},
    "swings": {"pace_against_warm": "slow", "swing_k": 10.0},
    "chlorine": {"pace": "slow", "treatment": "chlorine", "skin": False},
    "weak-starter": {"pace": "slow", "starter_fraction": 0.06},
    "old-starter": {"pace": "slow", "starter_age_days": 90.0},
    "over-diluted": {"pace": "slow", "start_ph": 4.4},
    "dead": {"pace": "stuck", "skin": False, "life": False},
    "cooked": {"pace": "stuck", "hottest_c": 39.0},
    "new-tea": {"pace": "slow", "tea_vigour": 0.85},
    "honey-step": {"pace": "slow", "honey_share": 0.6, "diet_honey_share": 0.2},
    "little-sugar": {"pace": "slow", "sugar_g_per_l": 30.0},
    "hard-water": {"pace": "slow", "alkalinity_meq_per_l": 4.0},
    "starter-only": {"start_ph": 3.3, "planned_start_ph": 3.3, "life": False},
    "warm": {"pace_against_warm": "fast", "mean_c": 29.0},
    "much-starter": {"pace": "fast", "starter_fraction": 0.25},
    "probe": {"largest_rise_ph": 0.3},
}


def test_every_cause_has_its_case():
    """The table of cases covers the table of causes, and every check is used."""
    assert set(CASES) == set(CAUSES)
    assert {name for cause in CAUSES.values() for name in cause.evidence} == set(CHECKS)
    assert diagnose(USUAL) == []


@pytest.mark.parametrize("key", CASES)
def test_a_cause_is_named_only_when_all_of_its_evidence_holds(key):
    """With all of it the cause is named and says why; with any piece back at usual it is not."""
    told = CASES[key]
    found = {finding.cause.key: finding for finding in diagnose(replace(USUAL, **told))}
    assert set(found) == {key}
    assert all(found[key].because)
    for name in told.keys() - {"planned_start_ph", "diet_honey_share"}:
        without = replace(USUAL, **{**told, name: getattr(USUAL, name)})
        assert key not in {finding.cause.key for finding in diagnose(without)}


def test_the_pace_is_held_against_the_band():
    """Above the band by more than the instrument is slow, below it fast, still for four days stuck."""
    assert pace_of(3.9, 0.05, 3.3, 3.6) == "slow"
    assert pace_of(3.63, 0.05, 3.3, 3.6) == "usual"
    assert pace_of(3.1, 0.05, 3.3, 3.6) == "fast"
    assert pace_of(3.9, 0.05, 3.3, 3.6, still_days=4.5, fallen=0.05) == "stuck"


def verdict(*words):
    """A verdict of such reasons."""
    reasons = tuple(Reason(word, f"reason {i}") for i, word in enumerate(words))
    return Verdict(max(words, key=ORDER.index) if words else "carry on", reasons, True)


@pytest.mark.parametrize("said, own", list(itertools.product(ORDER, ORDER)))
def test_caution_is_free_and_risk_needs_a_reason(said, own):
    """Towards caution no reason is asked; towards risk a written one; and the word then counts."""
    computed = verdict(said)
    if said == own:
        with pytest.raises(CoreError):
            overrule.check(own, "because I looked twice", computed)
        return
    if overrule.towards_risk(own, said):
        with pytest.raises(CoreError, match="written reason"):
            overrule.check(own, "no", computed)
    overrule.check(own, "It is a tea stain, seen before.", computed)
    counted = overrule.applied(computed, overrule.Own(own, "seen before", ("reason 0",)))
    assert counted.word == own
    assert "seen before" in counted.reasons[0].sentence


def test_something_new_brings_the_rules_back():
    """A lighter word counts no longer when a graver reason comes that it was not written against; a graver one stays."""
    light = overrule.Own("watch", "a stain", ("reason 0",))
    assert overrule.applied(verdict("hold"), light).word == "watch"
    assert overrule.applied(verdict("hold", "discard"), light).word == "discard"
    assert overrule.applied(verdict("carry on"), overrule.Own("hold", "")).word == "hold"


def test_a_meter_counts_as_calibrated_at_two_buffers_within_its_interval():
    """Overdue, one buffer, or never: uncalibrated, and its readings widen; its own larger error counts too."""
    assert standing([Calibrated(10)], 30).key == "meter"
    assert standing([Calibrated(31)], 30).key == "uncalibrated"
    assert standing([Calibrated(1, at_four=False), Calibrated(40)], 30).overdue
    assert standing([Calibrated(-2)], 30).due_in_days is None
    assert ph_sd("uncalibrated") > ph_sd("meter")
    assert ph_sd("meter", 0.2) == 0.2


def test_salvage_reckons_what_an_over_sour_brew_is_good_for():
    """At twice the liked acid as much water as brew makes it right; nothing says throw it away."""
    found = {use.key: use for use in salvage.uses(8.0, 2.0, 4.0)}
    assert found["dilute"].litres == pytest.approx(2.0, rel=1e-3)
    assert found["starter"].litres == pytest.approx(2.0 / 0.12)
    assert "vinegar" not in found
    assert "vinegar" in {use.key for use in salvage.uses(12.0, 2.0, 4.0)}
    assert "dilute" not in {use.key for use in salvage.uses(3.0, 2.0, 4.0)}


@given(st.floats(0.5, 8), st.floats(0.2, 3))
@few
def test_a_compromise_shares_every_drop(litres, share):
    """The parts add up to what there is, in order of days, none before today; the rest, shallower, is not later."""
    out = forecast(ASK)
    shared = compromise.plan(ASK, out, 5.0, litres, {"Ana": 1.0, "Ben": share})
    assert sum(part.litres for part in shared.parts) == pytest.approx(litres)
    assert [part.day for part in shared.parts] == sorted(part.day for part in shared.parts)
    assert shared.parts[0].day >= 5.0
    assert shared.parts[-1].day <= max(w.p50 for w in out.ready.values()) + 1e-6


def test_tasters_who_agree_share_one_day():
    """Points within a day of each other need no two bottlings."""
    ask = replace(ASK, points=(Point("Ana", 4.0), Point("Ben", 4.1)))
    assert len(compromise.plan(ask, forecast(ask), 2.0, 3.0).parts) == 1


def absence(today, leave, back, **more):
    """An absence for the standard brew."""
    told = {"room_l": 0.0, "litres": 3.0, "shelves": (), "gate_open": True, **more}
    return away.absent(ASK, forecast(ASK), learn([]), today, leave, back, **told)


def test_an_absence_is_judged_by_the_day_it_is_right():
    """Back before it is right: fine; right while away: passes; before leaving: harvest; about the return: taste first."""
    right = forecast(ASK).ready["Ana"].p50
    assert absence(4.2, 4.5, right - 1.5).word == "fine"
    assert absence(4.2, 4.5, right + 0.5).word == "on return"
    assert absence(4.2, 4.5, right + 6).word == "passes"
    assert absence(4.2, right + 1, right + 6).word == "before"


def test_what_helps_before_leaving_is_told():
    """A cooler shelf and more volume put it off; harvesting at its day is right; the gate of day 7 is not missed."""
    right = forecast(ASK).ready["Ana"].p50
    told = absence(4.2, 4.5, right + 5, shelves=(away.Shelf("Cellar", 16.5), away.Shelf("Oven", 30.0)), room_l=1.5)
    options = {option.kind: option for option in told.options}
    assert set(options) == {"cooler", "volume", "early"}
    assert "cellar" in options["cooler"].says
    assert options["cooler"].window.p50 > right
    assert options["volume"].window.p50 > right
    assert told.measure_before
    assert told.score_on_return > 0.7
    assert absence(4.2, right + 1, right + 6).options[-1].helps


def test_growth_pictures_find_their_days():
    """A photo stands for the day it is nearest to; a day that is near and has none asks for one."""
    found = growth.slots([(4.2, "four"), (13.0, "fourteen")], 7.4)
    assert [slot.photo for slot in found] == ["four", None, "fourteen", None]
    assert [slot.due for slot in found] == [False, True, False, False]
    assert [slot.ahead for slot in found] == [False, False, True, True] or found[2].photo


LISBON = ZoneInfo("Europe/Lisbon")
FILES = {
    "semicolons and commas": ("Date;Temp (°C)\n12.02.2027 08:00;21,5\n12.02.2027 08:20;21,7\n", False, 1, 21.6),
    "a zone of its own": ("time,value\n2027-02-12T08:00:00Z,21.5\n2027-02-12T09:00:00+00:00,22.5\n", False, 2, 22.0),
    "two cells and degF": ("#,Date,Time,Temp (°F)\n1,02/12/2027,08:00:00 AM,70.7\n", True, 1, 21.5),
    "tabs": ("2027/02/12 08:00\t21.5\t44\n", False, 1, 21.5),
}


@pytest.mark.parametrize("name", FILES)
def test_a_loggers_file_is_read_whatever_its_table(name):
    """Separators, decimal commas, °F and two cells for a time are understood; means over half hours are kept."""
    text, month_first, points, mean = FILES[name]
    logged = logger_file.read(text, LISBON, month_first)
    assert len(logged.points) == points
    assert np.mean([c for _, c in logged.points]) == pytest.approx(mean, abs=0.05)
    assert datetime.fromtimestamp(logged.points[0][0], UTC).date() == datetime(2027, 2, 12).date()


@pytest.mark.parametrize("text", ["", "hello", "a,b\n1,2\n", "2027-02-12 08:00,warm\n"])
def test_a_file_without_temperatures_is_refused(text):
    """It is refused with a sentence that shows what can be read."""
    with pytest.raises(logger_file.LoggerFileError):
        logger_file.read(text, LISBON)


@given(st.text(alphabet="0123456789-:., ;T/°CF\n\tab", max_size=200))
@few
def test_any_file_is_read_or_refused(text):
    """Nothing but points in range comes out of any text, or a sentence."""
    try:
        logged = logger_file.read(text, LISBON)
    except logger_file.LoggerFileError:
        return
    assert all(-10 <= c <= 60 for _, c in logged.points)
    assert list(logged.points) == sorted(logged.points)


A, B, C, D = ("brew", 1), ("lot", 1), ("brew", 2), ("disc", 9)


def test_a_trace_never_goes_back_in_time():
    """What left before is not exposed; what came later is no suspect; what shared a source is neither."""
    links = [
        trace.Link(D, A, 1),
        trace.Link(A, B, 5),
        trace.Link(B, C, 8),
        trace.Link(D, ("brew", 3), 2),
        trace.Link(A, ("lot", 7), 0.5),
    ]
    assert {r.node for r in trace.exposed(links, A, 1)} == {B, C}
    assert trace.exposed(links, A, 1)[-1].path == (A, B, C)
    assert [r.node for r in trace.suspects(links, A, 6)] == [D]
    assert [r.node for r in trace.shared(links, A, 6)] == [("brew", 3)]


DUE = DueFacts(status="fermenting", diet="sugar", day=8.0, mean_c=22.0, verdict=Verdict("carry on", (), True), measures_ph=True, last_ph_day=7.5, last_ph=3.4, last_look_day=7.0, last_taste_day=7.8)  # fmt: skip


@pytest.mark.parametrize(
    "change, kind",
    [
        ({}, None),
        ({"last_ph_day": 5.0}, "measure"),
        ({"last_taste_day": 6.0}, "taste"),
        ({"last_look_day": 4.0}, "look"),
        ({"last_look_day": 5.5, "reach": "high"}, "look"),
        ({"last_look_day": 6.5, "dry_disc": True}, "look"),
        ({"last_look_day": 6.5, "look_verdict": "watch"}, "look"),
        ({"labelled": False}, "label"),
        ({"ready_from": 6.0, "ready_to": 9.0}, "harvest"),
        ({"ready_from": 4.0, "ready_to": 6.0, "sourness": 2.0}, "salvage"),
        ({"ready_from": 4.0, "ready_to": 6.0, "sourness": 1.1}, "harvest"),
        ({"verdict": Verdict("watch", (Reason("watch", "near a limit"),), True)}, "measure"),
        ({"status": "held"}, "hold"),
    ],
)
def test_what_is_due_follows_from_its_state(change, kind):
    """Each state asks for its own thing, and a quiet brew for nothing."""
    wants = dues(replace(DUE, **change))
    assert [due.kind for due in wants][:1] == ([kind] if kind else [])
    assert all(due.why for due in wants)


def test_only_what_is_no_matter_of_safety_can_wait():
    """Holding and discarding cannot be put off, and stand alone."""
    grave = dues(replace(DUE, verdict=verdict("discard"), labelled=False))
    assert [due.kind for due in grave] == ["discard"]
    assert not grave[0].can_wait
    assert all(due.can_wait for due in dues(replace(DUE, labelled=False, last_look_day=1.0)))


@pytest.mark.parametrize(
    ("text", "first"),
    [
        ("°C;Zeit;Datum\n21,5;08:30;18.02.2027\n22,0;09:30;18.02.2027\n", "2027-02-18 07:30"),
        ("No,Temp (°F),Humidity,Date Time (GMT+00:00)\n1,70.7,51,2027-02-18 08:30\n2,71.6,50,2027-02-18 09:30\n", "2027-02-18 08:30"),
        ("Time (UTC),Temperature\n2027-02-18 08:30,21.5\n2027-02-18 09:30,22\n", "2027-02-18 08:30"),
        ("temp,at\n21.5,1802939400\n22.0,1802943000\n", "2027-02-18 08:30"),
        ("Plot: GMT-05:00\nDate,Sensor,Time,Temp\n02/18/27,A1,03:30:00 AM,21.5\n02/18/27,A1,04:30:00 AM,22\n", "2027-02-18 08:30"),
    ],
    ids=["degrees first, time before its day", "zone in the head, °F", "UTC", "seconds since 1970", "apart, zone above, twelve hours"],
)
def test_a_loggers_columns_may_stand_in_any_order_and_zone(text, first):
    """Wherever its columns stand, and in whatever zone its clock runs, the first reading is of that moment and 21.5 °C."""
    logged = logger_file.read(text, ZoneInfo("Europe/Paris"), month_first="02/18" in text)
    assert (logged.rows, logged.skipped) == (2, 1 if "Plot" not in text else 2)
    assert datetime.fromtimestamp(logged.points[0][0], UTC).strftime("%Y-%m-%d %H:%M") == first
    assert logged.points[0][1] == pytest.approx(21.5, abs=0.01)
