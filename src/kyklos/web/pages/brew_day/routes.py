"""Brew day: plan with live results, places, a first brew; then into the kitchen, or pitched at once."""

from __future__ import annotations

from datetime import timedelta

from flask import Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brew_days import StartBrewDay, start_brew_day
from ....actions.brewing.pitching import pitch_brew
from ....core.base import limit
from ....core.base.kinds import Occasion, Units
from ....core.brewing.places import PlaceTold, advise, plan_back
from ....core.brewing.tools import KIT, TOOLS, needs_of
from ....core.brewing.vessel_parts import disc_room_l
from ....core.judging import Situation
from ....core.liquid.teas import text_of
from ....drawing.cooling import cooling
from ....drawing.fill import fill
from ....reckon.brewing import brew_days
from ....reckon.forecast import forecasting, palates, warmth
from ....store.read import culture_queries, experiment_queries, moments, planning_queries, queries
from ...kit.acting import act
from ...kit.cautioned import heard
from ...kit.render import page
from .defaults import plan_form
from .forms import PlanForm, WantedForm
from .place import bp
from .planning import Shown, ask_of_form, brewed_for, pitch_of, plan_of

DISC_MM = {Units.METRIC: 10.0, Units.US: 25.4}  #: A disc as an example of the room that it takes: a centimetre, an inch. [mm]


def _picture(shown: Shown | None) -> dict[str, object]:
    if shown is None:
        return {}
    p, h = shown.plan.parts, shown.plan.heat
    owned = frozenset(tool.kind for tool in planning_queries.tools(g.session))
    parts = [
        ("heel", "heel", p.heel_l),
        ("starter", "starter", p.starter_l),
        ("vinegar", "vinegar", p.vinegar_l),
        ("sweetener", "sweetener", p.sweetener_l),
        ("water", "water", p.water_l),
        ("disc", "disc", p.disc_l),
    ]
    ways = [(w.key, w.name, w.course, w.hours) for w in h.waits]
    return {
        "fill": fill(parts, p.nominal_l, p.line_l),
        "cooling": cooling(ways, h.pour_c) if h.method != "cold" and h.must_wait else None,
        "disc_mm": DISC_MM[g.units],
        "disc_takes_l": disc_room_l(shown.plan.ask.vessel.diameter_cm, DISC_MM[g.units]),
        "needs": needs_of(shown.plan, owned),
    }


def show_plan(form: PlanForm, shown: Shown | None, status: int = 200, part: bool = True) -> Response:
    """Show the plan form, or only its results."""
    return page(
        "brew_day/show.html",
        "brew_day/_plan.html" if part else None,
        status,
        form=form,
        plan=shown,
        limit_ph=limit("start_ph"),
        days=planning_queries.running_days(g.session),
        waiting=experiment_queries.waiting(g.session),
        first_why=g.first_why,
        **_picture(shown),
    )


@bp.get("/")
def show() -> Response:
    """Show the plan form with defaults from vessel, culture and last time."""
    form = plan_form(first=True)
    if not form.vessel.choices or not form.culture.choices:
        return redirect_first()
    return show_plan(form, plan_of(form), part=False)


def redirect_first() -> Response:
    """Show the way to a first brew."""
    return page(
        "brew_day/first.html",
        None,
        vessels=brew_days.brewing_vessels(g.session),
        cultures=culture_queries.cultures(g.session),
        kit=[(key, TOOLS[key][0]) for key in KIT],
        owned={tool.kind for tool in planning_queries.tools(g.session)},
        brewed=bool(queries.living_brews(g.session)),
        lots=culture_queries.starter_lots(g.session),
        cautions=heard(Situation(moment=Occasion.FIRST)),
    )


@bp.get("/first")
def first() -> Response:
    """Lead somebody who never brewed from nothing to the cloth going on."""
    return redirect_first()


@bp.get("/plan")
def plan() -> Response:
    """Show the results for what is typed."""
    form = plan_form(request.args)
    return show_plan(form, plan_of(form))


@bp.post("/pitch")
def pitch() -> Answer:
    """Record a brew that is in its vessel already."""
    form = plan_form(request.form)
    shown = plan_of(form)
    if shown is not None:
        try:
            done = act(pitch_brew, pitch_of(form, shown))
            return redirect(url_for("brews.show", number=done.made["brew"]), 303)
        except RefusedError as refused:
            form.take(refused)
    return show_plan(form, shown, 422, part=False)


@bp.post("/start")
def start() -> Answer:
    """Take the plan into the kitchen."""
    form = plan_form(request.form)
    shown = plan_of(form)
    if shown is not None:
        ask = StartBrewDay(
            vessel_id=shown.vessel.id, culture_id=shown.culture.id, disc_id=form.disc.data or None, ask=shown.plan.ask, brewed_for=brewed_for(form)
        )
        try:
            done = act(start_brew_day, ask, quiet=True)
            return redirect(url_for("brew_day.kitchen", number=done.made["brew_day"]), 303)
        except RefusedError as refused:
            form.take(refused)
    return show_plan(form, shown, 422, part=False)


@bp.get("/why/<topic>")
def why(topic: str) -> Response:
    """Return where a number of the plan comes from."""
    shown = plan_of(plan_form(request.args))
    if shown is None or topic not in shown.whys:
        abort(404)
    return page("why.html", "_why.html", why=shown.whys[topic])


@bp.get("/places")
def places() -> Response:
    """Rank the household's places for what is planned, and plan back from a day."""
    form, wanted = plan_form(request.args), WantedForm(request.args, meta={"csrf": False})
    wanted.validate()
    ask = ask_of_form(form)
    shown = plan_of(form) if ask is not None else None
    if shown is None:
        return page(
            "brew_day/places.html", "brew_day/_places.html", 422, form=form, wanted=wanted, advice=[], plan=None
        )
    rows = []
    for place in queries.rooms(g.session):
        celsius, measured = warmth.place_now(g.session, place, g.now)
        rows.append(
            PlaceTold(
                key=place.id,
                name=place.name,
                celsius=celsius,
                measured=measured,
                light=place.light,
                reach=place.reach,
                rivals=place.rivals,
            )
        )
    prior, points = forecasting.prior_of(shown.culture, tea=text_of(shown.plan.recipe.tea)), palates.points_of(g.session, shown.plan.recipe.honey_share)
    advice = advise(shown.plan, tuple(rows), prior, points)
    back, late = [], None
    if wanted.ready.data is not None:
        days = moments.days_between(g.now, wanted.ready.data)
        late = "That day is over." if days < 0 else None
        back = [(b, g.now + timedelta(days=b.pitch_in_days)) for b in plan_back(advice, days)] if days >= 0 else []
    return page(
        "brew_day/places.html",
        "brew_day/_places.html",
        form=form,
        wanted=wanted,
        advice=advice,
        back=back,
        late=late,
        plan=shown,
        taster=points[0].taster,
    )
