"""Records of what lives: cultures, their discs, starter that is kept."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from ...core.base.kinds import Diet, StarterKind
from ...core.liquid import Way
from .base import Base

if TYPE_CHECKING:
    from .brews import Brew
    from .household import Vessel
    from .liquids import KeptLiquid
    from .lives import Conversion, DiscEvent, HotelStay


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
    ended_as: Mapped[str] = mapped_column(default="")  #: A key of core/cultures/lineage.py: ENDS
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
    liquid: Mapped[KeptLiquid] = relationship(back_populates="lot")
    source_brew: Mapped[Brew | None] = relationship(
        **_poured_from("Brew", Way.RESERVED)
    )  #: The brew it was reserved from; None: it came otherwise.
    hotel: Mapped[Vessel | None] = relationship(**_poured_from("Vessel", Way.DRAWN))  #: The hotel it was drawn from.

    @property
    def ages_since(self) -> datetime:
        """From when the starter's age counts."""
        return self.ripe_since or self.made_at

    @property
    def left_l(self) -> float:
        """What is left of it; a sum that rounding leaves below nothing is nothing. [L]"""
        return max(0.0, self.liquid.litres)

    @property
    def likely_ph(self) -> float | None:
        """As measured, or else as foretold when it was made. [pH]"""
        return self.ph if self.ph is not None else self.estimated_ph
