"""Records of what a culture lives through: stays in the hotel, feeds, gifts."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from .base import Base

if TYPE_CHECKING:
    from .models import Brew, Culture, Disc, Vessel


class HotelStay(Base):
    """A disc in the hotel, from one day to another."""

    __tablename__ = "hotel_stay"
    disc_id: Mapped[int] = mapped_column(ForeignKey("disc.id"), index=True)
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"), index=True)
    since: Mapped[datetime]
    until: Mapped[datetime | None]
    disc: Mapped[Disc] = relationship(back_populates="stays")
    vessel: Mapped[Vessel] = relationship()


class HotelFeed(Base):
    """Sweet tea or brew given to the hotel, or its level and pH looked after."""

    __tablename__ = "hotel_feed"
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"), index=True)
    at: Mapped[datetime]
    litres: Mapped[float]  #: [L]
    of: Mapped[str]  #: sweet tea or brew
    brew_id: Mapped[int | None] = mapped_column(ForeignKey("brew.id"))
    ph: Mapped[float | None]  #: Of the hotel's liquid, measured then. [pH]
    note: Mapped[str] = mapped_column(default="")
    vessel: Mapped[Vessel] = relationship()
    brew: Mapped[Brew | None] = relationship()


class Gift(Base):
    """Something living that went to someone, or came from them. Who it was stays in this file."""

    __tablename__ = "gift"
    culture_id: Mapped[int] = mapped_column(ForeignKey("culture.id"), index=True)
    at: Mapped[datetime]
    outward: Mapped[bool] = mapped_column(default=True)
    disc_id: Mapped[int | None] = mapped_column(ForeignKey("disc.id"))
    lot_id: Mapped[int | None] = mapped_column(ForeignKey("starter_lot.id"))
    litres: Mapped[float] = mapped_column(default=0.0)  #: Of liquid. [L]
    who: Mapped[str] = mapped_column(default="")
    still_holds: Mapped[bool] = mapped_column(default=True)  #: As far as is known.
    note: Mapped[str] = mapped_column(default="")
    culture: Mapped[Culture] = relationship()
    disc: Mapped[Disc | None] = relationship()
