"""The day by the clock: a turn-round of several vessels, and the tools it is laid out over."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ...actions.base import RefusedError
from ...actions.recipes import AddTool, DropTool, add_tool, drop_tool
from ...core.brew_plan import BrewPlan, PlanAsk, make_plan
from ...core.errors import CoreError
from ...core.kinds import Diet, VesselKind
from ...core.schedule import Bench, Day
from ...core.steps import TOOLS
from ...core.turn_round import PotTold, VesselTurn, turn_round
from ...drawing.timeline import Piece, timeline
from ...reckon import warmth
from ...store import queries
from ...store.models import Vessel
from ..acting import act
from ..render import page
from ..words import local
from .defaults import last_card, usual_card
from .forms import ClockForm, ToolForm
from .place import bp
from .planning import _largest, vessel_facts

USUAL_BOTTLE_L = 0.5  #: Until the household's own bottles are known. [L]


@dataclass(frozen=True, slots=True)
class Row:
    """One piece of work on the clock."""

    number: int
    at: datetime
    vessel: str
    name: str
    minutes: int
    wait: int
    waiting: str


def _bench(hands: int) -> Bench:
    counts = {"burner": 0, "pot": 0, "jug": 0}
    for tool in queries.tools(g.session):
        if tool.kind in counts:
            counts[tool.kind] += tool.number
    burners, pots = max(1, counts["burner"]), max(1, counts["pot"])
    jugs = (("jug", counts["jug"]),) if counts["jug"] else ()
    return Bench(hands, (("burner", burners), ("pot", pots), *jugs))


def _usual_plan(vessel: Vessel) -> BrewPlan:
    """Plan the vessel's next brew as its last, with starter enough."""
    from ...core.brew_plan import StarterTold

    culture = vessel.brews[-1].culture if vessel.brews else queries.cultures(g.session)[0]
    kind = "jun" if culture.diet == Diet.JUN else "batch"
    card = last_card(vessel, culture, kind) or usual_card(culture, kind)
    return make_plan(
        PlanAsk(
            card=card,
            vessel=vessel_facts(vessel),
            culture=culture.name,
            diet=culture.diet,
            room_c=warmth.place_now(g.session, vessel.place, g.now)[0],
            pot_l=_largest("pot"),
            jug_l=_largest("jug"),
            pitcher_l=_largest("pitcher"),
            starters=(
                StarterTold(key="own", name="its own starter", left_l=vessel.usable_l, ph=3.1, instrument="meter"),
            ),
        )
    )


def _turn(vessel: Vessel) -> VesselTurn:
    plan, brew = _usual_plan(vessel), queries.brew_in(g.session, vessel.id)
    cool = (plan.heat.wait.hours or 0.0) * 60 if plan.heat.must_wait else 0.0
    pots = tuple(
        PotTold(
            round(pot.water_l, 2),
            plan.ask.card.on_leaf_c - plan.ask.cold_c,
            max(plan.ask.card.steeps_minutes, 5.0),
            round(cool),
        )
        for pot in plan.rounds.pots
    )
    bottles = round(0.8 * brew.left_l / USUAL_BOTTLE_L) if brew is not None else 0
    return VesselTurn(vessel.name, pots if plan.heat.method != "cold" else (), bottles, brew is not None)


def _rows(day: Day, start: datetime) -> list[Row]:
    out = []
    for number, placed in enumerate(day.placed, 1):
        vessel = placed.thread.rsplit(": ", 1)[0]
        out.append(
            Row(
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
    vessels = [v for v in queries.vessels(g.session) if v.kind != VesselKind.HOTEL]
    form = ClockForm(
        request.args if request.args else None, meta={"csrf": False}, data={"vessels": [v.id for v in vessels[:2]]}
    )
    form.vessels.choices = [(v.id, v.name) for v in vessels]
    context: dict[str, Any] = {"form": form, "day": None, "vessels": vessels, "tools": queries.tools(g.session)}
    if not vessels or not queries.cultures(g.session) or not form.validate():
        return page(
            "brew_day/clock.html", "brew_day/_clock.html", form=form, day=None, vessels=vessels, tools=context["tools"]
        )
    chosen = [v for v in vessels if v.id in (form.vessels.data or [])][:4]
    return page("brew_day/clock.html", "brew_day/_clock.html", **{**context, **_laid_out(form, chosen)})


def _laid_out(form: ClockForm, chosen: list[Vessel]) -> dict[str, Any]:
    if not chosen:
        return {"problem": "Tick the vessels that are turned round."}
    try:
        day = turn_round(tuple(_turn(v) for v in chosen), _bench(int(form.hands.data)))
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
        "bench": _bench(int(form.hands.data)),
    }


@bp.get("/tools")
def tools() -> Response:
    """List the kitchen's tools."""
    return _tools(ToolForm(data={"number": 1}))


def _tools(form: ToolForm, status: int = 200) -> Response:
    names = {key: name for key, (name, _) in TOOLS.items()}
    return page("brew_day/tools.html", None, status, form=form, tools=queries.tools(g.session), names=names)


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
