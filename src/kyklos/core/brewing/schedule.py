"""The day by the clock: a turn-round of one or several vessels laid out over hands, burners, pots and jugs.

Work with hands is done one piece after another by each person; heating, steeping and cooling go on by themselves.
A beam search over the order of the hands' work keeps the partial plans that promise most; then single pieces are moved
about as long as that helps. For a given order every piece starts as early as it may.
"""

from __future__ import annotations

import heapq
import math
import random
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from itertools import permutations

from ..base import CoreError
from .threads import Bench, Day, Placed, Thread

BEAM = 120  #: Partial plans kept at each step. [-]
MOVES = 500  #: Pieces moved about afterwards. [-]
FEW, ORDERS, NARROW = (
    4,
    50,
    14,
)  #: Pots whose every order is tried; else so many orders; each with so narrow a beam. [-]
ENOUGH = 1.01  #: So near to what no day can beat, it is left alone. [-]
SEED = 20_270_218


@dataclass(frozen=True, slots=True)
class _State:
    """A partial plan. All times in minutes."""

    next: tuple[int, ...]  #: Next piece of each thread.
    ready: tuple[int, ...]  #: When it may begin.
    latest: tuple[int, ...]  #: When it has to have begun; -1: any time.
    hands: tuple[int, ...]  #: When each person is free.
    tools: tuple[tuple[int, ...], ...]  #: When each tool of each kind is free; a taken one is at _TAKEN.
    chosen: tuple[tuple[int, int, int], ...]  #: Thread, piece, start.


_TAKEN = 10**9


def _start(case: _Case, bench: Bench) -> _State:
    free = (0,) * len(case.threads)
    return _State(free, free, (-1,) * len(free), (0,) * bench.hands, tuple((0,) * n for n in case.counts), ())


def _check(threads: tuple[Thread, ...], bench: Bench) -> None:
    known = dict(bench.tools)
    for thread in threads:
        for work in thread.work:
            for tool in work.takes:
                if known.get(tool, 0) < 1:
                    raise CoreError(f"{work.name} needs a {tool}, and there is none.")


@dataclass(frozen=True, slots=True)
class _Hold:
    """A stretch of a thread in which a tool is held."""

    tool: int
    first: int  #: Piece that takes it.
    last: int  #: Piece that gives it back.
    minutes: int  #: At least, from taking to giving.
    after: int  #: At least, from giving to the end of the day.


@dataclass(frozen=True, slots=True)
class _Case:
    """What stays the same while the beam goes on."""

    threads: tuple[Thread, ...]
    kinds: tuple[str, ...]
    counts: tuple[int, ...]
    tails: tuple[tuple[int, ...], ...]  #: From a piece's start to the end of the day, at least. [min]
    hands_left: tuple[tuple[int, ...], ...]  #: Hands' work from a piece on. [min]
    index: Mapping[str, int]  #: Threads by name.
    by_tool: tuple[tuple[tuple[int, _Hold], ...], ...]  #: Holds of each tool, with their thread.
    order: tuple[int, ...]  #: Threads, those waited for first.


def _holds(thread: Thread, kinds: tuple[str, ...], tails: tuple[int, ...]) -> tuple[_Hold, ...]:
    begun: dict[str, int] = {}
    out = []
    for k, work in enumerate(thread.work):
        begun |= dict.fromkeys(work.takes, k)
        for tool, waits in [(tool, 0) for tool in work.frees] + [(tool, work.wait) for tool in work.gives]:
            first = begun.pop(tool)
            minutes = sum(w.minutes + w.wait for w in thread.work[first:k]) + work.minutes + waits
            out.append(_Hold(kinds.index(tool), first, k, minutes, tails[k] - work.minutes - waits))
    return tuple(out)


def _case(threads: tuple[Thread, ...], bench: Bench) -> _Case:
    kinds = tuple(name for name, _ in bench.tools)
    tails = tuple(tuple(row) for row in _tails(threads))
    left = tuple(tuple(sum(w.minutes for w in t.work[k:]) for k in range(len(t.work) + 1)) for t in threads)
    holds = [(i, hold) for i, t in enumerate(threads) for hold in _holds(t, kinds, tails[i])]
    by_tool = tuple(tuple((i, h) for i, h in holds if h.tool == tool) for tool in range(len(kinds)))
    index = {t.name: i for i, t in enumerate(threads)}
    order = tuple(sorted(range(len(threads)), key=lambda i: _depth(threads, index, i)))
    return _Case(threads, kinds, tuple(number for _, number in bench.tools), tails, left, index, by_tool, order)


def _ahead(case: _Case, state: _State) -> list[int]:
    """For each thread, when the day ends at the earliest as far as it and those it waits for go. [min]"""
    first = state.hands[0]
    ends = [0] * len(case.threads)
    over = [0] * len(case.threads)  # the thread's own end, without what comes after it
    for i in case.order:
        thread, k, row = case.threads[i], state.next[i], case.tails[i]
        after = row[-1]
        ends[i] = (max(first, state.ready[i]) if k < len(row) - 1 else state.ready[i]) + row[k]
        if k <= thread.gate and thread.after:
            ends[i] = max(ends[i], max(over[case.index[name]] for name in thread.after) + row[thread.gate])
        over[i] = ends[i] - after
    return ends


def _bound(case: _Case, state: _State) -> int:
    """Return what the day takes at least from here. [min]"""
    return _promise(case, state)[0]


def _tool_bound(case: _Case, state: _State, ahead: list[int], tool: int) -> int:
    """Return what the tools of one kind take to do all that still waits for them, shared out evenly among them."""
    row = state.tools[tool]
    free, load, after, head = [at for at in row if at < _TAKEN], 0, _TAKEN, _TAKEN
    for i, hold in case.by_tool[tool]:
        k = state.next[i]
        if k > hold.last:
            continue
        after = min(after, hold.after)
        if k > hold.first:
            free.append(ahead[i] - hold.after)
        else:
            load += hold.minutes
            head = min(head, max(state.ready[i], state.hands[0]) + case.tails[i][k] - case.tails[i][hold.first])
    if after == _TAKEN:
        return 0
    if not load:
        return max(free) + after
    return -(-(sum(max(at, head) for at in free) + load) // len(row)) + after


def _promise(case: _Case, state: _State) -> tuple[int, int, int, int]:
    """Order partial plans: what the day takes at least, then how lone tools, hands and threads stand."""
    hands = sum(state.hands) + sum(row[k] for row, k in zip(case.hands_left, state.next, strict=True))
    ahead = _ahead(case, state)
    lone = [_tool_bound(case, state, ahead, tool) for tool in range(len(case.counts))]
    bound = max(state.hands[-1], -(-hands // len(state.hands)), *ahead, *lone)
    return bound, sum(lone), sum(ahead), sum(state.hands)


def _tails(threads: tuple[Thread, ...]) -> list[list[int]]:
    """For each piece, the least time from its start to the end of the day. [min]"""
    index = {thread.name: i for i, thread in enumerate(threads)}
    tails: list[list[int]] = [[] for _ in threads]
    behind: dict[int, int] = {}
    order = sorted(range(len(threads)), key=lambda i: _depth(threads, index, i), reverse=True)
    for i in order:
        after = behind.get(i, 0)
        times = [0] * (len(threads[i].work) + 1)
        times[-1] = after
        for k in range(len(threads[i].work) - 1, -1, -1):
            work = threads[i].work[k]
            times[k] = work.minutes + work.wait + times[k + 1]
        tails[i] = times
        for name in threads[i].after:
            j = index[name]
            behind[j] = max(behind.get(j, 0), times[threads[i].gate])
    return tails


def _depth(threads: tuple[Thread, ...], index: dict[str, int], i: int) -> int:
    return 1 + max((_depth(threads, index, index[name]) for name in threads[i].after), default=0)


def _children(case: _Case, state: _State, order: tuple[int, ...] = ()) -> Iterator[_State]:
    waiting = [i for i in order if state.next[i] == 0][1:]
    for i, thread in enumerate(case.threads):
        if i not in waiting and state.next[i] < len(thread.work) and (child := _one(case, state, i)) is not None:
            yield child


def _placed(case: _Case, state: _State, i: int, earliest: int) -> _State | None:
    kinds, thread = case.kinds, case.threads[i]
    work = thread.work[state.next[i]]
    person = _person(state.hands, earliest)
    start = max(earliest, state.hands[person])
    tools = [list(row) for row in state.tools]
    for tool in work.takes:
        row = tools[kinds.index(tool)]
        best = min(range(len(row)), key=row.__getitem__)
        if row[best] >= _TAKEN:
            return None
        start = max(start, row[best])
        row[best] = _TAKEN
    if 0 <= state.latest[i] < start:
        return None
    for j, last in enumerate(state.latest):
        if j != i and 0 <= last < start and len(state.hands) == 1:
            return None
    end, hands = start + work.minutes, list(state.hands)
    hands[person] = end
    free = end + work.wait
    for tool, when in [(tool, end) for tool in work.frees] + [(tool, free) for tool in work.gives]:
        row = tools[kinds.index(tool)]
        row[row.index(_TAKEN)] = when
    following, ready, latest = list(state.next), list(state.ready), list(state.latest)
    following[i] += 1
    ready[i] = free
    latest[i] = free + work.patience if work.patience is not None and following[i] < len(thread.work) else -1
    return _State(
        tuple(following),
        tuple(ready),
        tuple(latest),
        tuple(sorted(hands)),
        tuple(tuple(sorted(row)) for row in tools),
        (*state.chosen, (i, state.next[i], start)),
    )


def _person(hands: tuple[int, ...], earliest: int) -> int:
    """Choose who does it: the one who was free last before it may begin, so that the other stays free for other work."""
    before = [i for i, free in enumerate(hands) if free <= earliest]
    return max(before, key=hands.__getitem__) if before else min(range(len(hands)), key=hands.__getitem__)


def _best(case: _Case, rows: list[_State], beam: int) -> list[_State]:
    """Keep the most promising, one for each standing."""
    seen: dict[tuple[object, ...], _State] = {}
    for state in rows:
        seen.setdefault((state.next, state.ready, state.latest, state.hands, state.tools), state)
    return heapq.nsmallest(beam, seen.values(), key=lambda state: _promise(case, state))


@lru_cache(maxsize=64)
def lay_out(threads: tuple[Thread, ...], bench: Bench, beam: int = BEAM) -> Day:
    """Lay out a day so that it ends soonest.

    Args:
        threads: Work in order, thread by thread; one may have to wait for others.
        bench: People and tools.
        beam: Partial plans kept; 1 is plain greedy.

    Returns: Every piece on the clock from 0. [min]

    Raises:
        CoreError: If a tool is missing, or the tools cannot do it at all.
    """
    _check(threads, bench)
    case = _case(threads, bench)
    state = _start(case, bench)
    found = _beam(case, state, beam)
    if beam > 1:
        found = _in_other_orders(case, state, found)
        found = _improved(case, state, found)
    if found is None:
        raise CoreError("With these tools the day cannot be done: one more pot or jug is needed.")
    return _day(threads, found)


def _beam(case: _Case, start: _State, beam: int, order: tuple[int, ...] = ()) -> _State | None:
    rows = [start]
    for _ in range(sum(len(thread.work) for thread in case.threads)):
        rows = _best(case, [child for row in rows for child in _children(case, row, order)], beam)
    return rows[0] if rows else None


def _in_other_orders(case: _Case, start: _State, found: _State | None) -> _State | None:
    """Try the orders in which pots come to the burner: all of them where there are few, else ever better ones."""
    pots = [i for i, thread in enumerate(case.threads) if thread.work[0].takes]
    least, chance, tried = _bound(case, start), random.Random(SEED), set()
    best, here = (
        found,
        tuple(sorted(pots, key=lambda i: next((s for j, k, s in found.chosen if j == i and k == 0), 0)))
        if found
        else tuple(pots),
    )
    queue = list(permutations(pots)) if len(pots) <= FEW else []
    for number in range(len(queue) or ORDERS):
        if best is not None and _ends(best)[0] <= ENOUGH * least:
            break
        order = queue[number] if queue else _neighbour(here, chance)
        if order in tried:
            continue
        tried.add(order)
        child = _beam(case, start, NARROW, order)
        if child is not None and (best is None or _ends(child) < _ends(best)):
            best, here = child, order
    return best


def _neighbour(order: tuple[int, ...], chance: random.Random) -> tuple[int, ...]:
    moved = list(order)
    moved.insert(chance.randrange(len(moved)), moved.pop(chance.randrange(len(moved))))
    return tuple(moved)


def _decoded(case: _Case, start: _State, order: list[int]) -> _State | None:
    """Place the pieces in an order of threads; one that may not go yet goes as soon as it may."""
    state, left = start, list(order)
    while left:
        for at, i in enumerate(left):
            if i in left[:at]:
                continue
            child = _one(case, state, i)
            if child is not None:
                break
        else:
            return None
        state = child
        del left[at]
    return state


def _one(case: _Case, state: _State, i: int) -> _State | None:
    thread, k = case.threads[i], state.next[i]
    earliest = state.ready[i]
    if k == thread.gate and thread.after:
        for name in thread.after:
            j = case.index[name]
            if state.next[j] < len(case.threads[j].work):
                return None
            earliest = max(earliest, state.ready[j])
    return _placed(case, state, i, earliest)


def _ends(state: _State) -> tuple[int, int]:
    return max(state.hands[-1], *state.ready), sum(state.ready)


def _improved(case: _Case, start: _State, found: _State | None) -> _State | None:
    """Move single pieces about, keeping what is not worse, now and then what is a little worse."""
    chance = random.Random(SEED)
    order = [i for i, _, _ in found.chosen] if found else [i for i, t in enumerate(case.threads) for _ in t.work]
    best = here = found or _decoded(case, start, order)
    least = _bound(case, start)
    for step in range(MOVES):
        if best is not None and _ends(best)[0] <= ENOUGH * least:
            break
        a, b = chance.randrange(len(order)), chance.randrange(len(order))
        if order[a] == order[b]:
            continue
        tried = list(order)
        tried.insert(b, tried.pop(a))
        child = _decoded(case, start, tried)
        if child is None:
            continue
        heat = 4.0 * (1 - step / MOVES)
        if (
            here is None
            or _ends(child) <= _ends(here)
            or chance.random() < math.exp(-(_ends(child)[0] - _ends(here)[0] + 0.5) / max(heat, 0.01))
        ):
            order, here = tried, child
        if best is None or _ends(here) < _ends(best):
            best = here
    return best


def _day(threads: tuple[Thread, ...], state: _State) -> Day:
    placed = []
    for i, k, start in sorted(state.chosen, key=lambda row: (row[2], row[0], row[1])):
        work = threads[i].work[k]
        placed.append(Placed(threads[i].name, work, start, start + work.minutes))
    return Day(
        tuple(placed),
        max((p.free for p in placed), default=0),
        sum(p.work.minutes for p in placed),
    )
