"""After an incident: ways of the trace closed and opened, things set apart and cleared."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.trace import Node
from ..reckon import links
from ..store import queries
from ..store.models import CutLink, Quarantine
from .base import Checks, Done, action, flushed


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
    return Done("That way is closed in the trace.", {"cut": flushed(session, row)})


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
    checks, already = Checks(), queries.set_apart(session)
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
    checks.refuse_if(not rows, "", "It is not set apart.")
    checks.done()
    for row in rows:
        row.lifted_at = at
    return Done("It counts again.")
