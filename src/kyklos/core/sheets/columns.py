"""What the columns of somebody's spreadsheet are, by their heads, and how its cells are read."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, tzinfo
from functools import cache
from types import MappingProxyType

from ..base.facts import SWEETENERS, entries_of
from .logger_file import moment_of

STRONGEST_G_PER_L = 150.0  #: More than that is grams for the whole jar, where no unit is given. [g/L]
OUNCE_G = 28.34952  #: [g]
US_GALLON_L, OUNCE_ML, PINT_ML, QUART_L = 3.785412, 29.57353, 473.1765, 0.946353  #: [L, mL, mL, L]


@dataclass(frozen=True, slots=True)
class Column:
    """What a column may be."""

    name: str
    heads: str  #: How heads say it: a pattern.


#: Matched in this order; each kind once in a table.
COLUMNS: Mapping[str, Column] = MappingProxyType(
    {
        "ph_first": Column("pH at the start", r"\b(start\w*|initial|first|begin\w*|pitch\w*|day 0)\b.*\bph\b|\bph\b.*\b(start|initial|day 0)\b"),
        "ph_last": Column("pH at the end", r"\b(end\w*|final|last|harvest|bottling|finish\w*)\b.*\bph\b|\bph\b.*\b(end|final|harvest|bottling)\b"),
        "ph": Column("pH", r"\bph\b"),
        "began": Column("Begun on", r"\b(start|began|begun|pitch\w*|brewed|made|brew ?(day|date)|f1 start|1f start|(day|date) (1|one))\b"),
        "ended": Column("Ended on", r"\b(end\w*|harvest\w*|finish\w*|done|f1 end|1f end)\b"),
        "filled": Column("Bottled on", r"\b(bottled|filled|bottling|(2f|f2)( start)?)\b"),
        "clock": Column("Time of day", r"^\s*(time|clock|hour|uhrzeit)\b"),
        "at": Column("Day of the row", r"\b(date|day|when|time|datum|checked|tasted|measured)\b"),
        "bottles": Column("How many bottles", r"\b(bottles|count|qty|quantity|how many)\b|\b(no|number|#) of bottles\b"),
        "left": Column("Bottles left", r"\b(left|remaining|still there)\b"),
        "bottle": Column("Kind of bottle", r"\bbottle\b|\btype of bottle\b"),
        "flavour": Column("Flavour", r"\b(flavou?r\w*|fruit)\b"),
        "vessel": Column("Vessel", r"\b(vessel|jar|crock|container|fermenter)\b"),
        "brew": Column("Brew", r"\b(brew|batch|no|number|id|#)\b|#"),
        "culture": Column("Culture", r"\b(culture|scoby|line|mother|strain)\b"),
        "taster": Column("Taster", r"\b(taster|who|drinker|person|by whom|name)\b"),
        "score": Column("Taste", r"\b(score|taste|tasting|sour\w*|sweet\w*|verdict)\b"),
        "temperature": Column("Temperature", r"\b(temp\w*|°c|°f|celsius|fahrenheit|degrees?|room)\b|°"),
        "acidity": Column("Acidity", r"\b(ta|titrat\w*|acidity|acid)\b"),
        "sugar": Column("Sugar", r"\b(sugar|honey)\b"),
        "size": Column("Size", r"\b(vol\w*|lit\w+|size|amount|ml|oz|gal\w*)\b|\bl\b"),
        "note": Column("Note", r"\b(note\w*|comment\w*|remark\w*|observation\w*|what happened)\b"),
    }
)
TEMPERATURES: Mapping[str, str] = MappingProxyType({"c": "°C", "f": "°F"})
#: Units of sizes, in litres.
SIZES: Mapping[str, float] = MappingProxyType(
    {"l": 1.0, "ml": 0.001, "cl": 0.01, "gal": US_GALLON_L, "qt": QUART_L, "pt": PINT_ML / 1000, "oz": OUNCE_ML / 1000}
)
_SIZE_WORDS = (
    ("ml", r"\bml\b|millilit"), ("cl", r"\bcl\b"), ("gal", r"\bgal"), ("qt", r"\bqt|\bquart"), ("pt", r"\bpt\b|\bpint"), ("oz", r"\boz\b|\bounce"),
    ("l", r"\bl\b|lit(re|er)"),
)  # fmt: skip


def recognised(heads: Sequence[str]) -> tuple[str, ...]:
    """Return what each column is by its head; each kind once, the first that fits.

    >>> recognised(["Jar", "Started", "Date", "pH", "Temp °C", "Colour"])
    ('vessel', 'began', 'at', 'ph', 'temperature', '')
    """
    out: list[str] = []
    for head in heads:
        words = head.lower().replace("started", "start").replace("_", " ")
        found = next((key for key, column in COLUMNS.items() if key not in out and re.search(column.heads, words)), "")
        out.append(found)
    if "clock" in out and not {"at", "began", "filled"} & set(out):
        out[out.index("clock")] = "at"
    if "bottles" in out and "filled" not in out and "began" not in out and "at" in out:
        out[out.index("at")] = "filled"
    elif "bottles" not in out and "filled" in out and "ended" not in out:
        out[out.index("filled")] = "ended"
    return tuple(out)


def unit_of(head: str) -> str:
    """Return the unit that a head names, a key of TEMPERATURES or SIZES; empty: none.

    >>> unit_of("Temp (F)"), unit_of("Room, °C"), unit_of("Vol (gal)"), unit_of("Size")
    ('f', 'c', 'gal', '')
    """
    words = head.lower()
    if re.search(r"°\s*f|fahrenheit|\bf\b|_f\b", words):
        return "f"
    if re.search(r"°\s*c|celsius|centigrade|\bc\b|_c\b", words):
        return "c"
    return next((unit for unit, way in _SIZE_WORDS if re.search(way, words.replace("_", " "))), "")


def sugar_grams(head: str, value: float) -> float | None:
    """Return a cell's sugar in grams, where it counts what went in; None: it is a strength in g/L.

    >>> sugar_grams("Sugar (cups)", 1.0), sugar_grams("Sugar, g/L", 60.0), sugar_grams("Sugar", 240.0)
    (200.0, None, 240.0)
    """
    words = head.lower()
    if re.search(r"/\s*l\b|per l", words):
        return None
    for way, grams in ((r"\bcups?\b", SWEETENERS["sugar"].g_per_cup), (r"\bkg\b", 1000.0), (r"\boz\b|\bounces?\b", OUNCE_G), (r"\bg\b|\bgrams?\b", 1.0)):
        if re.search(way, words):
            return value * grams
    return value if value > STRONGEST_G_PER_L else None


def number_in(text: str) -> float | None:
    """Read the number in a cell, with point or comma; None: there is none.

    >>> number_in("~3,4 (strip)"), number_in("n/a")
    (3.4, None)
    """
    found = re.search(r"-?\d{1,9}(?:[.,]\d{1,9})?", text)
    return float(found[0].replace(",", ".")) if found else None


def day_in(text: str, zone: tzinfo, month_first: bool, clock: str = "") -> datetime | None:
    """Read a day, or a moment, in a cell; a bare day counts as its noon. None: it is none.

    Args:
        text: As it stands there.
        zone: Of the household.
        month_first: Whether 3/4 is the fourth of March.
        clock: What a column of times says beside it.
    """
    text = re.sub(r"(?<=\d)(st|nd|rd|th)\b|,(?=\s)", "", text.strip())
    text = re.sub(r"^(mon|tue|wed|thu|fri|sat|sun)\w*\.?\s+", "", text, flags=re.I)
    if not text:
        return None
    hour = re.search(r"\d{1,2}(:\d{2})?(:\d{2})?\s*([ap]m)?", clock.strip().lower())
    with_clock = f"{text} {_clock(hour[0])}" if hour else ""
    for way in (with_clock, text, f"{text} 12:00"):
        found = moment_of(way, zone, month_first) if way else None
        if found is not None:
            whole = found.replace(hour=12) if found.hour == found.minute == 0 and not hour else found
            return whole.astimezone(UTC)
    return None


def _clock(text: str) -> str:
    half = re.fullmatch(r"(\d{1,2})(:\d{2})?(:\d{2})?\s*([ap]m)?", text)
    if half is None:
        return text
    hour = int(half[1]) % 12 + 12 * (half[4] == "pm") if half[4] else int(half[1])
    return f"{hour:02d}{half[2] or ':00'}"


_TWO = re.compile(r"^\s*(\d{1,2})[/.\-](\d{1,2})[/.\-]\d{2,4}\b")


def order_of(cells: Iterable[str]) -> bool | None:
    """Tell whether days are written month first: by one that can be read in one way only. None: none tells.

    >>> order_of(["3/4/2027", "25/4/2027"]), order_of(["3/4/2027", "4/25/2027"]), order_of(["3/4/2027"])
    (False, True, None)
    """
    for cell in cells:
        found = _TWO.match(cell)
        if found is None or "." in found[0]:
            continue
        first, second = int(found[1]), int(found[2])
        if first > 12 >= second:
            return False
        if second > 12 >= first:
            return True
    return None


def two_days(cells: Iterable[str]) -> str:
    """Return the first cell that may mean two days; empty: none does.

    >>> two_days(["2027-03-04", "3/4/2027"]), two_days(["4/4/2027", "3.4.2027"])
    ('3/4/2027', '')
    """
    for cell in cells:
        found = _TWO.match(cell)
        if found and "." not in found[0] and found[1].lstrip("0") != found[2].lstrip("0") and max(int(found[1]), int(found[2])) <= 12:
            return cell.strip()
    return ""


@cache
def _tastes() -> Mapping[str, int]:
    return {text: int(key) for key, texts in entries_of("quick_words")["taste"].items() for text in texts}


def score_in(text: str) -> int | None:
    """Read a taste, from -3 (much too sweet) to 3 (much too sour), as a number or in words; None: it tells none.

    >>> score_in("+1"), score_in("Still a bit sweet"), score_in("fizzy")
    (1, -1, None)
    """
    words = text.strip().lower()
    if re.fullmatch(r"[+-]?[0-3]", words):
        return int(words)
    found = [phrase for phrase in _tastes() if re.search(rf"\b{re.escape(phrase)}\b", words)]
    return _tastes()[max(found, key=len)] if found else None
