"""Filling bottles: one kind of bottle by hand, or a whole plan; from a brew, or from a jar in which it took flavour."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from ...core.base import marked
from ...core.base.facts import BOTTLES
from ...core.base.kinds import AddedAs, BottleState, BrewStatus
from ...core.base.saying import bottles_word
from ...core.bottles import Part
from ...core.bottles.advice import FILLS
from ...core.bottles.bottle import POURS
from ...core.bottles.flavouring import added_ethanol, driving_form, room
from ...core.bottles.ingredients import known
from ...core.bottles.room import filled_l
from ...core.bottles.second_ferment import BURPS, WISHES
from ...core.judging.overrule import LEAST_WORDS
from ...core.liquid import Way
from ...core.liquid.pouring import Added, LiquidKind
from ...core.liquid.standing import PlaceKind
from ...reckon.bottles import harvests, infusions
from ...reckon.bottles.flavours import tells_most
from ...reckon.bottles.harvests import Filling
from ...reckon.bottles.pressure import state_at_filling
from ...reckon.cultures import spoilage
from ...reckon.forecast import forecasting
from ...store.read import park, queries
from ...store.read.moments import age_of
from ...store.records import Bottle, BottleType, Bottling, Brew, Infusion, KeptLiquid, Place, SpotReading, Standing
from ..base import Checks, Done, RefusedError, action, flushed
from ..pouring import begin, pour, put_in
from ..standing import fridge
from .harvest import STARTER_FIRST, ready_to_harvest, starter_comes_first, why_not_bottled

BY_EYE_SHARE = 0.08  #: Volumes are read by eye: so much more than there is may be poured. [-]
MOST_BOTTLES = 60  #: In one plan.


@dataclass(frozen=True, slots=True, kw_only=True)
class FillBottles(Filling):
    """Bottles of one kind filled alike."""

    brew_id: int
    count: int
    volume_ml: float  #: Brimful. [mL]
    note: str = ""


@dataclass(frozen=True, slots=True)
class Box:
    """One bottle to be filled."""

    type_id: int  #: Of the household's kind of bottle.
    headspace_fraction: float  #: [-]
    tester: bool = False  #: Opened or squeezed first.


@dataclass(frozen=True, slots=True, kw_only=True)
class Group:
    """Bottles to be filled alike."""

    filling: Filling
    boxes: tuple[Box, ...]
    name: str  #: Of its flavour.
    flavour_id: int | None = None
    wish: str = ""
    burps: str = "never"


@dataclass(frozen=True, slots=True, kw_only=True)
class FillPlan:
    """A whole plan: several flavours at once."""

    brew_id: int
    groups: tuple[Group, ...]
    infusion_id: int | None = None  #: Out of this jar, else out of the brew's vessel.


@dataclass(frozen=True, slots=True)
class FilledFrom:
    """What bottles are filled from."""

    brew: Brew
    liquid: KeptLiquid
    start: tuple[float, ...]  #: Its state, as the core's ferment keeps it.
    vigour: float
    infusion: Infusion | None = None
    volumes: float | None = None  #: Gas that strained drink keeps; None: as it is poured. [volumes]
    in_it: tuple[Part, ...] = ()  #: What it took up in the jar.

    @property
    def left_l(self) -> float:
        """What there is to fill. [L]"""
        return self.liquid.litres if self.infusion is not None else self.brew.left_l

    @property
    def made_l(self) -> float:
        """What there was at first. [L]"""
        return self.liquid.made_l if self.infusion is not None else self.brew.started_l


def _source(session: Session, brew: Brew, infusion: Infusion | None, at: datetime) -> FilledFrom:
    """Find what is filled, and how it is by now."""
    if infusion is not None:
        out = infusions.infused(session, infusion, at)
        start = (*(round(float(v), 6) for v in out.liquid.state[:7]), 0.0)
        return FilledFrom(brew, infusion.liquid, start, infusion.vigour, infusion, out.volumes, infusions.parts_of(session, infusion))
    start, vigour = state_at_filling(forecasting.forecast_of(session, brew), age_of(brew.pitched_at, at))
    return FilledFrom(brew, brew.liquid, start, vigour)


def _check_told(ask: Filling, field: str = "") -> Checks:
    """Check a filling, whichever form it came from."""
    checks = Checks()
    checks.refuse_if(ask.kind not in BOTTLES, "kind", "Choose a kind of bottle.")
    checks.refuse_if(not known(ask.flavour) and not ask.made_of, "flavour", "Choose a flavour from the list.")
    left_empty = ask.flavour != "plain" and known(ask.flavour) and not ask.made_of and ask.flavour_g_per_l == 0
    checks.refuse_if(left_empty, "flavour_g_per_l", "Say how much of it; left empty the bottles would be plain.")
    checks.refuse_if(ask.pour not in POURS, "pour", "Choose how it is poured.")
    checks.between(ask.headspace_fraction, "headspace_cm", *FILLS["headspace_fraction"], "A headspace share of")
    checks.between(ask.sugar_g_per_l, "sugar_g_per_l", *FILLS["sugar_g_per_l"], "Priming sugar of", "strength")
    checks.between(ask.flavour_g_per_l, "flavour_g_per_l", *FILLS["flavour_g_per_l"], "Flavouring of", "strength")
    checks.between(ask.limit_bar, "limit_bar", *FILLS["limit_bar"], "A limit of", "pressure")
    checks.between(ask.spot_c, "spot_c", *FILLS["spot_c"], "A spot of", "temperature")
    checks.between(ask.ph_after, field or "ph_after", 1.8, 8, "A pH of")
    unrated = ask.kind in BOTTLES and BOTTLES[ask.kind].limit_bar == 0 and not ask.cold
    checks.refuse_if(
        unrated,
        "kind",
        "This one is not made for pressure: lid loose and straight into the fridge, or another bottle.",
    )
    return checks


def _check_volume(checks: Checks, source: FilledFrom, need: float, field: str, what: str) -> None:
    """Note more to be filled than there is, beyond what the eye errs by. [L]"""
    left = source.left_l
    checks.refuse_if(
        need > left + BY_EYE_SHARE * source.made_l,
        field,
        f"{what} {marked(need, 'volume')}; {marked(max(left, 0), 'volume')} are left.",
    )


def _check_closing(
    checks: Checks, session: Session, source: FilledFrom, ask: Filling, name: str, at: datetime, field: str
) -> None:
    """Note what may stand above pH 4.2 and is to be closed for fizz, unless measured, or decided in writing."""
    if source.infusion is not None:
        high = infusions.too_high_to_close(session, source.infusion, ask, at)
    else:
        high = harvests.too_high_to_close(session, source.brew, ask, at)
    if high is None or (ask.ph_after is None and len(ask.overruled.strip()) >= LEAST_WORDS):
        return
    instead = "take less of it, or lid loose into the fridge and drunk within three days."
    foretold = (
        f"With so much {name} nobody knows that it stays at or below pH 4.2 (about {high:.1f} by reckoning): measure the mixed "
        f"liquid, {instead}"
    )
    checks.refuse_if(
        True, field, foretold if ask.ph_after is None else f"At pH {high:.2f} it is not closed for fizz: {instead}"
    )


def _place_of(session: Session, ask: Filling, source: FilledFrom) -> Place:
    """Find where filled bottles go: the fridge, the place given, or beside their vessel."""
    beside = source.brew.vessel.place
    place = queries.get(session, Place, ask.place_id) if ask.place_id is not None else beside
    return fridge(session) if ask.cold and place.kind != PlaceKind.FRIDGE else place


def type_of(session: Session, kind: str, volume_ml: float, limit_bar: float | None = None) -> BottleType:
    """Find the household's kind of bottle, or write it down; one without a limit is the one that is owned. [mL, bar]"""
    values = {"kind": kind, "volume_ml": volume_ml} | ({} if limit_bar is None else {"limit_bar": limit_bar})
    query = select(BottleType).filter_by(**values).order_by(BottleType.owned.is_(None), BottleType.limit_bar, BottleType.id)
    found = session.scalars(query).first()
    if found is None:
        found = BottleType(**{"limit_bar": BOTTLES[kind].limit_bar, **values})
        flushed(session, found)
    return found


def _note_spot(session: Session, source: FilledFrom, ask: Filling, at: datetime) -> None:
    """Write down how warm it is where filled bottles go, if somebody looked."""
    place, celsius = harvests.spot_of(session, ask, source.brew.vessel.place)
    if celsius is not None:
        session.add(SpotReading(place_id=place.id, at=at, celsius=celsius))


def _write(session: Session, source: FilledFrom, group: Group, at: datetime) -> int:
    """Write bottles filled alike, and let the drink pass into them; gives the number of their filling."""
    ask = group.filling
    place = _place_of(session, ask, source)
    strained = source.infusion is not None
    row = Bottling(
        brew_id=source.brew.id,
        liquid=begin(session, LiquidKind.FILLING, at),
        at=at,
        flavour=tells_most(found) if (found := ask.made_of or source.in_it) else ask.flavour,
        flavour_g_per_l=1000 * room(ask.parts),
        sugar_g_per_l=ask.sugar_g_per_l,
        added_sugar_g_per_l=ask.added_sugar_g_per_l,
        added_ethanol_g_per_l=added_ethanol(ask.parts),
        form=AddedAs.JUICE if strained and not ask.parts else driving_form(ask.parts),
        pour_yeast=POURS[ask.pour],
        volumes=ask.volumes if source.volumes is None else source.volumes,
        ph_after=ask.ph_after,
        overruled=ask.overruled.strip()[:300],
        note=group.name.strip()[:300],
        start=list(source.start),
        vigour=source.vigour,
        flavour_id=group.flavour_id,
        infusion_id=source.infusion.id if source.infusion is not None else None,
        wish=group.wish,
        burps=group.burps,
    )
    number = flushed(session, row)
    bottles = [
        Bottle(
            bottling_id=number,
            type_id=box.type_id,
            headspace_fraction=box.headspace_fraction,
            tester=box.tester,
            state=BottleState.COLD if place.kind == PlaceKind.FRIDGE else BottleState.WARM,
        )
        for box in group.boxes
    ]
    session.add_all(bottles)
    session.flush()
    session.add_all(Standing(bottle_id=bottle.id, place_id=place.id, since=at) for bottle in bottles)
    full = sum(filled_l(queries.get(session, BottleType, b.type_id).volume_ml, b.headspace_fraction) for b in group.boxes)
    pour(session, at, full * (1 - room(ask.parts)), Way.BOTTLED, source.liquid, row.liquid)
    for one in ask.parts:
        put_in(session, row.liquid, at, Added.FLAVOUR, full * one.g_per_l / 1000, full * one.g_per_l, one.what.key)
    if ask.sugar_g_per_l:
        put_in(session, row.liquid, at, Added.SUGAR, 0.0, full * ask.sugar_g_per_l)
    return number


@action
def fill_bottles(session: Session, ask: FillBottles, at: datetime) -> Done:
    """Fill bottles of one kind: refused until starter is reserved or no next brew is said."""
    brew = _brew_ready(session, ask.brew_id, at)
    checks = _check_told(ask)
    checks.refuse_if(bool(starter_comes_first(brew)), "", STARTER_FIRST)
    checks.between(ask.count, "count", *FILLS["count"], "A count of")
    checks.between(ask.volume_ml, "volume_ml", *FILLS["volume_ml"], "A bottle of", "bottle")
    checks.done()
    source = _source(session, brew, None, at)
    need = ask.count * filled_l(ask.volume_ml, ask.headspace_fraction) * (1 - room(ask.parts))
    _check_volume(checks, source, need, "count", f"{ask.count} such bottles take")
    name = _name_of(ask)
    _check_closing(checks, session, source, ask, name, at, "ph_after")
    checks.done()
    kind = type_of(session, ask.kind, ask.volume_ml, ask.limit_bar)
    boxes = (Box(kind.id, ask.headspace_fraction),) * int(ask.count)
    _note_spot(session, source, ask, at)
    number = _write(session, source, Group(filling=ask, boxes=boxes, name=ask.note), at)
    return Done(f"{bottles_word(int(ask.count))} filled, {ask.note.strip() or name}.", {"bottling": number})


def _name_of(ask: Filling) -> str:
    parts = ask.parts
    return parts[0].what.name.lower() if parts else "plain" if ask.flavour == "plain" else "sugar only"


def _brew_ready(session: Session, brew_id: int, at: datetime) -> Brew:
    """Find a brew of which bottles may be filled now."""
    brew, checks = ready_to_harvest(session, brew_id, at), Checks()
    why = why_not_bottled(brew, at)
    checks.refuse_if(bool(why), "", why)
    checks.done()
    return brew


def why_not(session: Session, brew: Brew, at: datetime) -> str:
    """Return why no bottle of a brew may be filled now, in words; empty: it may."""
    try:
        _brew_ready(session, brew.id, at)
    except RefusedError as refused:
        return str(refused)
    return ""


def _jar_ready(session: Session, ask: FillPlan) -> tuple[Brew, Infusion]:
    """Find a jar that may be strained into bottles."""
    infusion = queries.get(session, Infusion, ask.infusion_id or 0)
    checks = Checks()
    checks.refuse_if(infusion.ended_at is not None, "", "This jar is empty already.")
    checks.refuse_apart(session, "", ("brew", infusion.brew_id))
    grave = any(spoilage.is_grave(look) for look in infusion.brew.looks)
    checks.refuse_if(grave, "", "Something grave was seen in the brew it was taken from: it is not bottled. Throw it out.")
    checks.done()
    return infusion.brew, infusion


@action
def fill_plan(session: Session, ask: FillPlan, at: datetime) -> Done:
    """Fill a whole plan at once: all of it, or nothing."""
    infusion: Infusion | None = None
    if ask.infusion_id is not None:
        brew, infusion = _jar_ready(session, ask)
    else:
        brew = _brew_ready(session, ask.brew_id, at)
    groups = [group for group in ask.groups if group.boxes]
    checks = Checks()
    checks.refuse_if(infusion is None and bool(starter_comes_first(brew)), "", STARTER_FIRST)
    count = sum(len(group.boxes) for group in groups)
    checks.refuse_if(count == 0, "", "No bottle is filled yet: choose bottles, or another flavour.")
    checks.refuse_if(count > MOST_BOTTLES, "", f"At most {MOST_BOTTLES} bottles at once.")
    checks.done()
    source = _source(session, brew, infusion, at)
    types = {box.type_id: queries.get(session, BottleType, box.type_id) for group in groups for box in group.boxes}
    need = 0.0
    for i, group in enumerate(groups):
        for box in group.boxes:
            found = replace(group.filling, kind=types[box.type_id].kind, headspace_fraction=box.headspace_fraction)
            checks.problems += [p for p in _check_told(found, f"ph-{i}").problems if p not in checks.problems]
            need += filled_l(types[box.type_id].volume_ml, box.headspace_fraction) * (1 - room(group.filling.parts))
        checks.refuse_if(group.burps not in BURPS, "", "Choose how often they are burped.")
        checks.refuse_if(group.wish not in WISHES, "", "Choose the fizz you wish for.")
    told_well = not checks.problems
    _check_volume(checks, source, need, "", f"{bottles_word(count)} take")
    for i, group in enumerate(groups if told_well else ()):
        kinds = {types[box.type_id].kind for box in group.boxes}
        hardest = max(kinds, key=lambda kind: BOTTLES[kind].limit_bar)
        filled = replace(group.filling, kind=hardest)
        _check_closing(checks, session, source, filled, group.name.lower(), at, f"ph-{i}")
    checks.done()
    _note_spot(session, source, groups[0].filling, at)
    numbers = [_write(session, source, group, at) for group in groups]
    _count_used(session, types)
    if infusion is not None:
        infusion.strained_at = infusion.strained_at or at
    said = ", ".join(f"{len(group.boxes)} {group.name.lower()}" for group in groups)
    return Done(f"{bottles_word(count)} filled: {said}.", {"bottling": numbers[0], "bottles": count})


@dataclass(frozen=True, slots=True, kw_only=True)
class FindBottles(Filling):
    """Bottles found that nobody wrote down when they were filled."""

    brew_id: int  #: Of which they most likely are.
    count: int
    volume_ml: float  #: Brimful. [mL]
    filled_at: datetime
    note: str = ""


@action
def find_bottles(session: Session, ask: FindBottles, at: datetime) -> Done:
    """Write down bottles found at the back of a cupboard: as filled then, and standing there since."""
    brew = queries.get(session, Brew, ask.brew_id)
    checks = _check_told(ask)
    checks.between(ask.count, "count", *FILLS["count"], "A count of")
    checks.between(ask.volume_ml, "volume_ml", *FILLS["volume_ml"], "A bottle of", "bottle")
    checks.refuse_if(ask.filled_at > at, "filled_at", "That lies in the future.")
    checks.refuse_if(ask.filled_at < brew.pitched_at, "filled_at", "That brew began later than that.")
    checks.refuse_if(brew.status == BrewStatus.DISCARDED, "brew", "That brew was thrown out: so are these. Towel, gloves, goggles.")
    checks.refuse_apart(session, "", ("brew", brew.id))
    checks.done()
    number = write_found(session, brew, ask)
    return Done(f"{bottles_word(int(ask.count))} found: look at what they may press before you touch them.", {"bottling": number})


def write_found(session: Session, brew: Brew, ask: FindBottles) -> int:
    """Write bottles as filled then, which were checked; gives the number of their filling."""
    kind = type_of(session, ask.kind, ask.volume_ml, ask.limit_bar)
    boxes = (Box(kind.id, ask.headspace_fraction),) * int(ask.count)
    source = _source(session, brew, None, ask.filled_at)
    number = _write(session, source, Group(filling=ask, boxes=boxes, name=ask.note or "Found"), ask.filled_at)
    _count_used(session, {kind.id: kind})
    return number


def _count_used(session: Session, types: dict[int, BottleType]) -> None:
    """Whoever filled more bottles than were counted owns more: the park follows."""
    for number, stands in park.counted_of(session, list(types.values())).items():
        kind = types[number]
        if kind.owned is not None and stands.filled > kind.owned:
            kind.owned = stands.filled
