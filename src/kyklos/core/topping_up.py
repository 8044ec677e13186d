"""The last kitchen steps of a topping up: as warm as what stands in the tapped vessel, in, and measured."""

from __future__ import annotations

from .brew_plan import BrewPlan
from .facts import limit
from .kitchen_step import Asked, Step
from .saying import plain, said


def topping_up(plan: BrewPlan) -> tuple[Step, ...]:
    """Return the steps that bring a plan's sweet tea into the vessel that runs."""
    return _as_warm(plan), _into_tapped(plan), _after_topping(plan)


def _as_warm(plan: BrewPlan) -> Step:
    return Step(
        "cool-down",
        "As warm as what stands there",
        (
            said("Let it come to {there}, within a degree or two.", there=(plan.heat.target_c, "temperature")),
            said("Lid on while it waits. Never on hot: nothing warm to the hand goes into the vessel."),
        ),
        "A cold filling makes a heater overshoot by several degrees; a warm one hurts the culture.",
        asked=(Asked("mix_c", "The sweet tea is at", "temperature", plan.heat.target_c),),
    )


def _into_tapped(plan: BrewPlan) -> Step:
    return Step(
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
        asked=(Asked("final_l", "Sweet tea in, really", "volume", plan.final_l),),
    )


def _after_topping(plan: BrewPlan) -> Step:
    return Step(
        "measure",
        "Measure, if you have a way to",
        (
            said("An hour later: run a little off, throw it away, take a sample, let it come to room temperature, measure."),
            said(f"Wanted: pH {limit('safe_ph'):g} or lower."),
        ),
        "Above 4.2 twice running it is to rest. It is asked for in the first weeks, and whenever more than half was drawn.",
        asked=(Asked("measured_ph", "pH once topped up", "ph"), Asked("celsius", "Its temperature", "temperature")),
    )
