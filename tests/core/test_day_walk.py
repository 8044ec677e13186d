"""A day that is walked: on time it is the day laid out; a late step moves what needs it, and nothing is done before what it needs."""

from functools import cache
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.brewing.day_walk import DayWalk, WalkStep, ahead, at_hand, running_waits, walk_of
from kyklos.core.brewing.threads import Bench, WorkDeed
from kyklos.core.brewing.turn_round import PotTold, VesselTurn, threads_of_all, turn_round


@cache
def made(seed):
    """A day of one to three vessels over one or two people and few tools; gives its day, steps and hands."""
    chance = Random(seed)
    turns = tuple(
        VesselTurn(
            name,
            tuple(PotTold(chance.uniform(1, 4), 80, 12, chance.choice([0, 25, 60]), 18, 200) for _ in range(chance.randint(0, 2))),
            bottles=chance.randint(0, 8),
            harvest=chance.random() < 0.8,
            draw_l=2.0 if name == "Crock" else 0.0,
        )
        for name in chance.sample(["Jar", "Tall jar", "Crock"], chance.randint(1, 3))
    )
    jugs = chance.choice([0, 1])
    bench = Bench(chance.choice([1, 2]), (("burner", 1), ("pot", chance.choice([1, 2])), *((("jug", jugs),) if jugs else ()), ("tap", 1)))
    day = turn_round(turns, bench, 8)
    return day, walk_of(threads_of_all(turns, bench), day, bench), bench


DAYS = range(12)  #: Seeds of days.


@pytest.mark.parametrize("number", DAYS)
def test_on_time_it_is_the_day_laid_out_or_sooner(number):
    """With nothing done yet no step comes later than laid out, and the day ends no later."""
    day, steps, bench = made(number)
    times = ahead(steps, {}, bench.hands, 0)
    assert [one.step for one in times] == list(range(len(day.placed)))
    assert all(one.start <= placed.start for one, placed in zip(times, day.placed, strict=True))


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(DAYS), st.lists(st.floats(0, 25), min_size=60, max_size=60))
def test_however_late_each_step_waits_for_what_it_needs(number, delays):
    """Walked with any delays, a step is at hand only when all it needs is over, its tools free; in the end all is done."""
    day, steps, bench = made(number)
    done, now = {}, 0.0
    held = dict.fromkeys(dict(bench.tools), 0)
    given_back = []
    for _ in range(4 * len(steps)):
        if len(done) == len(steps):
            break
        times = ahead(steps, done, bench.hands, now)
        hand = at_hand(DayWalk(steps, bench.hands, ()), times, now)
        if not hand:
            now = min(one.ready for one in times if all(need.step in done for need in steps[one.step].needs))
            continue
        step = hand[0]
        for need in steps[step].needs:
            assert done[need.step] + (steps[need.step].wait if need.waited else 0) <= now + 1e-9
        work = day.placed[step].work
        for at, tool in list(given_back):
            if at <= now + 1e-9:
                held[tool] -= 1
                given_back.remove((at, tool))
        for tool in work.takes:
            held[tool] += 1
            assert held[tool] <= dict(bench.tools)[tool]
        now += steps[step].minutes + delays[len(done)]
        done[step] = now
        for tool in work.frees:
            held[tool] -= 1
        given_back += [(now + work.wait, tool) for tool in work.gives]
    assert len(done) == len(steps)
    assert all(steps[n].wait for n, _ in running_waits(steps, done))


def test_half_an_hour_of_delay_moves_what_needs_it_and_leaves_the_rest():
    """One is late with the tea of one jar: its pouring moves; a second person's jar keeps its time."""
    turns = tuple(VesselTurn(name, (PotTold(2.0, 80, 12, 30, 18, 200),), bottles=2) for name in ("A", "B"))
    bench = Bench(2, (("burner", 2), ("pot", 2), ("jug", 2)))
    day = turn_round(turns, bench)
    steps = walk_of(threads_of_all(turns, bench), day, bench)
    plan = ahead(steps, {}, 2, 0)
    late = ahead(steps, {}, 2, plan[0].end + 30)
    moved = {steps[a.step].thread for a, b in zip(late, plan, strict=True) if a.end > b.end + 1}
    assert any(name.startswith(steps[0].thread[0]) for name in moved)
    assert max(one.end for one in late) >= max(one.end for one in plan)
    first = next(n for n, step in enumerate(steps) if step.wait)
    assert running_waits(steps, {first: 4.0}) == ((first, 4.0 + steps[first].wait),)


def test_a_step_knows_its_vessel_and_what_is_written_down_there():
    """The name before the colon is the vessel's; a start is written down at a start."""
    _, steps, _ = made(0)
    walk = DayWalk(steps, 1, (("Crock", 7),))
    assert walk.vessel_of(WalkStep("Crock: tea 2", "Heat", 3)) == ("Crock", 7)
    assert walk.vessel_of(WalkStep("Jar: tea", "Heat", 3)) == ("Jar", None)
    assert {step.deed for step in steps if "start the brew" in step.thread} <= {WorkDeed.START}
