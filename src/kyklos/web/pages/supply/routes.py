"""Enough to drink: the plan of twelve weeks, what if, guests and other wishes; put in the almanac as it is shown."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import supply
from ....actions.base import RefusedError
from ....core.base.kinds import Units
from ....core.quick.amounts import GLASS_L
from ....core.quick.wishes import wish_said
from ....core.supply.demand import PRIOR_L
from ....reckon.supply import drunk, planning
from ....reckon.supply.producers import WhatElse
from ....store.read import planning_queries, queries
from ...kit import units
from ...kit.acting import act
from ...kit.goods_words import money_word
from ...kit.numbers import decimal_of, number_of
from ...kit.render import page
from ...kit.words import local_today
from . import telling

bp = Blueprint("supply", __name__, url_prefix="/supply", template_folder="templates")



@bp.context_processor
def _words() -> dict[str, Any]:
    return {"money": money_word, "say": EXAMPLES[g.units], "assumed_l": PRIOR_L}


MOST_A_WEEK, MOST_COLDER, MOST_JAR = 200.0, 10.0, 60.0  #: [L, K, L]
MOST_DAYS_SENT = 400
WISH_NOT_READ = "Say when and how much: Saturday, 6 people, 2 glasses; a gift of 10 bottles on 4 March; {} a week more in July."
EXAMPLES = {
    Units.METRIC: {"bought": "1 kg sugar 1.49", "list": "500 g damson, 2 strainers", "more": "2 L"},
    Units.US: {"bought": "4 lb sugar 3.99", "list": "1 lb damson, 2 strainers", "more": "2 qt"},
}  #: As a household of these units would write it.


def _asked() -> tuple[WhatElse, dict[str, str]]:
    """Read what is asked besides what is, with the problems beside the fields."""
    problems: dict[str, str] = {}

    def quantity(name: str, kind: str, most: float) -> float | None:
        typed = request.args.get(name, "").strip()[:40]
        if not typed:
            return None
        try:
            value = units.parse(typed, kind, g.units)
        except units.NotANumberError as problem:
            problems[name] = str(problem)
            return None
        if not 0 < value <= most:
            problems[name] = f"Up to {units.words(most, kind, g.units)}."
            return None
        return value

    colder = request.args.get("colder", "").strip()[:10]
    found = WhatElse(
        litres_a_week=quantity("litres", "volume", MOST_A_WEEK),
        without=request.args.get("without", type=number_of),
        jar_l=quantity("jar", "volume", MOST_JAR),
        no_heater=request.args.get("unheated") == "1",
        colder_k=_colder(colder, problems),
    )
    return found, problems


def _colder(typed: str, problems: dict[str, str]) -> float:
    if not typed:
        return 0.0
    try:
        degrees = decimal_of(typed.replace(",", "."))
    except ValueError:
        problems["colder"] = "Type a number of degrees, like 2."
        return 0.0
    if not 0 <= degrees * units.degree_k(g.units) <= MOST_COLDER:
        problems["colder"] = "Up to ten degrees colder, no more."
        return 0.0
    return degrees * units.degree_k(g.units)


def _page(status: int = 200, wish: str = "", wish_problem: str = "", problem: str = "") -> Response:
    asked, problems = _asked()
    plan = planning.enough(g.session, g.now, asked)
    taken = planning.takes(g.session, plan, g.now)
    wishes = drunk.wishes_ahead(g.session, g.now)
    through_year, warm = planning.through_year(g.session, plan, g.now, asked)
    context: dict[str, Any] = {
        "plan": plan,
        "asked": asked,
        "problems": problems,
        "problem": problem,
        "lead": telling.lead_parts(plan),
        "says": telling.plan_sentence(plan),
        "moved": telling.moved_says(plan),
        "days": telling.saved_days(plan) if not asked.asked else [],
        "wide": telling.chart(plan, wishes),
        "narrow": telling.chart(plan, wishes, narrow=True),
        "wishes": [(row, telling.wish_says(row)) for row in wishes],
        "wish": wish,
        "wish_problem": wish_problem,
        "work": telling.work_taken(taken),
        "goods": telling.goods_taken(taken),
        "bottles": telling.bottles_taken(taken),
        "money": telling.money_taken(taken),
        "seasons": through_year,
        "warmer": telling.warmer_says(warm),
        "said_l": lambda litres: drunk.said_a_week(litres, units.large_l(g.units)),
        "most": [(lane.producer.name, lane.most_l) for lane in plan.in_plan if lane.most_l],
        "vessels": queries.vessels(g.session),
        "planned": any(row.by_plan for row in planning_queries.planned_days(g.session)),
    }
    return page("supply/show.html", "supply/_plan.html" if request.args.get("part") == "plan" else None, status, **context)


@bp.get("/")
def show() -> Response:
    """Show the plan."""
    return _page()


@bp.post("/plan")
def accept() -> Answer:
    """Put the plan in the almanac, day for day as it was shown."""
    days = tuple(day for text in request.form.getlist("day")[:MOST_DAYS_SENT] if (day := _day_of(text)) is not None)
    try:
        act(supply.accept_plan, supply.AcceptPlan(days=days))
    except RefusedError as refused:
        return _page(422, problem=str(refused))
    return redirect(url_for("almanac.show"), 303)


def _day_of(text: str) -> supply.DayOfPlan | None:
    """Read a day of the plan as the form carries it; None where it is none."""
    kind, _, rest = text[:60].partition(":")
    try:
        vessel, day, litres = rest.split(":")
        found = supply.DayOfPlan(kind, number_of(vessel), date.fromisoformat(day), decimal_of(litres))
    except ValueError:
        return None
    return found if kind in {"brew", "draw"} and 0 < found.litres < 1000 else None


@bp.post("/wishes")
def wish() -> Answer:
    """Count guests, a gift or a wish in."""
    typed = request.form.get("line", "").strip()[:120]
    said = wish_said(typed, local_today(), g.household.glass_l or GLASS_L, always=True)
    if said is None:
        return _page(422, wish=typed, wish_problem=WISH_NOT_READ.format(EXAMPLES[Units(g.units)]["more"]))
    try:
        act(supply.make_wish, supply.MakeWish(kind=said.kind, day=said.day, litres=said.litres, until=said.until, people=said.people, glasses=said.glasses, words=typed))
    except RefusedError as refused:
        return _page(422, wish=typed, wish_problem=str(refused))
    return redirect(url_for(".show"), 303)


@bp.post("/wishes/<int:number>/off")
def call_off(number: int) -> Answer:
    """Call guests or another wish off."""
    act(supply.call_off, supply.CallOff(wish_id=number))
    return redirect(url_for(".show"), 303)
