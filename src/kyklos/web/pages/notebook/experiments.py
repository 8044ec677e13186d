"""Experiments on the phone: begun, tasted by numbered glasses, three glasses told apart, named, and kept as a lesson."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import experiments as ex
from ....actions.base import RefusedError
from ....actions.trying import StartExperiment
from ....core.base.saying import spoken
from ....core.notebook.experiments import (
    LESSON_LETTERS,
    PLACES,
    Differs,
    days_words,
    lesson_words,
    liked_words,
    odd_place,
    triangle_words,
)
from ....core.notebook.lessons import Applies
from ....drawing.two_courses import two_courses
from ....reckon.notebook import experimenting
from ....store.read import queries
from ....store.records import Brew, Experiment
from ...kit.acting import act, in_units
from ...kit.numbers import whole, wholes
from ...kit.render import page
from .routes import bp


def shown_pair(two: experimenting.TwoThings) -> dict[str, Any]:
    """Dress two things beside each other: their courses, in what they differ, in what they do not."""
    differ = [Differs(one.name, spoken(one.first, in_units), spoken(one.second, in_units)) for one in two.differ]
    courses = two_courses([(arm.name, arm.course, arm.readings) for arm in two.arms])
    return {"arms": two.arms, "differ": differ, "same": two.same, "came_out": two.came_out, "courses": courses}


@bp.get("/side-by-side")
def side_by_side() -> Response:
    """Show two brews beside each other: what was done differently."""
    numbers = wholes(request.args.getlist("b"))
    if len(numbers) != 2:
        return page("notebook/side_by_side.html", None, 422 if numbers else 200, problem="Choose two brews." if numbers else "")
    for number in numbers:
        queries.get(g.session, Brew, number)
    return page("notebook/side_by_side.html", **shown_pair(experimenting.pair(g.session, "brew", [[number] for number in numbers])))


def new_page(status: int = 200, **more: Any) -> Response:
    """Show what an experiment needs to begin."""
    offered = experimenting.choices(g.session, g.now)
    kind = request.values.get("kind", "")
    if kind not in offered:
        kind = next((one for one, rows in offered.items() if len(rows) > 1), "brew")
    rows = offered[kind]
    enough = len(rows) > (0 if kind == "bottle" else 1)
    return page("notebook/new_experiment.html", None, status, kind=kind, choices=rows, enough=enough, pair=experimenting.pair_of(rows), typed=request.values, **more)


@bp.get("/experiments/new")
def new_experiment() -> Response:
    """Show the form of a new experiment."""
    return new_page()


@bp.post("/experiments/new")
def start() -> Answer:
    """Begin an experiment."""
    given, kind = request.form, request.form.get("kind", "")
    if kind == "bottle":
        plain, other = experimenting.halves(g.session, whole(given.get("filling")) or 0, 1 if given.get("each") == "one" else None)
    else:
        plain, other = ((number,) if (number := whole(given.get(name))) else () for name in ("plain", "other"))
    ask = StartExperiment(question=given.get("question", ""), changed=given.get("changed", ""), kind=kind, plain=plain, other=other)
    try:
        done = act(ex.start_experiment, ask)
    except RefusedError as refused:
        return new_page(422, problems={one.field: one.message for one in refused.problems})
    return redirect(url_for(".experiment", number=done.made["experiment"]), 303)


def _days_say(so_far: experimenting.ExperimentSoFar) -> list[str]:
    days = so_far.found.days
    return [] if days is None else [days_words(days, so_far.two.arms[1].name, over=so_far.over)]


def says_of(so_far: experimenting.ExperimentSoFar) -> list[str]:
    """Tell what came of an experiment, as far as is known."""
    found, (first, second) = so_far.found, so_far.two.arms
    out = _days_say(so_far)
    out += [liked_words(found.liked, first.name, second.name)] if found.liked is not None else []
    return out + ([triangle_words(found.apart, found.right, found.tried)] if found.apart is not None else [])


def experiment_page(number: int, status: int = 200, **more: Any) -> Response:
    """Show an experiment as it stands; which glass is which only once they are named."""
    row = queries.get(g.session, Experiment, number)
    if row.waits:
        plain = queries.find(g.session, Brew, next((number for side in row.sides for number in side), None))
        return page("notebook/half_experiment.html", None, status, row=row, plain=plain, **more)
    so_far, open_ = experimenting.experiment_so_far(g.session, row), row.revealed_at is None and row.ended_at is None
    tasters = queries.tasters_of(g.session)
    asked = whole(request.values.get("taster"))
    taster = next((one for one in tasters if one.id == asked), tasters[0] if tasters else None)
    pours: list[str] = []
    if open_ and taster is not None:
        place, arm = odd_place(row.id, taster.id, sum(one == taster.id for one, _, _ in row.triangles))
        pours = [so_far.two.arms[arm if glass == place else 1 - arm].name for glass in range(PLACES)]
    says = says_of(so_far) if not open_ else _days_say(so_far)
    names = {one.id: one.name for one in tasters}
    said = {row.labels[arm]: liked for who, arm, liked in row.sheets if taster is not None and who == taster.id}
    return page(
        "notebook/experiment.html", None, status, row=row, so_far=so_far, open=open_, taster=taster, pours=pours, said=said, **shown_pair(so_far.two), comes_back_for=so_far.two.arms[1].comes_back_for, says=says,
        proposed=lesson_words(row.changed, says)[:LESSON_LETTERS], glasses=[names.get(who, "") for who, _, _ in row.sheets], **more,
    )  # fmt: skip


@bp.get("/experiments/<int:number>")
def experiment(number: int) -> Response:
    """Show an experiment."""
    return experiment_page(number)


@bp.post("/experiments/<int:number>/taste")
def taste(number: int) -> Answer:
    """Write what a taster says of a glass, or which of three is the odd one."""
    given, taster = request.form, whole(request.form.get("taster")) or 0
    try:
        if given.get("place"):
            act(ex.tell_apart, ex.TellApart(experiment_id=number, taster_id=taster, place=whole(given.get("place")) or 0))
        else:
            act(ex.score_arm, ex.ScoreArm(experiment_id=number, taster_id=taster, label=whole(given.get("label")) or 0, liked=whole(given.get("liked")) or 0))
    except RefusedError as refused:
        return experiment_page(number, 422, problem=str(refused))
    return redirect(url_for(".experiment", number=number, taster=taster) + "#taste", 303)


@bp.post("/experiments/<int:number>/name")
def name(number: int) -> Answer:
    """Name the glasses."""
    try:
        act(ex.name_glasses, ex.NameGlasses(experiment_id=number))
    except RefusedError as refused:
        return experiment_page(number, 422, problem=str(refused))
    return redirect(url_for(".experiment", number=number), 303)


@bp.post("/experiments/<int:number>/end")
def end(number: int) -> Answer:
    """End an experiment, with a lesson or without."""
    row = queries.get(g.session, Experiment, number)
    text = request.form.get("text", "") if request.form.get("do") == "keep" else ""
    if request.form.get("do") == "keep" and not text.strip():
        return experiment_page(number, 422, end_problem="Write the lesson in a line.")
    applies = Applies() if row.waits else experimenting.experiment_so_far(g.session, row).two.arms[1].applies
    try:
        act(ex.end_experiment, ex.EndExperiment(experiment_id=number, text=text, applies=applies))
    except RefusedError as refused:
        return experiment_page(number, 422, end_problem=str(refused), text=text)
    return redirect(url_for(".experiment", number=number), 303)
