"""How somebody's practice stands: no record of the household, outside the journal, wiped in a tap."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import UniqueConstraint
from sqlalchemy.orm import Mapped

from .base import Base


class PracticeCard(Base):
    """Where a card of a deck stands for one person."""

    __tablename__ = "practice_card"
    __table_args__ = (UniqueConstraint("person", "deck", "card"),)
    person: Mapped[int]  #: Number of a taster; 0: nobody in particular.
    deck: Mapped[str]
    card: Mapped[str]
    box: Mapped[int]
    due: Mapped[int]  #: As days of the calendar. [d]
    seen: Mapped[int]  #: Likewise. [d]
    unsafe: Mapped[bool]  #: Last called safe though it was not.
    answers: Mapped[int]
    misses: Mapped[int]


class PracticeMix(Base):
    """How often somebody took one sign for another."""

    __tablename__ = "practice_mix"
    __table_args__ = (UniqueConstraint("person", "deck", "was", "taken_for"),)
    person: Mapped[int]
    deck: Mapped[str]
    was: Mapped[str]
    taken_for: Mapped[str]
    times: Mapped[int]
    unsafe: Mapped[int]


class PracticeSeason(Base):
    """Where somebody's season in the practice kitchen stands: its seed and what they did, from which all follows."""

    __tablename__ = "practice_season"
    __table_args__ = (UniqueConstraint("person"),)
    person: Mapped[int]
    seed: Mapped[int]
    moves: Mapped[str]  #: As `core/practice/kitchen.py` writes them.
    at: Mapped[datetime]
