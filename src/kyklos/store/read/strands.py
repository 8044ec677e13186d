"""What the braid is drawn from, as rows: few questions, written once, with moments as days from now, for there may be thousands."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from sqlalchemy import (
    Float,
    Integer,
    String,
    bindparam,
    cast,
    func,
    literal,
    null,
    or_,
    select,
    text,
    type_coerce,
    union_all,
)
from sqlalchemy.orm import Session

from ..records import Addition, Brew, BrewDisc, Culture, Disc, Gift, StarterLot, Transfer, UtcTime, Vessel
from .moments import ALWAYS

JULIAN_1970 = 2440587.5  #: Julian day of the clock's beginning. [d]
EVER = float("-inf")
SINCE = bindparam("since", type_=UtcTime)


def _day(column: Any) -> Any:
    """Let the database put a column of moments on the braid: thousands need no dates. [d from today]"""
    return cast(func.julianday(column), Float) - bindparam("today", type_=Float)


def asked(session: Session, query: Any, now: datetime, since: float = EVER, line: int = 0, **more: Any) -> Any:
    """Return the rows of one of the questions below.

    Args:
        session: Of the household.
        query: The question.
        now: The moment.
        since: What ended before is left out. [d from now]
        line: Number of a culture, where the question is of one line; 0: of all.
        more: What else the question asks for, by name.
    """
    first = ALWAYS if since == EVER else now + timedelta(days=since)
    return session.execute(query, {"today": now.timestamp() / 86400 + JULIAN_1970, "since": first, "line": line, **more}).all()


BREWS = select(
    Brew.id, Brew.culture_id, Vessel.name, type_coerce(Brew.pitched_at, String), _day(Brew.pitched_at),
    _day(Brew.ended_at), Brew.status, Brew.honey_share,
).join(Vessel, Vessel.id == Brew.vessel_id).where(or_(Brew.ended_at.is_(None), Brew.ended_at >= SINCE))  # fmt: skip
_born = func.coalesce(Disc.made_at, Brew.ended_at, Brew.pitched_at, Culture.started_at)
DISCS = (
    select(
        Disc.id, Disc.culture_id, Disc.name, type_coerce(_born, String), _day(_born), _day(Disc.ended_at), Disc.ended_as
    )
    .join(Culture, Culture.id == Disc.culture_id)
    .outerjoin(Brew, Brew.id == Disc.born_brew_id)
    .where(or_(Disc.ended_at.is_(None), Disc.ended_at >= SINCE))
)  # fmt: skip
#: Which liquid belongs to which line: what stands in vessels and what is kept as starter.
OWNED = union_all(
    select(Brew.liquid_id.label("liquid"), Brew.culture_id.label("line")),
    select(StarterLot.liquid_id, StarterLot.culture_id),
).subquery()
CHANGES = union_all(
    select(OWNED.c.line, _day(Addition.at), Addition.litres)
    .join(Addition, Addition.liquid_id == OWNED.c.liquid)
    .where(Addition.at >= SINCE),
    select(OWNED.c.line, _day(Transfer.at), Transfer.litres)
    .join(Transfer, Transfer.target_id == OWNED.c.liquid)
    .where(Transfer.at >= SINCE),
    select(OWNED.c.line, _day(Transfer.at), -Transfer.litres)
    .join(Transfer, Transfer.source_id == OWNED.c.liquid)
    .where(Transfer.at >= SINCE),
).order_by(text("1, 2"))  #: Of what lives of each line: line, day, litres more or less.


LINE = bindparam("line", type_=Integer)
_owned = union_all(
    select(Brew.liquid_id.label("liquid")).where(Brew.culture_id == LINE),
    select(StarterLot.liquid_id).where(StarterLot.culture_id == LINE),
).subquery()
_changes = union_all(
    select(_day(Addition.at).label("day"), Addition.litres.label("litres")).join(_owned, Addition.liquid_id == _owned.c.liquid),
    select(_day(Transfer.at), Transfer.litres).join(_owned, Transfer.target_id == _owned.c.liquid),
    select(_day(Transfer.at), -Transfer.litres).join(_owned, Transfer.source_id == _owned.c.liquid),
).subquery()
_running = select(func.sum(_changes.c.litres).over(order_by=_changes.c.day).label("lived")).subquery()
#: Of one line and of all times: the most that ever lived, what lives now, and the day of the last change. [L, L, d from today]
LIVED_OF_LINE = select(
    select(func.max(_running.c.lived)).scalar_subquery(), func.sum(_changes.c.litres), func.max(_changes.c.day)
)
_things = union_all(
    select(Brew.ended_at.label("ended")).where(Brew.culture_id == LINE),
    select(Disc.ended_at).where(Disc.culture_id == LINE),
).subquery()
#: How many brews and discs a line has, how many of them ended, and the day of the last end. [d from today]
THINGS_OF_LINE = select(func.count(), func.count(_things.c.ended), _day(func.max(_things.c.ended))).select_from(_things)
_beads = union_all(
    select(literal("brew").label("kind"), Brew.id.label("number"), Brew.pitched_at.label("began")).where(Brew.culture_id == LINE),
    select(literal("disc"), Disc.id, _born)
    .join(Culture, Culture.id == Disc.culture_id)
    .outerjoin(Brew, Brew.id == Disc.born_brew_id)
    .where(Disc.culture_id == LINE),
).subquery()
#: A page of a line's brews and discs, in order of time: their kind and number.
BEADS_OF_PAGE = (
    select(_beads.c.kind, _beads.c.number)
    .order_by(_beads.c.began, _beads.c.kind, _beads.c.number)
    .limit(bindparam("most", type_=Integer))
    .offset(bindparam("skipped", type_=Integer))
)
NUMBERS: Any = bindparam("numbers", expanding=True)
EVERY_BREW = (
    select(Brew.id, Vessel.name, Brew.pitched_at, Brew.ended_at, Brew.status, Brew.honey_share)
    .join(Vessel, Vessel.id == Brew.vessel_id)
    .where(Brew.id.in_(NUMBERS))
)
EVERY_DISC = (
    select(Disc.id, Disc.name, Disc.made_at, Disc.ended_at, Disc.ended_as, Culture.started_at, Brew.ended_at, Brew.pitched_at)
    .join(Culture, Culture.id == Disc.culture_id)
    .outerjoin(Brew, Brew.id == Disc.born_brew_id)
    .where(Disc.id.in_(NUMBERS))
)
GIFTS = select(Gift.culture_id, _day(Gift.at), Gift.outward).where(Gift.at >= SINCE)
POURED = (
    select(StarterLot.culture_id, Brew.culture_id, _day(Transfer.at))
    .join(Transfer, Transfer.source_id == StarterLot.liquid_id)
    .join(Brew, Brew.liquid_id == Transfer.target_id)
    .where(StarterLot.culture_id != Brew.culture_id, Transfer.at >= SINCE)
)
JOINED = (
    select(Disc.culture_id, Brew.culture_id, _day(BrewDisc.since))
    .join(BrewDisc, BrewDisc.disc_id == Disc.id)
    .join(Brew, Brew.id == BrewDisc.brew_id)
    .where(Disc.culture_id != Brew.culture_id, BrewDisc.since >= SINCE)
)


def _counted(word: Any, other: Any, at: Any) -> Any:
    """Ask how often something passed in one way from a line to another, and when it last did."""
    return select(word.label("word"), other.label("other"), func.count().label("times"), _day(func.max(at)).label("last"))


_other = null()
#: What passed from one line, of all times: the way, the other line where there is one, how often, and the last day. [d from today]
PASSED_OF_LINE = union_all(
    _counted(literal("received"), _other, Gift.at).where(Gift.culture_id == LINE, Gift.outward.is_(False)).having(func.count() > 0),
    _counted(literal("given"), _other, Gift.at).where(Gift.culture_id == LINE, Gift.outward).having(func.count() > 0),
    _counted(literal("poured into"), Brew.culture_id, Transfer.at)
    .select_from(StarterLot)
    .join(Transfer, Transfer.source_id == StarterLot.liquid_id)
    .join(Brew, Brew.liquid_id == Transfer.target_id)
    .where(StarterLot.culture_id == LINE, Brew.culture_id != LINE)
    .group_by(Brew.culture_id),
    _counted(literal("joined"), Brew.culture_id, BrewDisc.since)
    .select_from(Disc)
    .join(BrewDisc, BrewDisc.disc_id == Disc.id)
    .join(Brew, Brew.id == BrewDisc.brew_id)
    .where(Disc.culture_id == LINE, Brew.culture_id != LINE)
    .group_by(Brew.culture_id),
)


LINES = select(Culture.id, Culture.name, _day(Culture.started_at), Culture.parent_id).order_by(
    Culture.started_at, Culture.id
)


