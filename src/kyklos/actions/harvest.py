"""Harvest and cellar: reserve first, fill bottles, end the brew; chill, open, finish bottles."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.facts import BOTTLES, FLAVOURINGS
from ..core.safety import DISCARD, HOLD, shows_life
from ..core.saying import marked
from ..store import queries, values
from ..store.models import Bottle, BottleMove, Bottling, Brew, Disc, Place, StarterLot
from .base import Checks, Done, action, check_version, flushed

LOSS_SHARE = 0.08  #: Volumes are read by eye: so much over is let pass. [-]
FRIDGE_C = 4.0  #: [degC]


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
        verdict = values.verdict_of(brew, now)
        why = verdict.reasons[0].sentence if verdict.reasons else ""
        checks.refuse_if(
            verdict.word in {HOLD, DISCARD} or brew.status == "held", "", f"Not now: {verdict.word}. {why}"
        )
    checks.done()
    return brew


@action
def reserve_starter(session: Session, ask: ReserveStarter, at: datetime) -> Done:
    """Set starter aside, first of all."""
    brew, checks = _ready(session, ask.brew_id, at), Checks()
    checks.between(ask.litres, "litres", 0.02, 50, "Starter of", "volume")
    checks.refuse_if(
        ask.litres > values.volume_left_l(brew) + 0.005,
        "litres",
        f"Only {marked(values.volume_left_l(brew), 'volume')} are left in it.",
    )
    checks.between(ask.ph, "ph", 1.8, 5.0, "A starter's pH of")
    checks.done()
    fit = values.forecast_of(session, brew)
    day = values.days_between(brew.pitched_at, at)
    lot = StarterLot(
        culture_id=brew.culture_id,
        source_brew_id=brew.id,
        made_at=at,
        volume_l=ask.litres,
        left_l=ask.litres,
        ph=ask.ph,
        instrument=ask.instrument,
        kept_in=ask.kept_in,
        estimated_ph=round(fit.at(fit.ph, day)[1], 2),
    )
    brew.no_next_brew = False
    return Done(f"{marked(ask.litres, 'volume')} of {brew.culture.name} reserved.", {"lot": flushed(session, lot)})


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
class FillBottles:
    """Bottles filled alike."""

    brew_id: int
    kind: str
    count: int
    volume_ml: float  #: Brimful. [mL]
    headspace_fraction: float  #: [-]
    flavour: str = "plain"
    flavour_g_per_l: float = 0.0  #: Flavouring in the filled bottle. [g/L]
    sugar_g_per_l: float = 0.0  #: Priming. [g/L]
    note: str = ""
    place_id: int | None = None  #: Where they stand; the vessel's place unless told.
    limit_bar: float | None = None  #: The maker's figure, if known. [bar]
    cold: bool = False  #: Straight into the fridge.


def added_sugar(flavour: str, flavour_g_per_l: float, sugar_g_per_l: float) -> float:
    """Sum the sugar of priming and flavour. [g/L]"""
    return sugar_g_per_l + FLAVOURINGS[flavour].sugar / 100 * flavour_g_per_l


def _check_filling(brew: Brew, ask: FillBottles) -> None:
    checks = Checks()
    checks.refuse_if(
        not brew.reserved and not brew.no_next_brew,
        "",
        "First of all the starter: set it aside plain, or say that there is no next brew.",
    )
    checks.refuse_if(ask.kind not in BOTTLES, "kind", "Choose a kind of bottle.")
    checks.refuse_if(ask.flavour not in FLAVOURINGS, "flavour", "Choose a flavour from the list.")
    checks.between(ask.count, "count", 1, 60, "A count of")
    checks.between(ask.volume_ml, "volume_ml", 50, 5000, "A bottle of", "bottle")
    checks.between(ask.headspace_fraction, "headspace_cm", 0.005, 0.5, "A headspace share of")
    checks.between(ask.sugar_g_per_l, "sugar_g_per_l", 0, 25, "Priming sugar of", "strength")
    checks.between(ask.flavour_g_per_l, "flavour_g_per_l", 0, 500, "Flavouring of", "strength")
    checks.between(ask.limit_bar, "limit_bar", 0.5, 15, "A limit of (bar)")
    pressure = ask.kind in BOTTLES and BOTTLES[ask.kind].limit_bar == 0 and not ask.cold
    checks.refuse_if(
        pressure,
        "kind",
        "This one is not made for pressure: lid loose and straight into the fridge, or another bottle.",
    )
    checks.done()
    need = ask.count * ask.volume_ml / 1000 * (1 - ask.headspace_fraction) / (1 + ask.flavour_g_per_l / 1000)
    left = values.volume_left_l(brew)
    checks.refuse_if(
        need > left + LOSS_SHARE * brew.final_l,
        "count",
        f"{ask.count} such bottles take {marked(need, 'volume')}; {marked(max(left, 0), 'volume')} are left.",
    )
    checks.done()


@action
def fill_bottles(session: Session, ask: FillBottles, at: datetime) -> Done:
    """Fill bottles: refused until starter is reserved or no next brew is said."""
    brew = _ready(session, ask.brew_id, at)
    _check_filling(brew, ask)
    fit = values.forecast_of(session, brew)
    place = queries.get(session, Place, ask.place_id) if ask.place_id is not None else brew.vessel.place
    group = Bottling(
        brew_id=brew.id,
        at=at,
        flavour=ask.flavour,
        flavour_g_per_l=ask.flavour_g_per_l,
        sugar_g_per_l=ask.sugar_g_per_l,
        added_sugar_g_per_l=added_sugar(ask.flavour, ask.flavour_g_per_l, ask.sugar_g_per_l),
        note=ask.note.strip()[:300],
        start=[round(float(v), 6) for v in fit.state_at(values.days_between(brew.pitched_at, at))],
        vigour=round(fit.posterior.yeast_vigour, 4),
        celsius=FRIDGE_C if ask.cold else place.celsius,
        place_id=place.id,
    )
    number = flushed(session, group)
    limit_bar = BOTTLES[ask.kind].limit_bar if ask.limit_bar is None else ask.limit_bar
    session.add_all(
        Bottle(
            bottling_id=number,
            kind=ask.kind,
            volume_ml=ask.volume_ml,
            limit_bar=limit_bar,
            headspace_fraction=ask.headspace_fraction,
            state="cold" if ask.cold else "warm",
        )
        for _ in range(int(ask.count))
    )
    name = FLAVOURINGS[ask.flavour].name.lower()
    return Done(f"{int(ask.count)} bottles filled, {ask.note.strip() or name}.", {"bottling": number})


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
    brew.status, brew.ended_at = "harvested", at
    for guest in brew.guests:
        guest.until = guest.until or at
    made = {}
    facts = values.facts_of(brew, at)
    if ask.keep_disc and shows_life(facts, ta_rise_g_per_l=1.0):
        disc = Disc(
            name=f"{brew.culture.name}, disc {len(brew.culture.discs) + 1}",
            culture_id=brew.culture_id,
            born_brew_id=brew.id,
            diameter_cm=brew.vessel.diameter_cm,
        )
        made["disc"] = flushed(session, disc)
    return Done(f"{brew.vessel.name} is empty and free.", made)


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveBottles:
    """Bottles put into the cold, or back into the warm."""

    bottle_ids: tuple[int, ...]
    celsius: float = FRIDGE_C  #: [degC]


def _present(session: Session, numbers: tuple[int, ...]) -> list[Bottle]:
    bottles, checks = [queries.get(session, Bottle, number) for number in numbers], Checks()
    checks.refuse_if(not bottles, "", "Choose at least one bottle.")
    checks.refuse_if(any(b.state == "gone" for b in bottles), "", "One of these bottles is gone already.")
    checks.done()
    return bottles


def _move(session: Session, ask: MoveBottles, at: datetime, state: str) -> list[Bottle]:
    bottles = _present(session, ask.bottle_ids)
    for bottle in bottles:
        bottle.state = state
        session.add(BottleMove(bottle_id=bottle.id, at=at, celsius=ask.celsius))
    return bottles


@action
def chill_bottles(session: Session, ask: MoveBottles, at: datetime) -> Done:
    """Put bottles into the cold."""
    return Done(f"{len(_move(session, ask, at, 'cold'))} into the cold.")


@action
def warm_bottles(session: Session, ask: MoveBottles, at: datetime) -> Done:
    """Put bottles that did not fizz back into the warm."""
    bottles, checks = _present(session, ask.bottle_ids), Checks()
    checks.refuse_if(any(b.limit_bar == 0 for b in bottles), "", "This one is not made for pressure: it stays cold.")
    checks.done()
    return Done(f"{len(_move(session, ask, at, 'warm'))} back into the warm.")


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenBottle:
    """A bottle opened, and how it was."""

    bottle_id: int
    hiss: int  #: 0 (silent) to 4 (gushed)
    taste: str = ""


@action
def open_bottle(session: Session, ask: OpenBottle, at: datetime) -> Done:
    """Open a bottle: it is gone, its hiss and taste are kept."""
    bottle, checks = _present(session, (ask.bottle_id,))[0], Checks()
    checks.refuse_if(not 0 <= ask.hiss <= 4, "hiss", "Choose how it hissed, from silent to gushed.")
    checks.done()
    bottle.state, bottle.gone_at, bottle.hiss, bottle.taste = "gone", at, ask.hiss, ask.taste.strip()[:300]
    return Done("Opened. Enjoy it.")


@dataclass(frozen=True, slots=True, kw_only=True)
class FinishBottles:
    """Bottles that left unopened here: given away, or lost."""

    bottle_ids: tuple[int, ...]


@action
def finish_bottles(session: Session, ask: FinishBottles, at: datetime) -> Done:
    """Mark bottles as gone."""
    bottles = _present(session, ask.bottle_ids)
    for bottle in bottles:
        bottle.state, bottle.gone_at = "gone", at
    return Done(f"{len(bottles)} gone.")
