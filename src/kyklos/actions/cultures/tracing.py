"""After an incident: ways of the trace closed and opened, things set apart and cleared."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from ...core.base.kinds import NodeKind
from ...core.cultures import Node
from ...core.liquid import Way
from ...reckon.cultures import links, spoilage
from ...store.read import culture_queries, queries
from ...store.records import Brew, CutLink, Disc, Quarantine, StarterLot, Vessel
from ..base import Checks, Done, action, flushed
from ..brewing.readings import throw_out
from ..pouring import pour


@dataclass(frozen=True, slots=True, kw_only=True)
class CutWay:
    """A way of the trace that is known to be closed."""

    source: Node
    target: Node
    reason: str


@action
def cut_way(session: Session, ask: CutWay, at: datetime) -> Done:
    """Close a way: the spoon was boiled, it never touched. The trace leaves it out until it is opened again."""
    checks = Checks()
    known = {(link.source, link.target) for link in links.links_of(session, at)}
    checks.refuse_if((ask.source, ask.target) not in known, "", "No such way is recorded.")
    checks.refuse_if(not ask.reason.strip(), "reason", "Say why: it will be asked again.")
    checks.done()
    row = CutLink(
        source_kind=ask.source[0],
        source_id=ask.source[1],
        target_kind=ask.target[0],
        target_id=ask.target[1],
        at=at,
        reason=ask.reason.strip()[:200],
    )
    return Done("Noted: it did not spread that way. The trace leaves it out.", {"cut": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenWay:
    """A closed way counts again."""

    cut_id: int


@action
def open_way(session: Session, ask: OpenWay, at: datetime) -> Done:
    """Let a closed way count again."""
    row, checks = queries.get(session, CutLink, ask.cut_id), Checks()
    checks.refuse_if(row.opened_at is not None, "", "It counts again already.")
    checks.done()
    row.opened_at = at
    return Done("That way counts again.")


@dataclass(frozen=True, slots=True, kw_only=True)
class SetApart:
    """Things that may be spoiled."""

    nodes: tuple[Node, ...]
    reason: str


@action
def set_apart(session: Session, ask: SetApart, at: datetime) -> Done:
    """Set things apart: they count as no backup and are not offered as starter until they are cleared."""
    checks, already = Checks(), culture_queries.set_apart(session)
    fresh = [node for node in dict.fromkeys(ask.nodes) if node not in already]
    checks.refuse_if(not fresh, "", "Choose at least one thing that is not set apart yet.")
    checks.refuse_if(any(not links.living(session, node) for node in fresh), "", "One of them is not here any more.")
    checks.done()
    for kind, number in fresh:
        session.add(Quarantine(kind=kind, number=number, since=at, reason=ask.reason.strip()[:200]))
    return Done(f"{len(fresh)} set apart.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Clear:
    """A thing that has shown itself clean."""

    node: Node


@action
def clear(session: Session, ask: Clear, at: datetime) -> Done:
    """Let a thing that was set apart count again."""
    kind, number = ask.node
    query = select(Quarantine).where(
        Quarantine.kind == kind, Quarantine.number == number, Quarantine.lifted_at.is_(None)
    )
    rows, checks = list(session.scalars(query)), Checks()
    held = spoilage.held(session, at).get(ask.node)
    checks.refuse_if(not rows and held is None, "", "It is not set apart.")
    checks.done()
    if held is not None and not rows:
        rows = [Quarantine(kind=kind, number=number, since=held.seen_at, reason=f"Touched by {held.name}")]
        session.add_all(rows)
    for row in rows:
        row.lifted_at = at
    return Done("It counts again.")


@dataclass(frozen=True, slots=True, kw_only=True)
class CarryOut:
    """What a trace proposes: things thrown out, and things set apart."""

    discard: tuple[Node, ...] = ()
    apart: tuple[Node, ...] = ()
    reason: str = ""


@action
def carry_out(session: Session, ask: CarryOut, at: datetime) -> Done:
    """Do all that a trace says with one yes; what is gone meanwhile is passed over, a hotel is set apart and not thrown out."""
    lost = [node for node in dict.fromkeys(ask.discard) if links.living(session, node)]
    apart = [node for node in dict.fromkeys(ask.apart) if links.living(session, node) and node not in lost]
    checks, why = Checks(), ask.reason.strip()[:200]
    checks.refuse_if(not lost and not apart, "", "Nothing of it is here any more.")
    checks.done()
    gone = 0
    for node in lost:
        if node[0] == NodeKind.HOTEL:
            apart.append(node)
        elif links.living(session, node):  # a disc may have gone with its brew
            _throw_out(session, node, why, at)
            gone += 1
    already = culture_queries.set_apart(session)
    for kind, number in apart:
        if (kind, number) not in already:
            session.add(Quarantine(kind=kind, number=number, since=at, reason=why))
    if len(lost) + len(apart) == 1 or (len(lost) == len(apart) == 1 and not gone):
        return Done(f"{_called(session, (lost or apart)[0])} {'thrown out' if gone else 'set apart'}.")
    said = [f"{gone} thrown out" if gone else "", f"{len(apart)} set apart" if apart else ""]
    return Done(f"{', '.join(filter(None, said))}.")


def _called(session: Session, node: Node) -> str:
    """Name a thing in a sentence."""
    kind, number = node
    if kind == NodeKind.BREW:
        return queries.get(session, Brew, number).vessel.name
    if kind == NodeKind.LOT:
        return f"Starter of {queries.get(session, StarterLot, number).culture.name}"
    if kind == NodeKind.DISC:
        return queries.get(session, Disc, number).name
    return queries.get(session, Vessel, number).name


def _throw_out(session: Session, node: Node, why: str, at: datetime) -> None:
    kind, number = node
    if kind == NodeKind.BREW:
        throw_out(session, queries.get(session, Brew, number), why, at)
    elif kind == NodeKind.LOT:
        lot = queries.get(session, StarterLot, number)
        pour(session, at, lot.left_l, Way.LOST, lot.liquid, None)
    else:
        disc = queries.get(session, Disc, number)
        disc.ended_at, disc.ended_as, disc.ended_note = at, "discarded", why
