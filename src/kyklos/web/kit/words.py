"""Words for times and windows, in the household's zone."""

from __future__ import annotations

import math
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from flask import g

from ...core.base.facts import INSTRUMENTS
from ...core.forecast import Window
from ...core.forecast.vigour import Trend
from ...core.liquid.sweet_tea import KitchenAmount
from . import units
from .reader import hour_word
from .units import fractions


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
    return f"{day_word(moment, now, zone)}, {hour_word(local(moment, zone))}"


WEEK = 7  #: [d]
WAS_READY = "was right "  #: How a window begins that has passed.


def window_word(start: datetime, window: Window, now: datetime, zone: str) -> str:
    """Put a window into words, in days: likely Thursday to Saturday."""
    if window.p10 is None:
        return "over 40 days at this pace"
    first = start + timedelta(days=window.p10)
    if window.p90 is None:
        return f"from {day_word(first, now, zone)} at the earliest, maybe much later"
    last = start + timedelta(days=window.p90)
    if last < now:
        return WAS_READY + days_between_word(first, last, now, zone)
    if first < now:
        until = day_word(last, now, zone)
        return f"about now, until {until}" if until != "today" else "about now"
    return f"likely {days_between_word(first, last, now, zone)}"


def days_between_word(first: datetime, last: datetime, now: datetime, zone: str) -> str:
    """Name a span of days once: today to Saturday, Thu 4 to Sat 6 Mar."""
    a, b = day_word(first, now, zone), day_word(last, now, zone)
    if a == b:
        return a
    there, end = local(first, zone), local(last, zone)
    dated = b.startswith(f"{end:%a} {end.day} ") and a.startswith(f"{there:%a} {there.day} ")
    same_month = (there.year, there.month) == (end.year, end.month)
    return f"{there:%a} {there.day} to {b}" if dated and same_month else f"{a} to {b}"


def right_word(start: datetime, window: Window, now: datetime, zone: str) -> str:
    """Put into few words when a brew is right: now, now to Saturday, Friday to Sunday, from Thu 4 Mar; was right and when, if that is past."""
    if window.p10 is None:
        return "in over 40 days"
    first = start + timedelta(days=window.p10)
    if window.p90 is None:
        return f"from {day_word(first, now, zone)}, maybe much later"
    last = start + timedelta(days=window.p90)
    if last < now:
        return WAS_READY + days_between_word(first, last, now, zone)
    if first > now:
        return days_between_word(first, last, now, zone)
    until = day_word(last, now, zone)
    return "now" if until == "today" else f"now to {until}"


def _rough_percent(value: float) -> float:
    """Round to tens; a small share to whole ones, so that it is never nothing. [%]"""
    return round(value, -1) if value >= 10 else max(1.0, round(value))


def after_a_year_word(trend: Trend) -> str:
    """Put into words how much weaker or stronger a line is after a year, and how sure that is."""
    likely, *between = (_rough_percent(100 * abs(share - 1)) for share in trend.after_a_year)
    low, high = sorted(between)
    return f"about {likely:.0f} % {'weaker' if trend.per_year < 0 else 'stronger'} after a year, perhaps {low:.0f} to {high:.0f} %"


def is_a_day(days: float) -> bool:
    """Return whether two spans differ by what is worth telling. [d]"""
    return days >= 1


HALF, HALVES_TO = 0.5, 4.0  #: Shorter spans than this are told in half days. [d]


def span_word(days: float) -> str:
    """Put a number of days into words: half a day, 2½ days, 6 days."""
    days = abs(days)
    if days < 0.3:
        return "a few hours"
    if days < 0.75:
        return "about half a day"
    if days <= 1.25:
        return "about a day"
    return f"about {fractions(days, HALF if days < HALVES_TO else 1.0)} days"


def moved_words(before: float | None, after: float | None) -> str:
    """Return how far a day moved, as the end of a sentence: , about 2 days sooner.

    >>> moved_words(9.0, 7.0), moved_words(9.0, 9.1)
    (', about 2 days sooner', ', as it goes now')
    """
    if before is None or after is None:
        return "" if before is after else ", later than it goes now" if after is None else ", sooner than it goes now"
    if abs(before - after) < 0.2:
        return ", as it goes now"
    return f", {span_word(before - after)} {'sooner' if after < before else 'later'}"


def local_today() -> date:
    """Return today's date in the household's zone."""
    return local(g.now, g.household.zone).date()


def day_said(day: date) -> str:
    """Name a day of the weeks to come: today, Saturday, 6 March."""
    away = (day - local_today()).days
    if away in {0, 1}:
        return ("today", "tomorrow")[away]
    return f"{day:%A}" if 0 < away < WEEK else f"{day.day} {day:%B}"


def chance_word(chance: float) -> str:
    """Put a chance into words, in per cent; an ensemble's all or none is no certainty."""
    return (
        "more than 99 %" if chance > 0.99 else "less than 1 %" if chance < 0.01 else f"{chance:.0%}".replace("%", " %")
    )


def hours_word(hours: float | None) -> str:
    """Put a wait into words.

    >>> hours_word(1.2), hours_word(3.25)
    ('72 min', '3.2 h')
    """
    if hours is None:
        return "never"
    return f"{max(1, round(hours * 60))} min" if hours < 1.5 else f"{hours:.1f} h"


def minutes_word(minutes: float) -> str:
    """Put a time of work into words.

    >>> minutes_word(45), minutes_word(110), minutes_word(120)
    ('45 min', '1 h 50', '2 h')
    """
    hours, rest = divmod(round(minutes), 60)
    return f"{rest} min" if not hours else f"{hours} h {rest:02d}" if rest else f"{hours} h"


def clock_left(seconds: float) -> str:
    """Return what is left of a timer.

    >>> clock_left(725), clock_left(-3)
    ('12:05', 'done')
    """
    if seconds <= 0:
        return "done"
    whole = math.ceil(seconds)
    hours, rest = divmod(whole, 3600)
    return (f"{hours}:{rest // 60:02d}" if hours else f"{rest // 60}") + f":{rest % 60:02d}"


def small_first(text: str) -> str:
    """Return a text as it goes on within a sentence: its first letter small, but not of an abbreviation.

    >>> small_first("Glass can burst"), small_first("PET soda bottle"), small_first("pH")
    ('glass can burst', 'PET soda bottle', 'pH')
    """
    return text[0].lower() + text[1:] if text[1:2].islower() or text[1:2] == " " else text


def capitalize_first(text: str) -> str:
    """Begin a sentence."""
    return text[:1].upper() + text[1:]


FINE = {"meter", "titration"}  #: Ways of measuring whose second decimal says something.


def ph_word(ph: float, instrument: str) -> str:
    """Name a pH as finely as what it was read with.

    >>> ph_word(3.42, "meter"), ph_word(3.5, "strip")
    ('pH 3.42', 'about pH 3.5')
    """
    return f"pH {ph:.2f}" if instrument in FINE else f"about pH {ph:.1f}"


def foretold_ph(ph: float, *limits: float) -> str:
    """Name a pH that was reckoned: to a tenth, finer only where a tenth would put it on the other side of a limit.

    >>> foretold_ph(4.09, 4.2), foretold_ph(4.52, 4.5)
    ('4.1', '4.52')
    """
    short = f"{ph:.1f}"
    return short if all((ph > bound) == (float(short) > bound) for bound in limits) else f"{ph:.2f}"


def alcohol_word(low: float, high: float) -> str:
    """Name a range of alcohol to half a per cent, the lower end rounded down and the upper one up. [% ABV]

    >>> alcohol_word(1.04, 2.2), alcohol_word(0.1, 0.1), alcohol_word(1.0, 1.0)
    ('1 to 2½ % alcohol', 'up to ½ % alcohol', 'about 1 % alcohol')
    """
    least, most = math.floor(low * 2 + 1e-6), math.ceil(high * 2 - 1e-6)
    ends = [f"{halves // 2 or ''}{'½' if halves % 2 else ''}" for halves in (least, max(most, 1))]
    if not least:
        return f"up to {ends[1]} % alcohol"
    return f"about {ends[0]} % alcohol" if ends[0] == ends[1] else f"{ends[0]} to {ends[1]} % alcohol"


def told_by(instrument: str) -> str:
    """Return how a starter's acid was measured."""
    words = {"estimate": "not measured", "titration": "titrated"}
    return words.get(instrument) or f"by {INSTRUMENTS[instrument].name.lower()}"


def lost(measured: KitchenAmount) -> str:
    """Return what rounding to a kitchen's measures lost, where it is worth saying."""
    if abs(measured.off_g) < 0.5 or (measured.grams and abs(measured.off_g) / measured.grams < 0.02):
        return ""
    off = units.words(abs(measured.off_g), "mass", g.units)
    return "" if off.startswith("0 ") else f" ({off} {'more' if measured.off_g > 0 else 'less'})"
