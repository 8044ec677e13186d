"""A tasting sheet made for a spoonful: sweet to sour, tea, yeast, what else, again, when and after what."""

from __future__ import annotations

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer
from wtforms import StringField
from wtforms.validators import Optional

from ...actions import brewing
from ...actions.base import RefusedError
from ...core.taste import SCORE_WORDS
from ...store import queries
from ...store.models import Brew
from ..acting import act
from ..fields import ChoiceField, KitchenForm, MomentField
from ..numbers import number_of
from ..render import page
from ..stops import stop_of
from .routes import bp, brew_of

STRENGTHS = [("", "not told"), ("0", "none"), ("1", "faint"), ("2", "clear"), ("3", "strong")]


class SheetForm(KitchenForm):
    """A sheet."""

    taster = ChoiceField("Who tastes", coerce=number_of)
    score = ChoiceField("Sweet or sour", choices=[(str(i - 3), word) for i, word in enumerate(SCORE_WORDS)])
    tea = ChoiceField("Tea", default="", choices=STRENGTHS)
    yeast = ChoiceField("Yeast", default="", choices=STRENGTHS)
    again = ChoiceField("Again like this?", default="", choices=[("", "not told"), ("yes", "yes"), ("no", "no")])
    after = StringField("Tasted after", validators=[Optional()])
    note = StringField("What else", validators=[Optional()])
    at = MomentField("When, if not now")

    def told(self) -> dict[str, object]:
        """Give what was told, but for who and when."""
        whole = {"tea": self.tea.data, "yeast": self.yeast.data}
        numbers = {name: int(value) if value else None for name, value in whole.items()}
        again = {"yes": True, "no": False}.get(self.again.data or "")
        return {**numbers, "again": again, "after": self.after.data or "", "note": self.note.data or ""}


def sheet_form(**given: object) -> SheetForm:
    """Make a sheet for this household's tasters."""
    form = SheetForm(**given)
    form.taster.choices = [(t.id, t.name) for t in queries.tasters_of(g.session)]
    return form


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
        ask = brewing.LogTasting(
            brew_id=number,
            taster_id=form.taster.data,
            score=int(form.score.data),
            at=form.at.data,
            **form.told(),  # type: ignore[arg-type]
        )
        try:
            act(brewing.log_tasting, ask)
            return redirect(url_for(".show", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return _page(brew_of(number), form, 422)
