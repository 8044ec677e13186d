"""The plan of a brew day from what is typed: the form read into an ask, the ask computed, problems beside the fields."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from flask import g

from ....actions.brew_days import plan_record, poured_as_planned, widest_instrument
from ....actions.brewing.pitching import PitchBrew
from ....actions.trying import BrewedFor
from ....core.base import CoreError
from ....core.base.errors import Problem
from ....core.base.kinds import Dimension, KindOfBrew, Origin
from ....core.base.water import SOURCES, Water
from ....core.brewing import RecipeCard, make_plan
from ....core.brewing.by_weight import fits, strengths
from ....core.brewing.measures import STRENGTHS, TAKES, DryAmount, two_shares
from ....core.brewing.notes import EXPERIMENTS
from ....core.brewing.planner import BrewPlan, PlanAsk, StarterTold, forecast_ask, foretell, situation
from ....core.forecast import Forecast
from ....core.judging.cautions import ShownCautions
from ....core.liquid import acids, teas
from ....core.liquid.teas import text_of
from ....core.why import Why, why_ready, whys_of
from ....reckon.brewing import brew_days
from ....reckon.cultures import quarantine
from ....reckon.forecast import forecasting, palates, warmth
from ....store.read import culture_queries, queries
from ....store.records import Brew, Culture, Vessel
from ...kit.acting import in_units
from ...kit.cautioned import heard
from ...kit.right_words import right_words
from .forms import PlanForm


@dataclass(frozen=True, slots=True)
class Shown:
    """A plan with all that its page says of it."""

    plan: BrewPlan
    vessel: Vessel
    culture: Culture
    forecast: Forecast
    ready_words: str
    cautions: ShownCautions
    whys: dict[str, Why]
    notes: list[tuple[bool, str]]


def _out_of_range(form: PlanForm) -> list[Problem]:
    problems = []
    for name, (low, high) in TAKES.items():
        value = form[name].data
        if value is not None and not low <= value <= high:
            kind = form[name].kind
            ends = [f"{end:g}" if kind == Dimension.NUMBER else in_units(end, kind) for end in (low, high)]
            problems.append(Problem(name, f"That is outside what a brew takes: from {ends[0]} to {ends[1]}."))
    rows = [form[name].data is not None for name in ("base_ml", "base_normality", "sample_ml")]
    if any(rows) and not all(rows):
        name = ("base_ml", "base_normality", "sample_ml")[rows.index(False)]
        problems.append(Problem(name, "A titration needs all three: base used, its strength, the sample."))
    if form.other_l.data is None and (form.starter_ph.data is not None or any(rows)):
        problems.append(Problem("other_l", "Say how much there is of it."))
    for name, what in (("tea2", "tea"), ("sweetener2", "sweetener")):
        if form[name].data and form[f"{name}_percent"].data is None:
            problems.append(Problem(f"{name}_percent", f"Say the share of the second {what}."))
    return problems


def _tea(form: PlanForm) -> Any:
    return teas.blend(tuple(two_shares(form.tea.data, form.tea2.data, form.tea2_percent.data)))


def _sweeteners(form: PlanForm) -> list[tuple[str, float]]:
    return two_shares(form.sweetener.data, form.sweetener2.data, form.sweetener2_percent.data)


def _water(form: PlanForm) -> Water:
    value = form.alkalinity.data
    return Water(form.source.data, SOURCES[form.source.data][1] if value is None else value, form.treatment.data)


def _card(form: PlanForm, leaf: float, sugar: float) -> RecipeCard:
    return RecipeCard(
        kind=form.kind.data,
        tea=_tea(form),
        leaf_g_per_l=leaf,
        sweeteners=tuple(_sweeteners(form)),
        sugar_g_per_l=sugar,
        steep_minutes=form.steep_minutes.data,
        water_c=form.water_c.data,
        steep=form.steep.data,
        honey=form.honey.data,
        floor=form.floor.data,
        heat_method=form.heat_method.data,
        seed="both" if form.disc.data else "liquid",
        reserve=form.reserve.data,
        share=None if form.share.data is None else form.share.data / 100,
        base=(form.base.data or "").strip()[:80] if form.kind.data == KindOfBrew.TRIAL else "",
        g_per_spoon=form.g_per_spoon.data,
        g_per_bag=form.g_per_bag.data,
        water=_water(form),
    )


def _starters(form: PlanForm, vessel: Vessel) -> tuple[StarterTold, ...]:
    out = [brew_days.heel_told(g.session, vessel, form.heel_l.data, g.now)] if form.heel_l.data else []
    out += brew_days.lots_told(g.session, form.lots.data or (), g.now)
    if form.other_l.data:
        titrated = None
        if form.base_ml.data is not None and form.base_normality.data and form.sample_ml.data:
            titrated = acids.titration(form.base_ml.data, form.base_normality.data, form.sample_ml.data)
        kind = form.other_kind.data
        name = {"bottle": "the raw bottle", "hotel": "the hotel's liquid"}.get(kind, "the other starter")
        out.append(
            StarterTold(
                key="other",
                name=name,
                left_l=form.other_l.data,
                ph=form.starter_ph.data,
                ta_g_per_l=titrated,
                instrument=form.starter_instrument.data if form.starter_ph.data is not None else "estimate",
                kind=kind,
            )
        )
    return tuple(out)


def ask_of_form(form: PlanForm) -> PlanAsk | None:
    """Read a form into a plan's ask; None while something typed does not hold."""
    ok = bool(form.validate())
    problems = _out_of_range(form)
    form.add_problems(problems)
    if not ok or problems:
        return None
    vessel, culture = (
        queries.get(g.session, Vessel, form.vessel.data),
        queries.get(g.session, Culture, form.culture.data),
    )
    ask = PlanAsk(
        card=_card(form, 4.5, 55.0),
        vessel=brew_days.vessel_facts(vessel),
        culture=culture.name,
        diet=culture.diet,
        usual=brew_days.usual_tea(g.session),
        room_c=warmth.place_now(g.session, vessel.place, g.now)[0],
        cold_c=form.cold_c.data,
        liquid_l=form.liquid_l.data,
        disc_l=form.disc_l.data or 0.0,
        starters=_starters(form, vessel),
        vinegar_l=form.vinegar_l.data or 0.0,
        pot_l=brew_days.largest_l(g.session, "pot"),
        jug_l=brew_days.largest_l(g.session, "jug"),
        pitcher_l=brew_days.largest_l(g.session, "pitcher"),
        earlier_brews=culture_queries.harvested(g.session, culture),
        dried=culture.origin == Origin.DRIED,
        backups=len(quarantine.backups_of(g.session, culture, g.now).living) if form.kind.data in EXPERIMENTS else None,
        rivals=vessel.place.rivals,
    )
    return _with_strengths(form, ask)


def _with_strengths(form: PlanForm, ask: PlanAsk) -> PlanAsk | None:
    """Put leaf and sweetener in as they were typed; None after a problem."""
    given: dict[str, DryAmount] = {name: form[name].data for name in STRENGTHS}
    if given["sugar"].kind == Dimension.BAGS:
        form.add_problems([Problem("sugar", "Sweetener does not come in bags: type grams, cups or spoons.")])
        return None
    found = strengths(ask, given)
    wrong = [name for name, value in found.items() if not fits(name, value)]
    for name in wrong:
        low, high = (in_units(end, "strength") for end in STRENGTHS[name])
        also = "" if given[name].kind == Dimension.STRENGTH else f" This is {in_units(found[name], 'strength')}."
        form.add_problems([Problem(name, f"That is outside what a brew takes: from {low} to {high}.{also}")])
    return None if wrong else replace(ask, card=_card(form, found["leaf"], found["sugar"]))


def plan_of(form: PlanForm) -> Shown | None:
    """Compute the plan; None while something typed does not hold."""
    try:
        ask = ask_of_form(form)
        return None if ask is None else shown_of(make_plan(ask), form.vessel.data, form.culture.data)
    except CoreError as problem:
        form.add_problems([Problem("", str(problem))])
        return None


def shown_of(plan: BrewPlan, vessel_id: int, culture_id: int) -> Shown:
    """Put together what is said of a plan."""
    vessel, culture = queries.get(g.session, Vessel, vessel_id), queries.get(g.session, Culture, culture_id)
    prior, points = forecasting.prior_of(culture, tea=text_of(plan.recipe.tea)), palates.points_of(g.session, plan.recipe.honey_share)
    out = foretell(plan, prior, points)
    asked = forecast_ask(plan, prior, points)
    whys = {f"ready {name}": why_ready(asked, name) for name in out.ready} | whys_of(plan)
    notes = [(note.grave, note.words(in_units)) for note in plan.notes]
    notes += [(grave, text) for grave, text in _household_notes(plan, vessel, culture)]
    return Shown(plan, vessel, culture, out, _ready_words(out), heard(situation(plan)), whys, notes)


def _household_notes(plan: BrewPlan, vessel: Vessel, culture: Culture) -> list[tuple[bool, str]]:
    """Return what only the household's records know: a full vessel, a brew that will give better starter."""
    out = []
    occupied = queries.brew_in(g.session, vessel.id)
    if occupied is not None:
        out.append((False, f"{vessel.name} is full: {occupied.culture.name} stands in it. Harvest it first."))
    if plan.choice.advised is None:
        out += [(False, _gives_starter(*one)) for one in brew_days.gives_starter(g.session, culture, g.now)]
    return out


def _gives_starter(brew: Brew, in_days: float) -> str:
    """Return when a living brew is sour enough to be strong starter. [d]"""
    when = "already" if in_days <= 0 else f"in about {in_days:.0f} days"
    return f"{brew.culture.name} in {brew.vessel.name} is {when} at pH {brew_days.GOOD_STARTER_PH:g}: its liquid is good starter."


def _ready_words(out: Forecast) -> str:
    return right_words(out.ready, g.now, g.now, g.household.zone)


def brewed_for(form: PlanForm) -> BrewedFor:
    """Read what a brew is brewed for."""
    return BrewedFor(experiment_id=form.experiment.data, question=form.question.data or "", changed=form.changed.data or "")


def pitch_of(form: PlanForm, shown: Shown) -> PitchBrew:
    """Turn form and plan into an ask, for a brew that is in its vessel already."""
    plan = shown.plan
    return PitchBrew(
        vessel_id=shown.vessel.id,
        culture_id=shown.culture.id,
        starter_lot_id=None,
        disc_id=form.disc.data or None,
        recipe=plan.recipe,
        starter_instrument=widest_instrument(plan),
        final_l=plan.final_l,
        plan=plan_record(plan),
        kind=plan.kind.key,
        base=plan.ask.card.base,
        poured=poured_as_planned(plan),
        other_line=bool(form.other_line.data),
        measured_ph=form.measured_ph.data,
        instrument=form.instrument.data,
        celsius=form.celsius.data,
        brewed_for=brewed_for(form),
    )
