"""Practice: what is there to do today, for whom; who practises, and forgetting it all."""

from __future__ import annotations

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import practice
from ....core.practice import eye, rehearsal
from ....core.practice.mixing import worst_first
from ....core.practice.moves import after
from ....core.practice.world import DAYS
from ....store.read import practising
from ...kit.numbers import whole
from ...kit.render import page
from . import overview
from .decks import DECKS, EYE, left_today
from .person import choose, keep, person, season_kept, tasters

bp = Blueprint("practice", __name__, url_prefix="/practice", template_folder="templates")
MOST_MIXED = 4


@bp.get("")
def show() -> Response:
    """Show what waits today."""
    kept, played = practising.decks(g.session, person()), season_kept()
    season = None if played is None else after(played.seed, played.moves)
    stops = [(deck, left_today(deck, kept.get(deck.key, {}))) for deck in DECKS]
    return page(
        "practice/index.html",
        stops=stops,
        begun=bool(kept) or played is not None,
        mixed=worst_first(practising.mixed(g.session, person(), EYE.key))[:MOST_MIXED],
        sign_name=eye.sign_name,
        who=person(),
        tasters=tasters(),
        pictures=overview.pictures(),
        season=None if season is None or season.over else season,
        season_days=DAYS,
        rehearsals=(*rehearsal.NAMES.items(), ("calibration", "A first calibration")),
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
