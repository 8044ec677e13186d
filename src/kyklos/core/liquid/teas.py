"""Teas and blends: names, shares, how a blend is steeped, and how fast cultures work on it."""

from __future__ import annotations

from ..base import CoreError
from ..base.facts import TEAS, tea_named
from .acids import Tea

Parts = tuple[tuple[str, float], ...]


def parts_of(tea: Tea) -> Parts:
    """List a tea's or blend's parts by share. [-]"""
    return ((tea, 1.0),) if isinstance(tea, str) else tea


def blend(parts: Parts) -> Tea:
    """Make a tea of parts in any amounts; one part is a plain tea.

    Raises:
        CoreError: If nothing is left, or an amount is negative.

    >>> blend((("black", 2.0), ("green", 2.0)))
    (('black', 0.5), ('green', 0.5))
    """
    if any(amount < 0 for _, amount in parts) or sum(amount for _, amount in parts) <= 0:
        raise CoreError("tea: give each part an amount above 0.")
    total = sum(amount for _, amount in parts)
    shares: dict[str, float] = {}
    for key, amount in parts:
        if amount > 0:
            shares[tea_named(key).key] = shares.get(key, 0.0) + amount / total
    return next(iter(shares)) if len(shares) == 1 else tuple(sorted(shares.items()))


def text_of(tea: Tea) -> str:
    """Write a tea for a record.

    >>> text_of((("black", 0.5), ("green", 0.5)))
    'black 0.5, green 0.5'
    """
    return tea if isinstance(tea, str) else ", ".join(f"{key} {share:.6g}" for key, share in tea)


def from_text(text: str) -> Tea:
    """Read a tea from a record.

    Raises:
        CoreError: If it is no tea.

    >>> from_text("black 0.5, green 0.5")
    (('black', 0.5), ('green', 0.5))
    """
    if text in TEAS:
        return text
    try:
        shares = tuple((key, float(share)) for key, share in (part.rsplit(" ", 1) for part in text.split(", ")))
    except ValueError as problem:
        raise CoreError(f"tea: {text[:40]!r} is none that is known.") from problem
    return blend(shares)


def name_of(tea: Tea) -> str:
    """Put a tea into words.

    >>> name_of((("black", 0.75), ("green", 0.25)))
    'black tea 75 %, green tea 25 %'
    """
    parts = sorted(parts_of(tea), key=lambda part: -part[1])
    if len(parts) == 1:
        return tea_named(parts[0][0]).name
    return ", ".join(f"{tea_named(key).name.lower()} {share * 100:.0f} %" for key, share in parts)


def main_of(tea: Tea) -> str:
    """Name the largest part."""
    return max(parts_of(tea), key=lambda part: part[1])[0]


def vigour_of(tea: Tea) -> float:
    """Return how fast cultures work on it against black tea (assumed). [-]"""
    return sum(tea_named(key).vigour * share for key, share in parts_of(tea))


def steep_minutes(tea: Tea) -> tuple[float, float, float]:
    """Return low, default and high: of a blend what its most delicate part bears. [min]"""
    low, usual, high = zip(*(tea_named(key).steep_minutes for key, _ in parts_of(tea)), strict=True)
    return min(low), min(usual), min(high)


def water_c(tea: Tea) -> float:
    """Return how hot the water is: the middle of the range of the most delicate part. [degC]"""
    return float(min(sum(tea_named(key).water_c) // 2 for key, _ in parts_of(tea)))


def bears_long_steep(tea: Tea) -> bool:
    """Return whether it may steep until cool: black tea only."""
    return all(key in {"black", "decaf"} for key, _ in parts_of(tea))


def grams_each(tea: Tea) -> tuple[float, float]:
    """Return what a level tablespoon and a bag of it weigh, until given. [g]"""
    parts = parts_of(tea)
    return sum(tea_named(k).g_per_spoon * s for k, s in parts), sum(tea_named(k).g_per_bag * s for k, s in parts)
