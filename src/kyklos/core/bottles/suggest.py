"""What to flavour with next: what is ripe, at hand, to be used up, liked, and not made lately; three proposals with reasons."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

AT_HAND: Mapping[str, str] = {"use up": "to be used up", "freezer": "in the freezer", "garden": "in the garden"}
PROPOSALS = 3
LATELY_DAYS = 14.0  #: Made within so many days is made lately. [d]
LONG_DAYS = 60.0  #: Not made for so long is mentioned. [d]
LIKED_WELL = 3.6  #: Mean of scores from 1 to 5 from which a flavour counts as liked. [-]
WEIGHTS = {"use up": 4.0, "garden": 2.5, "ripe": 2.0, "freezer": 1.5, "long": 0.5, "new": 0.3, "lately": -2.0}  #: (assumed)


@dataclass(frozen=True, slots=True)
class Candidate:
    """A flavour that might be made."""

    key: str  #: Of the flavour kept, or of an ingredient.
    name: str
    ingredients: tuple[str, ...]  #: Names, the one that tells most first.
    ripe: tuple[str, ...] = ()  #: Names of those ripe this month.
    at_hand: tuple[tuple[str, str], ...] = ()  #: Where, a key of AT_HAND, and name.
    liked: tuple[tuple[str, float], ...] = ()  #: Taster, and mean of 1 to 5.
    made_days_ago: float | None = None  #: None: never. [d]
    kept: bool = True  #: A flavour kept by name, no mere ingredient.
    next_time: str = ""  #: What was said last time: more, less.


def is_liked_well(mean: float | None) -> bool:
    """Return whether what was scored so counts as liked; None: nobody said. [1 to 5]"""
    return mean is not None and mean >= LIKED_WELL


@dataclass(frozen=True, slots=True)
class Proposal:
    """A flavour to make, and why."""

    candidate: Candidate
    worth: float
    reasons: tuple[str, ...]


def proposals(candidates: Sequence[Candidate], most: int = PROPOSALS) -> list[Proposal]:
    """Propose what to make next, the best reasons first; no two of the same ingredient.

    >>> made = proposals([Candidate("1", "Plum", ("Plum",), ripe=("Plum",)), Candidate("2", "Mint", ("Mint",), kept=False)])
    >>> made[0].candidate.name, made[0].reasons
    ('Plum', ('ripe now',))
    """
    rows = sorted((_weighed(c) for c in candidates), key=lambda p: (-p.worth, p.candidate.name))
    out: list[Proposal] = []
    seen: set[str] = set()
    for one in rows:
        main = one.candidate.ingredients[:1]
        if one.reasons and not seen & set(main):
            out.append(one)
            seen |= set(main)
    return out[:most]


def _weighed(c: Candidate) -> Proposal:
    worth, reasons = 0.0, []
    for where, name in c.at_hand:
        worth += WEIGHTS[where]
        reasons.append(f"{name.lower()} is {AT_HAND[where]}")
    if c.ripe:
        worth += WEIGHTS["ripe"]
        names = " and ".join(name.lower() for name in c.ripe[:2])
        reasons.append("ripe now" if c.ripe == (c.name,) else f"{names} {'is' if len(c.ripe) == 1 else 'are'} ripe now")
    for taster, mean in c.liked:
        worth += (mean - 3) / max(1, len(c.liked)) * 2
        if mean >= LIKED_WELL:
            reasons.append(f"{taster} likes it")
    if c.made_days_ago is None:
        worth += WEIGHTS["new"] if c.kept else 0.0
    elif c.made_days_ago < LATELY_DAYS:
        worth += WEIGHTS["lately"]
    elif c.made_days_ago >= LONG_DAYS:
        worth += WEIGHTS["long"]
        reasons.append(f"not made for {round(c.made_days_ago / 30.4):.0f} months")
    if not c.kept:
        worth -= 0.4
    return Proposal(c, worth, tuple(reasons))


def next_amount(g_per_l: float, said: Sequence[str], *, gushed: bool = False) -> float:
    """Return how much to take next time, by what was said last, or as it gushed: a fifth less or more (assumed). [g/L]

    >>> next_amount(15, ["less"]), next_amount(15, ["more", "less"]), next_amount(15, []), next_amount(15, ["more"], gushed=True)
    (12.0, 15, 15, 12.0)
    """
    lean = -1 if gushed else sum({"more": 1, "less": -1}.get(word, 0) for word in said)
    if lean == 0:
        return g_per_l
    return g_per_l * (1.2 if lean > 0 else 0.8)


def primed_after_gush(g_per_l: float) -> float:
    """Return how much priming sugar to take after a filling that gushed: half (assumed). [g/L]"""
    return g_per_l / 2
