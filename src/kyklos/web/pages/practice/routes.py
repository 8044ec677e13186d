"""Practice: what is there to do today, for whom; who practises, and forgetting it all."""

from __future__ import annotations

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import practice
from ....core.practice import boxes, eye
from ....core.practice.mixing import worst_first
from ....drawing.specimen import specimen
from ....store.read import practising
from ...kit.numbers import whole
from ...kit.render import page
from .person import choose, keep, person, tasters, today

bp = Blueprint("practice", __name__, url_prefix="/practice", template_folder="templates")


@bp.get("")
def show() -> Response:
    """Show what waits today."""
    kept = practising.decks(g.session, person())
    waiting = {"eye": len(boxes.due_cards(eye.DECK, kept.get("eye", {}), today()))}
    return page(
        "practice/index.html",
        waiting=waiting,
        kept=kept,
        mixed=worst_first(practising.mixed(g.session, person(), "eye"))[:4],
        sign_name=eye.sign_name,
        who=person(),
        tasters=tasters(),
        shown=specimen("film-yeast", 8, 0.6, 7),
    )


@bp.post("/who")
def who() -> Answer:
    """Let this device remember who practises."""
    choose(whole(request.form.get("who")))
    return redirect(url_for(".show"), 303)


@bp.post("/wipe")
def wipe() -> Answer:
    """Forget all of a person's practice."""
    keep(practice.wipe, person())
    return redirect(url_for(".show"), 303)
