"""What one takes for what: a small table in words, the unsafe first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Mixed:
    """One thing taken for another."""

    was: str
    taken_for: str
    times: int
    unsafe: int = 0  #: So often that was not safe.


def worst_first(rows: Sequence[Mixed]) -> list[Mixed]:
    """Put the rows in order: what was unsafe comes before what was only wrong, then the frequent.

    >>> [row.was for row in worst_first([Mixed("jelly", "mould", 3), Mixed("mould", "jelly", 1, 1)])]
    ['mould', 'jelly']
    """
    return sorted(rows, key=lambda row: (-row.unsafe, -row.times, row.was, row.taken_for))
