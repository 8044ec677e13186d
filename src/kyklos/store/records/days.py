"""Records of brew days: kept recipes, a plan being carried out, its timers."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from .base import Base

if TYPE_CHECKING:
    from .household import Vessel
    from .living import Culture


class KeptRecipe(Base):
    """A recipe kept by name."""

    __tablename__ = "recipe"
    name: Mapped[str]
    note: Mapped[str] = mapped_column(default="")
    card: Mapped[dict[str, Any]]  #: As store/read/documents.py packs it.
    made_at: Mapped[datetime]
    dropped_at: Mapped[datetime | None]
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}


class BrewDay(Base):
    """A plan being carried out in the kitchen, step by step."""

    __tablename__ = "brew_day"
    vessel_id: Mapped[int] = mapped_column(ForeignKey("vessel.id"))
    culture_id: Mapped[int] = mapped_column(ForeignKey("culture.id"))
    disc_id: Mapped[int | None] = mapped_column(ForeignKey("disc.id"))
    brew_id: Mapped[int | None] = mapped_column(ForeignKey("brew.id"))
    experiment_id: Mapped[int | None] = mapped_column(ForeignKey("experiment.id"))  #: That it brews for.
    ask: Mapped[dict[str, Any]]  #: The plan's ask, as store/read/documents.py packs it.
    step: Mapped[int] = mapped_column(default=0)
    facts: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: By step: what was logged there.
    started_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    vessel: Mapped[Vessel] = relationship()
    culture: Mapped[Culture] = relationship()
    timers: Mapped[list[Timer]] = relationship(back_populates="day", order_by="Timer.ends_at, Timer.id")


class KitchenDay(Base):
    """A day of several vessels, laid out by the clock and walked step by step."""

    __tablename__ = "kitchen_day"
    walk: Mapped[dict[str, Any]]  #: As store/read/documents.py packs it.
    done: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: By the step's number: when it was done. [min from the start]
    began_at: Mapped[datetime]
    ended_at: Mapped[datetime | None] = mapped_column(index=True)


class Timer(Base):
    """A timer of a brew day; it lives here, so that any device shows it."""

    __tablename__ = "timer"
    day_id: Mapped[int] = mapped_column(ForeignKey("brew_day.id"), index=True)
    step: Mapped[str]
    name: Mapped[str]
    started_at: Mapped[datetime]
    ends_at: Mapped[datetime]
    stopped_at: Mapped[datetime | None]
    day: Mapped[BrewDay] = relationship(back_populates="timers")
