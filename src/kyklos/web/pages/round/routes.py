"""The round: a walk past everything alive, and undo."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from flask import Blueprint, Response, abort, flash, g, jsonify, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import calendar
from ....actions.brewing import watching
from ....actions.undo import Undo, undo
from ....core.base.kinds import BottleState, DueKind
from ....core.bottles.advice import CHILLED_TODAY
from ....core.brewing.contingencies import CONTINGENCIES
from ....core.forecast import forecast
from ....core.forecast.what_if import Alternative, what_if
from ....drawing.rack import BottleShape
from ....reckon.bottles.cellar import alike_in
from ....reckon.bottles.rack import lots_of
from ....reckon.cultures import spoilage
from ....reckon.cultures.spoilage import Incident
from ....reckon.forecast import forecasting
from ....store.read import moments, planning_queries, queries
from ....store.records import Away, Brew
from ...kit.acting import act
from ...kit.bottle_groups import BottleGroup, groups_of, shown_group
from ...kit.rack import RackShelf, ShownLot, shelves_of
from ...kit.render import page
from ...kit.small_dues import SmallDue, small_dues
from ...kit.stops import Stop, stops_of

LEAST_WAIT = 2.0  #: A shorter wait is not worth a word. [d]
LOTS_SHOWN = 8  #: So many groups of warm bottles stand beside the round; the cellar shows all.
bp = Blueprint("round", __name__, template_folder="templates")


@dataclass(frozen=True, slots=True)
class Waiting:
    """Something put off."""

    number: int
    name: str
    what: str
    until: datetime


@dataclass(frozen=True, slots=True)
class Walk:
    """The round of today."""

    stops: Sequence[Stop]  #: What is urgent first, then as they stand.
    shelves: Sequence[RackShelf]
    drawings: Sequence[BottleShape]
    more_warm: int  #: Bottles that stand warm besides, further from their limit.
    to_chill: Sequence[int]  #: Numbers of the bottles that go into the cold today.
    wanting: int  #: Jars.
    first: Stop | None
    pressing: ShownLot | None
    small: Sequence[SmallDue]
    waiting: Sequence[Waiting]
    away: Away | None
    incidents: Sequence[Incident]  #: What spoiled, and what is held for it.
    young: bool  #: One brew and nothing bottled: our own words are explained.

    @property
    def days_to_wait(self) -> int:
        """How many days until a first brew may be right; 0: fewer than two, or nobody can tell."""
        ahead = [(window.p10 or window.p50 or 0.0) - stop.day for stop in self.stops for window in stop.forecast.ready.values()]
        return int(max(0.0, min(ahead, default=0.0))) if min(ahead, default=0.0) >= LEAST_WAIT else 0


def walk_of(brews: Sequence[Brew]) -> Walk:
    """Put the round together: living brews by place, warm bottles."""
    stops = stops_of(g.session, brews, g.now, g.household)
    stops.sort(key=lambda s: not s.due.urgent)
    wanting = [s for s in stops if s.due.kind != DueKind.NOTHING]
    lots = lots_of(alike_in(queries.bottles(g.session, BottleState.WARM), g.now))
    shelves, drawings = shelves_of(lots[:LOTS_SHOWN])
    more_warm = sum(len(lot.bottles) for lot in lots[LOTS_SHOWN:])
    shown = {id(one.lot): one for shelf in shelves for one in shelf.lots}
    pressing = shown[id(lots[0])] if lots and lots[0].pressing else None
    to_chill = [bottle.id for lot in lots if lot.step in CHILLED_TODAY for bottle in lot.bottles]
    small, small_off = small_dues(g.session, g.now)
    waiting = [Waiting(row.id, s.brew.vessel.name, due.what, row.until) for s in stops for due, row in s.waiting]
    waiting += [Waiting(row.id, due.what, due.says, row.until) for due, row in small_off]
    away = planning_queries.absence(g.session)
    young = len(stops) <= 1 and not lots and queries.last_brew(g.session, Brew.ended_at.is_not(None)) is None
    return Walk(
        stops, shelves, drawings, more_warm, to_chill, len(wanting), wanting[0] if wanting else None, pressing, small, waiting, away,
        spoilage.incidents(g.session, g.now), young,
    )  # fmt: skip


@bp.get("/")
def show() -> Response:
    """Show today's round; `begin` answers instead while nothing is alive."""
    session = g.session
    brews = queries.living_brews(session)
    return page("round/show.html", walk=walk_of(brews), tasters=queries.tasters_of(session))


@bp.post("/put-off")
def put_off() -> Answer:
    """Put a due thing off until later today, tomorrow, in some days."""
    what, wait = request.form.get("what", "")[:60], request.form.get("wait", "")
    until = _until(wait)
    if until is None:
        abort(400, "Choose until when.")
    act(calendar.put_off, calendar.PutOffDue(what=what, until=until))
    return redirect(_back(), 303)


def _until(wait: str) -> datetime | None:
    """Turn a choice into a moment: this evening, tomorrow morning, in three days, in a week; in the household's zone."""
    local: datetime = g.now.astimezone(ZoneInfo(g.household.zone))
    days = {"evening": 0, "tomorrow": 1, "3": 3, "7": 7}
    if wait not in days:
        return None
    there = (local + timedelta(days=days[wait])).replace(
        hour=19 if wait == "evening" else 6, minute=0, second=0, microsecond=0
    )
    return max(there, local + timedelta(hours=1)).astimezone(UTC)


def _back() -> str:
    back = request.referrer or ""
    return back if back.startswith(request.host_url) else url_for("round.show")


@bp.post("/take-up/<int:number>")
def take_up(number: int) -> Answer:
    """Bring something back that was put off."""
    act(calendar.take_up, calendar.TakeUp(number=number))
    return redirect(_back(), 303)


@bp.post("/label/<int:number>")
def label(number: int) -> Answer:
    """Note that a brew has its label."""
    act(watching.label_brew, watching.LabelBrew(brew_id=number))
    return redirect(_back(), 303)


@bp.get("/notices")
def notices() -> Response:
    """List what a browser may tell now: nothing in the quiet hours."""
    return jsonify(quiet_now_or(_notices))


def _notices() -> list[dict[str, str]]:
    """Return of bottles first, for they cannot wait; then of brews, the urgent first."""
    walk = walk_of(queries.living_brews(g.session))
    pressing = [shown_group(lot.lot.first, g.now) for shelf in walk.shelves for lot in shelf.lots if lot.lot.pressing]
    return [*(_bottle_notice(group) for group in pressing), *(_notice(stop) for stop in _urgent_first(walk))]


def _bottle_notice(group: BottleGroup) -> dict[str, str]:
    return {
        "key": f"bottles-{group.key}-{g.now.astimezone(ZoneInfo(g.household.zone)):%j}",
        "title": group.name,
        "body": group.advice,
        "address": url_for("cellar.show_bottle", number=group.bottles[0].id),
    }


def _urgent_first(walk: Walk) -> list[Stop]:
    return [stop for stop in walk.stops if stop.due.urgent or stop.due.kind != DueKind.NOTHING]


def _notice(stop: Stop) -> dict[str, str]:
    return {
        "key": f"brew-{stop.brew.id}-{stop.due.kind}-{g.now.astimezone(ZoneInfo(g.household.zone)):%j}",
        "title": f"{stop.brew.vessel.name}: {stop.due.what[0].lower()}{stop.due.what[1:]}",
        "body": stop.due.why,
        "address": url_for("round.show") + f"#stop-{stop.brew.id}",
    }


def quiet_now_or(make: Callable[[], list[dict[str, str]]]) -> list[dict[str, str]]:
    """Return nothing in the quiet hours, else what is asked for."""
    hour, start, end = g.now.astimezone(ZoneInfo(g.household.zone)).hour, g.household.quiet_from, g.household.quiet_to
    quiet = start <= hour < end if start <= end else hour >= start or hour < end
    return [] if quiet else make()


@bp.get("/trouble")
def trouble() -> Response:
    """Return what to do in a heat wave, a power cut, or when a heater overshoots, and what it means for each brew."""
    kind = request.args.get("what", "heat-wave")
    if kind not in CONTINGENCIES:
        abort(404)
    found = CONTINGENCIES[kind]
    rows = []
    for brew in queries.living_brews(g.session):
        ask, day = forecasting.forecast_ask_of(g.session, brew), moments.age_of(brew.pitched_at, g.now)
        usual = forecast(ask).ready
        then = what_if(ask, day, Alternative("room", found.room_c)).ready
        name = next(iter(usual))
        rows.append((brew, usual[name], then[name]))
    groups = groups_of(queries.bottles(g.session, BottleState.WARM), g.now)
    return page("round/trouble.html", kinds=CONTINGENCIES, found=found, rows=rows, groups=groups)


@bp.post("/undo/<int:number>")
def undo_change(number: int) -> Answer:
    """Take an action back, and return to where it was confirmed."""
    done = act(undo, Undo(number))
    flash(done.says, "say")
    return redirect(_back(), 303)
