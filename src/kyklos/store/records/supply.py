"""Records of enough to drink: what was bought and counted, the shopping list, wishes and guests."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import CheckConstraint, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from .base import Base


class Purchase(Base):
    """Something that was bought."""

    __tablename__ = "purchase"
    __table_args__ = (Index("ix_purchase_good", "kind", "key"), CheckConstraint("amount > 0", name="amount"))
    kind: Mapped[str]  #: A GoodKind.
    key: Mapped[str]  #: Of the good; of what only the household knows, its name.
    amount: Mapped[float]  #: [g or pieces]
    price: Mapped[float | None]  #: Of all of it, in the household's own money; None: nobody said.
    day: Mapped[date] = mapped_column(index=True)
    best_before: Mapped[date | None] = mapped_column(index=True)
    at: Mapped[datetime]
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}


class CupboardCount(Base):
    """How much of a good somebody found in the cupboard."""

    __tablename__ = "cupboard_count"
    __table_args__ = (Index("ix_cupboard_count_good", "kind", "key"), CheckConstraint("amount >= 0", name="amount"))
    kind: Mapped[str]
    key: Mapped[str]
    amount: Mapped[float]  #: [g or pieces]
    day: Mapped[date]
    at: Mapped[datetime]


class ListItem(Base):
    """Something written on the shopping list by hand, or ticked off it."""

    __tablename__ = "list_item"
    kind: Mapped[str]
    key: Mapped[str]
    amount: Mapped[float]  #: To be bought. [g or pieces]
    at: Mapped[datetime]
    ended_at: Mapped[datetime | None] = mapped_column(index=True)  #: When it was bought, or taken off the list.
    purchase_id: Mapped[int | None] = mapped_column(ForeignKey("purchase.id"))  #: What it became.
    purchase: Mapped[Purchase | None] = relationship()


class Wished(Base):
    """Litres wished for besides what is drunk anyway: guests, a gift, more in a warm month."""

    __tablename__ = "wished"
    kind: Mapped[str]  #: A key of core/supply/wishes.py: WISHES
    day: Mapped[date]
    until: Mapped[date | None] = mapped_column(index=True)  #: Last day of a span; None: that day alone.
    litres: Mapped[float]  #: That day, or each day of the span. [L]
    people: Mapped[int | None]
    glasses: Mapped[float | None]  #: Of each.
    words: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime]
    ended_at: Mapped[datetime | None]  #: When it was called off.
