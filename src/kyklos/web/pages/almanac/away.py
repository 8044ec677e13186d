"""Away: what passes while nobody is there, what to do before, where to begin on return."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import calendar
from ....actions.base import RefusedError
from ....core.base.kinds import BottleState, DueKind, VesselKind
from ....core.brewing.away import Absent
from ....core.liquid.taste import score_word
from ....reckon.away import absences, catch_up_key
from ....reckon.judging.attention import attention_of
from ....store.read import planning_queries, queries
from ....store.records import Brew
from ...kit.acting import act
from ...kit.bottle_groups import BottleGroup, groups_of
from ...kit.render import page
from ...kit.stops import Stop, stop_of, stops_of
from ...kit.words import day_word, right_word
from .lanes import today_here
from .routes import bp

LEAVES_AT, BACK_AT = 9, 18  #: Hours of an absence, where nobody said so. [h, local]


@dataclass(frozen=True, slots=True)
class AwayRow:
    """A brew and the absence."""

    brew: Brew
    stop: Stop
    means: Absent
    options: tuple[tuple[str, str, bool], ...]  #: What, what it brings, whether it helps.


def _moment(day: date, hour: int) -> datetime:
    return datetime.combine(day, time(hour), ZoneInfo(g.household.zone)).astimezone(UTC)


def _brings(brew: Brew, option: Any) -> str:
    if option.kind == "early":
        when = brew.pitched_at + timedelta(days=option.window.p50)
        return f"{day_word(max(when, g.now), g.now, g.household.zone)}, {score_word(option.score)}"
    if option.window is None or option.window.p50 is None:
        return "not ready before you are back"
    if option.kind == "volume":
        when = brew.pitched_at + timedelta(days=option.window.p50)
        return f"right about {day_word(when, g.now, g.household.zone)}"
    return f"right {right_word(brew.pitched_at, option.window, g.now, g.household.zone)}"


def rows_of(leaves: date, returns: date) -> list[AwayRow]:
    """Return for each brew what an absence means; the pressing first."""
    leave, back = max(_moment(leaves, LEAVES_AT), g.now), _moment(returns, BACK_AT)
    out = []
    for brew, means in absences(g.session, leave, back, g.now):
        rows = tuple((o.says, _brings(brew, o), o.helps) for o in means.options)
        out.append(AwayRow(brew, stop_of(g.session, brew, g.now, g.household), means, rows))
    return out


def bottles_before(leaves: date, returns: date) -> list[tuple[BottleGroup, datetime]]:
    """List bottles that must be cold before the return, and by when somebody is still here to chill them."""
    leave, back = _moment(leaves, LEAVES_AT), _moment(returns, BACK_AT)
    rows = [(group, group.alike.chill_at) for group in groups_of(queries.bottles(g.session, BottleState.WARM), g.now)]
    return [(group, max(g.now, min(when, leave))) for group, when in rows if when is not None and when < back]


def _page(status: int = 200, problems: dict[str, str] | None = None) -> Response:
    row, today = planning_queries.absence(g.session), today_here()
    gone = row is not None and row.leaves <= today
    context: dict[str, Any] = {"row": row, "gone": gone, "problems": problems or {}, "least": today.isoformat()}
    if row is not None:
        context |= {"rows": rows_of(row.leaves, row.returns), "bottles": bottles_before(row.leaves, row.returns)}
    if gone:
        stops = stops_of(g.session, queries.living_brews(g.session), g.now, g.household)
        wanting = [s for s in stops if s.due.kind != DueKind.NOTHING]
        context["hotels"] = [v.name for v in queries.vessels(g.session) if v.kind == VesselKind.HOTEL and v.standings]
        context["catch_up"] = sorted(wanting, key=lambda s: catch_up_key(attention_of(g.session, s.brew, g.now)))
        context["groups"] = [group for group in groups_of(queries.bottles(g.session, "warm"), g.now) if group.pressing]
    return page("almanac/away.html", None, status, **context)


@bp.get("/away")
def away() -> Response:
    """Ask for the dates, or show what they mean."""
    return _page()


@bp.post("/away")
def leave() -> Answer:
    """Keep the dates."""
    dates, problems = {}, {}
    for name in ("leaves", "returns"):
        try:
            dates[name] = date.fromisoformat(request.form.get(name, ""))
        except ValueError:
            problems[name] = "Choose a day, like 2027-03-01."
    if not problems:
        try:
            act(calendar.go_away, calendar.GoAway(**dates))
            return redirect(url_for(".away"), 303)
        except RefusedError as refused:
            problems = {problem.field or "returns": problem.message for problem in refused.problems}
    return _page(422, problems)


@bp.post("/away/<int:number>/back")
def back(number: int) -> Answer:
    """End the absence, or call it off."""
    act(calendar.come_back, calendar.ComeBack(away_id=number))
    return redirect(url_for("round.show"), 303)
