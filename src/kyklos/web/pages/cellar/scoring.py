"""Scores in two taps, a full sheet, glasses side by side, and the ranking that comes of it."""

from __future__ import annotations

from typing import Any

from flask import Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.bottles import scoring
from ....core.base.kinds import BottleState
from ....core.bottles.scores import LIKED, SHEET
from ....reckon.bottles import flavours
from ....reckon.bottles.cellar import name_of
from ....store.read import queries
from ....store.records import Bottle, Bottling, Comparison
from ...kit.acting import act
from ...kit.numbers import number_of, whole, wholes
from ...kit.render import page
from .routes import bp

LETTERS = "ABCDEFGH"
OPENED_SHOWN = 6


def _number(name: str) -> int:
    number = whole(request.form.get(name))
    if number is None:
        abort(400, "Choose one of the buttons.")
    return number


def _sheet() -> dict[str, int]:
    return {key: int(value) for key in SHEET if (value := request.form.get(key, "")) in {"1", "2", "3", "4", "5"}}


@bp.post("/bottles/<int:number>/score")
def score(number: int) -> Answer:
    """Keep how a taster liked a bottle: one tap; a second one says again, or more or less of it."""
    sent = request.form
    again = {"yes": True, "no": False}.get(sent.get("again", ""))
    bottle = queries.get(g.session, Bottle, number)
    taster = _number("taster")
    before = next((row for row in bottle.bottling.scores if row.bottle_id == number and row.taster_id == taster), None)
    liked = whole(sent.get("liked")) or (before.liked if before is not None else 0)
    act(
        scoring.score_bottle,
        scoring.ScoreBottle(
            taster_id=taster,
            bottle_id=number,
            liked=liked,
            again=again if again is not None else before.again if before is not None else None,
            sheet=_sheet(),
            word=sent.get("word", ""),
            next_time=sent.get("next_time", ""),
        ),
    )
    return redirect(url_for("cellar.show_bottle", number=number), 303)


@bp.get("/bottles/<int:number>/sheet")
def sheet(number: int) -> Response:
    """Show the full sheet of a bottle, for one taster."""
    bottle = queries.get(g.session, Bottle, number)
    tasters = queries.tasters_of(g.session)
    taster = next((t for t in tasters if t.id == request.args.get("taster", type=number_of)), tasters[0] if tasters else None)
    if taster is None:
        abort(404)
    row = next((r for r in bottle.bottling.scores if r.bottle_id == number and r.taster_id == taster.id), None)
    return page(
        "cellar/sheet.html",
        name=name_of(bottle),
        action=url_for("cellar.score", number=number),
        back=url_for("cellar.show_bottle", number=number),
        taster=taster,
        row=row,
        sheet=SHEET,
        liked=LIKED,
    )


@bp.get("/ranking")
def rankings() -> Response:
    """Show how flavours are liked: together, and by each taster."""
    return page(
        "cellar/ranking.html",
        ranks=flavours.rankings(g.session),
        opened=[(b, name_of(b)) for b in flavours.opened_lately(g.session, OPENED_SHOWN)],
        proposals=flavours.suggestions(g.session, g.now),
        comparisons=queries.comparisons(g.session, 8),
    )


@bp.get("/compare")
def compare() -> Response:
    """Choose what stands side by side."""
    return _choose()


def _choose(status: int = 200, wrong: str = "") -> Response:
    groups: dict[int, tuple[Bottling, str, int]] = {}
    for bottle in queries.bottles(g.session, BottleState.COLD, BottleState.WARM):
        row, name, count = groups.get(bottle.bottling_id, (bottle.bottling, name_of(bottle), 0))
        groups[bottle.bottling_id] = (row, name, count + 1)
    return page("cellar/compare.html", None, status, fillings=list(groups.values()), wrong=wrong)


@bp.post("/compare")
def start_compare() -> Answer:
    """Put the glasses in an order that nobody knows."""
    chosen = wholes(request.form.getlist("filling"))
    try:
        ask = scoring.StartComparison(bottling_ids=chosen, question=request.form.get("question", ""))
        done = act(scoring.start_comparison, ask)
    except RefusedError as refused:
        return _choose(422, str(refused))
    return redirect(url_for("cellar.glasses", number=done.made["comparison"]), 303)


@bp.get("/compare/<int:number>")
def glasses(number: int) -> Response:
    """Show glasses side by side: by letters until they are named."""
    return _glasses(number)


def _glasses(number: int, **more: Any) -> Response:
    row = queries.get(g.session, Comparison, number)
    tasters = queries.tasters_of(g.session)
    said = {(s.bottling_id, s.taster_id): s for s in row.scores}
    shown = []
    for letter, bottling_id in zip(LETTERS, row.glasses, strict=False):
        filling = queries.get(g.session, Bottling, int(bottling_id))
        name = flavours.name_in_ranking(filling) if row.revealed_at is not None else ""
        shown.append((letter, name, filling, [(t, said.get((filling.id, t.id))) for t in tasters]))
    return page("cellar/glasses.html", comparison=row, glasses=shown, liked=LIKED, **more)


@bp.post("/compare/<int:number>/score")
def score_glass(number: int) -> Answer:
    """Keep how a taster liked a glass."""
    act(
        scoring.score_bottle,
        scoring.ScoreBottle(
            taster_id=_number("taster"),
            bottling_id=_number("glass"),
            liked=_number("liked"),
            comparison_id=number,
            word=request.form.get("word", ""),
        ),
        quiet=True,
    )
    return redirect(url_for("cellar.glasses", number=number), 303)


@bp.post("/compare/<int:number>/reveal")
def reveal(number: int) -> Answer:
    """Name the glasses."""
    act(scoring.reveal_comparison, scoring.RevealComparison(comparison_id=number))
    return redirect(url_for("cellar.glasses", number=number), 303)
