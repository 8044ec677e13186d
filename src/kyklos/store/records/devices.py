"""Records of devices: what is paired, where it stood, its set points and doubts; and, outside the journal, what it sends."""

from __future__ import annotations

from datetime import date, datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from .base import Base

if TYPE_CHECKING:
    from .household import Place, Vessel
    from .watching import Instrument


class Device(Base):
    """Something paired that sends readings by itself."""

    __tablename__ = "device"
    kind: Mapped[str]  #: A key of core/base/kinds.py: DeviceKind
    name: Mapped[str]
    serial: Mapped[str] = mapped_column(default="")
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instrument.id"), index=True)  #: What it is among the instruments.
    paired_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    version: Mapped[int] = mapped_column(default=1)
    instrument: Mapped[Instrument | None] = relationship()
    standings: Mapped[list[DeviceStanding]] = relationship(back_populates="device", order_by="DeviceStanding.since, DeviceStanding.id")
    doubts: Mapped[list[DeviceDoubt]] = relationship(back_populates="device", order_by="DeviceDoubt.since, DeviceDoubt.id")
    set_points: Mapped[list[SetPoint]] = relationship(back_populates="device", order_by="SetPoint.at, SetPoint.id")
    __mapper_args__ = {"version_id_col": version}

    @property
    def stands(self) -> DeviceStanding | None:
        """Where it stands now."""
        return next((row for row in reversed(self.standings) if row.until is None), None)


class DeviceStanding(Base):
    """What a device stood in or at, from one moment to another; neither vessel nor place: it was in the hand."""

    __tablename__ = "device_standing"
    __table_args__ = (Index("ix_device_standing_vessel", "vessel_id", "until"),)
    device_id: Mapped[int] = mapped_column(ForeignKey("device.id"), index=True)
    vessel_id: Mapped[int | None] = mapped_column(ForeignKey("vessel.id"))
    place_id: Mapped[int | None] = mapped_column(ForeignKey("place.id"), index=True)
    since: Mapped[datetime]
    until: Mapped[datetime | None]  #: None: it stands there still.
    device: Mapped[Device] = relationship(back_populates="standings")
    vessel: Mapped[Vessel | None] = relationship()
    place: Mapped[Place | None] = relationship()


class DeviceDoubt(Base):
    """A span of which a person says that a device read something else: nothing is reckoned from it."""

    __tablename__ = "device_doubt"
    device_id: Mapped[int] = mapped_column(ForeignKey("device.id"), index=True)
    since: Mapped[datetime]
    until: Mapped[datetime]
    why: Mapped[str]
    device: Mapped[Device] = relationship(back_populates="doubts")


class SetPoint(Base):
    """How warm a heater is to keep its vessel, from a moment on."""

    __tablename__ = "set_point"
    device_id: Mapped[int] = mapped_column(ForeignKey("device.id"), index=True)
    at: Mapped[datetime]
    celsius: Mapped[float | None]  #: None: off. [degC]
    how: Mapped[str] = mapped_column(default="hand")  #: hand, season (off while its place is warm enough) or pause
    until: Mapped[datetime | None]  #: Of a pause: then it goes on as before.
    device: Mapped[Device] = relationship(back_populates="set_points")


class BufferBottle(Base):
    """A bottle of buffer solution: when it was opened, and how long it is good."""

    __tablename__ = "buffer_bottle"
    buffer: Mapped[int]  #: 7 or 4
    opened_on: Mapped[date | None]
    best_before: Mapped[date | None]
    ended_at: Mapped[datetime | None]  #: Another one took its place.


class Pairing(Base):
    """A device that asks to be paired; outside the journal."""

    __tablename__ = "pairing"
    secret_sum: Mapped[str] = mapped_column(unique=True)  #: SHA-256 of its secret.
    code: Mapped[str] = mapped_column(index=True)  #: As it stands on the device, like K7Q-42.
    name: Mapped[str]
    kind: Mapped[str]  #: A key of core/base/kinds.py: DeviceKind
    serial: Mapped[str] = mapped_column(default="")
    asked_at: Mapped[datetime] = mapped_column(index=True)
    asked_by: Mapped[str] = mapped_column(default="")  #: Its address.
    state: Mapped[str] = mapped_column(default="waiting")  #: A key of core/base/kinds.py: PairingState
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id", ondelete="SET NULL"))


class DeviceState(Base):
    """What a device was last heard of; outside the journal. Without a token it may send nothing."""

    __tablename__ = "device_state"
    device_id: Mapped[int] = mapped_column(ForeignKey("device.id", ondelete="CASCADE"), unique=True)
    token_sum: Mapped[str | None] = mapped_column(unique=True)  #: SHA-256 of its token.
    seen_at: Mapped[datetime | None]  #: By the house's clock.
    read_at: Mapped[datetime | None]  #: Of its newest reading.
    battery: Mapped[float | None]  #: Of full. [-]
    skew_s: Mapped[float] = mapped_column(default=0.0)  #: By how much its clock is behind. [s]
    interval_s: Mapped[float | None]  #: Between its posts, usually. [s]
    celsius: Mapped[float | None]  #: [degC]
    ph: Mapped[float | None]
    millivolts: Mapped[float | None]  #: [mV]
    grams: Mapped[float | None]  #: [g]
    still: Mapped[bool] = mapped_column(default=False)
    followed: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: How far its courses were followed, as actions/receiving.py keeps it.
    outlook: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: Of a weather service: when issued, and pairs of seconds since 1970 and degC.


class OutdoorHour(Base):
    """How warm it was outdoors in an hour that went by, as a weather service had it then; outside the journal."""

    __tablename__ = "outdoor_hour"
    hour: Mapped[int] = mapped_column(unique=True)  #: Since 1970. [h]
    celsius: Mapped[float]  #: [degC]


class DeviceReading(Base):
    """One reading as it came; kept some months, outside the journal."""

    __tablename__ = "device_reading"
    __table_args__ = (Index("ix_device_reading_device", "device_id", "at_s"),)
    device_id: Mapped[int]
    at_s: Mapped[float]  #: By the house's clock. [s since 1970]
    celsius: Mapped[float | None]  #: [degC]
    ph: Mapped[float | None]
    millivolts: Mapped[float | None]  #: [mV]
    grams: Mapped[float | None]  #: [g]


class KnownReading(Base):
    """A reading that came once: its number is made of device and id. Kept for ever, so that nothing counts twice."""

    __tablename__ = "known_reading"


class DeviceLanding(Base):
    """A row that a device's readings wrote: by it pages follow what no change of the journal tells."""

    __tablename__ = "device_landing"
    name: Mapped[str]  #: Of the table.
    number: Mapped[int]
