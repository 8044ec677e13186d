"""Bottles grouped as they stand: one filling, one kind, one state; with pressure in words and a gauge."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import groupby

from flask import g

from ...core.bottle import BottleForecast, burp_buys_days
from ...core.facts import BOTTLES, FLAVOURINGS, limit
from ...core.kinds import BottleState
from ...drawing.rack import BottleShape, bottle_shape
from ...reckon import pressure
from ...store.models import Bottle, Place
from ...store.read import moments
from ..words import day_word, span_word

FIZZ_WORDS = ((2.8, "sparkling"), (2.2, "lively"), (1.5, "soft"), (0.9, "a little gas"), (0.0, "still"))


@dataclass(frozen=True, slots=True)
class BottleGroup:
    """Bottles alike."""

    key: str
    name: str
    bottles: Sequence[Bottle]
    shapes: Sequence[BottleShape]
    future: BottleForecast
    day: float
    now_bar: tuple[float, float, float]
    limit_bar: float
    pressure_words: str
    later_words: str
    advice: str
    pressing: bool
    alcohol_words: str
    abv_high: float

    @property
    def count(self) -> int:
        """How many."""
        return len(self.bottles)

    @property
    def place(self) -> Place | None:
        """Where they stand."""
        return self.bottles[0].place

    @property
    def past(self) -> bool:
        """Whether it may be past its limit, in the warm."""
        return self.limit_bar > 0 and self.bottles[0].state == BottleState.WARM and self.now_bar[2] >= self.limit_bar

    @property
    def numbers(self) -> list[int]:
        """Their numbers."""
        return [bottle.id for bottle in self.bottles]


def fizz_word(volumes: float) -> str:
    """Say gas in words."""
    return next(word for least, word in FIZZ_WORDS if volumes >= least)


def name_of(bottle: Bottle) -> str:
    """Name a bottle by its note, or its flavour and culture."""
    group = bottle.bottling
    return group.note or f"{FLAVOURINGS[group.flavour].name}, {group.brew.culture.name}"


def _advice(bottle: Bottle, future: BottleForecast, day: float, high: float, now: datetime) -> tuple[str, bool]:
    """Say what to do, and whether at once."""
    if bottle.limit_bar == 0:
        return "Not closed for fizz: keep cold, drink within days.", False
    if bottle.state == BottleState.COLD:
        creeps = future.passes_limit_day is not None and future.passes_limit_day - day < 30
        return (
            "Cold slows it, not stops it: drink it soon." if creeps else "Cold. Open it over a bowl, lid held down."
        ), creeps
    if high >= bottle.limit_bar:
        return (
            "May be past its limit. Do not carry or open it warm: towel over it, goggles, gloves; let it cool where it stands.",
            True,
        )
    if future.chill_by_day is None:
        return "Far from its limit. Taste one in a few days.", False
    moment = bottle.bottling.at + timedelta(days=future.chill_by_day)
    if moment <= now + timedelta(hours=18):
        return "Chill now." if moment <= now else "Chill today.", True
    return f"Chill by {day_word(moment, now, g.household.zone)}.", False


def _later(bottle: Bottle, future: BottleForecast, day: float) -> str:
    if bottle.limit_bar == 0:
        return ""
    week = future.at(day + 7)
    cold = " even in the cold" if bottle.state == BottleState.COLD else " if it stays warm"
    over = " — over its limit" if week[2] >= bottle.limit_bar else ""
    buys = (
        burp_buys_days(pressure.bottle_ask_of(bottle), day)
        if bottle.state == BottleState.WARM and week[2] < bottle.limit_bar * 2
        else None
    )
    burp = f" A burp now buys {span_word(buys)}; only cold stops it." if buys else ""
    return f"In a week{cold}: {week[1]:.1f} bar, perhaps {week[2]:.1f}{over}.{burp}"


def group_of(bottles: Sequence[Bottle], now: datetime) -> BottleGroup:
    """Put together what is shown of bottles alike."""
    first = bottles[0]
    future, day = pressure.bottle_future(first), max(0.0, moments.days_between(first.bottling.at, now))
    bar = future.at(day)
    advice, pressing = _advice(first, future, day, bar[2], now)
    volumes = float(future.co2_volumes[min(round(day * 4), len(future.day) - 1)])
    abv = float(future.abv_percent[min(round(day * 4), len(future.day) - 1)])
    kind = BOTTLES[first.kind]
    shape = bottle_shape(
        kind.shape,
        first.headspace_fraction,
        first.bottling.flavour,
        bar[1],
        bar[2],
        first.limit_bar,
        limit("chill_share"),
    )
    words = (
        f"{fizz_word(volumes).capitalize()}: {bar[1]:.1f} of {first.limit_bar:g} bar"
        if first.limit_bar
        else "Not under pressure"
    )
    return BottleGroup(
        key=f"{first.bottling_id}-{first.state}-{first.id}",
        name=name_of(first),
        bottles=bottles,
        shapes=[shape] * len(bottles),
        future=future,
        day=day,
        now_bar=bar,
        limit_bar=first.limit_bar,
        pressure_words=words,
        later_words=_later(first, future, day),
        advice=advice,
        pressing=pressing,
        alcohol_words=f"about {max(0.1, abv * 0.85):.1f} to {abv * 1.2:.1f} % alcohol",
        abv_high=abv * 1.2,
    )


def groups_of(bottles: Sequence[Bottle], now: datetime) -> list[BottleGroup]:
    """Group bottles, the most pressing first."""

    def alike(b: Bottle) -> tuple[int, str, str, float, float, tuple[tuple[datetime, int], ...]]:
        return (
            b.bottling_id,
            b.kind,
            b.state,
            b.volume_ml,
            b.headspace_fraction,
            tuple((row.since, row.place_id) for row in b.standings),
        )

    groups = [
        group_of(list(some), now) for _, some in groupby(sorted(bottles, key=lambda b: (alike(b), b.id)), key=alike)
    ]
    return sorted(groups, key=urgency)


def urgency(group: BottleGroup) -> tuple[bool, float]:
    """Order groups by how near they are to their limit, the pressing first."""
    return not group.pressing, -(group.now_bar[2] / group.limit_bar if group.limit_bar else 0)


def in_order_of_places(groups: list[BottleGroup]) -> list[tuple[str, list[BottleGroup]]]:
    """Put groups by the place they stand in, in the order of the round."""
    ordered = sorted(groups, key=lambda group: (group.place.position if group.place else 99, urgency(group)))
    return [
        (name, list(some)) for name, some in groupby(ordered, key=lambda x: x.place.name if x.place else "Somewhere")
    ]
