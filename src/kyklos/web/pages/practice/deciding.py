"""The palate and the clock: taste, wait or harvest; leave, squeeze, burp, chill or open. Scored by regret, the wise choice with its reason."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from flask import Response, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....core.base.facts import BOTTLES
from ....core.base.kinds import SeenKind
from ....core.liquid.taste import score_word
from ....core.practice import clock as bottles
from ....core.practice import harvest
from ....core.practice.regret import Weighed
from ....drawing.practising import BandView, band_view
from ...kit.render import page
from .decks import CLOCK, PALATE, Deck, Posed, about, address_of, keep_answer, next_card, posed
from .routes import bp

NAMES = {
    "harvest": "Harvest today", "taste": "Taste it", "wait": "Wait",
    "leave": "Leave it", "squeeze": "Squeeze the tester", "burp": "Burp it", "chill": "Chill it", "open": "Open it",
}  # fmt: skip


class Decision(NamedTuple):
    """A deck whose cards ask for a choice."""

    deck: Deck
    posed: Callable[[str, int], Any]  #: A question, with its `weighed` choices.
    reason: Callable[[Any], str]
    shown: Callable[[Any], dict[str, Any]]  #: What its page shows of a question.
    seen: str  #: Where what came of it is shown.


def _of_brew(q: harvest.HarvestQuestion) -> dict[str, Any]:
    band = q.forecast.ta_g_per_l
    dots = [(one.day, score_word(one.value)) for one in q.seen if one.kind == SeenKind.TASTE]
    most = max(1.7 * q.point.ta_g_per_l, 5.0)
    view = band_view(q.forecast.day, band.p10, band.p50, band.p90, q.day, q.window_g_per_l, most, dots=dots)
    return {"view": view, "read": [one for one in q.seen if one.kind == SeenKind.PH]}


def _of_bottle(q: bottles.BottleQuestion) -> dict[str, Any]:
    days, bar = bottles.pressure_course(q)
    view: BandView = band_view(days, bar[:, 0], bar[:, 1], bar[:, 2], q.day, (0.0, 0.0), 1.15 * q.limit_bar, limit=q.limit_bar)
    return {"view": view, "kind": BOTTLES[q.card.kind]}


BREW = Decision(PALATE, harvest.posed, harvest.reason, _of_brew, ".palate_seen")
BOTTLE = Decision(CLOCK, bottles.posed, bottles.reason, _of_bottle, ".clock_seen")


def _page(of: Decision, what: Posed, status: int = 200, **more: Any) -> Response:
    q = of.posed(what.card, what.seed)
    return page(
        f"practice/{of.deck.key}.html", None, status, question=q, names=NAMES, choices=tuple(q.weighed.choices), **of.shown(q),
        **about(of.deck, what), **more,
    )  # fmt: skip


def _ask(of: Decision) -> Answer:
    what = posed(of.deck, request.args)
    return next_card(of.deck) if what is None else _page(of, what)


def _decided(of: Decision) -> Answer:
    what, choice = posed(of.deck, request.form), request.form.get("choice", "")
    if what is None:
        return redirect(url_for(of.deck.endpoint), 303)
    weighed = of.posed(what.card, what.seed).weighed
    if choice not in weighed.choices:
        return _page(of, what, 422, problem="What do you do?")
    keep_answer(of.deck, what, weighed.outcome(choice))
    return redirect(address_of(of.deck, what, of.seen, choice=choice), 303)


def _seen(of: Decision) -> Answer:
    what, choice = posed(of.deck, request.args), request.args.get("choice", "")
    q = None if what is None else of.posed(what.card, what.seed)
    if what is None or q is None or choice not in q.weighed.choices:
        return redirect(url_for(of.deck.endpoint), 303)
    return _page(of, what, answered=_answered(q.weighed, choice, of.reason(q)))


def _answered(weighed: Weighed, choice: str, reason: str) -> dict[str, Any]:
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


@bp.get("/palate")
def palate() -> Answer:
    """Pose the next brew, or the one asked for."""
    return _ask(BREW)


@bp.post("/palate")
def palate_decided() -> Answer:
    """Grade a choice by its regret."""
    return _decided(BREW)


@bp.get("/palate/seen")
def palate_seen() -> Answer:
    """Show what would have been wise, and why."""
    return _seen(BREW)


@bp.get("/clock")
def clock() -> Answer:
    """Pose the next bottle, or the one asked for."""
    return _ask(BOTTLE)


@bp.post("/clock")
def clock_decided() -> Answer:
    """Grade a choice by its regret."""
    return _decided(BOTTLE)


@bp.get("/clock/seen")
def clock_seen() -> Answer:
    """Show what would have been wise, and why."""
    return _seen(BOTTLE)
