"""What was practised at Quince Yard: Odile tells mould by now but takes a dry place for it, Bram has only begun; a season stands half played."""

from __future__ import annotations

from datetime import timedelta

from ..actions.practice import PracticeAnswer, keep_answer, keep_season
from ..core.practice import counsel, eye
from ..core.practice.boxes import Graded
from ..core.practice.moves import WAIT, play
from ..core.practice.season import begin
from .day import DEMO_NOW
from .kitchen import BRAM, ODILE, Kitchen

SEASON, PLAYED_DAYS = 418, 38  #: Which one, and so far. [-, d]
#: Days ago, whose, card, called by which sign, how it was.
ANSWERED = (
    (12, ODILE, "disc", "disc", Graded.RIGHT),
    (12, ODILE, "fuzzy-green", "fuzzy", Graded.RIGHT),
    (12, ODILE, "film-yeast", "fuzzy", Graded.WRONG),
    (12, ODILE, "skin", "skin", Graded.RIGHT),
    (9, ODILE, "film-yeast", "fuzzy", Graded.WRONG),
    (9, ODILE, "lifted", "fuzzy", Graded.WRONG),
    (9, ODILE, "jelly", "jelly", Graded.RIGHT),
    (6, ODILE, "film-yeast", "film-yeast", Graded.RIGHT),
    (6, ODILE, "fuzzy-white", "jelly", Graded.UNSAFE),
    (6, ODILE, "strings", "strings", Graded.RIGHT),
    (5, ODILE, "fuzzy-white", "fuzzy", Graded.RIGHT),
    (3, BRAM, "disc", "disc", Graded.RIGHT),
    (3, BRAM, "fuzzy-green", "fuzzy", Graded.RIGHT),
)  # fmt: skip


def practised(kitchen: Kitchen) -> None:
    """Keep what they answered, and Odile's season."""
    for ago, person, card, sign, graded in ANSWERED:
        was = eye.card_of(card).sign
        today = (DEMO_NOW - timedelta(days=ago)).date().toordinal()
        answer = PracticeAnswer(
            person=person, deck="eye", card=card, outcome=graded, today=today, was=was, taken_for=sign if sign != was else ""
        )
        with kitchen.database.writer() as session:
            keep_answer(session, answer)
    season, moves = begin(SEASON), ""
    while season.day < PLAYED_DAYS - 1:
        letter = counsel.counsel(season).letter
        season, moves = play(season, letter), moves + letter
    with kitchen.database.writer() as session:
        keep_season(session, ODILE, SEASON, moves + WAIT, DEMO_NOW - timedelta(days=1))
