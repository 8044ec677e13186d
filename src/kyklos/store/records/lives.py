"""Records of what a culture lives through: events of discs, stays in the hotel and in jars, feeds, gifts, quarantines, conversions."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from sqlalchemy import CheckConstraint, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from .base import Base

if TYPE_CHECKING:
    from .bottles import Bottle
    from .brews import Brew
    from .household import Place, Vessel
    from .liquids import Addition, Transfer
    from .living import Culture, Disc


class Standing(Base):
    """Where a vessel or a bottle stood, from one moment to another: a move ends one standing and begins the next."""

    __tablename__ = "standing"
    __table_args__ = (
        CheckConstraint("(vessel_id IS NULL) <> (bottle_id IS NULL)", name="whose"),
        Index("ix_standing_vessel_until", "vessel_id", "until"),
    )
    vessel_id: Mapped[int | None] = mapped_column(ForeignKey("vessel.id"))
    bottle_id: Mapped[int | None] = mapped_column(ForeignKey("bottle.id"), index=True)
    place_id: Mapped[int] = mapped_column(ForeignKey("place.id"), index=True)
    heater_c: Mapped[float | None]  #: Set point of the vessel's heater then; None: it had none. [degC]
    since: Mapped[datetime]
    until: Mapped[datetime | None]  #: None: it stands there still.
    vessel: Mapped[Vessel | None] = relationship(back_populates="standings")
    bottle: Mapped[Bottle | None] = relationship(back_populates="standings")
    place: Mapped[Place] = relationship()


class DiscEvent(Base):
    """Something that happened to a disc: measured, turned, thinned, dried, moved or named anew."""

    __tablename__ = "disc_event"
    disc_id: Mapped[int] = mapped_column(ForeignKey("disc.id"), index=True)
    at: Mapped[datetime]
    kind: Mapped[str]  #: A key of core/cultures/discs.py: EVENTS
    thickness_mm: Mapped[float | None]  #: From then on. [mm]
    diameter_cm: Mapped[float | None]  #: [cm]
    note: Mapped[str] = mapped_column(default="")
    disc: Mapped[Disc] = relationship(back_populates="events")


class BrewDisc(Base):
    """A disc that lies in a brew besides the one it was pitched with; of another line, two lines share the jar."""

    __tablename__ = "brew_disc"
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), index=True)
    disc_id: Mapped[int] = mapped_column(ForeignKey("disc.id"), index=True)
    since: Mapped[datetime]
    until: Mapped[datetime | None]
    position: Mapped[int] = mapped_column(default=1)  #: From the top, which is 1.
    brew: Mapped[Brew] = relationship(back_populates="guests")
    disc: Mapped[Disc] = relationship()


class BrewStay(Base):
    """A vessel in which a brew stood before the one in which it stands, or stood last."""

    __tablename__ = "brew_stay"
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), index=True)
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"), index=True)
    since: Mapped[datetime]
    until: Mapped[datetime]
    brew: Mapped[Brew] = relationship(back_populates="earlier")
    vessel: Mapped[Vessel] = relationship()


class HotelStay(Base):
    """A disc in the hotel, from one day to another."""

    __tablename__ = "hotel_stay"
    disc_id: Mapped[int] = mapped_column(ForeignKey("disc.id"), index=True)
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"), index=True)
    since: Mapped[datetime]
    until: Mapped[datetime | None]
    position: Mapped[int] = mapped_column(default=1)  #: From the top, which is 1.
    disc: Mapped[Disc] = relationship(back_populates="stays")
    vessel: Mapped[Vessel] = relationship()


class HotelFeed(Base):
    """The hotel tended: fed, measured, its cover renewed."""

    __tablename__ = "hotel_feed"
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"), index=True)
    at: Mapped[datetime]
    addition_id: Mapped[int | None] = mapped_column(ForeignKey("addition.id"))  #: The sweet tea it got.
    transfer_id: Mapped[int | None] = mapped_column(ForeignKey("transfer.id"))  #: The splash of brew it got.
    ph: Mapped[float | None]  #: Of the hotel's liquid, measured then. [pH]
    fresh_cover: Mapped[bool] = mapped_column(default=False)
    note: Mapped[str] = mapped_column(default="")
    vessel: Mapped[Vessel] = relationship()
    addition: Mapped[Addition | None] = relationship()
    transfer: Mapped[Transfer | None] = relationship()

    @property
    def fed(self) -> bool:
        """Whether the hotel got something."""
        return self.addition_id is not None or self.transfer_id is not None

    @property
    def litres(self) -> float:
        """How much the hotel got. [L]"""
        got = self.addition or self.transfer
        return got.litres if got is not None else 0.0


class Gift(Base):
    """Something living that went to someone, or came from them. Who it was stays in this file."""

    __tablename__ = "gift"
    culture_id: Mapped[int] = mapped_column(ForeignKey("culture.id"), index=True)
    at: Mapped[datetime]
    outward: Mapped[bool] = mapped_column(default=True)
    disc_id: Mapped[int | None] = mapped_column(ForeignKey("disc.id"))
    transfer_id: Mapped[int | None] = mapped_column(ForeignKey("transfer.id"))  #: The liquid that passed.
    who: Mapped[str] = mapped_column(default="")
    still_holds: Mapped[bool] = mapped_column(default=True)  #: As far as is known.
    note: Mapped[str] = mapped_column(default="")
    culture: Mapped[Culture] = relationship()
    disc: Mapped[Disc | None] = relationship()
    transfer: Mapped[Transfer | None] = relationship()

    @property
    def litres(self) -> float:
        """Of liquid. [L]"""
        return self.transfer.litres if self.transfer is not None else 0.0

    @property
    def lot_id(self) -> int | None:
        """The starter that passed."""
        if self.transfer is None:
            return None
        liquid = self.transfer.source if self.outward else self.transfer.target
        return liquid.lot.id if liquid is not None and liquid.lot is not None else None


class CutLink(Base):
    """A way of the trace that the brewer knows to be closed: the spoon was boiled, it never touched."""

    __tablename__ = "cut_link"
    source_kind: Mapped[str]
    source_id: Mapped[int]
    target_kind: Mapped[str]
    target_id: Mapped[int]
    at: Mapped[datetime]
    reason: Mapped[str]
    opened_at: Mapped[datetime | None]  #: It counts again since then.


class Quarantine(Base):
    """A thing set apart until it has shown itself clean."""

    __tablename__ = "quarantine"
    kind: Mapped[str]  #: brew, lot, disc or hotel
    number: Mapped[int]
    since: Mapped[datetime]
    reason: Mapped[str]
    lifted_at: Mapped[datetime | None]


class Conversion(Base):
    """A line being led from one diet to another."""

    __tablename__ = "conversion"
    culture_id: Mapped[int] = mapped_column(ForeignKey("culture.id"), index=True)
    target: Mapped[str]  #: jun or sugar
    step: Mapped[float]  #: Change of the share of honey and green in each brew. [-]
    started_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    culture: Mapped[Culture] = relationship(back_populates="conversions")


class Upkeep(Base):
    """Something done to a tapped vessel: a fresh cover, its tap cleaned, its gauge read, discs thinned, a pause."""

    __tablename__ = "upkeep"
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"), index=True)
    at: Mapped[datetime]
    what: Mapped[str]  #: A key of core/tapped/care.py: CARE
    celsius: Mapped[float | None]  #: Of a gauge. [degC]
    before_mm: Mapped[float | None]  #: The stack of discs before it was thinned. [mm]
    after_mm: Mapped[float | None]  #: And after. [mm]
    note: Mapped[str] = mapped_column(default="")
