"""A temperature logger's file: times and degrees out of any table of text, with what could not be read."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, timezone, tzinfo

import numpy as np

from ..base import CoreError

MOST_LINES = 200_000
COLDEST_C, WARMEST_C = -10.0, 60.0  #: [degC]
FIRST_YEAR, LAST_YEAR = 1990, 2150  #: No logger tells of others.
EVERY_SECONDS = 1800  #: Means over half an hour are kept. [s]
FORMATS = ("%Y-%m-%d %H:%M:%S", "%Y-%m-%d %H:%M", "%Y/%m/%d %H:%M:%S", "%Y/%m/%d %H:%M", "%d.%m.%Y %H:%M:%S", "%d.%m.%Y %H:%M", "%d.%m.%y %H:%M", "%d %b %Y %H:%M", "%d %B %Y %H:%M", "%d %b %y %H:%M", "%d-%b-%Y %H:%M", "%d-%b-%y %H:%M", "%b %d %Y %H:%M", "%B %d %Y %H:%M")  # fmt: skip
SLASHED = {False: ("%d/%m/%Y", "%d/%m/%y", "%d-%m-%Y", "%d-%m-%y"), True: ("%m/%d/%Y", "%m/%d/%y", "%m-%d-%Y", "%m-%d-%y")}
CLOCKS = ("%H:%M:%S", "%H:%M", "%I:%M:%S %p", "%I:%M %p")


class LoggerFileError(CoreError):
    """The file cannot be read as a table of times and temperatures."""


@dataclass(frozen=True, slots=True)
class Logged:
    """What a file says."""

    points: tuple[tuple[float, float], ...]  #: Seconds since 1970, degC; means over half an hour.
    rows: int  #: Read.
    skipped: int  #: Not understood.
    doubt: str = ""

    @property
    def lowest_c(self) -> float:
        """[degC]"""
        return min(c for _, c in self.points)

    @property
    def highest_c(self) -> float:
        """[degC]"""
        return max(c for _, c in self.points)


def _number(text: str) -> float | None:
    found = re.fullmatch(r"\s*([+-]?\d+(?:[.,]\d+)?)\s*°?\s*[cCfF]?\s*", text)
    return float(found.group(1).replace(",", ".")) if found else None


def moment_of(text: str, zone: tzinfo, month_first: bool) -> datetime | None:
    """Read a moment as loggers and spreadsheets write it; one without an offset stays in its zone. None: it is none."""
    text = re.sub(r"\s+", " ", text.strip().replace("T", " ").strip())
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        slashed = [f"{d} {c}" for d in SLASHED[month_first] for c in CLOCKS]
        found = next((when for way in (*FORMATS, *slashed) if (when := _try(text, way))), None)  # type: ignore[assignment]
    if found is None:
        return None
    if not FIRST_YEAR <= found.year <= LAST_YEAR:
        return None
    return found.replace(tzinfo=zone) if found.tzinfo is None else found.astimezone(UTC)


def _after(when: datetime, before: datetime | None) -> datetime:
    """Return a moment in UTC; the hour that the autumn clock repeats is read in order: the second time comes after the first.

    Args:
        when: With its zone; a moment with an offset is UTC already.
        before: The moment of the line before.
    """
    first, second = when.replace(fold=0).astimezone(UTC), when.replace(fold=1).astimezone(UTC)
    return second if first != second and before is not None and first <= before else first


def _try(text: str, way: str) -> datetime | None:
    try:
        return datetime.strptime(text, way)
    except ValueError:
        return None


def _rows(text: str) -> list[list[str]]:
    sample = text[:4000]
    counts = {mark: sample.count(mark) for mark in (";", "\t", ",")}
    mark = ";" if counts[";"] else "\t" if counts["\t"] else ","
    try:
        return [row for row in csv.reader(io.StringIO(text, newline=""), delimiter=mark) if any(cell.strip() for cell in row)]
    except csv.Error as problem:
        raise LoggerFileError("This is no table of times and temperatures: a cell of it is far too long.") from problem


@dataclass(frozen=True, slots=True)
class _Columns:
    """Where a table has its times and temperatures."""

    day: int
    clock: int | None  #: Where the time of day stands apart.
    value: int
    fahrenheit: bool
    zone: tzinfo

    def moment(self, row: list[str], month_first: bool) -> datetime | None:
        """Read the moment of a row; None: it is none."""
        if max(self.day, self.clock or 0) >= len(row):
            return None
        text = row[self.day] if self.clock is None else f"{row[self.day].strip()} {row[self.clock].strip()}"
        return _since_1970(text) or moment_of(text, self.zone, month_first)


def _since_1970(text: str) -> datetime | None:
    """Read seconds or milliseconds since 1970, as some loggers write; None: it is none."""
    if not re.fullmatch(r"\d{10}(\d{3})?(\.\d+)?", text.strip()):
        return None
    seconds = float(text) / (1000 if len(text.strip().split(".")[0]) == 13 else 1)
    found = datetime.fromtimestamp(seconds, UTC)
    return found if FIRST_YEAR <= found.year <= LAST_YEAR else None


def _zone_in(heads: list[str], zone: tzinfo) -> tzinfo:
    """Return the zone that a head names, as UTC or GMT+01:00; the household's unless one does."""
    for head in heads:
        found = re.search(r"\b(?:UTC|GMT)\b\s*(?:([+-])(\d{1,2})(?::?(\d{2}))?)?", head, re.I)
        if found:
            minutes = int(found[2] or 0) * 60 + int(found[3] or 0)
            return timezone(timedelta(minutes=-minutes if found[1] == "-" else minutes)) if minutes <= 14 * 60 else zone
    return zone


def _columns(rows: list[list[str]], zone: tzinfo, month_first: bool) -> _Columns:
    """Find time and temperature, in any order of columns: times in one cell or two, degrees in the column that says so, or the first number."""
    head = next((row for row in rows[:30] if any(_HEAD.search(cell) for cell in row)), [])
    named = [i for i, cell in enumerate(head) if _HEAD.search(cell)]
    fahrenheit = bool(named and re.search(r"°\s*F|fahrenheit|\(F\)|_f\b", head[named[0]], re.I))
    named_zone = _zone_in([cell for row in rows[:30] if row in (head, rows[0]) or len(row) == 1 for cell in row], zone)
    for row in rows[:60]:
        for day, clock in _times_in(row, zone, month_first):
            others = [i for i, text in enumerate(row) if i not in {day, clock} and _number(text) is not None]
            chosen = [i for i in named if i in others] or [i for i in others if i > max(day, clock or 0)] or others
            if chosen:
                return _Columns(day, clock, chosen[0], fahrenheit, named_zone)
    raise LoggerFileError("No column of times with a column of temperatures was found. A line like 2027-02-18 08:30;21.5 can be read.")  # fmt: skip


_HEAD = re.compile(r"temp|°|celsius|fahrenheit", re.I)


def _times_in(row: list[str], zone: tzinfo, month_first: bool) -> Iterator[tuple[int, int | None]]:
    """List where a row may have its time: a day beside a time of day, in either order, or both in one cell."""
    clocks = [i for i, cell in enumerate(row) if re.fullmatch(r"\s*\d{1,2}:\d{2}(:\d{2})?\s*([ap]\.?m\.?)?\s*", cell, re.I)]
    for clock in clocks:
        for day in sorted(range(len(row)), key=lambda i: abs(i - clock)):
            if day != clock and ":" not in row[day] and moment_of(f"{row[day].strip()} {row[clock].strip()}", zone, month_first) is not None:
                yield day, clock
    for day, cell in enumerate(row):
        if _since_1970(cell) is not None or (":" in cell and moment_of(cell, zone, month_first) is not None):
            yield day, None


def read(text: str, zone: tzinfo, month_first: bool = False) -> Logged:
    """Read a logger's file.

    Args:
        text: A table with commas, semicolons or tabs; decimal points or commas; degC, or degF where its head says so.
        zone: For times that name none.
        month_first: Whether 2/3/2027 is the third of February.

    Raises:
        LoggerFileError: If there is nothing to read in it.
    """
    text = text.replace("\r\n", "\n").replace("\r", "\n").replace("\x00", "")
    if text.count("\n") > MOST_LINES:
        raise LoggerFileError(f"More than {MOST_LINES} lines: cut it to the days of the brew.")
    rows = _rows(text)
    where = _columns(rows, zone, month_first)
    found: list[tuple[float, float]] = []
    skipped = 0
    before: datetime | None = None
    for row in rows:
        local = where.moment(row, month_first)
        number = _number(row[where.value]) if where.value < len(row) else None
        celsius = None if number is None else (number - 32) / 1.8 if where.fahrenheit else number
        if local is None or celsius is None or not COLDEST_C <= celsius <= WARMEST_C:
            skipped += 1
            continue
        when = before = _after(local, before)
        found.append((when.timestamp(), celsius))
    if not found:
        raise LoggerFileError("Nothing in it could be read as a time with a temperature from -10 to 60 °C.")
    return Logged(_thinned(found), len(found), skipped, _doubt(found, where.fahrenheit))


def _doubt(rows: list[tuple[float, float]], fahrenheit: bool) -> str:
    middle = float(np.median([c for _, c in rows]))
    return "Its middle is above 40 °C: is it in °F without saying so?" if middle > 40 and not fahrenheit else ""


def _thinned(rows: list[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    """Average over half hours, in order of time."""
    slots: dict[int, list[tuple[float, float]]] = {}
    for when, celsius in rows:
        slots.setdefault(int(when // EVERY_SECONDS), []).append((when, celsius))
    return tuple(
        (float(np.mean([w for w, _ in slot])), round(float(np.mean([c for _, c in slot])), 2))
        for _, slot in sorted(slots.items())
    )
