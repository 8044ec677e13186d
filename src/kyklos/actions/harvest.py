"""Harvest and cellar: reserve first, fill bottles, end the brew; chill, open, finish bottles."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.bottle import brew_in_bottle_l, filled_l, with_flavour
from ..core.bottle_advice import FILLS
from ..core.facts import BOTTLES, FLAVOURINGS, limit
from ..core.kinds import NOT_DRUNK, BottleState, BrewStatus
from ..core.overrule import LEAST_WORDS
from ..core.pouring import Added, LiquidKind, Way
from ..core.safety import DISCARD, HOLD, may_bottle, shows_life, too_high
from ..core.saying import bottles_word, marked
from ..core.standing import PlaceKind
from ..reckon import forecasting, harvests, judging
from ..reckon.harvests import Filling
from ..reckon.pressure import state_at_filling
from ..store import queries
from ..store.models import Bottle, BottleType, Bottling, Brew, Disc, Place, Standing, StarterLot
from ..store.read.moments import days_between
from .base import Checks, Done, action, check_version, flushed
from .pouring import begin, empty, lot_in, pour, put_in
from .standing import fridge

LOSS_SHARE = 0.08  #: Volumes are read by eye: so much over is let pass. [-]


@dataclass(frozen=True, slots=True, kw_only=True)
class ReserveStarter:
    """Plain liquid kept for the next brew."""

    brew_id: int
    litres: float  #: [L]
    ph: float | None = None  #: [pH]
    instrument: str = "meter"
    kept_in: str = "shelf"


def _ready(session: Session, brew_id: int, now: datetime) -> Brew:
    """Find a living brew that may be harvested."""
    brew, checks = queries.get(session, Brew, brew_id), Checks()
    checks.refuse_if(not brew.alive, "", f"This brew ended already ({brew.status}).")
    if brew.alive:
        verdict = judging.verdict_of(brew, now)
        why = verdict.reasons[0].sentence if verdict.reasons else ""
        checks.refuse_if(
            verdict.word in {HOLD, DISCARD} or brew.status == BrewStatus.HELD, "", f"Not now: {verdict.word}. {why}"
        )
    checks.refuse_apart(session, "", ("brew", brew.id))
    checks.done()
    return brew


def why_not_bottled(brew: Brew, now: datetime) -> str:
    """Return why nothing of a brew may be bottled or given away now; empty: it may."""
    facts = judging.facts_of(brew, now)
    if may_bottle(judging.by_older_end(brew, facts), judging.verdict_of(brew, now, facts)):
        return ""
    if facts.kind in NOT_DRUNK:
        return "This one is not for drinking: nothing of it is bottled or given away."
    if too_high(facts):
        return f"Its last pH is above {limit('safe_ph'):g}, or cannot be told from it: measure by a calibrated meter first."
    return "Below pH 2.5 it is not for drinking as it is: strong starter, or vinegar."


@action
def reserve_starter(session: Session, ask: ReserveStarter, at: datetime) -> Done:
    """Set starter aside, first of all."""
    return reserve(session, ask, at)


def reserve(session: Session, ask: ReserveStarter, at: datetime) -> Done:
    """Set starter aside, within another action."""
    brew, checks = _ready(session, ask.brew_id, at), Checks()
    checks.between(ask.litres, "litres", 0.02, 50, "Starter of", "volume")
    checks.refuse_if(
        ask.litres > brew.left_l + 0.005,
        "litres",
        f"Only {marked(brew.left_l, 'volume')} are left in it.",
    )
    checks.between(ask.ph, "ph", 1.8, 5.0, "A starter's pH of")
    checks.done()
    measured = (ask.ph, ask.instrument) if ask.ph is not None else harvests.measured_ph(brew, at)
    lot = StarterLot(
        culture_id=brew.culture_id,
        made_at=at,
        ph=measured[0] if measured is not None else None,
        instrument=measured[1] if measured is not None else ask.instrument,
        kept_in=ask.kept_in,
        estimated_ph=harvests.estimated_ph(session, brew, at),
    )
    brew.no_next_brew = False
    number = lot_in(session, lot, at, ask.litres, Way.RESERVED, brew.liquid)
    return Done(f"{marked(ask.litres, 'volume')} of {brew.culture.name} reserved.", {"lot": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class SayNoNextBrew:
    """There will be no next brew from this one."""

    brew_id: int


@action
def say_no_next_brew(session: Session, ask: SayNoNextBrew, at: datetime) -> Done:
    """Record that no starter is wanted from this brew."""
    brew = _ready(session, ask.brew_id, at)
    brew.no_next_brew = True
    return Done("No next brew from this one: nothing reserved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class FillBottles(Filling):
    """Bottles filled alike."""

    brew_id: int
    count: int
    volume_ml: float  #: Brimful. [mL]
    note: str = ""


def _check_filling(brew: Brew, ask: FillBottles) -> None:
    checks = Checks()
    checks.refuse_if(
        not brew.reserved and not brew.no_next_brew,
        "",
        "First of all the starter: set it aside plain, or say that there is no next brew.",
    )
    checks.refuse_if(ask.kind not in BOTTLES, "kind", "Choose a kind of bottle.")
    checks.refuse_if(ask.flavour not in FLAVOURINGS, "flavour", "Choose a flavour from the list.")
    checks.between(ask.count, "count", *FILLS["count"], "A count of")
    checks.between(ask.volume_ml, "volume_ml", *FILLS["volume_ml"], "A bottle of", "bottle")
    checks.between(ask.headspace_fraction, "headspace_cm", *FILLS["headspace_fraction"], "A headspace share of")
    checks.between(ask.sugar_g_per_l, "sugar_g_per_l", *FILLS["sugar_g_per_l"], "Priming sugar of", "strength")
    checks.between(ask.flavour_g_per_l, "flavour_g_per_l", *FILLS["flavour_g_per_l"], "Flavouring of", "strength")
    checks.between(ask.limit_bar, "limit_bar", *FILLS["limit_bar"], "A limit of", "pressure")
    checks.between(ask.ph_after, "ph_after", 1.8, 8, "A pH of")
    pressure = ask.kind in BOTTLES and BOTTLES[ask.kind].limit_bar == 0 and not ask.cold
    checks.refuse_if(
        pressure,
        "kind",
        "This one is not made for pressure: lid loose and straight into the fridge, or another bottle.",
    )
    checks.done()
    need = ask.count * brew_in_bottle_l(ask.volume_ml, ask.headspace_fraction, ask.flavour_g_per_l)
    left = brew.left_l
    checks.refuse_if(
        need > left + LOSS_SHARE * brew.started_l,
        "count",
        f"{ask.count} such bottles take {marked(need, 'volume')}; {marked(max(left, 0), 'volume')} are left.",
    )
    checks.done()


def _check_closing(session: Session, brew: Brew, ask: FillBottles, at: datetime) -> None:
    """Refuse to close for fizz what its flavouring may lift above pH 4.2, unless measured, or decided in writing."""
    high = harvests.too_high_to_close(session, brew, ask, at)
    if high is None or (ask.ph_after is None and len(ask.overruled.strip()) >= LEAST_WORDS):
        return
    instead = "take less of it, or lid loose into the fridge and drunk within three days."
    name = FLAVOURINGS[ask.flavour].name.lower()
    foretold = f"With so much {name} it may stand at pH {high:.1f}, too near 4.2 to close for fizz: measure the mixed liquid, {instead}"
    checks = Checks()
    checks.refuse_if(
        True, "ph_after", foretold if ask.ph_after is None else f"At pH {high:.2f} it is not closed for fizz: {instead}"
    )
    checks.done()


def _place_of(session: Session, ask: FillBottles, brew: Brew) -> Place:
    """Find where filled bottles go: the fridge, the place told, or beside their vessel."""
    told = queries.get(session, Place, ask.place_id) if ask.place_id is not None else brew.vessel.place
    return fridge(session) if ask.cold and told.kind != PlaceKind.FRIDGE else told


def _type_of(session: Session, ask: FillBottles) -> BottleType:
    """Find the household's kind of bottle, or write it down."""
    limit_bar = BOTTLES[ask.kind].limit_bar if ask.limit_bar is None else ask.limit_bar
    told = {"kind": ask.kind, "volume_ml": ask.volume_ml, "limit_bar": limit_bar}
    found = session.scalars(select(BottleType).filter_by(**told)).first()
    if found is None:
        found = BottleType(**told)
        flushed(session, found)
    return found


def _fill(session: Session, brew: Brew, group: Bottling, ask: FillBottles, at: datetime) -> None:
    """Let the brew pass into its bottles, and flavour and sugar with it."""
    count = int(ask.count)
    full = count * filled_l(ask.volume_ml, ask.headspace_fraction)
    plain = count * brew_in_bottle_l(ask.volume_ml, ask.headspace_fraction, ask.flavour_g_per_l)
    pour(session, at, plain, Way.BOTTLED, brew.liquid, group.liquid)
    if ask.flavour_g_per_l:
        put_in(session, group.liquid, at, Added.FLAVOUR, full - plain, full * ask.flavour_g_per_l, ask.flavour)
    if ask.sugar_g_per_l:
        put_in(session, group.liquid, at, Added.SUGAR, 0.0, full * ask.sugar_g_per_l)


@action
def fill_bottles(session: Session, ask: FillBottles, at: datetime) -> Done:
    """Fill bottles: refused until starter is reserved or no next brew is said."""
    brew, checks = _ready(session, ask.brew_id, at), Checks()
    why = why_not_bottled(brew, at)
    checks.refuse_if(bool(why), "", why)
    checks.done()
    _check_filling(brew, ask)
    _check_closing(session, brew, ask, at)
    fit = forecasting.forecast_of(session, brew)
    place = _place_of(session, ask, brew)
    start, vigour = state_at_filling(fit, days_between(brew.pitched_at, at))
    group = Bottling(
        brew_id=brew.id,
        liquid=begin(session, LiquidKind.FILLING, at),
        at=at,
        flavour=ask.flavour,
        flavour_g_per_l=ask.flavour_g_per_l,
        sugar_g_per_l=ask.sugar_g_per_l,
        added_sugar_g_per_l=with_flavour(ask.sugar_g_per_l, ask.flavour, ask.flavour_g_per_l),
        ph_after=ask.ph_after,
        overruled=ask.overruled.strip()[:300],
        note=ask.note.strip()[:300],
        start=list(start),
        vigour=vigour,
    )
    number = flushed(session, group)
    kind = _type_of(session, ask)
    bottles = [
        Bottle(
            bottling_id=number,
            type_id=kind.id,
            headspace_fraction=ask.headspace_fraction,
            state=BottleState.COLD if place.kind == PlaceKind.FRIDGE else BottleState.WARM,
        )
        for _ in range(int(ask.count))
    ]
    session.add_all(bottles)
    session.flush()
    session.add_all(Standing(bottle_id=bottle.id, place_id=place.id, since=at) for bottle in bottles)
    _fill(session, brew, group, ask, at)
    name = FLAVOURINGS[ask.flavour].name.lower()
    return Done(f"{bottles_word(int(ask.count))} filled, {ask.note.strip() or name}.", {"bottling": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class EndBrew:
    """The vessel is empty."""

    brew_id: int
    keep_disc: bool = True
    version: int | None = None


@action
def end_brew(session: Session, ask: EndBrew, at: datetime) -> Done:
    """End a harvest: the vessel is free; the new disc is kept if wanted."""
    brew, checks = _ready(session, ask.brew_id, at), Checks()
    check_version(ask.version, brew.version, brew.vessel.name)
    checks.refuse_if(
        not brew.reserved and not brew.no_next_brew,
        "",
        "First of all the starter: set it aside plain, or say that there is no next brew.",
    )
    checks.done()
    made = ended(session, brew, at, ask.keep_disc)
    return Done(f"{brew.vessel.name} is empty and free.", made)


def ended(session: Session, brew: Brew, at: datetime, keep_disc: bool) -> dict[str, int]:
    """End a brew as harvested: what is left goes, guests leave, a new disc is kept if wanted; gives what was made."""
    brew.status, brew.ended_at = BrewStatus.HARVESTED, at
    empty(session, brew.liquid, at, Way.LEFT_OVER)
    for guest in brew.guests:
        guest.until = guest.until or at
    made: dict[str, int] = {}
    facts = judging.facts_of(brew, at)
    if keep_disc and shows_life(facts, ta_rise_g_per_l=1.0):
        disc = Disc(
            name=f"{brew.culture.name}, disc {len(brew.culture.discs) + 1}",
            culture_id=brew.culture_id,
            born_brew_id=brew.id,
            diameter_cm=brew.vessel.diameter_cm,
        )
        made["disc"] = flushed(session, disc)
    return made
