"""The cellar: bottles as they stand, by place; what is done with one or many."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.bottles import cellar
from ....core.base.kinds import BottleSort, BottleState, LeftAs, Occasion
from ....core.bottles.heard import HISS_WORDS, SQUEEZE_WORDS
from ....core.bottles.leaving import LEAVINGS, causes
from ....core.bottles.park import USUAL_CLOSURE, worn
from ....core.bottles.second_ferment import OPENING, late_words
from ....core.bottles.suggest import LIKED_WELL
from ....core.judging import Situation
from ....core.judging.cautions import ShownCautions
from ....core.liquid.standing import PlaceKind
from ....core.why import why_chill
from ....reckon.bottles import drinking, flavours, pressure
from ....reckon.bottles.cellar import alike_of
from ....store.read import queries
from ....store.read.moments import days_between
from ....store.records import Bottle
from ...kit.acting import act
from ...kit.bottle_groups import BottleGroup, groups_of, in_order_of_places, shown_group
from ...kit.cautioned import heard
from ...kit.numbers import number_of, whole, wholes
from ...kit.render import page
from ...kit.words import span_word

bp = Blueprint("cellar", __name__, url_prefix="/cellar", template_folder="templates")
GONE_SHOWN = 30  #: So many bottles that are gone are listed.
MANY = 24  #: From so many bottles on they are drawn small.


def numbers_sent() -> tuple[int, ...]:
    """Read which bottles were chosen."""
    sent = request.form.getlist("bottle")
    numbers = wholes(sent)
    if len(numbers) < len(set(sent)):
        abort(400, "Choose bottles from the list.")
    return numbers


def _back() -> Answer:
    """Go back to where one came from: the round, a bottle's page, or the rack."""
    came = (request.referrer or "").partition("?")[0].rstrip("/")
    if came == request.host_url.rstrip("/"):
        return redirect(url_for("round.show"), 303)
    return redirect(url_for("cellar.show"), 303)


@dataclass(frozen=True, slots=True)
class Filter:
    """One way to look at a part of the rack."""

    name: str
    address: str
    on: bool


def _filters(every: Sequence[BottleGroup], values: dict[str, str]) -> list[tuple[str, list[Filter]]]:
    """List the filters that tell something here: by flavour, place, taster, cold since."""

    def one(kind: str, value: str, name: str) -> Filter:
        on = values.get(kind) == value
        rest = {k: v for k, v in values.items() if k != kind and v}
        asked = urlencode(rest if on else {**rest, kind: value})
        return Filter(name, f"{url_for('cellar.show')}{'?' + asked if asked else ''}", on)

    names = sorted({flavours.name_in_ranking(x.bottles[0].bottling) for x in every})
    places = list(dict.fromkeys(x.place.name for x in every if x.place is not None))
    tasters = [taster.name for taster in queries.tasters_of(g.session)]
    out = []
    if len(names) > 1:
        out.append(("Flavour", [one("flavour", name, name) for name in names]))
    if len(places) > 1:
        out.append(("Place", [one("place", name, name) for name in places]))
    if len(tasters) > 1:
        out.append(("Liked by", [one("taster", name, name) for name in tasters]))
    out.append(("Cold", [one("cold", "1", "a day or more"), one("cold", "30", "a month or more")]))
    return out


def _kept(every: Sequence[BottleGroup], values: dict[str, str]) -> list[BottleGroup]:
    """Leave those that a filter lets through."""
    liked: dict[str, list[int]] = {}
    if values.get("taster"):
        for said in flavours.said(g.session):
            if said.taster == values["taster"]:
                liked.setdefault(said.flavour, []).append(said.liked)
    tests: list[Callable[[BottleGroup], bool]] = []
    if values.get("flavour"):
        tests.append(lambda x: flavours.name_in_ranking(x.bottles[0].bottling) == values["flavour"])
    if values.get("place"):
        tests.append(lambda x: x.place is not None and x.place.name == values["place"])
    if values.get("taster"):
        good = {name for name, some in liked.items() if sum(some) / len(some) >= LIKED_WELL}
        tests.append(lambda x: flavours.name_in_ranking(x.bottles[0].bottling) in good)
    if (days := whole(values.get("cold"), 0, 9999)) is not None:
        tests.append(lambda x: x.bottles[0].state == BottleState.COLD and _cold_days(x.bottles[0]) >= days)
    return [x for x in every if all(test(x) for test in tests)]


def _cold_days(bottle: Bottle) -> float:
    since = bottle.standings[-1].since if bottle.standings else bottle.bottling.at
    return days_between(since, g.now)


@bp.get("/")
def show() -> Response:
    """Show the rack."""
    sent = {key: request.args.get(key, "")[:80] for key in ("flavour", "place", "taster", "cold")}
    every = groups_of(queries.bottles(g.session, BottleState.WARM, BottleState.COLD), g.now)
    standing = [bottle for group in every for bottle in group.bottles]
    shown = _kept(every, sent)
    situation = Situation(
        moment=Occasion.BOTTLES,
        closed_bottles=any(group.limit_bar > 0 for group in every),
        abv_high=max((x.abv_high for x in every), default=0.0),
        pressing=any(x.pressing for x in every),
        honey=any(b.bottling.brew.honey_share > 0 for b in standing),
        flavours=tuple({b.bottling.flavour for b in standing}),
    )
    mild = request.args.get("mild") == "1"
    cold = [group.alike for group in every if group.bottles[0].state == BottleState.COLD]
    pace, runs_out = drinking.paces(g.session, standing, g.now) if standing else (None, [])
    return page(
        "cellar/show.html",
        groups=every,
        warm=sum(x.count for x in every if x.bottles[0].state == BottleState.WARM),
        cold=sum(x.count for x in every if x.bottles[0].state == BottleState.COLD),
        racks=in_order_of_places(shown),
        filtered=len(shown) < len(every),
        filters=_filters(every, sent),
        many=len(standing) > MANY,
        tonight=drinking.tonight(g.session, cold, g.now, mild),
        mild=mild,
        pace=pace,
        runs_out=runs_out,
        jars=drinking.jars(g.session),
        places=queries.places(g.session),
        gone=queries.last_gone(g.session, GONE_SHOWN),
        hisses=list(enumerate(HISS_WORDS)),
        leavings={key: way.name for key, way in LEAVINGS.items() if key in (LeftAs.DRUNK, LeftAs.GIVEN, LeftAs.PARTY, LeftAs.POURED)},
        cautions=heard(situation) if every else ShownCautions(),
    )


@bp.get("/bottles/<int:number>")
def show_bottle(number: int) -> Response:
    """Show one bottle: how it presses, what to do with it, how it was."""
    return _bottle(number)


def _bottle(number: int, status: int = 200, **more: Any) -> Response:
    bottle = queries.get(g.session, Bottle, number)
    alike = alike_of([bottle], g.now)
    brothers = drinking.brothers_of(bottle)
    group = bottle.bottling
    late, high = 0.0, alike.now_bar[2]
    if bottle.state == BottleState.WARM and alike.chill_at is not None and alike.chill_at < g.now:
        late = days_between(alike.chill_at, g.now)
    closure = bottle.type.closure or USUAL_CLOSURE.get(bottle.kind, "")
    age = days_between(bottle.type.closure_since, g.now) / 365.25 if bottle.type.closure_since is not None else None
    stood = [row.place.celsius for row in bottle.standings if row.place.kind == PlaceKind.ROOM]
    why = causes(
        drinking.warm_days(bottle, g.now), max(stood, default=20.0), group.added_sugar_g_per_l, bottle.headspace_fraction, high,
        bottle.limit_bar, worn(closure, age), bottle.kind == BottleSort.REUSED, burst=bottle.left_as == LeftAs.BURST,
        cold_hours=drinking.cold_hours(bottle, g.now),
    )  # fmt: skip
    return page(
        "cellar/bottle.html",
        None,
        status,
        bottle=bottle,
        group=shown_group(alike, g.now),
        brothers=brothers,
        warm_brothers=[b for b in brothers if b.state == BottleState.WARM],
        late=span_word(late) if late > 0 else "",
        late_words=late_words(late, high, bottle.limit_bar) if late > 0 and bottle.limit_bar else "",
        alarmed=bottle.left_as in {LeftAs.BURST, LeftAs.GUSHED} or bottle.hiss == len(HISS_WORDS) - 1,
        causes=why,
        opening=OPENING,
        hisses=list(enumerate(HISS_WORDS)),
        heard=list(enumerate(SQUEEZE_WORDS if bottle.kind == BottleSort.PET else HISS_WORDS)),
        tasters=queries.tasters_of(g.session),
        scores={row.taster_id: row for row in group.scores if row.bottle_id == bottle.id},
        leavings=LEAVINGS,
        cautions=heard(Situation(moment=Occasion.OPEN, closed_bottles=bottle.limit_bar > 0, abv_high=shown_group(alike, g.now).abv_high)),
        **more,
    )


@bp.post("/chill")
def chill() -> Answer:
    """Put bottles into the cold."""
    act(cellar.chill_bottles, cellar.MoveBottles(bottle_ids=numbers_sent()))
    return _back()


@bp.post("/warm")
def warm() -> Answer:
    """Put bottles back into the warm, where they were filled."""
    act(cellar.warm_bottles, cellar.MoveBottles(bottle_ids=numbers_sent()))
    return _back()


@bp.post("/move")
def move() -> Answer:
    """Move the chosen bottles somewhere else, or let them go."""
    what = request.form.get("what", "")
    if (place := whole(what)) is not None:
        act(cellar.shift_bottles, cellar.ShiftBottles(bottle_ids=numbers_sent(), place_id=place))
    elif what in LEAVINGS:
        whom = request.form.get("to_whom", "")
        act(cellar.finish_bottles, cellar.FinishBottles(bottle_ids=numbers_sent(), left_as=what, to_whom=whom))
    else:
        abort(400, "Choose where they go.")
    return redirect(url_for("cellar.show"), 303)


@bp.post("/open/<int:number>")
def open_one(number: int) -> Answer:
    """Open a bottle; how it was is asked next."""
    hiss = whole(request.form.get("hiss"))
    if hiss is None:
        abort(400, "Choose how it hissed.")
    act(cellar.open_bottle, cellar.OpenBottle(bottle_id=number, hiss=hiss, taste=request.form.get("taste", "")))
    return redirect(url_for("cellar.show_bottle", number=number), 303)


@bp.post("/heard")
def heard_some() -> Answer:
    """Record how bottles were when they were burped, or squeezed."""
    how = "squeezed" if request.form.get("how") == "squeezed" else "burped"
    act(cellar.hear_bottles, cellar.HearBottles(bottle_ids=numbers_sent(), how=how, hiss=request.form.get("hiss", type=number_of)))
    return _back()


@bp.post("/again/<int:number>")
def close_again(number: int) -> Answer:
    """Close a flat bottle again, and keep it warm for a day."""
    act(cellar.close_again, cellar.CloseAgain(bottle_id=number))
    return redirect(url_for("cellar.show_bottle", number=number), 303)


@bp.post("/lost/<int:number>")
def lose(number: int) -> Answer:
    """Record a bottle that burst, leaked, gushed empty or was dropped."""
    sent = request.form
    act(
        cellar.lose_bottle,
        cellar.LoseBottle(bottle_id=number, left_as=sent.get("left_as", ""), cause=sent.get("cause", "")),
    )
    return redirect(url_for("cellar.show_bottle", number=number), 303)


@bp.post("/gone")
def gone() -> Answer:
    """Mark bottles as gone."""
    act(cellar.finish_bottles, cellar.FinishBottles(bottle_ids=numbers_sent()))
    return _back()


@bp.get("/why/<int:number>")
def why(number: int) -> Response:
    """Return why a bottle must be cold by its day."""
    ask = pressure.bottle_ask_of(queries.get(g.session, Bottle, number))
    if ask.limit_bar is None:
        abort(404)
    return page("why.html", "_why.html", why=why_chill(ask))


