"""Which lessons a change makes out of date: marks on rows, no computation. Every action and undo does it as it writes."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import delete, func, or_, select, text, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from ..store.records import Brew, Calibration, Lesson, Reading, Standing, TastedThen, Tasting

OF_A_LIQUID = {"reading", "tasting", "addition"}
#: What changes of a brew while it goes on; all else of its row tells how it began.
GOES_ON = {"version", "status", "ended_at", "end_note", "facts", "plan", "vessel_id", "label", "labelled_at", "no_next_brew"}
ENDED = Brew.ended_at.is_not(None)


def outdate(session: Session, rows: list[list[Any]]) -> None:
    """Mark the lessons of ended brews that a change wrote to; they are learned anew, and serve as they are until then.

    A place's usual warmth recorded differently, or a line's diet, changes no lesson: what is past was judged as it was known then.
    """
    _forget_tasted(session, rows)
    wanted = [
        condition for table, number, before, after in rows for condition in _conditions(table, number, before, after)
    ]
    if not wanted:
        return
    numbers = set(session.scalars(select(Brew.id).where(or_(*wanted))))
    mark(session, sorted(numbers))


def keep_tasted(session: Session, tasting: int, ta_g_per_l: float, sd: float) -> None:
    """Keep how sour a tapped vessel was when it was tasted. [g/L]"""
    row = {"tasting_id": tasting, "ta_g_per_l": ta_g_per_l, "sd": sd}
    session.execute(insert(TastedThen).values(row).on_conflict_do_update(index_elements=["tasting_id"], set_=row))


def _forget_tasted(session: Session, rows: list[list[Any]]) -> None:
    """Forget how sour a vessel was at tastings after something that is now told otherwise."""
    for table, _, before, after in rows:
        versions = [row for row in (before, after) if row is not None]
        if table == "tasting":
            wanted = Tasting.id.in_([row["id"] for row in versions if before is not None])
        elif table in OF_A_LIQUID | {"transfer"}:
            ends = ("liquid_id",) if table in OF_A_LIQUID else ("source_id", "target_id")
            liquids = {row[end] for row in versions for end in ends if row[end] is not None}
            first = min(row["at"] for row in versions)
            wanted = Tasting.liquid_id.in_(liquids) & (Tasting.at > _moment(first))
        elif table == "brew" and before is not None and after is not None and _begun_otherwise(before, after):
            wanted = Tasting.liquid_id == after["liquid_id"]
        else:
            continue
        session.execute(delete(TastedThen).where(TastedThen.tasting_id.in_(select(Tasting.id).where(wanted))))


def _begun_otherwise(before: dict[str, Any], after: dict[str, Any]) -> bool:
    return any(before[key] != after[key] for key in before if key not in GOES_ON)


def mark(session: Session, numbers: Sequence[int]) -> None:
    """Mark lessons as out of date; a brew that has none gets one that is to be learned."""
    for number in numbers:
        row = {
            "brew_id": number,
            "stale": True,
            "rules": "",
            "fingerprint": "",
            "revision": 0,
            "jun": False,
            "tasted": [],
            "tests": [],
        }
        session.execute(
            insert(Lesson).values(row).on_conflict_do_update(index_elements=["brew_id"], set_={"stale": True})
        )


def _conditions(table: str, number: int, before: dict[str, Any] | None, after: dict[str, Any] | None) -> list[Any]:
    """Return which ended brews a row that was written tells of."""
    versions = [row for row in (before, after) if row is not None]
    if table == "brew":
        ended = any(row["ended_at"] for row in versions)
        return [Brew.id == number] if ended else []
    if table in OF_A_LIQUID:
        return [Brew.liquid_id.in_({row["liquid_id"] for row in versions}) & ENDED]
    if table == "transfer":
        liquids = {row[end] for row in versions for end in ("source_id", "target_id") if row[end] is not None}
        return [Brew.liquid_id.in_(liquids) & ENDED]
    if table == "standing":
        return [_stood(row) for row in versions if row["vessel_id"] is not None]
    if table == "vessel" and before is not None and after is not None and before["diameter_cm"] != after["diameter_cm"]:
        return [(Brew.vessel_id == number) & ENDED]
    if table == "temperature_log":
        return [_logged(row) for row in versions]
    if table == "calibration":
        return [_read_with(row["instrument_id"], row["at"]) for row in versions]
    return []


def _stood(row: dict[str, Any]) -> Any:
    """Brews that stood in a vessel while it stood in a place."""
    until = [] if row["until"] is None else [Brew.pitched_at < _moment(row["until"])]
    whole = ENDED & (Brew.vessel_id == row["vessel_id"]) & (Brew.ended_at > _moment(row["since"]))
    for one in until:
        whole &= one
    return whole


def _logged(row: dict[str, Any]) -> Any:
    if row["brew_id"] is not None:
        return (Brew.id == row["brew_id"]) & ENDED
    there = select(Standing.vessel_id).where(Standing.place_id == row["place_id"])
    first, last = (datetime.fromtimestamp(row[end], UTC) for end in ("first_s", "last_s"))
    return ENDED & Brew.vessel_id.in_(there) & (Brew.ended_at > first) & (Brew.pitched_at < last)


def _read_with(instrument: int, since: str) -> Any:
    """Ended brews that a meter read since the calibration before: what lies between two is put right by both."""
    before = select(func.max(Calibration.at)).where(Calibration.instrument_id == instrument, Calibration.at < _moment(since)).scalar_subquery()
    query = select(Reading.liquid_id).where(Reading.instrument_id == instrument, Reading.at >= func.coalesce(before, _moment(since)))
    return ENDED & Brew.liquid_id.in_(query)


def _moment(raw: str) -> Any:
    """A moment as the file keeps it."""
    return text(f"'{raw}'")


def outdate_rules(session: Session, rules: str) -> None:
    """Mark every lesson that another computation made."""
    session.execute(update(Lesson).where(Lesson.rules != rules).values(stale=True))
