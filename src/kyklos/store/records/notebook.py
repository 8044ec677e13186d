"""Records of the notebook: lessons that are kept, and those that are not wanted."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from .base import Base


class KeptLesson(Base):
    """A lesson that comes back where it applies, or a proposal that was dismissed for good."""

    __tablename__ = "kept_lesson"
    key: Mapped[str] = mapped_column(default="", index=True)  #: Of the proposal it came from; empty: written by hand.
    text: Mapped[str]
    standing: Mapped[str] = mapped_column(index=True)  #: kept, dismissed or over
    applies: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: Where it comes back, as core/notebook/lessons.py: Applies is packed.
    evidence: Mapped[list[Any]] = mapped_column(default=list)  #: Pairs of a table and a number.
    helped: Mapped[int] = mapped_column(default=0)  #: So often somebody said that it did.
    at: Mapped[datetime]
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}


class Experiment(Base):
    """A question, and two things that differ in one thing: brews, fillings, or bottles of one filling."""

    __tablename__ = "experiment"
    question: Mapped[str]
    changed: Mapped[str]  #: What differs on purpose, in words.
    kind: Mapped[str]  #: brew, bottling or bottle
    arms: Mapped[list[Any]]  #: Of each of the two its number, a list of them, or an empty list while it is to be brewed; the plain one first.
    labels: Mapped[list[Any]]  #: Their numbers on the glasses, by lot.
    sheets: Mapped[list[Any]] = mapped_column(default=list)  #: Of each taster and arm: taster, arm, liked from 1 to 5.
    triangles: Mapped[list[Any]] = mapped_column(default=list)  #: Taster, place of the odd glass, place that was said.
    started_at: Mapped[datetime]
    revealed_at: Mapped[datetime | None]
    ended_at: Mapped[datetime | None]
    lesson_id: Mapped[int | None] = mapped_column(ForeignKey("kept_lesson.id"))  #: What was learned.
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}

    @property
    def sides(self) -> tuple[tuple[int, ...], tuple[int, ...]]:
        """Numbers of each of the two; empty: it is still to be brewed."""
        plain, other = (tuple(arm) if isinstance(arm, list) else (arm,) for arm in self.arms)
        return plain, other

    @property
    def waits(self) -> bool:
        """Whether one of the two is still to be brewed."""
        return not all(self.sides)


class CareRhythm(Base):
    """How often something of the kitchen is washed or changed."""

    __tablename__ = "care_rhythm"
    what: Mapped[str] = mapped_column(unique=True)  #: A key of core/notebook/care.py: CARE
    every_days: Mapped[float]  #: [d]


class CareTaken(Base):
    """Something of the kitchen that was washed or changed."""

    __tablename__ = "care_done"
    what: Mapped[str] = mapped_column(index=True)  #: The same; or what mould touched.
    at: Mapped[datetime]
    with_what: Mapped[str] = mapped_column(default="")
