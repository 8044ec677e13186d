"""Brew day: plan with live results, then pitch."""

from __future__ import annotations

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ...actions.base import RefusedError
from ...actions.brewing import pitch_brew
from ...core.facts import limit
from ...store import queries
from ..acting import act
from ..render import page
from .forms import PlanForm
from .planning import Plan, pitch_of, plan_form, plan_of

bp = Blueprint("brew_day", __name__, url_prefix="/brew-day", template_folder="templates")


def _show(form: PlanForm, plan: Plan | None, status: int = 200) -> Response:
    return page("brew_day/show.html", "brew_day/_plan.html", status, form=form, plan=plan, limit_ph=limit("start_ph"))


@bp.get("/")
def show() -> Response:
    """Show the plan form with defaults from vessel, culture and last time."""
    if not queries.vessels(g.session) or not queries.cultures(g.session):
        return page("brew_day/before.html", vessels=queries.vessels(g.session), cultures=queries.cultures(g.session))
    form = plan_form(first=True)
    return page("brew_day/show.html", None, form=form, plan=plan_of(form), limit_ph=limit("start_ph"))


@bp.get("/plan")
def plan() -> Response:
    """Show the results for what is typed."""
    form = plan_form(request.args)
    return _show(form, plan_of(form))


@bp.post("/pitch")
def pitch() -> Answer:
    """Record the brew."""
    form = plan_form(request.form)
    planned = plan_of(form)
    if planned is not None:
        try:
            done = act(pitch_brew, pitch_of(form, planned))
            return redirect(url_for("brews.show", number=done.made["brew"]), 303)
        except RefusedError as refused:
            form.take(refused)
    return page("brew_day/show.html", None, 422, form=form, plan=planned, limit_ph=limit("start_ph"))


@bp.get("/why/<topic>")
def why(topic: str) -> Response:
    """Say where a number of the plan comes from."""
    planned = plan_of(plan_form(request.args))
    if planned is None or topic not in planned.whys:
        abort(404)
    return page("why.html", "_why.html", why=planned.whys[topic])
