"""The day walked: one step at a time through all its vessels, with what goes on by itself, and when the rest will be."""

from __future__ import annotations

from datetime import timedelta

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.kitchen_days import (
    EndKitchenDay,
    FinishStep,
    StartKitchenDay,
    StepBack,
    end_kitchen_day,
    finish_step,
    start_kitchen_day,
    step_back,
)
from ....core.base import CoreError
from ....core.brewing.day_walk import WalkStep
from ....core.brewing.threads import WorkDeed
from ....reckon import kitchen_walk, run_sheet
from ....reckon.brewing import brew_days
from ....reckon.kitchen_walk import Walked
from ....store.read import planning_queries, queries
from ....store.records import KitchenDay
from ...kit.acting import act
from ...kit.numbers import number_of, wholes
from ...kit.render import page
from ...kit.timing import now_in_ms, timers_shown
from .clock import MOST_VESSELS, clock_again
from .place import bp

SHOWN_NEXT = 5  #: Steps to come that are to be seen at once.
WRITTEN_THERE = {
    WorkDeed.DRAW: ("tapped.show", "Write the draw down"),
    WorkDeed.TOP_UP: ("tapped.top_up", "Write the topping up down"),
    WorkDeed.RESERVE: ("brews.harvest", "Write the starter down"),
    WorkDeed.BOTTLE: ("bottling.of_a_brew", "Plan and write the bottles down"),
}  #: Where a deed is written down, and what leads there.


def _written_at(walked: Walked, step: WalkStep) -> tuple[str, str] | None:
    """Return where a step's deed is written down, and what leads there; None where nothing is."""
    _, number = walked.walk.vessel_of(step)
    if number is None or step.deed == WorkDeed.PREPARE:
        return None
    if step.deed == WorkDeed.START:
        return url_for("brew_day.show", vessel=number), "Plan and start the brew"
    brew = queries.brew_in(g.session, number)
    endpoint, words = WRITTEN_THERE[step.deed]
    return None if brew is None else (url_for(endpoint, number=brew.id), words)


def _screen(day: KitchenDay, status: int = 200, problem: str = "") -> Response:
    walked = kitchen_walk.walked(day, g.now)
    steps = walked.walk.steps
    return page(
        "brew_day/walk.html",
        "brew_day/_walk.html",
        status,
        day=day,
        walked=walked,
        steps=steps,
        hand=[(n, steps[n], walked.walk.vessel_of(steps[n])[0], _written_at(walked, steps[n])) for n in walked.at_hand],
        coming=[one for one in walked.times if one.step not in walked.at_hand][:SHOWN_NEXT],
        at=lambda minutes: day.began_at + timedelta(minutes=minutes),
        names=[walked.walk.vessel_of(step)[0] for step in steps],
        idle_until=g.now + timedelta(minutes=walked.idle_minutes),
        problem=problem,
        timers=timers_shown(walking=True),
        now_ms=now_in_ms(),
    )


@bp.post("/clock/start")
def start_day() -> Answer:
    """Begin the day as it is laid out."""
    asked = wholes(request.form.getlist("vessels"))
    chosen = [vessel for vessel in brew_days.brewing_vessels(g.session) if vessel.id in asked][:MOST_VESSELS]
    able = [vessel for vessel in chosen if run_sheet.choice_of(g.session, vessel, g.now).what]
    hands = 2 if request.form.get("hands", type=number_of) == 2 else 1
    try:
        laid = run_sheet.laid_out(g.session, able, hands, g.now)
        done = act(start_kitchen_day, StartKitchenDay(walk=laid.walk))
    except (CoreError, RefusedError) as problem:
        return clock_again(str(problem))
    return redirect(url_for("brew_day.walk", number=done.made["day"]), 303)


@bp.get("/day/<int:number>")
def walk(number: int) -> Answer:
    """Show where the day is."""
    day = queries.get(g.session, KitchenDay, number)
    return _screen(day) if day.ended_at is None else redirect(url_for("brew_day.clock"), 303)


@bp.post("/day/<int:number>/done")
def step_done(number: int) -> Answer:
    """Note that a step is done."""
    try:
        act(finish_step, FinishStep(day_id=number, step=request.form.get("step", -1, type=number_of)), quiet=True)
    except RefusedError as refused:
        return _screen(queries.get(g.session, KitchenDay, number), 422, str(refused))
    if planning_queries.kitchen_day(g.session) is None:
        return redirect(url_for("round.show"), 303)
    return redirect(url_for("brew_day.walk", number=number), 303)


@bp.post("/day/<int:number>/back")
def step_not_done(number: int) -> Answer:
    """Take the last step back."""
    try:
        act(step_back, StepBack(day_id=number), quiet=True)
    except RefusedError as refused:
        return _screen(queries.get(g.session, KitchenDay, number), 422, str(refused))
    return redirect(url_for("brew_day.walk", number=number), 303)


@bp.post("/day/<int:number>/end")
def put_day_away(number: int) -> Answer:
    """Put the day away."""
    act(end_kitchen_day, EndKitchenDay(day_id=number))
    return redirect(url_for("brew_day.clock"), 303)
