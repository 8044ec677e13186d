"""Questions to the household's records."""

from __future__ import annotations

from datetime import datetime
from typing import Any, TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session, contains_eager, defer, joinedload, selectinload

from ..core.errors import KyklosError
from .models import (
    Away,
    Base,
    Bottle,
    Bottling,
    Brew,
    BrewDay,
    BrewDisc,
    Culture,
    Instrument,
    KeptRecipe,
    Look,
    Note,
    Photo,
    Place,
    PlannedDay,
    PutOff,
    Quarantine,
    Reading,
    StarterLot,
    Tasting,
    TemperatureLog,
    Timer,
    Tool,
    Vessel,
)

R = TypeVar("R", bound=Base)

LIGHT = (defer(Brew.plan), defer(Brew.facts))  #: A list of brews needs no plans.
#: What a forecast of an earlier brew reads.
PAST = (
    selectinload(Brew.readings).joinedload(Reading.tool),
    selectinload(Brew.tastings).joinedload(Tasting.taster),
    joinedload(Brew.vessel).joinedload(Vessel.place),
)
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


def places(session: Session) -> list[Place]:
    """List places in the order of the round."""
    return list(session.scalars(select(Place).order_by(Place.position, Place.id)))


def vessels(session: Session) -> list[Vessel]:
    """List vessels in the order of their places."""
    return list(session.scalars(select(Vessel).join(Place).order_by(Place.position, Place.id, Vessel.id)))


def cultures(session: Session) -> list[Culture]:
    """List culture lines, oldest first."""
    query = select(Culture).options(selectinload(Culture.discs)).order_by(Culture.started_at, Culture.id)
    return list(session.scalars(query))


def living_brews(session: Session) -> list[Brew]:
    """List brews that stand in a vessel, in the order of their places, with all that a forecast of them reads."""
    query = (
        select(Brew)
        .join(Vessel)
        .join(Place)
        .where(Brew.status.in_(("held", "fermenting")))
        .options(
            *LIGHT,
            contains_eager(Brew.vessel).contains_eager(Vessel.place),
            joinedload(Brew.culture),
            selectinload(Brew.looks),
            selectinload(Brew.overrules),
            selectinload(Brew.readings).joinedload(Reading.tool),
            selectinload(Brew.tastings).joinedload(Tasting.taster),
        )
        .order_by(Place.position, Place.id, Vessel.id)
    )
    return list(session.scalars(query).unique())


def brew_in(session: Session, vessel_id: int) -> Brew | None:
    """Find the living brew of a vessel."""
    return session.scalars(
        select(Brew).where(Brew.vessel_id == vessel_id, Brew.status.in_(("held", "fermenting")))
    ).first()


def standing_brews(session: Session) -> list[Brew]:
    """List brews that stand in a vessel, with vessel, place and line only, in the order of their places."""
    query = select(Brew).join(Vessel).join(Place).where(Brew.status.in_(("held", "fermenting")))
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


def in_use(session: Session) -> tuple[set[int], set[int]]:
    """List the numbers of vessels and discs that a living brew has; asked once a session."""
    if "in_use" in session.info:
        known: tuple[set[int], set[int]] = session.info["in_use"]
        return known
    rows = session.execute(select(Brew.vessel_id, Brew.disc_id).where(Brew.status.in_(("held", "fermenting")))).all()
    beside = session.scalars(select(BrewDisc.disc_id).where(BrewDisc.until.is_(None)))
    found = {vessel for vessel, _ in rows}, {disc for _, disc in rows if disc is not None} | set(beside)
    session.info["in_use"] = found
    return found


def starter_lots(session: Session) -> list[StarterLot]:
    """List starter that is left, newest first."""
    query = (
        select(StarterLot)
        .where(StarterLot.left_l > 0.005)
        .options(joinedload(StarterLot.culture), joinedload(StarterLot.source_brew).joinedload(Brew.vessel))
        .order_by(StarterLot.made_at.desc())
    )
    return list(session.scalars(query))


def bottles(session: Session, *states: str) -> list[Bottle]:
    """List bottles in some states, oldest filling first."""
    query = (
        select(Bottle)
        .join(Bottling)
        .where(Bottle.state.in_(states))
        .options(
            selectinload(Bottle.moves),
            joinedload(Bottle.bottling).selectinload(Bottling.bottles),
            joinedload(Bottle.bottling).joinedload(Bottling.brew).options(*LIGHT, joinedload(Brew.culture)),
            joinedload(Bottle.bottling).joinedload(Bottling.place),
        )
        .order_by(Bottling.at, Bottling.id, Bottle.id)
    )
    return list(session.scalars(query))


def recipes(session: Session) -> list[KeptRecipe]:
    """List kept recipes by name."""
    return list(session.scalars(select(KeptRecipe).where(KeptRecipe.dropped_at.is_(None)).order_by(KeptRecipe.name)))


def set_apart(session: Session) -> set[tuple[str, int]]:
    """List things in quarantine, by kind and number; asked once a session."""
    if "set_apart" not in session.info:
        rows = session.scalars(select(Quarantine).where(Quarantine.lifted_at.is_(None)))
        session.info["set_apart"] = {(row.kind, row.number) for row in rows}
    return set(session.info["set_apart"])


def tools(session: Session) -> list[Tool]:
    """List the kitchen's tools; asked once a session, which lives for one page or action."""
    if "tools" not in session.info:
        session.info["tools"] = list(session.scalars(select(Tool).order_by(Tool.kind, Tool.litres.desc(), Tool.id)))
    return list(session.info["tools"])


def standing_tastings(session: Session, before: datetime) -> list[Tasting]:
    """List tastings that were not struck out, with all that a forecast of their brews reads."""
    brew = joinedload(Tasting.brew)
    query = (
        select(Tasting)
        .where(Tasting.struck.is_(False), Tasting.at <= before)
        .options(
            joinedload(Tasting.taster),
            brew.selectinload(Brew.readings).joinedload(Reading.tool),
            brew.joinedload(Brew.vessel).joinedload(Vessel.place),
            brew.joinedload(Brew.culture).selectinload(Culture.brews),
        )
        .order_by(Tasting.at, Tasting.id)
    )
    return list(session.scalars(query))


def instruments(session: Session) -> list[Instrument]:
    """List instruments in use; asked once a session."""
    if "instruments" not in session.info:
        query = select(Instrument).where(Instrument.retired_at.is_(None)).options(selectinload(Instrument.calibrations))
        session.info["instruments"] = list(session.scalars(query.order_by(Instrument.id)))
    return list(session.info["instruments"])


def waiting(session: Session, now: datetime) -> list[PutOff]:
    """List what is put off until later than now."""
    return list(session.scalars(select(PutOff).where(PutOff.until > now).order_by(PutOff.until)))


def absence(session: Session) -> Away | None:
    """Find the absence that is not over."""
    return session.scalars(select(Away).where(Away.back_at.is_(None)).order_by(Away.id.desc())).first()


def planned_days(session: Session) -> list[PlannedDay]:
    """List planned days that still stand: their brew lives, or their vessel waits for one."""
    query = (
        select(PlannedDay)
        .where(PlannedDay.done_at.is_(None))
        .options(joinedload(PlannedDay.vessel), joinedload(PlannedDay.brew))
    )
    rows = session.scalars(query.order_by(PlannedDay.day, PlannedDay.id))
    return [
        row for row in rows if (row.brew.alive if row.brew else all(b.pitched_at <= row.at for b in row.vessel.brews))
    ]


def with_past(session: Session, culture: Culture) -> list[Brew]:
    """List a line's brews, oldest first, with all that their forecasts read, in few questions."""
    query = select(Brew).where(Brew.culture_id == culture.id).options(*PAST).order_by(Brew.pitched_at)
    return list(session.scalars(query))


def measured(session: Session, culture: Culture, most: int) -> list[Brew]:
    """List the last brews of a line whose pH was read and that were not held back, oldest first, with all that their forecasts read."""
    told = select(Reading.brew_id).where(Reading.ph.is_not(None), Reading.struck.is_(False))
    query = select(Brew).where(Brew.culture_id == culture.id, Brew.status != "held", Brew.id.in_(told)).options(*PAST)
    return list(session.scalars(query.order_by(Brew.pitched_at.desc()).limit(most)))[::-1]


def running_days(session: Session) -> list[BrewDay]:
    """List brew days that were begun and are not over."""
    return list(session.scalars(select(BrewDay).where(BrewDay.ended_at.is_(None)).order_by(BrewDay.started_at)))


def running_timers(session: Session) -> list[Timer]:
    """List timers that were not stopped, of brew days that are not over, soonest first."""
    query = select(Timer).join(BrewDay).where(Timer.stopped_at.is_(None), BrewDay.ended_at.is_(None))
    return list(session.scalars(query.options(joinedload(Timer.day)).order_by(Timer.ends_at)))
