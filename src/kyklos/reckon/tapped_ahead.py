"""A tapped vessel as it goes on: the draws to come, its next topping up, and what it wants put among what its brew wants."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from statistics import median

from sqlalchemy.orm import Session

from ..core.base.kinds import KindOfBrew
from ..core.brewing import PlanAsk
from ..core.forecast import Forecast, ForecastAsk, forecast
from ..core.judging.due import PEACE
from ..core.tapped.vessel import planned
from ..store.read.recorded import drawn
from .brewing import brew_days
from .judging.attention import Attention, put_off_now, sorted_out
from .tapped import LEAST_DRAW_SHARE, RECENT_DRAWS, TappedStanding

PLANNED_DAYS = 15.0  #: So far ahead the saw is drawn. [d]
PARTS_OF_A_DAY = 4  #: What is planned begins with the next quarter of a day, so that a page asks the same for a while. [-]


def coming(standing: TappedStanding, litres: float | None = None, every_days: float | None = None) -> tuple[ForecastAsk, Forecast]:
    """Foretell a vessel with the draws to come: as advised, or so much so often. [L, d]

    Args:
        standing: The vessel.
        litres: Each time; what may be drawn today unless given.
        every_days: How often; the habit unless given.
    """
    tapped = standing.tapped
    each = standing.litres_today if litres is None else litres
    every = tapped.every_days if every_days is None else every_days
    here = (int(tapped.now * PARTS_OF_A_DAY) + 1) / PARTS_OF_A_DAY
    wait = standing.now.ready_in or 0.0
    first = here + round(wait * PARTS_OF_A_DAY) / PARTS_OF_A_DAY if each <= 0 else here
    usual = each if each > 0 else usual_litres(standing)
    waits = standing.paused or standing.care.resting or standing.known.lost
    events = () if waits else planned(replace(tapped, now=here), usual, every, PLANNED_DAYS, first - here)
    happened = standing.ask.batch.events
    ask = replace(
        standing.ask,
        batch=replace(standing.ask.batch, events=tuple(sorted((*happened, *events), key=lambda e: e.day))),
        ripe_from=first,
    )
    return ask, forecast(ask)


def usual_litres(standing: TappedStanding) -> float:
    """Return how much is drawn each time, by habit, or a third of it. [L]"""
    recent = drawn(standing.brew)[-RECENT_DRAWS:]
    big = [t.litres for t in recent if t.litres >= LEAST_DRAW_SHARE * standing.tapped.line_l]
    return min(median(big), standing.tapped.line_l * 0.9) if big else standing.tapped.line_l / 3


def plan_top_up(session: Session, standing: TappedStanding, litres: float, now: datetime) -> PlanAsk:
    """Plan the sweet tea for a topping up, as the brew's own. [L]"""
    brew = standing.brew
    card = brew_days.last_card(session, brew.vessel, brew.culture, brew.kind) or brew_days.usual_card(
        session, brew.culture, KindOfBrew.FIRST, now
    )
    card = replace(card, kind=KindOfBrew.TOP_UP, seed="liquid", share=None)
    vessel = replace(brew_days.vessel_facts(brew.vessel), line_l=litres, nominal_l=litres * 1.1, heel_l=0.0)
    return PlanAsk(
        card=card,
        vessel=vessel,
        culture=brew.culture.name,
        diet=brew.culture.diet,
        usual=brew_days.usual_tea(session),
        room_c=min(max(standing.tapped.celsius, 0.0), 35.0),
        liquid_l=litres,
        pot_l=brew_days.largest_l(session, "pot"),
        jug_l=brew_days.largest_l(session, "jug"),
        pitcher_l=brew_days.largest_l(session, "pitcher"),
    )


def with_care(session: Session, known: Attention, standing: TappedStanding) -> Attention:
    """Let what a tapped vessel wants stand among what its brew wants: what is grave first."""
    brew_wants = [due for due in (known.due, *known.also) if due.kind != PEACE.kind]
    grave = [due for due in brew_wants if due.urgent]
    rest = [due for due in brew_wants if not due.urgent]
    care = () if known.lost else standing.wants
    kinds = {due.kind for due in grave}
    wants = (*grave, *(due for due in care if due.kind not in kinds), *rest)
    now_list, waiting = sorted_out(f"brew-{known.brew.id}", wants, put_off_now(session, standing.at))
    return replace(known, due=now_list[0] if now_list else PEACE, also=tuple(now_list[1:]), waiting=(*known.waiting, *waiting))


def draws_ahead(standing: TappedStanding, days: float) -> list[datetime]:
    """List when it may be drawn from in the days to come, as it goes now. [d]"""
    if standing.paused or standing.care.resting or standing.known.lost:
        return []
    first = standing.now.ready_in
    if first is None or standing.litres_for_good is None:
        return []
    every = standing.tapped.every_days
    out, day = [], 0.0 if standing.litres_today > 0 else max(first, every if standing.just_topped else 0.0)
    while day <= days:
        out.append(standing.at + timedelta(days=day))
        day += every
    return out
