"""Acids and pH: the charge balance of tea, starter and honey, and how much starter a brew needs.

Acids are in g/L of acetic and gluconic acid, ions in mmol/L or meq/L. Sources: pKa from the CRC Handbook;
figures of the leaf are assumed (see `data/teas.toml`); honey's free acidity is typical (15 to 40 meq/kg).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..base import CoreError, require_between
from ..base.facts import tea_named

Array = NDArray[np.float64]

ACETIC_MOLAR_MASS = 60.05  #: [g/mol]
GLUCONIC_MOLAR_MASS = 196.16  #: [g/mol]
KA_ACETIC, KA_GLUCONIC, KA_TEA = 10**-4.756, 10**-3.70, 10**-4.50  #: [mol/L]
KA_CARBONIC, KA_BICARBONATE, KW = 10**-6.35, 10**-10.33, 1e-14  #: [mol/L], [mol2/L2]
#: Citric, malic, tartaric, phosphoric: one constant a proton. [mol/L]
POLYPROTIC = ((10**-3.13, 10**-4.76, 10**-6.40), (10**-3.40, 10**-5.11), (10**-2.98, 10**-4.34), (10**-2.15, 10**-7.20))
END_POINT_PH = 8.2  #: Where a titration with phenolphthalein ends. [pH]
HONEY_ACID_MEQ_PER_G = 0.025  #: Free acid of honey, counted as gluconic (typical; 15 to 40 meq/kg). [meq/g]
ACETIC_SHARE = 0.75  #: Acetic share of a starter's acid by mass, 3 : 1 (assumed). [-]
PLAIN_STEPS = 12  #: Newton steps before bracketing. [-]
PH_TOLERANCE = 1e-5  #: Of a step; the next would be quadratically smaller. [pH]
SAFE_DEVIATIONS = 1.28  #: Standard deviations of the cautious share. [-]


Tea = str | tuple[tuple[str, float], ...]  #: A name, or shares as (name, share) pairs that sum to 1.


@dataclass(frozen=True, slots=True)
class Medium:
    """The tea and water that acids stand in."""

    tea_acid_mmol_per_l: float  #: Weak acids of the leaf, pKa 4.50. [mmol/L]
    strong_ions_meq_per_l: float  #: Strong ion difference, water and leaf. [meq/L]
    alkalinity_meq_per_l: float  #: Of the water. [meq/L]
    citric_mmol_per_l: float = 0.0  #: [mmol/L]
    malic_mmol_per_l: float = 0.0  #: [mmol/L]
    tartaric_mmol_per_l: float = 0.0  #: [mmol/L]
    phosphate_mmol_per_l: float = 0.0  #: [mmol/L]


def medium(tea: Tea, leaf_g_per_l: float, alkalinity_meq_per_l: float) -> Medium:
    """Describe tea in water.

    Args:
        tea: Name of a tea, or shares as (name, share) pairs that sum to 1.
        leaf_g_per_l: Leaf strength. [g/L]
        alkalinity_meq_per_l: Of the water; 50 mg/L as CaCO3 is 1. [meq/L]

    Raises:
        OutOfRangeError: If leaf lies outside 0 to 40 g/L or alkalinity outside 0 to 20 meq/L.
        UnknownNameError: If a tea is not known.
    """
    require_between(0, 40, "g/L", leaf_g_per_l=leaf_g_per_l)
    require_between(0, 20, "meq/L", alkalinity_meq_per_l=alkalinity_meq_per_l)
    shares = ((tea, 1.0),) if isinstance(tea, str) else tea
    if not shares or abs(sum(share for _, share in shares) - 1) > 1e-6:
        raise CoreError("tea: the shares must sum to 1.")
    acid = sum(tea_named(name).weak_acid_mmol_per_g * share for name, share in shares)
    ions = sum(tea_named(name).strong_ions_meq_per_g * share for name, share in shares)
    return Medium(acid * leaf_g_per_l, ions * leaf_g_per_l + alkalinity_meq_per_l, alkalinity_meq_per_l)


@dataclass(frozen=True, slots=True)
class TeaAndWater:
    """What a liquid was brewed with: leaf and water, as a recipe tells them."""

    tea: Tea = "black"
    leaf_g_per_l: float = 6.0  #: [g/L]
    alkalinity_meq_per_l: float = 0.5  #: Of its water; soft unless given. [meq/L]

    @property
    def medium(self) -> Medium:
        """What its acids stand in."""
        return medium(self.tea, self.leaf_g_per_l, self.alkalinity_meq_per_l)

    @property
    def shares(self) -> tuple[tuple[str, float], ...]:
        """Its teas as shares."""
        return ((self.tea, 1.0),) if isinstance(self.tea, str) else self.tea


def poured_together(parts: Sequence[tuple[float, TeaAndWater]]) -> TeaAndWater:
    """Return the tea and water of liquids poured together: leaf and alkalinity by volume, teas by their leaf.

    Args:
        parts: Volumes, in any one unit, and what each was brewed with; at least one above 0.

    >>> poured_together([(1.0, TeaAndWater("black", 6.0)), (1.0, TeaAndWater("green", 2.0))]).tea
    (('black', 0.75), ('green', 0.25))
    """
    if len({part for _, part in parts}) == 1:
        return parts[0][1]
    total = sum(volume for volume, _ in parts)
    leaf = sum(volume * part.leaf_g_per_l for volume, part in parts) / total
    alkalinity = sum(volume * part.alkalinity_meq_per_l for volume, part in parts) / total
    if leaf <= 0:
        return TeaAndWater(parts[0][1].tea, 0.0, alkalinity)
    grams: dict[str, float] = {}
    for volume, part in parts:
        for name, share in part.shares:
            grams[name] = grams.get(name, 0.0) + volume * part.leaf_g_per_l * share / total
    names = [name for name in grams if grams[name] > 0]
    tea: Tea = names[0] if len(names) == 1 else tuple((name, grams[name] / leaf) for name in names)
    return TeaAndWater(tea, leaf, alkalinity)


def _shares(h: Array, constants: tuple[float, ...]) -> tuple[Array, Array]:
    """Mean charge given up by a weak acid of one or more protons at h, and its slope by pH. [-], [1/pH]"""
    terms = [h ** len(constants)]
    for place, constant in enumerate(constants):
        terms.append(terms[-1] / h * constant if place else h ** (len(constants) - 1) * constant)
    total = sum(terms)
    mean = sum(charge * term for charge, term in enumerate(terms)) / total
    square = sum(charge**2 * term for charge, term in enumerate(terms)) / total
    return np.asarray(mean), np.asarray(np.log(10) * (square - mean**2))


def _fruit_acids(h: Array, where: Medium) -> tuple[Any, Any]:
    """Charge of citric, malic, tartaric and phosphoric acid at h, and its slope by pH; mostly there are none. [meq/L]"""
    acids = (where.citric_mmol_per_l, where.malic_mmol_per_l, where.tartaric_mmol_per_l, where.phosphate_mmol_per_l)
    charge: Any = 0.0
    slope: Any = 0.0
    for amount, constants in zip(acids, POLYPROTIC, strict=True):
        if amount:
            share, steep = _shares(h, constants)
            charge, slope = charge + amount * share, slope + amount * steep
    return charge, slope


def _balance(h: Array, acetic: Any, gluconic: Any, where: Medium) -> tuple[Array, Array]:
    """Charge left over at h, and its slope by pH (always negative). Acids in mmol/L, h in mol/L. [meq/L]"""
    a, u, t = KA_ACETIC / (KA_ACETIC + h), KA_GLUCONIC / (KA_GLUCONIC + h), KA_TEA / (KA_TEA + h)
    k1, k2 = KA_CARBONIC, KA_BICARBONATE
    below = h * h + h * k1 + k1 * k2
    carbonate = where.alkalinity_meq_per_l * (h * k1 + 2 * k1 * k2) / below
    hydroxide, hydrogen = 1000 * KW / h, 1000 * h
    tea = where.tea_acid_mmol_per_l
    fruit, steep = _fruit_acids(h, where)
    charge = (
        where.strong_ions_meq_per_l + hydrogen - acetic * a - gluconic * u - tea * t - carbonate - hydroxide - fruit
    )
    slope = hydrogen + hydroxide + acetic * a * (1 - a) + gluconic * u * (1 - u) + tea * t * (1 - t)
    slope = slope + where.alkalinity_meq_per_l * h * k1 * (h * h + 4 * h * k2 + k1 * k2) / below**2
    return charge, -np.log(10) * slope - steep


def buffered(where: Medium, factor: Any) -> Medium:
    """Return tea and water whose leaf buffers otherwise: its acids and ions times a factor, a number or an array. [-]"""
    leaf_ions = where.strong_ions_meq_per_l - where.alkalinity_meq_per_l
    acid, ions = where.tea_acid_mmol_per_l * factor, where.alkalinity_meq_per_l + leaf_ions * factor
    return replace(where, tea_acid_mmol_per_l=acid, strong_ions_meq_per_l=ions)


def mixed_medium(where: Medium, other: Medium, share: float) -> Medium:
    """Return the tea and water of two liquids poured together; a share of the whole is the other. [-]"""
    names = tuple(field.name for field in fields(Medium))
    return Medium(*((1 - share) * getattr(where, name) + share * getattr(other, name) for name in names))


def ph(acetic_g_per_l: Any, gluconic_g_per_l: Any, where: Medium, honey_acid_meq_per_l: Any = 0.0) -> Array:
    """Solve the charge balance for pH.

    Newton's steps on pH; where they do not settle, a bracket from 1 to 11: the balance falls monotonically with pH.

    Args:
        acetic_g_per_l, gluconic_g_per_l: Acids, any shapes that broadcast. [g/L]
        where: Tea and water.
        honey_acid_meq_per_l: Acid brought by honey, counted as gluconic; a number or an array like the acids. [meq/L]

    Returns: pH, in the broadcast shape. [pH]

    Source: charge balance; pKa from the CRC Handbook.

    >>> float(ph(0.0, 0.0, medium("black", 6, 0.0)).round(1))
    5.1
    """
    acetic = np.asarray(acetic_g_per_l, float) / ACETIC_MOLAR_MASS * 1000
    gluconic = np.asarray(gluconic_g_per_l, float) / GLUCONIC_MOLAR_MASS * 1000 + honey_acid_meq_per_l
    guess = np.full(np.broadcast(acetic, gluconic).shape, 3.6)
    for _ in range(PLAIN_STEPS):
        charge, slope = _balance(10.0**-guess, acetic, gluconic, where)
        step = np.clip(charge / slope, -1.0, 1.0)
        guess -= step
        if np.max(np.abs(step), initial=0.0) < PH_TOLERANCE:
            return guess
    return _bracketed_ph(acetic, gluconic, where)


def _bracketed_ph(acetic: Array, gluconic: Array, where: Medium) -> Array:
    """Solve by halving a bracket from pH 1 to 11: slow, always ends. Acids in mmol/L."""
    low = np.full(np.broadcast(acetic, gluconic).shape, 1.0)
    high = np.full_like(low, 11.0)
    for _ in range(40):
        middle = (low + high) / 2
        above = _balance(10.0**-middle, acetic, gluconic, where)[0] > 0
        low, high = np.where(above, middle, low), np.where(above, high, middle)
    return np.asarray((low + high) / 2)


def charge_at(ph_value: float, where: Medium) -> float:
    """Return the strong ions that hold these weak acids at a pH: what a juice of that pH must have. [pH -> meq/L]"""
    h = np.asarray(10.0**-ph_value)
    return where.strong_ions_meq_per_l - float(_balance(h, 0.0, 0.0, where)[0])


def acid_for_ph(target_ph: float, where: Medium) -> float:
    """Find the acid, acetic to gluconic 3 : 1 by mass, that brings plain tea to a pH.

    Returns: Acetic plus gluconic; 0 at or above the plain tea's own pH. [g/L]

    Raises:
        OutOfRangeError: If the pH lies outside 1.5 to 14.
    """
    require_between(1.5, 14, "", starter_ph=target_ph)
    h = np.asarray(10.0**-target_ph)
    charge, _ = _balance(h, 0.0, 0.0, where)
    per_gram, _ = _balance(
        h, ACETIC_SHARE / ACETIC_MOLAR_MASS * 1000, (1 - ACETIC_SHARE) / GLUCONIC_MOLAR_MASS * 1000, where
    )
    return max(0.0, float(charge / (charge - per_gram)))


def factor_for_ph(
    target_ph: float, acetic_g_per_l: float, gluconic_g_per_l: float, where: Medium, honey_acid_meq_per_l: float = 0.0
) -> float | None:
    """Find by what to multiply a liquid's acids so that it has a pH; the charge balance is linear in them.

    Args:
        target_ph: Wanted. [pH]
        acetic_g_per_l, gluconic_g_per_l: Its acids, which change. [g/L]
        where: Tea and water, which stay.
        honey_acid_meq_per_l: Stays too. [meq/L]

    Returns: None where it has no acids to change. [-]
    """
    h = np.asarray(10.0**-target_ph)
    acetic, gluconic = acetic_g_per_l / ACETIC_MOLAR_MASS * 1000, gluconic_g_per_l / GLUCONIC_MOLAR_MASS * 1000
    without = float(_balance(h, 0.0, honey_acid_meq_per_l, where)[0])
    change = float(_balance(h, acetic, gluconic + honey_acid_meq_per_l, where)[0]) - without
    return None if change == 0 else -without / change


@dataclass(frozen=True, slots=True)
class Starter:
    """The acids of a starter."""

    acetic_g_per_l: float  #: [g/L]
    gluconic_g_per_l: float  #: [g/L]


def starter_from_ph(starter_ph: float, where: Medium) -> Starter:
    """Read a starter's acids from its pH (3 : 1 acetic to gluconic, assumed).

    Args:
        starter_ph: Measured. [pH]
        where: Tea and water it was made with; never those of a brew it will go into.
    """
    acid = acid_for_ph(starter_ph, where)
    return Starter(ACETIC_SHARE * acid, (1 - ACETIC_SHARE) * acid)


def titration(base_ml: float, base_normality: float, sample_ml: float) -> float:
    """Turn a titration to pH 8.2 into titratable acidity.

    Args:
        base_ml: Base used. [mL]
        base_normality: Its strength. [mol/L]
        sample_ml: Sample. [mL]

    Returns: Titratable acidity as acetic acid. [g/L]

    >>> round(titration(5.0, 0.1, 10.0), 4)
    3.0025
    """
    require_between(0, 1000, "mL", base_ml=base_ml)
    require_between(1e-4, 10, "mol/L", base_normality=base_normality)
    require_between(1e-3, 10000, "mL", sample_ml=sample_ml)
    return base_ml * base_normality * ACETIC_MOLAR_MASS / sample_ml


def _end_point(acetic: Any, gluconic: Any, where: Medium) -> Array:
    """Base that brings a liquid to the end point of a titration, acids in mmol/L. [meq/L]"""
    h = np.asarray(10.0**-END_POINT_PH)
    return np.asarray(-_balance(h, acetic, gluconic, where)[0])


def starter_from_titration(ta_g_per_l: float, where: Medium) -> Starter:
    """Read a starter's acids from its titratable acidity.

    Args:
        ta_g_per_l: As acetic acid, to pH 8.2. [g/L]
        where: Tea and water it was made with.
    """
    require_between(0, 60, "g/L", starter_ta_g_per_l=ta_g_per_l)
    plain = float(_end_point(0.0, 0.0, where))
    mmol = (1000 * ACETIC_SHARE / ACETIC_MOLAR_MASS, 1000 * (1 - ACETIC_SHARE) / GLUCONIC_MOLAR_MASS)
    acid = max(0.0, 1000 * ta_g_per_l / ACETIC_MOLAR_MASS - plain) / (float(_end_point(*mmol, where)) - plain)
    return Starter(ACETIC_SHARE * acid, (1 - ACETIC_SHARE) * acid)


def titrated_acidity(
    acetic_g_per_l: Any, gluconic_g_per_l: Any, where: Medium, honey_acid_meq_per_l: Any = 0.0
) -> Array:
    """Return what a titration to pH 8.2 of this liquid would show: the charge balance there, not a shorthand.

    Returns: Titratable acidity as acetic acid. [g/L]
    """
    acetic = np.asarray(acetic_g_per_l, float) / ACETIC_MOLAR_MASS * 1000
    gluconic = np.asarray(gluconic_g_per_l, float) / GLUCONIC_MOLAR_MASS * 1000 + honey_acid_meq_per_l
    return _end_point(acetic, gluconic, where) * ACETIC_MOLAR_MASS / 1000


def start_ph(starter: Starter, starter_fraction: float, where: Medium, honey_g_per_l: float = 0.0) -> float:
    """Foretell the pH of sweet tea with starter in it.

    Args:
        starter: Its acids.
        starter_fraction: Share of the final volume. [-]
        where: Tea and water of the mix (`mixed_medium`).
        honey_g_per_l: Honey of the sweet tea. [g/L]

    Returns: pH at the start. [pH]
    """
    require_between(0, 1, "", starter_fraction=starter_fraction)
    require_between(0, 400, "g/L", honey_g_per_l=honey_g_per_l)
    f = starter_fraction
    honey = HONEY_ACID_MEQ_PER_G * honey_g_per_l * (1 - f)
    return float(ph(f * starter.acetic_g_per_l, f * starter.gluconic_g_per_l, where, honey))
