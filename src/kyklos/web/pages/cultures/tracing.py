"""The trace from any thing and day: what it could have reached, what could have brought it, what merely stood beside it."""

from __future__ import annotations

import itertools
from collections.abc import Set
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from zoneinfo import ZoneInfo

from flask import Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.cultures import tracing
from ....core.base.kinds import NodeKind, VesselKind
from ....core.cultures import Node, trace
from ....core.cultures.trace import WAYS, Reached
from ....reckon.brewing.brew_records import discs_in
from ....reckon.cultures import links, neighbours, quarantine, spoilage
from ....store.read import culture_queries, queries
from ....store.records import Brew, Disc
from ...kit.acting import act
from ...kit.numbers import number_of, whole
from ...kit.render import page
from ...kit.words import day_word
from . import strands
from .naming import NamedThing, named, where_of
from .place import bp

WHATS = {"mould": "Mould", "insects": "Insects or larvae", "smell": "An off smell", "other": "Something odd"}
HEAD, TAIL = 3, 2  #: Steps shown of a long way.
MOST_ROWS = 60  #: On one page: the strongest evidence.
KINDS = {"brew", "disc", "lot", "hotel"}


@dataclass(frozen=True, slots=True)
class TraceStep:
    """One step of a path."""

    source: NamedThing
    target: NamedThing
    how: str
    when: str

    @property
    def key(self) -> str:
        """Both ends, for a form."""
        return f"{self.source.key} {self.target.key}"


@dataclass(frozen=True, slots=True)
class TraceRow:
    """Something on the trace, as the page tells it."""

    it: NamedThing
    strength: float
    steps: tuple[TraceStep, ...]
    proposal: str
    apart: bool
    left_out: int = 0  #: Steps in the middle that are not shown.


@dataclass(frozen=True, slots=True)
class TraceTask:
    """One thing that is to be done, and where."""

    it: NamedThing
    what: str  #: discard, apart or look.
    where: str
    why: str

    @property
    def says(self) -> str:
        """Put a task into words, as a command."""
        return {"discard": f"Throw out {self.it.name}", "apart": f"Set {self.it.name} apart"}.get(self.what, f"Look at {self.it.name}")


IN_ORDER = ("discard", "apart", "look")


def _tasks(it: NamedThing, ill: bool, reached: list[TraceRow], brought: list[TraceRow], beside: list[NamedThing]) -> list[TraceTask]:
    """List what is to be done: what is thrown out first, then what is set apart, then what is looked at; by where it stands."""
    out = [TraceTask(it, "discard", where_of(it.node), "it was seen in it")] if ill else []
    for row in reached:
        if row.it.alive and not row.apart:
            what = "discard" if row.proposal == "discard" else "apart"
            out.append(TraceTask(row.it, what, where_of(row.it.node), row.steps[-1].how if row.steps else ""))
    seen = {one.it.node for one in out}
    looks = [(row.it, "it may have brought it") for row in brought if row.it.alive]
    looks += [(other, "it stands beside it, not touched") for other in beside]
    out += [TraceTask(other, "look", where_of(other.node), why) for other, why in looks if other.node not in seen]
    return sorted(out, key=lambda one: (IN_ORDER.index(one.what), one.where, one.it.name))


def _lying_in(kind: str, number: int) -> list[Disc]:
    """List the discs that lie in a hotel or a living brew now."""
    if kind == NodeKind.HOTEL:
        return culture_queries.lying_in_hotel(g.session, number)
    if kind == NodeKind.BREW:
        return [disc for disc, _ in discs_in(queries.get(g.session, Brew, number))]
    return []


def _rows(found: list[Reached], back: bool = False, inside: Set[Node] = frozenset()) -> list[TraceRow]:
    apart, names = culture_queries.set_apart(g.session), dict[Node, NamedThing]()

    def name(node: Node) -> NamedThing:
        if node not in names:
            names[node] = named(node)
        return names[node]

    out = []
    for reached in found:
        steps = []
        hops = list(zip(itertools.pairwise(reached.path), reached.ways, reached.times, strict=True))
        left_out = max(0, len(hops) - HEAD - TAIL)
        for (one, two), how, at in hops[:HEAD] + hops[-TAIL:] if left_out else hops:
            source, target = (two, one) if back else (one, two)
            when = day_word(datetime.fromtimestamp(at * 86400, UTC), g.now, g.household.zone)
            steps.append(TraceStep(name(source), name(target), WAYS[how][0], when))
        it = name(reached.node)
        given = trace.proposal(reached, it.alive, reached.node in inside)
        proposal = given if not back else ("look" if it.alive else "")
        out.append(TraceRow(it, reached.strength, tuple(steps), proposal, reached.node in apart, left_out))
    return out


def _day_of(kind: str, number: int) -> datetime:
    """Return from when on a thing may have passed something: its pitch, or the day that was asked for."""
    sent = request.args.get("since", "")
    if sent:
        try:
            there = datetime.combine(date.fromisoformat(sent), time(), ZoneInfo(g.household.zone))
            return there.astimezone(UTC)
        except ValueError:
            abort(400, "Choose a day like 2027-02-18.")
    it = named((kind, number))
    return it.at or datetime.fromtimestamp(0, UTC)


def _until(kind: str, number: int) -> datetime:
    if kind == NodeKind.BREW:
        return queries.get(g.session, Brew, number).ended_at or g.now
    if kind == NodeKind.DISC:
        return queries.get(g.session, Disc, number).ended_at or g.now
    now: datetime = g.now
    return now


def _beside(kind: str, number: int, since: datetime, known: set[Node]) -> list[NamedThing]:
    """List living brews and hotels that stood on its shelf since then and with which no liquid and no disc passed."""
    if kind not in {NodeKind.BREW, NodeKind.HOTEL}:
        return []
    vessel = queries.get(g.session, Brew, number).vessel.id if kind == NodeKind.BREW else number
    beside = neighbours.vessels_beside(g.session, vessel, since, _until(kind, number))
    nodes: list[Node] = [("brew", b.id) for b in queries.standing_brews(g.session) if b.vessel_id in beside]
    nodes += [
        (NodeKind.HOTEL, v.id) for v in queries.vessels(g.session) if v.kind == VesselKind.HOTEL and v.id in beside
    ]
    return [named(node) for node in nodes if node not in known and node != (kind, number)]


@bp.get("/trace/<kind>/<int:number>")
def trace_page(kind: str, number: int) -> Response:
    """Show the trace."""
    if kind not in KINDS:
        abort(404)
    return _trace(kind, number)


def _trace(kind: str, number: int, status: int = 200, problem: str = "") -> Response:
    it, here = named((kind, number)), (kind, number)
    since, known = _day_of(kind, number), links.links_of(g.session, g.now)
    ill = kind == NodeKind.BREW and any(map(spoilage.is_grave, queries.get(g.session, Brew, number).looks))
    ways = spoilage.in_doubt(known, queries.get(g.session, Brew, number), since) if ill else known
    out = trace.exposed(ways, here, links.day_of(since))
    into = trace.suspects(known, here, links.day_of(_until(kind, number)))
    also = trace.shared(known, here, links.day_of(_until(kind, number)))
    touched = {here, *(r.node for r in out), *(r.node for r in into)}
    back = links.day_of(g.now) - min((r.at for r in (*out, *into)), default=links.day_of(since))
    brew = queries.get(g.session, Brew, number) if kind == NodeKind.BREW else None
    lines = {named(node).line for node in [here]}
    kept = [
        (c, [named(n) for n in living if n not in touched])
        for c in culture_queries.cultures(g.session)
        if c.name in lines or it.line == "hotel"
        if (living := quarantine.backups_of(g.session, c, g.now).living) or any(brew.alive for brew in c.brews)
    ]
    guests = _lying_in(kind, number)
    exposed = _rows(out[:MOST_ROWS], inside={("disc", disc.id) for disc in guests})
    suspects = _rows(into[:MOST_ROWS], back=True)
    beside = _beside(kind, number, since, touched | {r.node for r in also})
    return page(
        "cultures/trace.html",
        None,
        status,
        it=it,
        kind=kind,
        number=number,
        brew=brew,
        guests=[disc.name for disc in guests],
        since=since.astimezone(ZoneInfo(g.household.zone)).date(),
        what=WHATS.get(request.args.get("what", ""), ""),
        whats=WHATS,
        ill=ill and it.alive,
        exposed=exposed,
        tasks=_tasks(it, ill and it.alive, exposed, suspects, beside),
        more=max(0, len(out) - MOST_ROWS),
        suspects=suspects,
        shared=_rows(also[:MOST_ROWS]),
        beside=beside,
        kept=kept,
        closed=[(row, named((row.source_kind, row.source_id)), named((row.target_kind, row.target_id))) for row in links.closed_ways(g.session)],
        apart=[(row, named((row.kind, row.number))) for row in culture_queries.quarantines(g.session)],
        problem=problem,
        most=MOST_ROWS,
        **strands.shown(strands.span_for(back), "../../bead/", touched),
    )  # fmt: skip


def _node(text: str) -> Node:
    kind, _, number = text.partition("-")
    found = whole(number)
    if kind not in KINDS or found is None:
        abort(400, "Choose something from the trace.")
    return kind, found


def _again(kind: str, number: int) -> Answer:
    since = request.form.get("since") or None
    return redirect(url_for(".trace_page", kind=kind, number=number, since=since), 303)


@bp.post("/trace/<kind>/<int:number>/cut")
def cut(kind: str, number: int) -> Answer:
    """Close a way, or open it again."""
    if kind not in KINDS:
        abort(404)
    try:
        if request.form.get("open"):
            act(tracing.open_way, tracing.OpenWay(cut_id=request.form.get("open", 0, type=number_of)))
        else:
            source, _, target = request.form.get("step", "").partition(" ")
            ask = tracing.CutWay(source=_node(source), target=_node(target), reason=request.form.get("reason", ""))
            act(tracing.cut_way, ask)
    except RefusedError as refused:
        return _trace(kind, number, 422, str(refused))
    return _again(kind, number)


@bp.post("/trace/<kind>/<int:number>/carry-out")
def carry_out(kind: str, number: int) -> Answer:
    """Do all that the trace says, each thing by itself, so that each can be undone."""
    if kind not in KINDS:
        abort(404)
    why, done, problem = f"Trace of {named((kind, number)).name}", 0, "Choose what is to be done."
    for name in ("discard", "apart"):
        for node in map(_node, request.form.getlist(name)[:MOST_ROWS]):
            ask = tracing.CarryOut(discard=(node,), reason=why) if name == "discard" else tracing.CarryOut(apart=(node,), reason=why)
            try:
                act(tracing.carry_out, ask)
                done += 1
            except RefusedError as refused:  # a disc goes with its brew: what is gone already needs nothing
                problem = str(refused)
    return _again(kind, number) if done else _trace(kind, number, 422, problem)


@bp.post("/trace/<kind>/<int:number>/apart")
def set_apart(kind: str, number: int) -> Answer:
    """Set things apart, or clear one."""
    if kind not in KINDS:
        abort(404)
    try:
        if request.form.get("clear"):
            act(tracing.clear, tracing.Clear(node=_node(request.form["clear"])))
        else:
            nodes = tuple(_node(text) for text in request.form.getlist("node"))
            reason = f"Trace of {named((kind, number)).name}"
            act(tracing.set_apart, tracing.SetApart(nodes=nodes, reason=reason))
    except RefusedError as refused:
        return _trace(kind, number, 422, str(refused))
    return _again(kind, number)
