"""Questions about the park of bottles: how many of each kind are filled, and how many were emptied since the last wash."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session

from ...core.base.kinds import BottleState
from ...core.bottles.leaving import LEAVINGS
from ...core.bottles.park import Counted, counted
from ..records import Bottle, BottleType

COMES_BACK = tuple(key for key, way in LEAVINGS.items() if way.comes_back)


def kinds(session: Session) -> list[BottleType]:
    """List the kinds of bottle that the household owns, the commonest first."""
    rows = session.scalars(select(BottleType).where(BottleType.owned.is_not(None), BottleType.owned > 0))
    return sorted(rows, key=lambda kind: (-(kind.owned or 0), kind.kind, kind.volume_ml))


def counted_of(session: Session, some: Sequence[BottleType]) -> dict[int, Counted]:
    """Count how bottles of some kinds stand, in two questions whatever the household's age."""
    session.flush()
    numbers = [kind.id for kind in some]
    standing = (
        select(Bottle.type_id, func.count())
        .where(Bottle.state.in_((BottleState.WARM, BottleState.COLD)), Bottle.type_id.in_(numbers))
        .group_by(Bottle.type_id)
    )
    filled: dict[int, int] = {number: count for number, count in session.execute(standing)}  # noqa: C416
    since = [kind.washed_at for kind in some if kind.washed_at is not None]
    emptied: dict[int, int] = {}
    if since:
        left = (
            select(Bottle.type_id, func.count())
            .join(BottleType)
            .where(
                Bottle.gone_at > min(since),
                Bottle.gone_at > BottleType.washed_at,
                Bottle.type_id.in_(numbers),
                or_(Bottle.left_as.in_(COMES_BACK), Bottle.left_as == ""),
            )
            .group_by(Bottle.type_id)
        )
        emptied = {number: count for number, count in session.execute(left)}  # noqa: C416
    return {
        kind.id: counted(kind.owned or 0, filled.get(kind.id, 0), emptied.get(kind.id, 0), kind.to_wash) for kind in some
    }
