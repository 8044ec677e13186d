"""A vessel becomes tapped; a batch that stands in one runs on."""

from __future__ import annotations

from flask import g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import tapped
from ....actions.base import ConflictError, RefusedError
from ....store.read import queries
from ....store.records import Vessel
from ...kit.acting import act
from ...kit.render import page
from .forms import TappedForm
from .routes import bp, elsewhere


def _form(vessel: Vessel) -> TappedForm:
    form = TappedForm(version=vessel.version)
    if not form.is_submitted():
        form.heel_l.data = vessel.heel_l or None
        form.tap_made_of.data, form.heater_c.data, form.heater_w.data = vessel.tap_made_of, vessel.heater_c, vessel.heater_w
    form.heel_l.like(vessel.usable_l / 8)
    return form


@bp.route("/set-up/<int:number>", methods=["GET", "POST"])
def set_up(number: int) -> Answer:
    """Set a vessel up for being drawn from: tap, washer, water, heel."""
    vessel = queries.get(g.session, Vessel, number)
    form = _form(vessel)
    if form.validate_on_submit():
        asked = tapped.SetUpTapped(
            vessel_id=number, tap_made_of=form.tap_made_of.data, tested=form.tested.data, heel_l=form.heel_l.data,
            heater_c=form.heater_c.data, heater_w=form.heater_w.data, glaze_known=form.glaze_known.data, version=form.version.data,
        )  # fmt: skip
        try:
            act(tapped.set_up_tap, asked)
            return redirect(_next(number), 303)
        except RefusedError as refused:
            form.take(refused)
        except ConflictError as conflict:
            form.overtaken(conflict, queries.get(g.session, Vessel, number).version)
    vessel = queries.get(g.session, Vessel, number)
    status = form.status if request.method == "POST" else 200
    return page("tapped/set_up.html", None, status, vessel=vessel, form=form, brew=queries.brew_in(g.session, number))


def _next(number: int) -> str:
    """Return where it goes on: to the batch that stands in it, or to its first fill."""
    brew = queries.brew_in(g.session, number)
    if brew is not None:
        return url_for("brews.show", number=brew.id)
    return url_for("brew_day.show", vessel=number, kind="first")


@bp.post("/run-on/<int:number>")
def run_on(number: int) -> Answer:
    """Let a batch run on."""
    try:
        act(tapped.run_on, tapped.RunOn(brew_id=number))
    except RefusedError:
        return elsewhere(number)
    return redirect(url_for("tapped.show", number=number), 303)
