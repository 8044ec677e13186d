"""The shopping list: what the days to come need and the cupboard has not, in packs that a shop sells."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from .goods import SUPPLIES, Good, GoodKind

METRIC_PACKS = (25.0, 50.0, 100.0, 250.0, 500.0, 1000.0, 2000.0, 5000.0)  #: Usual in shops (assumed). [g]
US_PACKS = (28.35, 56.7, 113.4, 226.8, 453.6, 907.2, 1814.4, 4535.9)  #: One ounce to ten pounds (assumed). [g]
LEAST_PACK = {GoodKind.TEA: 100.0, GoodKind.SWEETENER: 450.0, GoodKind.INGREDIENT: 25.0}  #: Less is hardly sold (assumed). [g]
LOW_SHARE = 1.0  #: Of what the next brew takes: with less in the cupboard it is low.
NOTHING = 1e-6


@dataclass(frozen=True, slots=True)
class GoodNeed:
    """What the days to come take of a good, against what is there."""

    good: Good
    needs: float  #: Over the days looked at. [g or pieces]
    there: float  #: In the cupboard. [g or pieces]
    first: float = 0.0  #: Of the needs, what the next day takes. [g or pieces]

    @property
    def missing(self) -> float:
        """What must be bought. [g or pieces]"""
        return max(0.0, self.needs - self.there)

    @property
    def low(self) -> bool:
        """Whether there is less than the next day takes."""
        return self.first > NOTHING and self.there < self.first * LOW_SHARE - NOTHING


def pack_of(good: Good, missing: float, *, us: bool = False, usual: float | None = None) -> float:
    """Return how much to buy: the next sensible pack, or as many of the usual one as it takes.

    Args:
        good: What.
        missing: At least so much. [g or pieces]
        us: Packs in ounces and pounds.
        usual: The pack that was bought last. [g or pieces]

    >>> from .goods import good
    >>> pack_of(good(GoodKind.SWEETENER, "sugar"), 620), pack_of(good(GoodKind.TEA, "black"), 30), pack_of(good(GoodKind.TEA, "black"), 130, usual=80.0)
    (1000.0, 100.0, 160.0)
    """
    if usual is not None and usual > 0:
        return max(1, math.ceil(missing / usual - NOTHING)) * usual
    if good.by_piece:
        each = SUPPLIES[good.key].pack if good.kind is GoodKind.SUPPLY else 1.0
        return max(1, math.ceil(missing / each - NOTHING)) * each
    packs = [pack for pack in (US_PACKS if us else METRIC_PACKS) if pack >= LEAST_PACK.get(good.kind, 0.0)]
    fits = next((pack for pack in packs if pack >= missing - NOTHING), None)
    return fits if fits is not None else math.ceil(missing / packs[-1]) * packs[-1]


def needs_of(days: Sequence[Mapping[tuple[GoodKind, str], float]], there: Mapping[tuple[GoodKind, str], float], known: Mapping[tuple[GoodKind, str], Good]) -> list[GoodNeed]:
    """Add up what some days take, in order of time, against what is there.

    Args:
        days: What each takes, by kind and key. [g or pieces]
        there: What is in the cupboard; what nobody counts is left out of `there` and asked for in full. [g or pieces]
        known: The goods.
    """
    whole: dict[tuple[GoodKind, str], float] = {}
    first: dict[tuple[GoodKind, str], float] = {}
    for day in days:
        for key, amount in day.items():
            whole[key] = whole.get(key, 0.0) + amount
            first.setdefault(key, amount)
    return [GoodNeed(known[key], amount, there.get(key, 0.0), first[key]) for key, amount in whole.items() if key in known]
