"""Records of bottles: what was filled alike, each bottle, and how it sounded while it was closed."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from ..core.kinds import BottleState
from .base import Base

if TYPE_CHECKING:
    from .liquids import BottleType, Liquid
    from .lives import Standing
    from .models import Brew, Place
    from .watching import Note


class Bottling(Base):
    """Bottles of one brew filled alike."""

    __tablename__ = "bottling"
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), index=True)
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), unique=True)
    at: Mapped[datetime]
    flavour: Mapped[str]
    flavour_g_per_l: Mapped[float] = mapped_column(default=0.0)
    sugar_g_per_l: Mapped[float] = mapped_column(default=0.0)  #: Priming sugar.
    added_sugar_g_per_l: Mapped[float]  #: Of priming and flavour together.
    ph_after: Mapped[float | None]  #: After flavouring, measured. [pH]
    overruled: Mapped[str] = mapped_column(default="")  #: Why it was closed though its pH was held too high.
    note: Mapped[str] = mapped_column(default="")
    start: Mapped[list[Any]]  #: State at filling, as the core's ferment keeps it.
    vigour: Mapped[float]
    brew: Mapped[Brew] = relationship(back_populates="bottlings")
    liquid: Mapped[Liquid] = relationship(back_populates="filling")
    bottles: Mapped[list[Bottle]] = relationship(back_populates="bottling", order_by="Bottle.id")
    notes: Mapped[list[Note]] = relationship(
        "Note",
        primaryjoin="foreign(Note.liquid_id) == Bottling.liquid_id",
        order_by="Note.at, Note.id",
        viewonly=True,
    )


class Bottle(Base):
    """One filled bottle."""

    __tablename__ = "bottle"
    bottling_id: Mapped[int] = mapped_column(ForeignKey("bottling.id"), index=True)
    type_id: Mapped[int] = mapped_column(ForeignKey("bottle_type.id"))
    headspace_fraction: Mapped[float]
    state: Mapped[str] = mapped_column(default=BottleState.WARM, index=True)  #: warm, cold or gone
    gone_at: Mapped[datetime | None] = mapped_column(index=True)
    hiss: Mapped[int | None]  #: 0 to 4, when opened
    taste: Mapped[str] = mapped_column(default="")
    bottling: Mapped[Bottling] = relationship(back_populates="bottles")
    heard: Mapped[list[Hearing]] = relationship(back_populates="bottle", order_by="Hearing.at, Hearing.id")
    standings: Mapped[list[Standing]] = relationship(
        back_populates="bottle", order_by="Standing.since, Standing.id", foreign_keys="Standing.bottle_id"
    )

    type: Mapped[BottleType] = relationship()

    @property
    def kind(self) -> str:
        """Its kind, a key of core/data/bottle_types.toml."""
        return self.type.kind

    @property
    def volume_ml(self) -> float:
        """Brimful. [mL]"""
        return self.type.volume_ml

    @property
    def limit_bar(self) -> float:
        """What it may hold; 0: not made for pressure. [bar]"""
        return self.type.limit_bar

    @property
    def place(self) -> Place | None:
        """The place where it stands, or stood last."""
        return self.standings[-1].place if self.standings else None


class Hearing(Base):
    """How a closed bottle was when it was burped or squeezed."""

    __tablename__ = "hearing"
    bottle_id: Mapped[int] = mapped_column(ForeignKey("bottle.id"), index=True)
    at: Mapped[datetime]
    how: Mapped[str]  #: burped or squeezed
    hiss: Mapped[int | None]  #: 0 (silent, soft) to 4 (gushed, rock hard); None: not told
    bottle: Mapped[Bottle] = relationship(back_populates="heard")
