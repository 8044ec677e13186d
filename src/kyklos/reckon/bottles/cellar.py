"""Bottles grouped as they stand: one filling, one kind, one state, the same moves; with what is foretold of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import groupby

from sqlalchemy.orm import object_session

from ...core.base.kinds import BottleState
from ...core.bottles import BottleForecast, ingredient
from ...core.bottles.advice import BottleAdvice, BottleStep, advise, burp_is_worth_telling, may_be_past, nearness
from ...core.bottles.burping import burp_buys_days
from ...core.bottles.drink_by import drink_by_day
from ...core.bottles.ingredients import known
from ...store.read.moments import days_between
from ...store.records import Bottle, Place
from ..cultures.spoilage import bottles_held
from .pressure import LETS_OUT, bottle_ask_of, bottle_future, foretell_together


@dataclass(frozen=True, slots=True)
class Alike:
    """Bottles alike, and what is foretold of each of them."""

    bottles: Sequence[Bottle]
    future: BottleForecast
    day: float  #: Since filling. [d]
    advice: BottleAdvice
    burp_buys_days: float | None  #: What a burp now would buy, where it is worth telling. [d]
    spoiled_in: str = ""  #: Vessel in whose brew something grave was seen; empty: none.

    @property
    def first(self) -> Bottle:
        """The first bottle of the group."""
        return self.bottles[0]

    @property
    def limit_bar(self) -> float:
        """What each may hold. [bar]"""
        return self.first.limit_bar

    @property
    def now_bar(self) -> tuple[float, float, float]:
        """Pressure now: low, likely, high. [bar]"""
        return self.future.at(self.day)

    @property
    def volumes(self) -> float:
        """The gas they likely hold now. [volumes]"""
        return self.future.volumes_at(self.day)

    @property
    def warm_high_bar(self) -> float:
        """What its gas could press at 25 degC now, at the upper end. [bar]"""
        return self.future.warm_bar_at(self.day)

    @property
    def passes_at(self) -> datetime | None:
        """When a cold bottle could pass its limit all the same."""
        day = self.advice.passes_day
        return None if day is None else self.first.bottling.at + timedelta(days=day)

    @property
    def abv_percent(self) -> float:
        """Alcohol now, likely. [% ABV]"""
        return self.future.abv_at(self.day)

    @property
    def pressing(self) -> bool:
        """Whether these bottles come first."""
        return self.advice.pressing

    @property
    def past(self) -> bool:
        """Whether they may be past their limit, at room temperature."""
        return may_be_past(self.future, self.first.state, self.limit_bar, self.day)

    @property
    def place(self) -> Place | None:
        """Where the bottles stand."""
        return self.first.place

    @property
    def chill_at(self) -> datetime | None:
        """By when the bottles must be cold."""
        by = self.future.chill_by_day
        return None if by is None else self.first.bottling.at + timedelta(days=by)

    @property
    def drink_by(self) -> datetime:
        """By when they are drunk, put into the fridge by their chill-by."""
        days = drink_by_day(bottle_ask_of(self.first), cold=self.first.state == BottleState.COLD, today=self.day)
        return self.first.bottling.at + timedelta(days=days)


def name_of(bottle: Bottle) -> str:
    """Name a bottle by its note, with its flavour where the note does not tell it; else by flavour and culture."""
    group = bottle.bottling
    if group.note and (group.flavour_id is not None or not known(group.flavour)):
        return group.note  # the name of the flavour that was kept
    flavour = ingredient(group.flavour).name if known(group.flavour) else "Own flavour"
    if not group.note:
        return f"{flavour}, {group.brew.culture.name}"
    found = group.flavour == "plain" or flavour.split()[0].casefold() in group.note.casefold()
    return group.note if found else f"{group.note}, {flavour[0].lower()}{flavour[1:]}"


def alike_of(bottles: Sequence[Bottle], now: datetime) -> Alike:
    """Put together what is known of bottles alike."""
    first = bottles[0]
    future, day = bottle_future(first), max(0.0, days_between(first.bottling.at, now))
    worth = first.limit_bar > 0 and burp_is_worth_telling(future, first.state, first.limit_bar, day)
    buys = burp_buys_days(bottle_ask_of(first), day) if worth else None
    spoiled_in = _spoiled_in(first, now)
    advice = BottleAdvice(BottleStep.SPOILED) if spoiled_in else advise(future, first.state, first.limit_bar, day)
    return Alike(bottles, future, day, advice, buys, spoiled_in)


def _spoiled_in(bottle: Bottle, now: datetime) -> str:
    session = object_session(bottle)
    found = bottles_held(session, now).get(bottle.bottling_id) if session is not None else None
    return found.name if found is not None else ""


def why_not_given(bottle: Bottle, now: datetime) -> str:
    """Return why a bottle is neither given away nor taken along; empty where it may be."""
    alike = alike_of([bottle], now)
    if alike.spoiled_in:
        return f"Something grave was seen in {alike.spoiled_in}, where it was filled from: it is not given away."
    if alike.past or alike.advice.step is BottleStep.PAST_COLD:
        return "It may be past its limit: it is neither carried nor given. Towel over it, let it cool where it stands."
    return ""


Likeness = tuple[int, str, str, float, float, tuple[tuple[datetime, int], ...], tuple[datetime, ...]]


def likeness_of(bottle: Bottle) -> Likeness:
    """Return what bottles have in common that stand and press alike."""
    moves = tuple((row.since, row.place_id) for row in bottle.standings)
    burps = tuple(row.at for row in bottle.heard if row.how in LETS_OUT)
    return (bottle.bottling_id, bottle.kind, bottle.state, bottle.volume_ml, bottle.headspace_fraction, moves, burps)


def alike_in(bottles: Sequence[Bottle], now: datetime) -> list[Alike]:
    """Group bottles, the most pressing first."""
    ordered = sorted(bottles, key=lambda b: (likeness_of(b), b.id))
    alike = [list(some) for _, some in groupby(ordered, key=likeness_of)]
    foretell_together([some[0] for some in alike], now)
    return sorted((alike_of(some, now) for some in alike), key=urgency)


def urgency(group: Alike) -> tuple[bool, float]:
    """Order groups by how near they are to their limit, the pressing first."""
    return nearness(group.pressing, group.now_bar[2], group.limit_bar)
