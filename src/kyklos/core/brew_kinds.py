"""What can be begun on a brew day, the schools of doing it, and the next step of a conversion."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from .errors import CoreError
from .facts import _load, _table, limit
from .ferment import Tea

CONVERSION_STEP = 0.2  #: Another fifth of honey and green each brew (usual practice). [-]
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
class School:
    """A question on which brewers disagree, and the ways."""

    key: str
    question: str
    default: str
    ways: Mapping[str, tuple[str, str]]  #: Name and reason.


KINDS: Mapping[str, BrewKind] = _load("brew_kinds", BrewKind)
SCHOOLS: Mapping[str, School] = MappingProxyType(
    {
        key: School(key, entry["question"], entry["default"], {k: tuple(v) for k, v in entry["ways"].items()})
        for key, entry in _table("schools").items()
    }
)
FLOORS = {"usual": limit("starter_floor"), "more": 0.20, "low": limit("starter_floor_low")}  #: [-]


def base_refused(base: str) -> str:
    """Name what forbids a trial's base; empty if nothing does.

    >>> base_refused("Oat milk with cocoa"), base_refused("cold coffee")
    ('milk', '')
    """
    return next((word for word, pattern in REFUSED_BASES.items() if re.search(pattern, base.casefold())), "")


@dataclass(frozen=True, slots=True)
class StepTold:
    """One brew of a line on its way to jun."""

    honey_share: float  #: [-]
    green_share: float  #: [-]
    soured: bool | None  #: In time; None when not known.


@dataclass(frozen=True, slots=True)
class ConversionStep:
    """What the next brew takes, and why."""

    honey_share: float  #: [-]
    green_share: float  #: [-]
    why: str

    @property
    def sweeteners(self) -> tuple[tuple[str, float], ...]:
        """Sweeteners by share."""
        return tuple((k, s) for k, s in (("sugar", 1 - self.honey_share), ("honey", self.honey_share)) if s > 1e-9)

    @property
    def tea(self) -> Tea:
        """Tea by share."""
        parts = tuple((k, s) for k, s in (("black", 1 - self.green_share), ("green", self.green_share)) if s > 1e-9)
        return parts[0][0] if len(parts) == 1 else parts


def next_step(past: Sequence[StepTold]) -> ConversionStep:
    """Say what a line takes next on its way to jun: a fifth more, or the same again if it did not sour in time.

    Args:
        past: Its brews, oldest first.

    >>> next_step([StepTold(0.2, 0.2, True)]).honey_share
    0.4
    """
    if not past:
        return ConversionStep(CONVERSION_STEP, CONVERSION_STEP, "The first step: a fifth of honey and of green tea.")
    last = past[-1]
    if last.soured is False:
        return ConversionStep(
            last.honey_share, last.green_share, "The last step did not sour in time: the same once more."
        )
    honey, green = (min(1.0, round(share + CONVERSION_STEP, 6)) for share in (last.honey_share, last.green_share))
    told = (
        "The last step soured in time"
        if last.soured
        else "Nothing was measured of the last step; taste says it went on"
    )
    return ConversionStep(honey, green, f"{told}: another fifth.")


def check_kind(kind: str) -> BrewKind:
    """Find a kind.

    Raises:
        CoreError: If there is none.
    """
    if kind not in KINDS:
        raise CoreError("Choose what to begin.")
    return KINDS[kind]
