"""The cellar: bottles as they stand, by place; what is done with one or many."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.bottles import cellar
from ....core.base.facts import BOTTLES
from ....core.base.kinds import BottleSort, BottleState, LeftAs, Occasion
from ....core.bottles.heard import HISS_WORDS, SQUEEZE_WORDS
from ....core.bottles.if_warmer import MOST_K
from ....core.bottles.leaving import LEAVINGS, causes
from ....core.bottles.park import USUAL_CLOSURE, worn
from ....core.bottles.second_ferment import OPENING, late_words
from ....core.judging import Situation
from ....core.judging.cautions import ShownCautions
from ....core.liquid.standing import PlaceKind
from ....core.why import why_chill
from ....reckon.bottles import drinking, pressure
from ....reckon.bottles.cellar import Alike, alike_in, alike_of
from ....reckon.bottles.rack import RackLook, RackLot, is_so, lots_of
from ....reckon.bottles.situations import of_rack
from ....reckon.supply.drunk import RunsOut, drunk, runs_out, said_a_week
from ....store.read import queries
from ....store.read.moments import days_between
from ....store.records import Bottle
from ...kit import units
from ...kit.acting import act
from ...kit.bottle_groups import shown_group
from ...kit.cautioned import heard
from ...kit.chart_rows import PRESSURE_HEADS, pressure_rows
from ...kit.numbers import number_of, whole, wholes
from ...kit.rack import curve_of, passes_words, shelves_of, short_words
from ...kit.render import page
from ...kit.words import day_word, span_word

SHOWN_AHEAD = 30.0  #: The table of pressures goes on so long. [d]
bp = Blueprint("cellar", __name__, url_prefix="/cellar", template_folder="templates")
GONE_SHOWN = 30  #: So many bottles that are gone are listed.
MANY = 60  #: From so many bottles on they are drawn small.
MOST_SAID, MOST_SHOWN = 2, 200  #: Lots named in the sentence above, and bottles in a drawer.


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
    count: int
    address: str
    on: bool


LOOKS = {
    RackLook.READY: "ready", RackLook.TO_CHILL: "to chill", RackLook.TO_GIVE: "fit to give",
    RackLook.OLD: "older than a month", RackLook.GUSHED: "gushed before",
}  # fmt: skip


def _filters(lots: Sequence[RackLot], only: str) -> list[Filter]:
    """List the looks that show something, with how many bottles, after all of them."""
    tells = [(look, name, [lot for lot in lots if is_so(lot, look, g.now)]) for look, name in LOOKS.items()]
    out = [Filter("all", sum(len(lot.bottles) for lot in lots), url_for("cellar.show"), not only)]
    for look, name, some in tells:
        if some or only == look:
            out.append(Filter(name, sum(len(lot.bottles) for lot in some), url_for("cellar.show", only=str(look)), only == look))
    return out if len(out) > 1 else []


@bp.get("/")
def show() -> Response:
    """Show the rack."""
    only = request.args.get("only", "")[:20]
    only = only if only in set(RackLook) else ""
    standing = queries.bottles(g.session, BottleState.WARM, BottleState.COLD)
    alikes = alike_in(standing, g.now)
    lots = lots_of(alikes)
    shelves, drawings = shelves_of([lot for lot in lots if is_so(lot, only, g.now)])
    mild = request.args.get("mild") == "1"
    cold = [alike for alike in alikes if alike.first.state == BottleState.COLD]
    known = drunk(g.session, g.now)
    return page(
        "cellar/show.html",
        lots=lots,
        shelves=shelves,
        drawings=drawings,
        pressing=[(lot, short_words(lot)) for lot in lots if lot.pressing][:MOST_SAID],
        warm=sum(len(x.bottles) for x in alikes if x.first.state == BottleState.WARM),
        cold=sum(len(x.bottles) for x in cold),
        only=only,
        filters=_filters(lots, only),
        many=len(standing) > MANY,
        tonight=drinking.tonight(g.session, cold, g.now, mild),
        mild=mild,
        a_week=said_a_week(known.pace.litres_a_week, units.large_l(g.units)) if known.drinks else None,
        runs_out=_bars_of(runs_out(g.session, standing, g.now)),
        jars=drinking.jars(g.session),
        gone=queries.last_gone(g.session, GONE_SHOWN),
        hisses=list(enumerate(HISS_WORDS)),
        cautions=heard(of_rack(alikes)) if alikes else ShownCautions(),
        dated=dated(alikes),
    )


def dated(alikes: Sequence[Alike]) -> dict[str, str]:
    """Return by which day the first bottles that stand warm must be cold; one that may be past its limit is left where it is."""
    if any(one.past for one in alikes):
        return {"burst": "leave one past its limit standing"}
    days = [one.chill_at for one in alikes if one.limit_bar > 0 and one.first.state == BottleState.WARM and one.chill_at is not None]
    if not days:
        return {}
    late = min(days) <= g.now
    return {"burst": "into the cold now" if late else f"cold by {day_word(min(days), g.now, g.household.zone)}"}


def _bars_of(rows: Sequence[RunsOut]) -> list[tuple[RunsOut, float]]:
    """Give what runs out bars, the longest as long as its box, which is 200 wide."""
    days = [max(0.0, days_between(g.now, one.likely_at)) for one in rows]
    return [(one, 200 * mine / (max(days) or 1.0)) for one, mine in zip(rows, days, strict=True)]


def _some(sent: str) -> list[Bottle]:
    """Read which bottles a drawer is of; those that are gone meanwhile are left out."""
    numbers = wholes(sent.split(",")[:MOST_SHOWN])
    return [bottle for bottle in queries.bottles_of(g.session, numbers) if bottle.state != BottleState.GONE]


@bp.get("/some")
def some() -> Response:
    """Show the drawer of a lot: how it presses, its curve, and what can be done."""
    bottles = _some(request.args.get("of", ""))
    if not bottles:
        abort(404)
    lot = RackLot(tuple(alike_in(bottles, g.now)))
    kelvin = float(max(-MOST_K, min(MOST_K, whole(request.args.get("kelvin"), -MOST_K, MOST_K) or 0)))
    return page(
        "cellar/some.html",
        "cellar/_pressure.html" if "kelvin" in request.args else "cellar/_drawer.html",
        lot=lot,
        group=shown_group(lot.first, g.now),
        of=",".join(str(bottle.id) for bottle in lot.bottles),
        kinds=[(BOTTLES[alike.first.kind].name, alike.first.volume_ml, len(alike.bottles)) for alike in lot.alikes],
        curve=curve_of(lot.first, kelvin),
        passes=passes_words(lot.first, kelvin),
        kelvin=kelvin,
        most_k=MOST_K,
        cold=lot.first.first.state == BottleState.COLD,
        drink_by=lot.first.drink_by if lot.first.drink_by > g.now else None,
        places=queries.places(g.session),
        hisses=list(enumerate(SQUEEZE_WORDS if lot.first.first.kind == BottleSort.PET else HISS_WORDS)),
        opened=list(enumerate(HISS_WORDS)),
        squeezed=lot.first.first.kind == BottleSort.PET,
        leavings={key: way.name for key, way in LEAVINGS.items() if key in (LeftAs.DRUNK, LeftAs.GIVEN, LeftAs.PARTY, LeftAs.POURED)},
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
        curve=curve_of(alike) if bottle.state != BottleState.GONE else None,
        pressures=(PRESSURE_HEADS, pressure_rows(alike.future, alike.day + SHOWN_AHEAD)),
        passes=passes_words(alike),
        kelvin=0,
        dated=dated([alike]) if bottle.state == BottleState.WARM else {},
        cautions=heard(Situation(moment=Occasion.OPEN, closed_bottles=bottle.limit_bar > 0 and bottle.state != BottleState.GONE, abv_high=shown_group(alike, g.now).abv_high)),
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
    """Open a bottle, of those that are ticked where some are; how it was is asked next."""
    hiss, ticked = whole(request.form.get("hiss")), numbers_sent()
    number = number if number in ticked or not ticked else ticked[0]
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


