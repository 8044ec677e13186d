"""Days in plain words: last winter, two winters ago, in march 2026, yesterday, last month, week of 2027-01-04, 2025."""

from __future__ import annotations

import calendar
import re
from dataclasses import dataclass
from datetime import date, timedelta

MONTHS = ("january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december")
SEASONS = {"spring": 3, "summer": 6, "autumn": 9, "fall": 9, "winter": 12}  #: First month, north of the equator.
COUNTS = {"two": 2, "three": 3, "four": 4, "five": 5}
FIRST_YEAR = 2000


@dataclass(frozen=True, slots=True)
class DaySpan:
    """Days from one to another, both within."""

    first: date
    last: date
    said: str  #: As it was typed.


def _month(year: int, month: int) -> tuple[date, date]:
    return date(year, month, 1), date(year, month, calendar.monthrange(year, month)[1])


def season(name: str, today: date, back: int, *, southern: bool = False) -> tuple[date, date]:
    """Return a season: that which goes on or was last, or so many before.

    >>> season("winter", date(2027, 2, 18), 0)
    (datetime.date(2026, 12, 1), datetime.date(2027, 2, 28))
    """
    first = SEASONS[name] if not southern else (SEASONS[name] + 5) % 12 + 1
    year = today.year if date(today.year, first, 1) <= today else today.year - 1
    begins = date(year - back, first, 1)
    last_month = (first + 1) % 12 + 1
    return begins, _month(begins.year + (last_month < first), last_month)[1]


_RULES = (
    (r"\b(?:in |since )?(?P<n>two|three|four|five) (?P<unit>winter|spring|summer|autumn|fall|year|month|week)s ago\b", "ago"),
    (r"\b(?:in )?(?:the )?last (?P<unit>winter|spring|summer|autumn|fall)\b", "season"),
    (r"\b(?:in )?(?:this|the) (?P<unit>winter|spring|summer|autumn|fall)\b", "season"),
    (r"\b(?:in )?last (?P<unit>year|month|week)\b", "last"),
    (r"\bthis (?P<unit>year|month|week)\b", "this"),
    (r"\bweek of (?P<d>20\d\d-\d\d-\d\d)\b", "week"),
    (r"\b(?P<unit>yesterday|today)\b", "day"),
    (rf"\b(?:on )?(?P<d>\d{{1,2}})\.? (?P<m>{'|'.join(m[:3] + '(?:' + m[3:] + ')?' if m != 'may' else 'may' for m in MONTHS)})(?: (?P<y>20\d\d))?\b", "date"),
    (rf"\b(?:in )?(?P<m>{'|'.join(m if m in {'may', 'march'} else m[:3] + '(?:' + m[3:] + ')?' for m in MONTHS)})(?: (?P<y>20\d\d))\b", "month"),
    (rf"\bin (?P<m>{'|'.join(MONTHS)})\b", "month"),
    (r"\b(?P<d>20\d\d-\d\d-\d\d)\b", "iso"),
    (r"\b(?:in )?(?P<y>20\d\d)\b", "year"),
)


def _number(name: str) -> int:
    return next(i for i, month in enumerate(MONTHS, 1) if month.startswith(name[:3]))


def _read(kind: str, found: re.Match[str], today: date) -> tuple[date, date] | None:
    given = found.groupdict()
    unit = str(given.get("unit"))
    if kind == "season":
        return season(unit, today, 0)
    if kind == "ago" and unit in SEASONS:
        return season(unit, today, COUNTS[str(given["n"])] - 1)
    if kind in {"ago", "last", "this"}:
        return _back(unit, {"ago": COUNTS.get(str(given.get("n")), 1), "last": 1, "this": 0}[kind], today)
    if kind == "day":
        day = today - timedelta(days=unit == "yesterday")
        return day, day
    if kind == "week":
        within = _day(*map(int, str(given["d"]).split("-")))
        return None if within is None else _back("week", 0, within[0])
    if kind == "iso":
        return _day(*map(int, str(given["d"]).split("-")))
    if kind == "year":
        year = int(str(given["y"]))
        return (date(year, 1, 1), date(year, 12, 31)) if year >= FIRST_YEAR else None
    month = _number(str(given["m"]))
    year = int(given["y"]) if given.get("y") else today.year - (month > today.month)
    return _month(year, month) if kind == "month" else _day(year, month, int(str(given["d"])))


def _day(year: int, month: int, day: int) -> tuple[date, date] | None:
    try:
        found = date(year, month, day)
    except ValueError:
        return None
    return found, found


def _back(unit: str, count: int, today: date) -> tuple[date, date]:
    """Return the year, month or week so many before this one."""
    if unit == "year":
        return date(today.year - count, 1, 1), date(today.year - count, 12, 31)
    if unit == "month":
        months = today.year * 12 + today.month - 1 - count
        return _month(months // 12, months % 12 + 1)
    monday = today - timedelta(days=today.weekday() + 7 * count)
    return monday, monday + timedelta(days=6)


def span_said(text: str, today: date) -> tuple[DaySpan | None, str]:
    """Find a span of days in a text: the span, and the text without it.

    Args:
        text: In small letters.
        today: The household's day.

    >>> span_said("damson last winter", date(2027, 2, 18))[0].first
    datetime.date(2026, 12, 1)
    >>> span_said("week of 2027-01-06", date(2027, 2, 18))[0].first
    datetime.date(2027, 1, 4)
    >>> span_said("march 2026", date(2027, 2, 18))[0].last
    datetime.date(2026, 3, 31)
    """
    for pattern, kind in _RULES:
        found = re.search(pattern, text)
        if found is None:
            continue
        days = _read(kind, found, today)
        if days is not None:
            return DaySpan(*days, found.group().strip()), f"{text[: found.start()]} {text[found.end() :]}".strip()
    return None, text
