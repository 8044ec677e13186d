"""The rack as a page shows it: each kind of bottle drawn once, lots with two lines under them, and the pressure of one over its days."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from flask import g

from ...core.base.facts import BOTTLES
from ...core.base.kinds import BottleState
from ...core.bottles import bottle_forecast
from ...core.bottles.advice import SHORT, BottleStep
from ...core.bottles.if_warmer import if_warmer
from ...drawing.pressure import PressureCurve, PressureFacts, pressure_curve
from ...drawing.rack import BottleShape, bottle_shape
from ...reckon.bottles.cellar import Alike
from ...reckon.bottles.pressure import LETS_OUT, bottle_ask_of
from ...reckon.bottles.rack import RackLot, by_place
from ...store.read.moments import days_between
from ...store.records import Bottle, Place
from .acting import in_units
from .words import day_word, local

GAUGED = 0.75  #: From such a share of its limit on the gauge is drawn at the neck. [-]
USUAL_ML, LEAST_SIZE, MOST_SIZE = 500.0, 0.75, 1.35  #: A bottle of so much is drawn at size 1; others by the cube root. [mL, -, -]
AHEAD_WARM, AHEAD_COLD, SHOWN_DAYS = 6.0, 30.0, 6  #: Looked ahead warm and cold [d], and days named below.
BAR_STEPS = (0.5, 1.0, 2.0, 4.0)  #: Between pressures named at the left. [bar]


@dataclass(frozen=True, slots=True)
class StandingBottle:
    """One bottle on a shelf."""

    number: int
    symbol: int  #: Which of the drawings.
    size: float  #: Against half a litre. [-]
    gauge: float | None  #: Share of its limit, at the upper end; None: none is drawn. [-]
    danger: bool  #: It may be past its limit.


@dataclass(frozen=True, slots=True)
class ShownLot:
    """A lot and what stands under it."""

    lot: RackLot
    words: str
    bottles: tuple[StandingBottle, ...]

    @property
    def numbers(self) -> str:
        """The numbers of its bottles, as an address carries them."""
        return ",".join(str(one.number) for one in self.bottles)


@dataclass(frozen=True, slots=True)
class RackShelf:
    """A place and what stands on it."""

    place: Place | None
    lots: tuple[ShownLot, ...]

    @property
    def count(self) -> int:
        """How many bottles."""
        return sum(len(lot.bottles) for lot in self.lots)


def short_words(lot: RackLot) -> str:
    """Return in a few words what a lot wants, the day behind it where there is one."""
    words, first = SHORT[lot.step], lot.first
    if lot.step is BottleStep.BY and first.chill_at is not None:
        return f"{words} {day_word(first.chill_at, g.now, g.household.zone)}"
    if lot.step is BottleStep.COLD and first.drink_by > g.now:
        return f"{words} until {_month_word(first.drink_by)}"
    return words


def _month_word(moment: datetime) -> str:
    there = local(moment, g.household.zone)
    soon = days_between(g.now, moment) < 14
    return day_word(moment, g.now, g.household.zone) if soon else f"{'early' if there.day <= 10 else 'mid' if there.day <= 20 else 'late'} {there:%B}"


def shelves_of(lots: Sequence[RackLot]) -> tuple[list[RackShelf], list[BottleShape]]:
    """Put lots on their shelves. Returns these, and each drawing that they are made with, once."""
    drawings: dict[BottleShape, int] = {}
    shelves = [RackShelf(place, tuple(_shown(lot, drawings) for lot in some)) for place, some in by_place(lots)]
    return shelves, list(drawings)


def _shown(lot: RackLot, drawings: dict[BottleShape, int]) -> ShownLot:
    out: list[StandingBottle] = []
    for alike in lot.alikes:
        first = alike.first
        shape = bottle_shape(BOTTLES[first.kind].shape, round(first.headspace_fraction, 2), first.bottling.flavour, 0.0, 0.0, 0.0)
        symbol = drawings.setdefault(shape, len(drawings))
        size = min(MOST_SIZE, max(LEAST_SIZE, (first.volume_ml / USUAL_ML) ** (1 / 3)))
        share = alike.now_bar[2] / alike.limit_bar if alike.limit_bar else 0.0
        danger = alike.past or alike.advice.step is BottleStep.PAST_COLD
        for bottle in alike.bottles:
            last = bottle is alike.bottles[-1]
            out.append(StandingBottle(bottle.id, symbol, size, min(1.0, share) if last and share >= GAUGED else None, danger))
    return ShownLot(lot, short_words(lot), tuple(out))


def curve_of(alike: Alike, kelvin: float = 0.0) -> PressureCurve | None:
    """Draw the pressure of bottles alike, and what it would be where it is so much warmer or colder; None: not under pressure. [K]"""
    if not alike.limit_bar:
        return None
    future, at = alike.future, alike.first.bottling.at
    cold = alike.first.state == BottleState.COLD
    ahead = AHEAD_COLD if cold else max(AHEAD_WARM, (future.chill_by_day or 0.0) - alike.day + 2, 0.5 * alike.day)
    end = min(float(future.day[-1]), alike.day + ahead)
    other = bottle_forecast(if_warmer(bottle_ask_of(alike.first), alike.day, kelvin)) if kelvin else None
    return pressure_curve(
        PressureFacts(
            day=future.day, low=future.low_bar, likely=future.gauge_bar, high=future.high_bar, today=alike.day, end=end,
            limit_bar=alike.limit_bar, chill_day=None if cold else future.chill_by_day, burps=tuple(_burps(alike.first)),
            days=_days(at, alike.day, end), bars=_bars(alike.limit_bar), other=None if other is None else other.likely_on(future.day),
        )
    )  # fmt: skip


def passes_words(alike: Alike, kelvin: float = 0.0) -> str:
    """Return when the first of them would pass its limit, as it stands or warmer or colder by so many degrees, as a sentence. [K]"""
    if not alike.limit_bar:
        return ""
    future = bottle_forecast(if_warmer(bottle_ask_of(alike.first), alike.day, kelvin)) if kelvin else alike.future
    day = future.passes_limit_day
    if day is None:
        return "It would not pass its limit."
    if day <= alike.day:
        return "It may be past its limit."
    return f"The first would pass its limit {day_word(alike.first.bottling.at + timedelta(days=day), g.now, g.household.zone)}."


def _burps(bottle: Bottle) -> list[float]:
    return sorted(days_between(bottle.bottling.at, row.at) for row in bottle.heard if row.how in LETS_OUT)


def _days(filled: datetime, today: float, end: float) -> tuple[tuple[float, str], ...]:
    """Name some days below the picture: the filling, today, and others where there is room."""
    zone = g.household.zone
    step = max(1, round((end - today) / 3))
    ahead = [today + step * i for i in range(1, 4) if today + step * i <= end - 0.04 * end]
    behind = [0.0] if today > 0.2 * end else []
    return tuple((day, "filled" if not day else day_word(filled + timedelta(days=day), g.now, zone)) for day in (*behind, today, *ahead))


def _bars(limit_bar: float) -> tuple[tuple[float, str], ...]:
    step = next((one for one in BAR_STEPS if limit_bar / one <= 3), BAR_STEPS[-1])
    return tuple((step * i, in_units(step * i, "pressure")) for i in range(1, 5) if step * i < 0.86 * limit_bar or step * i > 1.14 * limit_bar)
