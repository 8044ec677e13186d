"""Rehearsals: the kitchen steps of a first brew and a first bottling with nothing on the stove; mistakes are allowed, explained, taken back."""

from __future__ import annotations

import random
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from ..base import Said
from ..base.facts import entries_of
from ..brewing.kitchen_step import KitchenStep
from ..brewing.plan import PlanAsk, StarterTold, VesselFacts
from ..brewing.planner import make_plan
from ..brewing.recipe_card import RecipeCard
from ..brewing.steps import steps_of

BREW, BOTTLING = "brew", "bottling"
NAMES = {BREW: "A first brew", BOTTLING: "A first bottling"}


@dataclass(frozen=True, slots=True)
class RehearsedOption:
    """Something one might do at a step."""

    text: str
    right: bool
    says: str  #: What would come of it; of the right one nothing.


@dataclass(frozen=True, slots=True)
class RehearsedStep:
    """A kitchen step, with a choice where there is a mistake to be made."""

    title: str
    do: tuple[Said | str, ...]
    why: Said | str
    picture: str
    ask: str
    options: tuple[RehearsedOption, ...]  #: Empty: it is only read.


@lru_cache(maxsize=4)
def rehearsal(which: str) -> tuple[RehearsedStep, ...]:
    """Return the steps of a rehearsal.

    Args:
        which: brew or bottling.

    Raises:
        KeyError: If there is no such rehearsal.
    """
    choices = entries_of("rehearsals")[which]
    if which == BREW:
        plan = make_plan(
            PlanAsk(
                card=RecipeCard(),
                vessel=VesselFacts(name="the jar"),
                starters=(StarterTold(key="bottle", name="a raw bottle", left_l=0.5, ph=3.0, instrument="meter"),),
            )
        )
        return tuple(_of_step(step, choices.get(step.key)) for step in steps_of(plan))
    return tuple(RehearsedStep(one["title"], tuple(one["do"]), "", one["picture"], one["ask"], _options(one)) for one in choices.values())


def _of_step(step: KitchenStep, choice: dict[str, Any] | None) -> RehearsedStep:
    if choice is None:
        return RehearsedStep(step.title, step.do, step.why, step.picture, "", ())
    return RehearsedStep(step.title, step.do, step.why, step.picture, choice["ask"], _options(choice))


def _options(choice: dict[str, Any]) -> tuple[RehearsedOption, ...]:
    out = [RehearsedOption(choice["right"], True, "")] + [RehearsedOption(text, False, says) for text, says in choice["wrong"]]
    random.Random(choice["ask"]).shuffle(out)
    return tuple(out)
