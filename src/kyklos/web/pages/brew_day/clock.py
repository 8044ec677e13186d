"""The day by the clock: a turn-round of several vessels, and the tools it is laid out over."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing.recipes import AddTool, DropTool, add_tool, drop_tool
from ....core.base import CoreError
from ....core.brewing.threads import Day
from ....core.brewing.tools import TOOLS
from ....core.brewing.turn_round import waits
from ....drawing.run_sheet import SheetPiece
from ....drawing.run_sheet import run_sheet as drawn
from ....reckon import run_sheet
from ....reckon.brewing import brew_days
from ....reckon.kitchen_walk import under_way
from ....reckon.run_sheet import DayChoice
from ....store.read import culture_queries, planning_queries
from ....store.records import Vessel
from ...kit.acting import act
from ...kit.first_names import short
from ...kit.reader import hour_word
from ...kit.render import page
from ...kit.words import day_word, local
from .forms import ClockForm, ToolForm
from .place import bp

MOST_VESSELS, AT_FIRST = 4, 2  #: More at once nobody follows; so many are chosen at first.


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


@dataclass(frozen=True, slots=True)
class ClockWait:
    """A wait in which one can leave the kitchen."""

    at: datetime
    minutes: int


def _rows(day: Day, start: datetime) -> list[ClockRow | ClockWait]:
    """List the work in order of time, with the waits between."""
    idle = list(waits(day))
    out: list[ClockRow | ClockWait] = []
    for number, placed in enumerate(day.placed, 1):
        while idle and idle[0].end <= placed.start:
            one = idle.pop(0)
            out.append(ClockWait(start + timedelta(minutes=one.start), one.end - one.start))
        vessel, work = placed.thread.rsplit(": ", 1)[0], placed.work
        at = start + timedelta(minutes=placed.start)
        out.append(ClockRow(number, at, vessel, work.name, work.minutes, work.wait, work.waiting))
    return out


def _hours(start: datetime, minutes: int) -> list[tuple[int, str]]:
    zone = g.household.zone
    here = local(start, zone)
    step = 15 if minutes <= 120 else 30
    first = (-(here.minute)) % step
    return [(at, hour_word(local(start + timedelta(minutes=at), zone))) for at in range(first, minutes + 1, step)]


def _why_not(choice: DayChoice) -> str:
    if choice.right_in is None:
        return choice.why_not
    return f"is right from {day_word(g.now + timedelta(days=choice.right_in), g.now, g.household.zone)}"


@bp.get("/clock")
def clock() -> Response:
    """Lay out a day for the vessels chosen."""
    return _clock(request.args)


def clock_again(problem: str) -> Response:
    """Show the day again, with why it did not begin; what was chosen stays."""
    return _clock(request.form, 422, begin_problem=problem)


def _clock(sent: MultiDict[str, str], status: int = 200, **more: Any) -> Response:
    choices = [run_sheet.choice_of(g.session, v, g.now) for v in brew_days.brewing_vessels(g.session)]
    able = [choice for choice in choices if choice.what]
    first = [choice.vessel.id for choice in able if choice.what != run_sheet.FILL] or [choice.vessel.id for choice in able]
    form = ClockForm(sent if sent else None, meta={"csrf": False}, data={"vessels": first[:AT_FIRST]})
    form.vessels.choices = [(choice.vessel.id, f"{choice.vessel.name}: {choice.what}") for choice in able]
    context: dict[str, Any] = {
        "form": form, "day": None, "vessels": choices, "left_out": [(c.vessel.name, _why_not(c)) for c in choices if not c.what],
        "under_way": found[0] if (found := under_way(g.session, g.now)) else None, **more,
    }  # fmt: skip
    if not choices or not culture_queries.cultures(g.session) or not form.validate():
        return page("brew_day/clock.html", "brew_day/_clock.html", status, **context)
    chosen = [choice.vessel for choice in able if choice.vessel.id in (form.vessels.data or [])][:MOST_VESSELS]
    return page("brew_day/clock.html", "brew_day/_clock.html", status, **{**context, **_laid_out(form, chosen)})


def _laid_out(form: ClockForm, chosen: list[Vessel]) -> dict[str, Any]:
    if not chosen:
        return {"problem": "Choose a vessel."}
    hands = int(form.hands.data)
    try:
        laid = run_sheet.laid_out(g.session, chosen, hands, g.now)
    except CoreError as problem:
        return {"problem": str(problem)}
    day, when = laid.day, form.at.data or g.now
    start = when - timedelta(minutes=day.minutes) if form.by.data == "finish" else when
    pieces = [
        SheetPiece(
            number, p.thread, f"{number}: {p.work.name}, {p.work.minutes} min", p.start, p.end, p.free, p.work.takes, p.work.frees, p.work.gives
        )
        for number, p in enumerate(day.placed, 1)
    ]
    return {
        "day": day,
        "rows": _rows(day, start),
        "leaves": waits(day),
        "start": start,
        "finish": start + timedelta(minutes=day.minutes),
        "picture": drawn(pieces, day.minutes, _hours(start, day.minutes), _called(hands)),
        "bench": laid.bench,
        "chosen": chosen,
    }


def _called(hands: int) -> list[str]:
    """Return what each pair of hands is called: by the tasters' first names, where there are as many."""
    names = list(short().values())
    if hands == 1:
        return ["your hands"]
    return names[:hands] if len(names) >= hands else [f"hands {number}" for number in range(1, hands + 1)]


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
