"""What can be seen and smelled on a first ferment, and the verdict that follows from it; the facts stand in the data."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..base.facts import table_of


class VerdictWord(StrEnum):
    """What is said of a brew, from the mildest to the gravest."""

    CARRY_ON = "carry on"
    WATCH = "watch"
    HOLD = "hold"
    DISCARD = "discard"


CARRY_ON, WATCH, HOLD, DISCARD = VerdictWord
ORDER = tuple(VerdictWord)
FILM_YEAST, FROTH = "film-yeast", "froth"
OFF_SMELLS = {"solvent", "bad", "rotten"}
CLEARS_DAYS = 0.5  #: A look within so long of one that held it does not clear it. [d]
FINAL = {"fuzzy", "insects", "eels", "rotten"}  #: What cannot be overruled.
GROWTH = {"skin", "disc", "jelly"}  #: Surfaces that show a new skin: a sign of life.


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownSign:
    """One thing seen or smelled."""

    key: str
    group: str  #: surface, sign or smell
    name: str
    verdict: str
    tell: str
    why: str
    do: str = ""
    changes: str = ""


OBSERVATIONS: Mapping[str, KnownSign] = table_of("observations", KnownSign)


def of_group(group: str) -> list[KnownSign]:
    """List the observations of a group, in the order of the table."""
    return [seen for seen in OBSERVATIONS.values() if seen.group == group]


@dataclass(frozen=True, slots=True)
class SeenLook:
    """What was seen and smelled at one time."""

    day: float  #: Since the pitch. [d]
    surface: str  #: A surface of data/observations.toml
    signs: tuple[str, ...] = ()
    smell: str = ""  #: Empty: nobody smelled it.

    @property
    def seen(self) -> list[KnownSign]:
        """All that was observed."""
        keys = (self.surface, *self.signs, *((self.smell,) if self.smell else ()))
        return [OBSERVATIONS[key] for key in keys if key in OBSERVATIONS]


@dataclass(frozen=True, slots=True)
class Reason:
    """One ground of a verdict, what to do about it, and what would change it."""

    verdict: str
    sentence: str
    do: str = ""
    changes: str = ""
    key: str = ""  #: Names the rule, or what was seen.

    @property
    def final(self) -> bool:
        """Whether nobody may overrule it: mould, insects, eels, rot; a mistaken look is struck out instead."""
        return self.key in FINAL


def _reason(seen: KnownSign) -> Reason:
    return Reason(seen.verdict, seen.why, seen.do, seen.changes, seen.key)


def _stands(looks: Sequence[SeenLook], what: str) -> SeenLook | None:
    """Return the look that says how a surface, or a smell, is now. `what`: surface or smell.

    Only seeing clears what was seen, only smelling what was smelled; what holds a brew is not cleared by a look within 12 hours.
    """
    stands: SeenLook | None = None
    for look in looks:
        if not getattr(look, what):
            continue
        if stands is not None and look.day - stands.day < CLEARS_DAYS:
            before, now = (OBSERVATIONS.get(getattr(one, what)) for one in (stands, look))
            if before is not None and before.verdict == HOLD and (now is None or _order(now) < _order(before)):
                continue
        stands = look
    return stands


def _order(seen: KnownSign) -> int:
    return ORDER.index(VerdictWord(seen.verdict))


def reasons_from(looks: Sequence[SeenLook]) -> list[Reason]:
    """Return what follows from the looks so far, oldest first.

    What discards a brew does so for good; what holds it or is to be watched counts until it is seen, or smelled, to be gone.

    Args:
        looks: In order of time.
    """
    grave = [seen for look in looks for seen in look.seen if seen.verdict == DISCARD]
    out = [_reason(grave[-1])] if grave else []
    seen_last, smelled = _stands(looks, "surface"), _stands(looks, "smell")
    signs = seen_last.signs if seen_last is not None else tuple(sign for look in looks[-1:] for sign in look.signs)
    if seen_last is not None:  # a sign recorded by itself since then adds to what was seen
        signs += tuple(sign for look in looks if look.day > seen_last.day and not look.surface for sign in look.signs)
    surface, smell = (seen_last.surface if seen_last else ""), (smelled.smell if smelled else "")
    now = SeenLook(0.0, surface, tuple(dict.fromkeys(signs)), smell)
    out += [_reason(seen) for seen in now.seen if seen.verdict in {WATCH, HOLD}]
    if FROTH in now.signs and now.smell in OFF_SMELLS:
        out.append(
            Reason(
                HOLD,
                "Thick froth that stays, and a bad smell: do not drink or bottle it.",
                "Measure it, look again in 24 hours.",
                key="froth-smell",
            )
        )
    returned = seen_last is not None and any(look.surface == FILM_YEAST for look in looks if look.day < seen_last.day)
    if surface == FILM_YEAST and returned and smell in OFF_SMELLS:
        out.append(
            Reason(DISCARD, "Film yeast has returned, with an off smell: liquid and disc go.", key="film-returned")
        )
    return sorted(out, key=lambda reason: -ORDER.index(reason.verdict))
