"""Lists that belong to rows, read for many rows in one short question each.

SQLAlchemy's own eager loading works its options out again at every asking; on pages that read a handful of rows that costs more
than the rows. Here the question is written once for the life of the program.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Any, TypeAlias

from sqlalchemy import ColumnElement, Select, bindparam, inspect, select
from sqlalchemy.orm import InstrumentedAttribute, Session, joinedload
from sqlalchemy.orm.attributes import set_committed_value

from ..records import Base

Relation: TypeAlias = InstrumentedAttribute[Any]


@lru_cache(maxsize=64)
def _question(relation: Relation, beside: Relation | None, only: ColumnElement[bool] | None) -> tuple[Select[Any], str, str]:
    """Write the question for a list, and name the attributes that tell whose an entry is and which row that is."""
    prop = relation.property
    local, column = next(iter(prop.local_remote_pairs))
    kind = prop.mapper.class_
    owner = prop.mapper.get_property_by_column(column).key
    mine = prop.parent.get_property_by_column(local).key
    asked = select(kind).where(column.in_(bindparam("numbers", expanding=True))).order_by(*prop.order_by or ())
    asked = asked if only is None else asked.where(only)
    return (asked if beside is None else asked.options(joinedload(beside))), owner, mine


def attach(
    session: Session, rows: Sequence[Base], relation: Relation, beside: Relation | None = None, only: ColumnElement[bool] | None = None
) -> None:
    """Read a list of each row in one question, as touching it one by one would.

    Args:
        session: Where the rows are from.
        rows: Whose list is read; those that have it already keep theirs.
        relation: The list, for example `Brew.looks`.
        beside: What each entry belongs to besides, read along.
        only: What else the relation asks of an entry, written once for the life of the program.
    """
    question, owner, mine = _question(relation, beside, only)
    wanting = {getattr(row, mine): row for row in rows if relation.key in inspect(row).unloaded}
    if not wanting:
        return
    found: dict[int, list[Base]] = {number: [] for number in wanting}
    for entry in session.scalars(question, {"numbers": list(wanting)}):
        found[getattr(entry, owner)].append(entry)
    for number, row in wanting.items():
        set_committed_value(row, relation.key, found[number])
