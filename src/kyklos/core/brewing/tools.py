"""Tools of the kitchen: which a plan needs, and which of them the household owns."""

from __future__ import annotations

from dataclasses import dataclass

from ..base.water import stand_hours
from .planner import BrewPlan

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
