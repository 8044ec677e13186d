"""Records of the household: settings, tasters, places, tools, vessels. SI units in names; moments in UTC."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from ...core.base.kinds import VesselKind
from ...core.liquid.standing import PlaceKind
from .base import Base

if TYPE_CHECKING:
    from .brews import Brew
    from .liquids import KeptLiquid
    from .lives import Standing


class Household(Base):
    """One household and how it likes things shown."""

    __tablename__ = "household"
    name: Mapped[str] = mapped_column(default="Our kitchen")
    units: Mapped[str] = mapped_column(default="metric")  #: metric or us
    zone: Mapped[str] = mapped_column(default="UTC")  #: IANA name
    theme: Mapped[str] = mapped_column(default="auto")  #: auto, light or dark
    sample: Mapped[bool] = mapped_column(default=False)
    southern: Mapped[bool] = mapped_column(default=False)  #: South of the equator: summer at the turn of the year.
    reads_ph: Mapped[str] = mapped_column(
        default=""
    )  #: What pH is read with: a key of core/base/kinds.py: ReadsPh; empty: not given.
    glass_l: Mapped[float | None]  #: What a glass of this house holds; None: as usual. [L]
    power_price: Mapped[float | None]  #: Of a kilowatt-hour, in the household's own money.
    currency: Mapped[str] = mapped_column(default="")  #: How its money is written; empty: by figures alone.
    shop_price: Mapped[float | None]  #: Of a bottle like theirs in the shop, in the household's own money.
    shop_ml: Mapped[float | None]  #: What that bottle holds. [mL]
    quiet_from: Mapped[int] = mapped_column(default=21)  #: No notification from this hour on. [h, local]
    quiet_to: Mapped[int] = mapped_column(default=7)  #: Until this hour. [h, local]
    raw_days: Mapped[float] = mapped_column(default=90.0, server_default="90")  #: Readings of devices are kept whole so long. [d]
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
    tap_made_of: Mapped[str] = mapped_column(default="")  #: A key of core/tapped/care.py: TAPS; empty: not given.
    heater_w: Mapped[float | None]  #: Of its heater. [W]
    tare_g: Mapped[float | None]  #: Empty and dry. [g]
    liquid_id: Mapped[int | None] = mapped_column(ForeignKey("liquid.id"), unique=True)  #: What is in a hotel.
    version: Mapped[int] = mapped_column(default=1)
    liquid: Mapped[KeptLiquid | None] = relationship(back_populates="hotel")
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


class DataKey(Base):
    """A key that reads the live tables and nothing else; only its sum is kept. Outside the journal: an ended one never comes back."""

    __tablename__ = "data_key"
    name: Mapped[str]
    key_sum: Mapped[str] = mapped_column(unique=True)  #: SHA-256 of the key.
    made_at: Mapped[datetime]
    used_at: Mapped[datetime | None]


class SheetShape(Base):
    """What was said of a spreadsheet with these heads, for the next one like it. Outside the journal: it is no record of what happened."""

    __tablename__ = "sheet_shape"
    shape: Mapped[str] = mapped_column(unique=True)  #: A sum of its heads.
    said: Mapped[dict[str, Any]]  #: Columns, order of days, units, culture.
    at: Mapped[datetime]
