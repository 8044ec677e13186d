"""The page of a tapped vessel, and what if."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....core.base.kinds import Occasion
from ....reckon.tapped import TappedStanding
from ....store.read import queries
from ....store.records import Brew
from ...kit import tapped_words
from ...kit.cautioned import heard
from ...kit.glasses import glasses_of
from ...kit.numbers import decimal_of
from ...kit.render import page
from ...kit.stops import Stop, situation_of, stop_of
from ...kit.units import NotANumberError, parse, words
from . import telling
from .forms import CareForm, DrawForm

bp = Blueprint("tapped", __name__, url_prefix="/tapped", template_folder="templates")


def brew_of(number: int) -> Brew:
    """Find a brew."""
    return queries.get(g.session, Brew, number)


def running(number: int) -> tuple[Stop, TappedStanding] | None:
    """Look at a vessel that runs; None: it does not, or no longer."""
    brew = brew_of(number)
    if not brew.alive or not brew.runs:
        return None
    stop = stop_of(g.session, brew, g.now, g.household)
    return None if stop.tapped is None else (stop, stop.tapped)


def elsewhere(number: int) -> Answer:
    """Go to the brew's own page: it is no running tapped vessel."""
    return redirect(url_for("brews.show", number=number), 303)


def draw_form(standing: TappedStanding) -> DrawForm:
    """Make the form of a draw, with what may be drawn today in it."""
    form = DrawForm(prefix="draw-", run_off=True, formdata=None)
    if standing.litres_today > 0:
        form.litres.data = round(standing.litres_today, 1)
    return like_today(form, standing)


def like_today(form: DrawForm, standing: TappedStanding) -> DrawForm:
    """Show a form's litres in the unit in which today's draw is said."""
    form.litres.like(standing.litres_today or 1.0)
    return form


def show_page(stop: Stop, standing: TappedStanding, status: int = 200, **forms: Any) -> Response:
    """Show the page, with a form as it was sent where there was one."""
    zone = g.household.zone
    forms.setdefault("draw", draw_form(standing))
    forms.setdefault("caring", CareForm(prefix="care-", formdata=None))
    return page(
        "tapped/show.html",
        None,
        status,
        stop=stop,
        brew=standing.brew,
        standing=standing,
        tasters=queries.tasters_of(g.session),
        view="tapped",
        lead=tapped_words.lead(standing, g.now, zone),
        second=tapped_words.second(standing, zone),
        rhythm=tapped_words.rhythm_words(standing),
        glasses=[(name, litres, words(litres, "volume", g.units)) for name, litres in glasses_of(g.household)],
        cautions=heard(situation_of(stop, Occasion.FERMENT, runs=True)),
        asked=what_if_asked(standing),
        **telling.shown(standing),
        **forms,
    )


def _typed(name: str, kind: str) -> float | None:
    text = request.args.get(name, "")[:20].strip()
    if not text:
        return None
    try:
        return parse(text, kind, g.units)
    except NotANumberError:
        return None


def what_if_asked(standing: TappedStanding) -> telling.WhatIf:
    """Read what was asked from the address; what is not given is as it is."""
    share = request.args.get("share", type=decimal_of)
    every = request.args.get("every", type=decimal_of)
    celsius = request.args.get("celsius", type=decimal_of)
    return telling.what_if_of(
        standing, None if share is None else share / 100, every, celsius, _typed("wish", "volume")
    )


@bp.get("/<int:number>")
def show(number: int) -> Answer:
    """Show a tapped vessel."""
    found = running(number)
    return show_page(*found) if found is not None else elsewhere(number)


@bp.get("/<int:number>/what-if")
def what_if(number: int) -> Answer:
    """Answer a what-if."""
    found = running(number)
    if found is None:
        return elsewhere(number)
    stop, standing = found
    return page("tapped/what_if.html", "tapped/_what_if.html", brew=stop.brew, standing=standing, asked=what_if_asked(standing))
