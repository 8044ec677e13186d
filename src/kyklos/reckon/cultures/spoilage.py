"""What a spoiled brew has touched: held at once, from the moment something grave is seen, until it is discarded or cleared."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import TypeVar

from sqlalchemy import and_, or_, select
from sqlalchemy.orm import Session

from ...core.base.kinds import LIVING, BrewStatus, NodeKind
from ...core.cultures import Link, Node
from ...core.cultures.trace import STRONG, exposed
from ...core.judging import OBSERVATIONS
from ...core.judging.observations import DISCARD
from ...store.file.session import context_of
from ...store.read.memory import remembered
from ...store.records import Bottling, Brew, Disc, Look, Quarantine, StarterLot, Vessel
from . import links

K = TypeVar("K")
BACK_DAYS = 14.0  #: What is seen today may have begun so long ago, unless a clean look says otherwise (assumed). [d]
HELD_DAYS = 60.0  #: What was touched and showed nothing for so long is no longer held (assumed). [d]
SAME_DAYS = 14.0  #: What was the same liquid so long before then is held, what parted earlier is watched (assumed). [d]
BOTH_WAYS = {"split", "blended"}  #: The same liquid: whichever of the two spoils, the other is in doubt.
GRAVE = frozenset(key for key, seen in OBSERVATIONS.items() if seen.verdict == DISCARD)


@dataclass(frozen=True, slots=True)
class Held:
    """A thing that something spoiled has touched."""

    node: Node
    spoiled: int  #: Number of the brew in which it was seen.
    name: str  #: Of that brew's vessel.
    seen_at: datetime
    strong: bool  #: Held; else only watched.


def is_grave(look: Look) -> bool:
    """Return whether a look that stands shows what is thrown out: mould, insects, eels, rot."""
    return not look.struck and bool({look.surface, look.smell, *look.signs} & GRAVE)


def held(session: Session, now: datetime) -> Mapping[Node, Held]:
    """List what spoiled brews have touched and nobody has cleared; a page answers from memory within the same hour.

    Args:
        session: Of the household.
        now: The time.
    """
    return _answered(session, now, "held", _held)


def _answered(session: Session, now: datetime, name: str, make: Callable[[Session, datetime], dict[K, Held]]) -> Mapping[K, Held]:
    """Answer once a page, and from memory within the same hour; an action is always answered anew."""
    context = context_of(session)
    if context.writing:
        return make(session, now)
    if name not in context.answers:
        hour = now.replace(minute=0, second=0, microsecond=0)
        context.answers[name] = dict(remembered(session, (name, hour), lambda: tuple(make(session, now).items())))
    found: Mapping[K, Held] = context.answers[name]
    return found


def _held(session: Session, now: datetime) -> dict[Node, Held]:
    bad = _spoiled(session, now)
    if not bad:
        return {}
    known = links.links_of(session, now, min(brew.pitched_at for brew in bad) - timedelta(days=1))
    cleared, ill, out = _cleared(session), {("brew", brew.id) for brew in bad}, dict[Node, Held]()
    for brew in bad:
        seen_at, since = _seen(brew)
        for reached in exposed(in_doubt(known, brew, since), ("brew", brew.id), links.day_of(since)):
            node = reached.node
            if node in ill or cleared.get(node, seen_at) > seen_at or not links.living(session, node):
                continue
            here = Held(node, brew.id, brew.vessel.name, seen_at, reached.strength >= STRONG)
            if node not in out or (here.strong and not out[node].strong):
                out[node] = here
    return out


def bottles_held(session: Session, now: datetime) -> Mapping[int, Held]:
    """List the fillings that came out of a spoiled brew, or one held because of it, since it may have been there: by number.

    Args:
        session: Of the household.
        now: The time.
    """
    return _answered(session, now, "bottles held", _bottles_held)


def _bottles_held(session: Session, now: datetime) -> dict[int, Held]:
    bad, touched, out = _spoiled(session, now), held(session, now), dict[int, Held]()
    for brew in bad:
        seen_at, since = _seen(brew)
        own = Held((NodeKind.BREW, brew.id), brew.id, brew.vessel.name, seen_at, True)
        ill = [one.node[1] for one in touched.values() if one.strong and one.spoiled == brew.id and one.node[0] == NodeKind.BREW]
        asked = select(Bottling.id).where(Bottling.brew_id.in_([brew.id, *ill]), Bottling.at >= since)
        out |= {number: own for number in session.scalars(asked) if number not in out}
    return out


def _spoiled(session: Session, now: datetime) -> list[Brew]:
    """List brews in which something grave was seen lately, still there or thrown out."""
    since = now - timedelta(days=HELD_DAYS)
    lately = or_(Brew.status.in_(LIVING), and_(Brew.status == BrewStatus.DISCARDED, Brew.ended_at >= since))
    rows = session.execute(
        select(Brew, Look).join(Look, Look.liquid_id == Brew.liquid_id).where(lately, Look.at >= since, Look.at <= now)
    )
    return list(dict.fromkeys(brew for brew, look in rows if is_grave(look)))


def _seen(brew: Brew) -> tuple[datetime, datetime]:
    """Return when something grave was first seen, and since when it may have been there."""
    standing = [look for look in brew.looks if not look.struck]
    seen_at = next(look.at for look in standing if is_grave(look))
    clean = [look.at for look in standing if look.at < seen_at]
    since = max([brew.pitched_at, seen_at - timedelta(days=BACK_DAYS), *clean[-1:]])
    return seen_at, since


def in_doubt(known: Sequence[Link], brew: Brew, since: datetime) -> list[Link]:
    """Return the ways on which something in a brew may have spread: those recorded, and back to what was the same liquid or lay in it.

    Args:
        known: Ways of the household.
        brew: In which it was seen.
        since: From when on it may have been there.
    """
    node, day, out = ("brew", brew.id), links.day_of(since), list(known)
    for link in known:
        same = link.how in BOTH_WAYS and link.at >= links.day_of(brew.pitched_at)
        how = link.how if link.at >= day - SAME_DAYS else "lived"
        if same and link.target == node:
            out.append(replace(link, source=node, target=link.source, at=max(link.at, day), how=how))
        elif same and link.source == node:
            out.append(replace(link, at=max(link.at, day), how=how))
    if brew.disc_id is not None:
        out.append(Link(node, ("disc", brew.disc_id), max(day, links.day_of(brew.pitched_at)), "back"))
    return out


def _cleared(session: Session) -> dict[Node, datetime]:
    """Return when each thing was cleared last."""
    rows = session.execute(
        select(Quarantine.kind, Quarantine.number, Quarantine.lifted_at).where(Quarantine.lifted_at.is_not(None))
    )
    out: dict[Node, datetime] = {}
    for kind, number, lifted in rows:
        if lifted is not None:
            out[(kind, number)] = max(lifted, out.get((kind, number), lifted))
    return out


@dataclass(frozen=True, slots=True)
class Incident:
    """A spoiled brew, and what is held or watched because of it."""

    spoiled: int  #: Its number.
    name: str  #: Of its vessel.
    held: tuple[str, ...]
    watched: int


def incidents(session: Session, now: datetime) -> list[Incident]:
    """List spoiled brews that have touched something still there, the last one first."""
    rows = sorted(held(session, now).values(), key=lambda one: (one.seen_at, one.spoiled), reverse=True)
    out = []
    for spoiled in dict.fromkeys(one.spoiled for one in rows):
        own = [one for one in rows if one.spoiled == spoiled]
        names = tuple(name_of(session, one.node) for one in own if one.strong)
        out.append(Incident(spoiled, own[0].name, names, sum(not one.strong for one in own)))
    return out


def name_of(session: Session, node: Node) -> str:
    """Name a thing that is held, as it is called in the kitchen."""
    kind, number = node
    if kind == NodeKind.BREW:
        brew = session.get(Brew, number)
        return brew.vessel.name if brew is not None else "a brew"
    if kind == NodeKind.LOT:
        lot = session.get(StarterLot, number)
        return f"starter of {lot.culture.name}" if lot is not None else "starter"
    if kind == NodeKind.DISC:
        disc = session.get(Disc, number)
        return disc.name if disc is not None else "a disc"
    hotel = session.get(Vessel, number)
    return hotel.name if hotel is not None else "a hotel"


def strongly(session: Session, now: datetime) -> set[Node]:
    """List what is held."""
    return {node for node, hold in held(session, now).items() if hold.strong}
