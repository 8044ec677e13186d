"""Keeping starter and hotel: the hotel tended, starter drawn from it, lots measured, poured together, thrown out."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base import marked
from ...core.base.kinds import StarterKind, VesselKind
from ...core.cultures.hotel import USUAL_PH, spare_l
from ...core.liquid import Way, acids
from ...core.liquid.ageing import KEPT_IN
from ...core.liquid.liquid import blend, mature_from_ph
from ...core.liquid.pouring import LEAST_L, Added, LiquidKind
from ...reckon.cultures.hotels import hotel_of
from ...store.read import queries
from ...store.read.queries import MissingError
from ...store.records import Brew, Culture, HotelFeed, KeptLiquid, StarterLot, Vessel
from ..base import Checks, Done, action, flushed
from ..pouring import begin, left_l, lot_in, pour, put_in

FEEDS = {"sweet tea": "Sweet tea", "brew": "A splash of brew", "nothing": "Nothing: only looked after"}
LEAST_EVAPORATED_L = 0.0005  #: Less is not worth a record. [L]


def _hotel(session: Session, number: int) -> Vessel:
    hotel, checks = queries.get(session, Vessel, number), Checks()
    checks.refuse_if(hotel.kind != VesselKind.HOTEL, "", f"{hotel.name} is no hotel.")
    checks.done()
    return hotel


def _liquid_of(hotel: Vessel) -> KeptLiquid:
    """Return what is in a hotel; every hotel has a liquid since it was added."""
    if hotel.liquid is None:
        raise MissingError(f"{hotel.name} holds nothing.")
    return hotel.liquid


def evaporate(session: Session, hotel: Vessel, at: datetime) -> None:
    """Write down what a hotel lost through its cloth since somebody last looked after it."""
    home = hotel_of(session, hotel, at)
    if home.reckoned_l is not None and home.state.level_now_l is not None:
        lost = home.reckoned_l - home.state.level_now_l
        if lost > LEAST_EVAPORATED_L:
            pour(session, at, lost, Way.EVAPORATED, _liquid_of(hotel), None)


def count(session: Session, liquid: KeptLiquid, litres: float, at: datetime) -> None:
    """Take somebody's word for how much there is: the difference is written down. [L]"""
    more = litres - left_l(session, liquid)
    ends = (None, liquid) if more >= 0 else (liquid, None)
    pour(session, at, abs(more), Way.COUNTED, *ends)


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedHotel:
    """What the hotel was given, and how it stood after."""

    vessel_id: int
    litres: float = 0.0  #: [L]
    of: str = "sweet tea"  #: A key of FEEDS
    brew_id: int | None = None
    ph: float | None = None  #: Of its liquid, measured then. [pH]
    level_l: float | None = None  #: Liquid in it after, discs aside. [L]
    fresh_cover: bool = False
    note: str = ""


@action
def feed_hotel(session: Session, ask: FeedHotel, at: datetime) -> Done:
    """Feed the hotel, measure it, renew its cover; its rhythm starts anew with each feed."""
    return tend(session, ask, at)


def tend(session: Session, ask: FeedHotel, at: datetime) -> Done:
    """Feed or measure the hotel, within another action."""
    hotel, checks = _hotel(session, ask.vessel_id), Checks()
    checks.refuse_if(ask.of not in FEEDS, "of", "Sweet tea, a splash of brew, or nothing.")
    if ask.of == "nothing":
        known = ask.ph is not None or ask.level_l is not None or ask.fresh_cover
        checks.refuse_if(not known, "of", "Then tell its pH, its level or its cover.")
    else:
        checks.between(ask.litres, "litres", 0.01, hotel.nominal_l, "A feed of", "volume")
    poured = ask.of != "nothing"
    checks.refuse_apart(
        session,
        "of",
        ("hotel", hotel.id) if poured else None,
        ("brew", ask.brew_id) if ask.of == "brew" and ask.brew_id is not None else None,
    )
    checks.between(ask.ph, "ph", 1.8, 6, "A hotel's pH of")
    checks.between(ask.level_l, "level_l", 0, hotel.nominal_l, "A level of", "volume")
    checks.done()
    brew = queries.find(session, Brew, ask.brew_id) if ask.of == "brew" else None
    evaporate(session, hotel, at)
    row = HotelFeed(vessel_id=hotel.id, at=at, ph=ask.ph, fresh_cover=ask.fresh_cover, note=ask.note.strip()[:300])
    if brew is not None:
        row.transfer = pour(session, at, ask.litres, Way.FED, brew.liquid, _liquid_of(hotel))
    elif ask.of != "nothing":
        row.addition = put_in(session, _liquid_of(hotel), at, Added.SWEET_TEA, ask.litres)
    if ask.level_l is not None:
        count(session, _liquid_of(hotel), ask.level_l, at)
    says = f"{hotel.name} was fed." if ask.of != "nothing" else f"{hotel.name}: noted."
    return Done(says, {"feed": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawStarter:
    """Liquid drawn from the hotel as a starter."""

    vessel_id: int
    culture_id: int
    litres: float  #: [L]
    ph: float | None = None  #: [pH]
    instrument: str = "meter"


@action
def draw_starter(session: Session, ask: DrawStarter, at: datetime) -> Done:
    """Draw starter from the hotel: very sour, less yeast than a fresh brew's. The discs stay covered."""
    hotel, checks = _hotel(session, ask.vessel_id), Checks()
    culture = queries.get(session, Culture, ask.culture_id)
    home = hotel_of(session, hotel, at)
    lines = {stay.disc.culture_id for stay in home.stays}
    checks.refuse_if(culture.id not in lines, "culture", f"No disc of {culture.name} lives in {hotel.name}.")
    checks.between(ask.litres, "litres", 0.02, 50, "Starter of", "volume")
    checks.refuse_apart(session, "litres", ("hotel", hotel.id))
    spare = spare_l(home.level_l, home.discs_l)
    checks.refuse_if(
        ask.litres > spare + LEAST_L,
        "litres",
        f"That would leave the discs dry: up to {marked(spare, 'volume')} can be spared.",
    )
    checks.between(ask.ph, "ph", 1.8, 5.0, "A starter's pH of")
    checks.done()
    if home.state.level_now_l is None:
        count(session, _liquid_of(hotel), home.level_l, at)
    evaporate(session, hotel, at)
    session.add(HotelFeed(vessel_id=hotel.id, at=at, ph=ask.ph, note="drawn"))
    lot = StarterLot(
        culture_id=culture.id,
        kind=StarterKind.HOTEL,
        made_at=at,
        ph=ask.ph,
        instrument=ask.instrument,
        estimated_ph=home.ph or USUAL_PH,
    )
    number = lot_in(session, lot, at, ask.litres, Way.DRAWN, _liquid_of(hotel))
    return Done(f"{marked(ask.litres, 'volume')} drawn from {hotel.name}.", {"lot": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class TellStarter:
    """What is known of a lot: where it stands, how sour it is, whether anything is wrong with it."""

    lot_id: int
    kept_in: str = "shelf"
    ph: float | None = None  #: [pH]
    instrument: str = "meter"
    base_ml: float | None = None  #: Titrated: base used. [mL]
    base_normality: float | None = None  #: [eq/L]
    sample_ml: float | None = None  #: [mL]
    doubt: str = ""


@action
def tell_starter(session: Session, ask: TellStarter, at: datetime) -> Done:
    """Note where a lot stands and how it is."""
    lot, checks = queries.get(session, StarterLot, ask.lot_id), Checks()
    checks.refuse_if(ask.kept_in not in KEPT_IN, "kept_in", "On a shelf, or in the fridge.")
    checks.between(ask.ph, "ph", 1.8, 5.5, "A starter's pH of")
    titration = (ask.base_ml, ask.base_normality, ask.sample_ml)
    whole = all(value is not None for value in titration)
    checks.refuse_if(
        any(v is not None for v in titration) and not whole, "base_ml", "A titration needs all three: base, its strength, the sample."
    )  # fmt: skip
    checks.done()
    if ask.ph is not None:
        lot.ph, lot.instrument, lot.read_at = ask.ph, ask.instrument, at
    if whole:
        ta = acids.titration(ask.base_ml or 0.0, ask.base_normality or 0.0, ask.sample_ml or 0.0)
        checks.between(ta, "base_ml", 0.5, 60, "An acidity of", "acidity")
        checks.done()
        lot.ta_g_per_l, lot.read_at = round(ta, 3), at
    lot.kept_in, lot.doubt = ask.kept_in, ask.doubt.strip()[:200]
    return Done(f"{lot.culture.name}, {marked(lot.left_l, 'volume')}: noted.")


@dataclass(frozen=True, slots=True, kw_only=True)
class MergeStarters:
    """Lots of one line poured together."""

    lot_ids: tuple[int, ...]


@action
def merge_starters(session: Session, ask: MergeStarters, at: datetime) -> Done:
    """Pour lots together: a new lot, as old as its oldest, that remembers what went in."""
    lots = [queries.get(session, StarterLot, number) for number in dict.fromkeys(ask.lot_ids)]
    checks = Checks()
    checks.refuse_if(len(lots) < 2, "lots", "Choose two lots or more.")
    checks.refuse_if(len({lot.culture_id for lot in lots}) > 1, "lots", "Lots of one line only: lines would mix.")
    checks.refuse_if(any(lot.left_l <= LEAST_L for lot in lots), "lots", "One of them is empty.")
    checks.refuse_apart(session, "lots", *(("lot", lot.id) for lot in lots))
    checks.refuse_if(any(lot.doubt for lot in lots), "lots", "One of them is in doubt: it would spoil the others.")
    checks.done()
    total = sum(lot.left_l for lot in lots)
    kinds = {lot.kind for lot in lots}
    acid = [(lot.likely_ph, lot.left_l) for lot in lots]
    known = [(ph, litres) for ph, litres in acid if ph is not None]
    mean = blend([mature_from_ph(ph, litres) for ph, litres in known]).ph if len(known) == len(lots) else None
    new = StarterLot(
        culture_id=lots[0].culture_id,
        made_at=at,
        ripe_since=min(lot.ages_since for lot in lots),
        kind=kinds.pop() if len(kinds) == 1 else "fresh",
        liquid=begin(session, LiquidKind.STARTER, at),
        ph=None,
        instrument="estimate",
        kept_in=lots[0].kept_in,
        estimated_ph=None if mean is None else round(mean, 2),
    )
    number = flushed(session, new)
    for lot in lots:
        pour(session, at, lot.left_l, Way.MERGED, lot.liquid, new.liquid)
    return Done(f"{marked(total, 'volume')} of {lots[0].culture.name} in one.", {"lot": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class LoseStarter:
    """Liquid thrown out or spilt."""

    lot_id: int
    litres: float | None = None  #: All that is left, unless given. [L]


@action
def lose_starter(session: Session, ask: LoseStarter, at: datetime) -> Done:
    """Note starter that was spilt or thrown out: what was made is what was used, left and lost."""
    lot, checks = queries.get(session, StarterLot, ask.lot_id), Checks()
    litres = lot.left_l if ask.litres is None else ask.litres
    checks.refuse_if(not 0 < litres <= lot.left_l + 1e-9, "litres", "There is not so much left of it.")
    checks.done()
    pour(session, at, litres, Way.LOST, lot.liquid, None)
    return Done(f"{marked(litres, 'volume')} of {lot.culture.name} are gone.")
