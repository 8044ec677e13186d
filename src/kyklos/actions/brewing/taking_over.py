"""A brew that stands already when it is first written down: begun days or weeks ago, with what is known since."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ...core.base.kinds import Diet, KindOfBrew, Origin, VesselKind
from ...core.brewing.vessel_parts import usual_jar
from ...core.liquid import Recipe
from ...core.sheets.told import LONGEST_DAYS
from ...store.read import culture_queries, queries
from ...store.read.recorded import surface_per_volume
from ...store.records import Brew, Culture, Place, Taster, Vessel
from ..base import Checks, Done, action, flushed
from ..standing import put
from .pitching import PitchBrew, Poured, pitch, planned_amounts
from .put_right import MOST_DOUBT_DAYS
from .readings import LogReading, LogTasting, write_reading, write_tasting

USUAL_SHARE, USUAL_PH = 0.12, 3.2  #: Of a starter that nobody remembers (assumed). [-, pH]
ROOM_C = 22.0  #: Of a kitchen that nobody measured (assumed). [degC]


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeOver:
    """A brew that stands already."""

    days_ago: float  #: Since it began. [d]
    doubt_days: float  #: Give or take. [d]
    litres: float  #: In the jar now, about. [L]
    vessel_id: int | None = None
    new_vessel: str = ""
    nominal_l: float | None = None  #: Of a new vessel, brimful. [L]
    culture_id: int | None = None
    new_culture: str = ""
    honey: bool = False  #: Jun: green tea and honey.
    sugar_g_per_l: float | None = None  #: [g/L]
    celsius: float | None = None  #: Where it stands. [degC]
    ph: float | None = None  #: Now.
    instrument: str = "strip"
    recipe: Recipe | None = None  #: How it was started; as usual unless given.
    taster_id: int | None = None
    score: int | None = None  #: Taste now, from -3 to 3. [step]


def _check(ask: TakeOver) -> None:
    checks = Checks()
    checks.between(ask.days_ago, "days_ago", 0, LONGEST_DAYS, "A brew that began so many days ago:")
    checks.between(ask.doubt_days, "doubt_days", 0, min(MOST_DOUBT_DAYS, max(ask.days_ago, 0.0)), "Give or take (days)")
    checks.between(ask.litres, "litres", 0.1, 250, "A jar with", "volume")
    checks.between(ask.celsius, "celsius", 5, 40, "A place at", "temperature")
    checks.between(ask.sugar_g_per_l, "sugar_g_per_l", 5, 150, "Sugar of", "strength")
    fresh = ask.vessel_id is None
    checks.refuse_if(fresh and not 1 <= len(ask.new_vessel.strip()) <= 40, "new_vessel", "Give the jar a name.")
    checks.refuse_if(
        fresh and ask.nominal_l is not None and ask.litres > ask.nominal_l,
        "nominal_l",
        "There is more in it than it holds.",
    )
    checks.refuse_if(
        ask.culture_id is None and not 1 <= len(ask.new_culture.strip()) <= 40,
        "new_culture",
        "Give its culture a name.",
    )
    checks.done()


def _vessel(session: Session, ask: TakeOver, began: datetime) -> Vessel:
    """Find its vessel, or add it where it stands."""
    if ask.vessel_id is not None:
        vessel = queries.get(session, Vessel, ask.vessel_id)
        checks = Checks()
        beside = queries.filled_then(session, vessel.id, began, began + timedelta(days=ask.days_ago))
        checks.refuse_if(beside is not None, "vessel", f"{vessel.name} is full, or was since then.")
        checks.refuse_if(vessel.kind == VesselKind.HOTEL, "vessel", "A hotel keeps spare discs.")
        checks.done()
        return vessel
    nominal = ask.nominal_l or ask.litres * 1.1
    names = {v.name.casefold() for v in queries.vessels(session)}
    checks = Checks()
    checks.refuse_if(ask.new_vessel.strip().casefold() in names, "new_vessel", "Another vessel has this name.")
    checks.done()
    vessel = Vessel(
        name=ask.new_vessel.strip(),
        kind=VesselKind.JAR,
        nominal_l=max(nominal, ask.litres),
        usable_l=max(ask.litres, usual_jar(nominal)[0]),
        diameter_cm=usual_jar(nominal)[1],
        material="glass",
        version=1,
    )
    flushed(session, vessel)
    put(session, vessel, _place(session, ask).id, began)
    return vessel


def _place(session: Session, ask: TakeOver) -> Place:
    """Find a room for a new vessel: the one as warm as given, else the first, else a kitchen."""
    rooms = queries.rooms(session)
    near = [room for room in rooms if ask.celsius is None or abs(room.celsius - ask.celsius) < 1.0]
    if near:
        return near[0]
    place = Place(name="Kitchen" if not rooms else "Another shelf", celsius=ask.celsius or ROOM_C, position=len(rooms))
    flushed(session, place)
    return place


def _culture(session: Session, ask: TakeOver, began: datetime) -> Culture:
    if ask.culture_id is not None:
        return queries.get(session, Culture, ask.culture_id)
    names = {c.name.casefold() for c in culture_queries.cultures(session)}
    checks = Checks()
    checks.refuse_if(ask.new_culture.strip().casefold() in names, "new_culture", "Another culture has this name.")
    checks.done()
    culture = Culture(
        name=ask.new_culture.strip(),
        diet=Diet.JUN if ask.honey else Diet.SUGAR,
        origin=Origin.RECEIVED,
        started_at=began,
        version=1,
        backups_wanted=1,
        passport={},
        passport_key="",
        story="",
    )
    flushed(session, culture)
    return culture


@action
def take_over(session: Session, ask: TakeOver, at: datetime) -> Done:
    """Write down a brew that stands already, with its jar and culture where they are new, and what is known of it now."""
    _check(ask)
    made = begun_then(session, ask, at)
    brew = queries.get(session, Brew, made["brew"])
    says = _what_is_known(session, ask, brew, at, made)
    return Done(f"{brew.vessel.name} is on the round{says}.", made)


def begun_then(session: Session, ask: TakeOver, at: datetime) -> dict[str, int]:
    """Write a brew as it began then, with its jar and culture where they are new; gives what was made."""
    began = at - timedelta(days=ask.days_ago)
    vessel, culture = _vessel(session, ask, began), _culture(session, ask, began)
    jun = ask.honey or (ask.culture_id is not None and culture.diet == Diet.JUN)
    surface = surface_per_volume(vessel, ask.litres)
    recipe = replace(ask.recipe, surface_per_volume_per_cm=surface) if ask.recipe is not None else Recipe(
        tea="green" if jun else "black",
        sugar_g_per_l=ask.sugar_g_per_l or (60.0 if jun else 65.0),
        honey_share=1.0 if jun else 0.0,
        starter_fraction=USUAL_SHARE,
        starter_ph=USUAL_PH,
        surface_per_volume_per_cm=surface,
    )
    pitched = PitchBrew(
        vessel_id=vessel.id,
        culture_id=culture.id,
        starter_lot_id=None,
        disc_id=None,
        recipe=recipe,
        starter_instrument="estimate",
        final_l=ask.litres,
        plan={"final_l": ask.litres, **planned_amounts(recipe, ask.litres)},
        kind=KindOfBrew.JUN if jun else KindOfBrew.BATCH,
        poured=(Poured(litres=ask.litres * recipe.starter_fraction, name="" if ask.recipe else "as usual, nobody remembers", ph=recipe.starter_ph),),
        facts={"taken_over": at.isoformat()},
    )
    made = pitch(session, pitched, began).made
    brew = queries.get(session, Brew, made["brew"])
    brew.start_doubt_days = ask.doubt_days
    session.flush()
    return {**made, "vessel": vessel.id, "culture": culture.id}


def _what_is_known(session: Session, ask: TakeOver, brew: Brew, at: datetime, made: dict[str, int]) -> str:
    """Write down what was measured and tasted now."""
    says = []
    if ask.ph is not None or ask.celsius is not None:
        reading = LogReading(brew_id=brew.id, ph=ask.ph, instrument=ask.instrument, celsius=ask.celsius, sure=True)
        made["reading"], said = write_reading(session, reading, brew, at)
        says.append(said)
    if ask.score is not None:
        who = queries.get(session, Taster, ask.taster_id or 0)
        tasting = LogTasting(brew_id=brew.id, taster_id=who.id, score=ask.score)
        made["tasting"], said = write_tasting(session, tasting, brew, at)
        says.append(said)
    return f", with {' and '.join(says)}" if says else ""
