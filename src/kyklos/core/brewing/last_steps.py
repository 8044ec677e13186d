"""The last kitchen steps: starter, disc, top up, measure, cover."""

from __future__ import annotations

from ..base import limit
from ..base.saying import plain, said
from .kitchen_step import KitchenStep, StepQuestion
from .planner import BrewPlan


def starter_steps(plan: BrewPlan) -> list[KitchenStep]:
    """Return the step in which the starter goes in; none where nothing is poured by hand."""
    poured = [(p, litres) for p, litres in plan.choice.taken if not p.fixed]
    do = [
        said(f"Pour in {{it{i}}} of {plain(p.name)}.", **{f"it{i}": (litres, "volume")})
        for i, (p, litres) in enumerate(poured)
    ]
    if plan.ask.vinegar_l > 0:
        do.append(said("Pour in {vinegar} of distilled vinegar of 5 %.", vinegar=(plan.ask.vinegar_l, "volume")))
    if not do:
        return []
    do += [
        said(
            "Only below {high}; best near {target}.",
            high=(limit("pitch_high"), "temperature"),
            target=(plan.heat.target_c, "temperature"),
        ),
        said("Stir with wood, plastic or silicone."),
    ]
    asked = tuple(StepQuestion(f"starter_l-{p.key}", f"{p.name} you poured in", "volume", litres) for p, litres in poured)
    return [
        KitchenStep(
            "starter",
            "Starter in",
            tuple(do),
            "The starter's acid keeps others out, and its yeast and bacteria begin the work.",
            asked=asked,
        )
    ]


def disc_steps(plan: BrewPlan) -> list[KitchenStep]:
    """Return the step in which a disc is laid in; none where it goes without."""
    if plan.ask.card.seed != "both" or plan.kind.key in {"grow", "trial"}:
        return []
    return [
        KitchenStep(
            "disc",
            "Disc in",
            (said("Lay the disc in, newest face up. Floating, sinking or hanging are all fine."),),
            "It brings its own yeast and bacteria, and the new one grows above it.",
        )
    ]


def top_up_step(plan: BrewPlan) -> KitchenStep:
    """Return the step that tops up to the fill line."""
    p = plan.parts
    return KitchenStep(
        "top-up",
        "Top up to the line",
        (
            said(
                "The kept-back water fills it to {line}, disc included; {air} of air stays above.",
                line=(min(p.filled_l, p.line_l), "volume"),
                air=(p.headspace_l, "volume"),
            ),
        ),
        "Wet leaf keeps three times its own weight of water: the last cup makes up for it.",
        asked=(StepQuestion("final_l", "Brew in the vessel now", "volume", plan.final_l),),
    )


def control_steps(plan: BrewPlan) -> list[KitchenStep]:
    """Return the step of a trial's control jar; none for other brews."""
    if plan.kind.key != "trial":
        return []
    return [
        KitchenStep(
            "control",
            "The control jar",
            (
                said(
                    "Fill a small jar with the same sweet base, no starter and no culture. Close it, label it CONTROL."
                ),
                said("It is never tasted, and is thrown out closed."),
            ),
            "It shows what the base does by itself.",
        )
    ]


def measure_step(plan: BrewPlan) -> KitchenStep:
    """Return the step in which pH and temperature are measured."""
    return KitchenStep(
        "measure",
        "Measure, if you have a way to",
        (
            said(
                "Take a sample out with a clean spoon, let it come to room temperature, measure. It does not go back."
            ),
            said(
                f"Wanted: pH {limit('start_ph'):g} or lower; predicted {plan.start_ph:.2f}."
                if plan.kind.key != "trial"
                else f"Wanted: pH {limit('start_ph'):g} or lower; nobody can predict it for this base."
            ),
        ),
        "At or below 4.5 it goes on. Above, or at the edge of a strip: a little more starter or vinegar, stir, measure again.",
        asked=(StepQuestion("measured_ph", "pH of the brew", "ph"), StepQuestion("celsius", "Its temperature", "temperature")),
    )


def cover_step(plan: BrewPlan) -> KitchenStep:
    """Return the step that covers, labels and puts the vessel in its place."""
    do = [
        said("Close-woven cloth and band over it: wet paper tears, loose gauze lets flies in."),
        said("Label it, and put it in its place: dark, quiet, in reach."),
    ]
    if plan.kind.watch:
        days = ", ".join(str(day) for day in plan.kind.watch)
        do.append(said(f"Look at it, without disturbing it, on days {days}."))
    if plan.kind.key == "grow":
        do.append(
            said(
                "Once it is ⟦thickness:5⟧ to ⟦thickness:6⟧ thick, step it up into a wider vessel: each new disc takes the width of its vessel."
            )
        )
    return KitchenStep("cover", "Cover and label", tuple(do), "The culture needs air, and no visitors.")
