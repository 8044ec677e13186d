"""What is offered on a jar: one main thing, and nothing that makes no sense."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.base.kinds import DueKind, NextStep
from kyklos.core.brewing.pitch_check import for_standing
from kyklos.core.judging.due import DueFacts, due_now
from kyklos.core.judging.next_steps import HARVEST_FROM, StepFacts, next_steps
from kyklos.core.judging.safety import Verdict

DUES = [*DueKind, "draw", "top-up", "thin", "tap"]


@pytest.mark.parametrize(
    ("facts", "main"),
    [
        ({"due": "harvest", "day": 8.0}, NextStep.HARVEST),
        ({"due": "salvage", "day": 30.0}, NextStep.HARVEST),
        ({"due": "taste", "day": 6.0}, NextStep.TASTE),
        ({"due": "nothing", "day": 2.0}, None),
        ({"due": "nothing", "day": 40.0, "runs": True}, NextStep.GLASS),
        ({"due": "draw", "day": 40.0, "runs": True}, NextStep.DRAW),
        ({"due": "hold", "day": 0.0, "held": True, "on_hold": True}, NextStep.SOUR),
        ({"due": "hold", "day": 0.0, "held": True, "on_hold": True, "soured": True}, NextStep.MEASURE),
        ({"due": "hold", "day": 5.0, "on_hold": True}, NextStep.LOOK),
        ({"due": "discard", "day": 5.0, "lost": True}, NextStep.DISCARD),
        ({"due": "thin", "day": 50.0, "runs": True}, None),
    ],
)
def test_what_is_due_is_the_main_thing(facts, main):
    """One thing answers to what is due; where nothing on the round does, there is none."""
    assert next_steps(StepFacts(**facts)).main == main


@given(
    st.sampled_from(DUES), st.lists(st.sampled_from(DUES), max_size=3), st.floats(0, 90), st.booleans(), st.booleans(), st.booleans(),
    st.booleans(), st.booleans(), st.booleans(),
)  # fmt: skip
def test_nothing_is_offered_that_makes_no_sense(due, also, day, lost, held, on_hold, drunk, runs, paused):
    """No taste of what is lost, on hold or not drunk; no harvest of a jar just started or a tapped one; each thing once."""
    found = next_steps(
        StepFacts(due=due, also=also, day=day, lost=lost, held=held, on_hold=on_hold or held, drunk=drunk, runs=runs, paused=paused)
    )
    offered = [*([found.main] if found.main else []), *found.others]
    assert len(offered) == len(set(offered))
    assert NextStep.LOOK in offered
    if lost or held or on_hold or not drunk:
        assert NextStep.TASTE not in offered
    if lost or held or on_hold or runs or (day < HARVEST_FROM and not {due, *also} & {"harvest", "salvage"}):
        assert NextStep.HARVEST not in offered
    if lost:
        assert set(offered) == {NextStep.DISCARD, NextStep.LOOK}
    assert (NextStep.SOUR in offered) == (held and not lost)
    if not runs or paused:
        assert not {NextStep.DRAW, NextStep.GLASS, NextStep.TOP_UP} & set(offered)


@pytest.mark.parametrize(
    ("lots", "left", "room", "amounts"),
    [
        ([("3", 1.0)], 3.4, 1.0, {"starter": 0.2, "vinegar": 0.015}),
        ([("3", 0.1), ("4", 0.5)], 3.4, 1.0, {"starter": 0.2, "vinegar": 0.015}),
        ([], 3.4, 1.0, {"vinegar": 0.015}),
        ([("3", 1.0)], 3.4, 0.0, {}),
        ([("3", 1.0)], 0.4, 1.0, {"starter": 0.05}),
    ],
)
def test_what_makes_a_held_brew_sourer_is_an_amount_a_kitchen_measures(lots, left, room, amounts):
    """Starter by the quarter cup from the first lot that has enough, vinegar by the spoon, and never more than goes in."""
    found = for_standing(lots, left, room)
    assert {one.key: pytest.approx(one.litres) for one in found} == amounts
    if lots and "starter" in amounts:
        assert found[0].portion == next(key for key, litres in lots if litres >= amounts["starter"])


@pytest.mark.parametrize(("soured", "what"), [(False, "Add starter, measure again"), (True, "Measure it again")])
def test_a_held_brew_that_was_soured_is_only_measured_again(soured, what):
    """What went in since the last reading is not asked for a second time."""
    facts = DueFacts(status="held", diet="sugar", day=0.2, mean_c=24.0, verdict=Verdict("hold", (), True), measures_ph=True, soured=soured)
    assert due_now(facts).what == what
