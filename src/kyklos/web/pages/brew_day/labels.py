"""The vessel's label: name, date, what is in it, first taste, and a code that leads to the brew; as a picture and as a sheet."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from flask import Response, g, url_for

from ....core.base.kinds import Diet
from ....core.brewing import KINDS
from ....core.judging.due import first_taste_day
from ....core.liquid import teas
from ....core.liquid.taste import is_all_honey, is_jun
from ....reckon.forecast import warmth
from ....store.read import queries
from ....store.records import Brew
from ...kit import printing
from ...kit.printing import LabelText
from ...kit.words import local
from .place import bp


def _date(moment: Any) -> str:
    day = local(moment, g.household.zone)
    return f"{day.day} {day:%b %Y}"


def sweet_words(honey_share: float, plan: dict[str, Any]) -> str:
    """Return what sweetens a brew."""
    from ....core.base.facts import SWEETENERS

    kinds = [SWEETENERS[key].name.lower() for key in plan.get("sweeteners", {}) if key in SWEETENERS]
    return " and ".join(kinds) or ("honey" if is_all_honey(honey_share) else "sugar and honey" if honey_share > 0 else "sugar")


def label_of(brew: Brew) -> LabelText:
    """Write a brew's label."""
    course = warmth.course_of(brew)
    celsius = float(course.future_c or 22.0)
    taste = brew.pitched_at + timedelta(
        days=first_taste_day(Diet.JUN if is_jun(brew.honey_share) else Diet.SUGAR, celsius)
    )
    starter = " and ".join(dict.fromkeys(t.name for t in brew.liquid.starters if t.name)) or "not recorded"
    first = (
        f"Look {_date(brew.pitched_at + timedelta(days=KINDS[brew.kind].watch[0]))}"
        if KINDS[brew.kind].watch
        else f"First taste {_date(taste)}"
    )
    return LabelText(
        brew.vessel.name,
        (
            f"{brew.culture.name} · {_date(brew.pitched_at)}",
            f"{brew.base or teas.name_of(teas.from_text(brew.tea))}, {sweet_words(brew.honey_share, brew.plan)}",
            f"Starter: {starter}, {100 * brew.starter_fraction:.0f} %",
            first,
        ),
        url_for("brews.show", number=brew.id, _external=True),
    )


@bp.get("/labels/<int:number>")
def label(number: int) -> Response:
    """Show a brew's label, and the sheets it can be printed on."""
    brew = queries.get(g.session, Brew, number)
    files = url_for(".label", number=number)
    return printing.label_page(label_of(brew), url_for("brews.show", number=number), files)


@bp.get("/labels/<int:number>.svg")
def label_svg(number: int) -> Response:
    """Show the label as a picture."""
    return printing.picture(label_of(queries.get(g.session, Brew, number)))


@bp.get("/labels/<int:number>.pdf")
def label_pdf(number: int) -> Response:
    """Show a sheet of the label."""
    return printing.printed(label_of(queries.get(g.session, Brew, number)), f"label-{number}")
