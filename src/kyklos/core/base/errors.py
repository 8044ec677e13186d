"""One family of errors, each with a sentence that a brewer understands."""

from __future__ import annotations

import math
from typing import NamedTuple


class KyklosError(Exception):
    """Anything Kyklos refuses; its text is written for the person who asked."""


class CoreError(KyklosError):
    """A computation cannot be made from what it was given."""


class OutOfRangeError(CoreError):
    """A value lies outside the range in which a model or a rule holds."""

    def __init__(self, name: str, value: float, low: float, high: float, unit: str = "") -> None:
        after = f" {unit}" if unit else ""
        super().__init__(f"{name} is {value:g}{after}; it must lie from {low:g} to {high:g}{after}.")
        self.name, self.value, self.low, self.high = name, value, low, high


class UnknownNameError(CoreError):
    """A name is not in the data files."""

    def __init__(self, kind: str, name: object, known: list[str]) -> None:
        super().__init__(f"{kind} {name!r} is not known; known are {', '.join(known)}.")
        self.kind, self.name = kind, name


class Problem(NamedTuple):
    """What is wrong with one field, in words for the person who typed it."""

    field: str
    message: str


def require_between(low: float, high: float, unit: str = "", **values: float) -> None:
    """Refuse values outside a range, and values that are no finite number.

    Args:
        low, high: Ends of the range, both allowed. [in `unit`]
        unit: Said in the message.
        values: What to check, by name.

    Raises:
        OutOfRangeError: For the first value outside.
    """
    for name, value in values.items():
        if not math.isfinite(value) or not low <= value <= high:
            raise OutOfRangeError(name, value, low, high, unit)
