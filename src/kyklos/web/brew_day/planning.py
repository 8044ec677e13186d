"""The plan of a brew day: amounts, heat, starting pH and ready days from what is typed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import g, request

from ...actions.brewing import PitchBrew, planned_amounts
from ...core import acids, heat, sweet_tea
from ...core.cautions import Caution, Situation, cautions_for
from ...core.errors import CoreError, Problem
from ...core.facts import INSTRUMENTS, TEAS, limit
from ...core.ferment import Recipe
from ...core.forecast import Forecast, ForecastAsk, forecast
from ...core.temperature import Course
from ...core.why import Why, why_ready, why_start_ph, why_starter
from ...store import queries, values
from ...store.models import Culture, Disc, StarterLot, Vessel
from .. import units
from ..stops import joined
from ..words import window_word
from .forms import SWEETENERS, PlanForm

LEAF_G_PER_L, SUGAR_G_PER_L, COLD_C = 4.5, 55.0, 15.0
UNKNOWN_STARTER_PH, UNKNOWN_SD = 3.2, 0.2  #: A finished brew never measured (typical). [pH]
ESTIMATE_SD = 0.2  #: A starter foretold, not measured (assumed). [pH]
STEEP_LOSS_C = 10.0  #: Steeping cools the pot by about so much (assumed). [K]


@dataclass(frozen=True, slots=True)
class StarterTold:
    """What is known of the starter's acid."""

    ph: float
    sd: float
    instrument: str  #: or estimate
    says: str


@dataclass(frozen=True, slots=True)
class Plan:
    """A brew day, computed."""

    vessel: Vessel
    culture: Culture
    recipe: Recipe
    starter: StarterTold
    need: acids.StarterNeed
    amounts: sweet_tea.Amounts
    household: dict[str, str]
    heat: heat.HeatPlan
    hot_c: float
    start_ph: float
    start_ph_high: float
    forecast: Forecast
    ready_words: str
    cautions: list[Caution]
    warnings: list[str]
    steep_minutes: float
    water_c: tuple[float, float]
    whys: dict[str, Why]


def last_recipe(vessel: Vessel, culture: Culture | None) -> dict[str, Any]:
    """Offer what this vessel or culture had last time, or the usual."""
    past = (vessel.brews or (culture.brews if culture else []))[-1:]
    jun = culture is not None and culture.diet == "jun"
    usual: dict[str, Any] = {
        "tea": "green" if jun else "black",
        "sweetener": "honey" if jun else "sugar",
        "leaf_g_per_l": LEAF_G_PER_L,
        "sugar_g_per_l": SUGAR_G_PER_L,
    }
    if past and (culture is None or past[0].culture_id == culture.id):
        share = past[0].honey_share
        usual |= {
            "tea": past[0].tea,
            "leaf_g_per_l": past[0].leaf_g_per_l,
            "sugar_g_per_l": past[0].sugar_g_per_l,
            "sweetener": "honey" if share > 0.75 else "half" if share > 0.25 else "sugar",
        }
    return usual


def free_discs(cultures: list[Culture]) -> list[Disc]:
    """List discs that live and are in no living brew."""
    _, busy = queries.in_use(g.session)
    return [disc for culture in cultures for disc in culture.discs if disc.ended_at is None and disc.id not in busy]


def plan_form(formdata: Any = None, first: bool = False) -> PlanForm:
    """Make the form with the household's choices; a first look has defaults from vessel and culture."""
    vessels = [v for v in queries.vessels(g.session) if v.kind != "hotel"]
    full, _ = queries.in_use(g.session)
    free = [v for v in vessels if v.id not in full]
    cultures, lots = queries.cultures(g.session), queries.starter_lots(g.session)
    defaults: dict[str, Any] = {}
    if first and vessels and cultures:
        wanted = request.args.get("vessel", type=int)
        vessel = next((v for v in vessels if v.id == wanted), (free or vessels)[0])
        culture = vessel.brews[-1].culture if vessel.brews else cultures[0]
        lot = next((lot for lot in lots if lot.culture_id == culture.id), None)
        disc = next(reversed(free_discs([culture])), None)
        defaults = {
            "vessel": vessel.id,
            "culture": culture.id,
            "fill": vessel.usable_l,
            "cold_c": COLD_C,
            "starter": lot.id if lot else 0,
            "disc": disc.id if disc else 0,
            **last_recipe(vessel, culture),
        }
    form = PlanForm(formdata=formdata, data=defaults, meta={"csrf": False})  # every POST is checked by CSRFProtect
    form.vessel.choices = [(v.id, v.name + ("" if v in free else " (full)")) for v in vessels]
    form.culture.choices = [
        (c.id, f"{c.name}, {'honey and green tea' if c.diet == 'jun' else 'sugar and tea'}") for c in cultures
    ]
    form.starter.choices = [(lot.id, lot_words(lot)) for lot in lots] + [(0, "other, not recorded")]
    living = free_discs(cultures)
    form.disc.choices = [(d.id, d.name) for d in living] + [(0, "none: liquid alone")]
    return form


def lot_words(lot: StarterLot) -> str:
    """Name a starter."""
    acid = (
        f", pH {lot.ph:.2f}" if lot.ph is not None else f", about pH {lot.estimated_ph:.1f}" if lot.estimated_ph else ""
    )
    source = f" from {lot.source_brew.vessel.name}" if lot.source_brew else ""
    return f"{lot.culture.name}, {units.words(lot.left_l, 'volume', g.units)}{acid}{source}"


def _starter_told(form: PlanForm) -> StarterTold:
    if form.starter_ph.data is not None:
        instrument = INSTRUMENTS[form.starter_instrument.data]
        return StarterTold(
            form.starter_ph.data, max(instrument.sd_ph, 0.1), instrument.key, f"measured by {instrument.name.lower()}"
        )
    lot = queries.find(g.session, StarterLot, form.starter.data)
    if lot is not None and lot.ph is not None:
        return StarterTold(
            lot.ph, max(INSTRUMENTS[lot.instrument].sd_ph, 0.1), lot.instrument, "as measured when it was set aside"
        )
    if lot is not None and lot.estimated_ph is not None:
        return StarterTold(lot.estimated_ph, ESTIMATE_SD, "estimate", "foretold from its own brew, not measured")
    return StarterTold(UNKNOWN_STARTER_PH, UNKNOWN_SD, "estimate", "not measured: taken as 3.2, give or take 0.2")


def _checked(form: PlanForm) -> bool:
    """Check what only a plan knows; problems go beside the fields."""
    ok = bool(form.validate())
    problems = []
    ranges = (
        ("leaf_g_per_l", 0.5, 20),
        ("sugar_g_per_l", 5, 150),
        ("fill", 0.1, 250),
        ("starter_ph", 1.8, 5.5),
        ("starter_percent", 6, 50),
        ("cold_c", 0, 40),
        ("measured_ph", 1.5, 9),
        ("celsius", 0, 60),
    )
    for name, low, high in ranges:
        value = form[name].data
        if value is not None and not low <= value <= high:
            kind = form[name].kind
            ends = [f"{end:g}" if kind == "number" else units.words(end, kind, g.units) for end in (low, high)]
            problems.append(Problem(name, f"That is outside what a brew takes: from {ends[0]} to {ends[1]}."))
    vessel = queries.find(g.session, Vessel, form.vessel.data)
    if vessel is not None and form.fill.data is not None and form.fill.data > vessel.usable_l + 0.005:
        over = form.fill.data - vessel.usable_l
        problems.append(
            Problem(
                "fill",
                f"{vessel.name} would overflow by {units.words(over, 'volume', g.units)}: its fill line is at {units.words(vessel.usable_l, 'volume', g.units)}.",
            )
        )
    form.add_problems(problems)
    return ok and not problems


def plan_of(form: PlanForm) -> Plan | None:
    """Compute the plan; None while something typed does not hold."""
    if not _checked(form):
        return None
    try:
        return _plan(form)
    except CoreError as problem:
        form.add_problems([Problem("", str(problem))])
        return None


def _recipe(form: PlanForm, vessel: Vessel, told: StarterTold, fraction: float) -> Recipe:
    honey = SWEETENERS[form.sweetener.data][1]
    return Recipe(
        tea=form.tea.data,
        leaf_g_per_l=form.leaf_g_per_l.data,
        sugar_g_per_l=form.sugar_g_per_l.data,
        honey_share=honey,
        starter_fraction=fraction,
        starter_ph=told.ph,
        surface_per_volume_per_cm=values.surface_per_volume(vessel, form.fill.data),
    )


def _plan(form: PlanForm) -> Plan:
    vessel, culture = (
        queries.get(g.session, Vessel, form.vessel.data),
        queries.get(g.session, Culture, form.culture.data),
    )
    told, final_l = _starter_told(form), float(form.fill.data)
    base = _recipe(form, vessel, told, limit("starter_floor"))
    weaker = acids.starter_from_ph(min(told.ph + acids.SAFE_DEVIATIONS * told.sd, 7.0), base.medium)
    need = acids.starter_needed(base.starter, weaker, limit("plan_start_ph"), base.medium)
    fraction = form.starter_percent.data / 100 if form.starter_percent.data else (need.advised or limit("starter_most"))
    recipe = base.with_starter(fraction)
    made = sweet_tea.amounts(recipe, final_l)
    tea, room = TEAS[recipe.tea if isinstance(recipe.tea, str) else "black"], vessel.place.celsius
    hot_c = tea.water_c[0] - STEEP_LOSS_C
    heated = heat.heat_plan(
        final_l,
        made.starter_ml / 1000,
        room,
        hot_c,
        form.cold_c.data,
        _pitch_target(room),
        leaf_g=made.leaf_g,
        ambient_c=room,
    )
    asked = ForecastAsk(
        recipe=recipe,
        course=Course((), room),
        prior=values.prior_of(culture),
        points=values.points_of(g.session, recipe.honey_share),
        days=40,
    )
    out = forecast(asked)
    ready = {f"ready {name}": why_ready(asked, name) for name in out.ready}
    return Plan(
        vessel,
        culture,
        recipe,
        told,
        need,
        made,
        sweet_tea.household_words(made),
        heated,
        hot_c,
        acids.start_ph(recipe.starter, fraction, recipe.medium, recipe.honey_g_per_l),
        acids.start_ph(weaker, fraction, recipe.medium, recipe.honey_g_per_l),
        out,
        _ready_words(out),
        cautions_for(_situation(vessel, recipe, made, heated, hot_c)),
        _warnings(form, vessel, culture, recipe, need),
        tea.steep_minutes[1],
        tea.water_c,
        {"start": why_start_ph(recipe), "starter": why_starter(recipe, told.sd, final_l), **ready},
    )


def _pitch_target(room_c: float) -> float:
    return min(max(room_c, limit("pitch_low") + 2), limit("pitch_target") + 2)


def _ready_words(out: Forecast) -> str:
    together: dict[Any, list[str]] = {}
    for name, window in out.ready.items():
        together.setdefault(window, []).append(name)
    return (
        ". ".join(
            f"Right for {joined(names)} {window_word(g.now, w, g.now, g.household.zone)}"
            for w, names in together.items()
        )
        + "."
    )


def _situation(
    vessel: Vessel, recipe: Recipe, made: sweet_tea.Amounts, heated: heat.HeatPlan, hot_c: float
) -> Situation:
    return Situation(
        moment="plan",
        material=vessel.material,
        honey=recipe.honey_share > 0,
        starter_fraction=recipe.starter_fraction,
        caffeine_mg_per_l=made.caffeine_mg_per_l,
        shocks=heat.shocks_glass(vessel.material, hot_c, vessel.place.celsius),
    )


def _warnings(form: PlanForm, vessel: Vessel, culture: Culture, recipe: Recipe, need: acids.StarterNeed) -> list[str]:
    """Say what deserves a second thought."""
    out = []
    occupied = queries.brew_in(g.session, vessel.id)
    if occupied is not None:
        out.append(f"{vessel.name} is full: {occupied.culture.name} stands in it. Harvest it first.")
    if need.advised is None:
        out.append(
            "This starter is too weak: no share up to half will do. Use another, or last of all food-grade distilled vinegar of 5 %."
        )
    if culture.diet == "sugar" and recipe.honey_share > 0.25:
        out.append(
            f"{culture.name} lives on sugar. A straight swap to honey may slow it: better a fifth more each brew."
        )
    if culture.diet == "jun" and recipe.honey_share < 0.5:
        out.append(f"{culture.name} lives on honey and green tea: is this meant?")
    lot = queries.find(g.session, StarterLot, form.starter.data)
    if lot is not None and lot.culture_id != culture.id:
        out.append(
            f"This starter is of {lot.culture.name}: choose one of {culture.name}, unless you are converting a line."
        )
    if lot is not None and lot.left_l < form.fill.data * recipe.starter_fraction - 0.005:
        out.append(
            f"Only {units.words(lot.left_l, 'volume', g.units)} of this starter left: brew less, or wait for more."
        )
    return out


def pitch_of(form: PlanForm, plan: Plan) -> PitchBrew:
    """Turn form and plan into an ask."""
    return PitchBrew(
        vessel_id=plan.vessel.id,
        culture_id=plan.culture.id,
        starter_lot_id=form.starter.data or None,
        disc_id=form.disc.data or None,
        recipe=plan.recipe,
        starter_instrument=plan.starter.instrument,
        final_l=float(form.fill.data),
        plan={
            **planned_amounts(plan.recipe, float(form.fill.data)),
            "hot_l": plan.heat.heat_l,
            "cold_l": plan.heat.cold_l,
            "mix_c": plan.heat.final_c,
        },
        measured_ph=form.measured_ph.data,
        instrument=form.instrument.data,
        celsius=form.celsius.data,
    )
