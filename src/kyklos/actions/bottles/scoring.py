"""What tasters say of bottles: two taps, a full sheet, glasses side by side."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.bottles.scores import LIKED, SHEET
from ...store.read import queries
from ...store.records import Bottle, Bottling, Comparison, Score, Taster
from ..base import Checks, Done, action, flushed
from ..blind import by_lot, name_all, refuse_named

NEXT_TIME = ("", "more", "same", "less")
MOST_GLASSES = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class ScoreBottle:
    """How a taster liked a bottle, or a glass beside others."""

    taster_id: int
    liked: int  #: 1 to 5.
    bottle_id: int | None = None
    bottling_id: int | None = None  #: Where no one bottle is meant.
    again: bool | None = None
    sheet: dict[str, int] = field(default_factory=dict)
    word: str = ""
    next_time: str = ""
    comparison_id: int | None = None


@action
def score_bottle(session: Session, ask: ScoreBottle, at: datetime) -> Done:
    """Keep what a taster said; said again of the same bottle on the same occasion, it takes the place of the first."""
    checks = Checks()
    bottle = queries.get(session, Bottle, ask.bottle_id) if ask.bottle_id is not None else None
    group = bottle.bottling if bottle is not None else queries.get(session, Bottling, ask.bottling_id or 0)
    taster = queries.get(session, Taster, ask.taster_id)
    checks.refuse_if(not 1 <= ask.liked <= len(LIKED), "liked", "How was it? From 1 to 5.")
    wrong = [key for key, value in ask.sheet.items() if key not in SHEET or not 1 <= value <= 5]
    checks.refuse_if(bool(wrong), wrong[0] if wrong else "", "From 1 to 5.")
    checks.refuse_if(ask.next_time not in NEXT_TIME, "next_time", "More, less, or the same.")
    glass = queries.get(session, Comparison, ask.comparison_id) if ask.comparison_id is not None else None
    checks.refuse_if(glass is not None and group.id not in glass.glasses, "", "That glass does not stand there.")
    if glass is not None:
        refuse_named(checks, glass)
    checks.done()
    same = [
        row
        for row in group.scores
        if row.taster_id == taster.id
        and row.comparison_id == ask.comparison_id
        and row.bottle_id == ask.bottle_id
        and (row.bottle_id is not None or row.comparison_id is not None)
    ]
    row = same[0] if same else Score(bottling_id=group.id, bottle_id=ask.bottle_id, taster_id=taster.id)
    row.at, row.liked, row.again, row.comparison_id = at, ask.liked, ask.again, ask.comparison_id
    row.sheet = {**(row.sheet or {}), **ask.sheet}
    row.word, row.next_time = ask.word.strip()[:200] or (row.word or ""), ask.next_time or (row.next_time or "")
    return Done(f"{taster.name}: {LIKED[ask.liked - 1]}.", {"score": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class StartComparison:
    """Glasses to be tasted side by side, nobody knowing which is which."""

    bottling_ids: tuple[int, ...]
    question: str = ""
    seed: int | None = None  #: The order; by chance unless given.


@action
def start_comparison(session: Session, ask: StartComparison, at: datetime) -> Done:
    """Put glasses in an order that only Kyklos knows."""
    numbers = by_lot(Checks(), ask.bottling_ids, MOST_GLASSES, "", "bottles", ask.seed)
    for number in numbers:
        queries.get(session, Bottling, number)
    row = Comparison(at=at, glasses=numbers, question=ask.question.strip()[:200])
    return Done(f"{len(numbers)} glasses stand side by side.", {"comparison": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class RevealComparison:
    """The glasses are named."""

    comparison_id: int


@action
def reveal_comparison(session: Session, ask: RevealComparison, at: datetime) -> Done:
    """Name the glasses; nothing is scored after."""
    row, checks = queries.get(session, Comparison, ask.comparison_id), Checks()
    name_all(checks, row, row.scores, at)
    return Done("The glasses are named.")
