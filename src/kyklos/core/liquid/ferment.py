"""What a first ferment starts with, and what may differ between brews.

The state of all brews, or of all members of an ensemble, is one stacked array of shape (8, n); `rates.py` says how quickly each part
of it changes, and `integrator.py` integrates it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..base import require_between
from ..base.errors import UnknownNameError
from ..base.kinds import StarterKind
from .acids import (
    HONEY_ACID_MEQ_PER_G,
    Medium,
    Starter,
    Tea,
    TeaAndWater,
    medium,
    mixed_medium,
    starter_from_ph,
    starter_from_titration,
)

Array = NDArray[np.float64]

SUCROSE, MONO, ETHANOL, ACETIC, GLUCONIC, YEAST, BACTERIA, CO2 = range(8)
STEP_DAYS = 0.25  #: RK4 at this step is exact to 0.001 g/L up to vigour 3 at 33 degC. [d]
LONG_STEP_DAYS = 0.5  #: Where the fastest rate allows. [d]
LONG_STEP_RATE = 3.4  #: Fastest first-order rate at which the long step keeps acids to 0.002 g/L. [1/d]
TYPICAL_SURFACE_PER_CM = 0.05  #: Liquid surface over volume where a = 1. [1/cm]
HONEY_SUGARS = 0.82  #: Sugars of honey by mass (typical). [-]
ETHANOL_YIELD = 0.46  #: Ethanol from sugar (assumed; 0.511 is the most there can be). [g/g]
#: Yeast and bacteria of a starter against those of a fresh finished brew (assumed). [-]
STARTER_LIVELINESS = {"fresh": (1.0, 1.0), "dried": (0.3, 0.3), "bottle": (0.3, 0.3), "hotel": (0.5, 1.2)}
#: What a mature starter brings besides its acids: sugars, alcohol, yeast and bacteria (fitted: fresh liquid carries more
#: yeast than its share of the final level suggests). [g/L], [share of mature]
STARTER_SUCROSE_G_PER_L, STARTER_MONO_G_PER_L, STARTER_ETHANOL_G_PER_L = 10.0, 25.0, 3.0
STARTER_YEAST, STARTER_BACTERIA = 3.9, 1.1
DRIED_SEED = 0.03  #: A dried disc seeds like so much starter, besides what is poured in (assumed). [-]
ACID_THROUGH_SURFACE_G_PER_M2_D = 250.0  #: (assumed) [g/(m2 d)]
ABV_G_PER_L = 7.893  #: Ethanol per % ABV. [g/L]


@dataclass(frozen=True, slots=True, kw_only=True)
class Recipe:
    """What a brew was made of. Sugars and leaf are those of the sweet tea; the starter brings its own."""

    tea: Tea = "black"
    leaf_g_per_l: float = 6.0  #: [g/L]
    sugar_g_per_l: float = 60.0  #: Sugars, of cane and honey together. [g/L]
    honey_share: float = 0.0  #: Share of the sugars that comes from honey. [-]
    starter_fraction: float = 0.1  #: Share of the final volume. [-]
    starter_ph: float = 3.2  #: [pH]
    starter_ph_sd: float = 0.1  #: How far that pH may be off. [pH]
    starter_ta_g_per_l: float | None = None  #: Titrated; beats the pH. [g/L]
    starter_in: TeaAndWater | None = None  #: What the starter was brewed with; None: as this brew.
    alkalinity_meq_per_l: float = 0.5  #: [meq/L]
    surface_per_volume_per_cm: float = TYPICAL_SURFACE_PER_CM  #: [1/cm]
    vigour: float = 1.0  #: Of yeast and bacteria, 1 is typical. [-]
    starter_kind: str = "fresh"  #: fresh, dried, bottle or hotel: how lively its yeast and bacteria are.
    starter_yeast: float | None = None  #: Of its starter, aged (`ageing.py`); None: as its kind has. [-]
    starter_bacteria: float | None = None  #: [-]
    invert_share: float = 0.0  #: Share of the sugars that are not honey's that comes as glucose and fructose. [-]

    def __post_init__(self) -> None:
        require_between(0, 200, "g/L", sugar_g_per_l=self.sugar_g_per_l)
        require_between(0, 1, "", honey_share=self.honey_share, invert_share=self.invert_share)
        require_between(0, 1, "", starter_fraction=self.starter_fraction)
        require_between(1.5, 7, "", starter_ph=self.starter_ph)
        require_between(0, 2, "", starter_ph_sd=self.starter_ph_sd)
        require_between(0.001, 2, "1/cm", surface_per_volume_per_cm=self.surface_per_volume_per_cm)
        require_between(0.05, 5, "", vigour=self.vigour)
        if self.starter_kind not in STARTER_LIVELINESS:
            raise UnknownNameError("starter_kind", self.starter_kind, list(STARTER_LIVELINESS))
        yeast, bacteria = self.liveliness
        require_between(0, 2, "", starter_yeast=yeast, starter_bacteria=bacteria)
        medium(self.tea, self.leaf_g_per_l, self.alkalinity_meq_per_l)

    @property
    def medium(self) -> Medium:
        """Tea and water of the sweet tea."""
        return medium(self.tea, self.leaf_g_per_l, self.alkalinity_meq_per_l)

    @property
    def brewed_with(self) -> TeaAndWater:
        """Tea and water of the sweet tea, as they are given."""
        return TeaAndWater(self.tea, self.leaf_g_per_l, self.alkalinity_meq_per_l)

    @property
    def starter_medium(self) -> Medium:
        """Tea and water of the starter."""
        return (self.starter_in or self.brewed_with).medium

    @property
    def start_medium(self) -> Medium:
        """Tea and water of the brew, its starter mixed in."""
        if self.starter_in is None:
            return self.medium
        return mixed_medium(self.medium, self.starter_medium, self.starter_fraction)

    @property
    def starter(self) -> Starter:
        """The starter's acids, read in its own tea and water."""
        if self.starter_ta_g_per_l is not None:
            return starter_from_titration(self.starter_ta_g_per_l, self.starter_medium)
        return starter_from_ph(self.starter_ph, self.starter_medium)

    @property
    def honey_g_per_l(self) -> float:
        """Honey of the sweet tea. [g/L]"""
        return self.honey_share * self.sugar_g_per_l / HONEY_SUGARS

    @property
    def honey_acid_meq_per_l(self) -> float:
        """Honey's acid in the whole brew. [meq/L]"""
        return HONEY_ACID_MEQ_PER_G * self.honey_g_per_l * (1 - self.starter_fraction)

    @property
    def liveliness(self) -> tuple[float, float]:
        """Yeast and bacteria of the starter against those of a fresh finished brew. [-]"""
        yeast, bacteria = STARTER_LIVELINESS[self.starter_kind]
        factors = (self.starter_yeast, self.starter_bacteria)
        return (yeast if factors[0] is None else factors[0], bacteria if factors[1] is None else factors[1])


def surface_factor(surface_per_volume_per_cm: float) -> float:
    """Return how far a liquid's surface lets bacteria grow: `a` of the model (exponent assumed). [1/cm -> -]

    >>> surface_factor(0.05), surface_factor(0.2)
    (1.0, 2.0)
    """
    return float(np.clip((surface_per_volume_per_cm / TYPICAL_SURFACE_PER_CM) ** 0.5, 0.5, 2.0))


def start_state(recipe: Recipe, members: int = 1) -> Array:
    """Return the state just after pitching.

    Returns: Shape (8, members): sucrose, glucose and fructose, ethanol, acetic, gluconic [g/L], yeast and bacteria
        as shares of mature [-], CO2 formed [g/L].
    """
    f, starter = recipe.starter_fraction, recipe.starter
    yeast, bacteria = recipe.liveliness
    seed = max(f, DRIED_SEED) if recipe.starter_kind == StarterKind.DRIED else f
    plain = (1 - recipe.honey_share) * (1 - recipe.invert_share)
    sucrose = (1 - f) * recipe.sugar_g_per_l * plain + STARTER_SUCROSE_G_PER_L * f
    mono = (1 - f) * recipe.sugar_g_per_l * (1 - plain) + STARTER_MONO_G_PER_L * f
    column = [
        sucrose,
        mono,
        STARTER_ETHANOL_G_PER_L * f,
        f * starter.acetic_g_per_l,
        f * starter.gluconic_g_per_l,
        min(1.0, STARTER_YEAST * seed * yeast),
        STARTER_BACTERIA * seed * bacteria,
        0,
    ]
    return np.repeat(np.array(column, float)[:, None], members, axis=1)


@dataclass(frozen=True, slots=True)
class Kinetics:
    """What may differ between brews or ensemble members; each a number or an array of shape (n,). [-]"""

    yeast: Any = 1.0  #: v_y
    bacteria: Any = 1.0  #: v_b
    surface: Any = 1.0  #: a
    air: Any = 1.0  #: 1 under cloth, 0 in a closed bottle
    gluconic: Any = 1.0  #: factor on gluconic acid formed
    oxidation: Any = 1.0  #: factor on alcohol oxidised
    ethanol_yield: Any = ETHANOL_YIELD  #: [g/g]
    food: Any = 1.0  #: n: how far the leaf feeds both
    oxygen: Any = np.inf  #: Most acid that the air through the surface allows at 25 degC, as acetic [g/(L d)]


def food(leaf_g_per_l: float) -> float:
    """Return how far the leaf feeds yeast and bacteria: `n` of the model, 1 at 6 g/L (assumed). [g/L -> -]

    >>> food(6.0), round(food(0.0), 2)
    (1.0, 0.32)
    """
    return (0.3 + 0.7 * leaf_g_per_l / (leaf_g_per_l + 0.6)) / (0.3 + 0.7 * 6.0 / 6.6)


def oxygen(surface_per_volume_per_cm: float) -> float:
    """Return the most acid that the air through a surface allows at 25 degC, as acetic (assumed). [1/cm -> g/(L d)]

    250 g of acid a day through each square metre; it binds in deep narrow vessels and in hot, lively brews.
    """
    return 0.1 * ACID_THROUGH_SURFACE_G_PER_M2_D * surface_per_volume_per_cm


def step_length(fastest: float) -> float:
    """Choose the step of the integration for the fastest yeast vigour times ratio. [d]"""
    return LONG_STEP_DAYS if 1.2 * fastest < LONG_STEP_RATE else STEP_DAYS


def abv_percent(ethanol_g_per_l: Any) -> Any:
    """Turn ethanol into alcohol by volume. [% ABV]

    >>> abv_percent(7.893)
    1.0
    """
    return ethanol_g_per_l / ABV_G_PER_L
