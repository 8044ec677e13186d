"""Records of change: what an action wrote, kept so that it can be undone."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy.orm import Mapped, mapped_column

from .base import LAYOUT, Base


class Change(Base):
    """What one action wrote, row by row, so that it can be undone."""

    __tablename__ = "change"
    action: Mapped[str]
    says: Mapped[str]
    at: Mapped[datetime] = mapped_column(index=True)
    undone_at: Mapped[datetime | None] = mapped_column(index=True)
    sent_as: Mapped[str | None] = mapped_column(unique=True)  #: The key of a form that a device may send twice.
    layout: Mapped[str] = mapped_column(default=LAYOUT)  #: Of the file then: rows of another one cannot be put back.
    rows: Mapped[list[Any]]
