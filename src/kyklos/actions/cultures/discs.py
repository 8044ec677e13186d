"""Lives of discs: parted, thinned, measured, turned, housed, laid into a brew, revived, ended."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from ...core.base import marked
from ...core.base.kinds import VesselKind
from ...core.cultures.lineage import ENDS
from ...store.read import culture_queries, queries
from ...store.records import Brew, BrewDisc, Disc, DiscEvent, HotelStay, Vessel
from ..base import Checks, Done, action, flushed
from ..brewing.pitching import leave_hotel

MOST_MM = 80.0  #: [mm]


def living_disc(session: Session, number: int) -> Disc:
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
    old, checks = living_disc(session, ask.disc_id), Checks()
    checks.between(ask.thickness_mm, "thickness_mm", 0.5, MOST_MM, "A disc of", "thickness")
    checks.done()
    left = old.thickness_mm - ask.thickness_mm if old.thickness_mm and ask.thickness_mm else None
    checks.refuse_if(
        left is not None and left <= 0,
        "thickness_mm",
        f"{old.name} is only {marked(old.thickness_mm or 0.0, 'thickness')} thick.",
    )
    checks.done()
    number = _child(session, old, ask.name, ask.thickness_mm, at)
    happened(session, old, "parted", at, thickness_mm=left)
    return Done(f"{_named(session, number)} was parted from {old.name}.", {"disc": number})


def _named(session: Session, number: int) -> str:
    return queries.get(session, Disc, number).name


def _child(session: Session, old: Disc, name: str, thickness_mm: float | None, at: datetime) -> int:
    new = Disc(
        name=name.strip()[:60] or f"{old.culture.name}, disc {len(old.culture.discs) + 1}",
        culture_id=old.culture_id,
        parent_id=old.id,
        made_at=at,
        thickness_mm=thickness_mm,
        diameter_cm=old.diameter_cm,
    )
    number = flushed(session, new)
    if thickness_mm is not None:
        happened(session, new, "measured", at, thickness_mm=thickness_mm)
    return number


def happened(
    session: Session,
    disc: Disc,
    kind: str,
    at: datetime,
    thickness_mm: float | None = None,
    diameter_cm: float | None = None,
    note: str = "",
) -> None:
    """Write what happened to a disc; a size given is its size from then on."""
    if thickness_mm is not None:
        disc.thickness_mm = thickness_mm
    if diameter_cm is not None:
        disc.diameter_cm = diameter_cm
    row = DiscEvent(disc_id=disc.id, at=at, kind=kind, thickness_mm=thickness_mm, diameter_cm=diameter_cm, note=note)
    session.add(row)


@dataclass(frozen=True, slots=True, kw_only=True)
class ThinDisc:
    """A chunk taken off a disc."""

    disc_id: int
    thickness_mm: float  #: Left of it. [mm]
    keep_chunk: bool = False
    note: str = ""


@action
def thin_disc(session: Session, ask: ThinDisc, at: datetime) -> Done:
    """Thin a disc; the chunk goes, or is kept as a disc of its own."""
    disc, checks = living_disc(session, ask.disc_id), Checks()
    checks.between(ask.thickness_mm, "thickness_mm", 0.5, MOST_MM, "A disc of", "thickness")
    was = disc.thickness_mm
    thicker = was is not None and ask.thickness_mm >= was
    checks.refuse_if(
        thicker, "thickness_mm", f"It was {marked(was or 0.0, 'thickness')}: thinned it is less." if thicker else ""
    )
    checks.done()
    made = {}
    if ask.keep_chunk:
        chunk = was - ask.thickness_mm if was is not None else None
        made["disc"] = _child(session, disc, f"{disc.name}, a chunk"[:60], chunk, at)
    happened(session, disc, "thinned", at, thickness_mm=ask.thickness_mm, note=ask.note.strip()[:300])
    return Done(f"{disc.name} was thinned to {marked(ask.thickness_mm, 'thickness')}.", made)


@dataclass(frozen=True, slots=True, kw_only=True)
class TurnDisc:
    """A thick disc whose top had dried."""

    disc_id: int


@action
def turn_disc(session: Session, ask: TurnDisc, at: datetime) -> Done:
    """Turn a disc over."""
    disc = living_disc(session, ask.disc_id)
    happened(session, disc, "turned", at)
    return Done(f"{disc.name} was turned over.")


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
    disc, checks = living_disc(session, ask.disc_id), Checks()
    checks.refuse_if(not 1 <= len(ask.name.strip()) <= 60, "name", "Give it a name of up to 60 letters.")
    checks.between(ask.thickness_mm, "thickness_mm", 0.5, MOST_MM, "A disc of (mm)")
    checks.between(ask.diameter_cm, "diameter_cm", 2, 80, "A disc of", "length")
    checks.done()
    disc.name = ask.name.strip()
    new_size = (ask.thickness_mm, ask.diameter_cm) != (disc.thickness_mm, disc.diameter_cm)
    if new_size and (ask.thickness_mm is not None or ask.diameter_cm is not None):
        happened(session, disc, "measured", at, thickness_mm=ask.thickness_mm, diameter_cm=ask.diameter_cm)
    return Done(f"{disc.name}: noted.")


@dataclass(frozen=True, slots=True, kw_only=True)
class HouseDisc:
    """A disc put into the hotel, or taken out of it."""

    disc_id: int
    vessel_id: int | None  #: None: out of it.
    position: int = 1  #: From the top, which is 1.


@action
def house_disc(session: Session, ask: HouseDisc, at: datetime) -> Done:
    """Put a disc into the hotel, where it lives in mature liquid; or take it out."""
    disc, checks = living_disc(session, ask.disc_id), Checks()
    checks.refuse_if(disc.id in culture_queries.in_use(session)[1], "", f"{disc.name} lies in a brew: harvest that first.")
    checks.done()
    left = leave_hotel(disc, at)
    if ask.vessel_id is None:
        checks.refuse_if(not left, "", f"{disc.name} lives in no hotel.")
        checks.done()
        return Done(f"{disc.name} left the hotel.")
    hotel = queries.get(session, Vessel, ask.vessel_id)
    checks.refuse_if(hotel.kind != VesselKind.HOTEL, "vessel", f"{hotel.name} is no hotel.")
    checks.refuse_apart(session, "vessel", ("disc", disc.id), ("hotel", hotel.id))
    checks.done()
    checks.between(ask.position, "position", 1, 40, "A place in the stack of")
    checks.done()
    _make_room(session, hotel, ask.position)
    stay = HotelStay(disc_id=disc.id, vessel_id=hotel.id, since=at, position=ask.position)
    made = {"stay": flushed(session, stay)}
    return Done(f"{disc.name} lives in {hotel.name} now.", made)


def _make_room(session: Session, hotel: Vessel, position: int) -> None:
    """Push those at a place of the stack and below it one down."""
    there = select(HotelStay).where(HotelStay.vessel_id == hotel.id, HotelStay.until.is_(None))
    stays = sorted(session.scalars(there), key=lambda stay: (stay.position, -stay.id))
    for index, stay in enumerate(stays, start=1):
        stay.position = index + (index >= position)


@dataclass(frozen=True, slots=True, kw_only=True)
class JoinDisc:
    """A disc laid into a living brew, besides what is in it."""

    disc_id: int
    brew_id: int
    position: int = 1  #: From the top, which is 1.
    other_line: bool = False  #: Two lines in one jar are meant.


@action
def join_disc(session: Session, ask: JoinDisc, at: datetime) -> Done:
    """Lay a disc into a brew; of another line, the two share the jar from then on."""
    disc, brew, checks = living_disc(session, ask.disc_id), queries.get(session, Brew, ask.brew_id), Checks()
    checks.refuse_if(not brew.alive, "brew", "This brew is over.")
    checks.refuse_apart(session, "brew", ("disc", disc.id), ("brew", brew.id))
    checks.refuse_if(disc.id in culture_queries.in_use(session)[1], "", f"{disc.name} lies in a brew already.")
    checks.refuse_if(
        disc.culture_id != brew.culture_id and not ask.other_line,
        "other_line",
        f"{disc.name} is of {disc.culture.name}, the brew of {brew.culture.name}: two lines in one jar mix. Tick it if it is meant.",
    )
    checks.between(ask.position, "position", 1, 40, "A place in the stack of")
    checks.done()
    leave_hotel(disc, at)
    happened(session, disc, "joined", at, note=brew.vessel.name)
    row = BrewDisc(brew_id=brew.id, disc_id=disc.id, since=at, position=ask.position)
    return Done(f"{disc.name} lies in {brew.vessel.name} now.", {"guest": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeDisc:
    """A disc taken out of a brew in which it lay besides the brew's own."""

    disc_id: int


@action
def take_disc(session: Session, ask: TakeDisc, at: datetime) -> Done:
    """Take a disc out of a brew again; its liquid came along."""
    disc, checks = living_disc(session, ask.disc_id), Checks()
    rows = list(session.scalars(select(BrewDisc).where(BrewDisc.disc_id == disc.id, BrewDisc.until.is_(None))))
    checks.refuse_if(not rows, "", f"{disc.name} lies in no brew besides its own.")
    checks.done()
    for row in rows:
        row.until = at
    happened(session, disc, "moved", at, note=f"out of {rows[0].brew.vessel.name}")
    return Done(f"{disc.name} was taken out of {rows[0].brew.vessel.name}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class ReviveDisc:
    """A dried disc put into liquid again."""

    disc_id: int
    name: str = ""


@action
def revive_disc(session: Session, ask: ReviveDisc, at: datetime) -> Done:
    """Revive a dried disc: a disc of its own from then on, not to be relied on for two brews."""
    dried, checks = queries.get(session, Disc, ask.disc_id), Checks()
    checks.refuse_if(dried.ended_as != "dried", "", f"{dried.name} was not dried.")
    checks.done()
    number = _child(session, dried, ask.name or f"{dried.name}, revived"[:60], None, at)
    happened(session, queries.get(session, Disc, number), "revived", at)
    why = "It brings no acid: starter from elsewhere, and two brews before it is relied on."
    return Done(f"{_named(session, number)}. {why}", {"disc": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class EndDisc:
    """A disc that goes."""

    disc_id: int
    ended_as: str
    note: str = ""


@action
def end_disc(session: Session, ask: EndDisc, at: datetime) -> Done:
    """Let a disc go, and keep what became of it."""
    disc, checks = living_disc(session, ask.disc_id), Checks()
    checks.refuse_if(ask.ended_as not in ENDS, "ended_as", "Choose what became of it.")
    checks.refuse_if(disc.id in culture_queries.in_use(session)[1], "", f"{disc.name} lies in a brew.")
    checks.refuse_if(
        ask.ended_as == "discarded" and not ask.note.strip(), "note", "Say in a word why: it helps next time."
    )
    checks.done()
    leave_hotel(disc, at)
    disc.ended_at, disc.ended_as, disc.ended_note = at, ask.ended_as, ask.note.strip()[:300]
    if ask.ended_as == "dried":
        happened(session, disc, "dried", at)
    return Done(f"{disc.name}: {ENDS[ask.ended_as].lower()}.")
