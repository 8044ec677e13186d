"""Records of what is kept besides what was done: what a brew taught, how sour it was when tasted, which rows a change touched."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column, relationship

from .base import Base

if TYPE_CHECKING:
    from .brews import Brew


class Lesson(Base):
    """What an ended brew taught: computed once, when it ended or was corrected, and kept beside what it was computed from."""

    __tablename__ = "lesson"
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id", ondelete="CASCADE"), unique=True)
    stale: Mapped[bool] = mapped_column(
        default=True, index=True
    )  #: Something of the brew changed: it is to be learned anew.
    rules: Mapped[str] = mapped_column(default="")  #: Of the computation then; empty: nothing was learned yet.
    fingerprint: Mapped[str] = mapped_column(default="")  #: Of all that it was computed from.
    revision: Mapped[int] = mapped_column(
        default=0, index=True
    )  #: Grows with each lesson written, over the whole file.
    yeast_vigour: Mapped[float | None]  #: None: nobody measured or tasted it. [-]
    bacteria_vigour: Mapped[float | None]  #: [-]
    yeast_sd: Mapped[float | None]  #: Of the logarithm. [-]
    bacteria_sd: Mapped[float | None]  #: Of the logarithm. [-]
    buffer: Mapped[float | None]  #: ln of the factor on the leaf's acids and ions. [-]
    covariance: Mapped[list[Any]] = mapped_column(default=list)  #: Of ln both vigours and ln buffer, upper triangle. [-]
    mean_c: Mapped[float | None]  #: While it stood. [degC]
    expected_day: Mapped[float | None]  #: Of a step of a conversion: foretold without any reading. [d since pitch]
    reached_day: Mapped[float | None]  #: And as measured and tasted. [d since pitch]
    jun: Mapped[bool] = mapped_column(default=False)  #: Its style, for the points of tasters.
    tasted: Mapped[list[Any]] = mapped_column(
        default=list
    )  #: Taster, score, moment [s], acidity [g/L], its sd of each tasting.
    tests: Mapped[list[Any]] = mapped_column(default=list)  #: Of `core/forecast/hindsight.py: Tested`, its six numbers each.
    brew: Mapped[Brew] = relationship()


class TastedThen(Base):
    """The acidity that a tapped vessel had when it was tasted: what is drawn and poured in later does not change it."""

    __tablename__ = "tasted_then"
    tasting_id: Mapped[int] = mapped_column(ForeignKey("tasting.id", ondelete="CASCADE"), unique=True)
    ta_g_per_l: Mapped[float]  #: As acetic. [g/L]
    sd: Mapped[float]  #: Of the logarithm. [-]


class Touched(Base):
    """A row that a change wrote or referred to: the day book finds by it what builds on what."""

    __tablename__ = "touched"
    __table_args__ = (Index("ix_touched_row", "name", "number", "change_id"),)
    change_id: Mapped[int] = mapped_column(ForeignKey("change.id"), index=True)
    name: Mapped[str]  #: Of the table.
    number: Mapped[int]
    refers: Mapped[bool] = mapped_column(default=False)  #: Only referred to by a row that was written.
    made: Mapped[bool] = mapped_column(default=False)  #: The row was not there before.
