"""A day in the kitchen as it is walked: which piece of work is next, and when the rest will be, however late one is.

The order is that of the day laid out (`schedule.py`). A piece may begin once those it needs are over; a late one moves what needs it, or its
hands, and nothing else.
"""

from __future__ import annotations

import heapq
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import islice

from .threads import Bench, Day, Placed, Thread, WorkDeed


@dataclass(frozen=True, slots=True)
class StepNeed:
    """An earlier step that has to be over."""

    step: int
    waited: bool  #: Its waiting too.


@dataclass(frozen=True, slots=True)
class WalkStep:
    """One piece of work of the day, and what it needs."""

    thread: str
    name: str
    minutes: int  #: With hands. [min]
    wait: int = 0  #: That follows by itself. [min]
    waiting: str = ""  #: What the waiting is called.
    needs: tuple[StepNeed, ...] = ()
    deed: WorkDeed = WorkDeed.PREPARE


@dataclass(frozen=True, slots=True)
class DayWalk:
    """A day laid out, to be walked."""

    steps: tuple[WalkStep, ...]
    hands: int  #: People at work.
    vessels: tuple[tuple[str, int], ...]  #: Name and number of each.

    def vessel_of(self, step: WalkStep) -> tuple[str, int | None]:
        """Return the name of a step's vessel and its number, None where it is not known."""
        name = step.thread.rsplit(": ", 1)[0]
        return name, dict(self.vessels).get(name)


@dataclass(frozen=True, slots=True)
class StepTime:
    """When a step is to be done. [min from the start of the day]"""

    step: int
    ready: float  #: From when it may begin.
    start: float
    end: float


def walk_of(threads: Sequence[Thread], day: Day, bench: Bench) -> tuple[WalkStep, ...]:
    """Return the steps of a day laid out, in order of time, each with what it needs: its thread, other threads, a free tool."""
    place = {(one.thread, one.work): number for number, one in enumerate(day.placed)}
    last = {thread.name: place[thread.name, thread.work[-1]] for thread in threads}
    needs: list[list[StepNeed]] = [[] for _ in day.placed]
    for thread in threads:
        for number, work in enumerate(thread.work):
            at = place[thread.name, work]
            if number:
                needs[at].append(StepNeed(place[thread.name, thread.work[number - 1]], waited=True))
            if number == thread.gate:
                needs[at] += [StepNeed(last[name], waited=True) for name in thread.after]
    for tool, count in bench.tools:
        for at, need in _tool_needs(day.placed, tool, count):
            needs[at].append(need)
    return tuple(
        WalkStep(p.thread, p.work.name, p.work.minutes, p.work.wait, p.work.waiting, tuple(dict.fromkeys(needs[n])), p.work.deed)
        for n, p in enumerate(day.placed)
    )


def _tool_needs(placed: Sequence[Placed], tool: str, count: int) -> list[tuple[int, StepNeed]]:
    """Return for each piece that takes a tool the piece that gave it back, where all of its kind had been in use."""
    taken = 0
    given: list[tuple[int, int, bool]] = []
    out: list[tuple[int, StepNeed]] = []
    for number, one in enumerate(placed):
        if tool in one.work.frees:
            heapq.heappush(given, (one.end, number, False))
        if tool in one.work.gives:
            heapq.heappush(given, (one.free, number, True))
    for number, one in enumerate(placed):
        if tool in one.work.takes:
            taken += 1
            if taken > count and given:
                _, by, waited = heapq.heappop(given)
                if by < number:
                    out.append((number, StepNeed(by, waited)))
    return out


def ahead(steps: Sequence[WalkStep], done: Mapping[int, float], hands: int, now: float) -> tuple[StepTime, ...]:
    """Return when the steps that are left will be, in their order. [min from the start of the day]

    Args:
        steps: Of the day.
        done: When the others were done.
        hands: People at work.
        now: The time; a step at which somebody is ends no sooner.
    """
    free = sorted([0.0] * hands + list(done.values()))[-hands:]
    heapq.heapify(free)
    ends: dict[int, float] = dict(done)
    out: list[StepTime] = []
    for number, step in enumerate(steps):
        if number in done:
            continue
        ready = max((ends[need.step] + (steps[need.step].wait if need.waited else 0) for need in step.needs), default=0.0)
        at_work = heapq.heappop(free)
        start = max(at_work, ready)
        ends[number] = max(start + step.minutes, now)
        heapq.heappush(free, ends[number])
        out.append(StepTime(number, ready, start, ends[number]))
    return tuple(out)


def at_hand(walk: DayWalk, times: Sequence[StepTime], now: float) -> tuple[int, ...]:
    """Return the steps that can be done now, one for each pair of hands; none while all there is has to wait.

    Args:
        walk: The day.
        times: Of the steps that are left.
        now: The time. [min from the start of the day]
    """
    left = {one.step for one in times}
    able = (one.step for one in times if one.ready <= now and not any(need.step in left for need in walk.steps[one.step].needs))
    return tuple(islice(able, walk.hands))


def running_waits(steps: Sequence[WalkStep], done: Mapping[int, float]) -> tuple[tuple[int, float], ...]:
    """List what goes on by itself: (step, when it is over [min from the start]), as long as nothing that waits for it is done."""
    going = {n for n, step in enumerate(steps) if n in done and step.wait > 0}
    over = {need.step for n, step in enumerate(steps) if n in done for need in step.needs if need.waited}
    return tuple(sorted(((n, done[n] + steps[n].wait) for n in going - over), key=lambda row: row[1]))
