"""Records of a brew: what it was started with, and what was read, tasted and seen of it."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey, Index, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from ...core.base.kinds import LIVING, BrewStatus, KindOfBrew, NoteOn
from ...core.liquid import Way
from .base import Base, notes_on, of_brew, of_liquid

if TYPE_CHECKING:
    from .bottles import Bottling
    from .household import Taster, Vessel
    from .liquids import KeptLiquid, Transfer
    from .lives import BrewDisc, BrewStay
    from .living import Culture, Disc, StarterLot
    from .watching import Instrument, Note, Overrule, Photo


class Brew(Base):
    """One batch in one vessel."""

    __tablename__ = "brew"
    __table_args__ = (
        Index("ix_brew_culture_pitched", "culture_id", "pitched_at"),
        Index("ix_brew_vessel_ended", "vessel_id", "ended_at"),
    )
    kind: Mapped[str] = mapped_column(default=KindOfBrew.BATCH)  #: A key of core/base/data/brew_kinds.toml
    base: Mapped[str] = mapped_column(default="")  #: Of a trial.
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"))
    culture_id: Mapped[int] = mapped_column(ForeignKey("culture.id"))
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), unique=True)
    disc_id: Mapped[int | None] = mapped_column(ForeignKey("disc.id"))
    tea: Mapped[str]  #: A name, or shares as `core/liquid/teas.py: text_of` writes them
    leaf_g_per_l: Mapped[float]
    sugar_g_per_l: Mapped[float]
    honey_share: Mapped[float]
    invert_share: Mapped[float] = mapped_column(default=0.0)
    alkalinity_meq_per_l: Mapped[float] = mapped_column(default=0.5)
    starter_fraction: Mapped[float]
    starter_ph: Mapped[float]
    starter_instrument: Mapped[str] = mapped_column(String, default="meter")  #: or "estimate"
    starter_ta_g_per_l: Mapped[float | None]  #: Of its starter, titrated; beats the pH. [g/L]
    starter_tea: Mapped[str] = mapped_column(default="black")  #: What its starter was brewed with, as `tea` is written
    starter_leaf_g_per_l: Mapped[float] = mapped_column(default=6.0)
    starter_alkalinity_meq_per_l: Mapped[float] = mapped_column(default=0.5)
    starter_kind: Mapped[str] = mapped_column(default="fresh")
    starter_yeast: Mapped[float | None]  #: Of its starter, aged, against a fresh brew's; None: as its kind has. [-]
    starter_bacteria: Mapped[float | None]  #: [-]
    plan: Mapped[dict[str, Any]]  #: Amounts and heat as planned, and the recipe card.
    facts: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: What was done, step by step.
    pitched_at: Mapped[datetime] = mapped_column(index=True)
    start_doubt_days: Mapped[float] = mapped_column(
        default=0.0
    )  #: It began so much earlier or later, as is remembered. [d]
    status: Mapped[str] = mapped_column(
        default=BrewStatus.FERMENTING, index=True
    )  #: held, fermenting, harvested or discarded
    labelled_at: Mapped[datetime | None]
    no_next_brew: Mapped[bool] = mapped_column(default=False)
    ended_at: Mapped[datetime | None] = mapped_column(index=True)
    end_note: Mapped[str] = mapped_column(default="")
    version: Mapped[int] = mapped_column(default=1)
    vessel: Mapped[Vessel] = relationship(back_populates="brews")
    culture: Mapped[Culture] = relationship(back_populates="brews")
    liquid: Mapped[KeptLiquid] = relationship(back_populates="brew")
    disc: Mapped[Disc | None] = relationship(back_populates="brews", foreign_keys=disc_id)
    readings: Mapped[list[Reading]] = of_liquid("Reading", "brew", "Reading.at, Reading.id")
    tastings: Mapped[list[Tasting]] = of_liquid("Tasting", "brew", "Tasting.at, Tasting.id")
    looks: Mapped[list[Look]] = of_liquid("Look", "brew", "Look.at, Look.id")
    photos: Mapped[list[Photo]] = of_liquid("Photo", "brew", "Photo.at, Photo.id")
    notes: Mapped[list[Note]] = notes_on("Brew", NoteOn.BREW)
    overrules: Mapped[list[Overrule]] = relationship(back_populates="brew", order_by="Overrule.at, Overrule.id")
    guests: Mapped[list[BrewDisc]] = relationship(back_populates="brew", order_by="BrewDisc.position, BrewDisc.id")
    bottlings: Mapped[list[Bottling]] = relationship(back_populates="brew", order_by="Bottling.at, Bottling.id")
    earlier: Mapped[list[BrewStay]] = relationship(back_populates="brew", order_by="BrewStay.since, BrewStay.id")
    reserved: Mapped[list[StarterLot]] = relationship(
        secondary="transfer",
        primaryjoin=f"and_(Brew.liquid_id == Transfer.source_id, Transfer.how == '{Way.RESERVED}')",
        secondaryjoin="Transfer.target_id == StarterLot.liquid_id",
        viewonly=True,
        order_by="StarterLot.id",
    )
    __mapper_args__ = {"version_id_col": version}

    @property
    def alive(self) -> bool:
        """Whether the brew still stands in its vessel."""
        return self.status in LIVING

    if TYPE_CHECKING:
        known_since: (
            datetime | None
        )  #: Of one that runs for long: from when on a page read it (`lately.py`); None: all of it.
    else:
        known_since = None

    @property
    def runs(self) -> bool:
        """Whether it is drawn from and topped up in a tapped vessel."""
        return self.kind == KindOfBrew.FIRST and self.vessel.tapped

    @property
    def left_l(self) -> float:
        """What stands in its vessel: neither reserved nor bottled. [L]"""
        return max(0.0, self.liquid.litres)

    @property
    def split_by(self) -> Transfer | None:
        """How it was split from another brew; None: it was not."""
        return next((t for t in self.liquid.inflows if t.how == Way.SPLIT), None)

    @property
    def started_l(self) -> float:
        """What it, or the brew that it was split from, was started with. [L]"""
        split = self.split_by
        if split is not None and split.source is not None and split.source.brew is not None:
            return split.source.brew.started_l
        return self.liquid.started_l


class Reading(Base):
    """A measurement. One corrected or struck out is kept, and shown with what replaced it."""

    __tablename__ = "reading"
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), index=True)
    at: Mapped[datetime] = mapped_column(index=True)
    ph: Mapped[float | None]
    instrument: Mapped[str] = mapped_column(
        default="meter"
    )  #: What read the pH: a key of core/base/data/instruments.toml
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instrument.id"))  #: Which one of the household's.
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))  #: That sent it; None: somebody read it.
    millivolts: Mapped[float | None]  #: Of the electrode, where the device told. [mV]
    celsius: Mapped[float | None]
    low_c: Mapped[float | None]  #: Lowest of the last day. [degC]
    high_c: Mapped[float | None]  #: Highest of the last day. [degC]
    gravity: Mapped[float | None]  #: Specific gravity at 20 degC. [-]
    gravity_by: Mapped[str] = mapped_column(default="")  #: hydrometer or refractometer
    ta_g_per_l: Mapped[float | None]  #: Titratable acidity as acetic. [g/L]
    titration: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: Base, its normality, sample.
    degassed: Mapped[bool] = mapped_column(default=False)  #: Its gas was stirred or warmed out before it was titrated.
    depth: Mapped[str] = mapped_column(default="")  #: Where the sample came from: top, middle, bottom or tap.
    note: Mapped[str] = mapped_column(default="")
    struck: Mapped[bool] = mapped_column(default=False)
    struck_at: Mapped[datetime | None]
    replaces_id: Mapped[int | None] = mapped_column(ForeignKey("reading.id"))  #: What was said before.
    brew: Mapped[Brew] = of_brew("Reading", "readings")
    tool: Mapped[Instrument | None] = relationship()


class Tasting(Base):
    """One taster's judgement, from -3 (much too sweet) to 3 (much too sour)."""

    __tablename__ = "tasting"
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), index=True)
    taster_id: Mapped[int] = mapped_column(ForeignKey("taster.id"))
    at: Mapped[datetime]
    score: Mapped[int]
    tea: Mapped[int | None]  #: Tea taste, 0 none to 3 strong.
    yeast: Mapped[int | None]  #: Yeast taste, 0 none to 3 strong.
    again: Mapped[bool | None]
    after: Mapped[str] = mapped_column(default="")  #: What was eaten or drunk before.
    note: Mapped[str] = mapped_column(default="")
    blind: Mapped[bool] = mapped_column(default=False)
    struck: Mapped[bool] = mapped_column(default=False)
    struck_at: Mapped[datetime | None]
    brew: Mapped[Brew] = of_brew("Tasting", "tastings")
    taster: Mapped[Taster] = relationship()


class Look(Base):
    """What was seen on the surface."""

    __tablename__ = "look"
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), index=True)
    at: Mapped[datetime]
    surface: Mapped[str]  #: A surface of core/base/data/observations.toml
    signs: Mapped[list[Any]] = mapped_column(default=list)  #: Keys of its signs.
    smell: Mapped[str] = mapped_column(default="")  #: A key of its smells; empty: nobody smelled it.
    note: Mapped[str] = mapped_column(default="")
    mistaken: Mapped[str] = mapped_column(default="")  #: Why it was struck out, of a grave one.
    struck: Mapped[bool] = mapped_column(default=False)
    struck_at: Mapped[datetime | None]
    brew: Mapped[Brew] = of_brew("Look", "looks")
