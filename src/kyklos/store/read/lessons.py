"""Questions about lessons that are kept: which is to be learned next, what a line's ended brews taught."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import exists, func, select
from sqlalchemy.orm import Session, contains_eager, defer

from ...core.base.kinds import BrewStatus
from ..records import Brew, Culture, Lesson, Reading, TastedThen, Tasting

ENDED = Brew.ended_at.is_not(None)
_NEWEST = select(Lesson.brew_id).where(Lesson.stale, Lesson.rules == "").order_by(Lesson.brew_id.desc()).limit(1)
_OLDEST = select(Lesson.brew_id).where(Lesson.stale).order_by(Lesson.brew_id).limit(1)
MOST_TASTINGS = 120  #: So many of a tapped vessel, the last ones, teach: as many as are tasted in a year or two.
TASTED_BREWS = (
    150  #: So many brews of a style, the last ones, tell a taster's point: older tastings count next to nothing.
)


def tasted_then(session: Session, liquid: int) -> list[tuple[Tasting, float | None, float | None]]:
    """List a tapped vessel's last tastings, however long ago, with how sour it was where that is kept. [g/L, ln]"""
    query = (
        select(Tasting, TastedThen.ta_g_per_l, TastedThen.sd)
        .outerjoin(TastedThen, TastedThen.tasting_id == Tasting.id)
        .where(Tasting.liquid_id == liquid, Tasting.struck.is_(False))
        .order_by(Tasting.at.desc(), Tasting.id)
        .limit(MOST_TASTINGS)
    )
    return [(tasting, ta, sd) for tasting, ta, sd in session.execute(query)]


def pending(session: Session) -> tuple[int | None, bool]:
    """Find the brew whose lesson is to be learned next, and whether only its line's vigour is.

    First the vigour of all that were never learned, the newest first, for it needs no other lesson; then the rest, the oldest
    first, for that is judged by what the brews before it taught.
    """
    new = session.scalar(_NEWEST)
    return (new, True) if new is not None else (session.scalar(_OLDEST), False)


def after(session: Session, brew: Brew, most: int) -> list[int]:
    """List the line's next brews that ended, whose forecasts rest on what a brew taught."""
    query = select(Brew.id).where(Brew.culture_id == brew.culture_id, Brew.pitched_at > brew.pitched_at, ENDED)
    return list(session.scalars(query.order_by(Brew.pitched_at).limit(most)))


def next_revision(session: Session) -> int:
    """Return the number of the next lesson that is written."""
    return int(session.scalar(select(func.max(Lesson.revision))) or 0) + 1


def of_line(session: Session, culture: Culture, before: Any, most: int) -> list[Lesson]:
    """List the lessons of a line's last harvested brews that taught something, newest first."""
    query = (
        select(Lesson)
        .join(Lesson.brew)
        .options(contains_eager(Lesson.brew).load_only(Brew.tea), defer(Lesson.tests), defer(Lesson.tasted))
        .where(Brew.culture_id == culture.id, Brew.status == BrewStatus.HARVESTED, Lesson.yeast_vigour.is_not(None))
    )
    if before is not None:
        query = query.where(Brew.pitched_at < before)
    return list(session.scalars(query.order_by(Brew.pitched_at.desc(), Brew.id.desc()).limit(most)))


def measured(session: Session, culture: Culture, most: int) -> list[Lesson]:
    """List the lessons of a line's last brews whose pH was read, the newest first, with when each was started."""
    read = exists().where(Reading.liquid_id == Brew.liquid_id, Reading.ph.is_not(None), Reading.struck.is_(False))
    query = (
        select(Lesson)
        .join(Lesson.brew)
        .options(contains_eager(Lesson.brew).load_only(Brew.pitched_at), defer(Lesson.tests), defer(Lesson.tasted))
        .where(Brew.culture_id == culture.id, ENDED, Lesson.yeast_vigour.is_not(None), read)
    )
    return list(session.scalars(query.order_by(Brew.pitched_at.desc()).limit(most)))


def tasted(session: Session, jun: bool) -> list[list[Any]]:
    """List what the last brews of a style taught of its tasters: taster, score, moment, acidity and its spread."""
    query = (
        select(Lesson.tasted)
        .join(Lesson.brew)
        .where(Lesson.jun == jun, ENDED, Lesson.tasted != [])
        .order_by(Brew.ended_at.desc(), Brew.id.desc())
        .limit(TASTED_BREWS)
    )
    return [one for some in session.scalars(query) for one in some]


def by_brew(session: Session, numbers: Sequence[int]) -> dict[int, Lesson]:
    """Find the lessons of some brews that ended."""
    query = (
        select(Lesson)
        .join(Lesson.brew)
        .options(contains_eager(Lesson.brew))
        .where(Lesson.brew_id.in_(numbers), Lesson.rules != "", ENDED)
    )
    return {lesson.brew_id: lesson for lesson in session.scalars(query)}


def tests(session: Session, most: int) -> list[list[Any]]:
    """List how the forecasts of the last brews stood the test, newest brew first."""
    query = select(Lesson.tests).join(Lesson.brew).where(ENDED, Lesson.tests != []).order_by(Brew.pitched_at.desc())
    return list(session.scalars(query.limit(most)))
