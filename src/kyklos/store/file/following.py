"""Following a file that was written to: of what a kept session holds, only what the writes touched is read anew.

Each change keeps the rows that it wrote, before and after. Of these follow the rows that are outdated, the lists they stand in now or stood
in before, and the questions that asked their tables. What no change keeps (lessons, what is computed) is outdated by every write.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from functools import cache
from typing import Any, NamedTuple

from sqlalchemy import Column, func, inspect, select
from sqlalchemy.orm import Mapper, RelationshipProperty, Session, configure_mappers

from ..records import Change, DeviceLanding, Lesson, OutdoorHour, Reading, TemperatureLog, Touched
from ..records.base import Base
from .journal import UNKEPT
from .session import FileState, HouseSession, tables_of

MOST_CHANGES, MOST_WRITTEN = 12, 300  #: Beyond this all is read anew: changes since, and rows that they wrote.
UNDONE = select(func.count()).where(Change.undone_at.is_not(None)).select_from(Change).scalar_subquery()
STALE = select(func.count()).where(Lesson.stale.is_(True)).select_from(Lesson).scalar_subquery()
STATE = select(func.max(Change.id), UNDONE, select(func.max(Lesson.revision)).scalar_subquery(), STALE, select(func.max(DeviceLanding.id)).scalar_subquery())
LANDED = {Reading.__tablename__, TemperatureLog.__tablename__, OutdoorHour.__tablename__}  #: Tables that devices' readings write.
OFTEN = frozenset(kind.__tablename__ for kind in UNKEPT if kind is not Lesson)  #: Tables that no change keeps the rows of.


class Written(NamedTuple):
    """A row that a change wrote."""

    table: str
    number: int
    before: dict[str, Any] | None
    after: dict[str, Any] | None


class Reach(NamedTuple):
    """A list or row that belongs to a record and is found by a column of a table."""

    owner: type[Base]
    key: str  #: The attribute.
    local: str | None  #: The owner's attribute that the column is held against; None: by way of a table between.
    column: str


def state_of(session: Session) -> FileState:
    """Ask in which state the file is."""
    row = session.execute(STATE, execution_options={"anew": True}).one()
    return FileState(str(session.get_bind().engine.url), *row)


def states_for(session: Session, state: FileState, several: Sequence[Sequence[type[Base]]]) -> list[FileState]:
    """Return for several sets of kinds the state in which the file was when a row of them was last written; lessons do not count."""
    names = [[kind.__tablename__ for kind in kinds] for kinds in several]
    written = [select(func.max(Touched.change_id)).where(Touched.name.in_(some), Touched.refers.is_(False)).scalar_subquery() for some in names]
    row = session.execute(select(*written)).one()
    return [
        state._replace(change=last, lesson=None, stale=0, landed=state.landed if LANDED & set(some) else None)
        for last, some in zip(row, names, strict=True)
    ]


def follow(session: HouseSession, was: FileState, now: FileState) -> bool:
    """Let go of what was written in a kept session since a state; False where it is to begin anew.

    Something taken back, something deleted, or a great deal of it: then all is read anew.
    """
    if now == was:
        return True
    if was.file != now.file or now.undone != was.undone or (now.change or 0) < (was.change or 0):
        return False
    written = _written_since(session, was.change or 0)
    landed = _landed_since(session, was.landed or 0) if was.landed != now.landed else []
    written = None if written is None or landed is None else [*written, *landed]
    if written is None or any(row.after is None for row in written):
        return False
    learned = (now.lesson, now.stale) != (was.lesson, was.stale)
    session.forget(OFTEN | {row.table for row in written} | ({Lesson.__tablename__} if learned else set()))
    _outdate_rows(session, written, UNKEPT if learned else tuple(kind for kind in UNKEPT if kind is not Lesson))
    _outdate_lists(session, written)
    return True


def _written_since(session: Session, change: int) -> list[Written] | None:
    query = select(Change.rows).where(Change.id > change).order_by(Change.id).limit(MOST_CHANGES + 1)
    found = session.execute(query, execution_options={"anew": True}).scalars().all()
    written = [Written(*row) for rows in found for row in rows]
    return None if len(found) > MOST_CHANGES or len(written) > MOST_WRITTEN else written


def _landed_since(session: Session, landing: int) -> list[Written] | None:
    """List the rows that devices' readings wrote since; None where that is too much, or not known any more."""
    query = select(DeviceLanding.id, DeviceLanding.name, DeviceLanding.number).where(DeviceLanding.id > landing).order_by(DeviceLanding.id)
    found = session.execute(query.limit(MOST_WRITTEN + 1), execution_options={"anew": True}).all()
    if len(found) > MOST_WRITTEN or (found and found[0].id != landing + 1):
        return None
    tables = {(row.name, row.number) for row in found}
    out = []
    for name, number in sorted(tables):
        table = Base.metadata.tables[name]
        row = session.execute(select(table).where(table.c.id == number), execution_options={"anew": True}).mappings().first()
        now = None if row is None else dict(row)
        out.append(Written(name, number, now, now))
    return out


def _outdate_rows(session: HouseSession, written: Sequence[Written], unkept: tuple[type[Base], ...]) -> None:
    """Outdate the rows themselves, what no change keeps, and those of which a sum over what was written is told; read them in one go."""
    classes = _classes()
    numbers: dict[type[Base], set[int]] = defaultdict(set)
    for row in written:
        numbers[classes[row.table]].add(row.number)
        for owner, column in _sums().get(row.table, ()):
            numbers[owner] |= {one[column] for one in (row.before, row.after) if one is not None and one[column] is not None}
    outdated: dict[type[Base], list[int]] = defaultdict(list)
    for thing in list(session.identity_map.values()):
        kind: Any = type(thing)
        if issubclass(kind, unkept):
            session.expire(thing)
        elif (mine := numbers.get(kind)) and (number := inspect(thing).identity[0]) in mine:
            session.expire(thing)
            outdated[kind].append(number)
    for kind, some in outdated.items():
        session.execute(select(kind).where(kind.id.in_(some)), execution_options={"anew": True}).scalars().all()


def _outdate_lists(session: HouseSession, written: Sequence[Written]) -> None:
    """Outdate the lists that a row stands in now, or stood in before."""
    held: dict[type[Base], dict[Reach, set[Any]]] = defaultdict(lambda: defaultdict(set))
    for row in written:
        for reach in _reaches().get(row.table, ()):
            held[reach.owner][reach] |= {one.get(reach.column) for one in (row.before, row.after) if one is not None}
    for thing in list(session.identity_map.values()):
        kind: Any = type(thing)
        mine, known = held.get(kind), inspect(thing).dict
        lost = [reach.key for reach, values in (mine or {}).items() if reach.key in known and _meets(known, reach, values)]
        if lost:
            session.expire(thing, lost)


def _meets(known: dict[str, Any], reach: Reach, values: set[Any]) -> bool:
    return reach.local is None or reach.local not in known or known[reach.local] in values


@cache
def _classes() -> dict[str, type[Base]]:
    return {mapper.local_table.name: mapper.class_ for mapper in _mappers()}  # type: ignore[attr-defined]


@cache
def _sums() -> dict[str, list[tuple[type[Base], str]]]:
    """Return, by table, of which records a sum over its rows is told, and the column that says of which one."""
    out: dict[str, list[tuple[type[Base], str]]] = defaultdict(list)
    for mapper in _mappers():
        told = [tables_of(one.columns[0]) or () for one in mapper.column_attrs if not isinstance(one.columns[0], Column)]
        for table in set().union(*told) - {mapper.local_table.name}:  # type: ignore[attr-defined]
            for key in Base.metadata.tables[table].foreign_keys:
                if key.column.table is mapper.local_table:
                    out[table].append((mapper.class_, key.parent.name))
    return dict(out)


@cache
def _reaches() -> dict[str, list[Reach]]:
    """Return, by table, the lists in which a row of it may stand."""
    out: dict[str, list[Reach]] = defaultdict(list)
    for mapper in _mappers():
        for relation in mapper.relationships:
            for table, reach in _of(mapper, relation):
                out[table].append(reach)
    return dict(out)


def _of(mapper: Mapper[Any], relation: RelationshipProperty[Any]) -> Iterable[tuple[str, Reach]]:
    if relation.secondary is not None:
        yield relation.secondary.name, Reach(mapper.class_, relation.key, None, "id")  # type: ignore[attr-defined]
        return
    local, remote = relation.local_remote_pairs[0]
    yield remote.table.name, Reach(mapper.class_, relation.key, mapper.get_property_by_column(local).key, remote.name)


def _mappers() -> list[Mapper[Any]]:
    configure_mappers()
    return list(Base.registry.mappers)
