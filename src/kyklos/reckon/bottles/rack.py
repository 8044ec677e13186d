"""The rack: bottles of a flavour that want the same, place by place, in the order in which they are drunk; and which of them to look at."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum

from ...core.base.kinds import BottleState
from ...core.bottles.advice import GIVEN, PRESSING, READY, TO_CHILL, BottleStep
from ...core.bottles.heard import LOUDEST
from ...store.read.moments import days_between
from ...store.records import Bottle, Place
from .cellar import Alike, name_of, urgency

OLD_DAYS = 30  #: Filled longer ago than this is old. [d]


class RackLook(StrEnum):
    """A way to look at a part of the rack."""

    READY = "ready"
    TO_CHILL = "chill"
    TO_GIVE = "give"
    OLD = "old"
    GUSHED = "gushed"


@dataclass(frozen=True, slots=True)
class RackLot:
    """Bottles of one flavour in one place that want the same by the same day, whatever their kind."""

    alikes: tuple[Alike, ...]  #: By kind and moves, the most pressing first.

    @property
    def first(self) -> Alike:
        """The most pressing bottle."""
        return self.alikes[0]

    @property
    def name(self) -> str:
        """What the bottles are called."""
        return name_of(self.first.first)

    @property
    def step(self) -> BottleStep:
        """What to do with the bottles."""
        return self.first.advice.step

    @property
    def bottles(self) -> list[Bottle]:
        """Each bottle of the lot."""
        return [bottle for alike in self.alikes for bottle in alike.bottles]

    @property
    def place(self) -> Place | None:
        """Where the bottles stand."""
        return self.first.place

    @property
    def pressing(self) -> bool:
        """Whether these bottles come first."""
        return self.step in PRESSING


def lots_of(alikes: Sequence[Alike]) -> list[RackLot]:
    """Put together what is of one flavour, stands in one place and wants the same by the same day; the most pressing first."""
    found: dict[tuple[object, ...], list[Alike]] = {}
    for alike in sorted(alikes, key=urgency):
        by: date | None = alike.chill_at.date() if alike.advice.step is BottleStep.BY and alike.chill_at is not None else None
        place = alike.place.id if alike.place is not None else 0
        found.setdefault((place, name_of(alike.first), alike.advice.step, by), []).append(alike)
    return [RackLot(tuple(some)) for some in found.values()]


def is_so(lot: RackLot, look: str, now: datetime) -> bool:
    """Return whether a lot is shown by a look; any look that is none shows all."""
    if look == RackLook.READY:
        return lot.step in READY
    if look == RackLook.TO_CHILL:
        return lot.first.first.state == BottleState.WARM and lot.step in TO_CHILL
    if look == RackLook.TO_GIVE:
        return lot.step in GIVEN
    if look == RackLook.OLD:
        return any(days_between(bottle.bottling.at, now) > OLD_DAYS for bottle in lot.bottles)
    if look == RackLook.GUSHED:
        return any(_gushed(bottle) for bottle in lot.bottles)
    return True


def _gushed(bottle: Bottle) -> bool:
    """Return whether one of a bottle's filling gushed."""
    return any(one.hiss == LOUDEST or any(row.hiss == LOUDEST for row in one.heard) for one in bottle.bottling.bottles)


def by_place(lots: Sequence[RackLot]) -> list[tuple[Place | None, list[RackLot]]]:
    """Put lots on their shelves, in the order of the round; on each the most pressing first."""
    places: dict[int, tuple[Place | None, list[RackLot]]] = {}
    for lot in lots:
        places.setdefault(lot.place.id if lot.place is not None else 0, (lot.place, []))[1].append(lot)
    return sorted(places.values(), key=lambda pair: pair[0].position if pair[0] is not None else 10_000)
