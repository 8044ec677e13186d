"""What a day in the kitchen is laid out from: which vessels can be turned round or drawn from, why others not, and their amounts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.brewing import BrewPlan, make_plan
from ..core.brewing.day_walk import DayWalk, walk_of
from ..core.brewing.threads import Bench, Day
from ..core.brewing.turn_round import PotTold, VesselTurn, threads_of_all, turn_round
from ..core.liquid import teas
from ..core.liquid.taste import is_all_honey
from ..store.read import planning_queries, queries
from ..store.records import Brew, Vessel
from .bottles.filling_plan import to_fill_l
from .bottles.harvests import to_set_aside_l
from .brewing.brew_days import LEAST_STEEP_MINUTES, USUAL_BOTTLE_L, usual_plan
from .cultures.quarantine import kept_away
from .judging import attention
from .tapped import standing_of
from .tapped_ahead import plan_top_up

TURN, FILL, DRAW = "turn round", "fill", "draw and top up"
SOON_DAYS = 0.5  #: What is right so soon is turned round today (assumed). [d]


@dataclass(frozen=True, slots=True)
class DayChoice:
    """A vessel, and what a day in the kitchen can do with it."""

    vessel: Vessel
    what: str = ""  #: TURN, FILL or DRAW; empty: nothing today.
    why_not: str = ""  #: Empty where it can be.
    right_in: float | None = None  #: How long until it is right for somebody, where it is too young. [d]


def choice_of(session: Session, vessel: Vessel, now: datetime) -> DayChoice:
    """Return what can be done with a vessel today: it is free, its brew is right, or there is something to draw."""
    brew = queries.brew_in(session, vessel.id)
    if brew is None:
        return DayChoice(vessel, FILL)
    known = attention.attention_of(session, brew, now)
    if known.lost:
        return DayChoice(vessel, why_not="is to be thrown out first")
    if known.on_hold or ("brew", brew.id) in kept_away(session):
        return DayChoice(vessel, why_not="is on hold")
    if brew.runs:
        standing = standing_of(session, known, now)
        if standing.paused:
            return DayChoice(vessel, why_not="is paused")
        return DayChoice(vessel, DRAW) if standing.litres_today > 0 else DayChoice(vessel, why_not="has nothing to draw today")
    if known.not_drunk:
        return DayChoice(vessel, why_not="grows what nobody drinks")
    begun = min((low for _, low, _ in known.windows), default=None)
    if begun is not None and begun > known.day + SOON_DAYS:
        return DayChoice(vessel, why_not="is too young", right_in=begun - known.day)
    return DayChoice(vessel, TURN)


def turn_of(session: Session, vessel: Vessel, now: datetime) -> VesselTurn:
    """Return the work that a vessel makes that day, with its amounts."""
    brew = queries.brew_in(session, vessel.id)
    if brew is not None and brew.runs:
        return _draw_of(session, brew, now)
    plan = usual_plan(session, vessel, now)
    starter = sum(litres for portion, litres in plan.choice.taken if not portion.fixed)
    if brew is None:
        return _turn(vessel.name, plan, starter_l=starter, harvest=False)
    aside, full = to_set_aside_l(session, brew, now), to_fill_l(session, brew, None, now)
    return _turn(vessel.name, plan, starter_l=starter, harvest=True, bottles=int(full / USUAL_BOTTLE_L), reserve_l=aside)


def _draw_of(session: Session, brew: Brew, now: datetime) -> VesselTurn:
    standing = standing_of(session, attention.attention_of(session, brew, now), now)
    litres = standing.litres_today
    return _turn(brew.vessel.name, make_plan(plan_top_up(session, standing, litres + standing.missing_l, now)), harvest=True, draw_l=litres)


def _turn(name: str, plan: BrewPlan, *, harvest: bool, starter_l: float = 0.0, bottles: int = 0, reserve_l: float = 0.0, draw_l: float = 0.0) -> VesselTurn:
    heat, card = plan.heat, plan.ask.card
    cool = (heat.wait.hours or 0.0) * 60 if heat.must_wait else 0.0
    rise, steep = card.on_leaf_c - plan.ask.cold_c, max(card.steeps_minutes, LEAST_STEEP_MINUTES)
    pots = tuple(PotTold(round(pot.water_l, 2), rise, steep, round(cool), pot.leaf_g, pot.sugar_g) for pot in plan.rounds.pots)
    return VesselTurn(
        name,
        pots if heat.method != "cold" else (),
        bottles,
        harvest,
        tea=teas.name_of(card.tea).lower(),
        sweetener="honey" if is_all_honey(plan.recipe.honey_share) else "honey and sugar" if plan.recipe.honey_share > 0 else "sugar",
        cold_l=heat.cold_l,
        starter_l=starter_l,
        reserve_l=reserve_l,
        draw_l=draw_l,
    )


@dataclass(frozen=True, slots=True)
class LaidOut:
    """A day laid out over the household's tools, and how it is walked."""

    day: Day
    bench: Bench
    walk: DayWalk


def laid_out(session: Session, vessels: Sequence[Vessel], hands: int, now: datetime) -> LaidOut:
    """Lay a day out for some vessels.

    Raises:
        CoreError: If a tool is missing.
    """
    turns, bench = tuple(turn_of(session, vessel, now) for vessel in vessels), bench_of(session, hands)
    day = turn_round(turns, bench)
    steps = walk_of(threads_of_all(turns, bench), day, bench)
    return LaidOut(day, bench, DayWalk(steps, hands, tuple((vessel.name, vessel.id) for vessel in vessels)))


def bench_of(session: Session, hands: int) -> Bench:
    """Return what the kitchen works with; at least one burner and one pot, and each tapped vessel's own tap."""
    counts = {"burner": 0, "pot": 0, "jug": 0}
    for tool in planning_queries.tools(session):
        if tool.kind in counts:
            counts[tool.kind] += tool.number
    jugs = (("jug", counts["jug"]),) if counts["jug"] else ()
    taps = sum(brew.runs for brew in queries.living_brews(session))
    return Bench(hands, (("burner", max(1, counts["burner"])), ("pot", max(1, counts["pot"])), *jugs, *((("tap", taps),) if taps else ())))
