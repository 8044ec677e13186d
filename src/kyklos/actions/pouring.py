"""Writing what happens to liquids: one begins, a volume passes, something is put in. Nothing else writes volumes."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from ..core.liquid import Way
from ..core.liquid.pouring import LEAST_L, Added, LiquidKind
from ..store.records import Addition, KeptLiquid, StarterLot, Transfer


def begin(session: Session, kind: LiquidKind, at: datetime) -> KeptLiquid:
    """Begin a liquid; nothing is in it yet."""
    liquid = KeptLiquid(kind=kind, began_at=at)
    session.add(liquid)
    session.flush()
    return liquid


def left_l(session: Session, liquid: KeptLiquid) -> float:
    """Return what is left of a liquid, with all that this action wrote. [L]"""
    session.flush()
    session.refresh(liquid, ["litres"])
    return float(liquid.litres)


def course_of(session: Session, liquid: KeptLiquid) -> list[tuple[datetime, float]]:
    """List how much of a liquid there was after each thing that happened to it, in order of time. [L]"""
    session.flush()
    session.expire(liquid, ["additions", "inflows", "outflows"])
    changes = [(a.at, 0, a.litres) for a in liquid.additions] + [(t.at, 0, t.litres) for t in liquid.inflows]
    changes += [(t.at, 1, -t.litres) for t in liquid.outflows]
    out: list[tuple[datetime, float]] = []
    for at, _, litres in sorted(changes):
        out.append((at, (out[-1][1] if out else 0.0) + litres))
    return out


def shortest_l(session: Session, liquid: KeptLiquid, since: datetime) -> float:
    """Return the least that there was of a liquid from a moment on: so much can have been taken then. [L]"""
    course = course_of(session, liquid)
    then = [litres for at, litres in course if at <= since][-1:]
    return min([*then, *(litres for at, litres in course if at > since)], default=0.0)


def pour(
    session: Session,
    at: datetime,
    litres: float,
    how: Way,
    source: KeptLiquid | None,
    target: KeptLiquid | None,
    *,
    name: str = "",
    lively: str = "",
    ph: float | None = None,
    stirred: bool = False,
) -> Transfer:
    """Let a volume pass.

    What somebody poured was there: where it is more than was reckoned, the difference is written down as found.

    Args:
        session: The writing one.
        at: When.
        litres: How much. [L]
        how: In which way.
        source, target: From which liquid to which; None: from outside, or out.
        name: Of what comes from outside.
        lively: Of a starter: fresh, bottle, hotel, dried or heel.
        ph: Of what passes, as known. [pH]
        stirred: The source was stirred before: its yeast went along.
    """
    if source is not None and (missing := litres - shortest_l(session, source, at)) > 1e-9:
        session.add(Transfer(at=at, litres=missing, target_id=source.id, how=Way.FOUND))
    row = Transfer(
        at=at,
        litres=litres,
        source_id=source.id if source is not None else None,
        target_id=target.id if target is not None else None,
        how=how,
        name=name,
        lively=lively,
        ph=ph,
        stirred=stirred,
    )
    session.add(row)
    if source is not None and left_l(session, source) <= LEAST_L and source.kind != LiquidKind.HOTEL:
        source.ended_at = source.ended_at or at
    if target is not None:
        left_l(session, target)
    session.flush()
    return row


def put_in(
    session: Session,
    liquid: KeptLiquid,
    at: datetime,
    what: Added,
    litres: float,
    grams: float = 0.0,
    name: str = "",
    honey_share: float | None = None,
) -> Addition:
    """Put something into a liquid; sweet tea may have another share of honey than the brew. [L, g, -]"""
    row = Addition(
        liquid_id=liquid.id, at=at, what=what, litres=litres, grams=grams, name=name, honey_share=honey_share
    )
    session.add(row)
    left_l(session, liquid)
    return row


def empty(session: Session, liquid: KeptLiquid, at: datetime, how: Way) -> None:
    """Let all that is left go out, and end the liquid."""
    rest = left_l(session, liquid)
    if rest > 1e-9:
        pour(session, at, rest, how, liquid, None)
    liquid.ended_at = at


def lot_in(session: Session, lot: StarterLot, at: datetime, litres: float, how: Way, source: KeptLiquid | None) -> int:
    """Write a new starter with the volume it was made of; gives its number. [L]"""
    lot.liquid = begin(session, LiquidKind.STARTER, at)
    session.add(lot)
    session.flush()
    pour(session, at, litres, how, source, lot.liquid, ph=lot.likely_ph)
    return lot.id
