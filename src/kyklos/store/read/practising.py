"""Questions to what is kept of practice: where somebody's cards stand, what they take for what, where their season stands."""

from __future__ import annotations

from typing import NamedTuple

from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from ...core.practice.boxes import CardStanding
from ...core.practice.mixing import Mixed
from ..records import PracticeCard, PracticeMix, PracticeSeason


class SeasonKept(NamedTuple):
    """A season in the practice kitchen as it was left."""

    seed: int
    moves: str


def _anew(session: Session, query: Select) -> list:  # type: ignore[type-arg]
    """Ask the file itself: practice is written beside the pages and outdates none."""
    return list(session.execute(query, execution_options={"anew": True}))


def standings(session: Session, person: int, deck: str) -> dict[str, CardStanding]:
    """Return where the cards of a deck stand for a person, by card."""
    card = PracticeCard
    query = select(card.card, card.box, card.due, card.seen, card.unsafe, card.answers, card.misses).where(
        card.person == person, card.deck == deck
    )
    return {row.card: CardStanding(*row) for row in _anew(session, query)}


def decks(session: Session, person: int) -> dict[str, dict[str, CardStanding]]:
    """Return where all cards of a person stand, by deck and card, in one question."""
    card = PracticeCard
    query = select(card.deck, card.card, card.box, card.due, card.seen, card.unsafe, card.answers, card.misses).where(card.person == person)
    out: dict[str, dict[str, CardStanding]] = {}
    for deck, *row in _anew(session, query):
        out.setdefault(deck, {})[row[0]] = CardStanding(*row)
    return out


def mixed(session: Session, person: int, deck: str) -> list[Mixed]:
    """List what a person takes for what in a deck."""
    mix = PracticeMix
    query = select(mix.was, mix.taken_for, mix.times, mix.unsafe).where(mix.person == person, mix.deck == deck)
    return [Mixed(*row) for row in _anew(session, query)]


def season(session: Session, person: int) -> SeasonKept | None:
    """Return where a person's season stands; None: none was begun."""
    rows = _anew(session, select(PracticeSeason.seed, PracticeSeason.moves).where(PracticeSeason.person == person))
    return SeasonKept(*rows[0]) if rows else None
