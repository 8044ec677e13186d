"""What a brew takes at most, and what an amount given in cups, spoons or bags weighs."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ..base.facts import SWEETENERS
from ..base.kinds import Dimension
from ..liquid.acids import Tea
from ..liquid.sweet_tea import SPOONS_PER_CUP
from ..liquid.teas import grams_each

#: The least and the most that a plan takes (assumed; all but a household's own odd numbers lies inside).
TAKES: dict[str, tuple[float, float]] = {
    "liquid_l": (0.1, 250),  #: [L]
    "disc_l": (0, 100),  #: [L]
    "heel_l": (0, 100),  #: [L]
    "tea2_percent": (0, 100),  #: [%]
    "sweetener2_percent": (0, 100),  #: [%]
    "cold_c": (0, 40),  #: [degC]
    "steep_minutes": (0.5, 24 * 60),  #: [min]
    "water_c": (40, 100),  #: [degC]
    "alkalinity": (0, 20),  #: [meq/L]
    "g_per_spoon": (0.5, 30),  #: [g]
    "g_per_bag": (0.5, 30),  #: [g]
    "other_l": (0, 100),  #: [L]
    "starter_ph": (1.8, 5.5),  #: [pH]
    "base_ml": (0, 1000),  #: [mL]
    "base_normality": (1e-4, 10),  #: [mol/L]
    "sample_ml": (0.1, 10000),  #: [mL]
    "share": (6, 50),  #: [%]
    "vinegar_l": (0, 10),  #: [L]
    "measured_ph": (1.5, 9),  #: [pH]
    "celsius": (0, 60),  #: [degC]
}
STRENGTHS = {"leaf": (0.0, 20.0), "sugar": (5.0, 150.0)}  #: Of leaf and of sugars in the sweet tea. [g/L]

Shares = Sequence[tuple[str, float]]


class DryAmount(NamedTuple):
    """How much leaf or sweetener, as a person said it."""

    value: float
    kind: Dimension  #: STRENGTH [g/L of sweet tea], MASS [g], CUPS [US cups] or BAGS


def two_shares(first: str, second: str, percent: float | None) -> list[tuple[str, float]]:
    """Part something over one or two kinds; what has no share is left out. [% -> -]

    >>> two_shares("black", "green", 25)
    [('black', 0.75), ('green', 0.25)]
    """
    share = (percent or 0.0) / 100 if second and second != first else 0.0
    return [(key, part) for key, part in ((first, 1 - share), (second, share)) if part > 0]


def leaf_g(
    value: float, told_in: str, tea: Tea, g_per_spoon: float | None = None, g_per_bag: float | None = None
) -> float:
    """Weigh leaf. [g]

    Args:
        value: How much.
        told_in: mass [g], cups or bags.
        tea: Which; what a spoon and a bag of it weigh stands in the data unless given.
        g_per_spoon, g_per_bag: The household's own. [g]
    """
    spoon, bag = grams_each(tea)
    return value * {"mass": 1.0, "cups": SPOONS_PER_CUP * (g_per_spoon or spoon), "bags": g_per_bag or bag}[told_in]


def sugars_g(value: float, told_in: str, sweeteners: Shares) -> float:
    """Weigh the sugars in an amount of sweetener. [g]

    Args:
        value: How much of all sweeteners together.
        told_in: mass [g] or cups.
        sweeteners: Each with its share of the sugars. [-]
    """
    parts = [(SWEETENERS[key], share / SWEETENERS[key].sugars) for key, share in sweeteners]
    total = sum(weight for _, weight in parts)
    each = ((kind, weight / total, 1.0 if told_in == "mass" else kind.g_per_cup) for kind, weight in parts)
    return sum(share * value * grams * kind.sugars for kind, share, grams in each)
