"""A lot of starter as it goes into a mix: its acid, the tea it was brewed with, and how unsure both are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..base import require_between
from ..base.facts import INSTRUMENTS
from ..liquid import acids
from ..liquid.acids import Starter, TeaAndWater

BOUGHT_PH, BOUGHT_SD = 3.2, 0.2  #: A raw bottle never measured (typical, assumed). [pH]
UNSURE = frozenset({"estimate", "strip", "uncalibrated"})  #: What does not measure a starter's pH well enough.
LEAST_SD = 0.1  #: No reading of a starter tells its acid better (assumed). [pH]
TITRATION_SD = 0.05  #: [share]
UNTOLD = TeaAndWater()  #: Tea and water of a liquid of which nothing is known.


@dataclass(frozen=True, slots=True, kw_only=True)
class Portion:
    """A liquid that may be taken as starter."""

    key: str
    name: str
    left_l: float  #: [L]
    likely: Starter
    weaker: Starter  #: At 1.28 standard deviations on the weak side.
    ph: float  #: [pH]
    low_ph: float  #: 80 % range of its pH. [pH]
    high_ph: float  #: [pH]
    instrument: str  #: or estimate, or titration
    kind: str = "fresh"  #: fresh, bottle, hotel or dried: how lively it is.
    fixed: bool = False  #: All of it is in already: a heel.
    lively: tuple[float, float] = (1.0, 1.0)  #: Yeast and bacteria against a fresh brew's. [-]
    brewed_with: TeaAndWater = UNTOLD  #: What its acids stand in.
    sd: float = 0.1  #: How far its pH may be off. [pH]
    read_days: float | None = None  #: Measured so many days ago, where that is too long to speak for it. [d]
    measured: bool = True  #: By a meter or a titration, and lately: its acid is known well enough to reckon a share from it.

    def __post_init__(self) -> None:
        require_between(0, 200, "L", left_l=self.left_l)


Taken = tuple[tuple[Portion, float], ...]  #: Portions and how much of each. [L]


def portion_from_ph(
    key: str,
    name: str,
    left_l: float,
    ph: float,
    sd: float,
    where: TeaAndWater,
    instrument: str = "meter",
    kind: str = "fresh",
) -> Portion:
    """Describe a starter of a known or guessed pH.

    Args:
        left_l: There is so much of it. [L]
        ph, sd: As measured, and how far it may be off. [pH]
        where: Tea and water it was made with, not those of the brew it will go into.
    """
    sd = max(sd, LEAST_SD)
    off, stands_in = acids.SAFE_DEVIATIONS * sd, where.medium
    return Portion(
        key=key,
        name=name,
        left_l=left_l,
        likely=acids.starter_from_ph(ph, stands_in),
        weaker=acids.starter_from_ph(min(ph + off, 7.0), stands_in),
        ph=ph,
        low_ph=ph - off,
        high_ph=ph + off,
        instrument=instrument,
        kind=kind,
        brewed_with=where,
        sd=sd,
        measured=instrument not in UNSURE,
    )


def portion_from_titration(key: str, name: str, left_l: float, ta_g_per_l: float, where: TeaAndWater) -> Portion:
    """Describe a titrated starter: narrower than a pH. [L, g/L]"""
    stands_in = where.medium
    likely = acids.starter_from_titration(ta_g_per_l, stands_in)
    off = acids.SAFE_DEVIATIONS * TITRATION_SD
    weaker = acids.starter_from_titration(ta_g_per_l * (1 - off), stands_in)
    stronger = acids.starter_from_titration(min(ta_g_per_l * (1 + off), 60.0), stands_in)
    value, low, high = (
        float(acids.ph(s.acetic_g_per_l, s.gluconic_g_per_l, stands_in)) for s in (likely, stronger, weaker)
    )
    return Portion(
        key=key,
        name=name,
        left_l=left_l,
        likely=likely,
        weaker=weaker,
        ph=value,
        low_ph=low,
        high_ph=high,
        instrument="titration",
        brewed_with=where,
    )


def instrument_sd(instrument: str) -> float:
    """Return how far a starter's pH by an instrument may be off; a bought bottle's or a forecast's by 0.2. [pH]"""
    return INSTRUMENTS[instrument].sd_ph if instrument in INSTRUMENTS else BOUGHT_SD


def mixed(taken: Taken, weak: bool = False) -> Starter:
    """Mix portions by volume."""
    total = sum(litres for _, litres in taken)
    if total <= 0:
        return Starter(0.0, 0.0)
    parts = [(p.weaker if weak else p.likely, litres / total) for p, litres in taken]
    return Starter(
        sum(s.acetic_g_per_l * share for s, share in parts), sum(s.gluconic_g_per_l * share for s, share in parts)
    )


def take(portions: Sequence[Portion], litres: float) -> Taken:
    """Take so many litres: what is in already, then the others in their order."""
    out, left = [], litres
    for portion in sorted(portions, key=lambda p: not p.fixed):
        part = portion.left_l if portion.fixed else min(portion.left_l, max(0.0, left))
        left -= part
        if part > 1e-9:
            out.append((portion, part))
    return tuple(out)
