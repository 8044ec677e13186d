"""Records of the notebook: lessons that are kept, and those that are not wanted."""

from __future__ import annotations

from datetime import datetime
from typing import Any

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
