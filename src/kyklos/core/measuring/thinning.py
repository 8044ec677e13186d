"""Which points of a course are worth keeping: those that draw the same line."""

from __future__ import annotations

from dataclasses import dataclass

WITHIN_K = 0.1  #: The line that is kept lies so near to every reading. [K]
LONGEST_S = 3600.0  #: At least one temperature in so long. [s]
LONGEST_PH_S = 6 * 3600.0  #: And one pH (assumed). [s]


@dataclass(frozen=True, slots=True)
class Thinner:
    """A course followed point by point: the last one kept, the last one seen, and between which slopes a straight line still fits."""

    kept_s: float  #: [s]
    kept: float
    last_s: float  #: [s]
    last: float
    low: float = float("-inf")  #: Least slope. [1/s]
    high: float = float("inf")  #: Greatest slope. [1/s]


def follow(before: Thinner | None, at_s: float, value: float, within: float, longest_s: float) -> tuple[Thinner, tuple[tuple[float, float], ...]]:
    """Follow a course by one point, and give the points that are to be kept now.

    Args:
        before: How far it was followed; None: this is its first point.
        at_s: Later than the last one. [s]
        value: In the unit of `within`.
        within: The straight line between points kept passes so near to every point.
        longest_s: At most so long between points kept. [s]

    >>> state, kept = follow(None, 0.0, 20.0, 0.1, 3600.0)
    >>> state, kept = follow(state, 60.0, 20.05, 0.1, 3600.0)
    >>> kept, follow(state, 120.0, 22.0, 0.1, 3600.0)[1]
    ((), ((60.0, 20.05),))
    """
    if before is None:
        return Thinner(at_s, value, at_s, value), ((at_s, value),)
    span = at_s - before.kept_s
    slope = (value - before.kept) / span
    low, high = max(before.low, (value - within - before.kept) / span), min(before.high, (value + within - before.kept) / span)
    if before.last_s > before.kept_s and (not before.low <= slope <= before.high or at_s - before.kept_s > longest_s):
        since = at_s - before.last_s
        steps = ((value - within - before.last) / since, (value + within - before.last) / since)
        return Thinner(before.last_s, before.last, at_s, value, *steps), ((before.last_s, before.last),)
    return Thinner(before.kept_s, before.kept, at_s, value, low, high), ()
