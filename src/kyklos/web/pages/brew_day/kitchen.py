"""In the kitchen: one step a screen, timers that live on the server, facts logged where they are known, the pitch."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brew_days import (
    EndBrewDay,
    GoToStep,
    MakeSourer,
    PitchBrewDay,
    end_brew_day,
    go_to_step,
    make_sourer,
    offered_sourer,
    pitch_brew_day,
    plan_of_day,
)
from ....actions.timers import StartTimer, StopTimer, start_timer, stop_timer
from ....core.base.facts import INSTRUMENTS
from ....core.base.kinds import Dimension
from ....core.brewing import BrewPlan
from ....core.brewing.kitchen_step import KitchenStep, StepQuestion
from ....core.brewing.pitch_check import Remedy, check
from ....core.brewing.steps import steps_of
from ....core.brewing.tools import needs_of
from ....core.judging.observations import CARRY_ON
from ....drawing.cooling import cooling
from ....reckon.brewing import brew_days
from ....store.read import planning_queries, queries
from ....store.records import BrewDay, Timer
from ...kit import meters, units
from ...kit.acting import act, in_units
from ...kit.render import page
from ...kit.timing import now_in_ms, timers_shown
from .place import bp

WEIGHED: dict[str, str] = {Dimension.MASS: "mass", Dimension.VOLUME: "poured"}  #: What a scale can tell, and how a field says so.
FIELD_KINDS = {"ph": "number"}


def day_of(number: int) -> BrewDay:
    """Find a brew day."""
    return queries.get(g.session, BrewDay, number)


def _typed(asked: StepQuestion, day: BrewDay, step: KitchenStep, wrong: dict[str, Any]) -> str:
    if asked.name in wrong.get("typed", {}):
        return str(wrong["typed"][asked.name])
    value = day.facts.get(step.key, {}).get(asked.name)
    return "" if value is None else units.typed(float(value), FIELD_KINDS.get(asked.kind, asked.kind), g.units)


def _fields(day: BrewDay, step: KitchenStep, wrong: dict[str, Any]) -> list[dict[str, Any]]:
    out = []
    for asked in step.asked:
        kind = FIELD_KINDS.get(asked.kind, asked.kind)
        out.append(
            {
                "name": asked.name,
                "label": asked.label,
                "value": _typed(asked, day, step, wrong),
                "unit": "" if kind == Dimension.NUMBER else units.SHOWN[units.TYPED[g.units][kind]],
                "planned": "" if asked.planned is None else in_units(asked.planned, asked.kind),
                "weighed": WEIGHED.get(asked.kind, ""),
                "problem": wrong.get("problems", {}).get(asked.name, ""),
            }
        )
    return out


def _screen(day: BrewDay, status: int = 200, **wrong: Any) -> Response:
    plan = plan_of_day(day)
    steps = steps_of(plan, brew_days.weighs(g.session))
    at = min(day.step, len(steps) - 1)
    step = steps[at]
    h = plan.heat
    curve = None
    if step.key == "cool":
        curve = cooling([(w.key, w.name, w.course, w.hours) for w in h.waits], h.pour_c, plan.ask.logged)
    return page(
        "brew_day/kitchen.html",
        "brew_day/_kitchen.html",
        status,
        day=day,
        plan=plan,
        steps=steps,
        at=at,
        step=step,
        fields=_fields(day, step, wrong),
        timers=timers_shown(day),
        curve=curve,
        wrong=wrong,
        now_ms=now_in_ms(),
        say=lambda said: said if isinstance(said, str) else said.words(in_units),
        needs=needs_of(plan, frozenset(t.kind for t in planning_queries.tools(g.session))) if at == 0 else [],
        running=any(t.step == step.key and t.stopped_at is None for t in day.timers),
        check=_pitch_check(day) if step.key in {"measure", "cover"} else None,
        sourer=_sourer(day, plan, step),
        instruments=[(key, entry.name) for key, entry in INSTRUMENTS.items()],
    )


def _sourer(day: BrewDay, plan: BrewPlan, step: KitchenStep) -> tuple[Remedy, ...]:
    """List what may be added when what was measured is not clearly low enough."""
    facts = day.facts.get("measure", {})
    ph = facts.get("measured_ph")
    if step.key != "measure" or ph is None:
        return ()
    word, _ = check(None, ph, facts.get("instrument", "strip"))
    return () if word == CARRY_ON else offered_sourer(day, plan)


def _pitch_check(day: BrewDay) -> tuple[str, str]:
    """Return how the brew stands before it is started: word and sentence."""
    facts = day.facts.get("measure", {})
    word, why = check(facts.get("celsius"), facts.get("measured_ph"), facts.get("instrument", "strip"))
    return word, why.words(in_units)


@bp.get("/kitchen/<int:number>", endpoint="kitchen")
def screen(number: int) -> Answer:
    """Show the step where the kitchen is."""
    day = day_of(number)
    if day.ended_at is not None:
        return redirect(url_for("brews.show", number=day.brew_id) if day.brew_id else url_for("brew_day.show"), 303)
    return _screen(day)


def _facts_of(day: BrewDay, step: KitchenStep) -> tuple[dict[str, float | str], dict[str, str]]:
    """Read what was typed at a step; problems by field."""
    facts: dict[str, float | str] = {}
    problems: dict[str, str] = {}
    for asked in step.asked:
        text = request.form.get(asked.name, "")[:60]
        if not text.strip():
            continue
        try:
            facts[asked.name] = units.parse(text, FIELD_KINDS.get(asked.kind, asked.kind), g.units)
        except units.NotANumberError as problem:
            problems[asked.name] = str(problem)
    if step.key == "measure" and "measured_ph" in facts:
        instrument = request.form.get("instrument", meters.usual())
        facts["instrument"] = instrument if instrument in INSTRUMENTS else meters.usual()
    return facts, problems


@bp.post("/kitchen/<int:number>/step")
def step(number: int) -> Answer:
    """Keep what was typed, and go on or back."""
    day = day_of(number)
    if day.ended_at is not None:
        return redirect(url_for("brew_day.kitchen", number=number), 303)
    steps = steps_of(plan_of_day(day))
    here = steps[min(day.step, len(steps) - 1)]
    facts, problems = _facts_of(day, here)
    typed = {asked.name: request.form.get(asked.name, "")[:60] for asked in here.asked}
    going_back = request.form.get("go") == "back"
    if problems and not going_back:
        return _screen(day, 422, problems=problems, typed=typed)
    by = {"next": 1, "back": -1}.get(request.form.get("go", "stay"), 0)
    try:
        act(go_to_step, GoToStep(day_id=number, step=day.step + by, facts=facts), quiet=True)
    except RefusedError as refused:
        if not going_back:
            return _screen(day_of(number), 422, problems={p.field: p.message for p in refused.problems}, typed=typed)
        act(go_to_step, GoToStep(day_id=number, step=day.step + by, facts={}), quiet=True)
    return redirect(url_for("brew_day.kitchen", number=number), 303)


@bp.post("/kitchen/<int:number>/sourer")
def sourer(number: int) -> Answer:
    """Note what was added because the mix was not sour enough."""
    try:
        act(make_sourer, MakeSourer(day_id=number, what=request.form.get("what", "")))
    except RefusedError as refused:
        return _screen(day_of(number), 422, problems={"": str(refused)}, typed={})
    return redirect(url_for("brew_day.kitchen", number=number), 303)


def _kept(day: BrewDay, here: KitchenStep) -> None:
    """Keep what was typed at a step and can be read, whatever was pressed."""
    facts, _ = _facts_of(day, here)
    if facts:
        try:
            act(go_to_step, GoToStep(day_id=day.id, step=day.step, facts=facts), quiet=True)
        except RefusedError:
            return  # it is asked about when the step is left


@bp.post("/kitchen/<int:number>/timer")
def time(number: int) -> Answer:
    """Start a timer."""
    day = day_of(number)
    steps = steps_of(plan_of_day(day))
    here = steps[min(day.step, len(steps) - 1)]
    _kept(day, here)
    try:
        minutes = units.parse(request.form.get("minutes", ""), "number", "metric")
        act(
            start_timer,
            StartTimer(day_id=number, step=here.key, name=here.timer or here.title, minutes=minutes),
            quiet=True,
        )
    except units.NotANumberError as problem:
        return _screen(day, 422, problems={"minutes": str(problem)}, typed={})
    except RefusedError as refused:
        return _screen(day_of(number), 422, problems={"minutes": str(refused)}, typed={})
    return redirect(url_for("brew_day.kitchen", number=number), 303)


@bp.post("/timers/<int:number>/stop")
def stop(number: int) -> Answer:
    """Stop a timer."""
    timer = queries.get(g.session, Timer, number)
    act(stop_timer, StopTimer(timer_id=number), quiet=True)
    return redirect(url_for("brew_day.kitchen", number=timer.day_id), 303)


@bp.get("/timers")
def timers() -> Response:
    """Show the running timers; asked now and then by every page that shows them."""
    return page("brew_day/timers.html", "_timers.html", timers=timers_shown(), now_ms=now_in_ms())


@bp.post("/kitchen/<int:number>/end")
def end(number: int) -> Answer:
    """Give a brew day up."""
    act(end_brew_day, EndBrewDay(day_id=number))
    return redirect(url_for("brew_day.show"), 303)


@bp.post("/kitchen/<int:number>/pitch")
def pitch_day(number: int) -> Answer:
    """Record the brew: it is in its vessel and covered."""
    try:
        done = act(pitch_brew_day, PitchBrewDay(day_id=number, other_line="other_line" in request.form))
        return redirect(url_for("brews.show", number=done.made["brew"]), 303)
    except RefusedError as refused:
        fields = {p.field for p in refused.problems}
        return _screen(day_of(number), 422, problems={"": str(refused)}, typed={}, other_line="other_line" in fields)
