"""Questions to the household's records."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any, TypeVar

from sqlalchemy import ColumnElement, bindparam, func, select
from sqlalchemy.orm import Session, contains_eager, defer, joinedload, load_only

from ..core.errors import KyklosError
from ..core.kinds import LIVING, BottleState, BrewStatus, KindOfBrew
from ..core.pouring import LEAST_L
from ..core.standing import PlaceKind
from .attach import Relation, attach
from .lately import read_lately
from .memory import once
from .models import (
    Away,
    Base,
    Bottle,
    Bottling,
    Brew,
    BrewDay,
    BrewDisc,
    BrewStay,
    Change,
    Culture,
    Disc,
    Gift,
    Household,
    Instrument,
    KeptRecipe,
    Liquid,
    Look,
    Note,
    Photo,
    Place,
    PlannedDay,
    PutOff,
    Quarantine,
    Reading,
    SpotReading,
    Standing,
    StarterLot,
    Taster,
    Tasting,
    TemperatureLog,
    Timer,
    Tool,
    Vessel,
)
from .session import context_of

R = TypeVar("R", bound=Base)

LIGHT = (defer(Brew.plan), defer(Brew.facts))  #: A list of brews needs no plans.
#: A forecast reads where a brew stands and what is in it.
IN_PLACE = (joinedload(Brew.vessel).joinedload(Vessel.place), joinedload(Brew.liquid))

# Questions that nearly every page asks, written once: to write one costs about as much as to ask it.
_ABSENCE = select(Away).where(Away.back_at.is_(None)).order_by(Away.id.desc())
_INSTRUMENTS = select(Instrument).where(Instrument.retired_at.is_(None)).order_by(Instrument.id)
_LIVING = (
    select(Brew)
    .join(Brew.vessel)
    .join(Vessel.place)
    .join(Brew.culture)
    .join(Brew.liquid)
    .where(Brew.status.in_(LIVING))
    .options(
        *LIGHT,
        contains_eager(Brew.liquid),
        contains_eager(Brew.vessel).contains_eager(Vessel.place),
        contains_eager(Brew.culture),
    )
    .order_by(Place.position, Place.id, Vessel.id)
)
_FILLING = contains_eager(Bottle.bottling)
_BOTTLES = (
    select(Bottle)
    .join(Bottle.bottling)
    .join(Bottling.brew)
    .join(Brew.culture)
    .join(Bottle.type)
    .where(Bottle.state.in_(bindparam("states", expanding=True)))
    .options(
        contains_eager(Bottle.type),
        _FILLING.contains_eager(Bottling.brew).options(
            load_only(
                Brew.culture_id, Brew.vessel_id, Brew.honey_share, Brew.leaf_g_per_l, Brew.pitched_at, Brew.version
            ),
            contains_eager(Brew.culture),
        ),
    )
    .order_by(Bottling.at, Bottling.id, Bottle.id)
)
_TIMERS = (
    select(Timer)
    .join(Timer.day)
    .where(Timer.stopped_at.is_(None), BrewDay.ended_at.is_(None))
    .options(contains_eager(Timer.day).load_only(BrewDay.step))
    .order_by(Timer.ends_at)
)

_HOUSEHOLD, _TASTERS = select(Household), select(Taster).order_by(Taster.position, Taster.id)
_LOGS = select(TemperatureLog).where(TemperatureLog.struck.is_(False))
LARGEST_NUMBER = 2**63 - 1  #: Of an SQLite row.
WORDS = {
    "Bottle": "bottle",
    "Brew": "brew",
    "Culture": "culture",
    "Place": "place",
    "Vessel": "vessel",
    "StarterLot": "starter",
    "Change": "change",
    "Reading": "reading",
    "Taster": "taster",
    "Disc": "disc",
    "CutLink": "closed way",
    "Quarantine": "quarantine",
    "Conversion": "conversion",
    "Gift": "gift",
    "KeptRecipe": "recipe",
    "BrewDay": "brew day",
    "Tool": "tool",
    "Timer": "timer",
    "Instrument": "instrument",
    "PutOff": "put-off thing",
    "Away": "absence",
    "PlannedDay": "planned day",
    "BlindTasting": "blind tasting",
    "Photo": "photo",
}


class MissingError(KyklosError):
    """What was asked for is not, or no longer, there."""


def find(session: Session, kind: type[R], number: int | None) -> R | None:
    """Find a record by its number; None if there is none, or could be none."""
    return session.get(kind, number) if number is not None and 0 < number <= LARGEST_NUMBER else None


def get(session: Session, kind: type[R], number: int) -> R:
    """Find a record by its number.

    Raises:
        MissingError: If there is none.
    """
    found = find(session, kind, number)
    if found is None:
        raise MissingError(f"This {WORDS.get(kind.__name__, 'record')} is not here any more.")
    return found


def household_of(session: Session) -> Household:
    """Find the household's settings; a new one has the defaults."""
    return session.scalars(_HOUSEHOLD).first() or Household(
        name="Our kitchen", units="metric", zone="UTC", theme="auto", sample=False
    )


def was_sent(session: Session, key: str) -> bool:
    """Return whether a change was written under a device's key."""
    return session.scalar(select(Change.id).where(Change.sent_as == key)) is not None


@once
def southern(session: Session) -> bool:
    """Return whether the household lies south of the equator."""
    return bool(household_of(session).southern)


@once
def tasters_of(session: Session) -> list[Taster]:
    """List the tasters in their order."""
    return list(session.scalars(_TASTERS))


@once
def logs_of_living(session: Session) -> list[TemperatureLog]:
    """List what loggers told, and was not struck out, since the oldest brew that stands was started."""
    first = session.scalar(select(func.min(Brew.pitched_at)).where(Brew.status.in_(LIVING)))
    return [] if first is None else list(session.scalars(_LOGS.where(TemperatureLog.last_s >= first.timestamp())))


def logs_of(session: Session, brew: Brew) -> list[TemperatureLog]:
    """List what loggers told of a brew while it stood: in its liquid, or in the air of any place."""
    if brew.alive and not context_of(session).writing:
        return logs_of_living(session)
    told = _LOGS.where(TemperatureLog.last_s >= brew.pitched_at.timestamp())
    if brew.ended_at is not None:
        told = told.where(TemperatureLog.first_s <= brew.ended_at.timestamp())
    return list(session.scalars(told))


def logs_in(session: Session, place: Place, since: datetime, until: datetime) -> list[TemperatureLog]:
    """List what loggers told of a place's air between two moments."""
    there = _LOGS.where(TemperatureLog.place_id == place.id)
    return list(
        session.scalars(
            there.where(TemperatureLog.last_s >= since.timestamp(), TemperatureLog.first_s <= until.timestamp())
        )
    )


def spots_read(session: Session, place: Place, since: datetime, until: datetime) -> list[tuple[datetime, float]]:
    """List how warm it was where bottles were put in a place, between two moments, in order of time. [degC]"""
    told = select(SpotReading.at, SpotReading.celsius).where(
        SpotReading.place_id == place.id, SpotReading.at > since, SpotReading.at <= until
    )
    return [(at, celsius) for at, celsius in session.execute(told.order_by(SpotReading.at, SpotReading.id))]


@once
def logged_places(session: Session) -> set[int]:
    """List the numbers of the places in whose air a logger ever lay."""
    told = select(TemperatureLog.place_id).where(TemperatureLog.struck.is_(False)).distinct()
    return {number for number in session.scalars(told) if number is not None}


def places(session: Session) -> list[Place]:
    """List places in the order of the round."""
    return list(session.scalars(select(Place).order_by(Place.position, Place.id)))


@once
def vessels(session: Session) -> list[Vessel]:
    """List vessels in the order of their places."""
    return list(session.scalars(select(Vessel).join(Vessel.place).order_by(Place.position, Place.id, Vessel.id)))


@once
def cultures(session: Session) -> list[Culture]:
    """List culture lines, oldest first."""
    return list(session.scalars(select(Culture).order_by(Culture.started_at, Culture.id)))


@once
def living_brews(session: Session) -> list[Brew]:
    """List brews that stand in a vessel, in the order of their places, with all that a forecast of them reads."""
    return with_records(session, list(session.scalars(_LIVING)), Brew.looks, Brew.overrules)


def with_records(session: Session, brews: Sequence[Brew], *more: Relation) -> list[Brew]:
    """Read what was measured and tasted of brews, where they stood, and more lists of theirs, in a question each."""
    attach(session, list({b.vessel_id: b.vessel for b in brews}.values()), Vessel.standings, beside=Standing.place)
    read_lately(session, brews)
    owned = [brew.liquid for brew in brews]
    for flows in (Liquid.additions, Liquid.inflows, Liquid.outflows):
        attach(session, owned, flows)
    attach(session, brews, Brew.readings, beside=Reading.tool)
    attach(session, brews, Brew.earlier, beside=BrewStay.vessel)
    attach(session, brews, Brew.tastings, beside=Tasting.taster)
    for relation in more:
        attach(session, brews, relation)
    return list(brews)


def brew_in(session: Session, vessel_id: int) -> Brew | None:
    """Find the living brew of a vessel."""
    return session.scalars(select(Brew).where(Brew.vessel_id == vessel_id, Brew.status.in_(LIVING))).first()


def filled_then(session: Session, vessel_id: int, since: datetime, until: datetime, but: int = 0) -> Brew | None:
    """Find a brew, other than one, that stood in a vessel at some time between two moments."""
    there = (Brew.vessel_id == vessel_id, Brew.id != but, Brew.pitched_at < until)
    return last_brew(session, *there, Brew.ended_at.is_(None) | (Brew.ended_at > since))


def standing_brews(session: Session) -> list[Brew]:
    """List brews that stand in a vessel, with vessel, place and line only, in the order of their places."""
    query = select(Brew).join(Brew.vessel).join(Vessel.place).where(Brew.status.in_(LIVING))
    query = query.options(contains_eager(Brew.vessel).contains_eager(Vessel.place), joinedload(Brew.culture))
    return list(session.scalars(query.order_by(Place.position, Place.id, Vessel.id)))


def struck_out(session: Session) -> list[tuple[str, Any]]:
    """List what lies in the bin, newest first: kind and record."""
    rows: list[tuple[str, Any]] = []
    kinds: tuple[tuple[str, Any], ...] = (
        ("reading", Reading), ("tasting", Tasting), ("look", Look), ("photo", Photo), ("note", Note), ("log", TemperatureLog)
    )  # fmt: skip
    for kind, model in kinds:
        rows += [(kind, row) for row in session.scalars(select(model).where(model.struck.is_(True)))]
    return sorted(rows, key=lambda pair: (pair[1].struck_at or pair[1].at, pair[1].id), reverse=True)


@once
def in_use(session: Session) -> tuple[set[int], set[int]]:
    """List the numbers of vessels and discs that a living brew has."""
    rows = session.execute(select(Brew.vessel_id, Brew.disc_id).where(Brew.status.in_(LIVING))).all()
    beside = session.scalars(select(BrewDisc.disc_id).where(BrewDisc.until.is_(None)))
    return {vessel for vessel, _ in rows}, {disc for _, disc in rows if disc is not None} | set(beside)


@once
def living_discs(session: Session) -> list[Disc]:
    """List the discs that did not end, oldest first."""
    query = select(Disc).where(Disc.ended_at.is_(None)).options(joinedload(Disc.born_brew).load_only(Brew.ended_at))
    return list(session.scalars(query.order_by(Disc.id)))


def living_lines(session: Session) -> set[int]:
    """Return the lines of which a disc, a starter or a brew lives, by their keys."""
    discs = select(Disc.culture_id).where(Disc.ended_at.is_(None))
    lots = select(StarterLot.culture_id).join(StarterLot.liquid).where(Liquid.ended_at.is_(None))
    return set(session.scalars(discs.union(lots, select(Brew.culture_id).where(Brew.status.in_(LIVING)))))


def ended_discs(session: Session, culture: Culture, most: int) -> list[Disc]:
    """List a line's discs that ended last, the oldest of them first."""
    query = select(Disc).where(Disc.culture_id == culture.id, Disc.ended_at.is_not(None))
    return list(session.scalars(query.order_by(Disc.ended_at.desc(), Disc.id.desc()).limit(most)))[::-1]


@once
def holders(session: Session) -> dict[int, int]:
    """Count by line the gifts that, as far as is known, still hold it."""
    rows = select(Gift.culture_id, func.count()).where(Gift.outward, Gift.still_holds).group_by(Gift.culture_id)
    return {int(line): int(count) for line, count in session.execute(rows)}


@once
def starter_lots(session: Session) -> list[StarterLot]:
    """List starter that is left, newest first."""
    query = (
        select(StarterLot)
        .join(StarterLot.liquid)
        .where(Liquid.ended_at.is_(None))
        .options(
            contains_eager(StarterLot.liquid),
            joinedload(StarterLot.culture),
            joinedload(StarterLot.source_brew).joinedload(Brew.vessel),
        )
        .order_by(StarterLot.made_at.desc())
    )
    return [lot for lot in session.scalars(query) if lot.left_l > LEAST_L]


def bottles(session: Session, *states: str) -> list[Bottle]:
    """List bottles in some states, oldest filling first."""
    rows = list(session.scalars(_BOTTLES, {"states": states}))
    attach(session, rows, Bottle.standings, beside=Standing.place)
    fillings = list({row.bottling_id: row.bottling for row in rows}.values())
    attach(session, fillings, Bottling.bottles)
    attach(session, fillings, Bottling.notes)
    attach(session, [bottle for filling in fillings for bottle in filling.bottles], Bottle.heard)
    return rows


def last_gone(session: Session, most: int) -> list[Bottle]:
    """List the bottles that left last, the newest first."""
    query = (
        select(Bottle)
        .where(Bottle.state == BottleState.GONE)
        .options(joinedload(Bottle.bottling).joinedload(Bottling.brew).joinedload(Brew.culture))
        .order_by(Bottle.gone_at.desc(), Bottle.id.desc())
        .limit(most)
    )
    return list(session.scalars(query))


def rooms(session: Session) -> list[Place]:
    """List places in which a brew may stand, in the order of the round."""
    return [place for place in places(session) if place.kind == PlaceKind.ROOM]


def fridge(session: Session) -> Place | None:
    """Find the household's fridge, the first on the round."""
    cold = select(Place).where(Place.kind == PlaceKind.FRIDGE).order_by(Place.position, Place.id)
    return session.scalars(cold).first()


def recipes(session: Session) -> list[KeptRecipe]:
    """List kept recipes by name."""
    return list(session.scalars(select(KeptRecipe).where(KeptRecipe.dropped_at.is_(None)).order_by(KeptRecipe.name)))


@once
def set_apart(session: Session) -> set[tuple[str, int]]:
    """List things in quarantine, by kind and number."""
    return {(row.kind, row.number) for row in session.scalars(select(Quarantine).where(Quarantine.lifted_at.is_(None)))}


@once
def tools(session: Session) -> list[Tool]:
    """List the kitchen's tools."""
    return list(session.scalars(select(Tool).order_by(Tool.kind, Tool.litres.desc(), Tool.id)))


def standing_tastings(session: Session, before: datetime) -> list[Tasting]:
    """List tastings that were not struck out, with all that a forecast of their brews reads."""
    brew = joinedload(Tasting.brew)
    query = (
        select(Tasting)
        .where(Tasting.struck.is_(False), Tasting.at <= before)
        .options(
            joinedload(Tasting.taster),
            brew.joinedload(Brew.vessel).joinedload(Vessel.place),
            brew.joinedload(Brew.liquid),
            brew.joinedload(Brew.culture),
        )
        .order_by(Tasting.at, Tasting.id)
    )
    rows = list(session.scalars(query))
    brews = list({row.brew.id: row.brew for row in rows}.values())
    with_records(session, brews)
    attach(session, list({brew.culture_id: brew.culture for brew in brews}.values()), Culture.brews)
    return rows


@once
def instruments(session: Session) -> list[Instrument]:
    """List instruments in use."""
    return list(session.scalars(_INSTRUMENTS))


def waiting(session: Session, now: datetime) -> list[PutOff]:
    """List what is put off until later than now."""
    return list(session.scalars(select(PutOff).where(PutOff.until > now).order_by(PutOff.until)))


def absence(session: Session) -> Away | None:
    """Find the absence that is not over."""
    return session.scalars(_ABSENCE).first()


@once
def planned_days(session: Session) -> list[PlannedDay]:
    """List planned days that still stand: their brew lives, or their vessel waits for one."""
    query = (
        select(PlannedDay)
        .where(PlannedDay.done_at.is_(None))
        .options(joinedload(PlannedDay.vessel), joinedload(PlannedDay.brew))
    )
    rows = session.scalars(query.order_by(PlannedDay.day, PlannedDay.id))
    return [row for row in rows if (row.brew.alive if row.brew else _waits(session, row))]


def _waits(session: Session, row: PlannedDay) -> bool:
    """Return whether a vessel had no brew since a day was planned for it."""
    return last_brew(session, Brew.vessel_id == row.vessel_id, Brew.pitched_at > row.at) is None


def last_brews(session: Session, *where: ColumnElement[bool], most: int = 1) -> list[Brew]:
    """List the last brews of which something holds, the newest first."""
    query = select(Brew).where(*where).order_by(Brew.pitched_at.desc(), Brew.id.desc())
    return list(session.scalars(query.limit(most)))


def last_brew(session: Session, *where: ColumnElement[bool]) -> Brew | None:
    """Find the last brew of which something holds."""
    return next(iter(last_brews(session, *where)), None)


def harvested(session: Session, culture: Culture) -> int:
    """Count a line's brews that were harvested."""
    query = select(func.count()).where(Brew.culture_id == culture.id, Brew.status == BrewStatus.HARVESTED)
    return int(session.scalar(query.select_from(Brew)) or 0)


def took_days(session: Session, culture: Culture, most: int) -> list[float]:
    """List how long a line's last harvested brews took. [d]"""
    query = select(Brew.pitched_at, Brew.ended_at).where(
        Brew.culture_id == culture.id, Brew.status == BrewStatus.HARVESTED, Brew.ended_at.is_not(None)
    )
    rows = session.execute(query.order_by(Brew.pitched_at.desc()).limit(most))
    return [(end - start).total_seconds() / 86400 for start, end in rows if end is not None]


def steps_between(session: Session, culture_id: int, since: datetime, until: datetime | None) -> list[Brew]:
    """List the brews by which a line was led to another diet, oldest first."""
    query = select(Brew).where(
        Brew.culture_id == culture_id, Brew.kind == KindOfBrew.CONVERSION, Brew.pitched_at >= since
    )
    if until is not None:
        query = query.where(Brew.pitched_at <= until)
    return list(session.scalars(query.options(*IN_PLACE).order_by(Brew.pitched_at)))


def measured(session: Session, culture: Culture, most: int) -> list[Brew]:
    """List the last brews of a line whose pH was read and that were not held back, oldest first, with all that their forecasts read."""
    told = select(Reading.liquid_id).where(Reading.ph.is_not(None), Reading.struck.is_(False))
    query = (
        select(Brew)
        .where(Brew.culture_id == culture.id, Brew.status != BrewStatus.HELD, Brew.liquid_id.in_(told))
        .options(*IN_PLACE)
    )
    last = list(session.scalars(query.order_by(Brew.pitched_at.desc()).limit(most)))
    return with_records(session, last[::-1])


def running_days(session: Session) -> list[BrewDay]:
    """List brew days that were begun and are not over."""
    return list(session.scalars(select(BrewDay).where(BrewDay.ended_at.is_(None)).order_by(BrewDay.started_at)))


def running_timers(session: Session) -> list[Timer]:
    """List timers that were not stopped, of brew days that are not over, soonest first."""
    return list(session.scalars(_TIMERS))
