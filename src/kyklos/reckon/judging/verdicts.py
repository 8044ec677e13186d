"""Whether a brew is all right: its records put together for the core's verdict."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import numpy as np
from sqlalchemy.orm import object_session

from ...core.base.kinds import NodeKind
from ...core.judging import BrewFacts, Verdict, judge
from ...core.judging.overrule import applied
from ...core.judging.safety import PhReading, SeenLook
from ...store.read.moments import days_between
from ...store.read.recorded import looks_of, own_word, read_by, standing_readings, standing_tastings, topped_up
from ...store.records import Brew
from ..cultures import spoilage
from ..forecast.warmth import course_of


def facts_of(brew: Brew, now: datetime) -> BrewFacts:
    """Put together what a judgement reads."""
    day = max(0.0, days_between(brew.pitched_at, now))
    course = course_of(brew)
    warmth = [
        (c, max(0.0, days_between(brew.pitched_at, r.at)))
        for r in standing_readings(brew)
        for c in (r.celsius, r.high_c)
        if c is not None
    ]
    past = course.at(np.linspace(0, max(day, 0.01), 60))
    return BrewFacts(
        day=day,
        mean_c=float(past.mean()),
        now_c=float(past[-1]),
        measured_c=max(warmth)[0] if warmth else None,
        ph=tuple(
            PhReading(max(0.0, days_between(brew.pitched_at, r.at)), r.ph, read_by(r))
            for r in standing_readings(brew)
            if r.ph is not None
        ),
        looks=looks_of(brew),
        tastes=tuple((max(0.0, days_between(brew.pitched_at, t.at)), t.score) for t in standing_tastings(brew)),
        ta=tuple(
            (max(0.0, days_between(brew.pitched_at, r.at)), r.ta_g_per_l)
            for r in standing_readings(brew)
            if r.ta_g_per_l is not None and r.degassed  # gas left in looks like acid that rose
        ),
        warmest_day=max(warmth)[1] if warmth else 0.0,
        kind=brew.kind,
        **_touched(brew, now),
        top_ups=tuple(days_between(brew.pitched_at, a.at) for a in topped_up(brew)) if brew.runs else (),
    )


def _touched(brew: Brew, now: datetime) -> dict[str, str]:
    """Return which spoiled brew has touched a brew, by the name of its vessel."""
    session = object_session(brew)
    known = spoilage.held(session, now).get((NodeKind.BREW, brew.id)) if session is not None and brew.alive else None
    return {} if known is None else {"touched_by" if known.strong else "near": known.name}


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
