"""The day by the clock: a turn-round of several vessels, and the tools it is laid out over."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing.recipes import AddTool, DropTool, add_tool, drop_tool
from ....core.base import CoreError
from ....core.brewing.threads import Day
from ....core.brewing.tools import TOOLS
from ....core.brewing.turn_round import turn_round
from ....drawing.timeline import Piece, timeline
from ....reckon.brewing import brew_days
from ....store.read import culture_queries, planning_queries
from ....store.records import Vessel
from ...kit.acting import act
from ...kit.render import page
from ...kit.words import local
from .forms import ClockForm, ToolForm
from .place import bp


@dataclass(frozen=True, slots=True)
class ClockRow:
    """One piece of work on the clock."""

    number: int
    at: datetime
    vessel: str
    name: str
    minutes: int
    wait: int
    waiting: str


def _rows(day: Day, start: datetime) -> list[ClockRow]:
    out = []
    for number, placed in enumerate(day.placed, 1):
        vessel = placed.thread.rsplit(": ", 1)[0]
        out.append(
            ClockRow(
                number,
                start + timedelta(minutes=placed.start),
                vessel,
                placed.work.name,
                placed.work.minutes,
                placed.work.wait,
                placed.work.waiting,
            )
        )
    return out


def _marks(start: datetime, minutes: int) -> list[tuple[int, str]]:
    zone = g.household.zone
    here = local(start, zone)
    step = 15 if minutes <= 120 else 30 if minutes <= 300 else 60
    first = (-(here.minute)) % step
    return [(at, f"{local(start + timedelta(minutes=at), zone):%H:%M}") for at in range(first, minutes + 1, step)]


@bp.get("/clock")
def clock() -> Response:
    """Lay out a turn-round of the vessels chosen."""
    vessels = brew_days.brewing_vessels(g.session)
    why_not = {v.id: brew_days.not_turned(g.session, v, g.now) for v in vessels}
    turned = [v for v in vessels if not why_not[v.id]]
    first = [v.id for v in turned if brew_days.is_ready(g.session, v, g.now)]
    form = ClockForm(
        request.args if request.args else None, meta={"csrf": False}, data={"vessels": first[:2]}
    )
    form.vessels.choices = [(v.id, v.name) for v in turned]
    left_out = [(v.name, why_not[v.id]) for v in vessels if why_not[v.id]]
    context: dict[str, Any] = {
        "form": form, "day": None, "vessels": vessels, "left_out": left_out, "tools": planning_queries.tools(g.session),
    }  # fmt: skip
    if not vessels or not culture_queries.cultures(g.session) or not form.validate():
        return page("brew_day/clock.html", "brew_day/_clock.html", **context)
    chosen = [v for v in turned if v.id in (form.vessels.data or [])][:4]
    return page("brew_day/clock.html", "brew_day/_clock.html", **{**context, **_laid_out(form, chosen)})


def _laid_out(form: ClockForm, chosen: list[Vessel]) -> dict[str, Any]:
    if not chosen:
        return {"problem": "Tick the vessels that are turned round."}
    try:
        day = turn_round(
            tuple(brew_days.turn_of(g.session, v, g.now) for v in chosen),
            brew_days.bench_of(g.session, int(form.hands.data)),
        )
    except CoreError as problem:
        return {"problem": str(problem)}
    when = form.at.data or g.now
    start = when - timedelta(minutes=day.minutes) if form.by.data == "finish" else when
    rows = _rows(day, start)
    pieces = [
        Piece(placed.thread, row.vessel, row.number, row.name, placed.start, row.minutes, row.wait, row.waiting)
        for row, placed in zip(rows, day.placed, strict=True)
    ]
    return {
        "day": day,
        "rows": rows,
        "start": start,
        "finish": start + timedelta(minutes=day.minutes),
        "picture": timeline(pieces, day.minutes, _marks(start, day.minutes)),
        "bench": brew_days.bench_of(g.session, int(form.hands.data)),
    }


@bp.get("/tools")
def tools() -> Response:
    """List the kitchen's tools."""
    return _tools(ToolForm(data={"number": 1}))


def _tools(form: ToolForm, status: int = 200) -> Response:
    names = {key: name for key, (name, _) in TOOLS.items()}
    return page("brew_day/tools.html", None, status, form=form, tools=planning_queries.tools(g.session), names=names)


@bp.post("/tools")
def new_tool() -> Answer:
    """Write a tool down."""
    form = ToolForm()
    if form.validate_on_submit():
        number = form.number.data
        try:
            act(
                add_tool,
                AddTool(
                    kind=form.kind.data, litres=form.litres.data, number=round(number) if abs(number) < 1000 else 0
                ),
            )
            return redirect(url_for("brew_day.tools"), 303)
        except RefusedError as refused:
            form.take(refused)
    return _tools(form, 422)


@bp.post("/tools/<int:number>/drop")
def lose_tool(number: int) -> Answer:
    """Cross a tool off."""
    act(drop_tool, DropTool(tool_id=number))
    return redirect(url_for("brew_day.tools"), 303)
