"""Keys of data: made, named, ended; each reads the live tables and nothing else. They stand outside the journal: an ended one stays ended."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from ..store.records import DataKey
from .base import Checks
from .pairing import sum_of

MOST_NAME, MOST_KEYS = 60, 20
NOTED_EVERY = timedelta(hours=1)  #: A program that asks all day writes no more often.


@dataclass(frozen=True, slots=True)
class KeyMade:
    """A new key; it is shown once."""

    number: int
    key: str


def make_key(session: Session, name: str, at: datetime) -> KeyMade:
    """Make a key for the live tables.

    Raises:
        RefusedError: If it has no name, or there are too many.
    """
    checks, called = Checks(), " ".join(name.split())
    with session.begin():
        checks.refuse_if(not called or len(called) > MOST_NAME, "name", f"For what is it? Up to {MOST_NAME} letters.")
        checks.refuse_if(len(list(session.scalars(select(DataKey.id)))) >= MOST_KEYS, "name", f"There are {MOST_KEYS} keys already: end one first.")
        checks.done()
        key = secrets.token_urlsafe(24)
        row = DataKey(name=called, key_sum=sum_of(key), made_at=at)
        session.add(row)
        session.flush()
        return KeyMade(row.id, key)


def end_key(session: Session, number: int) -> None:
    """End a key at once."""
    with session.begin():
        session.execute(delete(DataKey).where(DataKey.id == number))


def key_of(session: Session, key: str) -> DataKey | None:
    """Find the key that opens the tables; None: it is none."""
    if not key or len(key) > 100:
        return None
    return session.scalar(select(DataKey).where(DataKey.key_sum == sum_of(key)), execution_options={"anew": True})


def is_noted(row: DataKey, at: datetime) -> bool:
    """Return whether its use was written down within the last hour."""
    return row.used_at is not None and at - row.used_at < NOTED_EVERY


def note_use(session: Session, number: int, at: datetime) -> None:
    """Write down when a key was last used."""
    with session.begin():
        session.execute(update(DataKey).where(DataKey.id == number).values(used_at=at))
