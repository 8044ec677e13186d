"""Care of a tapped vessel, a pause, and going on."""

from __future__ import annotations

from flask import g, redirect, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import tapped
from ....store.read import queries
from ....store.records import Brew
from ...kit.acting import tried
from ...kit.render import page
from .forms import CareForm, PauseForm, ResumeForm
from .routes import bp, elsewhere, running, show_page


@bp.post("/<int:number>/care")
def care(number: int) -> Answer:
    """Note that the vessel was looked after."""
    found = running(number)
    if found is None:
        return elsewhere(number)
    form, vessel = CareForm(prefix="care-"), found[0].brew.vessel_id
    done = tried(
        form, tapped.care_for,
        lambda: tapped.CareFor(
            vessel_id=vessel, what=form.what.data or "", at=form.at.data, celsius=form.celsius.data,
            before_mm=form.before_mm.data, after_mm=form.after_mm.data,
        ),
    )  # fmt: skip
    if done is not None:
        return redirect(url_for("tapped.show", number=number) + "#care", 303)
    return show_page(*(running(number) or found), status=form.status, caring=form)


def _places() -> list[tuple[int, str]]:
    return [(place.id, place.name) for place in queries.places(g.session)]


def _pause_form(brew: Brew) -> PauseForm:
    form = PauseForm()
    form.how.choices = [("cool", "full, in a cool place"), ("here", "as it stands"), ("fridge", "in the fridge")]
    form.place.choices = _places()
    if not form.is_submitted():
        form.place.data, form.how.data = brew.vessel.place.id, "cool"
    return form


def _resume_form(brew: Brew) -> ResumeForm:
    form = ResumeForm()
    form.place.choices = _places()
    if not form.is_submitted():
        form.place.data, form.heater_c.data = brew.vessel.place.id, tapped.heater_before(brew.vessel)
    return form


@bp.route("/<int:number>/pause", methods=["GET", "POST"])
def pause(number: int) -> Answer:
    """Ask how it waits, and let it wait; a paused one goes on."""
    found = running(number)
    if found is None:
        return elsewhere(number)
    stop, standing = found
    if standing.paused:
        return _resume(number, stop.brew)
    form = _pause_form(stop.brew)
    done = tried(
        form, tapped.pause,
        lambda: tapped.Pause(brew_id=number, how=form.how.data, place_id=form.place.data, at=form.at.data),
        {"place_id": "place"},
    )  # fmt: skip
    if done is not None:
        return redirect(url_for("tapped.show", number=number), 303)
    return page("tapped/pause.html", None, form.status if form.is_submitted() else 200, brew=stop.brew, standing=standing, form=form)


def _resume(number: int, brew: Brew) -> Answer:
    form = _resume_form(brew)
    done = tried(
        form, tapped.resume,
        lambda: tapped.Resume(
            brew_id=number,
            place_id=form.place.data,
            heater_c=form.heater_c.data,
            heater_off=form.heater_c.data is None,
        ),
        {"place_id": "place"},
    )  # fmt: skip
    if done is not None:
        return redirect(url_for("tapped.show", number=number), 303)
    return page("tapped/resume.html", None, form.status if form.is_submitted() else 200, brew=brew, form=form)
