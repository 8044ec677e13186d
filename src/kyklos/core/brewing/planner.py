"""The plan of a brew day: amounts, parts of the vessel, starter, heat, rounds, starting pH and what comes of it."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

from ..base import limit
from ..base.facts import SWEETENERS
from ..base.kinds import KindOfBrew, Occasion, StarterKind
from ..forecast import Forecast, ForecastAsk, Prior, forecast
from ..judging import Situation
from ..judging.cautions import cautions_of
from ..liquid import Batch, Course, Point, Recipe, acids, ageing, heat, heat_methods, sweet_tea, teas
from ..liquid.ferment import HONEY_SUGARS
from ..liquid.taste import is_jun
from . import rounds, starters, vessel_parts
from .kinds import FLOORS, KINDS
from .notes import notes_on
from .plan import BrewPlan, PlanAsk, StarterTold, VesselFacts
from .starters import Mix, StarterChoice

__all__ = [
    "BrewPlan",
    "PlanAsk",
    "StarterTold",
    "VesselFacts",
    "forecast_ask",
    "foretell",
    "make_plan",
    "situation",
]

JUN_TARGET_C = 23.0  #: Jun likes it cooler. [degC]


def pitch_target(room_c: float, jun: bool = False) -> float:
    """Return the temperature at which to pitch: 24 degC, jun a little cooler, and not below a warm room. [degC]"""
    usual = JUN_TARGET_C if jun else limit("pitch_target")
    return min(max(room_c, usual), limit("pitch_high") - 2)


def _choice(ask: PlanAsk, where: acids.Medium, final_l: float) -> StarterChoice:
    card = ask.card
    honey = card.honey_share * card.sugar_g_per_l / HONEY_SUGARS
    mix = Mix(final_l, where, honey, ask.vinegar_l)
    portions = [starter.portion(ask.usual_tea) for starter in ask.starters]
    floor = max(
        FLOORS[card.floor],
        KINDS[card.kind].share[0] if card.kind in {KindOfBrew.GROW, KindOfBrew.CONVERSION, KindOfBrew.TRIAL} else 0.0,
    )
    bare = card.kind in {KindOfBrew.DRIED, KindOfBrew.TOP_UP}
    if bare and not portions:
        floor = 0.0
    return starters.choose(portions, mix, floor=floor, share=card.share, needed=not bare)


def _recipe(ask: PlanAsk, choice: StarterChoice, final_l: float) -> Recipe:
    card, vessel = ask.card, ask.vessel
    kinds = {portion.kind for portion, _ in choice.taken}
    surface = vessel_surface(vessel.diameter_cm, final_l)
    kind = (
        StarterKind.DRIED
        if card.kind == KindOfBrew.DRIED
        else StarterKind.FRESH
        if StarterKind.FRESH in kinds or not kinds
        else min(kinds)
    )
    yeast, bacteria = _lively(choice, kind)
    return Recipe(
        tea=card.tea,
        leaf_g_per_l=card.leaf_g_per_l,
        sugar_g_per_l=card.sugar_g_per_l,
        honey_share=card.honey_share,
        invert_share=sweet_tea.invert_share(card.sweeteners),
        starter_fraction=choice.fraction,
        starter_ph=min(max(starters.mixture_ph(choice.taken), 1.5), 7.0),
        starter_ph_sd=starters.mixture_sd(choice.taken),
        starter_in=starters.mixture_of(choice.taken) if choice.taken else None,
        starter_ta_g_per_l=starters.mixture_ta(choice.taken),
        alkalinity_meq_per_l=card.water.alkalinity_meq_per_l,
        surface_per_volume_per_cm=surface,
        starter_kind=kind,
        starter_yeast=yeast,
        starter_bacteria=bacteria,
    )


def _lively(choice: StarterChoice, kind: str) -> tuple[float | None, float | None]:
    """Mix what the starters have left in them; a dried disc's own strength follows from its kind."""
    if kind == StarterKind.DRIED or not choice.taken:
        return None, None
    return ageing.together([(litres, portion.lively) for portion, litres in choice.taken])


def vessel_surface(diameter_cm: float, litres: float) -> float:
    """Return a vessel's liquid surface over its volume. [1/cm]"""
    return min(max(math.pi * (diameter_cm / 2) ** 2 / (1000 * litres), 0.001), 2.0)


def _heat_of(ask: PlanAsk, made: sweet_tea.Amounts, vinegar_l: float) -> heat_methods.HeatOut:
    card = ask.card
    cool = [(k, g) for k, g in made.sweeteners if SWEETENERS[k].honey and card.raw_honey]
    honey_l = sum(g * SWEETENERS[k].room_ml_per_g for k, g in cool) / 1000
    return heat_methods.plan_heat(
        heat_methods.HeatAsk(
            method=card.heat_method,
            final_l=made.final_l,
            starter_l=made.starter_ml / 1000 + vinegar_l,
            sweetener_l=made.sweetener_ml / 1000 - honey_l,
            honey_l=honey_l,
            leaf_g=made.leaf_g,
            sugar_g=sum(g for _, g in made.sweeteners) - sum(g for _, g in cool),
            water_c=card.on_leaf_c,
            steep_minutes=max(card.steeps_minutes, heat_methods.LEAST_LEAF_MINUTES),
            cold_c=ask.cold_c,
            room_c=min(max(ask.room_c, 0), 45),
            target_c=ask.room_c if card.kind == KindOfBrew.TOP_UP else pitch_target(ask.room_c, is_jun(card.honey_share)),
            logged=ask.logged,
        )
    )


@lru_cache(maxsize=128)
def make_plan(ask: PlanAsk) -> BrewPlan:
    """Plan a brew day.

    Args:
        ask: All that it depends on.

    Returns: The plan; its parts sum to what stands in the vessel, and notes say what deserves a second thought.

    Raises:
        CoreError: When no plan can be made: no starter, or a figure outside its range.
    """
    card = ask.card
    room_l = vessel_parts.liquid_room_l(ask.vessel.line_l, ask.disc_l)
    final_l = room_l if ask.liquid_l is None else ask.liquid_l
    where = acids.medium(card.tea, card.leaf_g_per_l, card.water.alkalinity_meq_per_l)
    choice = _choice(ask, where, final_l)
    recipe = _recipe(ask, choice, final_l)
    made = sweet_tea.amounts(recipe, final_l, card.sweeteners, ask.vinegar_l)
    heel_l = sum(litres for portion, litres in choice.taken if portion.fixed)
    parts = vessel_parts.parts_of(made, ask.vessel.nominal_l, ask.vessel.line_l, ask.disc_l, heel_l, ask.vinegar_l)
    heated = _heat_of(ask, made, ask.vinegar_l)
    hot_sugar = sum(g for k, g in made.sweeteners if not (card.raw_honey and SWEETENERS[k].honey))
    plan = BrewPlan(
        ask=ask,
        kind=KINDS[card.kind],
        recipe=recipe,
        made=made,
        choice=choice,
        parts=parts,
        heat=heated,
        rounds=rounds.rounds_of(
            heated.heat_l,
            heated.cold_l,
            made.leaf_g,
            hot_sugar,
            pot_l=ask.pot_l,
            jug_l=ask.jug_l,
            pitcher_l=ask.pitcher_l,
        ),
        notes=(),
    )
    return plan if card.kind == KindOfBrew.TOP_UP else replace(plan, notes=notes_on(plan))


def situation(plan: BrewPlan) -> Situation:
    """Return what cautions read of a plan."""
    ask = plan.ask
    return Situation(
        moment=Occasion.PLAN,
        material=ask.vessel.material,
        honey=plan.recipe.honey_share > 0,
        starter_fraction=plan.recipe.starter_fraction,
        caffeine_mg_per_l=plan.made.caffeine_mg_per_l,
        shocks=heat.shocks_glass(ask.vessel.material, plan.heat.after_steep_c, min(ask.room_c, ask.cold_c)),
        heated=plan.heat.method != "cold",
        teas=tuple(caution.key for caution in cautions_of(ask.card.tea)),
        trial=ask.card.kind == KindOfBrew.TRIAL,
        vinegar=ask.vinegar_l > 0,
        rivals=ask.rivals,
    )


def prior_on(prior: Prior, tea: float) -> Prior:
    """Return what to expect of a culture on a tea that slows it. `tea`: its vigour against black. [-]"""
    if tea == 1.0:
        return prior
    spread = min(prior.spread + 0.3 * abs(1 - tea), 1.5)
    covariance, more = list(prior.covariance), spread**2 - prior.spread**2
    if covariance:
        covariance[0], covariance[3] = covariance[0] + more, covariance[3] + more
    yeast, bacteria = (max(vigour * tea, 0.05) for vigour in (prior.yeast_vigour, prior.bacteria_vigour))
    return Prior(yeast, bacteria, spread, prior.buffer, tuple(covariance))


def forecast_ask(
    plan: BrewPlan, prior: Prior, points: tuple[Point, ...], room_c: float | None = None, days: int = 40
) -> ForecastAsk:
    """Ask what becomes of a plan in a place. `room_c`: there; where the plan stands unless given. [degC]"""
    celsius = plan.ask.room_c if room_c is None else room_c
    return ForecastAsk(
        batch=Batch(
            recipe=plan.recipe,
            course=Course(((0.0, plan.heat.lands_c), (0.5, celsius)), celsius),
            litres=plan.final_l,
        ),
        prior=prior_on(prior, teas.vigour_of(plan.ask.card.tea)),
        points=points,
        days=days,
    )


def foretell(plan: BrewPlan, prior: Prior, points: tuple[Point, ...], room_c: float | None = None) -> Forecast:
    """Foretell a plan."""
    return forecast(forecast_ask(plan, prior, points, room_c))
