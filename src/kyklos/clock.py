"""The one clock: everything that needs the time is given one of these."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from time import monotonic

Clock = Callable[[], datetime]


def system_clock() -> datetime:
    """Return the time now, in UTC."""
    return datetime.now(UTC).replace(microsecond=0)


def fixed_clock(at: datetime) -> Clock:
    """Make a clock that stands: for the sample household and for tests."""
    return lambda: at


def running_from(at: datetime, pace: float = 1.0) -> Clock:
    """Make a clock that starts at a moment and runs, so many times as fast: for trying the sample household, timers and all."""
    begun = monotonic()
    return lambda: at + timedelta(seconds=int(pace * (monotonic() - begun)))
