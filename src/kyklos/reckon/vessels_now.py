"""Every vessel as it stands: what is in it, when it is free, and how much is free by then."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from sqlalchemy.orm import Session

from ..core.base.kinds import VesselKind
from ..store.read import queries
from ..store.records import Vessel
from .judging.attention import Attention, attention_of

SOON_DAYS = 7.0  #: What is free within a week is said together. [d]


class Frees(StrEnum):
    """When a vessel is free."""

    NOW = "now"
    BY_DAY = "by day"
    HELD = "held"  #: Something must be settled first.
    LOST = "lost"  #: What is in it is to be thrown out.
    RUNS = "runs"  #: It is drawn from and topped up.
    GROWS = "grows"  #: A disc grows in it, or it is a trial.
    LATE = "late"  #: Not within the days looked ahead.
    HOTEL = "hotel"


@dataclass(frozen=True, slots=True)
class VesselNow:
    """One vessel as it stands now."""

    vessel: Vessel
    known: Attention | None  #: What is known of its brew; None: there is none.
    frees: Frees
    at: datetime | None = None  #: When, where a day can be told.

    @property
    def litres(self) -> float:
        """How much stands in the vessel. [L]"""
        if self.known is not None:
            return self.known.brew.left_l
        return self.vessel.liquid.litres if self.vessel.liquid is not None else 0.0

    @property
    def harvestable(self) -> bool:
        """Whether what is in it may be harvested."""
        return self.frees in {Frees.BY_DAY, Frees.LATE}


def vessels_now(session: Session, now: datetime) -> list[VesselNow]:
    """List every vessel, in the order of the round."""
    living = {brew.vessel_id: attention_of(session, brew, now) for brew in queries.living_brews(session)}
    out = [_standing(vessel, living.get(vessel.id), now) for vessel in queries.vessels(session)]
    return sorted(out, key=lambda one: (one.vessel.place.position, one.vessel.place.id, one.vessel.id))


def _standing(vessel: Vessel, known: Attention | None, now: datetime) -> VesselNow:
    if known is None:
        return VesselNow(vessel, None, Frees.HOTEL if vessel.kind == VesselKind.HOTEL else Frees.NOW)
    if known.lost:
        return VesselNow(vessel, known, Frees.LOST)
    if known.on_hold:
        return VesselNow(vessel, known, Frees.HELD)
    if known.brew.runs:
        return VesselNow(vessel, known, Frees.RUNS)
    if known.not_drunk:
        return VesselNow(vessel, known, Frees.GROWS)
    days = [window.p50 for window in known.forecast.ready.values()]
    likely = [day for day in days if day is not None]
    if not days or len(likely) < len(days):
        return VesselNow(vessel, known, Frees.LATE)
    return VesselNow(vessel, known, Frees.BY_DAY, max(now, known.brew.pitched_at + timedelta(days=max(likely))))


def free_soon(every: Sequence[VesselNow], now: datetime) -> tuple[list[VesselNow], datetime | None, float]:
    """Return what is free now, and by when within a week how much more is, as it looks. [L]"""
    free = [one for one in every if one.frees is Frees.NOW]
    coming = [one for one in every if one.at is not None and one.at <= now + timedelta(days=SOON_DAYS)]
    last = max((one.at for one in coming if one.at is not None), default=None)
    return free, last, sum(one.vessel.usable_l for one in coming)
