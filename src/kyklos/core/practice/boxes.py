"""Which card comes when: five boxes. What is right moves up and waits longer, what is wrong goes back to the first.

Source: the method of Leitner 1972; the days are assumed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

BOX_DAYS = (1, 2, 4, 8, 16)  #: After so long a card of each box comes again (assumed). [d]
BOXES = len(BOX_DAYS)
ROUND_CARDS = 6  #: Of one sitting of five minutes (assumed).
MOST_NEW = 4  #: Cards never seen before, a day (assumed).


class Graded(StrEnum):
    """How an answer was."""

    RIGHT = "right"
    SAFE = "safe"  #: One step more careful than it had to be, or right for another reason: the card stays in its box.
    WRONG = "wrong"
    UNSAFE = "unsafe"  #: Something unsafe called safe: it counts most, and comes first again.


@dataclass(frozen=True, slots=True)
class CardStanding:
    """Where a card stands for one person."""

    card: str
    box: int = 1  #: From 1 to 5.
    due: int = 0  #: Comes again on that day, counted as days of the calendar. [d]
    seen: int = 0  #: Was last answered on that day; 0: never. [d]
    unsafe: bool = False  #: Last called safe though it was not.
    answers: int = 0
    misses: int = 0  #: Of these, wrong or unsafe.


def answered(standing: CardStanding, outcome: Graded, today: int) -> CardStanding:
    """Return where a card stands after an answer.

    Args:
        standing: Before.
        outcome: How the answer was.
        today: As days of the calendar. [d]

    >>> answered(CardStanding("a"), Graded.RIGHT, 10).due, answered(CardStanding("a", 4), Graded.WRONG, 10).box
    (12, 1)
    """
    missed = outcome in {Graded.WRONG, Graded.UNSAFE}
    box = 1 if missed else min(BOXES, standing.box + (outcome == Graded.RIGHT))
    unsafe = outcome == Graded.UNSAFE
    return replace(
        standing,
        box=box,
        due=today if unsafe else today + BOX_DAYS[box - 1],
        seen=today,
        unsafe=unsafe,
        answers=standing.answers + 1,
        misses=standing.misses + missed,
    )


def due_cards(deck: Sequence[str], standings: Mapping[str, CardStanding], today: int) -> list[str]:
    """List the cards of a deck that are to come today: what was called safe and was not, what is due, then new ones in the deck's order.

    Args:
        deck: All cards, from the easy to the hard.
        standings: Of those answered before.
        today: As days of the calendar. [d]
    """
    known = [standings[card] for card in deck if card in standings and standings[card].due <= today]
    known.sort(key=lambda s: (not s.unsafe, s.seen == today, s.box, s.due))
    begun = sum(1 for s in standings.values() if s.seen == today and s.answers == 1)
    fresh = [card for card in deck if card not in standings]
    return [s.card for s in known] + fresh[: max(0, MOST_NEW - begun)]


def left_of_round(deck: Sequence[str], standings: Mapping[str, CardStanding], today: int) -> int:
    """Return how many cards of today's round are to come: six a day, and whatever was called safe and was not.

    Args:
        deck, standings, today: As in `due_cards`.
    """
    due = due_cards(deck, standings, today)
    done = sum(1 for s in standings.values() if s.seen == today)
    unsafe = sum(1 for card in due if card in standings and standings[card].unsafe)
    return min(len(due), max(unsafe, ROUND_CARDS - done))


def next_card(deck: Sequence[str], standings: Mapping[str, CardStanding], today: int, last: str = "") -> str | None:
    """Return the card that comes next; None: nothing is due today. What was just answered does not come twice running.

    Args:
        deck, standings, today: As in `due_cards`.
        last: The card just answered.
    """
    due = due_cards(deck, standings, today)
    return next((card for card in due if card != last), due[0] if due else None)


def sooner(standing: CardStanding, today: int) -> CardStanding:
    """Bring a card forward to today, as one that another was taken for."""
    return replace(standing, due=min(standing.due, today))


def anyway(deck: Sequence[str], standings: Mapping[str, CardStanding], last: str = "") -> str:
    """Return a card for somebody who goes on though nothing is due: the lowest box, then the longest unseen."""
    known = sorted((standings.get(card, CardStanding(card)) for card in deck), key=lambda s: (s.card == last, s.box, s.seen))
    return known[0].card


def comes_again(deck: Sequence[str], standings: Mapping[str, CardStanding], today: int) -> int | None:
    """Return in how many days the next card is due; None: none was answered yet. [d]"""
    ahead = [standings[card].due - today for card in deck if card in standings]
    return max(0, min(ahead)) if ahead else None
