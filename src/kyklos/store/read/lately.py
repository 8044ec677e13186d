"""A tapped vessel that runs for years: what of its records is read, so that no page grows with its age.

What was drawn, poured in, measured, tasted and seen before a topping up some weeks ago has faded from what stands there. Of such a
brew only what came since is read; its start is kept, and the day book keeps everything.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from typing import Any

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session, joinedload
from sqlalchemy.orm.attributes import set_committed_value

from ...core.liquid.pouring import Added
from ..file.session import context_of
from ..records import Addition, Brew, KeptLiquid, Look, Reading, Tasting, Transfer

KEPT_DAYS = 70.0  #: Before the last topping up; the forecast needs some weeks less. [d]
RUNS_LONG_DAYS = 120.0  #: A younger one is read whole. [d]


def read_lately(session: Session, brews: Sequence[Brew]) -> None:
    """Read no more of brews that run for long than what still tells; an action reads everything.

    Args:
        session: Of a page.
        brews: Those that run for long are marked with since when they are known (`Brew.known_since`).
    """
    context = context_of(session)
    if context.writing or context.now is None:
        return
    since = context.now - timedelta(days=RUNS_LONG_DAYS)
    for brew in brews:
        if brew.pitched_at < since and brew.known_since is None and brew.runs:
            _cut(session, brew)


def _cut(session: Session, brew: Brew) -> None:
    tea = (Addition.liquid_id == brew.liquid_id, Addition.what == Added.SWEET_TEA)
    last = session.scalar(select(func.max(Addition.at)).where(*tea))
    if last is None:
        return
    first = session.scalar(select(func.max(Addition.at)).where(*tea, Addition.at <= last - timedelta(days=KEPT_DAYS)))
    if first is None or first <= brew.liquid.began_at:
        return
    brew.known_since, context_of(session).partial = first, True
    began = brew.liquid.began_at

    def since(kind: Any, owner: Any, *beside: Any) -> list[Any]:
        question = select(kind).where(owner == brew.liquid_id, or_(kind.at >= first, kind.at <= began))
        return list(session.scalars(question.options(*map(joinedload, beside)).order_by(kind.at, kind.id)))

    for owned, relation, rows in (
        (brew.liquid, KeptLiquid.additions, since(Addition, Addition.liquid_id)),
        (brew.liquid, KeptLiquid.inflows, since(Transfer, Transfer.target_id)),
        (brew.liquid, KeptLiquid.outflows, since(Transfer, Transfer.source_id)),
        (brew, Brew.readings, since(Reading, Reading.liquid_id, Reading.tool)),
        (brew, Brew.tastings, since(Tasting, Tasting.liquid_id, Tasting.taster)),
        (brew, Brew.looks, since(Look, Look.liquid_id)),
    ):
        set_committed_value(owned, relation.key, rows)
