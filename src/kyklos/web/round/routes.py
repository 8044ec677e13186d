"""The round: a walk past everything alive, and undo."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from flask import Blueprint, Response, flash, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ...actions.undo import Undo, undo
from ...store import queries, values
from ...store.models import Brew, Place
from ..acting import act
from ..cellar.groups import BottleGroup, groups_of, in_order_of_places
from ..render import page
from ..stops import Stop, stop_of

bp = Blueprint("round", __name__, template_folder="templates")


@dataclass(frozen=True, slots=True)
class Walk:
    """The round of today."""

    places: Sequence[tuple[Place, Sequence[Stop]]]
    bottles: Sequence[tuple[str, Sequence[BottleGroup]]]
    wanting: int
    first: Stop | None
    pressing: BottleGroup | None


def walk_of(brews: Sequence[Brew]) -> Walk:
    """Put the round together: living brews by place, warm bottles."""
    stops = [stop_of(g.session, brew, g.now, g.household) for brew in brews]
    places = [(place, list(group)) for place, group in groupby(stops, key=lambda s: s.brew.vessel.place)]
    wanting = [s for s in stops if s.due.kind != "nothing"]
    first = next((s for s in wanting if s.due.urgent), wanting[0] if wanting else None)
    groups = groups_of(queries.bottles(g.session, "warm"), g.now)
    pressing = groups[0] if groups and groups[0].pressing else None
    return Walk(places, in_order_of_places(groups), len(wanting), first, pressing)


@bp.get("/")
def show() -> Response:
    """Show today's round, or how to begin."""
    session = g.session
    brews = queries.living_brews(session)
    if not brews and not queries.bottles(session, "warm", "cold"):
        return page("round/start.html", vessels=queries.vessels(session), cultures=queries.cultures(session))
    return page("round/show.html", walk=walk_of(brews), tasters=values.tasters_of(session))


@bp.post("/undo/<int:number>")
def undo_change(number: int) -> Answer:
    """Take an action back, and return to where it was confirmed."""
    done = act(undo, Undo(number))
    flash(done.says, "say")
    back = request.referrer or ""
    return redirect(back if back.startswith(request.host_url) else url_for("round.show"), 303)
