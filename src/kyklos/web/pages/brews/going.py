"""A brew that stands already: its jar, when it began, what is known of it now."""

from __future__ import annotations

from flask import g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing import taking_over
from ....core.base.kinds import VesselKind
from ....core.liquid.taste import score_word
from ....store.read import culture_queries, queries
from ...kit.acting import act
from ...kit.numbers import number_of
from ...kit.render import page
from .happened_forms import GoingForm
from .routes import bp

SCORES = range(-3, 4)


def _form() -> GoingForm:
    form, full = GoingForm(), culture_queries.in_use(g.session)[0]
    free = [v for v in queries.vessels(g.session) if v.kind != VesselKind.HOTEL and v.id not in full]
    form.vessel.choices = [(v.id, v.name) for v in free] + [(0, "a new jar")]
    form.culture.choices = [(c.id, c.name) for c in culture_queries.cultures(g.session)] + [(0, "a new one")]
    form.taster.choices = [(t.id, t.name) for t in queries.tasters_of(g.session)] or [(0, "nobody yet")]
    form.score.choices = [("", "not tasted"), *((str(score), score_word(score)) for score in SCORES)]
    return form


@bp.get("/going")
def going() -> Answer:
    """Ask about a brew that stands already; a quick line may have named the jar, and since when."""
    form = _form()
    if (vessel := request.args.get("vessel", type=number_of)) is not None:
        form.vessel.data = vessel
    if (ago := request.args.get("ago", type=number_of)) is not None:
        form.ago.data = float(ago)
    return page("brews/going.html", form=form)


@bp.post("/going")
def take_over() -> Answer:
    """Put a brew that stands already on the round."""
    form = _form()
    if form.validate_on_submit():
        try:
            done = act(taking_over.take_over, _ask(form))
            return redirect(url_for(".show", number=done.made["brew"]), 303)
        except RefusedError as refused:
            form.take(refused.renamed({"days_ago": "ago", "doubt_days": "doubt", "at": "ago", "liquid_l": "litres"}))
    return page("brews/going.html", None, 422, form=form)


def _ask(form: GoingForm) -> taking_over.TakeOver:
    days = form.ago.data
    return taking_over.TakeOver(
        days_ago=days,
        doubt_days=min(float(form.doubt.data), max(days, 0.0)),
        litres=form.litres.data,
        vessel_id=form.vessel.data or None,
        new_vessel=form.new_vessel.data or "",
        nominal_l=form.nominal_l.data,
        culture_id=form.culture.data or None,
        new_culture=form.new_culture.data or "",
        honey=form.honey.data == "1",
        sugar_g_per_l=form.sugar_g_per_l.data,
        celsius=form.celsius.data,
        ph=form.ph.data,
        instrument=form.instrument.data,
        taster_id=form.taster.data or None,
        score=int(form.score.data) if form.score.data and form.taster.data else None,
    )
