"""The journal: what an action wrote, row by row, and putting it back."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from sqlalchemy import event
from sqlalchemy.orm import Session

from ..records import (
    Change,
    DataKey,
    DeviceLanding,
    DeviceReading,
    DeviceState,
    KnownReading,
    Lesson,
    Note,
    OutdoorHour,
    Pairing,
    PhotoContent,
    PracticeCard,
    PracticeMix,
    PracticeSeason,
    SheetShape,
    TastedThen,
    Touched,
)
from ..records.base import Base

Row = dict[str, Any] | None
SENT = (DeviceLanding, DeviceReading, DeviceState, KnownReading, OutdoorHour, Pairing)  #: What devices send, and by what they are known.
PRACTICE = (PracticeCard, PracticeMix, PracticeSeason)  #: How somebody's practice stands.
UNKEPT = (Change, PhotoContent, Lesson, TastedThen, Touched, DataKey, SheetShape, *PRACTICE, *SENT)  #: Not part of what undo puts back.


def _raw(session: Session, table: str, number: int) -> Row:
    found = session.connection().exec_driver_sql(f'SELECT * FROM "{table}" WHERE id = ?', (number,)).mappings().first()
    return None if found is None else dict(found)


class Recorder:
    """Collects the rows that a session writes: table, number, row before, row after."""

    def __init__(self) -> None:
        """Start with nothing."""
        self.rows: list[list[Any]] = []
        self._before: dict[tuple[str, int], Row] = {}

    def before_flush(self, session: Session, *_: Any) -> None:
        """Keep rows as they are before they change."""
        for thing in [*session.dirty, *session.deleted]:
            if isinstance(thing, Base) and not isinstance(thing, UNKEPT):
                key = (thing.__tablename__, thing.id)
                self._before[key] = _raw(session, *key)

    def after_flush(self, session: Session, *_: Any) -> None:
        """Pair the rows kept before a write with the same rows after it."""
        touched = [*session.new, *session.dirty, *session.deleted]
        written = [thing for thing in touched if isinstance(thing, Base) and not isinstance(thing, UNKEPT)]
        for key in sorted({(thing.__tablename__, thing.id) for thing in written}):
            before, after = self._before.pop(key, None), _raw(session, *key)
            if before != after:
                self.rows.append([*key, before, after])


@contextmanager
def recording(session: Session) -> Iterator[Recorder]:
    """Record all that a session writes inside the block."""
    recorder = Recorder()
    event.listen(session, "before_flush", recorder.before_flush)
    event.listen(session, "after_flush", recorder.after_flush)
    try:
        yield recorder
    finally:
        event.remove(session, "before_flush", recorder.before_flush)
        event.remove(session, "after_flush", recorder.after_flush)


def touched_by(change: Change) -> list[Touched]:
    """List the rows that a change wrote, and those that these refer to."""
    rows = change.rows
    written = {(table, number) for table, number, _, _ in rows}
    meant = {
        (key.column.table.name, int(row[key.parent.name]))
        for table, _, before, after in rows
        for row in (before, after)
        if row is not None
        for key in Base.metadata.tables[table].foreign_keys
        if row[key.parent.name] is not None
    }
    meant |= {(str(row["about"]), int(row["about_id"])) for table, _, before, after in rows if table == Note.__tablename__
              for row in (before, after) if row is not None}
    made = {(table, number) for table, number, before, _ in rows if before is None}
    out = [Touched(change_id=change.id, name=key[0], number=key[1], made=key in made) for key in sorted(written)]
    return out + [
        Touched(change_id=change.id, name=key[0], number=key[1], refers=True) for key in sorted(meant - written)
    ]


def changed_since(session: Session, rows: list[list[Any]]) -> bool:
    """Return whether any row of a change was written again after it."""
    newest = {(table, number): after for table, number, _, after in rows}
    return any(_raw(session, table, number) != after for (table, number), after in newest.items())


def put_back(session: Session, rows: list[list[Any]]) -> None:
    """Write every row of a change back as it was, last first."""
    connection = session.connection()
    connection.exec_driver_sql("PRAGMA defer_foreign_keys=ON")
    for table, number, before, after in reversed(rows):
        if before is None:
            connection.exec_driver_sql(f'DELETE FROM "{table}" WHERE id = ?', (number,))
        elif after is None:
            names, marks = ", ".join(f'"{name}"' for name in before), ", ".join("?" for _ in before)
            connection.exec_driver_sql(f'INSERT INTO "{table}" ({names}) VALUES ({marks})', tuple(before.values()))
        else:
            sets = ", ".join(f'"{name}" = ?' for name in before)
            connection.exec_driver_sql(f'UPDATE "{table}" SET {sets} WHERE id = ?', (*before.values(), number))
