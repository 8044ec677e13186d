"""The almanac: weeks behind and ahead, and days planned by dragging, by keys, or by a form."""

from __future__ import annotations

from datetime import date, timedelta

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import calendar
from ....actions.base import RefusedError
from ....drawing.almanac import almanac
from ....store.read import planning_queries, queries
from ...kit.acting import act
from ...kit.numbers import number_of
from ...kit.render import page
from .lanes import lanes_before, lanes_of, today_here

bp = Blueprint("almanac", __name__, url_prefix="/almanac", template_folder="templates")
BEHIND, AHEAD = 14, 28
MOST_WEEKS_BACK, PIECE_WEEKS = 260, 13  #: Five years, a season at a time.
MOST_LANES = 1_000


def _page(status: int = 200, problem: str = "") -> Response:
    weeks = min(max(request.args.get("weeks", 0, type=number_of), -MOST_WEEKS_BACK), 8)
    behind, ahead = BEHIND - 7 * weeks, AHEAD + 7 * weeks
    today, away = today_here(), planning_queries.absence(g.session)
    gone = ((away.leaves - today).days, (away.returns - today).days) if away is not None else None
    drawn = almanac(lanes_of(max(behind, BEHIND)), today, behind, max(ahead, 7 - behind), gone)
    living = queries.standing_brews(g.session)
    return page(
        "almanac/show.html",
        None,
        status,
        drawn=drawn,
        weeks=weeks,
        problem=problem,
        planned=planning_queries.planned_days(g.session),
        vessels=queries.vessels(g.session),
        standing=living,
        living={brew.vessel_id for brew in living},
        least=today.isoformat(),
        start=today - timedelta(days=behind),
    )


@bp.get("/")
def show() -> Response:
    """Show the almanac."""
    return _page()


@bp.get("/earlier")
def earlier() -> Response:
    """Show a season more of the past, to stand before what is shown already."""
    piece, lanes = (request.args.get(name, 1, type=number_of) for name in ("piece", "lanes"))
    piece, lanes = min(max(piece, 1), MOST_WEEKS_BACK // PIECE_WEEKS), min(max(lanes, 1), MOST_LANES)
    since, until = (BEHIND + 7 * PIECE_WEEKS * number for number in (piece, piece - 1))
    thickest = max((vessel.usable_l for vessel in queries.vessels(g.session)), default=1.0)
    drawn = almanac(lanes_before(since, until, lanes), today_here(), since, -until, thickest_l=thickest)
    return page("almanac/_earlier.html", drawn=drawn, piece=piece, lanes=lanes, last=piece * PIECE_WEEKS >= MOST_WEEKS_BACK)


@bp.post("/plan")
def plan() -> Answer:
    """Plan a day, or move one."""
    try:
        day = date.fromisoformat(request.form.get("day", ""))
    except ValueError:
        return _page(422, "Choose a day, like 2027-03-01.")
    vessel = request.form.get("vessel", 0, type=number_of)
    try:
        moved = request.form.get("plan", None, type=number_of)
        act(calendar.plan_day, calendar.PlanDay(kind=request.form.get("kind", ""), vessel_id=vessel, day=day, plan_id=moved))
    except RefusedError as refused:
        return _page(422, str(refused))
    return redirect(url_for(".show"), 303)


@bp.post("/plan/<int:number>/drop")
def drop(number: int) -> Answer:
    """Take a planned day off."""
    act(calendar.drop_plan, calendar.DropPlan(plan_id=number))
    return redirect(url_for(".show"), 303)
