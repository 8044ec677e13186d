"""Blind tastings: brews by letter, one sheet a taster, who is who only after the last sheet."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base.kinds import BrewStatus, KindOfBrew
from ...core.judging.observations import DISCARD, HOLD
from ...reckon.judging import verdicts
from ...store.read import queries
from ...store.records import BlindTasting, Brew, Taster
from ..base import Checks, Done, action, flushed
from ..blind import by_lot, name_all, refuse_named
from .readings import LogTasting, write_tasting

MOST = 6
LETTERS = "ABCDEF"


@dataclass(frozen=True, slots=True, kw_only=True)
class StartBlind:
    """Brews to compare."""

    brew_ids: tuple[int, ...]
    seed: int | None = None  #: For tests and the sample household; drawn by chance else.


@action
def start_blind(session: Session, ask: StartBlind, at: datetime) -> Done:
    """Give each brew a letter by lot. Someone else pours; nothing that is held or discarded is tasted."""
    checks = Checks()
    numbers = by_lot(checks, ask.brew_ids, MOST, "brews", "brews", ask.seed)
    for number in numbers:
        brew = queries.get(session, Brew, number)
        grave = brew.status == BrewStatus.HELD or not brew.alive or verdicts.verdict_of(brew, at).word in {HOLD, DISCARD}
        checks.refuse_if(
            grave or brew.kind == KindOfBrew.TRIAL, "brews", f"{brew.vessel.name} is not to be tasted now."
        )
    checks.done()
    return Done("Each glass has its letter: pour, then taste.", {"blind": flushed(session, BlindTasting(at=at, brews=numbers))})


@dataclass(frozen=True, slots=True, kw_only=True)
class FillSheet:
    """One taster's sheet for one letter."""

    blind_id: int
    taster_id: int
    letter: str
    score: int  #: -3 to 3. [step]
    tea: int | None = None
    yeast: int | None = None
    again: bool | None = None
    after: str = ""
    note: str = ""


@action
def fill_sheet(session: Session, ask: FillSheet, at: datetime) -> Done:
    """Keep a sheet; filled again, the later one counts."""
    row, taster, checks = (
        queries.get(session, BlindTasting, ask.blind_id),
        queries.get(session, Taster, ask.taster_id),
        Checks(),
    )
    refuse_named(checks, row)
    checks.refuse_if(
        ask.letter not in LETTERS[: len(row.brews)] or len(ask.letter) != 1, "letter", "There is no such letter."
    )
    checks.refuse_if(not -3 <= ask.score <= 3, "score", "Choose from much too sweet to much too sour.")
    checks.done()
    others = [s for s in row.sheets if (s["taster"], s["letter"]) != (taster.id, ask.letter)]
    sheet = {
        "taster": taster.id,
        "letter": ask.letter,
        "score": ask.score,
        "tea": ask.tea,
        "yeast": ask.yeast,
        "again": ask.again,
        "after": ask.after[:200],
        "note": ask.note[:500],
        "at": at.isoformat(),
    }
    row.sheets = [*others, sheet]
    return Done(f"{taster.name}, glass {ask.letter}: kept.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Reveal:
    """The end of a blind tasting."""

    blind_id: int


@action
def reveal(session: Session, ask: Reveal, at: datetime) -> Done:
    """Show who is who: every sheet becomes a tasting of its brew."""
    row, checks = queries.get(session, BlindTasting, ask.blind_id), Checks()
    name_all(checks, row, row.sheets, at)
    for sheet in row.sheets:
        brew = queries.get(session, Brew, row.brews[LETTERS.index(sheet["letter"])])
        values = {name: sheet[name] for name in ("score", "tea", "yeast", "again", "after", "note")}
        if not brew.alive:
            continue
        when = datetime.fromisoformat(sheet["at"])
        write_tasting(
            session, LogTasting(brew_id=brew.id, taster_id=sheet["taster"], at=when, blind=True, **values), brew, at
        )
    return Done("Now you know.")
