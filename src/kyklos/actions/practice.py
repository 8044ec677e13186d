"""Keeping how practice goes: where a card stands, what was taken for what, where a season stands. Nothing of it is a record of the household."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from ..core.practice.boxes import CardStanding, Graded, answered, sooner
from ..store.read import practising
from ..store.records import PracticeCard, PracticeMix, PracticeSeason

MISSED = {Graded.WRONG, Graded.UNSAFE}


@dataclass(frozen=True, slots=True, kw_only=True)
class PracticeAnswer:
    """One answer to one card."""

    person: int  #: Number of a taster; 0: nobody in particular.
    deck: str
    card: str
    outcome: Graded
    today: int  #: As days of the calendar. [d]
    was: str = ""  #: What it was,
    taken_for: str = ""  #: and what it was taken for; empty: nothing to say of it.
    confused: tuple[str, ...] = ()  #: Cards that show what it was taken for: they come today, too.


def keep_answer(session: Session, ask: PracticeAnswer) -> CardStanding:
    """Move a card to the box that its answer asks for; what it was taken for comes today, too.

    Returns: Where the card stands now.
    """
    with session.begin():
        known = practising.standings(session, ask.person, ask.deck)
        now = answered(known.get(ask.card, CardStanding(ask.card)), ask.outcome, ask.today)
        _keep_card(session, ask, now)
        if ask.outcome in MISSED:
            for card in ask.confused:
                if card in known and card != ask.card:
                    _keep_card(session, ask, sooner(known[card], ask.today))
        if ask.taken_for and ask.taken_for != ask.was:
            _keep_mix(session, ask)
    return now


def _keep_card(session: Session, ask: PracticeAnswer, standing: CardStanding) -> None:
    where = {"person": ask.person, "deck": ask.deck, "card": standing.card}
    row = session.scalar(select(PracticeCard).filter_by(**where))
    if row is None:
        session.add(PracticeCard(person=ask.person, deck=ask.deck, **asdict(standing)))
        return
    for name, value in asdict(standing).items():
        setattr(row, name, value)


def _keep_mix(session: Session, ask: PracticeAnswer) -> None:
    where = {"person": ask.person, "deck": ask.deck, "was": ask.was, "taken_for": ask.taken_for}
    row = session.scalar(select(PracticeMix).filter_by(**where))
    if row is None:
        row = PracticeMix(**where, times=0, unsafe=0)
        session.add(row)
    row.times += 1
    row.unsafe += ask.outcome == Graded.UNSAFE


def keep_season(session: Session, person: int, seed: int, moves: str, at: datetime) -> None:
    """Keep where a season stands, in place of the one before."""
    with session.begin():
        row = session.scalar(select(PracticeSeason).filter_by(person=person))
        if row is None:
            session.add(PracticeSeason(person=person, seed=seed, moves=moves, at=at))
            return
        row.seed, row.moves, row.at = seed, moves, at


def wipe(session: Session, person: int) -> None:
    """Forget all of a person's practice."""
    with session.begin():
        for kind in (PracticeCard, PracticeMix, PracticeSeason):
            session.execute(delete(kind).where(kind.person == person))
