"""Words for times and windows, in the household's zone."""

from __future__ import annotations

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from ..core.forecast import Window


def local(moment: datetime, zone: str) -> datetime:
    """Show a moment in a zone."""
    return moment.astimezone(ZoneInfo(zone))


def day_word(moment: datetime, now: datetime, zone: str) -> str:
    """Name a day as a person would: today, tomorrow, Thursday, or Thu 12 Mar."""
    there, here = local(moment, zone).date(), local(now, zone).date()
    away = (there - here).days
    near = {0: "today", 1: "tomorrow", -1: "yesterday"}
    if away in near:
        return near[away]
    if 1 < away < 7:
        return f"{there:%A}"
    if -7 < away < 0:
        return f"last {there:%A}"
    return f"{there:%a} {there.day} {there:%b}" + (f" {there.year}" if there.year != here.year else "")


def clock_word(moment: datetime, now: datetime, zone: str) -> str:
    """Name a moment: the day and the hour."""
    return f"{day_word(moment, now, zone)}, {local(moment, zone):%H:%M}"


def window_word(start: datetime, window: Window, now: datetime, zone: str) -> str:
    """Say a window in days: likely Thursday to Saturday."""
    if window.p10 is None:
        return "not within forty days as it goes"
    first = start + timedelta(days=window.p10)
    if window.p90 is None:
        return f"from {day_word(first, now, zone)} at the earliest, maybe much later"
    last = start + timedelta(days=window.p90)
    a, b = day_word(first, now, zone), day_word(last, now, zone)
    if last < now:
        return f"was likely {a}" if a == b else f"was likely {a} to {b}"
    if first < now:
        return f"about now, until {b}" if b != "today" else "about now"
    return f"likely {a}" if a == b else f"likely {a} to {b}"


def span_word(days: float) -> str:
    """Say a number of days: half a day, 2 days."""
    days = abs(days)
    if days < 0.3:
        return "a few hours"
    if days < 0.75:
        return "about half a day"
    if days < 1.25:
        return "about a day"
    return f"about {days:.0f} days" if abs(days - round(days)) < 0.25 else f"about {days:.1f} days"


def moved_words(before: float | None, after: float | None) -> str:
    """Say how far a day moved, as the end of a sentence: , about 2 days sooner.

    >>> moved_words(9.0, 7.0), moved_words(9.0, 9.1)
    (', about 2 days sooner', ', as it goes now')
    """
    if before is None or after is None:
        return "" if before is after else ", later than it goes now" if after is None else ", sooner than it goes now"
    if abs(before - after) < 0.2:
        return ", as it goes now"
    return f", {span_word(before - after)} {'sooner' if after < before else 'later'}"
