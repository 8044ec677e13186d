"""Moments turned into days."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

HOURS_A_DAY = 24
ALWAYS = datetime(1970, 1, 1, tzinfo=UTC)  #: Before anything was recorded.


def days_between(start: datetime, end: datetime) -> float:
    """Count days from one moment to another. [d]"""
    return (end - start) / timedelta(days=1)


def since_start(start: datetime, moment: datetime) -> float:
    """Count days from a start to a moment, to the minute and half; never below 0. [d]"""
    return round(max(0.0, days_between(start, moment)), 3)
