"""What an absence means for each brew that stands, and where to begin on return."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from ..core.base.kinds import NOT_DRUNK, DueKind
from ..core.brewing.away import (
    BEFORE,
    FINE,
    HELD,
    LATE,
    ON_RETURN,
    PASSES,
    Absent,
    Shelf,
    absent,
    gate_is_open,
    of_a_held,
    of_a_tapped,
)
from ..core.liquid.taste import is_jun
from ..store.read import queries
from ..store.read.moments import days_between, quarter_of
from ..store.records import Brew
from . import tapped
from .forecast import forecasting, palates, warmth
from .judging.attention import Attention, attention_of

ORDER = {HELD: 0, LATE: 0, PASSES: 0, BEFORE: 1, ON_RETURN: 2, FINE: 3}  #: The pressing first.
#: What is caught up with first.
GRAVE = (
    DueKind.DISCARD, DueKind.HOLD, DueKind.LOOK, DueKind.MEASURE, DueKind.TASTE, DueKind.HARVEST, DueKind.SALVAGE
)  # fmt: skip


def shelves_of(session: Session, now: datetime) -> list[Shelf]:
    """List the places a vessel could be moved to, as warm as they are now."""
    return [Shelf(p.name, round(warmth.place_now(session, p, now)[0], 1)) for p in queries.rooms(session)]


def absences(session: Session, leave: datetime, back: datetime, now: datetime) -> list[tuple[Brew, Absent]]:
    """Return for each brew that somebody will drink what an absence means; the pressing first.

    Args:
        session: Of the household.
        leave, back: When.
        now: The moment it is asked.
    """
    shelves, out, quarter = shelves_of(session, now), [], quarter_of(now)
    for brew in queries.living_brews(session):
        if brew.kind in NOT_DRUNK:
            continue
        known = attention_of(session, brew, now)
        if known.lost:
            continue
        ask = forecasting.forecast_ask_of(session, brew)
        palate = palates.palate_of(session, ask.points[0].taster, is_jun(brew.honey_share))
        days = [max(0.0, days_between(brew.pitched_at, moment)) for moment in (quarter, max(leave, quarter), back)]
        means = absent(
            ask,
            known.forecast,
            palate,
            *days,
            room_l=max(0.0, brew.vessel.usable_l - brew.left_l),
            litres=brew.left_l,
            shelves=[shelf for shelf in shelves if shelf.name != brew.vessel.place.name],
            gate_open=gate_is_open([(r.day, r.ph) for r in known.facts.ph]),
        )
        if brew.runs:
            paused = tapped.is_paused(tapped.last_care(session, brew.vessel_id))
            means = of_a_tapped(means, paused)
        out.append((brew, of_a_held(means) if known.on_hold else means))
    return sorted(out, key=lambda row: ORDER[row[1].word])


def catch_up_key(known: Attention) -> tuple[int, float]:
    """Order brews for whoever comes back: the gravest first, of those the oldest."""
    kind = known.due.kind
    return (GRAVE.index(DueKind(kind)) if kind in GRAVE else len(GRAVE), -known.day)
