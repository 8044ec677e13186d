"""A tasting sheet made for a spoonful: sweet to sour, tea, yeast, what else, again, when and after what."""

from __future__ import annotations

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing import readings
from ....store.records import Brew
from ...kit.acting import act
from ...kit.numbers import number_of
from ...kit.render import page
from ...kit.stops import stop_of
from ...kit.tasting_sheet import SheetForm, sheet_form
from .routes import bp, brew_of


def _page(brew: Brew, form: SheetForm, status: int = 200) -> Response:
    stop = stop_of(g.session, brew, g.now, g.household)
    return page("brews/sheet.html", None, status, brew=brew, stop=stop, form=form)


@bp.get("/<int:number>/sheet")
def sheet(number: int) -> Answer:
    """Show an empty sheet: a judgement is never filled in beforehand."""
    brew = brew_of(number)
    if not brew.alive:
        return redirect(url_for(".show", number=number), 303)
    form = sheet_form(formdata=None)
    form.taster.data = request.args.get("taster", type=number_of)
    return _page(brew, form)


@bp.post("/<int:number>/sheet")
def keep_sheet(number: int) -> Answer:
    """Keep a sheet."""
    form = sheet_form()
    if form.validate_on_submit():
        ask = readings.LogTasting(
            brew_id=number,
            taster_id=form.taster.data,
            score=int(form.score.data),
            at=form.at.data,
            **form.answers(),  # type: ignore[arg-type]
        )
        try:
            act(readings.log_tasting, ask)
            return redirect(url_for(".show", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return _page(brew_of(number), form, 422)
