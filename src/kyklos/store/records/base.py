"""What every table shares: a number, names of constraints by rule, moments in UTC."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import JSON, DateTime, Float, MetaData, TypeDecorator
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

from ...core.base.kinds import NoteOn

LAYOUT = "0033"  #: The newest migration; a test holds the two together.
NAMING = {
    "ix": "ix_%(table_name)s_%(column_0_name)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


class UtcTime(TypeDecorator[datetime]):
    """A moment, kept in UTC and given back with its zone."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Any) -> datetime | None:
        """Store in UTC, without a zone."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Any) -> datetime | None:
        """Give back in UTC, with its zone."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """Every record has a number; names of constraints are made by rule."""

    metadata = MetaData(naming_convention=NAMING)
    type_annotation_map = {datetime: UtcTime, float: Float, dict[str, Any]: JSON, list[Any]: JSON}

    id: Mapped[int] = mapped_column(primary_key=True)


def of_brew(kind: str, many: str) -> Any:
    """Relate a record of a liquid to the brew whose liquid it is."""
    return relationship(
        "Brew",
        primaryjoin=f"foreign({kind}.liquid_id) == remote(Brew.liquid_id)",
        back_populates=many,
        uselist=False,
        viewonly=True,
    )


def of_liquid(kind: str, one: str, order: str) -> Any:
    """Relate a brew to the records of its liquid."""
    return relationship(
        kind,
        primaryjoin=f"Brew.liquid_id == foreign({kind}.liquid_id)",
        back_populates=one,
        order_by=order,
        viewonly=True,
    )


def notes_on(kind: str, about: NoteOn) -> Any:
    """Relate a record to the notes about it: its table and number stand in each."""
    return relationship(
        "Note",
        primaryjoin=f"and_({kind}.id == foreign(Note.about_id), Note.about == '{about}')",
        order_by="Note.at, Note.id",
        viewonly=True,
    )
