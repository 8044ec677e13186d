"""Drawing and topping up."""

from __future__ import annotations

import contextlib
from typing import Any

from flask import abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import tapped
from ....actions.base import RefusedError
from ....actions.brew_days import StartBrewDay, start_brew_day
from ....core.base import CoreError
from ....core.brewing import make_plan
from ....core.liquid.pouring import is_a_glass
from ....reckon import tapped_ahead
from ....reckon.brewing import brew_days
from ....reckon.brewing.brew_records import instrument_choices
from ....reckon.tapped import TappedStanding
from ...kit import meters
from ...kit.acting import act, tried
from ...kit.glasses import glasses_of
from ...kit.numbers import decimal_of
from ...kit.render import page
from ...kit.stops import Stop
from ...kit.tapped_words import draw_words
from ...kit.units import NotANumberError, parse
from .forms import DrawForm, TopUpForm
from .routes import bp, elsewhere, like_today, running, show_page


def _page_of(number: int) -> str:
    return url_for("tapped.show", number=number)


@bp.post("/<int:number>/glass")
def glass(number: int) -> Answer:
    """Draw a glass in one tap."""
    litres = request.form.get("litres", type=decimal_of)
    if litres not in {size for _, size in glasses_of(g.household)}:
        abort(400, "Choose a size.")
    try:
        act(tapped.draw_off, tapped.DrawOff(brew_id=number, litres=litres))
    except RefusedError as refused:
        found = running(number)
        if found is None:
            return elsewhere(number)
        form = DrawForm(prefix="draw-", formdata=None, litres=litres)
        form.take(refused)
        return show_page(*found, status=422, draw=form)
    return redirect(_page_of(number), 303)


@bp.post("/<int:number>/draw")
def draw(number: int) -> Answer:
    """Draw a jug, or however much."""
    form = DrawForm(prefix="draw-")
    done = tried(
        form, tapped.draw_off,
        lambda: tapped.DrawOff(
            brew_id=number, litres=form.litres.data, at=form.at.data, stirred=form.stirred.data, run_off=form.run_off.data,
            leaves=form.leaves.data, reason=form.reason.data or "",
        ),
    )  # fmt: skip
    if done is not None:
        return redirect(_page_of(number), 303)
    found = running(number)
    return elsewhere(number) if found is None else show_page(*found, status=form.status, draw=like_today(form, found[1]))


@bp.get("/<int:number>/drawing")
def drawing(number: int) -> Answer:
    """Show what comes of the draw that is being typed."""
    found = running(number)
    if found is None:
        return elsewhere(number)
    stop, standing = found
    litres = None
    with contextlib.suppress(NotANumberError):
        typed = request.args.get("draw-litres", "")[:20]
        litres = parse(typed, "volume", g.units) if typed.strip() else None
    known = draw_words(standing, litres, g.household.zone) if litres is not None and litres > 0 else ""
    return page("tapped/drawing.html", "tapped/_drawing.html", brew=stop.brew, says=known)


def _sent_top_up_form(**given: Any) -> TopUpForm:
    form = TopUpForm(prefix="tea-", **given)
    form.instrument.choices = instrument_choices(g.session)
    return form


def _top_up_form(standing: TappedStanding) -> TopUpForm:
    form = _sent_top_up_form(formdata=None)
    form.instrument.data = meters.usual()
    form.litres.data = round(_missing(standing), 2)
    form.tea_c.data = None
    form.litres.like(_missing(standing))
    return form


def _missing(standing: TappedStanding) -> float:
    """Return how much sweet tea is wanted: what was drawn, else what may be drawn today, else what is drawn usually. [L]"""
    if is_a_glass(standing.missing_l):
        return standing.missing_l
    return standing.litres_today or tapped_ahead.usual_litres(standing)


def _top_up_page(stop: Stop, standing: TappedStanding, form: TopUpForm, status: int = 200) -> Answer:
    litres = form.litres.data if isinstance(form.litres.data, float) and form.litres.data > 0 else _missing(standing)
    try:
        plan = make_plan(tapped_ahead.plan_top_up(g.session, standing, litres, g.now))
    except CoreError:
        plan = None
    return page(
        "tapped/top_up.html", None, status, stop=stop, brew=stop.brew, standing=standing, form=form, plan=plan,
        weigh=brew_days.weighs(g.session),
    )  # fmt: skip


@bp.get("/<int:number>/top-up", endpoint="top_up")
def top_up_page(number: int) -> Answer:
    """Plan the sweet tea, or say that it is in."""
    found = running(number)
    if found is None:
        return elsewhere(number)
    form = _top_up_form(found[1])
    with contextlib.suppress(NotANumberError):
        typed = request.args.get("litres", "")[:20]
        form.litres.data = min(max(parse(typed, "volume", g.units), 0.05), 200.0) if typed.strip() else form.litres.data
    return _top_up_page(*found, form=form)


@bp.post("/<int:number>/top-up")
def topped_up(number: int) -> Answer:
    """Note that the vessel was topped up."""
    form = _sent_top_up_form()
    done = tried(
        form, tapped.top_up,
        lambda: tapped.TopUp(
            brew_id=number, litres=form.litres.data, sugar_g_per_l=form.sugar_g_per_l.data,
            honey_share=None if form.honey_percent.data is None else form.honey_percent.data / 100, tea_c=form.tea_c.data,
            ph=form.ph.data, instrument=str(form.instrument.data).partition(":")[0], at=form.at.data,
            fresh_cover=form.fresh_cover.data,
        ),
        {"honey_share": "honey_percent"},
    )  # fmt: skip
    if done is not None:
        return redirect(_page_of(number), 303)
    found = running(number)
    if found is None:
        return elsewhere(number)
    form.litres.like(_missing(found[1]))
    return _top_up_page(*found, form=form, status=form.status)


@bp.post("/<int:number>/top-up/kitchen")
def kitchen(number: int) -> Answer:
    """Begin the kitchen steps of a topping up."""
    found = running(number)
    if found is None:
        return elsewhere(number)
    stop, standing = found
    form = _sent_top_up_form()
    form.litres.like(_missing(standing))
    if not form.validate_on_submit():
        return _top_up_page(stop, standing, form, form.status)
    try:
        asked = tapped_ahead.plan_top_up(g.session, standing, form.litres.data, g.now)
        begun = StartBrewDay(vessel_id=stop.brew.vessel_id, culture_id=stop.brew.culture_id, disc_id=None, ask=asked)
        done = act(start_brew_day, begun, quiet=True)
    except (RefusedError, CoreError) as problem:
        form.take(problem if isinstance(problem, RefusedError) else RefusedError([]))
        return _top_up_page(stop, standing, form, 422)
    return redirect(url_for("brew_day.kitchen", number=done.made["brew_day"]), 303)
