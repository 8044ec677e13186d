"""The plan as kitchen steps: one thing at a time, how much, why, a timer where there is a wait, and what is logged there."""

from __future__ import annotations

from ..base import Said, limit
from ..base.facts import SWEETENERS
from ..base.kinds import KindOfBrew
from ..base.saying import plain, said
from ..base.water import CHLORINE_CHECKS
from ..liquid import teas
from ..liquid.heat_methods import LEAST_LEAF_C, LEAST_LEAF_MINUTES
from .kitchen_step import KitchenStep, StepQuestion
from .last_steps import control_steps, cover_step, disc_steps, measure_step, starter_steps, top_up_step
from .planner import BrewPlan
from .topping_up import topping_up


def steps_of(plan: BrewPlan, weighs: bool = True) -> tuple[KitchenStep, ...]:
    """Turn a plan into steps.

    Args:
        plan: The brew day.
        weighs: Whether amounts are given by weight first; else in bags, cups and spoons.

    Returns: Steps in order, from laying out to the pitch.
    """
    tea = _cold_tea(plan, weighs) if plan.heat.method == "cold" else _hot_tea(plan, weighs)
    if plan.kind.key == KindOfBrew.TOP_UP:
        return (_lay_out(plan), *tea, *_raw_honey(plan, weighs), *topping_up(plan))
    return (
        _lay_out(plan),
        *tea,
        *_raw_honey(plan, weighs),
        *starter_steps(plan),
        *disc_steps(plan),
        top_up_step(plan),
        *control_steps(plan),
        measure_step(plan),
        cover_step(plan),
    )


def _lay_out(plan: BrewPlan) -> KitchenStep:
    do = [
        said("Wash hands and tools, and rinse until nothing of the soap or disinfectant remains."),
        said("Lay everything out. Children away from the stove."),
    ]
    if plan.ask.card.water.source == "tap" and (check := CHLORINE_CHECKS.get(plan.ask.card.water.treatment)):
        do.append(said(check))
    if plan.ask.vessel.tapped:
        do.append(said("Shut the tap, and try it with a cup of water."))
    return KitchenStep(
        "lay-out",
        "Lay everything out",
        tuple(do),
        "Soap kills a culture; what is missing is missed when both hands are wet.",
    )


def _told(text: str, measure: str, grams: float, weighs: bool) -> Said:
    """Return an amount in words, first in what is measured with: by weight, or in spoons, cups and bags."""
    first, then = ("{grams}", measure) if weighs else (plain(measure), "{grams}")
    return said(text.replace("AMOUNT", first).replace("BESIDE", f"({then})"), grams=(grams, "mass"))


def _sweeteners(plan: BrewPlan, weighs: bool, share: float = 1.0, hot: bool = True) -> list[Said]:
    out = []
    for key, grams in plan.made.sweeteners:
        honey = SWEETENERS[key].honey and plan.ask.card.raw_honey
        if honey == hot:
            continue
        name = SWEETENERS[key].name.lower()
        if share == 1.0:
            words = plan.measures[key].words
            out.append(_told(f"Stir in AMOUNT of {name} BESIDE until it has dissolved.", words, grams, weighs))
        else:
            out.append(said(f"Stir in {{grams}} of {name} until it has dissolved.", grams=(grams * share, "mass")))
    return out


def _hot_tea(plan: BrewPlan, weighs: bool) -> list[KitchenStep]:
    out: list[KitchenStep] = []
    pots = plan.rounds.pots
    for pot in pots:
        many = f" {pot.number} of {len(pots)}" if len(pots) > 1 else ""
        suffix = f"-{pot.number}" if len(pots) > 1 else ""
        out += _one_pot(plan, pot.water_l, pot.leaf_g, 1 / len(pots), many, suffix, weighs)
    if plan.heat.cold_l > 0.01:
        out.append(_cold_first(plan))
    if plan.heat.must_wait:
        out.append(_cool(plan))
    out.append(_pour(plan))
    return out


def _one_pot(
    plan: BrewPlan, water_l: float, leaf_g: float, share: float, many: str, suffix: str, weighs: bool
) -> list[KitchenStep]:
    heat = KitchenStep(
        f"heat{suffix}",
        f"Heat the water{many}",
        (
            said(
                "Heat {water} of water to {hot}.",
                water=(water_l, "volume"),
                hot=(plan.ask.card.on_leaf_c, "temperature"),
            ),
            said("Cold water from the tap, never the hot. Handle turned in, lid on."),
        ),
        "Only this part is heated; the cold part does the cooling."
        if plan.heat.method == "concentrate"
        else "All of it is heated; it cools in one pot.",
    )
    steep = _steep(plan, leaf_g, many, suffix, share == 1.0, weighs) if leaf_g > 0 else _base(plan, many, suffix)
    strain = KitchenStep(
        f"sweeten{suffix}",
        f"Strain and sweeten{many}",
        (said("Take the leaf out and strain every fragment: loose leaf feeds mould."), *_sweeteners(plan, weighs, share)),
        "Sugar dissolves while the tea is hot. It is the culture's food; most of it will be gone.",
        asked=(StepQuestion(f"sugar_g{suffix}", "How much sweetener did you use?", "mass", _hot_sugar_g(plan) * share),),
    )
    return [heat, steep, strain]


def _hot_sugar_g(plan: BrewPlan) -> float:
    raw = plan.ask.card.raw_honey
    return sum(grams for key, grams in plan.made.sweeteners if not (SWEETENERS[key].honey and raw))


def _steep(plan: BrewPlan, leaf_g: float, many: str, suffix: str, alone: bool, weighs: bool) -> KitchenStep:
    minutes, leaf, least = plan.ask.card.steeps_minutes, plan.measures, LEAST_LEAF_MINUTES
    tea = plain(_tea(plan))
    measure = f"{leaf['bags'].words} or {leaf['spoons'].words}"
    put_in = (
        _told(f"Off the heat. Put in AMOUNT of {tea} BESIDE.", measure, leaf_g, weighs)
        if alone
        else said(f"Off the heat. Put in {{leaf}} of {tea}.", leaf=(leaf_g, "mass"))
    )
    do = [
        put_in,
        said(f"Steep {minutes:g} minutes, lid on."),
    ]
    if minutes < least:
        do.append(said(f"Take the leaf out then, and leave the tea hot with the lid on till {least:g} have passed."))
    return KitchenStep(
        f"steep{suffix}",
        f"Steep the leaf{many}",
        tuple(do),
        said(
            "Enough leaf feeds the culture; too long makes green tea bitter. Five minutes at {least} and more make leaf clean.",
            least=(LEAST_LEAF_C, "temperature"),
        ),
        minutes,
        f"Steep{many}",
        (
            StepQuestion(f"leaf_g{suffix}", "How much tea did you use?", "mass", leaf_g),
            StepQuestion(f"steep_minutes{suffix}", "Minutes really steeped", "number", minutes),
        ),
    )


def _base(plan: BrewPlan, many: str, suffix: str) -> KitchenStep:
    base = plain(plan.ask.card.base) or "the trial base"
    hot = said(f"Make your base: {base}, hot, at least {{least}} for 5 minutes.", least=(LEAST_LEAF_C, "temperature"))
    why = "What grows in a base by itself is not what you want: heat starts it clean."
    return KitchenStep(f"steep{suffix}", f"Make the base{many}", (hot,), why, LEAST_LEAF_MINUTES, f"Base{many}")


def _tea(plan: BrewPlan) -> str:
    return teas.name_of(plan.ask.card.tea).lower()


def _into(plan: BrewPlan) -> str:
    """Name what the tea is mixed in: never the tapped vessel that stands and runs."""
    return "a clean bowl or jug" if plan.kind.key == KindOfBrew.TOP_UP else plan.ask.vessel.name


def _cold_first(plan: BrewPlan) -> KitchenStep:
    do = [
        said("Pour {cold} of cold water into {vessel} first.", cold=(plan.heat.cold_l, "volume")).text.replace(
            "{vessel}", plain(_into(plan))
        )
    ]
    first = said(do[0], cold=(plan.heat.cold_l, "volume"))
    pours = plan.rounds.cold_pours_l
    more = []
    if len(pours) > 1:
        rest = ", then {rest}" if abs(pours[-1] - pours[0]) > 0.01 else ""
        full = len(pours) - (1 if rest else 0)
        more.append(
            said(
                f"That is {full} times {{pour}} from the {plan.rounds.cold_with}{rest}.",
                pour=(pours[0], "volume"),
                rest=(pours[-1], "volume"),
            )
        )
    more.append(said("Keep back a cup of it for the last top-up."))
    return KitchenStep(
        "cold",
        "Cold water first",
        (first, *more),
        "Glass breaks on sudden heat: the hot part goes into the cold, never the other way.",
        asked=(StepQuestion("cold_c", "Cold water really at", "temperature", plan.ask.cold_c),),
    )


def _cool(plan: BrewPlan) -> KitchenStep:
    h, wait = plan.heat, plan.heat.wait
    ways = [said(f"{w.name[0].upper()}{w.name[1:]}: about {_span(w.hours)}.") for w in h.waits if w.hours is not None]
    do = (said("Let the hot part cool to {pour}.", pour=(h.pour_c, "temperature")), *ways)
    return KitchenStep(
        "cool",
        "Let it cool",
        do,
        said(
            "Poured at once, all of it would stand at {mix}; cultures like {low} to {high} and are harmed above {most}.",
            mix=(h.mix_c, "temperature"),
            low=(limit("pitch_low"), "temperature"),
            high=(limit("pitch_high"), "temperature"),
            most=(limit("pitch_refuse"), "temperature"),
        ),
        None if wait.hours is None else wait.hours * 60,
        "Cooling",
        (StepQuestion("cooling_c", "Tea now at", "temperature"),),
    )


def _span(hours: float | None) -> str:
    if hours is None:
        return "never"
    minutes = hours * 60
    return f"{minutes:.0f} minutes" if minutes < 90 else f"{hours:.1f} hours"


def _pour(plan: BrewPlan) -> KitchenStep:
    name = plain(_into(plan))
    return KitchenStep(
        "pour",
        "Pour the tea into the cold",
        (
            said(
                f"Pour the hot tea, slowly, into the cold water in {name}."
                if plan.heat.cold_l > 0.01
                else f"Pour the tea, cooled, into {name}."
            ),
            said("Away from yourself. It should come to about {mix}.", mix=(plan.heat.lands_c, "temperature")),
        ),
        "The mix is computed from both parts, the starter included.",
        asked=(StepQuestion("mix_c", "The mix is at", "temperature", plan.heat.lands_c),),
    )


def _cold_tea(plan: BrewPlan, weighs: bool) -> list[KitchenStep]:
    h = plan.heat
    leaf = plan.measures
    return [
        KitchenStep(
            "fridge",
            "Steep in the fridge",
            (
                said(
                    f"{{leaf}} of {plain(_tea(plan))}, or {leaf['spoons'].words}, into {{cold}} of cold drinking water.",
                    leaf=(plan.made.leaf_g, "mass"),
                    cold=(h.cold_l, "volume"),
                ),
                said(f"Into the fridge, covered, for at most {h.fridge_hours:g} hours."),
            ),
            "Warm, unheated leaf is where unwanted things grow: the fridge and the time limit keep them down.",
            h.fridge_hours * 60,
            "Cold steep",
            (StepQuestion("leaf_g", "How much tea did you use?", "mass", plan.made.leaf_g),),
        ),
        KitchenStep(
            "sweeten",
            "Strain and sweeten",
            (
                said("Strain every fragment."),
                said("Heat {heat} of water; dissolve the sweetener in it:", heat=(h.heat_l, "volume")),
                *_sweeteners(plan, weighs),
            ),
            "A little hot water dissolves what cold tea does not.",
            asked=(StepQuestion("sugar_g", "How much sweetener did you use?", "mass", sum(g for _, g in plan.made.sweeteners)),),
        ),
        KitchenStep(
            "pour",
            "Together into the vessel",
            (
                said(f"Cold tea first, then the syrup, into {plain(_into(plan))}."),
                said(
                    "It comes to about {mix}. Let it warm to {least} before the starter goes in.",
                    mix=(h.mix_c, "temperature"),
                    least=(limit("pitch_low"), "temperature"),
                ),
            ),
            said(
                "Below {low} a culture hardly works, and does not protect itself.",
                low=(limit("pitch_low"), "temperature"),
            ),
            None if not h.wait.hours else h.wait.hours * 60,
            "Warming up",
            (StepQuestion("mix_c", "The mix is at", "temperature", h.lands_c),),
        ),
    ]


def _raw_honey(plan: BrewPlan, weighs: bool) -> list[KitchenStep]:
    if not plan.ask.card.raw_honey:
        return []
    grams = plan.made.honey_g
    do = (
        said(
            "Below {raw}: stir in {honey} of honey, or " + plan.measures["honey"].words + ".",
            raw=(limit("raw_honey"), "temperature"),
            honey=(grams, "mass"),
        ),
    )
    return [
        KitchenStep(
            "honey",
            "Honey goes in cool",
            do,
            "Raw honey keeps what heat would take.",
            asked=(StepQuestion("honey_g", "How much honey did you use?", "mass", grams),),
        )
    ]


