"""Cultures: the lines, their discs and starters, and where each came from and went."""

from __future__ import annotations

from flask import Blueprint, Response, g, redirect, url_for
from werkzeug.wrappers import Response as Answer

from ...actions.base import RefusedError
from ...actions.household import ORIGINS, AddCulture, add_culture
from ...store import queries
from ..acting import act
from ..render import page
from .forms import CultureForm

bp = Blueprint("cultures", __name__, url_prefix="/cultures", template_folder="templates")


@bp.get("/")
def show() -> Response:
    """List the lines."""
    return page("cultures/show.html", cultures=queries.cultures(g.session), origins=ORIGINS)


@bp.get("/new")
def add() -> Response:
    """Ask for a new line."""
    return page("cultures/form.html", form=CultureForm())


@bp.post("/new")
def create() -> Answer:
    """Add a line."""
    form = CultureForm()
    if form.validate_on_submit():
        ask = AddCulture(
            name=form.name.data or "",
            diet=form.diet.data,
            origin=form.origin.data,
            story=form.story.data or "",
            starter_l=form.starter_l.data,
            starter_ph=form.starter_ph.data,
            instrument=form.instrument.data,
            with_disc=form.with_disc.data,
        )
        try:
            act(add_culture, ask)
            return redirect(url_for("round.show") if not queries.living_brews(g.session) else url_for(".show"), 303)
        except RefusedError as refused:
            form.take(refused)
    return page("cultures/form.html", None, 422, form=form)
