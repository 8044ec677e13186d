"""The park of bottles: kinds, closures and how long they last, a line that tells what there is, and how many are clean."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from ..base import CoreError
from ..base.facts import BOTTLES

LONGEST_PART = 120  #: Letters that say one kind of bottle.
MOST = 500  #: More of one kind than that is a slip of the hand.
LEAST_ML, MOST_ML = 50.0, 5000.0  #: [mL]


@dataclass(frozen=True, slots=True)
class Closure:
    """What closes a bottle, and how long it can be relied on."""

    name: str
    lasts_years: float | None  #: None: for one filling. (usual practice, assumed) [a]


CLOSURES: Mapping[str, Closure] = MappingProxyType(
    {
        "swing": Closure("Swing-top with a rubber ring", 2.0),
        "crown": Closure("Crown cap", None),
        "screw": Closure("Screw cap", 1.0),
        "wired": Closure("Wired stopper", None),
        "loose": Closure("Loose lid", 5.0),
    }
)
USUAL_CLOSURE = {
    "swing-top": "swing",
    "crown-cap": "crown",
    "sparkling": "crown",
    "pet": "screw",
    "reused": "screw",
    "mason": "loose",
    "jar": "loose",
}
USUAL_NECK_MM = {
    "swing-top": 17.0,
    "crown-cap": 17.0,
    "sparkling": 19.0,
    "pet": 22.0,
    "reused": 20.0,
    "mason": 70.0,
    "jar": 40.0,
}  #: Inside (assumed). [mm]
_WORDS = (
    ("swing-top", r"swing|flip|clip|stopper|fido"),
    ("crown-cap", r"crown|beer|long.?neck"),
    ("sparkling", r"sparkling|wine"),
    ("pet", r"pet\b|plastic|squeez"),
    ("reused", r"reused|soda|water bottle"),
    ("mason", r"mason|canning|preserving"),
    ("jar", r"jar|square|decorative|unknown"),
)
_ML = {"ml": 1.0, "cl": 10.0, "dl": 100.0, "l": 1000.0, "litre": 1000.0, "liter": 1000.0, "oz": 29.5735, "ounce": 29.5735,
       "pint": 473.176, "pt": 473.176, "quart": 946.353, "qt": 946.353}  # fmt: skip


@dataclass(frozen=True, slots=True)
class ParkLine:
    """So many bottles of a kind."""

    count: int
    kind: str  #: A key of BOTTLES.
    volume_ml: float  #: Brimful. [mL]


def read_line(line: str) -> list[ParkLine]:
    """Read what bottles there are, as people say it; several with commas or "and" between.

    Args:
        line: Like "12 swing-top 500 mL, 6 crown-cap".

    Raises:
        CoreError: With one sentence, where a part cannot be read.

    >>> read_line("12 swing-top 500 mL and 6 beer bottles 12 oz")
    [ParkLine(count=12, kind='swing-top', volume_ml=500.0), ParkLine(count=6, kind='crown-cap', volume_ml=354.9)]
    """
    parts = [part.strip() for part in re.split(r",(?!\d)|;|\band\b|\n|\+", line.lower()) if part.strip()]
    if not parts:
        raise CoreError('Say what you have, like "12 swing-top 500 mL".')
    return [_read_part(part) for part in parts[:20]]


def kind_in(words: str) -> str | None:
    """Return the kind of bottle that is named, a key of BOTTLES; None: none is.

    >>> kind_in("Flip-top, green"), kind_in("500 ml")
    ('swing-top', None)
    """
    return next((key for key, way in _WORDS if re.search(way, words.lower())), None)


def _read_part(part: str) -> ParkLine:
    if len(part) > LONGEST_PART:
        raise CoreError(f'"{part[:20]}…" is too long: write a comma between one kind of bottle and the next.')
    size = re.search(r"(\d+(?:[.,]\d+)?)\s*(?:fl\.?\s*)?(ml|cl|dl|litres?|liters?|l|oz|ounces?|pints?|pt|quarts?|qt)\b", part)
    rest = part.replace(size[0], " ") if size else part
    count = re.search(r"\d+", rest)
    kind = kind_in(rest)
    if count is None:
        raise CoreError(f'How many are "{part}"? Write a number first, like "12 swing-top 500 mL".')
    if kind is None:
        names = ", ".join(entry.name.lower() for entry in BOTTLES.values())
        raise CoreError(f'What kind of bottle is "{part}"? Kyklos knows: {names}.')
    number = int(count[0][:6])
    if not 1 <= number <= MOST:
        raise CoreError(f'"{part}": a number from 1 to {MOST}.')
    volume = BOTTLES[kind].volume_ml
    if size:
        unit = size[2] if size[2] in _ML else size[2].rstrip("s")
        volume = round(float(size[1].replace(",", ".")) * _ML[unit], 1)
    if not LEAST_ML <= volume <= MOST_ML:
        raise CoreError(f'"{part}": a bottle takes from 50 mL to 5 L.')
    return ParkLine(number, kind, volume)


@dataclass(frozen=True, slots=True)
class Counted:
    """How the bottles of a kind stand."""

    owned: int
    filled: int
    to_wash: int

    @property
    def clean(self) -> int:
        """Clean and free."""
        return max(0, self.owned - self.filled - self.to_wash)


def counted(owned: int, filled: int, emptied_since: int, left_dirty: int) -> Counted:
    """Count bottles: what is emptied waits to be washed.

    Args:
        owned: All, the retired left out.
        filled: That stand with something in them.
        emptied_since: Emptied since they were last washed.
        left_dirty: Not washed then.

    >>> counted(12, 5, 3, 1).clean
    3
    """
    here = max(0, owned - filled)
    return Counted(owned, filled, min(here, emptied_since + left_dirty))


def worn(closure: str, years: float | None) -> bool:
    """Return whether a closure is older than it can be relied on. [a]

    >>> worn("swing", 2.5), worn("swing", None), worn("crown", 9)
    (True, False, False)
    """
    lasts = CLOSURES[closure].lasts_years if closure in CLOSURES else None
    return years is not None and lasts is not None and years >= lasts
