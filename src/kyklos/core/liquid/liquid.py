"""A liquid: sweet tea, starter, brew, juice, wine, water, what is in a bottle. What it holds, mixing, pH, acidity.

All but temperature and pH is additive: mixing is the mean weighted by volume, never a mean of pHs.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace

import numpy as np
from numpy.typing import NDArray

from ..base import CoreError, require_between
from . import acids
from .acids import HONEY_ACID_MEQ_PER_G, Medium, Starter, Tea, medium, starter_from_ph
from .ferment import (
    ABV_G_PER_L,
    HONEY_SUGARS,
    STARTER_BACTERIA,
    STARTER_ETHANOL_G_PER_L,
    STARTER_LIVELINESS,
    STARTER_MONO_G_PER_L,
    STARTER_SUCROSE_G_PER_L,
    STARTER_YEAST,
    Recipe,
)

Array = NDArray[np.float64]
USUAL_TEA, USUAL_LEAF, USUAL_ALKALINITY = (
    "black",
    5.0,
    0.5,
)  #: Of a liquid whose tea is not known (assumed). [-, g/L, meq/L]


@dataclass(frozen=True, slots=True, kw_only=True)
class Liquid:
    """So many litres of something, and what each litre holds."""

    litres: float = 1.0  #: [L]
    sucrose_g_per_l: float = 0.0  #: [g/L]
    monosaccharides_g_per_l: float = 0.0  #: Glucose and fructose. [g/L]
    ethanol_g_per_l: float = 0.0  #: [g/L]
    acetic_g_per_l: float = 0.0  #: [g/L]
    gluconic_g_per_l: float = 0.0  #: [g/L]
    yeast_share: float = 0.0  #: Of mature. [-]
    bacteria_share: float = 0.0  #: Of mature. [-]
    co2_g_per_l: float = 0.0  #: Formed since the start. [g/L]
    leaf_g_per_l: float = 0.0  #: What of the leaf feeds. [g/L]
    tea_acid_mmol_per_l: float = 0.0  #: Weak acids of the leaf, pKa 4.50. [mmol/L]
    strong_ions_meq_per_l: float = 0.0  #: Strong ion difference, of water, leaf and fruit. [meq/L]
    alkalinity_meq_per_l: float = 0.0  #: Of the water. [meq/L]
    honey_acid_meq_per_l: float = 0.0  #: Counted as gluconic. [meq/L]
    citric_mmol_per_l: float = 0.0  #: [mmol/L]
    malic_mmol_per_l: float = 0.0  #: [mmol/L]
    tartaric_mmol_per_l: float = 0.0  #: [mmol/L]
    phosphate_mmol_per_l: float = 0.0  #: [mmol/L]

    def __post_init__(self) -> None:
        require_between(0, 10_000, "L", litres=self.litres)
        for name in PARTS:
            low = -1000.0 if name == "strong_ions_meq_per_l" else 0.0
            require_between(low, 2000, "g/L, mmol/L or meq/L", **{name: getattr(self, name)})

    @property
    def medium(self) -> Medium:
        """What its acids stand in."""
        return Medium(*(getattr(self, name) for name in _MEDIUM))

    @property
    def state(self) -> Array:
        """What ferments, in the order of `ferment.py`: shape (8,). [g/L; shares for yeast and bacteria]"""
        return np.array([getattr(self, name) for name in _STATE])

    @property
    def inert(self) -> Inert:
        """What does not ferment."""
        return Inert(self.medium, self.honey_acid_meq_per_l, self.leaf_g_per_l)

    @property
    def sugar_g_per_l(self) -> float:
        """All its sugars. [g/L]"""
        return self.sucrose_g_per_l + self.monosaccharides_g_per_l

    @property
    def abv_percent(self) -> float:
        """Alcohol. [% ABV]"""
        return self.ethanol_g_per_l / ABV_G_PER_L

    @property
    def ph(self) -> float:
        """By the charge balance. [pH]"""
        return float(acids.ph(self.acetic_g_per_l, self.gluconic_g_per_l, self.medium, self.honey_acid_meq_per_l))

    @property
    def ta_g_per_l(self) -> float:
        """What a titration to pH 8.2 would show, as acetic, by the same balance. [g/L]"""
        composition = (self.acetic_g_per_l, self.gluconic_g_per_l, self.medium, self.honey_acid_meq_per_l)
        return float(acids.titrated_acidity(*composition))

    def of(self, litres: float) -> Liquid:
        """Return so many litres of the same. [L]"""
        return replace(self, litres=litres)


PARTS = tuple(field.name for field in fields(Liquid) if field.name != "litres")
_STATE = PARTS[:8]
_MEDIUM = (
    "tea_acid_mmol_per_l", "strong_ions_meq_per_l", "alkalinity_meq_per_l",
    "citric_mmol_per_l", "malic_mmol_per_l", "tartaric_mmol_per_l", "phosphate_mmol_per_l",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Inert:
    """What of a liquid stays as it is while it ferments, per litre."""

    medium: Medium
    honey_acid_meq_per_l: float  #: [meq/L]
    leaf_g_per_l: float  #: [g/L]

    def mixed(self, litres: float, other: Liquid) -> Inert:
        """Return it after another liquid was poured in.

        Args:
            litres: Of this. [L]
            other: What is poured in.
        """
        share = other.litres / (litres + other.litres)
        mine = [getattr(self.medium, name) for name in _MEDIUM]
        theirs = [getattr(other, name) for name in _MEDIUM]
        return Inert(
            Medium(*((1 - share) * a + share * b for a, b in zip(mine, theirs, strict=True))),
            (1 - share) * self.honey_acid_meq_per_l + share * other.honey_acid_meq_per_l,
            (1 - share) * self.leaf_g_per_l + share * other.leaf_g_per_l,
        )


def blend(parts: Sequence[Liquid]) -> Liquid:
    """Pour liquids together.

    Args:
        parts: At least one, with a volume above 0 in all.

    Raises:
        CoreError: If there is nothing to mix.

    >>> sour, sweet = Liquid(acetic_g_per_l=8.0), Liquid(sucrose_g_per_l=60.0, litres=3.0)
    >>> blend([sour, sweet]).acetic_g_per_l, blend([sour, sweet]).litres
    (2.0, 4.0)
    """
    total = sum(part.litres for part in parts)
    if total <= 0:
        raise CoreError("parts: there is nothing to mix.")
    shares = [part.litres / total for part in parts]
    means = {
        name: sum(share * getattr(part, name) for share, part in zip(shares, parts, strict=True)) for name in PARTS
    }
    return Liquid(litres=total, **means)


def litres_for_acidity(ta_g_per_l: float, ta_of_other_g_per_l: float, wanted_g_per_l: float) -> float | None:
    """Return the litres of another liquid to one of this that bring the mix to a wanted acidity, exactly.

    Args:
        ta_g_per_l, ta_of_other_g_per_l: As titrated. [g/L]
        wanted_g_per_l: Of the mix. [g/L]

    Returns: None when no amount does. [L/L]

    >>> litres_for_acidity(9.0, 0.0, 4.5)
    1.0
    """
    below = wanted_g_per_l - ta_of_other_g_per_l
    if below == 0 or (ta_g_per_l - wanted_g_per_l) / below < 0:
        return None
    return (ta_g_per_l - wanted_g_per_l) / below


def water(alkalinity_meq_per_l: float = USUAL_ALKALINITY, litres: float = 1.0) -> Liquid:
    """Return water of an alkalinity. [meq/L, L]"""
    return Liquid(litres=litres, strong_ions_meq_per_l=alkalinity_meq_per_l, alkalinity_meq_per_l=alkalinity_meq_per_l)


def sweet_tea(
    tea: Tea,
    leaf_g_per_l: float,
    sugar_g_per_l: float,
    *,
    honey_share: float = 0.0,
    invert_share: float = 0.0,
    alkalinity_meq_per_l: float = USUAL_ALKALINITY,
    litres: float = 1.0,
) -> Liquid:
    """Return sweet tea.

    Args:
        tea: A name or shares.
        leaf_g_per_l, sugar_g_per_l: Of the sweet tea; sugars of cane and honey together. [g/L]
        honey_share: Share of the sugars that comes from honey. [-]
        invert_share: Share of the rest that comes as glucose and fructose. [-]
        alkalinity_meq_per_l: Of its water. [meq/L]
        litres: [L]
    """
    where = medium(tea, leaf_g_per_l, alkalinity_meq_per_l)
    plain = (1 - honey_share) * (1 - invert_share)
    return Liquid(
        litres=litres,
        sucrose_g_per_l=sugar_g_per_l * plain,
        monosaccharides_g_per_l=sugar_g_per_l * (1 - plain),
        leaf_g_per_l=leaf_g_per_l,
        tea_acid_mmol_per_l=where.tea_acid_mmol_per_l,
        strong_ions_meq_per_l=where.strong_ions_meq_per_l,
        alkalinity_meq_per_l=where.alkalinity_meq_per_l,
        honey_acid_meq_per_l=HONEY_ACID_MEQ_PER_G * honey_share * sugar_g_per_l / HONEY_SUGARS,
    )


def sweet_tea_of(recipe: Recipe, litres: float = 1.0) -> Liquid:
    """Return the sweet tea of a recipe. [L]"""
    return sweet_tea(
        recipe.tea,
        recipe.leaf_g_per_l,
        recipe.sugar_g_per_l,
        honey_share=recipe.honey_share,
        invert_share=recipe.invert_share,
        alkalinity_meq_per_l=recipe.alkalinity_meq_per_l,
        litres=litres,
    )


def mature(
    starter: Starter,
    where: Medium,
    leaf_g_per_l: float,
    lively: tuple[float, float] = STARTER_LIVELINESS["fresh"],
    litres: float = 1.0,
) -> Liquid:
    """Return mature liquid, as it is kept for a starter.

    Args:
        starter: Its acids.
        where: Tea and water it stands in.
        leaf_g_per_l: Leaf it was made with. [g/L]
        lively: Yeast and bacteria against a fresh brew's. [-]
        litres: [L]
    """
    yeast, bacteria = lively
    return Liquid(
        litres=litres,
        sucrose_g_per_l=STARTER_SUCROSE_G_PER_L,
        monosaccharides_g_per_l=STARTER_MONO_G_PER_L,
        ethanol_g_per_l=STARTER_ETHANOL_G_PER_L,
        acetic_g_per_l=starter.acetic_g_per_l,
        gluconic_g_per_l=starter.gluconic_g_per_l,
        yeast_share=STARTER_YEAST * yeast,
        bacteria_share=STARTER_BACTERIA * bacteria,
        leaf_g_per_l=leaf_g_per_l,
        tea_acid_mmol_per_l=where.tea_acid_mmol_per_l,
        strong_ions_meq_per_l=where.strong_ions_meq_per_l,
        alkalinity_meq_per_l=where.alkalinity_meq_per_l,
    )


def starter_of(recipe: Recipe, litres: float = 1.0) -> Liquid:
    """Return the starter of a recipe, in its own tea and water. [L]"""
    return mature(recipe.starter, recipe.starter_medium, recipe.leaf_g_per_l, recipe.liveliness, litres)


def mature_from_ph(
    ph: float,
    litres: float = 1.0,
    *,
    tea: Tea = USUAL_TEA,
    leaf_g_per_l: float = USUAL_LEAF,
    alkalinity_meq_per_l: float = USUAL_ALKALINITY,
    lively: tuple[float, float] = STARTER_LIVELINESS["fresh"],
) -> Liquid:
    """Return mature liquid of a measured pH; its tea and water are taken as usual unless given. [pH, L]"""
    where = medium(tea, leaf_g_per_l, alkalinity_meq_per_l)
    return mature(starter_from_ph(ph, where), where, leaf_g_per_l, lively, litres)


def fermented(state: Sequence[float], recipe: Recipe, litres: float = 1.0) -> Liquid:
    """Return a brew as a liquid: what it ferments now, and what of its recipe stays as it is.

    Args:
        state: Its 8 parts, in the order of `ferment.py`. [g/L; shares for yeast and bacteria]
        recipe: What it was started with.
        litres: [L]
    """
    values = {name: max(0.0, float(value)) for name, value in zip(_STATE, state, strict=True)}
    medium = {name: getattr(recipe.start_medium, name) for name in _MEDIUM}
    return Liquid(
        litres=litres,
        leaf_g_per_l=recipe.leaf_g_per_l,
        honey_acid_meq_per_l=recipe.honey_acid_meq_per_l,
        **values,
        **medium,
    )
