"""Bottles as a page shows them: alike ones together, with pressure in words and a gauge."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from flask import g

from ...core.base import limit
from ...core.base.facts import BOTTLES
from ...core.base.kinds import BottleState
from ...core.bottles import BottleForecast
from ...core.bottles.advice import BottleStep, alcohol_range, fizz_word, in_a_week
from ...core.bottles.bottle import WARM_C
from ...core.bottles.heard import HISS_WORDS, SQUEEZE_WORDS
from ...drawing.rack import BottleShape, bottle_shape
from ...reckon.bottles.cellar import Alike, alike_in, name_of
from ...reckon.bottles.pressure import RECLOSED, SQUEEZED
from ...store.records import Bottle, Bottling, Place
from .acting import in_units
from .words import alcohol_word, day_word, span_word

NOTES_SHOWN = 3


@dataclass(frozen=True, slots=True)
class BottleGroup:
    """Bottles alike, drawn and put into words."""

    key: str
    name: str
    alike: Alike
    shapes: Sequence[BottleShape]
    pressure_words: str
    later_words: str
    advice: str
    alcohol_words: str
    abv_high: float

    @property
    def bottles(self) -> Sequence[Bottle]:
        """Each bottle of the group."""
        return self.alike.bottles

    @property
    def count(self) -> int:
        """How many."""
        return len(self.alike.bottles)

    @property
    def future(self) -> BottleForecast:
        """What is foretold of the bottles."""
        return self.alike.future

    @property
    def limit_bar(self) -> float:
        """What each may hold. [bar]"""
        return self.alike.limit_bar

    @property
    def pressing(self) -> bool:
        """Whether these bottles come first."""
        return self.alike.pressing

    @property
    def past(self) -> bool:
        """Whether they may be past their limit, at room temperature."""
        return self.alike.past

    @property
    def place(self) -> Place | None:
        """Where the bottles stand."""
        return self.alike.place

    @property
    def said(self) -> Sequence[str]:
        """What was noted of their filling, the last few words of it."""
        return [note.text for note in self.bottles[0].bottling.notes if not note.struck][-NOTES_SHOWN:]

    @property
    def heard_words(self) -> str:
        """How the filling was when one of it was last burped or squeezed."""
        every = [row for bottle in self.bottles for row in bottle.heard if row.hiss is not None]
        if not every:
            return ""
        last = max(every, key=lambda row: row.at)
        words = SQUEEZE_WORDS if last.how == SQUEEZED else HISS_WORDS
        how = "Closed again" if last.how == RECLOSED else last.how.capitalize()
        return f"{how} {day_word(last.at, g.now, g.household.zone)}: {words[last.hiss or 0]}."

    @property
    def numbers(self) -> list[int]:
        """The numbers of the bottles."""
        return [bottle.id for bottle in self.alike.bottles]


def _advice(group: Alike, now: datetime) -> str:
    if group.advice.step is BottleStep.BY and group.chill_at is not None:
        return f"{BottleStep.BY} {day_word(group.chill_at, now, g.household.zone)}."
    if group.advice.step is BottleStep.SPOILED:
        return f"{BottleStep.SPOILED} something grave was seen in {group.spoiled_in}, where it was filled from."
    return str(group.advice.step)


def _later(group: Alike) -> str:
    if group.limit_bar == 0:
        return ""
    likely, high, over = in_a_week(group.future, group.limit_bar, group.day)
    if group.first.state == BottleState.COLD:
        return _later_in_the_cold(group, likely, high)
    burp = f" A burp now buys {span_word(group.burp_buys_days)}; only cold stops it." if group.burp_buys_days else ""
    return (
        f"In a week if it stays warm: {_bar(likely)}, perhaps {_bar(high)}{' — over its limit' if over else ''}.{burp}"
    )


def _later_in_the_cold(group: Alike, likely: float, high: float) -> str:
    """Return where a cold bottle is going, what it would press if carried out, and when it could pass its limit."""
    warm = group.warm_high_bar
    says = f"In a week: {_bar(likely)}, perhaps {_bar(high)}. Carried out and warmed to {in_units(WARM_C, 'temperature')}, up to {_bar(warm)}."
    says += f" Drink by {day_word(group.drink_by, g.now, g.household.zone)}." if group.drink_by > g.now else ""
    if group.passes_at is None:
        return says
    return f"{says} Even cold it could pass its limit {day_word(group.passes_at, g.now, g.household.zone)}."


def _bar(value: float) -> str:
    return in_units(value, "pressure")


def named_filling(group: Bottling) -> str:
    """Name a filling as its bottles are named."""
    return name_of(group.bottles[0]) if group.bottles else group.note


def shown_group(group: Alike, now: datetime) -> BottleGroup:
    """Draw and tell bottles alike."""
    first, bar = group.first, group.now_bar
    shape = bottle_shape(
        BOTTLES[first.kind].shape,
        first.headspace_fraction,
        first.bottling.flavour,
        bar[1],
        bar[2],
        first.limit_bar,
        limit("chill_share"),
    )
    low, high = alcohol_range(group.abv_percent)
    pressure = f"{fizz_word(group.volumes).capitalize()}: {_bar(bar[1])} of {_bar(first.limit_bar)}"
    return BottleGroup(
        key=f"{first.bottling_id}-{first.state}-{first.id}",
        name=name_of(first),
        alike=group,
        shapes=[shape] * len(group.bottles),
        pressure_words=pressure if first.limit_bar else "Not under pressure",
        later_words=_later(group),
        advice=_advice(group, now),
        alcohol_words=alcohol_word(low, high),
        abv_high=high,
    )


def groups_of(bottles: Sequence[Bottle], now: datetime) -> list[BottleGroup]:
    """Group bottles, the most pressing first."""
    return [shown_group(group, now) for group in alike_in(bottles, now)]
