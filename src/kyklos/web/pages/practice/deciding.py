"""The palate and the clock: taste, wait or harvest; leave, squeeze, burp, chill or open. Scored by regret, the wise choice with its reason."""

from __future__ import annotations

import numpy as np
from flask import Response, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....core.base.facts import BOTTLES
from ....core.bottles.bottle import TARGETS
from ....core.liquid.taste import score_word
from ....core.practice import clock as bottles
from ....core.practice import harvest
from ....core.practice.regret import Weighed
from ....drawing.practising import BandView, band_view
from ...kit.render import page
from .decks import CLOCK, PALATE, Deck, Posed, about, address_of, keep_answer, next_card, posed
from .routes import bp

INSIDE = 0.7 / 4.0  #: Half of what is right for a taster, in ln acidity.
NAMES = {
    "harvest": "Harvest today", "taste": "Taste it", "wait": "Wait",
    "leave": "Leave it", "squeeze": "Squeeze the tester", "burp": "Burp it", "chill": "Chill it", "open": "Open it",
}  # fmt: skip


def _palate_view(q: harvest.HarvestQuestion) -> BandView:
    out, point = q.forecast, q.point.ta_g_per_l
    band = out.ta_g_per_l
    dots = [(one.day, score_word(one.value)) for one in q.seen if one.kind == "taste"]
    wanted = (point * float(np.exp(-INSIDE)), point * float(np.exp(INSIDE)))
    return band_view(out.day, band.p10, band.p50, band.p90, q.day, wanted, max(1.7 * point, 5.0), dots=dots)


def _clock_view(q: bottles.BottleQuestion) -> BandView:
    days, bar = bottles.pressure_course(q)
    return band_view(days, bar[:, 0], bar[:, 1], bar[:, 2], q.day, (0.0, 0.0), 1.15 * q.limit_bar, limit=q.limit_bar)


def _answered(weighed: Weighed, choice: str, reason: str) -> dict[str, object]:
    most = max(one.loss for one in weighed.choices.values()) or 1.0
    rows = [
        (NAMES[key], one.loss, max(2, round(100 * one.loss / most)), weighed.outcome(key), key == choice) for key, one in weighed.choices.items()
    ]
    return {
        "outcome": weighed.outcome(choice),
        "wise": weighed.wise,
        "is_wise": choice == weighed.wise,
        "rows": sorted(rows, key=lambda row: row[1]),
        "reason": reason,
    }


def _palate_page(what: Posed, status: int = 200, **more: object) -> Response:
    q = harvest.posed(what.card, what.seed)
    read = [one for one in q.seen if one.kind == "ph"]
    return page(
        "practice/palate.html", None, status, question=q, view=_palate_view(q), names=NAMES, choices=harvest.CHOICES, read=read,
        taster_likes=q.point.ta_g_per_l, **about(PALATE, what), **more,
    )  # fmt: skip


def _clock_page(what: Posed, status: int = 200, **more: object) -> Response:
    q = bottles.posed(what.card, what.seed)
    return page(
        "practice/clock.html", None, status, question=q, view=_clock_view(q), names=NAMES, choices=bottles.CHOICES,
        kind=BOTTLES[q.card.kind], wished=TARGETS[q.card.wish], **about(CLOCK, what), **more,
    )  # fmt: skip


@bp.get("/palate")
def palate() -> Answer:
    """Pose the next brew, or the one asked for."""
    what = posed(PALATE, request.args)
    return next_card(PALATE) if what is None else _palate_page(what)


@bp.get("/clock")
def clock() -> Answer:
    """Pose the next bottle, or the one asked for."""
    what = posed(CLOCK, request.args)
    return next_card(CLOCK) if what is None else _clock_page(what)


def _decided(deck: Deck, endpoint: str) -> Answer:
    what = posed(deck, request.form)
    if what is None:
        return redirect(url_for(deck.endpoint), 303)
    weighed = harvest.posed(what.card, what.seed).weighed if deck is PALATE else bottles.posed(what.card, what.seed).weighed
    choice = request.form.get("choice", "")
    if choice not in weighed.choices:
        return _palate_page(what, 422, problem="What do you do?") if deck is PALATE else _clock_page(what, 422, problem="What do you do?")
    keep_answer(deck, what, weighed.outcome(choice), weighed.wise, choice if choice != weighed.wise else "")
    return redirect(address_of(deck, what, endpoint, choice=choice), 303)


@bp.post("/palate")
def palate_decided() -> Answer:
    """Grade a choice by its regret."""
    return _decided(PALATE, ".palate_seen")


@bp.post("/clock")
def clock_decided() -> Answer:
    """Grade a choice by its regret."""
    return _decided(CLOCK, ".clock_seen")


@bp.get("/palate/seen")
def palate_seen() -> Answer:
    """Show what would have been wise, and why."""
    what, choice = posed(PALATE, request.args), request.args.get("choice", "")
    if what is None or choice not in harvest.CHOICES:
        return redirect(url_for(".palate"), 303)
    q = harvest.posed(what.card, what.seed)
    return _palate_page(what, answered=_answered(q.weighed, choice, harvest.reason(q)))


@bp.get("/clock/seen")
def clock_seen() -> Answer:
    """Show what would have been wise, and why."""
    what, choice = posed(CLOCK, request.args), request.args.get("choice", "")
    if what is None or choice not in bottles.CHOICES:
        return redirect(url_for(".clock"), 303)
    q = bottles.posed(what.card, what.seed)
    return _clock_page(what, answered=_answered(q.weighed, choice, bottles.reason(q)))
