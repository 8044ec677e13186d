"""Setting up: settings, tasters, places, vessels, cultures, starter that came from elsewhere."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import available_timezones

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from ..core.base import marked
from ..core.base.kinds import Diet, Origin, ReadsPh, VesselKind
from ..core.brewing.places import LIGHTS, REACHES
from ..core.liquid import Way
from ..core.liquid.pouring import LiquidKind
from ..core.liquid.standing import PlaceKind
from ..store.file.journal import PRACTICE
from ..store.read import culture_queries, queries
from ..store.records import Culture, Disc, Household, Place, StarterLot, Taster, Tasting, Vessel
from .base import Checks, Done, action, check_version, flushed
from .pouring import begin, lot_in
from .standing import put

MATERIALS = {
    "glass": "Glass",
    "borosilicate": "Borosilicate glass",
    "stoneware": "Glazed stoneware",
    "stainless": "Stainless steel 304 or 316",
    "plastic": "Food-grade plastic",
    "wood": "Wood",
    "unknown glaze or crystal": "Unknown glaze or crystal",
    "reactive metal": "Copper, brass, aluminium, galvanised, iron",
}
KINDS = {"jar": "Jar", "crock": "Crock", "hotel": "Hotel"}
ORIGINS: dict[str, str] = {
    Origin.RECEIVED: "Received",
    Origin.BOTTLE: "Grown from a raw bottle",
    Origin.BOUGHT: "Bought",
    Origin.DRIED: "Revived from dry",
    Origin.CONVERTED: "Converted from another line",
}


LEFT_AS_IT_IS = -1.0  #: No price and no size: it is not changed.


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeSettings:
    """How the household likes things."""

    name: str
    units: str
    zone: str
    theme: str
    tasters: tuple[str, ...]
    version: int | None = None
    sample: bool = False
    southern: bool = False
    quiet: tuple[int | None, int | None] = (None, None)  #: Hours, local; None leaves them.
    reads_ph: str | None = None  #: A key of ReadsPh, or empty: not given; None leaves it.
    glass_l: float | None = LEFT_AS_IT_IS  #: What a glass holds; None: as usual. [L]
    power_price: float | None = LEFT_AS_IT_IS  #: Of a kilowatt-hour, in the household's own money; None: not given.


def _write_tasters(session: Session, names: tuple[str, ...]) -> list[str]:
    """Write the tasters in this order; returns who is left out and stays, since their tastings stand written.

    A new name in the place of one that is left out is that taster, called otherwise.
    """
    current = sorted(session.scalars(select(Taster)), key=lambda t: (t.position, t.id))
    asked = {name.casefold() for name in names}
    known = {t.name.casefold(): t for t in current if t.name.casefold() in asked}
    free = {place: t for place, t in enumerate(current) if t.name.casefold() not in asked}
    for position, name in enumerate(names):
        taster = known.get(name.casefold()) or free.pop(position, None)
        if taster is None:
            session.add(Taster(name=name, position=position))
        else:
            taster.name, taster.position = name, position
    stays = []
    for position, extra in enumerate(free.values(), len(names)):
        if session.scalars(select(Tasting).where(Tasting.taster_id == extra.id)).first():
            extra.position = position
            stays.append(extra.name)
        else:
            session.delete(extra)
            for kind in PRACTICE:  # its number may be given again: nobody is to find another’s progress under it
                session.execute(delete(kind).where(kind.person == extra.id))
    return stays


@action
def change_settings(session: Session, ask: ChangeSettings, at: datetime) -> Done:
    """Write the household's settings and the names of its tasters."""
    checks = Checks()
    names = tuple(name.strip() for name in ask.tasters if name.strip())
    checks.refuse_if(ask.units not in {"metric", "us"}, "units", "Choose metric or US units.")
    checks.refuse_if(ask.theme not in {"auto", "light", "dark"}, "theme", "Choose light, dark, or as the device.")
    checks.refuse_if(
        ask.zone not in available_timezones(), "zone", "This time zone is not known; try one like Europe/Paris."
    )
    checks.refuse_if(not ask.name.strip(), "name", "Give the household a name.")
    known = ask.reads_ph in {None, "", *ReadsPh}
    checks.refuse_if(not known, "reads_ph", "Choose strips, a meter, or neither.")
    checks.refuse_if(len({n.casefold() for n in names}) < len(names), "tasters", "Two tasters have the same name.")
    checks.refuse_if(any(len(n) > 40 for n in (*names, ask.name)), "tasters", "Names of up to 40 letters, please.")
    for hour, name in zip(ask.quiet, ("quiet_from", "quiet_to"), strict=True):
        checks.refuse_if(hour is not None and not 0 <= hour <= 23, name, "An hour from 0 to 23.")
    priced = ask.power_price != LEFT_AS_IT_IS
    checks.between(ask.power_price if priced else None, "power_price", 0.0, 1000.0, "A price of")
    glass = ask.glass_l != LEFT_AS_IT_IS
    checks.between(ask.glass_l if glass else None, "glass_l", 0.03, 2.0, "A glass of", "volume")
    checks.done()
    house = session.scalars(select(Household)).first()
    if house is None:
        house = Household(version=1, quiet_from=21, quiet_to=7)
        session.add(house)
    else:
        check_version(ask.version, house.version, "The settings")
    house.name, house.units, house.zone, house.theme = ask.name.strip(), ask.units, ask.zone, ask.theme
    house.southern = ask.southern
    house.reads_ph = (house.reads_ph or "") if ask.reads_ph is None else ask.reads_ph
    house.power_price = ask.power_price if priced else house.power_price
    house.glass_l = ask.glass_l if glass else house.glass_l
    start, end = ask.quiet
    house.quiet_from = house.quiet_from if start is None else start
    house.quiet_to = house.quiet_to if end is None else end
    house.sample = ask.sample or bool(house.sample)
    stays = _write_tasters(session, names)
    return Done(f"Settings saved. {' and '.join(stays)} tasted here and stays in the list." if stays else "Settings saved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class AddPlace:
    """A shelf, cupboard or fridge."""

    name: str
    celsius: float  #: Typical. [degC]
    winter_c: float | None = None  #: In the coldest month. [degC]
    summer_c: float | None = None  #: In the warmest month. [degC]
    light: str = "shade"
    reach: str = "easy"
    rivals: bool = False
    kind: str = PlaceKind.ROOM


def _check_place(ask: AddPlace) -> None:
    checks = Checks()
    checks.refuse_if(not 1 <= len(ask.name.strip()) <= 40, "place_name", "Give the place a name of up to 40 letters.")
    for name in ("celsius", "winter_c", "summer_c"):
        checks.between(getattr(ask, name), name, -5, 45, "A place at", "temperature")
    checks.refuse_if(
        (ask.winter_c is None) != (ask.summer_c is None),
        "summer_c" if ask.summer_c is None else "winter_c",
        "Tell both, winter and summer, or neither.",
    )
    checks.refuse_if(ask.kind not in tuple(PlaceKind), "kind", "Choose a room or a fridge.")
    checks.refuse_if(ask.light not in LIGHTS, "light", "Choose dark, shade or sun.")
    checks.refuse_if(ask.reach not in REACHES, "reach", "Choose how well it is in reach.")
    checks.done()


def _named(session: Session, name: str) -> Place | None:
    """Find a place by its name, however it is written."""
    text = name.strip()[:40].casefold()
    return next((place for place in queries.places(session) if place.name.casefold() == text), None)


def _refuse_twice(session: Session, name: str, number: int | None = None) -> None:
    """Refuse a second place of the same name."""
    found, checks = _named(session, name), Checks()
    checks.refuse_if(found is not None and found.id != number, "place_name", "Another place has this name.")
    checks.done()


def _write_place(place: Place, ask: AddPlace) -> None:
    place.name, place.celsius, place.winter_c, place.summer_c = (
        ask.name.strip(),
        ask.celsius,
        ask.winter_c,
        ask.summer_c,
    )
    place.light, place.reach, place.rivals, place.kind = ask.light, ask.reach, ask.rivals, ask.kind


@action
def add_place(session: Session, ask: AddPlace, at: datetime) -> Done:
    """Add a place at the end of the round."""
    _check_place(ask)
    _refuse_twice(session, ask.name)
    place = Place(position=len(queries.places(session)))
    _write_place(place, ask)
    return Done(f"{place.name} added.", {"place": flushed(session, place)})


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangePlace(AddPlace):
    """A place as it is to be."""

    place_id: int
    version: int | None = None


@action
def change_place(session: Session, ask: ChangePlace, at: datetime) -> Done:
    """Rename a place, or tell its warmth, light and reach."""
    _check_place(ask)
    place = queries.get(session, Place, ask.place_id)
    if ask.name.strip().casefold() != place.name.casefold():
        _refuse_twice(session, ask.name, ask.place_id)
    check_version(ask.version, place.version, place.name)
    _write_place(place, ask)
    return Done(f"{place.name} saved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class AddVessel:
    """A jar, crock or hotel; either a known place or a new one."""

    name: str
    kind: str
    nominal_l: float  #: [L]
    usable_l: float  #: To the fill line. [L]
    diameter_cm: float  #: Inner. [cm]
    material: str
    tapped: bool
    heel_l: float = 0.0  #: Stays below the tap. [L]
    heater_c: float | None = None  #: Set point of its heater. [degC]
    tare_g: float | None = None  #: Empty and dry. [g]
    place_id: int | None = None
    new_place: str = ""
    new_place_c: float | None = None  #: [degC]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeVessel(AddVessel):
    """A vessel as it is to be."""

    vessel_id: int
    version: int | None = None


def _check_vessel(session: Session, ask: AddVessel, own: int | None = None) -> None:
    checks = Checks()
    checks.refuse_if(not 1 <= len(ask.name.strip()) <= 40, "name", "Give the vessel a name of up to 40 letters.")
    same = [v for v in queries.vessels(session) if v.name.casefold() == ask.name.strip().casefold() and v.id != own]
    checks.refuse_if(bool(same), "name", "Another vessel has this name.")
    checks.refuse_if(ask.kind not in KINDS, "kind", "Choose jar, crock or hotel.")
    checks.refuse_if(ask.material not in MATERIALS, "material", "Choose a material.")
    checks.refuse_if(
        ask.material == "reactive metal",
        "material",
        "Acid takes metal from these: choose another vessel. Stainless steel 304 or 316 is fine.",
    )
    checks.between(ask.nominal_l, "nominal_l", 0.2, 250, "A vessel of", "volume")
    checks.between(ask.usable_l, "usable_l", 0.1, 250, "A fill line at", "volume")
    checks.between(ask.diameter_cm, "diameter_cm", 3, 120, "An inner diameter of", "length")
    checks.refuse_if(ask.usable_l > ask.nominal_l, "usable_l", "The fill line cannot be above the vessel's own size.")
    checks.between(ask.heater_c, "heater_c", 15, 32, "A heater set to", "temperature")
    checks.between(ask.tare_g, "tare_g", 20, 60_000, "An empty weight of", "mass")
    checks.refuse_if(not 0 <= ask.heel_l < ask.usable_l, "heel_l", "The heel is less than the fill line.")
    checks.refuse_if(ask.heel_l > 0 and not ask.tapped, "heel_l", "Only a vessel with a tap keeps a heel.")
    if ask.place_id is None:
        checks.refuse_if(not ask.new_place.strip(), "place", "Say where it stands.")
        checks.refuse_if(ask.new_place_c is None, "new_place_c", "Say how warm it usually is there.")
        checks.between(ask.new_place_c, "new_place_c", -5, 45, "A place at", "temperature")
    checks.done()


def _place_for(session: Session, ask: AddVessel) -> int:
    if ask.place_id is not None:
        return queries.get(session, Place, ask.place_id).id
    known = _named(session, ask.new_place)
    if known is not None:
        return known.id
    position = len(queries.places(session))
    return flushed(session, Place(name=ask.new_place.strip()[:40], celsius=ask.new_place_c or 0.0, position=position))


def _write_vessel(vessel: Vessel, ask: AddVessel) -> None:
    vessel.name, vessel.kind, vessel.material, vessel.tapped = ask.name.strip(), ask.kind, ask.material, ask.tapped
    vessel.nominal_l, vessel.usable_l, vessel.diameter_cm = ask.nominal_l, ask.usable_l, ask.diameter_cm
    vessel.heel_l, vessel.tare_g = ask.heel_l, ask.tare_g


def _hold(session: Session, vessel: Vessel, at: datetime) -> None:
    """Begin the liquid of a vessel that is a hotel from now on."""
    if vessel.kind == VesselKind.HOTEL and vessel.liquid_id is None:
        vessel.liquid = begin(session, LiquidKind.HOTEL, at)
        session.flush()


@action
def add_vessel(session: Session, ask: AddVessel, at: datetime) -> Done:
    """Add a vessel, and its place if that is new."""
    return new_vessel(session, ask, at)


def new_vessel(session: Session, ask: AddVessel, at: datetime) -> Done:
    """Add a vessel, within another action."""
    _check_vessel(session, ask)
    vessel = Vessel(version=1)
    _write_vessel(vessel, ask)
    number = flushed(session, vessel)
    put(session, vessel, _place_for(session, ask), at, ask.heater_c)
    _hold(session, vessel, at)
    return Done(f"{vessel.name} added.", {"vessel": number})


@action
def change_vessel(session: Session, ask: ChangeVessel, at: datetime) -> Done:
    """Change a vessel; one that another window changed meanwhile is refused."""
    vessel = queries.get(session, Vessel, ask.vessel_id)
    check_version(ask.version, vessel.version, vessel.name)
    _check_vessel(session, ask, vessel.id)
    brew = queries.brew_in(session, vessel.id)
    checks = Checks()
    checks.refuse_if(
        brew is not None and ask.usable_l < brew.left_l - 0.005,
        "usable_l",
        f"The brew in it takes {marked(brew.left_l if brew else 0, 'volume')}.",
    )
    checks.done()
    _write_vessel(vessel, ask)
    session.flush()
    put(session, vessel, _place_for(session, ask), at, ask.heater_c)
    _hold(session, vessel, at)
    return Done(f"{vessel.name} saved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class AddCulture:
    """A line, with the liquid and disc it came with."""

    name: str
    diet: str
    origin: str
    story: str = ""
    starter_l: float | None = None  #: Liquid that came with it. [L]
    starter_ph: float | None = None  #: [pH]
    instrument: str = "strip"
    with_disc: bool = True
    parent_id: int | None = None  #: The line it was parted or led from.


@action
def add_culture(session: Session, ask: AddCulture, at: datetime) -> Done:
    """Add a culture line, with its first starter and disc if it came with them."""
    return new_culture(session, ask, at)


def new_culture(session: Session, ask: AddCulture, at: datetime) -> Done:
    """Add a culture line, within another action."""
    checks = Checks()
    name = ask.name.strip()
    checks.refuse_if(not 1 <= len(name) <= 40, "name", "Give the culture a name of up to 40 letters.")
    checks.refuse_if(
        any(c.name.casefold() == name.casefold() for c in culture_queries.cultures(session)),
        "name",
        "Another line has this name.",
    )
    checks.refuse_if(ask.diet not in tuple(Diet), "diet", "Choose sugar and tea, or honey and green tea.")
    checks.refuse_if(ask.origin not in ORIGINS, "origin", "Say where it came from.")
    checks.between(ask.starter_l, "starter_l", 0.01, 50, "Starter of", "volume")
    checks.between(ask.starter_ph, "starter_ph", 1.8, 5.5, "A starter's pH of")
    checks.done()
    parent = queries.find(session, Culture, ask.parent_id)
    culture = Culture(
        name=name,
        diet=ask.diet,
        origin=ask.origin,
        story=ask.story.strip()[:2000],
        started_at=at,
        parent_id=parent.id if parent is not None else None,
    )
    made = {"culture": flushed(session, culture)}
    if ask.with_disc:
        made["disc"] = flushed(session, Disc(name=f"{name}, first disc", culture_id=culture.id))
    if ask.starter_l is not None:
        lot = StarterLot(culture_id=culture.id, made_at=at, ph=ask.starter_ph, instrument=ask.instrument)
        made["lot"] = lot_in(session, lot, at, ask.starter_l, Way.RECEIVED, None)
    return Done(f"{name} added.", made)
