"""Leading a line from sugar and black tea to honey and green, or back: the plan, and what each brew's outcome means.

A brew raises the share by a step. It continues if the brew reached its window within 1.5 times the forecast; else the step is
repeated; if it fails again, the line steps back. The step is usual practice; the rule is `docs/science.md`'s on lineage.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..base import require_between
from ..brewing import KINDS
from ..liquid import Recipe
from ..liquid.acids import Tea
from ..liquid.sweet_tea import Amounts, amounts

STEP = 0.2  #: Another fifth of honey and green each brew. [-]
IN_TIME = 1.5  #: Times the forecast. [-]
TARGETS = {"jun": ("honey and green tea", 1.0), "sugar": ("sugar and black tea", 0.0)}
OUTCOMES = {
    "in time": "reached its window in time",
    "late": "was too slow",
    "not known": "was neither measured nor tasted",
    "running": "is in its vessel",
}


@dataclass(frozen=True, slots=True)
class StepTold:
    """One brew of a line on its way."""

    honey_share: float  #: [-]
    green_share: float  #: [-]
    outcome: str  #: A key of OUTCOMES
    expected_day: float | None = None  #: Its window, as foretold at the pitch. [d]
    reached_day: float | None = None  #: [d]

    @property
    def late_from_day(self) -> float:
        """From when on it is too slow for the step. [d]"""
        return IN_TIME * (self.expected_day or 0.0)


@dataclass(frozen=True, slots=True)
class StepAdvice:
    """What the next brew takes, and why."""

    kind: str  #: first, continue, repeat, back, wait or done
    honey_share: float  #: [-]
    green_share: float  #: [-]
    why: str

    @property
    def sweeteners(self) -> tuple[tuple[str, float], ...]:
        """Sweeteners by share."""
        return _sweeteners(self.honey_share)

    @property
    def tea(self) -> Tea:
        """Tea by share."""
        return _tea(self.green_share)


def _sweeteners(honey: float) -> tuple[tuple[str, float], ...]:
    return tuple((key, share) for key, share in (("sugar", 1 - honey), ("honey", honey)) if share > 1e-9)


def _tea(green: float) -> Tea:
    parts = tuple((key, share) for key, share in (("black", 1 - green), ("green", green)) if share > 1e-9)
    return parts[0][0] if len(parts) == 1 else parts


def outcome(expected_day: float | None, reached_day: float | None, lasted_days: float, alive: bool) -> str:
    """Judge a brew of a conversion.

    Args:
        expected_day: Its window as foretold at the pitch; None: not within the forecast. [d]
        reached_day: When it reached it, by what was measured and tasted; None: it did not, or nobody looked. [d]
        lasted_days: How long it stood. [d]
        alive: It stands still.

    >>> outcome(8.0, 11.0, 12.0, False), outcome(8.0, None, 14.0, False), outcome(8.0, None, 5.0, True)
    ('in time', 'late', 'running')
    """
    bound = math.inf if expected_day is None else IN_TIME * expected_day
    if reached_day is not None and reached_day <= bound:
        return "in time"
    if lasted_days > bound or (reached_day is not None and reached_day > bound):
        return "late"
    return "running" if alive else "late"


def _moved(share: float, target: float, step: float) -> float:
    """Move a share towards a target by a step, not past it. [-]"""
    gap = target - share
    return round(target if abs(gap) <= step + 1e-9 else share + math.copysign(step, gap), 6)


def advise(past: Sequence[StepTold], target: str = "jun", step: float = STEP) -> StepAdvice:
    """Return what a line takes next: continue, the same again, a step back, or done.

    Args:
        past: Its brews of this conversion, oldest first.
        target: jun or sugar.
        step: Change in each brew. [-]

    >>> advise([StepTold(0.2, 0.2, "in time")]).honey_share
    0.4
    """
    require_between(0.05, 1, "", step=step)
    goal = TARGETS[target][1]
    start = 1.0 - goal
    if not past:
        first = _moved(start, goal, step)
        return StepAdvice(
            "first", first, first, f"The first step: {100 * step:.0f} % of it {TARGETS[target][0]}, the rest as before."
        )
    last = past[-1]
    here = (last.honey_share, last.green_share)
    if last.outcome == "running":
        return StepAdvice("wait", *here, "A step stands in its vessel: its outcome tells what the next takes.")
    if last.outcome == "late":
        return _after_late(past, start, step)
    if abs(last.honey_share - goal) < 1e-6 and abs(last.green_share - goal) < 1e-6:
        return StepAdvice("done", goal, goal, f"It is fed with {TARGETS[target][0]} from now on.")
    words = (
        "The last step reached its window in time" if last.outcome == "in time" else "Nothing was measured or tasted of the last step"
    )  # fmt: skip
    honey, green = _moved(last.honey_share, goal, step), _moved(last.green_share, goal, step)
    return StepAdvice("continue", honey, green, f"{words}: {100 * step:.0f} % further.")


def _after_late(past: Sequence[StepTold], start: float, step: float) -> StepAdvice:
    last = past[-1]
    again = len(past) > 1 and past[-2].outcome == "late" and abs(past[-2].honey_share - last.honey_share) < 1e-6
    if not again:
        why = f"The last step was slower than {IN_TIME:g} times its forecast: the same once more, with more starter and warm."
        return StepAdvice("repeat", last.honey_share, last.green_share, why)
    back = (_moved(last.honey_share, start, step), _moved(last.green_share, start, step))
    return StepAdvice("back", *back, "The same step was too slow twice: one step back, then on from there.")


@dataclass(frozen=True, slots=True)
class PlannedStep:
    """A brew that is still to come."""

    number: int
    honey_share: float  #: [-]
    green_share: float  #: [-]
    from_day: float  #: From today. [d]

    def amounts(self, final_l: float, starter_share: float) -> Amounts:
        """Scale this step to a vessel, in the usual strengths of a conversion.

        Args:
            final_l: Brew, starter included. [L]
            starter_share: Of the final volume. [-]
        """
        usual = KINDS["conversion"]
        recipe = Recipe(
            tea=_tea(self.green_share),
            leaf_g_per_l=usual.leaf[1],
            sugar_g_per_l=usual.sugars[1],
            honey_share=self.honey_share,
            starter_fraction=starter_share,
        )
        return amounts(recipe, final_l, _sweeteners(self.honey_share))

    def black_g(self, amounts: Amounts) -> float:
        """Return the black tea in a vessel's amounts. [g]"""
        return amounts.leaf_g * (1 - self.green_share)

    def green_g(self, amounts: Amounts) -> float:
        """Return the green tea in a vessel's amounts. [g]"""
        return amounts.leaf_g * self.green_share


def schedule(past: Sequence[StepTold], target: str, step: float, brew_days: float, first_day: float) -> list[PlannedStep]:
    """Lay out the brews that are to come if each goes well.

    Args:
        brew_days: From pitch to pitch. [d]
        first_day: When the next can begin, from today. [d]
    """
    require_between(0.5, 120, "d", brew_days=brew_days)
    found, day = list(past), max(0.0, first_day)
    out: list[PlannedStep] = []
    if found and found[-1].outcome == "running":
        found[-1] = StepTold(found[-1].honey_share, found[-1].green_share, "in time")
    while len(out) < 60:
        next_one = advise(found, target, step)
        if next_one.kind == "done":
            break
        out.append(PlannedStep(len(found) + 1, next_one.honey_share, next_one.green_share, day))
        found.append(StepTold(next_one.honey_share, next_one.green_share, "in time"))
        day += brew_days
    return out


def progress(past: Sequence[StepTold], target: str) -> float:
    """Return how far a line has come, by the last brew that went well. [-]"""
    goal = TARGETS[target][1]
    good = [step.honey_share for step in past if step.outcome in {"in time", "not known"}]
    return abs(good[-1] - (1 - goal)) if good else 0.0
