"""The day by the clock, against a real scheduler: never wrong, and within 5 % of the shortest day."""

import random

import pytest
from ortools.sat.python import cp_model

from kyklos.core.base.errors import CoreError
from kyklos.core.brewing import schedule
from kyklos.core.brewing.schedule import lay_out
from kyklos.core.brewing.threads import Bench
from kyklos.core.brewing.turn_round import PotTold, VesselTurn, threads_of, turn_round

HORIZON = 3000  #: [min]
SEED, INSTANCES, WITHIN = 20270218, 10, 1.05


def uses(work):
    """Tools given back by a piece: name and minutes after its start."""
    return [(tool, work.minutes) for tool in work.frees] + [(tool, work.minutes + work.wait) for tool in work.gives]


def optimum(threads, bench):
    """The shortest day that a constraint solver finds, in minutes; nearly always proven to be the optimum."""
    model = cp_model.CpModel()
    start = {(t.name, k): model.new_int_var(0, HORIZON, "") for t in threads for k in range(len(t.work))}
    by_name = {t.name: t for t in threads}
    end = model.new_int_var(0, HORIZON, "")
    hands, held = [], {tool: [] for tool, _ in bench.tools}
    for t in threads:
        taken = {}
        for k, work in enumerate(t.work):
            at = start[t.name, k]
            hands.append(model.new_fixed_size_interval_var(at, work.minutes, ""))
            if k:
                before = t.work[k - 1]
                ready = start[t.name, k - 1] + before.minutes + before.wait
                model.add(at >= ready)
                if before.patience is not None:
                    model.add(at <= ready + before.patience)
            taken |= dict.fromkeys(work.takes, at)
            for tool, after in uses(work):
                until, long = model.new_int_var(0, HORIZON, ""), model.new_int_var(0, HORIZON, "")
                model.add(until == at + after)
                held[tool].append(model.new_interval_var(taken.pop(tool), long, until, ""))
        for name in t.after:
            last = len(by_name[name].work) - 1
            work = by_name[name].work[last]
            model.add(start[t.name, t.gate] >= start[name, last] + work.minutes + work.wait)
        last = len(t.work) - 1
        model.add(end >= start[t.name, last] + t.work[last].minutes + t.work[last].wait)
    model.add_cumulative(hands, [1] * len(hands), bench.hands)
    for tool, number in bench.tools:
        model.add_cumulative(held[tool], [1] * len(held[tool]), number)
    model.minimize(end)
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time, solver.parameters.num_workers, solver.parameters.random_seed = 6, 1, 1
    solver.solve(model)
    return solver.objective_value, solver.best_objective_bound


def instance(chance):
    """A day at random: up to three vessels, few tools."""
    vessels = tuple(
        VesselTurn(
            f"V{i}",
            tuple(
                PotTold(
                    chance.uniform(0.6, 3.5),
                    80,
                    chance.choice([3, 5, 8, 12, 15]),
                    chance.choice([0, 5, 12, 25, 40, 70]),
                )
                for _ in range(chance.choice([1, 1, 2]))
            ),
            chance.randint(0, 18),
            chance.random() < 0.85,
        )
        for i in range(chance.choice([1, 2, 2, 3, 3, 3]))
    )
    jugs = chance.choice([0, 1, 1, 2])
    tools = (
        ("burner", chance.choice([1, 1, 2])),
        ("pot", chance.choice([1, 1, 2])),
        *((("jug", jugs),) if jugs else ()),
    )
    return vessels, Bench(chance.choice([1, 1, 1, 2]), tools)


def check(day, threads, bench):
    """The day keeps every rule: order, patience, gates, hands and tools."""
    placed = {(p.thread, threads_named(threads, p.thread).work.index(p.work)): p for p in day.placed}
    assert len(placed) == sum(len(t.work) for t in threads)
    events = []
    for t in threads:
        for k, work in enumerate(t.work):
            here = placed[t.name, k]
            events += [(here.start, 1, "hands"), (here.end, -1, "hands")]
            if k:
                before = placed[t.name, k - 1]
                assert here.start >= before.free
                assert before.work.patience is None or here.start <= before.free + before.work.patience
            events += [(here.start, 1, tool) for tool in work.takes]
            events += [(here.start + after, -1, tool) for tool, after in uses(work)]
        for name in t.after:
            assert placed[t.name, t.gate].start >= placed[name, len(threads_named(threads, name).work) - 1].free
    counts = {"hands": bench.hands, **dict(bench.tools)}
    busy = dict.fromkeys(counts, 0)
    for _, change, what in sorted(events):
        busy[what] += change
        assert busy[what] <= counts[what], what


def greedy(threads, bench):
    """Plain greedy: always the piece that can begin soonest. Gives the day's length, None at a dead end."""
    case = schedule._case(threads, bench)
    state = schedule._start(case, bench)
    for _ in range(sum(len(t.work) for t in threads)):
        state = min(schedule._children(case, state), key=lambda s: s.chosen[-1][2], default=None)
        if state is None:
            return None
    return max(state.hands[-1], *state.ready)


def threads_named(threads, name):
    """One thread."""
    return next(t for t in threads if t.name == name)


@pytest.fixture(scope="module")
def days():
    """Random days: laid out, greedy, and what the solver finds and proves."""
    chance, out = random.Random(SEED), []
    while len(out) < INSTANCES:
        vessels, bench = instance(chance)
        threads = tuple(t for v in vessels for t in threads_of(v, "jug" in dict(bench.tools)))
        plain = greedy(threads, bench)
        if plain is not None:
            out.append((threads, bench, turn_round(vessels, bench), plain, *optimum(threads, bench)))
    return out


def test_random_days_are_within_five_per_cent_of_the_shortest(days):
    """Each day is at most 5 % longer than the solver's, never shorter than what it proves, and keeps every rule."""
    for threads, bench, day, _, best, bound in days:
        check(day, threads, bench)
        assert bound - 0.5 <= day.minutes <= WITHIN * best + 1e-6
        assert day.hands_on == sum(work.minutes for t in threads for work in t.work)


def test_a_fifth_of_them_are_days_that_plain_greedy_makes_more_than_ten_per_cent_longer(days):
    """The days are hard enough: taking the next best piece each time is not good enough for at least a fifth."""
    assert sum(best < bound + 0.5 for *_, best, bound in days) >= 0.9 * len(days)
    assert sum(plain > 1.1 * best for *_, plain, best, _ in days) >= 0.2 * len(days)


def test_a_missing_tool_is_said():
    """Without a pot nothing is heated, and a sentence says so."""
    with pytest.raises(CoreError, match="pot"):
        lay_out(threads_of(VesselTurn("V", (PotTold(1.0),)), False), Bench(1, (("burner", 1), ("pot", 0))))


def test_eight_litres_take_under_an_hour_of_hands():
    """One vessel of 8 litres, sixteen bottles, is under an hour of work with hands."""
    day = turn_round((VesselTurn("Crock", (PotTold(1.6, 80, 12, 0),), 16),), Bench())
    assert day.hands_on < 60
