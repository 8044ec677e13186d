"""Bottles that stand, as a quick line names them: one entry a filling."""

from __future__ import annotations

import re

from sqlalchemy import case, func, select
from sqlalchemy.orm import Session

from ...core.base.kinds import BottleState
from ...core.bottles import ingredient
from ...core.bottles.ingredients import known
from ...core.quick.said import NamedShelf
from ..records import Bottle, Bottling


def shelves(session: Session) -> tuple[NamedShelf, ...]:
    """List the fillings of which bottles stand, the newest first, with how many stand warm and cold."""
    warm, cold = (func.sum(case((Bottle.state == state, 1), else_=0)) for state in (BottleState.WARM, BottleState.COLD))
    rows = session.execute(
        select(Bottling.id, Bottling.flavour, Bottling.note, warm, cold)
        .join(Bottle, Bottle.bottling_id == Bottling.id)
        .where(Bottle.state.in_((BottleState.WARM, BottleState.COLD)))
        .group_by(Bottling.id)
        .order_by(Bottling.at.desc(), Bottling.id.desc())
    )
    return tuple(_shelf(*row) for row in rows)


def _shelf(number: int, flavour: str, note: str, warm: int, cold: int) -> NamedShelf:
    name = ingredient(flavour).name if known(flavour) else note or "Own flavour"
    words = re.findall(r"[^\W_]+", f"{flavour} {name}")
    return NamedShelf(number, note or name, (name, " ".join(dict.fromkeys(words))), int(warm), int(cold))
