"""The rows of somebody's table, cell by cell: what each says, and what is wrong with one that is left out."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta, tzinfo

from ..base import CoreError
from ..bottles.park import kind_in
from .columns import SIZES, day_in, number_in, sugar_grams, unit_of
from .tables import Table

USUAL_ML = 500.0  #: Of a bottle whose size nobody wrote (assumed). [mL]
SMALLEST_IN_ML = 20.0  #: A bottle's size above it is in mL, where no unit is given.
RANGES = {"ph": (1.8, 8.0, "pH"), "temperature": (-5.0, 60.0, "temperature"), "litres": (0.1, 250.0, "volume"),
           "sugar": (5.0, 150.0, "sugar"), "sugar_g": (5.0, 50_000.0, "sugar"), "acidity": (0.1, 60.0, "acidity")}  # fmt: skip


@dataclass(frozen=True, slots=True)
class RowFault:
    """What is wrong with a row."""

    row: int
    why: str
    table: str = ""  #: Empty: there is but one.


@dataclass(slots=True)
class SheetRow:
    """A row as its cells say."""

    number: int
    table: str
    began: datetime | None
    ended: datetime | None
    at: datetime | None
    filled: datetime | None
    values: dict[str, float | None]
    words: dict[str, str]
    bottles: tuple[int, str, float, int | None] | None  #: Count, kind, mL, left.

    @property
    def first(self) -> datetime | None:
        """The moment it speaks of."""
        return self.at or self.filled or self.began


@dataclass(slots=True)
class RowReader:
    """Reads the rows of tables; what is wrong with one is noted, and the row left out."""

    zone: tzinfo
    now: datetime
    month_first: bool
    several: bool
    wrong: list[RowFault] = field(default_factory=list)

    def fault(self, found: Table, row: int, why: str) -> None:
        """Note what is wrong."""
        self.wrong.append(RowFault(row, why, found.name if self.several else ""))

    def rows(self, found: Table, kinds: Sequence[str], temperature: str, size: str) -> Iterator[SheetRow]:
        """Read the rows below the head."""
        place = {key: kinds.index(key) for key in kinds if key}
        for number, row in enumerate(found.rows[found.head_at + 1 :], found.head_at + 2):
            cells = {key: row[i].strip() if i < len(row) else "" for key, i in place.items()}
            if not any(cells.values()) or re.match(r"(?i)(total|sum|average|mean)\b", next(cell for cell in row if cell.strip()).strip()):
                continue
            try:
                yield self._row(found, number, cells, kinds, temperature, size)
            except CoreError as problem:
                self.fault(found, number, str(problem))

    def _row(self, found: Table, number: int, cells: dict[str, str], kinds: Sequence[str], temperature: str, size: str) -> SheetRow:
        days = {key: self._day(cells.get(key, ""), cells.get("clock", "") if key == "at" else "") for key in ("began", "ended", "at", "filled")}
        values = {key: self._value(cells.get(key, ""), "ph") for key in ("ph", "ph_first", "ph_last")}
        celsius = number_in(cells.get("temperature", ""))
        unit = unit_of(cells.get("temperature", "")) or temperature
        values["temperature"] = self._checked(cells.get("temperature", ""), (celsius - 32) / 1.8 if celsius is not None and unit == "f" else celsius, "temperature")
        values["acidity"] = self._value(cells.get("acidity", ""), "acidity")
        values |= self._sugar(cells.get("sugar", ""), found.heads[kinds.index("sugar")] if "sugar" in kinds else "")
        bottles = self._bottles(cells, size)
        values["litres"] = None if bottles else self._checked(cells.get("size", ""), _litres(cells.get("size", ""), size), "litres")
        words = {key: cells.get(key, "")[:200] for key in ("vessel", "brew", "culture", "taster", "score", "flavour", "note")}
        if all(day is None for day in days.values()) and not bottles and not words["brew"]:
            raise CoreError("It tells no day.")
        return SheetRow(number, found.name, days["began"], days["ended"], days["at"], days["filled"], values, words, bottles)

    def _day(self, text: str, clock: str) -> datetime | None:
        day = day_in(text, self.zone, self.month_first, clock)
        if text and day is None:
            raise CoreError(f"“{text[:30]}” is no day that can be read.")
        if day is not None and day > self.now + timedelta(days=1):
            raise CoreError(f"“{text[:30]}” lies in the future.")
        return day

    def _sugar(self, text: str, head: str) -> dict[str, float | None]:
        """Read sugar as a strength, or as grams in the whole jar."""
        value = number_in(text)
        grams = None if value is None else sugar_grams(head, value)
        if grams is not None:
            return {"sugar": None, "sugar_g": self._checked(text, grams, "sugar_g")}
        return {"sugar": self._checked(text, value, "sugar"), "sugar_g": None}

    def _value(self, text: str, kind: str) -> float | None:
        return self._checked(text, number_in(text), kind)

    @staticmethod
    def _checked(text: str, value: float | None, kind: str) -> float | None:
        low, high, what = RANGES[kind]
        if value is None and not re.search(r"\d", text):
            return None  # a dash, a question mark, "n/a"
        if value is None or not low <= value <= high:
            raise CoreError(f"“{text[:30]}” is no {what} that can be.")
        return value

    @staticmethod
    def _bottles(cells: dict[str, str], size: str) -> tuple[int, str, float, int | None] | None:
        count = number_in(cells.get("bottles", ""))
        if count is None:
            return None
        size_words = " ".join((cells.get("size", ""), cells.get("bottle", "")))
        volume = _litres(size_words, size)
        if volume is not None and volume > SMALLEST_IN_ML:
            volume /= 1000
        volume_ml = USUAL_ML if volume is None else 1000 * volume
        left = number_in(cells.get("left", ""))
        if not 1 <= count <= 500 or not 50 <= volume_ml <= 5000 or (left is not None and not 0 <= left <= count):
            raise CoreError(f"“{cells['bottles'][:20]}” bottles of {volume_ml:.0f} mL cannot be.")
        return int(count), kind_in(size_words) or "swing-top", volume_ml, None if left is None else int(left)


def _litres(text: str, usual: str) -> float | None:
    number = number_in(text)
    return None if number is None else number * SIZES[unit_of(text) if unit_of(text) in SIZES else usual or "l"]
