"""A brew that nobody wrote down is judged like any other: from values alone."""

from dataclasses import replace

from kyklos.core.base.kinds import DueKind
from kyklos.core.forecast import ForecastAsk, Observation, forecast
from kyklos.core.judging import dues, judge
from kyklos.core.judging.observations import CARRY_ON, DISCARD, SeenLook
from kyklos.core.judging.watched import Measured, Watched, doubted_ph, due_from, facts_from
from kyklos.core.liquid import Batch, Course, Point, Recipe

COURSE = Course(((0.0, 24.0), (20.0, 24.0)), 24.0)
USUAL = Watched(
    measured=(Measured(0.0, 4.2), Measured(3.0, 3.7, celsius=23.0), Measured(6.0, 3.3, celsius=26.5, high_c=27.0, ta_g_per_l=3.0)),
    looks=(SeenLook(4.0, "skin"), SeenLook(6.0, "skin")),
    tastes=((6.0, -1.0),),
    watch=(4, 7),
)


def asked(watched):
    """A forecast of the same brew."""
    seen = tuple(Observation(m.day, "ph", m.ph) for m in watched.measured if m.ph is not None)
    return forecast(ForecastAsk(batch=Batch(recipe=Recipe(), course=COURSE), observations=seen, points=(Point("", 4.0),)))


def test_facts_are_what_was_measured_by_then():
    """Means and last values come from the course, the warmest from the liquid; a titration counts without its gas only."""
    facts = facts_from(USUAL, COURSE, 6.5)
    assert (facts.mean_c, facts.now_c, facts.measured_c, facts.warmest_day) == (24.0, 24.0, 27.0, 6.0)
    assert [r.ph for r in facts.ph] == [4.2, 3.7, 3.3]
    assert facts.ta == ((6.0, 3.0),)
    gassy = replace(USUAL, measured=(*USUAL.measured[:-1], USUAL.measured[-1]._replace(degassed=False)))
    assert facts_from(gassy, COURSE, 6.5).ta == ()
    assert facts_from(Watched(), COURSE, 0.0).measured_c is None


def test_it_is_judged_and_told_what_is_due_without_a_record():
    """A clean brew carries on and is tasted near its window; mould is discarded, whatever else was measured."""
    facts = facts_from(USUAL, COURSE, 6.5)
    verdict, out = judge(facts), asked(USUAL)
    assert verdict.word == CARRY_ON
    due = due_from(USUAL, facts, verdict, out, [4.0])
    assert (due.last_ph, due.last_ph_day, due.last_taste_day, due.last_look_day) == (3.3, 6.0, 6.0, 6.0)
    assert due.ready_from < due.ready_to
    assert due.sourness > 0.3
    mouldy = replace(USUAL, looks=(*USUAL.looks, SeenLook(6.4, "fuzzy")))
    facts = facts_from(mouldy, COURSE, 6.5)
    verdict = judge(facts)
    assert verdict.word == DISCARD
    assert dues(due_from(mouldy, facts, verdict, out, [4.0]))[0].kind == DueKind.DISCARD


def test_top_ups_count_in_a_tapped_vessel_only_and_a_lifted_disc_is_dry():
    """What was poured into a batch is no topping up; the last look says whether its disc lies dry."""
    topped = replace(USUAL, top_ups=(5.0,), looks=(*USUAL.looks, SeenLook(6.2, "disc", ("lifted",))))
    assert facts_from(topped, COURSE, 6.5).top_ups == ()
    facts = facts_from(replace(topped, runs=True), COURSE, 6.5)
    assert facts.top_ups == (5.0,)
    assert due_from(topped, facts, judge(facts), asked(USUAL), [4.0]).dry_disc


def test_a_last_reading_that_the_others_contradict_is_doubted():
    """Three agree, and a fourth is far off: it is named, so that it is measured again."""
    odd = replace(USUAL, measured=(*USUAL.measured, Measured(7.0, 5.3)))
    assert doubted_ph(facts_from(odd, COURSE, 7.0), asked(odd)) == 5.3
    assert doubted_ph(facts_from(USUAL, COURSE, 7.0), asked(USUAL)) is None
