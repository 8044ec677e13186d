"""The last kitchen steps of a topping up: as warm as what stands in the tapped vessel, in, and measured."""

from __future__ import annotations

from ..base import limit
from ..base.saying import plain, said
from .kitchen_step import KitchenStep, StepQuestion
from .planner import BrewPlan


def topping_up(plan: BrewPlan) -> tuple[KitchenStep, ...]:
    """Return the steps that bring a plan's sweet tea into the vessel that runs."""
    return _as_warm(plan), _into_tapped(plan), _after_topping(plan)


def _as_warm(plan: BrewPlan) -> KitchenStep:
    return KitchenStep(
        "cool-down",
        "As warm as what stands there",
        (
            said("Let it come to {there}, within a degree or two.", there=(plan.heat.target_c, "temperature")),
            said("Lid on while it waits. Never on hot: nothing warm to the hand goes into the vessel."),
        ),
        "A cold filling makes a heater overshoot by several degrees; a warm one hurts the culture.",
        asked=(StepQuestion("mix_c", "The sweet tea is at", "temperature", plan.heat.target_c),),
    )


def _into_tapped(plan: BrewPlan) -> KitchenStep:
    return KitchenStep(
        "top-up",
        f"Into {plain(plan.ask.vessel.name)}",
        (
            said("Look that the tap is shut."),
            said(
                "Pour {tea} in, slowly and along the wall, so that the disc stays where it is.", tea=(plan.final_l, "volume")
            ),
            said("Not above its line. A fresh cover, and the band."),
        ),
        "The tea sinks below the disc by itself: stirring brings up what has settled.",
        asked=(StepQuestion("final_l", "Sweet tea you poured in", "volume", plan.final_l),),
    )


def _after_topping(plan: BrewPlan) -> KitchenStep:
    return KitchenStep(
        "measure",
        "Measure, if you have a way to",
        (
            said("An hour later: run a little off, throw it away, take a sample, let it come to room temperature, measure."),
            said(f"Wanted: pH {limit('safe_ph'):g} or lower."),
        ),
        "Above 4.2 twice running it is to rest. It is asked for in the first weeks, and whenever more than half was drawn.",
        asked=(StepQuestion("measured_ph", "pH once topped up", "ph"), StepQuestion("celsius", "Its temperature", "temperature")),
    )
