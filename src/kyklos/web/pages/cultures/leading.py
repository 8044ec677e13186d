"""Leading a line to another diet; two sources side by side; where a culture may come from."""

from __future__ import annotations

from datetime import timedelta

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.cultures import leading
from ....core.base.kinds import Diet
from ....core.base.sources import SIGNS, SOURCES, bottle_fitness
from ....core.cultures import conversion
from ....core.forecast import side_by_side
from ....core.forecast.side_by_side import Side
from ....drawing.curve import CurveFacts, curve
from ....reckon.cultures import conversions, lineages
from ....store.read import queries
from ....store.records import Conversion, Culture
from ...kit.acting import act, tried
from ...kit.render import page
from ...kit.words import local, window_word
from .forms import ConversionForm
from .place import bp


def _conversion_page(number: int, status: int = 200, form: ConversionForm | None = None, problem: str = "") -> Response:
    culture = queries.get(g.session, Culture, number)
    row = conversions.running(culture)
    target = row.target if row else (Diet(culture.diet).other)
    step = row.step if row else conversion.STEP
    steps = conversions.steps_of(g.session, row, g.now) if row else ()
    brews = conversions.brews_of(g.session, row) if row else []
    days = conversions.brew_days_of(g.session, culture)
    begins = conversions.next_begins(brews, steps, g.now)
    today = local(g.now, g.household.zone).date()
    vessel, share = conversions.next_vessel(g.session, culture)
    plan = [
        (p, today + timedelta(days=round(p.from_day)), p.amounts(vessel.usable_l if vessel else 1.0, share))
        for p in conversion.schedule(steps, target, step, days, begins)
    ]
    return page(
        "cultures/conversion.html",
        None,
        status,
        c=culture,
        row=row,
        target=target,
        words=conversion.TARGETS[target][0],
        step=step,
        done=list(zip(steps, brews, strict=True)),
        outcomes=conversion.OUTCOMES,
        advice=conversion.advise(steps, target, step),
        plan=plan,
        vessel=vessel,
        days=days,
        come=conversion.progress(steps, target),
        kept=lineages.backups_of(g.session, culture, g.now),
        form=form or ConversionForm(formdata=None, data={"step": 100 * step}),
        problem=problem,
    )


@bp.get("/<int:number>/conversion")
def conversion_page(number: int) -> Response:
    """Show a line's way to another diet: what was done, what comes next, when it would be there."""
    return _conversion_page(number)


@bp.post("/<int:number>/conversion")
def begin_conversion(number: int) -> Answer:
    """Begin to lead a line."""
    form, culture = ConversionForm(), queries.get(g.session, Culture, number)
    target = Diet(culture.diet).other
    done = tried(
        form,
        leading.begin_conversion,
        lambda: leading.BeginConversion(culture_id=number, target=target, step=form.step.data / 100),
    )
    return redirect(url_for(".conversion_page", number=number), 303) if done else _conversion_page(number, 422, form)


@bp.post("/conversions/<int:number>/end")
def end_conversion(number: int) -> Answer:
    """End a conversion: done, or given up."""
    line = queries.get(g.session, Conversion, number).culture_id
    try:
        act(leading.end_conversion, leading.EndConversion(conversion_id=number, done="done" in request.form))
    except RefusedError as refused:
        return _conversion_page(line, 422, problem=str(refused))
    return redirect(url_for(".conversion_page", number=line), 303)


def _spans(side: Side) -> list[tuple[str, float, float]]:
    found = side.forecast.ready[""]
    return [(side.name, found.p10, found.p90)] if found.p10 is not None and found.p90 is not None else []


@bp.get("/compare")
def compare() -> Response:
    """Put two sources side by side under the same conditions."""
    found = lineages.sources(g.session)
    keys = lineages.most_brewed(found)
    left, right = (request.args.get(name, "") for name in ("left", "right"))
    chosen = [left if left in found else keys[0], right if right in found else keys[1]] if len(keys) > 1 else []
    if not chosen:
        return page("cultures/compare.html", found=found, pair=None)
    base = side_by_side.usual_recipe(all(found[key].diet == Diet.JUN for key in chosen))
    recipe = side_by_side.same_recipe(base, base)
    sides = [lineages.side_of(g.session, found[key], recipe) for key in chosen]
    windows = [window_word(g.now, s.forecast.ready[""], g.now, g.household.zone) for s in sides]
    one, two = sides[0].forecast, sides[1].forecast
    facts = CurveFacts(
        day=one.day, low=one.ph.p10, likely=one.ph.p50, high=one.ph.p90, today=0.0, other=two.ph.p50,
        windows=_spans(sides[0]), other_windows=_spans(sides[1]),
    )  # fmt: skip
    return page(
        "cultures/compare.html",
        found=found,
        chosen=chosen,
        pair=side_by_side.pair(*sides),
        days=[s.forecast.ready[""] for s in sides],
        windows=windows,
        recipe=recipe,
        celsius=side_by_side.CELSIUS,
        curve=curve(facts),
    )


@bp.get("/sources")
def sources() -> Response:
    """Return where a culture may come from, and whether a bottle is fit to grow one from."""
    seen = [key for key in request.args.getlist("seen") if key in SIGNS]
    asked = "asked" in request.args
    return page(
        "cultures/sources.html", sources=SOURCES, signs=SIGNS, seen=seen, found=bottle_fitness(seen) if asked else None
    )
