"""The day book, as it is kept: changes in order, what of the household each touched, and what builds on which."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import ColumnElement, and_, or_, select
from sqlalchemy.orm import Session, aliased, defer, joinedload

from ..records import Brew, Change, Touched
from ..records.base import LAYOUT

#: Things of the household that the day book can be read by: the table that each is kept in.
THINGS = ("brew", "vessel", "culture", "starter_lot", "disc", "bottling", "place")


def changes(session: Session, before: int | None, most: int, thing: tuple[str, int] | None = None) -> list[Change]:
    """List the last changes, the newest first, without the rows that they wrote.

    Args:
        session: Of the household.
        before: Only those older than this one; None: from the newest on.
        most: So many.
        thing: Only those that touched it: its table and number.
    """
    query = select(Change).options(defer(Change.rows)).order_by(Change.at.desc(), Change.id.desc()).limit(most)
    if before is not None and (last := session.get(Change, before)) is not None:
        query = query.where(or_(Change.at < last.at, and_(Change.at == last.at, Change.id < last.id)))
    if thing is not None:
        query = query.where(Change.id.in_(select(Touched.change_id).where(_of(session, thing))))
    return list(session.scalars(query))


def _of(session: Session, thing: tuple[str, int]) -> ColumnElement[bool]:
    """Rows that are of a thing: its own, and of a brew those of its liquid."""
    kind, number = thing
    own = and_(Touched.name == kind, Touched.number == number)
    liquid = session.scalar(select(Brew.liquid_id).where(Brew.id == number)) if kind == "brew" else None
    return own if liquid is None else or_(own, and_(Touched.name == "liquid", Touched.number == liquid))


def touched_by(session: Session, numbers: Sequence[int]) -> dict[int, list[tuple[str, int]]]:
    """List what of the household some changes touched: brews by their liquids too."""
    out: dict[int, list[tuple[str, int]]] = {number: [] for number in numbers}
    rows = session.execute(
        select(Touched.change_id, Touched.name, Touched.number)
        .where(Touched.change_id.in_(numbers), Touched.name.in_(THINGS))
        .order_by(Touched.change_id, Touched.id)
    )
    for change, name, number in rows:
        out[change].append((name, number))
    liquids = session.execute(
        select(Touched.change_id, Brew.id)
        .join(Brew, and_(Touched.name == "liquid", Touched.number == Brew.liquid_id))
        .where(Touched.change_id.in_(numbers))
    )
    for change, number in liquids:
        if ("brew", number) not in out[change]:
            out[change].append(("brew", number))
    return out


def brew_days_of(session: Session, numbers: Sequence[int]) -> dict[int, int]:
    """Return to which brew day some changes belong, by change: its steps, its timers, what was written down on the way."""
    query = select(Touched.change_id, Touched.number).where(Touched.change_id.in_(numbers), Touched.name == "brew_day")
    return {row.change_id: row.number for row in session.execute(query)}


def brews(session: Session, numbers: set[int]) -> list[Brew]:
    """Read brews with their vessels and lines, so that they are there when they are named."""
    query = select(Brew).where(Brew.id.in_(numbers)).options(joinedload(Brew.vessel), joinedload(Brew.culture))
    return list(session.scalars(query))


def builds_on(session: Session, change: Change) -> Change | None:
    """Find the last change that wrote again what a change wrote, or rests on what it made; None where nothing does."""
    written = {(table, number) for table, number, _, _ in change.rows}
    made = {(table, number) for table, number, before, _ in change.rows if before is None}
    if not written:
        return None
    conditions = [and_(Touched.name == table, Touched.number == number, ~Touched.refers) for table, number in written]
    conditions += [and_(Touched.name == table, Touched.number == number, Touched.refers) for table, number in made]
    query = (
        select(Change)
        .join(Touched, Touched.change_id == Change.id)
        .where(Change.id > change.id, Change.undone_at.is_(None), or_(*conditions))
        .options(defer(Change.rows))
        .order_by(Change.id.desc())
        .limit(1)
    )
    return session.scalars(query).first()


def undoable(session: Session, rows: Sequence[Change]) -> set[int]:
    """List which of some changes can be undone now: of today's layout, not undone, and nothing builds on them."""
    able = {row.id for row in rows if row.undone_at is None and row.layout == LAYOUT}
    later, on = aliased(Touched), aliased(Change)
    same = and_(later.name == Touched.name, later.number == Touched.number, later.change_id > Touched.change_id)
    built = (
        select(Touched.change_id)
        .join(later, same)
        .join(on, on.id == later.change_id)
        .where(Touched.change_id.in_(able), ~Touched.refers, or_(~later.refers, Touched.made), on.undone_at.is_(None))
        .distinct()
    )
    return able - set(session.scalars(built))
