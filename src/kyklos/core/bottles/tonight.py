"""Which bottles first, and three for tonight: cold, what cannot wait before what can, and each another flavour."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

GLASSES = 3
MILD_ABV = 1.0  #: Up to so much it is called mild. [% ABV]
BEST_LIKED = 3.6  #: Mean of 1 to 5 from which a flavour is called liked. [-]
OLD_DAYS = 60.0  #: So long in the bottle is mentioned. [d]


@dataclass(frozen=True, slots=True)
class Choice:
    """Bottles alike, as they might be drunk tonight."""

    key: str
    flavour: str
    loose: bool  #: Not closed for fizz: it keeps only days.
    creeps: bool  #: Even cold it could pass its limit before long.
    days: float  #: Since filling. [d]
    cold_hours: float  #: In the fridge. [h]
    nearness: float  #: Its pressure against its limit, upper end. [-]
    abv: float  #: [% ABV]
    liked: float | None = None  #: Mean of 1 to 5.


@dataclass(frozen=True, slots=True)
class Picked:
    """A choice, and why."""

    choice: Choice
    why: str


def three(choices: Sequence[Choice], mild: bool = False) -> list[Picked]:
    """Pick three for tonight.

    >>> some = [Choice("a", "Plain", False, False, 5, 30, 0.4, 0.8), Choice("b", "Fig", False, True, 50, 900, 0.9, 1.4)]
    >>> [p.choice.key for p in three(some)], [p.choice.key for p in three(some, mild=True)]
    (['b', 'a'], ['a'])
    """
    fit = [c for c in choices if not mild or c.abv <= MILD_ABV]
    order = sorted(fit, key=lambda c: (not c.loose, not c.creeps, c.cold_hours < 4, -(c.liked or 3.0), -c.nearness, -c.days))
    out: list[Picked] = []
    for one in order:
        if one.flavour not in {p.choice.flavour for p in out}:
            out.append(Picked(one, _why(one)))
    return out[:GLASSES]


def _why(c: Choice) -> str:
    if c.loose:
        return "it keeps only days"
    if c.creeps:
        return "its pressure creeps"
    if c.cold_hours < 4:
        return "give it some hours more in the fridge"
    if c.liked is not None and c.liked >= BEST_LIKED:
        return "well liked"
    if c.days >= OLD_DAYS:
        return "it has waited longest"
    return "cold and ready"
