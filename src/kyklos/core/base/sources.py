"""Where a culture may come from, what speaks for each source, and whether a bottle is fit to grow one from."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from .facts import table_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Source:
    """One way to a culture."""

    key: str
    name: str
    takes: str  #: How long until it works.
    good: str
    mind: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BottleSign:
    """Something to read or see on a bottle."""

    key: str
    question: str
    weight: str  #: must: without it nothing grows; safe: without it what grows is not to be trusted; helps
    missing: str  #: What its absence means.


SOURCES: Mapping[str, Source] = table_of("sources", Source)
SIGNS: Mapping[str, BottleSign] = table_of("bottle_signs", BottleSign)


@dataclass(frozen=True, slots=True)
class Fitness:
    """Whether a bottle is fit to grow from."""

    word: str  #: fit, perhaps or not fit
    says: str
    reasons: tuple[str, ...]


def bottle_fitness(seen: Iterable[str]) -> Fitness:
    """Judge a bottle by what holds of it.

    >>> bottle_fitness(SIGNS).word, bottle_fitness([]).word
    ('fit', 'not fit')
    """
    have = set(seen)
    missing = [sign for key, sign in SIGNS.items() if key not in have]
    reasons = tuple(sign.missing for sign in missing)
    if any(sign.weight in {"must", "safe"} for sign in missing):
        return Fitness(
            "not fit", "Not this bottle: buy another, or ask someone for a disc and a cup of liquid.", reasons
        )
    if missing:
        return Fitness("perhaps", "It may grow, slowly or weakly: take half of the brew from it, and give it a month.", reasons)  # fmt: skip
    return Fitness("fit", "Fit: 4 to 8 g of leaf and 60 to 90 g of sugar per litre, 20 to 50 % of the bottle with its sediment, cloth, dark, 21 to 26 °C.", ())  # fmt: skip
