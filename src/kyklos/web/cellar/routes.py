"""The cellar: bottles warm, cold and gone."""

from __future__ import annotations

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ...actions import cellar
from ...core.bottle import HISS_WORDS
from ...core.cautions import Heard, Situation
from ...core.kinds import BottleState
from ...core.why import why_chill
from ...reckon import pressure
from ...store import queries
from ...store.models import Bottle
from ..acting import act
from ..cautioned import heard
from ..render import page
from .groups import groups_of

bp = Blueprint("cellar", __name__, url_prefix="/cellar", template_folder="templates")
GONE_SHOWN = 30  #: So many bottles that are gone are listed.


def _numbers() -> tuple[int, ...]:
    try:
        return tuple(int(number) for number in request.form.getlist("bottle"))
    except ValueError:
        abort(400, "Choose bottles from the list.")


def _back() -> Answer:
    return redirect(
        url_for(
            "round.show" if (request.referrer or "").rstrip("/") == request.host_url.rstrip("/") else "cellar.show"
        ),
        303,
    )


@bp.get("/")
def show() -> Response:
    """Show the bottles by state."""
    warm, cold = (groups_of(queries.bottles(g.session, state), g.now) for state in (BottleState.WARM, BottleState.COLD))
    every = [*warm, *cold]
    situation = Situation(
        moment="bottles",
        closed_bottles=any(group.limit_bar > 0 for group in every),
        abv_high=max((x.abv_high for x in every), default=0.0),
        pressing=any(x.pressing for x in every),
        honey=any(b.bottling.brew.honey_share > 0 for x in every for b in x.bottles),
        flavours=tuple({b.bottling.flavour for x in every for b in x.bottles}),
    )
    return page(
        "cellar/show.html",
        warm=warm,
        cold=cold,
        gone=queries.last_gone(g.session, GONE_SHOWN),
        hisses=list(enumerate(HISS_WORDS)),
        cautions=heard(situation) if every else Heard(),
    )


@bp.post("/chill")
def chill() -> Answer:
    """Put bottles into the cold."""
    act(cellar.chill_bottles, cellar.MoveBottles(bottle_ids=_numbers()))
    return _back()


@bp.post("/warm")
def warm() -> Answer:
    """Put bottles back into the warm, where they were filled."""
    act(cellar.warm_bottles, cellar.MoveBottles(bottle_ids=_numbers()))
    return _back()


@bp.post("/open/<int:number>")
def open_one(number: int) -> Answer:
    """Open a bottle."""
    try:
        hiss = int(request.form["hiss"])
    except (KeyError, ValueError):
        abort(400, "Choose how it hissed.")
    act(cellar.open_bottle, cellar.OpenBottle(bottle_id=number, hiss=hiss, taste=request.form.get("taste", "")))
    return _back()


@bp.post("/heard")
def heard_some() -> Answer:
    """Record how bottles were when they were burped."""
    act(cellar.hear_bottles, cellar.HearBottles(bottle_ids=_numbers(), hiss=request.form.get("hiss", type=int)))
    return _back()


@bp.post("/gone")
def gone() -> Answer:
    """Mark bottles as gone."""
    act(cellar.finish_bottles, cellar.FinishBottles(bottle_ids=_numbers()))
    return _back()


@bp.get("/why/<int:number>")
def why(number: int) -> Response:
    """Return why a bottle must be cold by its day."""
    ask = pressure.bottle_ask_of(queries.get(g.session, Bottle, number))
    if ask.limit_bar is None:
        abort(404)
    return page("why.html", "_why.html", why=why_chill(ask))
