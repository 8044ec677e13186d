"""What can be begun on a brew day, and the schools of doing it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from ..base import CoreError, limit
from ..base.facts import entries_of, table_of

DRIED_BREWS = 2  #: Before a dried disc is relied on. [-]
REFUSED_BASES = {
    "milk": r"milk|dairy|cream|yogh?urt|kefir|whey|latte",
    "nuts": r"nut|almond|hazel|cashew|peanut|oat drink|soy|coconut (?:milk|cream)",
    "broth": r"broth|stock|soup|bouillon|meat|bone",
    "vegetables": r"vegetable|tomato|carrot|beet|celery|cucumber|cabbage|onion|garlic|potato|pumpkin",
}  #: Bases in which acid alone keeps nothing safe.


@dataclass(frozen=True, slots=True, kw_only=True)
class BrewKind:
    """One thing to begin."""

    key: str
    name: str
    says: str
    leaf: tuple[float, float, float]  #: Low, default, high. [g/L]
    sugars: tuple[float, float, float]  #: Low, default, high. [g/L]
    share: tuple[float, float]  #: Of starter, low and high. [-]
    watch: tuple[int, ...] = ()  #: Its own looks. [d]


@dataclass(frozen=True, slots=True)
class BrewSchool:
    """A question on which brewers disagree, and the ways."""

    key: str
    question: str
    default: str
    ways: Mapping[str, tuple[str, str]]  #: Name and reason.


KINDS: Mapping[str, BrewKind] = table_of("brew_kinds", BrewKind)
SCHOOLS: Mapping[str, BrewSchool] = MappingProxyType(
    {
        key: BrewSchool(key, entry["question"], entry["default"], {k: tuple(v) for k, v in entry["ways"].items()})
        for key, entry in entries_of("schools").items()
    }
)
FLOORS = {"usual": limit("starter_floor"), "more": 0.20, "low": limit("starter_floor_low")}  #: [-]


def base_refused(base: str) -> str:
    """Name what forbids a trial's base; empty if nothing does.

    >>> base_refused("Oat milk with cocoa"), base_refused("cold coffee")
    ('milk', '')
    """
    return next((word for word, pattern in REFUSED_BASES.items() if re.search(pattern, base.casefold())), "")


def check_kind(kind: str) -> BrewKind:
    """Find a kind.

    Raises:
        CoreError: If there is none.
    """
    if kind not in KINDS:
        raise CoreError("Choose what to begin.")
    return KINDS[kind]
