"""Vessels and the places they stand in."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import ConflictError, RefusedError
from ....actions.brewing.put_right import CorrectMove, MoveVessel, correct_move, move_vessel
from ....actions.household import AddVessel, ChangePlace, ChangeVessel, add_vessel, change_place, change_vessel
from ....core.base.kinds import Occasion
from ....core.judging import Situation
from ....reckon.vessels_now import free_soon, vessels_now
from ....store.read import moments, queries, vessel_history
from ....store.records import Place, Vessel
from ...kit.acting import act
from ...kit.cautioned import heard
from ...kit.numbers import number_of
from ...kit.render import page
from ...kit.standing_vessels import free_words, shelves_with
from .forms import MovedForm, PlaceForm, VesselForm

bp = Blueprint("vessels", __name__, url_prefix="/vessels", template_folder="templates")


MOVES_SHOWN = 6  #: Of a vessel's moves, the last ones can be put right on its page.
OF_A_VESSEL = ("name", "kind", "nominal_l", "usable_l", "diameter_cm", "material", "tapped", "heel_l", "heater_c", "tare_g")
OF_A_PLACE = ("kind", "celsius", "winter_c", "summer_c", "light", "reach", "rivals")


@bp.get("/")
def show() -> Response:
    """Show every vessel where it stands, and when each is free."""
    every = vessels_now(g.session, g.now)
    free, by, more_l = free_soon(every, g.now)
    return page("vessels/show.html", shelves=shelves_with(every), free=free, by=by, more_l=more_l, past=vessel_history.last_brews(g.session))


@bp.get("/<int:number>/card")
def card(number: int) -> Response:
    """Show the drawer of a vessel: what it was good for, and what can be done with it."""
    queries.get(g.session, Vessel, number)
    one = next(one for one in vessels_now(g.session, g.now) if one.vessel.id == number)
    past, everywhere = vessel_history.past_of(g.session, number), queries.places(g.session)
    return page("vessels/card.html", "vessels/_drawer.html", now=one, free=free_words(one), past=past, places=everywhere)


@bp.post("/<int:number>/place")
def put(number: int) -> Answer:
    """Carry a vessel to another place."""
    place = request.form.get("place", type=number_of)
    queries.get(g.session, Place, place or 0)
    act(move_vessel, MoveVessel(vessel_id=number, place_id=place or 0))
    return redirect(url_for(".show"), 303)


@bp.get("/places")
def places() -> Response:
    """Show how warm, light and high each place is."""
    return _places()


def _places(status: int = 200, wrong: tuple[int, PlaceForm] | None = None) -> Response:
    forms = [
        (
            place,
            wrong[1] if wrong and wrong[0] == place.id else PlaceForm(formdata=None, obj=place, place_name=place.name),
        )
        for place in queries.places(g.session)
    ]
    return page("vessels/places.html", None, status, forms=forms)


def _form(vessel: Vessel | None = None) -> VesselForm:
    data: dict[str, Any] = {}
    if vessel is not None:
        data = {name: getattr(vessel, name) for name in (*OF_A_VESSEL, "version")}
        data["place"] = vessel.place.id
    form = VesselForm(data=data)
    places = queries.places(g.session)
    form.place.choices = [(place.id, place.name) for place in places] + [(0, "in a new place")]
    return form


def _ask(form: VesselForm) -> dict[str, Any]:
    return {
        "name": form.name.data or "",
        "kind": form.kind.data,
        "nominal_l": form.nominal_l.data,
        "usable_l": form.usable_l.data,
        "diameter_cm": form.diameter_cm.data,
        "material": form.material.data,
        "tapped": form.tapped.data,
        "heel_l": form.heel_l.data or 0.0,
        "tare_g": form.tare_g.data,
        "heater_c": form.heater_c.data,
        "place_id": form.place.data or None,
        "new_place": form.new_place.data or "",
        "new_place_c": form.new_place_c.data,
    }


def _page(
    form: VesselForm, vessel: Vessel | None, status: int = 200, wrong: tuple[int, str, str] | None = None
) -> Response:
    moves = vessel.standings[1:][-MOVES_SHOWN:] if vessel is not None else []
    material = form.material.data or "glass"
    brew = queries.brew_in(g.session, vessel.id) if vessel is not None else None
    return page(
        "vessels/form.html",
        None,
        status,
        form=form,
        vessel=vessel,
        moves=moves[::-1],
        wrong=wrong,
        brew=brew,
        brew_day=moments.days_between(brew.pitched_at, g.now) if brew is not None else 0.0,
        cautions=heard(Situation(moment=Occasion.VESSEL, material=material)),
    )


@bp.get("/new")
def add() -> Response:
    """Ask for a new vessel."""
    return _page(_form(), None)


@bp.post("/new")
def create() -> Answer:
    """Add a vessel."""
    form = _form()
    if form.validate_on_submit():
        try:
            act(add_vessel, AddVessel(**_ask(form)))
            return redirect(url_for("round.show") if not queries.living_brews(g.session) else url_for(".show"), 303)
        except RefusedError as refused:
            form.take(refused)
    return _page(form, None, 422)


@bp.get("/<int:number>")
def edit(number: int) -> Response:
    """Ask how a vessel is to be."""
    vessel = queries.get(g.session, Vessel, number)
    return _page(_form(vessel), vessel)


@bp.post("/<int:number>")
def change(number: int) -> Answer:
    """Change a vessel; what was typed is kept if another window changed it meanwhile."""
    form, vessel = _form(), queries.get(g.session, Vessel, number)
    if form.validate_on_submit():
        try:
            act(change_vessel, ChangeVessel(vessel_id=number, version=form.version.data, **_ask(form)))
            return redirect(url_for(".show"), 303)
        except RefusedError as refused:
            form.take(refused)
        except ConflictError as conflict:
            vessel = queries.get(g.session, Vessel, number)
            now = {name: getattr(vessel, name) for name in OF_A_VESSEL}
            form.overtaken(conflict, vessel.version, place=vessel.place.id, **now)
    return _page(form, vessel, form.status)


@bp.post("/<int:number>/moved/<int:standing>")
def put_move_right(number: int, standing: int) -> Answer:
    """Put right since when a vessel stands, or stood, in a place."""
    vessel, form = queries.get(g.session, Vessel, number), MovedForm()
    if form.validate_on_submit() and form.since.data is not None:
        try:
            act(correct_move, CorrectMove(standing_id=standing, since=form.since.data))
            return redirect(url_for(".edit", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    rows = [*form.form_errors, *form.since.errors] or ["Type the date and time."]
    return _page(
        _form(vessel), queries.get(g.session, Vessel, number), 422, (standing, form.since._value(), " ".join(rows))
    )


@bp.post("/places/<int:number>")
def change_one_place(number: int) -> Answer:
    """Rename a place or tell its temperature."""
    form = PlaceForm()
    queries.get(g.session, Place, number)
    if form.validate_on_submit():
        try:
            values = {name: form[name].data for name in OF_A_PLACE}
            ask = ChangePlace(place_id=number, name=form.place_name.data or "", version=form.version.data, **values)
            act(change_place, ask)
            return redirect(url_for(".places"), 303)
        except RefusedError as refused:
            form.take(refused)
        except ConflictError as conflict:
            place = queries.get(g.session, Place, number)
            now = {name: getattr(place, name) for name in OF_A_PLACE}
            form.overtaken(conflict, place.version, place_name=place.name, **now)
    return _places(form.status, (number, form))
