"""Records of liquids: what is kept, how it passed, what was put in. Volume left is a sum, never a stored number."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint, func, select
from sqlalchemy.orm import Mapped, column_property, mapped_column, relationship

from ...core.liquid import Way
from ...core.liquid.pouring import INTO_A_BREW
from .base import Base

if TYPE_CHECKING:
    from .bottles import Bottling
    from .brews import Brew
    from .household import Vessel
    from .living import StarterLot


class KeptLiquid(Base):
    """A liquid that is kept: a brew, a starter, what is in a hotel, what is in bottles filled alike."""

    __tablename__ = "liquid"
    kind: Mapped[str]  #: A LiquidKind
    began_at: Mapped[datetime]
    ended_at: Mapped[datetime | None] = mapped_column(index=True)  #: When nothing of it was left.
    additions: Mapped[list[Addition]] = relationship(
        back_populates="liquid", order_by="Addition.at, Addition.id", cascade="save-update"
    )
    inflows: Mapped[list[Transfer]] = relationship(
        back_populates="target", foreign_keys="Transfer.target_id", order_by="Transfer.at, Transfer.id"
    )
    outflows: Mapped[list[Transfer]] = relationship(
        back_populates="source", foreign_keys="Transfer.source_id", order_by="Transfer.at, Transfer.id"
    )
    brew: Mapped[Brew | None] = relationship(back_populates="liquid", uselist=False)
    lot: Mapped[StarterLot | None] = relationship(back_populates="liquid", uselist=False)
    filling: Mapped[Bottling | None] = relationship(back_populates="liquid", uselist=False)
    hotel: Mapped[Vessel | None] = relationship(back_populates="liquid", uselist=False)

    if TYPE_CHECKING:
        litres: Mapped[float]  #: What is left of it now: a sum, see below. [L]

    @property
    def made_l(self) -> float:
        """All that ever went in. [L]"""
        return sum(a.litres for a in self.additions) + sum(t.litres for t in self.inflows)

    @property
    def started_l(self) -> float:
        """What it was started with, at the moment it began. [L]"""
        first = [a.litres for a in self.additions if a.at <= self.began_at]
        return sum(first) + sum(t.litres for t in self.inflows if t.at <= self.began_at and t.how != Way.ADDED)

    def went_l(self, *ways: Way) -> float:
        """Return what went out in some ways. [L]"""
        return sum(t.litres for t in self.outflows if t.how in ways)

    @property
    def starters(self) -> list[Transfer]:
        """What was poured into it as starter, in order of time."""
        return [t for t in self.inflows if t.how in INTO_A_BREW]


class Transfer(Base):
    """A volume that passed: from one liquid to another, in from outside, or out."""

    __tablename__ = "transfer"
    __table_args__ = (
        CheckConstraint("litres >= 0", name="litres"),
        CheckConstraint("source_id IS NOT NULL OR target_id IS NOT NULL", name="ends"),
    )
    at: Mapped[datetime] = mapped_column(index=True)
    litres: Mapped[float]  #: [L]
    source_id: Mapped[int | None] = mapped_column(ForeignKey("liquid.id"), index=True)  #: None: from outside.
    target_id: Mapped[int | None] = mapped_column(ForeignKey("liquid.id"), index=True)  #: None: out.
    how: Mapped[str]  #: A Way
    name: Mapped[str] = mapped_column(default="")  #: Of what came from outside.
    lively: Mapped[str] = mapped_column(default="")  #: Of a starter: fresh, bottle, hotel, dried or heel.
    ph: Mapped[float | None]  #: Of what passed, as known then. [pH]
    stirred: Mapped[bool] = mapped_column(default=False)  #: Drawn from a stirred vessel: its yeast went along.
    start: Mapped[
        list[Any] | None
    ]  #: Of a brew that was split or joined: its state then, as the core's ferment keeps it.
    source: Mapped[KeptLiquid | None] = relationship(back_populates="outflows", foreign_keys=source_id)
    target: Mapped[KeptLiquid | None] = relationship(back_populates="inflows", foreign_keys=target_id)


class Addition(Base):
    """Something put into a liquid that was no kept liquid before: sweet tea, vinegar, flavour, sugar."""

    __tablename__ = "addition"
    __table_args__ = (CheckConstraint("litres >= 0 AND grams >= 0", name="amounts"),)
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), index=True)
    at: Mapped[datetime]
    what: Mapped[str]  #: An Added
    name: Mapped[str] = mapped_column(default="")  #: Which flavour.
    litres: Mapped[float] = mapped_column(default=0.0)  #: Room it takes. [L]
    grams: Mapped[float] = mapped_column(default=0.0)  #: Of flavour or sugar. [g]
    honey_share: Mapped[float | None]  #: Of sweet tea's sugars from honey; None: as in the brew. [-]
    liquid: Mapped[KeptLiquid] = relationship(back_populates="additions")


class BottleType(Base):
    """A kind of bottle that the household fills: its volume and what it holds."""

    __tablename__ = "bottle_type"
    __table_args__ = (UniqueConstraint("kind", "volume_ml", "limit_bar", name="uq_bottle_type_kind"),)
    kind: Mapped[str]  #: A key of core/base/data/bottle_types.toml
    volume_ml: Mapped[float]  #: Brimful. [mL]
    limit_bar: Mapped[float]  #: The maker's, or usual of its kind; 0: not made for pressure. [bar]
    owned: Mapped[int | None]  #: How many the household has, the retired left out; None: nobody counted them.
    retired: Mapped[int] = mapped_column(default=0)  #: Scratched, chipped, dropped or burst.
    neck_mm: Mapped[float | None]  #: Width of the neck inside; None: as usual of its kind. [mm]
    closure: Mapped[str] = mapped_column(default="")  #: A key of core/bottles/park.py: CLOSURES; empty: as usual of its kind.
    closure_since: Mapped[datetime | None]  #: When its rings or caps were new.
    washed_at: Mapped[datetime | None]  #: When they were last washed.
    to_wash: Mapped[int] = mapped_column(default=0)  #: Of those emptied before then, so many were left dirty.
    note: Mapped[str] = mapped_column(default="")
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}


def _sum(column: Any, own: Any) -> Any:
    return func.coalesce(select(func.sum(column)).where(own == KeptLiquid.id).correlate(KeptLiquid).scalar_subquery(), 0.0)


_LEFT = (
    _sum(Addition.litres, Addition.liquid_id)
    + _sum(Transfer.litres, Transfer.target_id)
    - _sum(Transfer.litres, Transfer.source_id)
)
KeptLiquid.__mapper__.add_property("litres", column_property(_LEFT))
