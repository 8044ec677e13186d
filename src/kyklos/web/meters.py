"""Meters whose calibration is due: shown on the round, on the instruments' page and in the calendar."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.instruments import Calibrated, Standing, standing
from ..store import queries, values
from ..store.models import Instrument, PutOff
from .stops import put_off_now
from .words import span_word


@dataclass(frozen=True, slots=True)
class MeterDue:
    """A meter to calibrate."""

    number: int
    name: str
    says: str

    @property
    def key(self) -> str:
        """What it is put off as."""
        return f"meter-{self.number}"


def standing_of(row: Instrument, now: datetime) -> Standing:
    """Say how a meter stands now."""
    done = [Calibrated(values.days_between(c.at, now), c.at_seven, c.at_four) for c in row.calibrations]
    return standing(done, row.interval_days)


def says_of(found: Standing) -> str:
    """Say it in words."""
    if found.due_in_days is None:
        return "Never calibrated at 7 and 4: its readings count as uncalibrated."
    if found.overdue:
        return f"Its calibration is overdue by {span_word(found.due_in_days)}: its readings count as uncalibrated, and widen."
    return f"Calibrated; due again in {span_word(found.due_in_days)}."


def meters_due(session: Session, now: datetime) -> tuple[list[MeterDue], list[tuple[MeterDue, PutOff]]]:
    """List meters whose calibration is due, and those of them that are put off."""
    due, off = [], []
    for row in queries.instruments(session):
        if row.kind != "meter" or not (found := standing_of(row, now)).due_soon:
            continue
        meter = MeterDue(row.id, row.name, says_of(found))
        if (waiting := put_off_now(session, now).get(meter.key)) is not None:
            off.append((meter, waiting))
        else:
            due.append(meter)
    return due, off
