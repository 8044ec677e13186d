"""In which half of the world a time zone lies, so that its seasons are known without asking."""

from __future__ import annotations

import re
from functools import cache
from importlib import resources

MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December")  # fmt: skip


@cache
def _south() -> frozenset[str]:
    """List the zones whose city lies south of the equator, from the zone data's own table of places."""
    text = resources.files("tzdata").joinpath("zoneinfo", "zone.tab").read_text("utf-8")
    rows = (line.split("\t") for line in text.splitlines() if line and not line.startswith("#"))
    return frozenset(row[2] for row in rows if re.match(r"-\d", row[1]))


def south(zone: str) -> bool:
    """Return whether a time zone lies in the southern half of the world; one that nobody knows lies in the north.

    >>> south("Australia/Sydney"), south("Europe/Paris"), south("Nowhere/Land")
    (True, False, False)
    """
    return zone in _south()
