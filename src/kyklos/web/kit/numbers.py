"""The one reader of whole numbers in addresses, queries and forms: plain digits within limits, or none."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

from werkzeug.routing import IntegerConverter

MOST = 2**53 - 1  #: A larger one fits neither the file nor a script.
LETTERS = 16


def whole(text: str | None, least: int = 0, most: int = MOST) -> int | None:
    """Read a whole number; None where it is none, or lies outside.

    >>> whole("12"), whole(" 7 "), whole("-1"), whole("²"), whole("٣"), whole("9" * 5000), whole(None)
    (12, 7, None, None, None, None, None)
    """
    found = (text or "").strip()
    if len(found) > LETTERS or not found.isascii() or not found.isdigit():
        return None
    value = int(found)
    return value if least <= value <= most else None


def wholes(texts: Iterable[str], least: int = 0, most: int = MOST, many: int = 1000) -> tuple[int, ...]:
    """Read several, each once, in their order; what is none is left out.

    >>> wholes(["3", "x", "3", "1"])
    (3, 1)
    """
    found = dict.fromkeys(value for text in list(texts)[:many] if (value := whole(text, least, most)) is not None)
    return tuple(found)


def number_of(value: object) -> int:
    """Read the number of a choice, or one that may be below nothing.

    Raises:
        ValueError: If it is none.
    """
    text = str(value)
    number = whole(text.removeprefix("-"))
    if number is None:
        raise ValueError("no number")
    return -number if text.startswith("-") else number


def decimal_of(text: str) -> float:
    """Read a plain finite number.

    Raises:
        ValueError: If it is none: infinite and undefined ones are none either.
    """
    value = float(text) if len(text) <= 40 else math.nan
    if not math.isfinite(value):
        raise ValueError("no number")
    return value


class Whole(IntegerConverter):
    """A whole number in an address; a larger one than any record has is no address."""

    regex = r"[0-9]{1,16}"

    def __init__(self, *given: Any, **more: Any) -> None:
        """Take the routing's own words, within the limit."""
        more.setdefault("max", MOST)
        super().__init__(*given, **more)
