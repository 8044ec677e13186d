"""Lessons: what happened lately put before the rules, and which kept lessons apply where somebody is."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime, timedelta
from statistics import mean

from sqlalchemy.orm import Session

from ...core.base.kinds import NoteOn
from ...core.notebook.lessons import (
    MOST_SHOWN,
    Applies,
    BrewedTold,
    FilledTold,
    Happenings,
    Here,
    LessonProposal,
    LikedTold,
    RanOutTold,
    applies_from,
    proposals,
    season_of,
    telling,
)
from ...store.read import notebook_queries, notes, queries
from ...store.read.memory import remembered
from ...store.records import Bottle, Bottling, Brew, KeptLesson
from ..bottles.flavours import name_in_ranking
from ..supply.cupboard import good_of

MOST_A_MONTH = 4  #: Proposals that are decided in a month; more wait.
MONTH_DAYS = 30.0  #: [d]
LOOK_BACK_DAYS = 800.0  #: Two winters. [d]
BURST = "burst"
SAID, HAPPENED = 2, 5  #: Where a forecast and what happened stand in a test (core/forecast/hindsight.py: Tested).


def proposed(session: Session, now: datetime) -> list[LessonProposal]:
    """Propose lessons from what happened over two years, that nobody kept or dismissed; never more than a few a month."""
    known = tuple(sorted(notebook_queries.known_keys(session)))
    found = remembered(session, ("proposed", now.date(), known), lambda: tuple(proposals(happenings(session, now), known)))
    return list(found[: max(0, MOST_A_MONTH - notebook_queries.decided_since(session, now - timedelta(days=MONTH_DAYS)))])


def happenings(session: Session, now: datetime) -> Happenings:
    """Put together what happened over two years."""
    since, southern = now - timedelta(days=LOOK_BACK_DAYS), queries.southern(session)
    opened, scored = notebook_queries.opened_since(session, since), notebook_queries.scored_since(session, since)
    numbers = {row[0] for row in opened} | {row[0] for row in scored}
    names = {filling.id: name_in_ranking(filling) for filling in notebook_queries.fillings(session, sorted(numbers))}
    bottles: dict[int, list[tuple[int | None, str]]] = defaultdict(list)
    for filling, hiss, left in opened:
        bottles[filling].append((hiss, left))
    return Happenings(
        fillings=[
            FilledTold(number, names[number], tuple(hiss for hiss, _ in some if hiss is not None), sum(left == BURST for _, left in some))
            for number, some in bottles.items()
        ],
        brews=[
            BrewedTold(number, vessel, place, season_of(at.date(), southern=southern), spoiled, mean(test[HAPPENED] - test[SAID] for test in tests) if tests else None)
            for number, vessel, place, at, spoiled, tests in notebook_queries.ended_since(session, since)
        ],
        liked=[LikedTold(names[number], number, taster, liked) for number, taster, liked in scored],
        ran_out=[RanOutTold(row.id, good_of(session, row.kind, row.key).name, row.day) for row in notebook_queries.found_empty(session, since.date())],
    )


def lessons_here(session: Session, here: Here, most: int = MOST_SHOWN) -> list[KeptLesson]:
    """List the kept lessons that apply where somebody is, the most telling first, never more than two."""
    found = [(tells, row) for row in notebook_queries.standing_lessons(session) if (tells := telling(applies_from(row.applies), here)) is not None]
    return [row for _, row in sorted(found, key=lambda pair: (-pair[0], -pair[1].helped, -pair[1].id))[:most]]


def applies_at(session: Session, about: str, number: int) -> Applies:
    """Return where a lesson written beside something would come back.

    Args:
        session: Of the household.
        about: What it was written about: a NoteOn.
        number: Its number.
    """
    thing = notes.thing(session, about, number)
    if isinstance(thing, Brew):
        return Applies(vessel=thing.vessel.name, culture=thing.culture.name)
    if isinstance(thing, Bottle):
        return Applies(flavour=name_in_ranking(thing.bottling))
    if isinstance(thing, Bottling):
        return Applies(flavour=name_in_ranking(thing))
    field = {NoteOn.VESSEL: "vessel", NoteOn.CULTURE: "culture", NoteOn.FLAVOUR: "flavour", NoteOn.PLACE: "place"}.get(about)  # type: ignore[call-overload]
    return Applies(**{field: str(thing.name)}) if field and thing is not None else Applies()
