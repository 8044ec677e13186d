"""The plan as kitchen steps: one thing at a time, how much, why, a timer where there is a wait, and what is logged there."""

from __future__ import annotations

from dataclasses import dataclass

from . import teas
from .brew_plan import BrewPlan
from .facts import SWEETENERS, limit
from .heat_methods import LEAST_LEAF_C, LEAST_LEAF_MINUTES
from .kinds import KindOfBrew
from .kitchen_step import Asked, Step
from .saying import Said, plain, said
from .topping_up import topping_up
from .water import CHLORINE_CHECKS, stand_hours

TOOLS = {
    "pot": ("Pot", True),
    "jug": ("Jug or bowl for hot tea", True),
    "pitcher": ("Filter pitcher", True),
    "burner": ("Burner", False),
    "scale": ("Scale", False),
    "thermometer": ("Thermometer", False),
    "meter": ("pH meter, calibrated at 7 and 4", False),
    "strips": ("pH strips", False),
    "strainer": ("Fine strainer, not of reactive metal", False),
    "spoon": ("Spoon of wood, plastic or silicone", False),
    "cloth": ("Close-woven cloth and a band", False),
    "funnel": ("Funnel", False),
}  #: Kind: name, and whether its size matters.
KIT = ("pot", "strainer", "spoon", "cloth", "thermometer", "strips")  #: What nobody starts without.


@dataclass(frozen=True, slots=True)
class Need:
    """Something to have at hand before the first step."""

    key: str
    name: str
    owned: bool | None = None  #: None: not something the household writes down.


def needs_of(plan: BrewPlan, owned: frozenset[str]) -> list[Need]:
    """List what must be at hand. `owned`: kinds of tools that the household wrote down."""
    hot, vessel = plan.heat.method != "cold", plan.ask.vessel
    tools = (["pot"] if hot else ["jug"]) + ["strainer", "spoon", "cloth"] + (["thermometer"] if hot else [])
    out = [Need(key, TOOLS[key][0], (key in owned) if owned else None) for key in tools]
    if not {"meter", "strips"} & owned:
        out.append(Need("ph", "A way to measure pH, if you have one: a taste or nothing will do too"))
    else:
        out.append(Need("ph", TOOLS["meter" if "meter" in owned else "strips"][0], True))
    if stand_hours(plan.ask.card.water) > 0:
        hours = stand_hours(plan.ask.card.water)
        out.append(Need("water", f"Cold water that has stood uncovered for {hours:g} hours, or was boiled or filtered"))
    out.append(
        Need(
            "vessel", f"{vessel.name}, washed and rinsed" + (", tap shut and tried with water" if vessel.tapped else "")
        )
    )
    for portion, _ in plan.choice.taken:
        if not portion.fixed:
            out.append(Need(f"starter-{portion.key}", f"Starter: {portion.name}, plain and unflavoured"))
    if plan.ask.vinegar_l > 0:
        out.append(Need("vinegar", "Food-grade distilled vinegar of 5 %"))
    if plan.ask.card.seed == "both" and plan.kind.key not in {"grow", "trial"}:
        out.append(Need("disc", "The disc, under its own liquid in a clean bowl"))
    out.append(Need("bottles", "Clean bottles, if something is harvested first"))
    if plan.kind.key == "trial":
        out.append(Need("control", "A second, smaller jar with a lid: the control, without culture"))
    return out


def steps_of(plan: BrewPlan, weighs: bool = True) -> tuple[Step, ...]:
    """Turn a plan into steps.

    Args:
        plan: The brew day.
        weighs: Whether amounts are told by weight first; else in bags, cups and spoons.

    Returns: Steps in order, from laying out to the pitch.
    """
    tea = _cold_tea(plan, weighs) if plan.heat.method == "cold" else _hot_tea(plan, weighs)
    if plan.kind.key == KindOfBrew.TOP_UP:
        return (_lay_out(plan), *tea, *_raw_honey(plan, weighs), *topping_up(plan))
    return (
        _lay_out(plan),
        *tea,
        *_raw_honey(plan, weighs),
        *_starter(plan),
        *_disc(plan),
        _top_up(plan),
        *_control(plan),
        _measure(plan),
        _cover(plan),
    )


def _lay_out(plan: BrewPlan) -> Step:
    do = [
        said("Wash hands and tools, and rinse until nothing of the soap or disinfectant remains."),
        said("Lay everything out. Children away from the stove."),
    ]
    if plan.ask.card.water.source == "tap" and (check := CHLORINE_CHECKS.get(plan.ask.card.water.treatment)):
        do.append(said(check))
    if plan.ask.vessel.tapped:
        do.append(said("Shut the tap, and try it with a cup of water."))
    return Step(
        "lay-out",
        "Lay everything out",
        tuple(do),
        "Soap kills a culture; what is missing is missed when both hands are wet.",
    )


def _told(text: str, measure: str, grams: float, weighs: bool) -> Said:
    """Tell an amount first in what is measured with: by weight, or in spoons, cups and bags."""
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


def _hot_tea(plan: BrewPlan, weighs: bool) -> list[Step]:
    out: list[Step] = []
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
) -> list[Step]:
    heat = Step(
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
    strain = Step(
        f"sweeten{suffix}",
        f"Strain and sweeten{many}",
        (said("Take the leaf out and strain every fragment: loose leaf feeds mould."), *_sweeteners(plan, weighs, share)),
        "Sugar dissolves while the tea is hot. It is the culture's food; most of it will be gone.",
        asked=(Asked(f"sugar_g{suffix}", "Sweetener really taken", "mass", _hot_sugar_g(plan) * share),),
    )
    return [heat, steep, strain]


def _hot_sugar_g(plan: BrewPlan) -> float:
    raw = plan.ask.card.raw_honey
    return sum(grams for key, grams in plan.made.sweeteners if not (SWEETENERS[key].honey and raw))


def _steep(plan: BrewPlan, leaf_g: float, many: str, suffix: str, alone: bool, weighs: bool) -> Step:
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
    return Step(
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
            Asked(f"leaf_g{suffix}", "Leaf really taken", "mass", leaf_g),
            Asked(f"steep_minutes{suffix}", "Minutes really steeped", "number", minutes),
        ),
    )


def _base(plan: BrewPlan, many: str, suffix: str) -> Step:
    base = plain(plan.ask.card.base) or "the trial base"
    hot = said(f"Make your base: {base}, hot, at least {{least}} for 5 minutes.", least=(LEAST_LEAF_C, "temperature"))
    why = "What grows in a base by itself is not what you want: heat starts it clean."
    return Step(f"steep{suffix}", f"Make the base{many}", (hot,), why, LEAST_LEAF_MINUTES, f"Base{many}")


def _tea(plan: BrewPlan) -> str:
    return teas.name_of(plan.ask.card.tea).lower()


def _into(plan: BrewPlan) -> str:
    """Name what the tea is mixed in: never the tapped vessel that stands and runs."""
    return "a clean bowl or jug" if plan.kind.key == KindOfBrew.TOP_UP else plan.ask.vessel.name


def _cold_first(plan: BrewPlan) -> Step:
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
    return Step(
        "cold",
        "Cold water first",
        (first, *more),
        "Glass breaks on sudden heat: the hot part goes into the cold, never the other way.",
        asked=(Asked("cold_c", "Cold water really at", "temperature", plan.ask.cold_c),),
    )


def _cool(plan: BrewPlan) -> Step:
    h, wait = plan.heat, plan.heat.wait
    ways = [said(f"{w.name[0].upper()}{w.name[1:]}: about {_span(w.hours)}.") for w in h.waits if w.hours is not None]
    do = (said("Let the hot part cool to {pour}.", pour=(h.pour_c, "temperature")), *ways)
    return Step(
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
        (Asked("cooling_c", "Tea now at", "temperature"),),
    )


def _span(hours: float | None) -> str:
    if hours is None:
        return "never"
    minutes = hours * 60
    return f"{minutes:.0f} minutes" if minutes < 90 else f"{hours:.1f} hours"


def _pour(plan: BrewPlan) -> Step:
    name = plain(_into(plan))
    return Step(
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
        asked=(Asked("mix_c", "The mix is at", "temperature", plan.heat.lands_c),),
    )


def _cold_tea(plan: BrewPlan, weighs: bool) -> list[Step]:
    h = plan.heat
    leaf = plan.measures
    return [
        Step(
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
            (Asked("leaf_g", "Leaf really taken", "mass", plan.made.leaf_g),),
        ),
        Step(
            "sweeten",
            "Strain and sweeten",
            (
                said("Strain every fragment."),
                said("Heat {heat} of water; dissolve the sweetener in it:", heat=(h.heat_l, "volume")),
                *_sweeteners(plan, weighs),
            ),
            "A little hot water dissolves what cold tea does not.",
            asked=(Asked("sugar_g", "Sweetener really taken", "mass", sum(g for _, g in plan.made.sweeteners)),),
        ),
        Step(
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
            (Asked("mix_c", "The mix is at", "temperature", h.lands_c),),
        ),
    ]


def _raw_honey(plan: BrewPlan, weighs: bool) -> list[Step]:
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
        Step(
            "honey",
            "Honey goes in cool",
            do,
            "Raw honey keeps what heat would take.",
            asked=(Asked("honey_g", "Honey really taken", "mass", grams),),
        )
    ]


def _starter(plan: BrewPlan) -> list[Step]:
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
    asked = tuple(Asked(f"starter_l-{p.key}", f"{p.name}, really", "volume", litres) for p, litres in poured)
    return [
        Step(
            "starter",
            "Starter in",
            tuple(do),
            "The starter's acid keeps others out, and its yeast and bacteria begin the work.",
            asked=asked,
        )
    ]


def _disc(plan: BrewPlan) -> list[Step]:
    if plan.ask.card.seed != "both" or plan.kind.key in {"grow", "trial"}:
        return []
    return [
        Step(
            "disc",
            "Disc in",
            (said("Lay the disc in, newest face up. Floating, sinking or hanging are all fine."),),
            "It brings its own yeast and bacteria, and the new one grows above it.",
        )
    ]


def _top_up(plan: BrewPlan) -> Step:
    p = plan.parts
    return Step(
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
        asked=(Asked("final_l", "Brew in the vessel, really", "volume", plan.final_l),),
    )


def _control(plan: BrewPlan) -> list[Step]:
    if plan.kind.key != "trial":
        return []
    return [
        Step(
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


def _measure(plan: BrewPlan) -> Step:
    return Step(
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
        asked=(Asked("measured_ph", "pH of the brew", "ph"), Asked("celsius", "Its temperature", "temperature")),
    )


def _cover(plan: BrewPlan) -> Step:
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
    return Step("cover", "Cover and label", tuple(do), "The culture needs air, and no visitors.")
