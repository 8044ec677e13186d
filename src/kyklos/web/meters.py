"""How a meter stands with its calibration, in words."""

from __future__ import annotations

from datetime import datetime

from flask import g

from ..core.instruments import Calibrated, Standing, standing
from ..reckon.brew_records import usual_ph_reader
from ..store.models import Instrument
from ..store.read import moments
from .words import span_word


def usual() -> str:
    """Return what this household reads pH with unless told."""
    return usual_ph_reader(g.session, g.now)


def standing_of(row: Instrument, now: datetime) -> Standing:
    """Return how a meter stands now."""
    done = [Calibrated(moments.days_between(c.at, now), c.at_seven, c.at_four) for c in row.calibrations]
    return standing(done, row.interval_days)


def says_of(found: Standing) -> str:
    """Put it into words."""
    if found.due_in_days is None:
        return "Never calibrated at 7 and 4: its readings count as uncalibrated."
    if found.overdue:
        return f"Its calibration is overdue by {span_word(found.due_in_days)}: its readings count as uncalibrated, and widen."
    return f"Calibrated; due again in {span_word(found.due_in_days)}."
