"""Lives of things: discs parted, measured, housed and ended; starters lost; the hotel fed; gifts."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.lineage import ENDS
from ..store import queries
from ..store.models import Brew, Culture, Disc, Gift, HotelFeed, HotelStay, StarterLot, Vessel
from .base import Checks, Done, action, flushed
from .pitching import leave_hotel

KEPT_IN = {"shelf": "On a shelf", "fridge": "In the fridge"}


def _disc(session: Session, number: int) -> Disc:
    """Find a disc that is still here."""
    disc, checks = queries.get(session, Disc, number), Checks()
    checks.refuse_if(disc.ended_at is not None, "", f"{disc.name} is not here any more.")
    checks.done()
    return disc


@dataclass(frozen=True, slots=True, kw_only=True)
class PartDisc:
    """A disc taken apart: the newer part is a disc of its own."""

    disc_id: int
    name: str = ""
    thickness_mm: float | None = None  #: Of the new one. [mm]


@action
def part_disc(session: Session, ask: PartDisc, at: datetime) -> Done:
    """Part a disc; both go on, the new one as its child."""
    old, checks = _disc(session, ask.disc_id), Checks()
    checks.between(ask.thickness_mm, "thickness_mm", 0.5, 80, "A disc of (mm)")
    checks.done()
    name = ask.name.strip()[:60] or f"{old.culture.name}, disc {len(old.culture.discs) + 1}"
    new = Disc(
        name=name,
        culture_id=old.culture_id,
        parent_id=old.id,
        made_at=at,
        thickness_mm=ask.thickness_mm,
        diameter_cm=old.diameter_cm,
    )
    return Done(f"{name} was parted from {old.name}.", {"disc": flushed(session, new)})


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasureDisc:
    """How thick and wide a disc is now, and what it is called."""

    disc_id: int
    name: str
    thickness_mm: float | None = None  #: [mm]
    diameter_cm: float | None = None  #: [cm]


@action
def measure_disc(session: Session, ask: MeasureDisc, at: datetime) -> Done:
    """Name a disc, and note its size."""
    disc, checks = _disc(session, ask.disc_id), Checks()
    checks.refuse_if(not 1 <= len(ask.name.strip()) <= 60, "name", "Give it a name of up to 60 letters.")
    checks.between(ask.thickness_mm, "thickness_mm", 0.5, 80, "A disc of (mm)")
    checks.between(ask.diameter_cm, "diameter_cm", 2, 80, "A disc of (cm)")
    checks.done()
    disc.name, disc.thickness_mm, disc.diameter_cm = ask.name.strip(), ask.thickness_mm, ask.diameter_cm
    return Done(f"{disc.name}: noted.")


@dataclass(frozen=True, slots=True, kw_only=True)
class HouseDisc:
    """A disc put into the hotel, or taken out of it."""

    disc_id: int
    vessel_id: int | None  #: None: out of it.


@action
def house_disc(session: Session, ask: HouseDisc, at: datetime) -> Done:
    """Put a disc into the hotel, where it lives in mature liquid; or take it out."""
    disc, checks = _disc(session, ask.disc_id), Checks()
    checks.refuse_if(disc.id in queries.in_use(session)[1], "", f"{disc.name} lies in a brew: harvest that first.")
    checks.done()
    left = leave_hotel(disc, at)
    if ask.vessel_id is None:
        checks.refuse_if(not left, "", f"{disc.name} lives in no hotel.")
        checks.done()
        return Done(f"{disc.name} left the hotel.")
    hotel = queries.get(session, Vessel, ask.vessel_id)
    checks.refuse_if(hotel.kind != "hotel", "vessel", f"{hotel.name} is no hotel.")
    checks.done()
    made = {"stay": flushed(session, HotelStay(disc_id=disc.id, vessel_id=hotel.id, since=at))}
    return Done(f"{disc.name} lives in {hotel.name} now.", made)


@dataclass(frozen=True, slots=True, kw_only=True)
class EndDisc:
    """A disc that goes."""

    disc_id: int
    ended_as: str
    note: str = ""


@action
def end_disc(session: Session, ask: EndDisc, at: datetime) -> Done:
    """Let a disc go, and keep what became of it."""
    disc, checks = _disc(session, ask.disc_id), Checks()
    checks.refuse_if(ask.ended_as not in ENDS, "ended_as", "Choose what became of it.")
    checks.refuse_if(disc.id in queries.in_use(session)[1], "", f"{disc.name} lies in a brew.")
    checks.refuse_if(
        ask.ended_as == "discarded" and not ask.note.strip(), "note", "Say in a word why: it helps next time."
    )
    checks.done()
    leave_hotel(disc, at)
    disc.ended_at, disc.ended_as, disc.ended_note = at, ask.ended_as, ask.note.strip()[:300]
    return Done(f"{disc.name}: {ENDS[ask.ended_as].lower()}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedHotel:
    """What the hotel was given."""

    vessel_id: int
    litres: float  #: [L]
    of: str = "sweet tea"  #: or brew
    brew_id: int | None = None
    ph: float | None = None  #: Of its liquid, measured then. [pH]


@action
def feed_hotel(session: Session, ask: FeedHotel, at: datetime) -> Done:
    """Feed the hotel; its rhythm starts anew."""
    hotel, checks = queries.get(session, Vessel, ask.vessel_id), Checks()
    checks.refuse_if(hotel.kind != "hotel", "", f"{hotel.name} is no hotel.")
    checks.refuse_if(ask.of not in {"sweet tea", "brew"}, "of", "Sweet tea, or a splash of brew.")
    checks.between(ask.litres, "litres", 0.01, hotel.nominal_l, "A feed of (L)")
    checks.between(ask.ph, "ph", 1.8, 6, "A hotel's pH of")
    checks.done()
    brew = queries.find(session, Brew, ask.brew_id)
    row = HotelFeed(
        vessel_id=hotel.id,
        at=at,
        litres=ask.litres,
        of=ask.of,
        brew_id=brew.id if brew is not None else None,
        ph=ask.ph,
    )
    return Done(f"{hotel.name} was fed.", {"feed": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class GiveAway:
    """Something living for someone: a disc, liquid, or both."""

    culture_id: int
    disc_id: int | None = None
    lot_id: int | None = None
    litres: float | None = None  #: Of that liquid. [L]
    who: str = ""
    note: str = ""


@action
def give_away(session: Session, ask: GiveAway, at: datetime) -> Done:
    """Give a disc or liquid away; who has it is kept here and told to nobody."""
    culture, checks = queries.get(session, Culture, ask.culture_id), Checks()
    lot = queries.find(session, StarterLot, ask.lot_id)
    disc = _disc(session, ask.disc_id) if ask.disc_id else None
    litres = ask.litres or 0.0
    checks.refuse_if(disc is None and not litres, "disc", "Choose a disc, or say how much liquid.")
    checks.refuse_if(litres > 0 and lot is None, "lot", "Choose the liquid.")
    checks.refuse_if(lot is not None and litres > lot.left_l + 1e-9, "litres", "There is not so much left of it.")
    checks.between(ask.litres, "litres", 0, 50, "Liquid of (L)")
    own = (disc is None or disc.culture_id == culture.id) and (lot is None or lot.culture_id == culture.id)
    checks.refuse_if(not own, "", "That belongs to another line.")
    checks.refuse_if(disc is not None and disc.id in queries.in_use(session)[1], "disc", "That disc lies in a brew.")
    checks.done()
    if lot is not None and litres:
        lot.left_l = max(0.0, lot.left_l - litres)
        lot.lost_l += litres
    if disc is not None:
        leave_hotel(disc, at)
        disc.ended_at, disc.ended_as = at, "given"
    gift = Gift(
        culture_id=culture.id,
        at=at,
        disc_id=disc.id if disc is not None else None,
        lot_id=lot.id if lot is not None and litres else None,
        litres=litres,
        who=ask.who.strip()[:80],
        note=ask.note.strip()[:300],
    )
    return Done(f"{culture.name} went to {ask.who.strip() or 'someone'}.", {"gift": flushed(session, gift)})


@dataclass(frozen=True, slots=True, kw_only=True)
class LoseStarter:
    """Liquid thrown out or spilt."""

    lot_id: int
    litres: float | None = None  #: All that is left, unless told. [L]


@action
def lose_starter(session: Session, ask: LoseStarter, at: datetime) -> Done:
    """Take liquid off a lot that went nowhere: made is used, left and lost."""
    lot, checks = queries.get(session, StarterLot, ask.lot_id), Checks()
    litres = lot.left_l if ask.litres is None else ask.litres
    checks.refuse_if(not 0 < litres <= lot.left_l + 1e-9, "litres", "There is not so much left of it.")
    checks.done()
    lot.left_l = max(0.0, lot.left_l - litres)
    lot.lost_l += litres
    return Done(f"{litres * 1000:.0f} mL of {lot.culture.name} are gone.")
