"""Moments turned into days."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

HOURS_A_DAY = 24
ALWAYS = datetime(1970, 1, 1, tzinfo=UTC)  #: Before anything was recorded.


def days_between(start: datetime, end: datetime) -> float:
    """Count days from one moment to another. [d]"""
    return (end - start) / timedelta(days=1)


def quarter_of(moment: datetime) -> datetime:
    """Return when the quarter of an hour began in which a moment lies: within it no liquid changes by anything worth computing again."""
    return moment - timedelta(minutes=moment.minute % 15, seconds=moment.second, microseconds=moment.microsecond)


def age_of(start: datetime, moment: datetime) -> float:
    """Return how old something is for what is foretold of it: to the begun quarter of an hour. [d]"""
    return max(0.0, days_between(start, quarter_of(moment)))


def since_start(start: datetime, moment: datetime) -> float:
    """Count days from a start to a moment, to the minute and half; never below 0. [d]"""
    return round(max(0.0, days_between(start, moment)), 3)
