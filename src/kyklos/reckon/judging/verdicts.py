"""Whether a brew is all right: its records put together for the core's verdict."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import object_session

from ...core.base.kinds import NodeKind
from ...core.judging import BrewFacts, Verdict, judge
from ...core.judging.observations import SeenLook
from ...core.judging.overrule import applied
from ...core.judging.watched import Watched, facts_from
from ...store.read.moments import days_between
from ...store.read.recorded import own_word, watched
from ...store.records import Brew
from ..cultures import spoilage
from ..forecast.warmth import course_of


def watched_of(brew: Brew, now: datetime) -> Watched:
    """Return what was watched of a brew, with what spoiled near it."""
    session = object_session(brew)
    known = spoilage.held(session, now).get((NodeKind.BREW, brew.id)) if session is not None and brew.alive else None
    seen = watched(brew)
    if known is None:
        return seen
    return replace(seen, touched_by=known.name) if known.strong else replace(seen, near=known.name)


def facts_of(brew: Brew, now: datetime, seen: Watched | None = None) -> BrewFacts:
    """Return what a verdict of a brew is read from now.

    Args:
        brew: Any.
        now: The moment.
        seen: What was watched of it; read from its records, unless given.
    """
    return facts_from(seen or watched_of(brew, now), course_of(brew), max(0.0, days_between(brew.pitched_at, now)))


def with_look(facts: BrewFacts, look: SeenLook) -> BrewFacts:
    """Return the facts as they would be with one look more."""
    return replace(facts, looks=(*facts.looks, look))


def by_older_end(brew: Brew, facts: BrewFacts) -> BrewFacts:
    """Return the facts as they are if a brew whose start is remembered roughly began as early as it may have."""
    older = brew.start_doubt_days
    return replace(
        facts,
        day=facts.day + older,
        ph=tuple(replace(seen, day=seen.day + older) for seen in facts.ph),
        looks=tuple(replace(look, day=look.day + older) for look in facts.looks),
        tastes=tuple((day + older, score) for day, score in facts.tastes),
        ta=tuple((day + older, value) for day, value in facts.ta),
        warmest_day=facts.warmest_day + older,
        top_ups=tuple(day + older for day in facts.top_ups),
    )


def computed_of(brew: Brew, facts: BrewFacts) -> Verdict:
    """Judge a brew by the rules alone."""
    return judge(by_older_end(brew, facts))


def verdict_of(brew: Brew, now: datetime, facts: BrewFacts | None = None) -> Verdict:
    """Judge a brew; the brewer's own word counts as far as it may."""
    return applied(computed_of(brew, facts or facts_of(brew, now)), own_word(brew))
