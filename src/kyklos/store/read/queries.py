"""Questions to the household's records."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any, TypeVar

from sqlalchemy import ColumnElement, bindparam, select
from sqlalchemy.orm import Session, contains_eager, defer, joinedload, load_only

from ...core.base import KyklosError
from ...core.base.kinds import LIVING, BottleState, BrewStatus, NoteOn
from ...core.liquid.standing import PlaceKind
from ..records import (
    Base,
    BlindTasting,
    Bottle,
    Bottling,
    Brew,
    BrewStay,
    Change,
    Comparison,
    Culture,
    DataKey,
    Household,
    KeptLiquid,
    Look,
    Note,
    Photo,
    PhotoContent,
    Place,
    Reading,
    SheetShape,
    Standing,
    Taster,
    Tasting,
    TemperatureLog,
    Trial,
    Vessel,
)
from .attach import Relation, attach
from .lately import read_lately
from .memory import once

R = TypeVar("R", bound=Base)

_OF_FILLING = Note.about == NoteOn.FILLING
LIGHT = (defer(Brew.plan), defer(Brew.facts))  #: A list of brews needs no plans.
#: A forecast reads where a brew stands and what is in it.
IN_PLACE = (joinedload(Brew.vessel).joinedload(Vessel.place), joinedload(Brew.liquid))

# Questions that nearly every page asks, written once: to write one costs about as much as to ask it.
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

_HOUSEHOLD, _TASTERS = select(Household), select(Taster).order_by(Taster.position, Taster.id)
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
    "KitchenDay": "day in the kitchen",
    "Tool": "tool",
    "Timer": "timer",
    "Instrument": "instrument",
    "PutOff": "put-off thing",
    "Away": "absence",
    "PlannedDay": "planned day",
    "Purchase": "purchase",
    "CupboardCount": "count",
    "ListItem": "line of the list",
    "Wished": "wish",
    "KeptLesson": "lesson",
    "Experiment": "experiment",
    "CareRhythm": "rhythm",
    "CareTaken": "care",
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


def places(session: Session) -> list[Place]:
    """List places in the order of the round."""
    return list(session.scalars(select(Place).order_by(Place.position, Place.id)))


@once
def vessels(session: Session) -> list[Vessel]:
    """List vessels in the order of their places."""
    return list(session.scalars(select(Vessel).join(Vessel.place).order_by(Place.position, Place.id, Vessel.id)))


@once
def living_brews(session: Session) -> list[Brew]:
    """List brews that stand in a vessel, in the order of their places, with all that a forecast of them reads."""
    return with_records(session, list(session.scalars(_LIVING)), Brew.looks, Brew.overrules)


def with_records(session: Session, brews: Sequence[Brew], *more: Relation) -> list[Brew]:
    """Read what was measured and tasted of brews, where they stood, and more lists of theirs, in a question each."""
    attach(session, list({b.vessel_id: b.vessel for b in brews}.values()), Vessel.standings, beside=Standing.place)
    read_lately(session, brews)
    owned = [brew.liquid for brew in brews]
    for flows in (KeptLiquid.additions, KeptLiquid.inflows, KeptLiquid.outflows):
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


def bottles(session: Session, *states: str) -> list[Bottle]:
    """List bottles in some states, oldest filling first."""
    rows = list(session.scalars(_BOTTLES, {"states": states}))
    attach(session, rows, Bottle.standings, beside=Standing.place)
    fillings = list({row.bottling_id: row.bottling for row in rows}.values())
    attach(session, fillings, Bottling.bottles)
    attach(session, fillings, Bottling.notes, only=_OF_FILLING)
    attach(session, [bottle for filling in fillings for bottle in filling.bottles], Bottle.heard)
    return rows


def bottles_of(session: Session, numbers: Sequence[int]) -> list[Bottle]:
    """List bottles by their numbers, with all that is asked of bottles that stand."""
    there = bottles(session, BottleState.WARM, BottleState.COLD)
    wanted = set(numbers)
    return [bottle for bottle in there if bottle.id in wanted]


def any_bottle(session: Session, *states: str) -> bool:
    """Return whether a bottle stands in one of some states."""
    return session.scalar(select(Bottle.id).where(Bottle.state.in_(states)).limit(1)) is not None


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


def last_brews(session: Session, *where: ColumnElement[bool], most: int = 1) -> list[Brew]:
    """List the last brews of which something holds, the newest first."""
    query = select(Brew).where(*where).order_by(Brew.pitched_at.desc(), Brew.id.desc())
    return list(session.scalars(query.limit(most)))


def last_brew(session: Session, *where: ColumnElement[bool]) -> Brew | None:
    """Find the last brew of which something holds."""
    return next(iter(last_brews(session, *where)), None)




def harvested_lately(session: Session, most: int) -> list[Brew]:
    """List brews that were harvested, the newest first."""
    return last_brews(session, Brew.status == BrewStatus.HARVESTED, most=most)


def brews_since(session: Session, since: datetime) -> list[Brew]:
    """List brews that live or ended after a moment, the oldest first."""
    query = select(Brew).where((Brew.ended_at.is_(None)) | (Brew.ended_at > since)).order_by(Brew.pitched_at)
    return list(session.scalars(query.options(joinedload(Brew.culture))))


def brews_between(session: Session, since: datetime, until: datetime) -> list[Brew]:
    """List brews that stood at some time between two moments, the oldest first."""
    query = select(Brew).where(Brew.pitched_at < until, (Brew.ended_at.is_(None)) | (Brew.ended_at > since)).order_by(Brew.pitched_at)
    return list(session.scalars(query.options(joinedload(Brew.culture))))


def photo_content(session: Session, sha: str) -> PhotoContent | None:
    """Find a photo's content by its sum."""
    return session.scalars(select(PhotoContent).where(PhotoContent.sha == sha)).first()


def blind_tastings(session: Session, most: int) -> list[BlindTasting]:
    """List blind tastings, the newest first."""
    return list(session.scalars(select(BlindTasting).order_by(BlindTasting.at.desc()).limit(most)))


def comparisons(session: Session, most: int) -> list[Comparison]:
    """List glasses tasted side by side, the newest first."""
    return list(session.scalars(select(Comparison).order_by(Comparison.id.desc()).limit(most)))


def trials_of(session: Session, brew_id: int, most: int) -> list[Trial]:
    """List the trials on the bench with a brew, the newest first."""
    return list(session.scalars(select(Trial).where(Trial.brew_id == brew_id).order_by(Trial.id.desc()).limit(most)))


def data_keys(session: Session) -> list[DataKey]:
    """List the keys of the live tables."""
    return list(session.scalars(select(DataKey).order_by(DataKey.id), execution_options={"anew": True}))


def sheet_shapes(session: Session) -> list[SheetShape]:
    """List what was said of spreadsheets, the latest first."""
    return list(session.scalars(select(SheetShape).order_by(SheetShape.at.desc(), SheetShape.id.desc()), execution_options={"anew": True}))
