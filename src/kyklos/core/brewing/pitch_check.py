"""The last look before the start: is the mix cool enough, and sour enough?"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..base import Said, limit
from ..base.facts import INSTRUMENTS
from ..base.kinds import KindOfBrew
from ..base.saying import plain, said
from ..judging.observations import CARRY_ON, HOLD, WATCH, VerdictWord
from ..judging.safety import settles
from ..liquid.pouring import LEAST_L
from .plan import BrewPlan

VINEGAR_SHARE = 0.015 / 4.0  #: A spoon of 15 mL of 5 % for 4 L, then it is measured again: usual practice. [-]
STARTER_STEP_L, VINEGAR_STEP_L = 0.05, 0.005  #: Starter by the quarter cup, vinegar by the spoon: what a kitchen measures. [L]
MORE_STARTER_SHARE = 0.06  #: A cup a gallon, then it is measured again: usual practice. [-]


@dataclass(frozen=True, slots=True)
class Remedy:
    """Something that makes a brew sourer before its culture goes in, and how much of it."""

    key: str  #: starter or vinegar
    name: str
    litres: float  #: [L]
    portion: str = ""  #: Key of the starter that it is more of.


def vinegar_l(final_l: float) -> float:
    """Return how much distilled vinegar of 5 % a brew takes at a time. [L]"""
    return VINEGAR_SHARE * final_l


def remedies(plan: BrewPlan, poured: Mapping[str, float]) -> tuple[Remedy, ...]:
    """List what a brew that is not sour enough can take: more of its own starter, if there is some left; else vinegar.

    Args:
        plan: Of the brew day.
        poured: What went in already, where it was not as planned, by the starter's key. [L]
    """
    if plan.kind.key == KindOfBrew.TOP_UP:
        return ()  # what stands there is sour already
    more = MORE_STARTER_SHARE * plan.final_l
    out = [
        Remedy("starter", portion.name, more, portion.key)
        for portion, litres in plan.choice.taken
        if not portion.fixed and portion.left_l - poured.get(portion.key, litres) >= more
    ][:1]
    return (*out, Remedy("vinegar", "distilled vinegar of 5 %", vinegar_l(plan.final_l)))


def _measured(litres: float, step_l: float) -> float:
    """Round an amount to what a kitchen measures, never to nothing. [L]"""
    return max(step_l, round(round(litres / step_l) * step_l, 6))


def for_standing(lots: Sequence[tuple[str, float]], left_l: float, room_l: float) -> tuple[Remedy, ...]:
    """List what a brew that stands and is not sour enough can take: starter from the first lot that has enough, and vinegar.

    Args:
        lots: Keys of starter, and how much is left of each. [L]
        left_l: What stands in the vessel. [L]
        room_l: What still goes in. [L]
    """
    more = min(_measured(MORE_STARTER_SHARE * left_l, STARTER_STEP_L), room_l)
    out = [Remedy("starter", "starter", more, key) for key, litres in lots if litres >= more > LEAST_L][:1]
    sour = min(_measured(vinegar_l(left_l), VINEGAR_STEP_L), room_l)
    return (*out, Remedy("vinegar", "distilled vinegar", sour)) if sour > LEAST_L else tuple(out)


def check(celsius: float | None, ph: float | None, instrument: str = "meter") -> tuple[VerdictWord, Said]:
    """Judge a brew before its culture goes in.

    Args:
        celsius: Of the mix, if measured. [degC]
        ph: Of the mix, if measured. [pH]
        instrument: What read the pH.

    Returns: A word, and why.
    """
    low, high, most = (limit(name) for name in ("pitch_low", "pitch_high", "pitch_refuse"))
    if celsius is not None and celsius > most:
        return HOLD, said("Above {most} it harms the culture: wait, measure again.", most=(most, "temperature"))
    if celsius is not None and not low <= celsius <= high:
        ends = {"low": (low, "temperature"), "high": (high, "temperature")}
        return WATCH, said("Best is {low} to {high}: outside it the first days go wrong or slow.", **ends)
    if ph is None:
        return WATCH, said("Not measured: the plan's figure is a calculation. Go by look, smell, taste and time.")
    if ph > limit("start_ph"):
        return HOLD, said(f"Above pH {limit('start_ph'):g}: it will be held. Add a little starter or vinegar, stir, measure again.")
    if not settles(ph, instrument, limit("start_ph")):
        name = plain(INSTRUMENTS[instrument].name.lower())
        return WATCH, said(
            f"pH {ph:g} by {name} lies at the edge of {limit('start_ph'):g}: read another in other light, or add a little starter or vinegar."
        )
    return CARRY_ON, said(f"pH {ph:g} is low enough to start.")
