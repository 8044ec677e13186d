"""Two sources under the same conditions: what each is expected to do, and how sure one is the faster."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..liquid import Batch, Point, Recipe
from ..liquid.taste import usual_point
from ..liquid.temperature import steady
from .answer import Forecast, Posterior, forecast
from .ask import ForecastAsk, Prior
from .prior import culture_prior

CELSIUS, DAYS = 24.0, 60  #: The same warmth for both, and how far it is looked ahead. [degC, d]
LEAF_G_PER_L, SUGAR_G_PER_L = 5.0, 60.0  #: (assumed) [g/L]
EVEN = (0.35, 0.65)  #: Between these neither is called the faster. [-]


@dataclass(frozen=True, slots=True)
class Side:
    """One line or disc that is compared."""

    name: str
    brews: int
    prior: Prior
    forecast: Forecast

    @property
    def vigour(self) -> tuple[float, float, float]:
        """Yeast and bacteria together, with its 80 % range. [-]"""
        middle = math.sqrt(self.prior.yeast_vigour * self.prior.bacteria_vigour)
        off = math.exp(1.28 * self.prior.spread)
        return middle / off, middle, middle * off


@dataclass(frozen=True, slots=True)
class Pair:
    """Two sources side by side."""

    left: Side
    right: Side
    left_faster: float  #: Probability. [-]

    @property
    def says(self) -> str:
        """Return which is the faster."""
        if not self.left.brews or not self.right.brews:
            bare = self.left.name if not self.left.brews else self.right.name
            return f"No brew of {bare} was measured or tasted yet: what stands here is expected of any culture."
        if EVEN[0] <= self.left_faster <= EVEN[1]:
            return "Neither is clearly the faster."
        name, sure = (
            (self.left.name, self.left_faster)
            if self.left_faster > 0.5
            else (self.right.name, 1 - self.left_faster)
        )  # fmt: skip
        return f"{name} is the faster, {100 * sure:.0f} in 100."


def side(name: str, diet: str, taught: Sequence[Posterior], recipe: Recipe) -> Side:
    """Put one source under the conditions of both."""
    prior = culture_prior(diet, tuple(taught))
    point = Point("", usual_point(recipe.honey_share))
    ask = ForecastAsk(batch=Batch(recipe=recipe, course=steady(CELSIUS)), prior=prior, points=(point,), days=DAYS)
    return Side(name, len(taught), prior, forecast(ask))


def pair(left: Side, right: Side) -> Pair:
    """Compare two sources: the difference of their ln vigour against its uncertainty."""
    gap = math.log(left.vigour[1] / right.vigour[1])
    sd = math.hypot(left.prior.spread, right.prior.spread)
    return Pair(left, right, 0.5 * (1 + math.erf(gap / max(sd, 1e-6) / math.sqrt(2))))


def usual_recipe(honey: bool) -> Recipe:
    """Return the sweet tea that two sources are compared in: jun's where both live on honey, else black tea and sugar."""
    return Recipe(
        tea="green" if honey else "black",
        leaf_g_per_l=LEAF_G_PER_L,
        sugar_g_per_l=SUGAR_G_PER_L,
        honey_share=float(honey),
    )


def same_recipe(left: Recipe, right: Recipe) -> Recipe:
    """Put both under the same conditions: the first's recipe with twelve per cent of an ordinary starter."""
    return replace(left, starter_fraction=0.12, starter_ph=3.1, starter_kind="fresh", vigour=1.0)
