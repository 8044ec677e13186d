"""Records of watching: instruments, logged temperatures, photos, overrules, what was put off, absences, planned days."""

from __future__ import annotations

from datetime import date, datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey, Index, LargeBinary
from sqlalchemy.orm import Mapped, mapped_column, relationship

from .base import Base, of_brew

if TYPE_CHECKING:
    from .brews import Brew
    from .devices import Device
    from .household import Taster, Vessel


class Instrument(Base):
    """Something that measures, with its error and its calibrations."""

    __tablename__ = "instrument"
    kind: Mapped[str]  #: A key of core/judging/instruments.py: KINDS
    name: Mapped[str]
    error: Mapped[float | None]  #: As its maker or the household says; None: typical of its kind. [pH, degC or SG]
    interval_days: Mapped[float | None]  #: A meter's calibrations are due so often. [d]
    retired_at: Mapped[datetime | None]
    version: Mapped[int] = mapped_column(default=1, server_default="1")
    calibrations: Mapped[list[Calibration]] = relationship(
        back_populates="instrument", order_by="Calibration.at, Calibration.id"
    )
    __mapper_args__ = {"version_id_col": version}


class Calibration(Base):
    """A meter set by its buffers."""

    __tablename__ = "calibration"
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instrument.id"), index=True)
    at: Mapped[datetime]
    at_seven: Mapped[bool] = mapped_column(default=True)  #: Set in the buffer of pH 7.
    at_four: Mapped[bool] = mapped_column(default=True)  #: Set in the buffer of pH 4.
    off_by: Mapped[float | None]  #: What it was off by before. [pH]
    slope: Mapped[float | None]  #: Of a perfect electrode; None: nobody looked. [-]
    offset_mv: Mapped[float | None]  #: At pH 7. [mV]
    judged: Mapped[str] = mapped_column(default="", server_default="")  #: A key of core/measuring/calibrating.py: Judged
    points: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")  #: Buffer, degC and mV of each.
    sets_it: Mapped[bool] = mapped_column(default=True, server_default="1")  #: The meter shows by it from then on.
    instrument: Mapped[Instrument] = relationship(back_populates="calibrations")


class TemperatureLog(Base):
    """What a temperature logger wrote, for a brew's liquid or for a place's air."""

    __tablename__ = "temperature_log"
    brew_id: Mapped[int | None] = mapped_column(ForeignKey("brew.id"), index=True)
    place_id: Mapped[int | None] = mapped_column(ForeignKey("place.id"), index=True)
    name: Mapped[str]
    at: Mapped[datetime]  #: When it was read in.
    points: Mapped[list[Any]]  #: Pairs of seconds since 1970 and degC, in order of time.
    first_s: Mapped[float]  #: Of its first point. [s since 1970]
    last_s: Mapped[float] = mapped_column(index=True)  #: Of its last point. [s since 1970]
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"), index=True)  #: That sent it: a row a day then.
    doubtful: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")  #: Seconds since 1970, degC and why: nothing is reckoned from them.
    struck: Mapped[bool] = mapped_column(default=False)
    struck_at: Mapped[datetime | None]
    device: Mapped[Device | None] = relationship()


class SpotReading(Base):
    """How warm it was where bottles were put, as somebody read there."""

    __tablename__ = "spot_reading"
    place_id: Mapped[int] = mapped_column(ForeignKey("place.id"), index=True)
    at: Mapped[datetime]
    celsius: Mapped[float]  #: [degC]


class Photo(Base):
    """A picture of a brew."""

    __tablename__ = "photo"
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), index=True)
    look_id: Mapped[int | None] = mapped_column(ForeignKey("look.id"))
    at: Mapped[datetime]
    sha: Mapped[str]  #: Of its content.
    width: Mapped[int]  #: [px]
    height: Mapped[int]  #: [px]
    note: Mapped[str] = mapped_column(default="")
    struck: Mapped[bool] = mapped_column(default=False)
    struck_at: Mapped[datetime | None]
    brew: Mapped[Brew] = of_brew("Photo", "photos")


class PhotoContent(Base):
    """The picture itself, kept once for each content; not part of what undo keeps."""

    __tablename__ = "photo_content"
    sha: Mapped[str] = mapped_column(unique=True)
    large: Mapped[bytes] = mapped_column(LargeBinary)  #: JPEG
    small: Mapped[bytes] = mapped_column(LargeBinary)  #: JPEG


class Note(Base):
    """Words about a thing of the household."""

    __tablename__ = "note"
    __table_args__ = (Index("ix_note_about", "about", "about_id"),)
    about: Mapped[str]  #: A table of core/base/kinds.py: NoteOn
    about_id: Mapped[int]  #: The thing's number in it.
    at: Mapped[datetime]
    taster_id: Mapped[int | None] = mapped_column(ForeignKey("taster.id"))  #: Whose hand; None: not said.
    text: Mapped[str]
    photo_sha: Mapped[str | None] = mapped_column(index=True)  #: Of its photo's content.
    struck: Mapped[bool] = mapped_column(default=False)
    struck_at: Mapped[datetime | None]
    taster: Mapped[Taster | None] = relationship()


class BlindTasting(Base):
    """Brews tasted by letter; who is who is shown after the last sheet."""

    __tablename__ = "blind_tasting"
    at: Mapped[datetime]
    brews: Mapped[list[Any]]  #: Numbers of brews in the order of their letters.
    sheets: Mapped[list[Any]] = mapped_column(default=list)  #: Of each taster and letter.
    revealed_at: Mapped[datetime | None]


class Overrule(Base):
    """A brewer's own verdict in place of the computed one."""

    __tablename__ = "overrule"
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), index=True)
    at: Mapped[datetime]
    was: Mapped[str]  #: The computed verdict then.
    word: Mapped[str]  #: The brewer's.
    reason: Mapped[str]
    against: Mapped[list[Any]]  #: The reasons that it was written against.
    struck: Mapped[bool] = mapped_column(default=False)
    struck_at: Mapped[datetime | None]
    brew: Mapped[Brew] = relationship(back_populates="overrules")


class PutOff(Base):
    """A due thing put off: not now until."""

    __tablename__ = "put_off"
    what: Mapped[str] = mapped_column(index=True)  #: Like brew-7-taste
    at: Mapped[datetime]
    until: Mapped[datetime]


class Away(Base):
    """An absence."""

    __tablename__ = "away"
    leaves: Mapped[date]
    returns: Mapped[date]
    at: Mapped[datetime]
    back_at: Mapped[datetime | None]


class PlannedDay(Base):
    """A day meant for something, moved on the almanac."""

    __tablename__ = "planned_day"
    kind: Mapped[str]  #: harvest, brew or draw
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"))
    brew_id: Mapped[int | None] = mapped_column(ForeignKey("brew.id"))
    day: Mapped[date]
    at: Mapped[datetime]
    done_at: Mapped[datetime | None]
    litres: Mapped[float | None]  #: To be brewed or drawn, by the plan; None: as usual. [L]
    by_plan: Mapped[bool] = mapped_column(default=False)  #: Put there by the plan of enough to drink.
    vessel: Mapped[Vessel] = relationship()
    brew: Mapped[Brew | None] = relationship()
