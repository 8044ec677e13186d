"""A bottling plan in words: what goes into each bottle, what becomes of it, what to mind."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from flask import g

from ....core.base.facts import BOTTLES
from ....core.base.kinds import AddedAs, BottleSort, FlavourMoment
from ....core.base.saying import bottles_word
from ....core.bottles.advice import PressureRange
from ....core.bottles.filling import LEAST_LEFT_L
from ....core.bottles.flavouring import LEAST_WEIGHED_G
from ....core.bottles.ingredients import FORMS, INGREDIENTS, doubts, in_measures
from ....core.bottles.park import USUAL_CLOSURE, worn
from ....core.bottles.share_out import LEAST_FULL
from ....drawing.rack import BottleShape, bottle_shape
from ....reckon.bottles.filling_plan import BoxPlanned, GroupPlanned, PlannedFilling
from ....reckon.bottles.flavours import PLAIN, tells_most
from ....store.read.moments import days_between
from ...kit import amounts
from ...kit.acting import in_units
from ...kit.words import alcohol_word, day_word, local, small_first, span_word

STOCK_SHOWN = 3  #: Kinds of bottle beside the plan.
MANY = 11  #: From so many bottles on they are drawn small.


@dataclass(frozen=True, slots=True)
class BoxShown:
    """One bottle, drawn."""

    box: BoxPlanned
    shape: BottleShape
    says: str


@dataclass(frozen=True, slots=True)
class GroupShown:
    """The bottles of one flavour, drawn and put into words."""

    key: str
    name: str
    address: str  #: Of its page; empty: it has none.
    boxes: tuple[BoxShown, ...]
    under: str  #: What stands under its bottles.
    into: tuple[str, ...]  #: What goes into a bottle of it.
    tells: str  #: What of it tells most; empty: nothing goes into the bottle.
    facts: str  #: pH and alcohol.
    fizz: str
    chill: str
    last_time: str
    minds: tuple[str, ...]
    notes: str  #: Small things: stones out, pips out.
    tester: str
    closes_high: float | None
    short: str


@dataclass(frozen=True, slots=True)
class PlanShown:
    """A plan, drawn and put into words."""

    planned: PlannedFilling
    groups: tuple[GroupShown, ...]
    many: bool
    stock: tuple[str, ...]
    left_over: tuple[str, str]
    count_words: str
    spot: str  #: What holds for all of it: jars without fizz, or a warmth that nobody measured lately.


def _day(days: float) -> str:
    return day_word(g.now + timedelta(days=days), g.now, g.household.zone)


def _date(days: float) -> str:
    there = local(g.now + timedelta(days=days), g.household.zone)
    return f"{there.day} {there:%B}"


def _spot(planned: PlannedFilling) -> str:
    """Return what holds for all of the plan: jars without fizz; for what warmth it is reckoned, where nobody looked lately."""
    if planned.only_jars:
        return "Only jars are clean: they take flavour but no fizz. Lids loose, straight into the fridge."
    group = next((group for group in planned.groups if group.filling.closes), None)
    if group is None or not group.ask.warmer_k or group.ask.warmer_k[0][1] == 0:
        return ""
    celsius = float(group.ask.course.at(np.array([0.0]))[0])
    return f"Nobody measured there lately: usually {in_units(celsius, 'temperature')}, so reckoned for rather more."


def amount(name: str, key: str, grams: float) -> str:
    """Return how much of an ingredient, in the kitchen's measure first: 6 pieces of damson (30 g)."""
    found = INGREDIENTS.get(key)
    measure = in_measures(found, grams) if found is not None else ""
    weight = amounts.weight(grams)
    if not measure or not weight:
        return f"{measure or weight or 'a pinch'} of {name.lower()}"
    return f"{measure} of {name.lower()} ({weight})"


def _into(group: GroupPlanned) -> tuple[str, ...]:
    """Return what goes into the largest bottle of a flavour, and into the whole batch."""
    litres = max(box.what.litres for box in group.boxes)
    whole = sum(box.what.litres for box in group.boxes)
    out = []
    shown = [m for m in group.card.moments if m != "infusion"]
    for p, moment in zip(group.card.poured, shown, strict=True):
        form = FORMS[p.way][0]
        way = "" if p.way in {AddedAs.PIECES, AddedAs.AS_IT_IS, AddedAs.DRINK, AddedAs.JUICE} else f", {form}"
        if moment == FlavourMoment.BATCH:
            out.append(f"{amount(p.what.name, p.what.key, p.g_per_l * whole)}{way}, stirred into all of it")
        else:
            out.append(f"{amount(p.what.name, p.what.key, p.g_per_l * litres)}{way}")
    sugar = group.filling.sugar_g_per_l * litres
    if sugar >= LEAST_WEIGHED_G:
        out.append(amount("Sugar", "sugar", sugar))
    return tuple(out)


def _tells(group: GroupPlanned) -> str:
    """Name what of a flavour tells most among what goes into the bottle; empty: nothing does."""
    told = tells_most(group.card.poured)
    return next((p.what.name for p in group.card.poured if p.what.key == told), "") if told != PLAIN else ""


def _fizz(group: GroupPlanned, wish: str) -> str:
    """Return when the wished fizz is there, or what is to be had instead."""
    if group.filling.cold or not group.ask.limit_bar:
        return "Cold from the start: little fizz."
    values = {offer.name: offer for offer in group.offers}
    wished = values.get(wish)
    if wished is not None and wished.reach is PressureRange.FITS and wished.day is not None:
        return f"{wish.capitalize()} in {span_word(wished.day)}."
    fits = [offer for offer in group.offers if offer.reach is PressureRange.FITS and offer.day is not None]
    instead = f"{fits[-1].name.capitalize()} in {span_word(fits[-1].day or 0)}." if fits else "Little fizz by then."
    if wished is not None and wished.reach is PressureRange.TESTER and wished.day is not None:
        return f"{instead} {wish.capitalize()} about {_day(wished.day)}: open one to check."
    if wished is not None and wished.reach is PressureRange.TOO_MUCH:
        return f"{instead} {wish.capitalize()} is too much for this bottle."
    return instead


def _chill(group: GroupPlanned) -> str:
    if BOTTLES[group.filling.kind].limit_bar == 0:
        return "Lid loose in the fridge, drunk within three days."
    drink = f"drink by {_date(group.drink_by_day)}"
    if group.filling.cold:
        return f"{drink.capitalize()}."
    by = group.future.chill_by_day
    if by is None:
        return "No hurry to chill it within a year."
    return f"Into the fridge by {_day(by)}, {drink}."


def _short(group: GroupPlanned) -> str:
    """Return what the short bottle does: more air, another pressure."""
    box = next((box for box in group.boxes if box.what.short), None)
    if box is None:
        return ""
    says = f"The short one holds {in_units(box.what.litres, 'volume')}"
    other = group.short_future
    if other is None or other.chill_by_day is None:
        return f"{says} and has more air: drink it first."
    return f"{says} and has more air: into the fridge by {_day(other.chill_by_day)}."


def _minds(group: GroupPlanned) -> tuple[str, ...]:
    out = [f"{name}: pieces do not come out through this neck again. Take smaller pieces, or a wider bottle." for name in group.stuck]
    out += [f"{name} in another way than usual: it would not come out of this neck again." for name in group.card.changed]
    if group.left_out:
        what = ", ".join(name.lower() for name in group.left_out)
        out.append(f"Without {what}: that takes its time in a jar first. At the harvest, “Into a jar”; then bottle it from there.")
    for p in group.filling.parts:
        out += [doubt.why for doubt in doubts(p.what.name, p.what.preserved)]
    if group.closes_high is not None and group.filling.ph_after is None:
        out.append(
            f"About pH {group.closes_high:.1f} by reckoning, too unsure to close for fizz. Mix a glass as it will be, measure it, "
            "and type it below; or take less of it, or put it straight into the fridge with the lid loose."
        )
    old = {
        box.kind.id
        for box in group.boxes
        if box.kind.closure_since is not None
        and worn(box.kind.closure or USUAL_CLOSURE[box.kind.kind], days_between(box.kind.closure_since, g.now) / 365.25)
    }
    if old:
        out.append("Their rings are old: put new ones on, or the gas goes.")
    return tuple(dict.fromkeys(out))


def _shown(group: GroupPlanned, wish: str, address: str) -> GroupShown:
    low, high = group.alcohol[1:]
    soft = any(box.tester and box.kind.kind == BottleSort.PET for box in group.boxes)
    by = group.future.chill_by_day
    tester = ""
    if any(box.tester for box in group.boxes) and group.filling.closes and by is not None:
        tester = "Squeeze the soft one each day: it tells the others." if soft else f"One is the tester: open it first, by {_day(by)}, cold."
    per = amount_under(group)
    return GroupShown(
        group.card.key,
        group.card.name,
        address,
        tuple(
            BoxShown(
                box,
                bottle_shape(BOTTLES[box.kind.kind].shape, box.headspace_fraction, group.card.colour, 0.0, 0.0, 0.0),
                f"Bottle {box.place + 1}: {group.card.name}, {in_units(box.what.litres, 'volume')}{', short' if box.what.short else ''}",
            )
            for box in group.boxes
        ),
        per,
        _into(group),
        _tells(group),
        f"pH {group.liquid.ph:.1f} · {alcohol_word(low, high)}",
        _fizz(group, wish),
        _chill(group),
        _last_time(group),
        _minds(group),
        " ".join(dict.fromkeys(p.what.note for p in group.filling.parts if p.what.note)),
        tester,
        group.closes_high,
        _short(group),
    )


def amount_under(group: GroupPlanned) -> str:
    """Return the line under the bottles of a flavour: Damson, 30 g each."""
    parts = group.card.poured
    if not parts:
        return f"{group.card.name}, to compare" if group.card.key == PLAIN and not group.card.in_it else group.card.name
    litres = max(box.what.litres for box in group.boxes)
    grams = sum(p.g_per_l for p in parts) * litres
    weight = amounts.weight(grams)
    return f"{group.card.name}, {weight} each" if weight else group.card.name


def _last_time(group: GroupPlanned) -> str:
    said = group.card.said
    lean = sum({"more": 1, "less": -1}.get(word, 0) for word in said)
    words = " ".join(f"“{word}”" for word in group.card.words)
    if group.card.gushed:
        return "It gushed last time: a fifth less of it, and half the sugar."
    changed = "a fifth less than last time" if lean < 0 else "a fifth more than last time" if lean > 0 else ""
    if not words and not changed:
        return ""
    return "Last time: " + ", so ".join(part for part in (words, changed) if part) + "."


def shown(planned: PlannedFilling, wish: str, addresses: dict[str, str]) -> PlanShown:
    """Draw and tell a plan."""
    used = {kind.id: sum(box.kind.id == kind.id for box in planned.in_order) for kind, _ in planned.kinds}
    stock = tuple(
        f"{in_units(kind.volume_ml, 'bottle')} {small_first(BOTTLES[kind.kind].name)}: {used[kind.id]} of {stands.clean} clean"
        + (f", {stands.to_wash} to wash" if stands.to_wash else "")
        for kind, stands in sorted(planned.kinds, key=lambda pair: -used[pair[0].id])
        if used[kind.id] or stands.to_wash
    )[:STOCK_SHOWN]
    left = planned.left_over_l
    short = next((box for box in planned.in_order if box.what.short), None)
    if left < LEAST_LEFT_L:
        over = ("Nothing left over", f"the jug’s last {in_units(short.what.litres, 'volume')} fill the short one" if short else "")
    elif planned.count and left < LEAST_FULL * max(box.what.full_l for box in planned.in_order):
        over = (f"{in_units(left, 'volume')} left over", "too little for a bottle: drink it now, or feed the hotel")
    else:
        over = (f"{in_units(left, 'volume')} left over", "no clean bottle for it: wash some, or drink it now")
    return PlanShown(
        planned,
        tuple(_shown(group, wish, addresses.get(group.card.key, "")) for group in planned.groups),
        planned.count > MANY,
        stock,
        over,
        bottles_word(planned.count),
        _spot(planned),
    )
