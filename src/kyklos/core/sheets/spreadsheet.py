"""Somebody's spreadsheet of brews and readings: columns recognised by their heads, rows read, what is wrong with which."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, tzinfo

from ..base import CoreError
from .logger_file import moment_of

MOST_ROWS, MOST_CELL, MOST_COLUMNS = 5_000, 2_000, 60
#: What a column may be: its name, and how heads say it (matched in this order).
COLUMNS: Mapping[str, tuple[str, str]] = {
    "began": ("Begun on", r"\b(start|began|begun|pitch\w*|brewed|brew ?day|f1 start|1f start)\b"),
    "ended": ("Ended on", r"\b(end\w*|harvest\w*|bottled|finish\w*|done|f1 end)\b"),
    "at": ("Day of the reading", r"\b(date|day|when|time|datum)\b"),
    "vessel": ("Vessel", r"\b(vessel|jar|crock|container)\b"),
    "brew": ("Brew", r"\b(brew|batch|no|number|id|#)\b|#"),
    "culture": ("Culture", r"\b(culture|scoby|line|mother)\b"),
    "ph": ("pH", r"\bph\b"),
    "celsius": ("Temperature", r"\b(temp\w*|°c|°f|celsius|fahrenheit|degrees?)\b|°"),
    "sugar_g_per_l": ("Sugar, g/L", r"\bsugar\b"),
    "litres": ("Volume, L", r"\b(vol\w*|lit\w+|size)\b|\bl\b"),
    "note": ("Note", r"\b(note\w*|comment\w*|taste|remark\w*)\b"),
}
USUAL_L = 4.0  #: Where no volume is given (assumed). [L]
LONGEST_DAYS = 120.0  #: A brew that stands longer is vinegar: kept as starter, or ended with its last reading. [d]


@dataclass(frozen=True, slots=True)
class ReadingTold:
    """A reading of a row."""

    row: int
    at: datetime
    ph: float | None
    celsius: float | None  #: [degC]
    note: str


@dataclass(frozen=True, slots=True)
class BrewTold:
    """A brew of one or several rows."""

    row: int  #: Its first.
    vessel: str
    culture: str
    began: datetime
    ended: datetime | None
    litres: float  #: [L]
    sugar_g_per_l: float | None  #: [g/L]
    note: str
    readings: tuple[ReadingTold, ...]


@dataclass(frozen=True, slots=True)
class RowFault:
    """What is wrong with a row."""

    row: int
    why: str


@dataclass(frozen=True, slots=True)
class Sheet:
    """A spreadsheet as it was read."""

    heads: tuple[str, ...]
    columns: tuple[str, ...]  #: For each column a key of COLUMNS, or empty.
    brews: tuple[BrewTold, ...]
    wrong: tuple[RowFault, ...]
    rows: int


def table(text: str) -> list[list[str]]:
    """Read a table with commas, semicolons or tabs.

    Raises:
        CoreError: If it is none, or far too large.
    """
    text = text.replace("\r\n", "\n").replace("\r", "\n").replace("\x00", "").lstrip("\ufeff")
    counts = {mark: text[:4000].count(mark) for mark in (";", "\t", ",")}
    mark = max(counts, key=lambda one: counts[one])
    try:
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=mark))
    except csv.Error as problem:
        raise CoreError("This is no table: a cell of it is far too long.") from problem
    while rows and not any(cell.strip() for cell in rows[-1]):
        rows.pop()
    if len(rows) < 2 or len(rows[0]) < 2:
        raise CoreError("This is no table with a head and rows: save the spreadsheet as CSV and choose that file.")
    if len(rows) > MOST_ROWS or len(rows[0]) > MOST_COLUMNS:
        raise CoreError(f"At most {MOST_ROWS} rows and {MOST_COLUMNS} columns at once: cut it to the brews you want.")
    if any(len(cell) > MOST_CELL for row in rows for cell in row):
        raise CoreError("This is no table of brews: a cell of it is far too long.")
    return rows


def recognised(heads: Sequence[str]) -> tuple[str, ...]:
    """Return what each column is by its head; each kind once, the first that fits.

    >>> recognised(["Jar", "Started", "Date", "pH", "Temp °C", "Colour"])
    ('vessel', 'began', 'at', 'ph', 'celsius', '')
    """
    out, taken = [], set()
    for head in heads:
        words = head.lower().replace("started", "start").replace("_", " ")
        found = next((key for key, (_, way) in COLUMNS.items() if key not in taken and re.search(way, words)), "")
        taken.add(found)
        out.append(found)
    return tuple(out)


def _number(text: str) -> float | None:
    found = re.search(r"-?\d{1,9}(?:[.,]\d{1,9})?", text)
    return float(found[0].replace(",", ".")) if found else None


def _day(text: str, zone: tzinfo, month_first: bool) -> datetime | None:
    text = text.strip()
    if not text:
        return None
    for way in (text, f"{text} 12:00"):
        found = moment_of(way, zone, month_first)
        if found is not None:
            whole = found.replace(hour=12) if found.hour == found.minute == 0 else found
            return whole.astimezone(UTC)
    return None


def read(text: str, columns: Sequence[str] | None, zone: tzinfo, now: datetime, *, month_first: bool = False) -> Sheet:
    """Read a spreadsheet of brews and readings.

    Args:
        text: As CSV.
        columns: For each column a key of COLUMNS, or empty; None: as its head says.
        zone: For its times.
        now: Nothing lies after it.
        month_first: Whether 2/3/2027 is the third of February.

    Raises:
        CoreError: If it is no table, or tells of no day.
    """
    rows = table(text)
    heads = tuple(cell.strip()[:60] for cell in rows[0])
    kinds = tuple(columns) if columns is not None else recognised(heads)
    kinds = tuple(key if key in COLUMNS else "" for key in (*kinds, *("",) * len(heads)))[: len(heads)]
    place = {key: kinds.index(key) for key in kinds if key}
    if "began" not in place and "at" not in place:
        raise CoreError("Which column tells the day? Choose one for the start of a brew, or for the day of a reading.")
    fahrenheit = "celsius" in place and bool(re.search(r"°\s*f|fahrenheit|\bf\b", heads[place["celsius"]].lower()))
    wrong: list[RowFault] = []
    groups: dict[tuple[str, str], list[dict[str, object]]] = {}
    for number, row in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in row):
            continue
        cells = {key: row[i].strip() if i < len(row) else "" for key, i in place.items()}
        found = _row(cells, number, zone, now, month_first, fahrenheit, wrong)
        if found is not None:
            groups.setdefault((str(found["vessel"]).casefold(), str(found["brew"])), []).append(found)
    brews = [brew for some in groups.values() for brew in _brews(some, wrong)]
    return Sheet(heads, kinds, tuple(sorted(brews, key=lambda b: (b.began, b.row))), tuple(wrong), len(rows) - 1)


def _row(
    cells: Mapping[str, str], number: int, zone: tzinfo, now: datetime, month_first: bool, fahrenheit: bool, wrong: list[RowFault]
) -> dict[str, object] | None:
    """Read one row; what is wrong with it is noted, and the row left out."""
    days = {}
    for key in ("began", "ended", "at"):
        text = cells.get(key, "")
        days[key] = _day(text, zone, month_first)
        if text and days[key] is None:
            wrong.append(RowFault(number, f"“{text[:30]}” is no day that can be read."))
            return None
        if (day := days[key]) is not None and day > now + timedelta(days=1):
            wrong.append(RowFault(number, f"“{text[:30]}” lies in the future."))
            return None
    if days["began"] is None and days["at"] is None:
        wrong.append(RowFault(number, "It tells no day."))
        return None
    values: dict[str, float | None] = {}
    for key, low, high, what in (("ph", 1.8, 8.0, "pH"), ("celsius", -5.0, 60.0, "temperature"), ("litres", 0.1, 250.0, "volume"), ("sugar_g_per_l", 5.0, 150.0, "sugar")):
        value = _number(cells.get(key, ""))
        if value is not None and key == "celsius" and fahrenheit:
            value = (value - 32) / 1.8
        if cells.get(key, "") and (value is None or not low <= value <= high):
            wrong.append(RowFault(number, f"“{cells[key][:30]}” is no {what} that can be."))
            return None
        values[key] = value
    return {"row": number, **days, **values, **{key: cells.get(key, "")[:200] for key in ("vessel", "brew", "culture", "note")}}


def _brews(rows: Sequence[dict[str, object]], wrong: list[RowFault]) -> list[BrewTold]:
    """Make brews of the rows of one vessel and name: a new start begins a new one."""
    out: list[list[dict[str, object]]] = []
    began: object = None
    for row in rows:
        if not out or (row["began"] is not None and row["began"] != began):
            out.append([])
            began = row["began"]
        out[-1].append(row)
    made = []
    for some in out:
        brew = _brew(some)
        if brew.ended is not None and brew.ended < brew.began:
            wrong.append(RowFault(brew.row, "It ended before it began."))
            continue
        made.append(brew)
    return made


def _first(rows: Sequence[dict[str, object]], key: str) -> object:
    return next((row[key] for row in rows if row[key] not in (None, "")), None)


def _brew(rows: Sequence[dict[str, object]]) -> BrewTold:
    readings = tuple(
        ReadingTold(int(str(row["row"])), row["at"], row["ph"], row["celsius"], str(row["note"]))  # type: ignore[arg-type]
        for row in rows
        if isinstance(row["at"], datetime) and (row["ph"] is not None or row["celsius"] is not None)
    )
    moments = [moment for row in rows for moment in (row["began"], row["at"]) if isinstance(moment, datetime)]
    began = _first(rows, "began")
    ended = _first(rows, "ended")
    name = str(_first(rows, "vessel") or _first(rows, "brew") or "Jar")
    litres = _first(rows, "litres")
    sugar = _first(rows, "sugar_g_per_l")
    return BrewTold(
        int(str(rows[0]["row"])),
        name[:40],
        str(_first(rows, "culture") or "")[:40],
        began if isinstance(began, datetime) else min(moments),
        ended if isinstance(ended, datetime) else None,
        float(litres) if isinstance(litres, float) else USUAL_L,
        float(sugar) if isinstance(sugar, float) else None,
        str(_first(rows, "note") or "")[:200],
        tuple(sorted(readings, key=lambda one: one.at)),
    )
