"""Somebody's spreadsheet of brews, readings, tastings and bottles: rows read and put together, what is wrong with which."""

from __future__ import annotations

import statistics
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta, tzinfo

from ..base import CoreError
from .columns import COLUMNS, SIZES, TEMPERATURES, number_in, order_of, recognised, score_in, two_days, unit_of
from .rows import RANGES, SMALLEST_IN_ML, RowFault, RowReader, SheetRow
from .tables import Table
from .told import BottlesTold, BrewTold, ReadingTold, TastingTold

USUAL_L = 4.0  #: Where no volume is given (assumed). [L]
WARMER_THAN_ANY_ROOM = 45.0  #: Temperatures whose middle is above it are in °F. [degC]


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetAsk:
    """What a person said of a spreadsheet; what is left open is taken from it."""

    columns: tuple[tuple[str, ...], ...] = ()  #: For each table a key of COLUMNS for each column, or empty.
    month_first: bool | None = None  #: Whether 3/4 is the fourth of March.
    temperature: str = ""  #: A key of TEMPERATURES.
    size: str = ""  #: A key of SIZES.
    culture: str = "Imported"  #: Of brews that name none.


@dataclass(frozen=True, slots=True)
class Sheet:
    """A spreadsheet as it was read."""

    tables: tuple[Table, ...]
    columns: tuple[tuple[str, ...], ...]  #: For each table and column a key of COLUMNS, or empty.
    brews: tuple[BrewTold, ...]
    wrong: tuple[RowFault, ...]
    rows: int
    two_days: str  #: A cell that may mean two days, where none tells which; empty: all are plain.
    month_first: bool
    temperature: str  #: The unit its temperatures were read in; empty: it has none.
    size: str  #: Alike; empty: each says its own, or it has none.
    size_unsure: bool  #: Nothing says in what unit sizes are.


def read(tables: Sequence[Table], ask: SheetAsk, zone: tzinfo, now: datetime, *, us: bool = False) -> Sheet:
    """Read a spreadsheet of brews, readings, tastings and bottles.

    Args:
        tables: One or several; they are put together by brew, or by vessel and day.
        ask: What a person said of it.
        zone: For its times.
        now: Nothing lies after it.
        us: Whether the household writes as the US do, where nothing tells.

    Raises:
        CoreError: If no column tells a day.
    """
    kinds = tuple(_kinds(one, ask.columns[i] if i < len(ask.columns) else None) for i, one in enumerate(tables))
    if not any({"began", "at", "filled"} & set(some) for some in kinds):
        raise CoreError("Which column tells the day? Choose one for the start of a brew, or for the day of a reading.")
    dated = [cell for one, some in zip(tables, kinds, strict=True) for cell in _cells(one, some, {"began", "ended", "at", "filled"})]
    order = ask.month_first if ask.month_first is not None else order_of(dated)
    unsure = two_days(dated) if order is None else ""
    month_first = us if order is None else order
    reader = RowReader(zone, now, month_first, len(tables) > 1)
    rows: list[SheetRow] = []
    units, sizes, size_unsure = "", "", False
    for one, some in zip(tables, kinds, strict=True):
        warm = _temperature_unit(one, some, ask)
        size, named = _size_unit(one, some, ask, us)
        units, sizes, size_unsure = units or warm, sizes or size, size_unsure or not named
        rows += reader.rows(one, some, warm, size)
    brews = _put_together(rows, reader, tables)
    count = sum(len(one.rows) - one.head_at - 1 for one in tables)
    ordered = tuple(sorted(brews, key=lambda b: (b.began, b.row)))
    return Sheet(tuple(tables), kinds, ordered, tuple(reader.wrong), count, unsure, month_first, units, sizes, size_unsure)


def _kinds(found: Table, chosen: tuple[str, ...] | None) -> tuple[str, ...]:
    kinds = list(chosen if chosen else recognised(found.heads))
    kinds = [key if key in COLUMNS and key not in kinds[:i] else "" for i, key in enumerate(kinds)]
    return tuple((*kinds, *("",) * len(found.heads))[: len(found.heads)])


def _cells(found: Table, kinds: Sequence[str], wanted: set[str]) -> list[str]:
    places = [i for i, key in enumerate(kinds) if key in wanted]
    return [row[i] for row in found.rows[found.head_at + 1 :] for i in places if i < len(row)]


def _temperature_unit(found: Table, kinds: Sequence[str], ask: SheetAsk) -> str:
    """Return the unit of its temperatures: as a person said, as its head says, or as only that can be."""
    if "temperature" not in kinds:
        return ""
    named = unit_of(found.heads[kinds.index("temperature")])
    if ask.temperature in TEMPERATURES:
        return ask.temperature
    if named in TEMPERATURES:
        return named
    values = [value for cell in _cells(found, kinds, {"temperature"}) if (value := number_in(cell)) is not None]
    return "f" if values and statistics.median(values) > WARMER_THAN_ANY_ROOM else "c"


def _size_unit(found: Table, kinds: Sequence[str], ask: SheetAsk, us: bool) -> tuple[str, bool]:
    """Return the unit of its sizes, and whether anything tells it."""
    if "size" not in kinds:
        return "", True
    named = unit_of(found.heads[kinds.index("size")])
    if ask.size in SIZES:
        return ask.size, True
    if named in SIZES:
        return named, True
    cells = [cell for cell in _cells(found, kinds, {"size"}) if number_in(cell) is not None]
    if all(unit_of(cell) in SIZES for cell in cells):
        return "", True
    if "bottles" in kinds:
        return ("oz" if us else "ml"), all((number_in(cell) or 0) > SMALLEST_IN_ML for cell in cells) and not us
    return ("gal" if us else "l"), False


def _put_together(rows: Sequence[SheetRow], reader: RowReader, tables: Sequence[Table]) -> list[BrewTold]:
    """Make brews of rows: those that tell a start begin one, the others join theirs by its name, or by vessel and day."""
    begun: list[list[SheetRow]] = []
    loose: list[SheetRow] = []
    for row in rows:
        if row.began is None:
            loose.append(row)
            continue
        same = next((some for some in begun if some[0].began == row.began and _who(some[0]) == _who(row)), None)
        if same is None:
            begun.append([row])
        else:
            same.append(row)
    alone: dict[tuple[str, str], list[SheetRow]] = {}
    for row in loose:
        home = _home(begun, row)
        if home is not None:
            home.append(row)
        elif row.first is None or (row.bottles is not None and row.at is None and row.filled is None):
            reader.fault(next(one for one in tables if one.name == row.table), row.number, "It names no brew of this file, and no day.")
        else:
            alone.setdefault(_who(row), []).append(row)
    made = []
    for some in (*begun, *alone.values()):
        brew = _brew(some)
        if brew.ended is not None and brew.ended < brew.began:
            reader.fault(next(one for one in tables if one.name == some[0].table), brew.row, "It ended before it began.")
        else:
            made.append(brew)
    return made


def _who(row: SheetRow) -> tuple[str, str]:
    return row.words["vessel"].casefold(), row.words["brew"].casefold()


def _home(begun: Sequence[list[SheetRow]], row: SheetRow) -> list[SheetRow] | None:
    """Find the brew that a row without a start speaks of: of its name, else the last of its vessel that had begun."""
    vessel, brew = _who(row)
    if brew:
        named = [some for some in begun if some[0].words["brew"].casefold() == brew and (not vessel or not _who(some[0])[0] or _who(some[0])[0] == vessel)]
        if len(named) == 1:
            return named[0]
    day = row.first
    if not vessel or day is None:
        return None
    its = [some for some in begun if _who(some[0])[0] == vessel and some[0].began is not None and some[0].began <= day + timedelta(hours=13)]
    return max(its, key=lambda some: some[0].began or day) if its else None


def _first(rows: Sequence[SheetRow], key: str) -> str:
    return next((row.words[key] for row in rows if row.words[key]), "")


def _number(rows: Sequence[SheetRow], key: str) -> float | None:
    return next((row.values[key] for row in rows if row.values[key] is not None), None)


def _brew(rows: Sequence[SheetRow]) -> BrewTold:
    moments = [moment for row in rows for moment in (row.began, row.at, row.filled) if moment is not None]
    began = next((row.began for row in rows if row.began is not None), None) or min(moments)
    filled = [row.filled for row in rows if row.filled is not None and row.bottles is not None]
    ended = next((row.ended for row in rows if row.ended is not None), None) or (max(filled) if filled else None)
    ended = ended or next((row.filled for row in rows if row.filled is not None), None)
    litres, grams = _number(rows, "litres") or USUAL_L, _number(rows, "sugar_g")
    strength = _number(rows, "sugar") if grams is None else min(max(grams / litres, RANGES["sugar"][0]), RANGES["sugar"][1])
    notes = [row.words["note"] for row in rows if row.words["note"] and row.at is None]
    return BrewTold(
        rows[0].number,
        (_first(rows, "vessel") or _first(rows, "brew") or "Jar")[:40],
        _first(rows, "culture")[:40],
        began,
        ended,
        litres,
        strength,
        (notes[0] if notes else _first(rows, "note"))[:200],
        tuple(sorted(_readings(rows, began, ended), key=lambda one: one.at)),
        tuple(sorted(_tastings(rows, began, ended), key=lambda one: one.at)),
        tuple(_bottles(rows, ended or max(moments))),
    )


def _readings(rows: Sequence[SheetRow], began: datetime, ended: datetime | None) -> Iterator[ReadingTold]:
    for row in rows:
        at, v = row.at or row.began, row.values
        if v["ph_first"] is not None:
            yield ReadingTold(row.number, began, v["ph_first"], None, "")
        if v["ph_last"] is not None and (row.ended or row.filled or ended) is not None:
            yield ReadingTold(row.number, row.ended or row.filled or ended or began, v["ph_last"], None, "")
        if at is not None and (row.at is not None or v["ph"] is not None) and any(v[key] is not None for key in ("ph", "temperature", "acidity")):
            yield ReadingTold(row.number, max(at, began), v["ph"], v["temperature"], row.words["note"] if row.at else "", ta_g_per_l=v["acidity"])


def _tastings(rows: Sequence[SheetRow], began: datetime, ended: datetime | None) -> Iterator[TastingTold]:
    for row in rows:
        score, at = score_in(row.words["score"]), row.at or row.ended or row.filled or ended
        if score is not None and at is not None:
            yield TastingTold(row.number, max(at, began), row.words["taster"][:40], score, row.words["note"] if row.at else "")


def _bottles(rows: Sequence[SheetRow], usual: datetime) -> Iterator[BottlesTold]:
    for row in rows:
        if row.bottles is not None:
            count, kind, volume_ml, left = row.bottles
            yield BottlesTold(row.number, row.filled or row.ended or row.at or usual, count, kind, volume_ml, row.words["flavour"][:80], left)
