"""What a household keeps. SI units in names; times in UTC."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from ..core.kinds import LIVING, BrewStatus, Diet, KindOfBrew, StarterKind, VesselKind
from ..core.pouring import Way
from ..core.standing import PlaceKind
from .base import LAYOUT, Base, UtcTime, of_brew, of_liquid
from .bottles import Bottle, Bottling, Hearing
from .days import BrewDay, KeptRecipe, Timer
from .flavours import (
    Comparison,
    Flavour,
    FlavourPart,
    Infusion,
    LarderItem,
    OwnIngredient,
    Score,
    Trial,
    TrialStep,
)
from .learned import Lesson, TastedThen, Touched
from .liquids import Addition, BottleType, Liquid, Transfer
from .lives import (
    BrewDisc,
    BrewStay,
    Conversion,
    CutLink,
    DiscEvent,
    Gift,
    HotelFeed,
    HotelStay,
    Quarantine,
    Standing,
    Upkeep,
)
from .watching import (
    Away,
    BlindTasting,
    Calibration,
    Instrument,
    Note,
    Overrule,
    Photo,
    PhotoContent,
    PlannedDay,
    PutOff,
    SpotReading,
    TemperatureLog,
)

__all__ = [
    "Addition",
    "Away",
    "Base",
    "BlindTasting",
    "Bottle",
    "BottleType",
    "Bottling",
    "Brew",
    "BrewDay",
    "BrewDisc",
    "BrewStay",
    "Calibration",
    "Change",
    "Comparison",
    "Conversion",
    "Culture",
    "CutLink",
    "Disc",
    "DiscEvent",
    "Flavour",
    "FlavourPart",
    "Gift",
    "Hearing",
    "HotelFeed",
    "HotelStay",
    "Household",
    "Infusion",
    "Instrument",
    "KeptRecipe",
    "LarderItem",
    "Lesson",
    "Liquid",
    "Look",
    "Note",
    "Overrule",
    "OwnIngredient",
    "Photo",
    "PhotoContent",
    "Place",
    "PlannedDay",
    "PutOff",
    "Quarantine",
    "Reading",
    "Score",
    "SpotReading",
    "Standing",
    "StarterLot",
    "TastedThen",
    "Taster",
    "Tasting",
    "TemperatureLog",
    "Timer",
    "Tool",
    "Touched",
    "Transfer",
    "Trial",
    "TrialStep",
    "Upkeep",
    "UtcTime",
    "Vessel",
]


class Household(Base):
    """One household and how it likes things shown."""

    __tablename__ = "household"
    name: Mapped[str] = mapped_column(default="Our kitchen")
    units: Mapped[str] = mapped_column(default="metric")  #: metric or us
    zone: Mapped[str] = mapped_column(default="UTC")  #: IANA name
    theme: Mapped[str] = mapped_column(default="auto")  #: auto, light or dark
    sample: Mapped[bool] = mapped_column(default=False)
    southern: Mapped[bool] = mapped_column(default=False)  #: South of the equator: summer at the turn of the year.
    reads_ph: Mapped[str] = mapped_column(default="")  #: What pH is read with: a key of core/kinds.py: ReadsPh; empty: not told.
    glass_l: Mapped[float | None]  #: What a glass of this house holds; None: as usual. [L]
    power_price: Mapped[float | None]  #: Of a kilowatt-hour, in the household's own money.
    quiet_from: Mapped[int] = mapped_column(default=21)  #: No notification from this hour on. [h, local]
    quiet_to: Mapped[int] = mapped_column(default=7)  #: Until this hour. [h, local]
    feed_key: Mapped[str] = mapped_column(default="")  #: Of the calendar's private address; empty: there is none.
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}


class Taster(Base):
    """Someone who tastes."""

    __tablename__ = "taster"
    name: Mapped[str]
    position: Mapped[int] = mapped_column(default=0)


class Place(Base):
    """A shelf, cupboard or fridge."""

    __tablename__ = "place"
    name: Mapped[str]
    kind: Mapped[str] = mapped_column(default=PlaceKind.ROOM)  #: room or fridge
    celsius: Mapped[float]  #: Typical. [degC]
    winter_c: Mapped[float | None]  #: In the coldest month. [degC]
    summer_c: Mapped[float | None]  #: In the warmest month. [degC]
    light: Mapped[str] = mapped_column(default="shade")  #: dark, shade or sun
    reach: Mapped[str] = mapped_column(default="easy")  #: easy or high
    rivals: Mapped[bool] = mapped_column(default=False)  #: Other ferments stand there too.
    position: Mapped[int] = mapped_column(default=0)  #: Order on the round.
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}


class Tool(Base):
    """Something of the kitchen that a brew day is planned with."""

    __tablename__ = "tool"
    __table_args__ = (CheckConstraint("number >= 1", name="number"),)
    kind: Mapped[str]  #: pot, jug, pitcher, burner, scale, thermometer, meter, strips, strainer, funnel, spoon or cloth
    name: Mapped[str] = mapped_column(default="")
    litres: Mapped[float | None]
    number: Mapped[int] = mapped_column(default=1)


class Vessel(Base):
    """A jar, crock or hotel."""

    __tablename__ = "vessel"
    __table_args__ = (CheckConstraint("usable_l > 0 AND usable_l <= nominal_l", name="usable"),)
    name: Mapped[str]
    kind: Mapped[str] = mapped_column(default=VesselKind.JAR)  #: jar, crock or hotel
    nominal_l: Mapped[float]
    usable_l: Mapped[float]
    diameter_cm: Mapped[float]
    material: Mapped[str] = mapped_column(default="glass")
    tapped: Mapped[bool] = mapped_column(default=False)
    heel_l: Mapped[float] = mapped_column(default=0.0)  #: Left below the tap. [L]
    tap_made_of: Mapped[str] = mapped_column(default="")  #: A key of core/tap_care.py: TAPS; empty: not told.
    heater_w: Mapped[float | None]  #: Of its heater. [W]
    liquid_id: Mapped[int | None] = mapped_column(ForeignKey("liquid.id"), unique=True)  #: What is in a hotel.
    version: Mapped[int] = mapped_column(default=1)
    liquid: Mapped[Liquid | None] = relationship(back_populates="hotel")
    standings: Mapped[list[Standing]] = relationship(
        back_populates="vessel", order_by="Standing.since, Standing.id", foreign_keys="Standing.vessel_id"
    )
    stands: Mapped[Standing] = relationship(
        primaryjoin="and_(Vessel.id == foreign(Standing.vessel_id), Standing.until.is_(None))",
        viewonly=True,
        uselist=False,
    )  #: Where it stands now.
    place: Mapped[Place] = relationship(
        secondary="standing",
        primaryjoin="and_(Vessel.id == Standing.vessel_id, Standing.until.is_(None))",
        secondaryjoin="Place.id == Standing.place_id",
        viewonly=True,
        uselist=False,
    )  #: The place where it stands now.
    brews: Mapped[list[Brew]] = relationship(back_populates="vessel", order_by="Brew.pitched_at")
    __mapper_args__ = {"version_id_col": version}

    @property
    def heater_c(self) -> float | None:
        """Set point of its heater now; None: it has none. [degC]"""
        return self.stands.heater_c


class Culture(Base):
    """A living line."""

    __tablename__ = "culture"
    name: Mapped[str]
    diet: Mapped[str] = mapped_column(default=Diet.SUGAR)  #: sugar or jun
    origin: Mapped[str] = mapped_column(default="received")
    story: Mapped[str] = mapped_column(default="")
    started_at: Mapped[datetime]
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("culture.id"))  #: The line it was parted or led from.
    backups_wanted: Mapped[int] = mapped_column(default=1)  #: Living things kept besides what works.
    passport: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: With which it came, as it was read.
    passport_key: Mapped[str] = mapped_column(default="")  #: Its fingerprint.
    version: Mapped[int] = mapped_column(default=1)
    discs: Mapped[list[Disc]] = relationship(back_populates="culture", order_by="Disc.id")
    lots: Mapped[list[StarterLot]] = relationship(back_populates="culture", order_by="StarterLot.made_at")
    brews: Mapped[list[Brew]] = relationship(back_populates="culture", order_by="Brew.pitched_at")
    conversions: Mapped[list[Conversion]] = relationship(back_populates="culture", order_by="Conversion.id")
    __mapper_args__ = {"version_id_col": version}


class Disc(Base):
    """One sheet of cellulose."""

    __tablename__ = "disc"
    name: Mapped[str]
    culture_id: Mapped[int] = mapped_column(ForeignKey("culture.id"))
    born_brew_id: Mapped[int | None] = mapped_column(ForeignKey("brew.id", use_alter=True))
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("disc.id"))  #: Parted from it.
    made_at: Mapped[datetime | None]  #: When it was parted or came; of one born in a brew, the brew's end tells.
    thickness_mm: Mapped[float | None]
    diameter_cm: Mapped[float | None]
    ended_at: Mapped[datetime | None]
    ended_as: Mapped[str] = mapped_column(default="")  #: A key of core/lineage.py: ENDS
    ended_note: Mapped[str] = mapped_column(default="")
    culture: Mapped[Culture] = relationship(back_populates="discs")
    parent: Mapped[Disc | None] = relationship(remote_side="Disc.id", foreign_keys=parent_id)
    events: Mapped[list[DiscEvent]] = relationship(back_populates="disc", order_by="DiscEvent.at, DiscEvent.id")
    stays: Mapped[list[HotelStay]] = relationship(back_populates="disc", order_by="HotelStay.since, HotelStay.id")
    born_brew: Mapped[Brew | None] = relationship(foreign_keys=born_brew_id)
    brews: Mapped[list[Brew]] = relationship(back_populates="disc", foreign_keys="Brew.disc_id")


def _poured_from(model: str, how: Way) -> dict[str, Any]:
    """Describe the way from a lot of starter back to what it was poured off."""
    return {
        "secondary": "transfer",
        "primaryjoin": f"and_(StarterLot.liquid_id == Transfer.target_id, Transfer.how == '{how}')",
        "secondaryjoin": f"Transfer.source_id == {model}.liquid_id",
        "viewonly": True,
        "uselist": False,
    }


class StarterLot(Base):
    """Mature plain liquid kept for the next brew."""

    __tablename__ = "starter_lot"
    culture_id: Mapped[int] = mapped_column(ForeignKey("culture.id"))
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), unique=True)
    made_at: Mapped[datetime]
    kind: Mapped[str] = mapped_column(
        default=StarterKind.FRESH
    )  #: fresh, bottle or hotel: how lively it was when set aside.
    ph: Mapped[float | None]
    ta_g_per_l: Mapped[float | None]  #: Titrated, as acetic; beats the pH. [g/L]
    instrument: Mapped[str] = mapped_column(default="meter")
    kept_in: Mapped[str] = mapped_column(default="shelf")  #: shelf or fridge
    ripe_since: Mapped[datetime | None]  #: From when its age counts, where lots were poured together; else as made.
    doubt: Mapped[str] = mapped_column(default="")  #: What is wrong with it; empty: nothing.
    estimated_ph: Mapped[float | None]  #: From the source brew's forecast, where none was measured.
    read_at: Mapped[datetime | None]  #: When its pH or acidity was measured; None: when it was made.
    culture: Mapped[Culture] = relationship(back_populates="lots")
    liquid: Mapped[Liquid] = relationship(back_populates="lot")
    source_brew: Mapped[Brew | None] = relationship(
        **_poured_from("Brew", Way.RESERVED)
    )  #: The brew it was reserved from; None: it came otherwise.
    hotel: Mapped[Vessel | None] = relationship(**_poured_from("Vessel", Way.DRAWN))  #: The hotel it was drawn from.

    @property
    def ages_since(self) -> datetime:
        """From when its age counts."""
        return self.ripe_since or self.made_at

    @property
    def left_l(self) -> float:
        """What is left of it; a sum that rounding leaves below nothing is nothing. [L]"""
        return max(0.0, self.liquid.litres)

    @property
    def likely_ph(self) -> float | None:
        """As measured, or else as foretold when it was made. [pH]"""
        return self.ph if self.ph is not None else self.estimated_ph


class Brew(Base):
    """One batch in one vessel."""

    __tablename__ = "brew"
    kind: Mapped[str] = mapped_column(default=KindOfBrew.BATCH)  #: A key of core/data/brew_kinds.toml
    base: Mapped[str] = mapped_column(default="")  #: Of a trial.
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"), index=True)
    culture_id: Mapped[int] = mapped_column(ForeignKey("culture.id"), index=True)
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), unique=True)
    disc_id: Mapped[int | None] = mapped_column(ForeignKey("disc.id"))
    tea: Mapped[str]  #: A name, or shares as `core/teas.py: text_of` writes them
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
    pitched_at: Mapped[datetime]
    start_doubt_days: Mapped[float] = mapped_column(
        default=0.0
    )  #: It began so much earlier or later, as is remembered. [d]
    status: Mapped[str] = mapped_column(
        default=BrewStatus.FERMENTING, index=True
    )  #: held, fermenting, harvested or discarded
    labelled_at: Mapped[datetime | None]
    no_next_brew: Mapped[bool] = mapped_column(default=False)
    ended_at: Mapped[datetime | None]
    end_note: Mapped[str] = mapped_column(default="")
    version: Mapped[int] = mapped_column(default=1)
    vessel: Mapped[Vessel] = relationship(back_populates="brews")
    culture: Mapped[Culture] = relationship(back_populates="brews")
    liquid: Mapped[Liquid] = relationship(back_populates="brew")
    disc: Mapped[Disc | None] = relationship(back_populates="brews", foreign_keys=disc_id)
    readings: Mapped[list[Reading]] = of_liquid("Reading", "brew", "Reading.at, Reading.id")
    tastings: Mapped[list[Tasting]] = of_liquid("Tasting", "brew", "Tasting.at, Tasting.id")
    looks: Mapped[list[Look]] = of_liquid("Look", "brew", "Look.at, Look.id")
    photos: Mapped[list[Photo]] = of_liquid("Photo", "brew", "Photo.at, Photo.id")
    notes: Mapped[list[Note]] = of_liquid("Note", "brew", "Note.at, Note.id")
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
        """Whether it stands in its vessel."""
        return self.status in LIVING

    if TYPE_CHECKING:
        known_since: datetime | None  #: Of one that runs for long: from when on a page read it (`lately.py`); None: all of it.
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
    at: Mapped[datetime]
    ph: Mapped[float | None]
    instrument: Mapped[str] = mapped_column(default="meter")  #: What read the pH: a key of core/data/instruments.toml
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instrument.id"))  #: Which one of the household's.
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
    surface: Mapped[str]  #: A surface of core/data/observations.toml
    signs: Mapped[list[Any]] = mapped_column(default=list)  #: Keys of its signs.
    smell: Mapped[str] = mapped_column(default="")  #: A key of its smells; empty: nobody smelled it.
    note: Mapped[str] = mapped_column(default="")
    mistaken: Mapped[str] = mapped_column(default="")  #: Why it was struck out, of a grave one.
    struck: Mapped[bool] = mapped_column(default=False)
    struck_at: Mapped[datetime | None]
    brew: Mapped[Brew] = of_brew("Look", "looks")


class Change(Base):
    """What one action wrote, row by row, so that it can be undone."""

    __tablename__ = "change"
    action: Mapped[str]
    says: Mapped[str]
    at: Mapped[datetime] = mapped_column(index=True)
    undone_at: Mapped[datetime | None] = mapped_column(index=True)
    sent_as: Mapped[str | None] = mapped_column(unique=True)  #: The key of a form that a device may send twice.
    layout: Mapped[str] = mapped_column(default=LAYOUT)  #: Of the file then: rows of another one cannot be put back.
    rows: Mapped[list[Any]]
