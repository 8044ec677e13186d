"""A plan carried out in the kitchen: steps, facts, timers that live here, and the pitch at the end."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from ..core.base import marked
from ..core.base.errors import Problem
from ..core.base.kinds import KindOfBrew, StarterKind, VesselKind
from ..core.brewing import make_plan
from ..core.brewing.kitchen_step import KitchenStep
from ..core.brewing.pitch_check import Remedy, remedies
from ..core.brewing.planner import BrewPlan, PlanAsk
from ..core.brewing.steps import steps_of
from ..core.liquid import Recipe
from ..store.read import queries
from ..store.read.documents import ask_of, pack
from ..store.records import BrewDay, Culture, Vessel
from .base import Checks, Done, RefusedError, action, flushed
from .brewing.pitching import NOTHING, PitchBrew, Poured, pitch, planned_amounts
from .tapped import TopUp, top_up_of
from .trying import BrewedFor

VINEGAR_PH = 2.4  #: Distilled, 5 % (typical). [pH]
RANGES = {
    "mass": (0, 20000),
    "volume": (0, 500),
    "temperature": (-5, 105),
    "number": (0, 2880),
    "ph": (1.5, 9),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class StartBrewDay:
    """A plan to be carried out."""

    vessel_id: int
    culture_id: int
    disc_id: int | None
    ask: PlanAsk
    brewed_for: BrewedFor = NOTHING


@action
def start_brew_day(session: Session, ask: StartBrewDay, at: datetime) -> Done:
    """Begin the kitchen steps of a plan; it can be left and resumed."""
    vessel, checks = queries.get(session, Vessel, ask.vessel_id), Checks()
    queries.get(session, Culture, ask.culture_id)
    plan = make_plan(ask.ask)
    for note in plan.notes:
        checks.refuse_if(
            note.grave,
            "",
            note.words(marked),
        )
    checks.refuse_if(vessel.kind == VesselKind.HOTEL, "vessel", "A hotel keeps spare discs: choose a jar or crock.")
    checks.done()
    day = BrewDay(
        vessel_id=vessel.id,
        culture_id=ask.culture_id,
        disc_id=ask.disc_id,
        experiment_id=ask.brewed_for.experiment(session, at),
        ask=pack(ask.ask),
        step=0,
        facts={},
        started_at=at,
    )
    return Done(f"Brew day for {vessel.name} begun.", {"brew_day": flushed(session, day)})


def living_day(session: Session, day_id: int) -> BrewDay:
    """Find a brew day that is not over."""
    day, checks = queries.get(session, BrewDay, day_id), Checks()
    checks.refuse_if(day.ended_at is not None, "", "This brew day is over.")
    checks.done()
    return day


def plan_of_day(day: BrewDay) -> BrewPlan:
    """Compute the plan of a brew day, with the temperature logged on the way."""
    ask = ask_of(day.ask)
    logged = day.facts.get("cool", {}).get("logged")
    return make_plan(replace(ask, logged=tuple(logged)) if logged else ask)


@dataclass(frozen=True, slots=True, kw_only=True)
class GoToStep:
    """Where the kitchen is now, and what was done at the step left behind."""

    day_id: int
    step: int
    facts: Mapping[str, float | str] = field(default_factory=dict)  #: By the asked name; SI.


def _check_facts(step: KitchenStep, facts: Mapping[str, Any]) -> None:
    checks = Checks()
    kinds = {asked.name: asked.kind for asked in step.asked}
    for name, value in facts.items():
        if name in kinds and isinstance(value, int | float):
            low, high = RANGES[kinds[name]]
            what, unit = {"number": ("A time in minutes of", ""), "ph": ("A pH of", "")}.get(
                kinds[name], ("That:", kinds[name])
            )
            checks.between(value, name, low, high, what, unit)
    checks.done()


@action
def go_to_step(session: Session, ask: GoToStep, at: datetime) -> Done:
    """Go on, or back, and keep what was typed at the step."""
    day = living_day(session, ask.day_id)
    steps = steps_of(plan_of_day(day))
    here = steps[min(day.step, len(steps) - 1)]
    _check_facts(here, ask.facts)
    if ask.facts:
        kept = {**day.facts.get(here.key, {}), **ask.facts}
        if here.key == "cool" and "cooling_c" in ask.facts:
            kept["logged"] = _logged(session, day, float(ask.facts["cooling_c"]), at)
        day.facts = {**day.facts, here.key: kept}
    day.step = max(0, min(ask.step, len(steps_of(plan_of_day(day))) - 1))
    return Done(f"{day.vessel.name}: step {day.step + 1}.")


def _logged(session: Session, day: BrewDay, celsius: float, at: datetime) -> list[float]:
    """Read a temperature on the way as hours since it began to cool, and degC; it corrects the curve."""
    began = next((t.started_at for t in reversed(day.timers) if t.step == "cool"), None)
    hours = (at - began) / timedelta(hours=1) if began else 0.0
    plan = make_plan(ask_of(day.ask))
    if hours < 0.02:
        raise RefusedError(
            [
                Problem(
                    "cooling_c", "Start the timer when it begins to cool; a temperature some minutes later corrects it."
                )
            ]
        )
    if not plan.ask.room_c < celsius < plan.heat.after_steep_c:
        raise RefusedError([Problem("cooling_c", "It must lie between the room's and the fresh tea's temperature.")])
    return [hours, celsius]


@dataclass(frozen=True, slots=True, kw_only=True)
class MakeSourer:
    """Something put in before the start, because the mix was not sour enough."""

    day_id: int
    what: str  #: starter or vinegar, as `core/brewing/pitch_check.py` offers them.


@action
def make_sourer(session: Session, ask: MakeSourer, at: datetime) -> Done:
    """Note what was added; the pH measured before no longer speaks for the mix."""
    day = living_day(session, ask.day_id)
    plan, poured = plan_of_day(day), dict(day.facts.get("starter", {}))
    found = next((one for one in offered_sourer(day, plan) if one.key == ask.what), None)
    if found is None:
        raise RefusedError([Problem("", "There is not so much left of it.")])
    measured = {key: value for key, value in day.facts.get("measure", {}).items() if key != "measured_ph"}
    if found.key == "vinegar":
        measured["vinegar_l"] = measured.get("vinegar_l", 0.0) + found.litres
    else:
        portion, litres = next((p, part) for p, part in plan.choice.taken if p.key == found.portion)
        name = f"starter_l-{portion.key}"
        poured[name] = poured.get(name, litres) + found.litres
        measured["more_l"] = measured.get("more_l", 0.0) + found.litres
    day.facts = {**day.facts, "starter": poured, "measure": measured}
    return Done(f"{marked(found.litres, 'volume')} of {found.name} added. Stir, then measure.")


def offered_sourer(day: BrewDay, plan: BrewPlan) -> tuple[Remedy, ...]:
    """List what a brew day's mix can take to be sourer."""
    poured = {name.removeprefix("starter_l-"): float(litres) for name, litres in day.facts.get("starter", {}).items()}
    return remedies(plan, poured)


@dataclass(frozen=True, slots=True, kw_only=True)
class EndBrewDay:
    """A brew day given up."""

    day_id: int


@action
def end_brew_day(session: Session, ask: EndBrewDay, at: datetime) -> Done:
    """Give a brew day up before the pitch; nothing is recorded as brewed."""
    day = living_day(session, ask.day_id)
    _end(day, at)
    return Done(f"Brew day for {day.vessel.name} put away.")


def _end(day: BrewDay, at: datetime) -> None:
    day.ended_at = at
    for timer in day.timers:
        timer.stopped_at = timer.stopped_at or at


@dataclass(frozen=True, slots=True, kw_only=True)
class PitchBrewDay:
    """The last step: it is in its vessel."""

    day_id: int
    instrument: str = "meter"
    other_line: bool = False


def done_totals(plan: BrewPlan, facts: Mapping[str, Mapping[str, Any]]) -> dict[str, float]:
    """Return what was used and done, over all rounds, where anything of it was logged.

    Where only some rounds of a brew were logged, the others are taken as planned. Amounts sum, minutes are a mean.
    """
    asked = [(step.key, one) for step in steps_of(plan) for one in step.asked]
    out: dict[str, float] = {}
    for name in ("leaf_g", "sugar_g", "honey_g", "steep_minutes", "final_l", "mix_c"):
        rounds = [(key, one) for key, one in asked if one.name == name or re.fullmatch(rf"{name}-\d+", one.name)]
        logged = [facts.get(key, {}).get(one.name) for key, one in rounds]
        if all(value is None for value in logged):
            continue
        values = [
            float(one.planned or 0.0) if v is None else float(v) for v, (_, one) in zip(logged, rounds, strict=True)
        ]
        out[name] = sum(values) / (len(values) if name == "steep_minutes" else 1)
    return out


def poured_as_planned(
    plan: BrewPlan, facts: Mapping[str, Any] | None = None, more_vinegar_l: float = 0.0
) -> tuple[Poured, ...]:
    """List what goes in as starter, with the amounts logged at that step where there are some, and vinegar. [L]"""
    logged = facts or {}
    out = tuple(
        Poured(
            litres=float(logged.get(f"starter_l-{p.key}", litres)),
            lot_id=int(p.key.removeprefix("lot-")) if p.key.startswith("lot-") else None,
            name=p.name,
            kind="heel" if p.fixed else p.kind,
            ph=p.ph,
        )
        for p, litres in plan.choice.taken
    )
    vinegar_l = plan.ask.vinegar_l + more_vinegar_l
    if vinegar_l > 0:
        out = (*out, Poured(litres=vinegar_l, name="Distilled vinegar", kind="vinegar", ph=VINEGAR_PH))
    return out


def _as_done(
    plan: BrewPlan, done: Mapping[str, float], poured: tuple[Poured, ...], more_l: float = 0.0
) -> tuple[Recipe, float]:
    """Put what was taken in the plan's place: the recipe as done, and the brew in the vessel. `more_l`: added last. [L]"""
    final_l = (done.get("final_l") or plan.final_l) + more_l
    scale = plan.final_l / final_l
    living = sum(p.litres for p in poured if p.kind != StarterKind.VINEGAR)
    sweet = plan.made.sugar_g + plan.made.honey_g
    raw = plan.made.honey_g if plan.ask.card.raw_honey else 0.0
    taken = done.get("sugar_g", sweet - raw) + done.get("honey_g", raw)
    leaf = done.get("leaf_g", plan.made.leaf_g)
    recipe = replace(
        plan.recipe,
        starter_fraction=min(1.0, living / final_l),
        leaf_g_per_l=plan.recipe.leaf_g_per_l * scale * (leaf / plan.made.leaf_g if plan.made.leaf_g else 1.0),
        sugar_g_per_l=plan.recipe.sugar_g_per_l * scale * (taken / sweet if sweet else 1.0),
    )
    return recipe, final_l


def plan_record(plan: BrewPlan) -> dict[str, Any]:
    """Put a plan into a brew's record: amounts, heat, start and the card, for next time."""
    return {
        **planned_amounts(plan.recipe, plan.final_l, plan.ask.card.sweeteners, plan.ask.vinegar_l),
        "final_l": plan.final_l,
        "leaf_g_per_l": plan.recipe.leaf_g_per_l,
        "hot_l": plan.heat.heat_l,
        "cold_l": plan.heat.cold_l,
        "mix_c": plan.heat.lands_c,
        "steep_minutes": plan.ask.card.steeps_minutes,
        "start_ph": plan.start_ph,
        "disc_l": plan.ask.disc_l,
        "card": pack(plan.ask.card),
    }


@action
def pitch_brew_day(session: Session, ask: PitchBrewDay, at: datetime) -> Done:
    """Pitch what was brewed step by step: the record keeps the plan and what was really done."""
    day = living_day(session, ask.day_id)
    plan = plan_of_day(day)
    done_so = done_totals(plan, day.facts)
    measured = day.facts.get("measure", {})
    vinegar_l, more_l = float(measured.get("vinegar_l", 0.0)), float(measured.get("more_l", 0.0))
    poured = poured_as_planned(plan, day.facts.get("starter"), vinegar_l)
    recipe, final_l = _as_done(plan, done_so, poured, vinegar_l + more_l)
    if plan.kind.key == KindOfBrew.TOP_UP:
        return _topped_up(session, day, plan, done_so, at)
    done = pitch(
        session,
        PitchBrew(
            vessel_id=day.vessel_id,
            culture_id=day.culture_id,
            starter_lot_id=None,
            disc_id=day.disc_id,
            recipe=recipe,
            starter_instrument=widest_instrument(plan),
            final_l=final_l,
            above_line_l=vinegar_l + more_l,
            plan=plan_record(plan),
            kind=plan.kind.key,
            base=plan.ask.card.base,
            poured=poured,
            other_line=ask.other_line,
            facts={**day.facts, "done": done_so},
            measured_ph=measured.get("measured_ph"),
            instrument=str(measured.get("instrument") or ask.instrument),
            celsius=measured.get("celsius", done_so.get("mix_c")),
            brewed_for=BrewedFor(experiment_id=day.experiment_id),
        ),
        at,
    )
    day.brew_id = done.made["brew"]
    _end(day, at)
    return done


def _topped_up(session: Session, day: BrewDay, plan: BrewPlan, done_so: Mapping[str, float], at: datetime) -> Done:
    """Pour the sweet tea of a brew day into the brew that runs in its tapped vessel."""
    brew, measured = queries.brew_in(session, day.vessel_id), day.facts.get("measure", {})
    if brew is None:
        raise RefusedError([Problem("", f"{day.vessel.name} is empty: there is nothing to top up.")])
    sweet = plan.made.sugar_g + plan.made.honey_g
    taken = done_so.get("sugar_g", plan.made.sugar_g) + done_so.get("honey_g", plan.made.honey_g)
    litres = done_so.get("final_l") or plan.final_l
    asked = TopUp(
        brew_id=brew.id,
        litres=litres,
        sugar_g_per_l=plan.recipe.sugar_g_per_l * plan.final_l / litres * (taken / sweet if sweet else 1.0),
        tea_c=done_so.get("mix_c"),
        ph=measured.get("measured_ph"),
        instrument=str(measured.get("instrument") or "strip"),
        fresh_cover=True,
    )
    done = top_up_of(session, asked, at)
    day.brew_id = brew.id
    _end(day, at)
    return done


def widest_instrument(plan: BrewPlan) -> str:
    """Return how the starters' acid was measured: the widest way among them."""
    taken = [portion for portion, _ in plan.choice.taken]
    widest = max(taken, key=lambda p: p.high_ph - p.low_ph, default=None)
    return widest.instrument if widest is not None else "estimate"
