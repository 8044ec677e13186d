"""Tasters: the point of each, how it was learned and how it drifts; and how earlier forecasts stood the test."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, Response, g

from ....core.forecast.palate import Drift, Palate, drift
from ....core.liquid.taste import likes_word
from ....drawing.hindsight import hindsight_plot
from ....drawing.palate import PalatePlot, palate_plot
from ....reckon.forecast import learning, palates
from ....store.read import queries
from ....store.read.memory import remembered
from ...kit.acting import in_units
from ...kit.render import page

bp = Blueprint("tasters", __name__, url_prefix="/tasters", template_folder="templates")
SHOWN = 60  #: So many tastings are drawn, the last ones; all teach.


@dataclass(frozen=True, slots=True)
class LearnedPoint:
    """One taster and one style."""

    name: str
    style: str
    palate: Palate
    plot: PalatePlot
    drift_words: str
    likes: str  #: How sour, in words.
    figures: str  #: Behind the drift.


def _drift_words(moved: Drift | None) -> str:
    if moved is None:
        return ""
    weeks = moved.span_days / 7
    span = f"{weeks:.0f} weeks" if weeks < 13 else f"{moved.span_days / 30.4:.0f} months"
    if not moved.clear:
        return f"Much the same as {span} ago."
    return f"More sour than {span} ago." if moved.share > 0 else f"Sweeter than {span} ago."


def _drift_figures(moved: Drift | None) -> str:
    """Return the figures behind a drift; empty where there is none."""
    if moved is None or not moved.clear:
        return ""
    return f"In the tastings since {in_units(moved.now.ta_g_per_l, 'acidity')}, in those before {in_units(moved.before.ta_g_per_l, 'acidity')}."


def learned_of() -> list[LearnedPoint]:
    """List every taster with kombucha, and with jun where it was tasted."""
    tasted = palates.tasted_by(g.session)
    out = []
    for taster in queries.tasters_of(g.session):
        for jun in (False, True):
            seen = tasted.get((taster.name, jun), [])
            if jun and not seen:
                continue
            palate = palates.palate_of(g.session, taster.name, jun)
            moved = drift(seen, jun)
            plot = palate_plot(
                taster.name, palate, seen[-SHOWN:], moved.before if moved is not None and moved.clear else None
            )
            out.append(
                LearnedPoint(
                    taster.name,
                    "Jun" if jun else "Kombucha",
                    palate,
                    plot,
                    _drift_words(moved),
                    likes_word(palate.ta_g_per_l, 1.0 if jun else 0.0),
                    _drift_figures(moved),
                )
            )
    return out


@bp.get("/")
def show() -> Response:
    """Show each taster's point."""
    rows = queries.blind_tastings(g.session, 12)
    return page("tasters/show.html", learned=learned_of(), blinds=rows)


@bp.get("/hindsight")
def hindsight() -> Response:
    """Show what was said against what happened."""
    found = remembered(g.session, ("hindsight", g.now.date()), lambda: learning.record(g.session))
    return page("tasters/hindsight.html", record=found, plot=hindsight_plot(found))
