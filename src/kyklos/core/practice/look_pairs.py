"""Pairs that are taken for each other, with what tells them apart; and what a guide of looks shows of each sign."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..base.facts import table_of
from ..judging.observations import OBSERVATIONS, ORDER, KnownSign
from .eye import CARDS, card_of


@dataclass(frozen=True, slots=True, kw_only=True)
class LookPair:
    """Two things side by side."""

    key: str
    names: tuple[str, str]
    one: str  #: A card.
    other: str  #: Another.
    in_short: str
    one_tells: Mapping[str, str]  #: Part of the drawing -> what it says.
    other_tells: Mapping[str, str]

    @property
    def asks(self) -> str:
        """The two as a question.

        >>> PAIRS["film-or-mould"].asks
        'Film yeast or mould?'
        """
        return f"{self.names[0]} or {self.names[1][0].lower()}{self.names[1][1:]}?"

    @property
    def signs(self) -> frozenset[str]:
        """What the two are recorded as."""
        return frozenset((card_of(self.one).sign, card_of(self.other).sign))


PAIRS: Mapping[str, LookPair] = table_of("look_pairs", LookPair)


def pair_of(sign: str, other: str) -> LookPair | None:
    """Find the pair that tells two signs apart; None: there is none.

    >>> pair_of("fuzzy", "jelly").key
    'jelly-or-mould'
    """
    wanted = {sign, other}
    return next((pair for pair in PAIRS.values() if pair.signs == wanted), None)


def pairs_with(sign: str) -> list[LookPair]:
    """List the pairs in which a sign is told from another."""
    return [pair for pair in PAIRS.values() if sign in pair.signs]


def kinds_of(sign: str) -> list[str]:
    """List what is drawn of a sign, without repeats: a smell has no drawing."""
    kinds = [card.draws for card in CARDS.values() if card.sign == sign and OBSERVATIONS[sign].group != "smell"] if sign in OBSERVATIONS else []
    return list(dict.fromkeys(kinds))


def by_verdict() -> list[tuple[str, list[KnownSign]]]:
    """List what can be seen and smelled by what follows from it, the gravest first."""
    groups = [(str(word), [sign for sign in OBSERVATIONS.values() if sign.verdict == word]) for word in ORDER]
    return groups[::-1]
