"""The household's links: which liquid and which disc went where, and when."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, selectinload

from ..core.trace import Link, Node
from .models import Brew, Disc, StarterLot


def day_of(moment: datetime) -> float:
    """Put a moment on one clock. [d since 1970]"""
    return moment.timestamp() / 86400


def links_of(session: Session) -> list[Link]:
    """List all links: starter and disc into a brew, starter and disc out of one."""
    out: list[Link] = []
    query = select(Brew).options(selectinload(Brew.portions), selectinload(Brew.reserved))
    for brew in session.scalars(query):
        here: Node = ("brew", brew.id)
        lots = {p.lot_id for p in brew.portions if p.lot_id} | ({brew.starter_lot_id} if brew.starter_lot_id else set())
        out += [Link(("lot", number), here, day_of(brew.pitched_at)) for number in sorted(lots)]
        if brew.disc_id is not None:
            out.append(Link(("disc", brew.disc_id), here, day_of(brew.pitched_at)))
            if brew.ended_at is not None and brew.status == "harvested":
                out.append(Link(here, ("disc", brew.disc_id), day_of(brew.ended_at)))
        out += [Link(here, ("lot", lot.id), day_of(lot.made_at)) for lot in brew.reserved]
    for disc in session.scalars(select(Disc).options(joinedload(Disc.born_brew))):
        if disc.born_brew is not None:
            born = disc.born_brew.ended_at or disc.born_brew.pitched_at
            out.append(Link(("brew", disc.born_brew.id), ("disc", disc.id), day_of(born)))
    return out


def living(session: Session, node: Node) -> bool:
    """Say whether a thing is still there: a brew in its vessel, liquid left, a disc not ended."""
    kind, number = node
    if kind == "brew":
        brew = session.get(Brew, number)
        return brew is not None and brew.alive
    if kind == "lot":
        lot = session.get(StarterLot, number)
        return lot is not None and lot.left_l > 0.005
    disc = session.get(Disc, number)
    return disc is not None and disc.ended_at is None
