"""A plan to fill bottles: which flavours, which clean bottles, what becomes of each; before anything is written."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from ...core.base.facts import BOTTLES
from ...core.base.kinds import BottleSort, FlavourMoment
from ...core.bottles import BottleAsk, BottleForecast, bottle_forecast
from ...core.bottles.advice import Offer, alcohol_range, offers
from ...core.bottles.bottle import run_together
from ...core.bottles.drink_by import drink_by_day, drunk_as
from ...core.bottles.filling import LOSS_SHARE, FillingPlan, InABottle, Stock, Wish, plan, poured
from ...core.bottles.flavouring import flavoured, room
from ...core.bottles.ingredients import form_that_passes, passes_neck
from ...core.bottles.park import USUAL_NECK_MM, Counted
from ...core.bottles.room import HEADSPACE_CM
from ...core.liquid import Liquid
from ...store.read import park
from ...store.records import BottleType, Bottling, Brew, Infusion
from . import flavours, harvests, infusions
from .flavours import PLAIN, FlavourCard, tells_most
from .harvests import Filling

USUAL_KIND = "swing-top"  #: A bottle where none is chosen yet.
PLAIN_WEIGHT = 0.5  #: Plain is there to compare: half as much of it as of the others.
OPENED_AFTER_DAYS = 7.0  #: Alcohol is given for a bottle opened then. [d]
MOST_FLAVOURS = 8
MOST_G_PER_L = 400.0  #: Of one ingredient. [g/L]


@dataclass(frozen=True, slots=True, kw_only=True)
class FillingAsked:
    """What was chosen on the page of a plan."""

    keys: tuple[str, ...] = ()  #: Of the flavours wished.
    boxes: tuple[tuple[int, str], ...] | None = None  #: By hand: each bottle's kind and flavour; None: as planned.
    short: int | None = None  #: Which of those is filled last, and so is the short one; None: the last of all.
    headspace_cm: float = HEADSPACE_CM  #: [cm]
    pour: str = "stirred"
    knocked: bool = False
    priming_g_per_l: float | None = None  #: For all; None: as each flavour has it. [g/L]
    place_id: int | None = None
    spot_c: float | None = None  #: How warm it is there now; None: nobody looked. [degC]
    cold: bool = False
    wish: str = "lively"
    burps: str = "never"
    ph: dict[str, float] = field(default_factory=dict)  #: Measured with the flavour in, by key. [pH]
    weighed: dict[str, float] = field(default_factory=dict)  #: What really went into the largest bottle of what tells most, by key. [g]
    overruled: str = ""


@dataclass(frozen=True, slots=True)
class BoxPlanned:
    """One bottle of a plan."""

    place: int  #: In the plan, from 0.
    kind: BottleType
    what: InABottle
    headspace_fraction: float  #: Its own: a short one has more air. [-]
    tester: bool


@dataclass(frozen=True, slots=True)
class GroupPlanned:
    """The bottles of one flavour, and what becomes of them."""

    card: FlavourCard
    filling: Filling
    boxes: tuple[BoxPlanned, ...]
    liquid: Liquid  #: As it will be in the bottle, all released.
    ask: BottleAsk
    future: BottleForecast
    offers: tuple[Offer, ...]
    short_future: BottleForecast | None  #: Of the short one: its own pressure.
    closes_high: float | None  #: The pH for which it is not closed for fizz. [pH]
    stuck: tuple[str, ...]  #: What does not come out through these necks again.
    drink_by_day: float  #: Put into the fridge by its chill-by, or at once. [d]
    left_out: tuple[str, ...]  #: What goes into a jar first, and so is in none of these bottles.

    @property
    def alcohol(self) -> tuple[float, float, float]:
        """The range of alcohol if opened within a week. [% ABV]"""
        return (self.liquid.abv_percent, *alcohol_range(self.future.abv_at(OPENED_AFTER_DAYS)))


@dataclass(frozen=True, slots=True)
class PlannedFilling:
    """A whole plan."""

    groups: tuple[GroupPlanned, ...]
    kinds: tuple[tuple[BottleType, Counted], ...]  #: The park, and how it stands.
    brew_l: float  #: There is to fill, losses taken off. [L]
    left_over_l: float  #: [L]
    only_jars: bool = False  #: No bottle made for pressure is clean: all goes into jars, lids loose, into the fridge.

    @property
    def count(self) -> int:
        """Bottles in all."""
        return sum(len(group.boxes) for group in self.groups)

    @property
    def in_order(self) -> list[BoxPlanned]:
        """The bottles as they stand."""
        return [box for group in self.groups for box in group.boxes]


def full_l(volume_ml: float, kind: str = USUAL_KIND, headspace_cm: float = HEADSPACE_CM) -> float:
    """Return what a bottle takes with its space on top left free. [mL, cm -> L]"""
    return volume_ml / 1000 * (1 - BOTTLES[kind].headspace_fraction(headspace_cm, volume_ml))


def to_fill_l(session: Session, brew: Brew, infusion: Infusion | None, now: datetime) -> float:
    """Return what there is to fill: what is kept as starter, and what stays in jug and funnel, are taken off. [L]"""
    left = infusion.liquid.litres if infusion is not None else brew.left_l - harvests.to_set_aside_l(session, brew, now)
    return max(0.0, left) * (1 - LOSS_SHARE)


def last_time(session: Session, brew: Brew) -> tuple[str, ...]:
    """Return the flavours that this line was filled with last, as keys of cards."""
    last = session.scalars(
        select(Bottling).join(Brew).where(Brew.culture_id == brew.culture_id).order_by(Bottling.at.desc()).limit(1)
    ).first()
    if last is None:
        return ()
    rows = session.scalars(select(Bottling).where(Bottling.brew_id == last.brew_id).order_by(Bottling.at, Bottling.id)).all()
    keys = [
        f"{flavours.KEPT}{row.flavour_id}" if row.flavour_id else PLAIN if row.flavour == PLAIN else f"{flavours.RAW}{row.flavour}"
        for row in rows
    ]
    return tuple(key for key in dict.fromkeys(keys) if flavours.card_named(session, key) is not None)[:MOST_FLAVOURS]


def cards_of(session: Session, keys: Sequence[str], infusion: Infusion | None = None) -> dict[str, FlavourCard]:
    """Find the cards of some keys; plain drink out of a jar is called as the jar, and belongs to its flavour."""
    cards = {key: card for key in keys[:MOST_FLAVOURS] if (card := flavours.card_named(session, key)) is not None}
    if infusion is not None and PLAIN in cards:
        in_it = infusions.parts_of(session, infusion)
        cards[PLAIN] = replace(cards[PLAIN], name=infusion.name, flavour_id=infusion.flavour_id, in_it=in_it)
    return cards


def _filling(asked: FillingAsked, card: FlavourCard, kind: str, headspace_fraction: float) -> Filling:
    priming = asked.priming_g_per_l
    return Filling(
        kind=kind,
        headspace_fraction=headspace_fraction,
        flavour=card.colour if card.parts else PLAIN,
        flavour_g_per_l=1000 * room(card.poured),
        made_of=card.poured,
        sugar_g_per_l=card.priming_g_per_l if priming is None else priming,
        pour=asked.pour,
        knocked=asked.knocked,
        place_id=asked.place_id,
        cold=asked.cold,
        spot_c=asked.spot_c,
        ph_after=asked.ph.get(card.key),
        overruled=asked.overruled,
    )


def _arranged(asked: FillingAsked, brew_l: float, cards: dict[str, FlavourCard], stock: dict[int, tuple[BottleType, int]]) -> FillingPlan:
    """Return the plan as made by hand, or the best one."""
    wishes = {key: Wish(key, PLAIN_WEIGHT if key == PLAIN else 1.0, 1 - room(card.poured)) for key, card in cards.items()}
    boxes = {number: Stock(str(number), full_l(kind.volume_ml, kind.kind, asked.headspace_cm), free) for number, (kind, free) in stock.items()}
    if asked.boxes is not None:
        known = [i for i, (number, key) in enumerate(asked.boxes) if number in boxes and key in wishes]
        rows = [(boxes[asked.boxes[i][0]], wishes[asked.boxes[i][1]]) for i in known]
        return poured(round(brew_l, 3), rows, known.index(asked.short) if asked.short in known else None)
    if len(wishes) == 1:
        wishes = {key: replace(wish, weight=1.0) for key, wish in wishes.items()}
    return plan(round(brew_l, 3), tuple(boxes.values()), tuple(wishes.values()))


def plan_of(session: Session, brew: Brew, asked: FillingAsked, now: datetime, infusion: Infusion | None = None) -> PlannedFilling:
    """Plan a filling out of a brew, or out of a jar in which it took flavour.

    What cannot be foretold, for there is no park or no flavour, gives a plan without bottles. Jars take flavour but no fizz: they
    are planned where all goes straight into the fridge, or where nothing else is clean.
    """
    kinds = park.kinds(session)
    stands = park.counted_of(session, kinds)
    only_jars = not asked.cold and not any(k.limit_bar > 0 and stands[k.id].clean for k in kinds)
    if only_jars:
        asked = replace(asked, cold=True)
    usable = {k.id: (k, stands[k.id].clean) for k in kinds if asked.cold or k.limit_bar > 0}
    cards = cards_of(session, asked.keys, infusion)
    brew_l = to_fill_l(session, brew, infusion, now)
    rows = tuple((kind, stands[kind.id]) for kind in kinds)
    if not cards or not usable:
        return PlannedFilling((), rows, brew_l, brew_l)
    made = _arranged(asked, brew_l, cards, usable)
    of = {number: kind for number, (kind, _) in usable.items()}
    shared, place = [], 0
    for card in cards.values():
        if mine := made.of(card.key):
            boxes = _boxes(mine, of, asked, place)
            shared.append((_as_weighed(_to_come_out(card, boxes), boxes, asked.weighed.get(card.key)), boxes))
            place += len(mine)
    filled = FilledHow(session, brew, asked, now, infusion)
    filled.foretell_together(shared)
    groups = [filled.group(card, boxes) for card, boxes in shared]
    return PlannedFilling(tuple(groups), rows, brew_l, made.left_over_l, only_jars and bool(groups))


def _necks(boxes: Sequence[BoxPlanned]) -> list[float | None]:
    """List how wide the necks are inside. [mm]"""
    return [box.kind.neck_mm or USUAL_NECK_MM.get(box.kind.kind) for box in boxes]


def _to_come_out(card: FlavourCard, boxes: Sequence[BoxPlanned]) -> FlavourCard:
    """Let what would stay behind in the bottles go in another way: damsons as purée."""
    necks, parts, changed = _necks(boxes), [], []
    for p, moment in zip(card.parts, card.moments, strict=True):
        form = p.way if moment == FlavourMoment.INFUSION else form_that_passes(p.what, p.way, necks)
        parts.append(p if form == p.way else replace(p, form=form))
        changed += [] if form == p.way else [p.what.name]
    return replace(card, parts=tuple(parts), changed=tuple(changed)) if changed else card


def _as_weighed(card: FlavourCard, boxes: Sequence[BoxPlanned], grams: float | None) -> FlavourCard:
    """Let what tells most go in as it was weighed into the largest bottle. [g]"""
    told = tells_most(card.poured)
    litres = max(box.what.litres for box in boxes)
    if grams is None or told == PLAIN or litres <= 0:
        return card
    parts = tuple(replace(p, g_per_l=min(grams / litres, MOST_G_PER_L)) if p.what.key == told and moment != FlavourMoment.INFUSION else p
                  for p, moment in zip(card.parts, card.moments, strict=True))  # fmt: skip
    return replace(card, parts=parts)


def _boxes(mine: Sequence[InABottle], of: dict[int, BottleType], asked: FillingAsked, place: int) -> tuple[BoxPlanned, ...]:
    """Assign each bottle its headspace; a soft one, else the first, tells the others how they press."""
    soft = next((i for i, one in enumerate(mine) if of[int(one.bottle)].kind == BottleSort.PET), 0)
    out = []
    for i, one in enumerate(mine):
        kind = of[int(one.bottle)]
        head = max(0.005, 1 - one.litres / (kind.volume_ml / 1000))
        out.append(BoxPlanned(place + i, kind, one, min(0.5, head), len(mine) > 1 and i == soft and not asked.cold))
    return tuple(out)


def _sooner(future: BottleForecast) -> tuple[float, float]:
    """Return by what bottles are put in order: chill-by, then the day of their limit; none is later than any. [d]"""
    days = (future.chill_by_day, future.passes_limit_day)
    return (math.inf if days[0] is None else days[0], math.inf if days[1] is None else days[1])


@dataclass(frozen=True, slots=True)
class FilledHow:
    """What is filled, out of what, and when: all that the bottles of one filling share."""

    session: Session
    brew: Brew
    asked: FillingAsked
    now: datetime
    infusion: Infusion | None

    def ask(self, filling: Filling) -> BottleAsk:
        """Ask what bottles would do that are filled so."""
        return _ask(self.session, self.brew, filling, self.now, self.infusion)

    def kinds(self, card: FlavourCard, boxes: tuple[BoxPlanned, ...]) -> list[Filling]:
        """List how the full bottles of a flavour are filled, one for each kind and its air."""
        full = [box for box in boxes if not box.what.short] or list(boxes[:1])
        found = dict.fromkeys((box.kind, round(box.headspace_fraction, 6)) for box in full)
        return [replace(_filling(self.asked, card, kind.kind, head), limit_bar=kind.limit_bar or None) for kind, head in found]

    def short(self, filling: Filling, boxes: tuple[BoxPlanned, ...]) -> Filling | None:
        """Return how the short bottle is filled; None: each is full, or it is the only one."""
        box = next((box for box in boxes[1:] if box.what.short), None)
        if box is None:
            return None
        return replace(filling, kind=box.kind.kind, headspace_fraction=box.headspace_fraction, limit_bar=box.kind.limit_bar or None)

    def foretell_together(self, shared: Sequence[tuple[FlavourCard, tuple[BoxPlanned, ...]]]) -> None:
        """Run all bottles of the plan at once, so that each is then foretold from memory."""
        asks = []
        for card, boxes in shared:
            fillings = self.kinds(card, boxes)
            short = self.short(fillings[0], boxes)
            asks += [self.ask(filling) for filling in (*fillings, *([short] if short is not None else []))]
        run_together(asks)
        run_together(drunk_as(ask, cold=self.asked.cold) for ask in asks)

    def first_to_pass(self, card: FlavourCard, boxes: tuple[BoxPlanned, ...]) -> tuple[Filling, BottleAsk, BottleForecast]:
        """Foretell the bottle of a flavour that must be cold first, by its kind and its air: it speaks for all but the short one."""
        asks = [(filling, self.ask(filling)) for filling in self.kinds(card, boxes)]
        rows = [(filling, ask, bottle_forecast(ask)) for filling, ask in asks]
        return min(rows, key=lambda one: _sooner(one[2]))

    def group(self, card: FlavourCard, boxes: tuple[BoxPlanned, ...]) -> GroupPlanned:
        """Foretell the bottles of one flavour."""
        filling, ask, future = self.first_to_pass(card, boxes)
        short = self.short(filling, boxes)
        if self.infusion is not None:
            plain = infusions.infused(self.session, self.infusion, self.now).liquid
            high = infusions.too_high_to_close(self.session, self.infusion, filling, self.now)
        else:
            plain = harvests.plain_liquid(self.session, self.brew, self.now)
            high = harvests.too_high_to_close(self.session, self.brew, filling, self.now)
        necks = _necks(boxes)
        stuck = tuple(p.what.name for p in filling.parts if not all(passes_neck(p.what, p.way, neck) for neck in necks))
        celsius = float(ask.course.at(np.array([0.0]))[0]) if ask.limit_bar else 4.0
        return GroupPlanned(
            card,
            filling,
            boxes,
            flavoured(plain, filling.parts, filling.sugar_g_per_l),
            ask,
            future,
            tuple(offers(future, celsius, ask.headspace_fraction)) if ask.limit_bar else (),
            None if short is None else bottle_forecast(self.ask(short)),
            high,
            stuck,
            drink_by_day(ask, cold=self.asked.cold),
            () if self.infusion is not None else tuple(p.what.name for p in card.infused),
        )


@dataclass(frozen=True, slots=True)
class Tried:
    """What a flavour would come to, all of it in one bottle."""

    liquid: Liquid  #: All released.
    future: BottleForecast
    closes_high: float | None  #: The pH for which it is not closed for fizz. [pH]

    @property
    def alcohol(self) -> tuple[float, float]:
        """The range of it when opened in a week. [% ABV]"""
        return alcohol_range(self.future.abv_at(OPENED_AFTER_DAYS))


def tried(session: Session, brew: Brew, card: FlavourCard, volume_ml: float, now: datetime) -> Tried:
    """Foretell a flavour in one usual bottle of a brew, as if all of it went into the bottle. [mL]"""
    headspace = BOTTLES[USUAL_KIND].headspace_fraction(HEADSPACE_CM, volume_ml)
    whole = replace(card, moments=("bottle",) * len(card.parts))
    filling = _filling(FillingAsked(), whole, USUAL_KIND, headspace)
    return Tried(
        flavoured(harvests.plain_liquid(session, brew, now), filling.parts, filling.sugar_g_per_l),
        bottle_forecast(_ask(session, brew, filling, now, None)),
        harvests.too_high_to_close(session, brew, filling, now),
    )


def _ask(session: Session, brew: Brew, filling: Filling, now: datetime, infusion: Infusion | None) -> BottleAsk:
    if infusion is not None:
        return infusions.ask_of(session, infusion, filling, now)
    return harvests.ask_of(session, brew, filling, now)


def turned(boxes: Sequence[tuple[int, str]], place: int, keys: Sequence[str]) -> tuple[tuple[int, str], ...]:
    """Change one bottle to the next of the wished flavours.

    >>> turned(((1, "a"), (1, "b")), 0, ["a", "b"])
    ((1, 'b'), (1, 'b'))
    """
    out = list(boxes)
    if 0 <= place < len(out) and keys:
        kind, key = out[place]
        out[place] = (kind, keys[(list(keys).index(key) + 1) % len(keys)] if key in keys else keys[0])
    return tuple(out)


def one_more(boxes: Sequence[tuple[int, str]], key: str, keys: Sequence[str]) -> tuple[tuple[int, str], ...]:
    """Move one bottle to a flavour from the one that has most.

    >>> one_more(((1, "a"), (1, "a"), (1, "b")), "b", ["a", "b"])
    ((1, 'a'), (1, 'b'), (1, 'b'))
    """
    count = {one: sum(k == one for _, k in boxes) for one in keys if one != key}
    most = max(count, key=lambda one: count[one], default=None)
    out = list(boxes)
    if most is None or not count[most] or key not in keys:
        return tuple(out)
    last = max(i for i, (_, k) in enumerate(out) if k == most)
    out[last] = (out[last][0], key)
    return tuple(out)
