"""Records of bottles: what was filled alike, each bottle, and how it sounded while it was closed."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from ...core.base.kinds import BottleState, NoteOn
from .base import Base, notes_on

if TYPE_CHECKING:
    from .brews import Brew
    from .flavours import Flavour, Score
    from .household import Place
    from .liquids import BottleType, KeptLiquid
    from .lives import Standing
    from .watching import Note


class Bottling(Base):
    """Bottles of one brew filled alike."""

    __tablename__ = "bottling"
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), index=True)
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), unique=True)
    at: Mapped[datetime] = mapped_column(index=True)
    flavour: Mapped[str]  #: Key of the ingredient that tells most; an own one's begins with own-.
    flavour_g_per_l: Mapped[float] = mapped_column(default=0.0)
    sugar_g_per_l: Mapped[float] = mapped_column(default=0.0)  #: Priming sugar.
    added_sugar_g_per_l: Mapped[float]  #: Of priming and flavour together.
    ph_after: Mapped[float | None]  #: After flavouring, measured. [pH]
    overruled: Mapped[str] = mapped_column(default="")  #: Why it was closed though its pH was held too high.
    note: Mapped[str] = mapped_column(default="")
    start: Mapped[list[Any]]  #: State at filling, as the core's ferment keeps it.
    vigour: Mapped[float]
    flavour_id: Mapped[int | None] = mapped_column(ForeignKey("flavour.id"), index=True)  #: The kept one it was made by.
    infusion_id: Mapped[int | None] = mapped_column(ForeignKey("infusion.id"), index=True)  #: The jar it came out of.
    form: Mapped[str] = mapped_column(default="none")  #: What of it drives the yeast, a key of core/bottles/ingredients.py: FORMS.
    pour_yeast: Mapped[float] = mapped_column(default=1.0)  #: Yeast that came along, as poured. [-]
    added_ethanol_g_per_l: Mapped[float] = mapped_column(default=0.0)  #: Of finished drinks. [g/L]
    volumes: Mapped[float] = mapped_column(default=0.6)  #: Gas of the brew at filling. [volumes]
    wish: Mapped[str] = mapped_column(default="")  #: The fizz that was wished: soft, lively or sparkling.
    burps: Mapped[str] = mapped_column(default="never")  #: How often they are meant to be burped, a key of BURPS.
    brew: Mapped[Brew] = relationship(back_populates="bottlings")
    liquid: Mapped[KeptLiquid] = relationship(back_populates="filling")
    bottles: Mapped[list[Bottle]] = relationship(back_populates="bottling", order_by="Bottle.id")
    kept: Mapped[Flavour | None] = relationship("Flavour")
    scores: Mapped[list[Score]] = relationship("Score", back_populates="bottling", order_by="Score.at, Score.id")
    notes: Mapped[list[Note]] = notes_on("Bottling", NoteOn.FILLING)


class Bottle(Base):
    """One filled bottle."""

    __tablename__ = "bottle"
    __table_args__ = (Index("ix_bottle_state_gone", "state", "gone_at"),)
    bottling_id: Mapped[int] = mapped_column(ForeignKey("bottling.id"), index=True)
    type_id: Mapped[int] = mapped_column(ForeignKey("bottle_type.id"), index=True)
    headspace_fraction: Mapped[float]
    state: Mapped[str] = mapped_column(default=BottleState.WARM)  #: warm, cold or gone
    gone_at: Mapped[datetime | None] = mapped_column(index=True)
    hiss: Mapped[int | None]  #: 0 to 4, when opened
    taste: Mapped[str] = mapped_column(default="")
    tester: Mapped[bool] = mapped_column(default=False)  #: Opened or squeezed first, to tell the others.
    left_as: Mapped[str] = mapped_column(default="")  #: How it went, a key of core/bottles/leaving.py.
    cause: Mapped[str] = mapped_column(default="")  #: Why it burst, leaked or gushed, as far as known.
    to_whom: Mapped[str] = mapped_column(default="")  #: Given to, or taken where.
    bottling: Mapped[Bottling] = relationship(back_populates="bottles")
    heard: Mapped[list[Hearing]] = relationship(back_populates="bottle", order_by="Hearing.at, Hearing.id")
    standings: Mapped[list[Standing]] = relationship(
        back_populates="bottle", order_by="Standing.since, Standing.id", foreign_keys="Standing.bottle_id"
    )

    type: Mapped[BottleType] = relationship()

    @property
    def kind(self) -> str:
        """Its kind, a key of core/base/data/bottle_types.toml."""
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
    hiss: Mapped[int | None]  #: 0 (silent, soft) to 4 (gushed, rock hard); None: not given
    bottle: Mapped[Bottle] = relationship(back_populates="heard")
