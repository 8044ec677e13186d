"""How a meter stands with its calibration, in words."""

from __future__ import annotations

from datetime import datetime

from flask import g

from ...core.base.kinds import ReadsPh
from ...core.judging.instruments import CalibrationState, standing
from ...reckon.brewing.brew_records import usual_ph_reader
from ...store.read.meters import calibrated
from ...store.records import Instrument
from .words import span_word

READS = [(ReadsPh.STRIPS, "pH strips"), (ReadsPh.METER, "A pH meter"), (ReadsPh.NOTHING, "Neither: I taste")]


def usual() -> str:
    """Return what this household reads pH with, unless given."""
    return usual_ph_reader(g.session, g.now)


def standing_of(row: Instrument, now: datetime) -> CalibrationState:
    """Return how a meter stands now."""
    return standing(calibrated(row, now), row.interval_days)


def says_of(found: CalibrationState) -> str:
    """Put a calibration into words."""
    if found.due_in_days is None:
        return "Never calibrated at 7 and 4: its readings count as uncalibrated."
    if found.overdue:
        return f"Its calibration is overdue by {span_word(found.due_in_days)}: its readings count as uncalibrated, and widen."
    return f"Calibrated; due again in {span_word(found.due_in_days)}."
