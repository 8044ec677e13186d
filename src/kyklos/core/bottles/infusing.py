"""An infusion: a jar of finished brew with fruit, root, herb or spice in it, for half a day to three days, then strained."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..base import require_between
from ..base.kinds import AddedAs
from ..liquid import Course, Kinetics, Liquid
from ..liquid.ferment import CO2, MONO, SUCROSE, food
from ..liquid.integrator import integrate
from ..liquid.liquid import blend
from ..liquid.temperature import ratios_over
from .bottle import STRAINED_VOLUMES, VOLUMES_AT_FILLING
from .flavouring import Part, released, room
from .gas import CO2_G_PER_VOLUME

Array = NDArray[np.float64]

LEAST_H, MOST_H = 2.0, 96.0  #: [h]
USUAL_H = {"room": 24.0, "fridge": 48.0}  #: (usual practice) [h]
COVERS = {"cloth": "Cloth", "loose lid": "Loose lid"}
STRAINED_LOSS = 0.05  #: Of the pieces' own volume, more that stays in them (assumed). [-]
SOLID = {AddedAs.PIECES, AddedAs.GINGER, AddedAs.DRIED, AddedAs.HERBS, AddedAs.GRATED, AddedAs.PUREE}  #: Forms that the strainer holds back.
STEP_D = 0.125  #: Of the integration. [d]


def per_litre(brew_l: float, grams: Sequence[float]) -> tuple[float, ...]:
    """Return what so much of each ingredient comes to in a jar with so much brew. [L, g -> g/L of the full jar]

    >>> per_litre(0.9, [100.0])
    (100.0,)
    """
    full_l = brew_l + sum(grams) / 1000
    return tuple(one / full_l for one in grams)


def full_jar_l(brew_l: float, parts: Sequence[Part]) -> float:
    """Return how much stands in a jar, brew and flavour together. [L]

    >>> full_jar_l(1.0, [])
    1.0
    """
    return brew_l / (1 - room(parts))


@dataclass(frozen=True, slots=True)
class Infused:
    """A jar as it is after some hours."""

    liquid: Liquid  #: Its drink, per litre; litres as in the jar.
    volumes: float  #: Gas that it keeps when strained. [volumes]
    strained_l: float  #: What comes through the strainer. [L]
    released: float  #: Share of its sugar and acid that the slowest piece has given up. [-]


def infuse(
    brew: Liquid, parts: Sequence[Part], hours: float, course: Course, *, air: bool, vigour: float = 1.0
) -> Infused:
    """Foretell an infusion.

    Args:
        brew: Plain, with the litres that go into the jar.
        parts: What is put in, in g/L of the full jar.
        hours: Since then. [h]
        course: Of its warmth, from the start.
        air: Under cloth; else a loose lid keeps the air out.
        vigour: Of yeast and bacteria. [-]

    Returns: The drink and what comes through the strainer. What is not released yet stays in the pieces.
    """
    require_between(0, 24 * 30, "h", hours=hours)
    share = room(parts)
    jar_l = brew.litres / (1 - share)
    days = hours / 24
    state = brew.state * (1 - share)
    state[CO2] = 0.0
    steps = max(1, int(np.ceil(days / STEP_D)))
    edges = np.linspace(0.0, max(days, 1e-6), steps + 1)
    yeast, bacteria = ratios_over(course, edges)
    kinetics = Kinetics(vigour, vigour, air=1.0 if air else 0.0, food=food(brew.leaf_g_per_l))
    given = 0.0
    for i, step in enumerate(np.diff(edges)):
        now = sum(released(p, float(edges[i + 1])) * p.what.sugar / 100 * p.g_per_l for p in parts)
        mean = sum(p.what.sucrose * p.what.sugar * p.g_per_l for p in parts)
        whole = sum(p.what.sugar * p.g_per_l for p in parts)
        sucrose = mean / whole if whole else 0.0
        state[SUCROSE] += (now - given) * sucrose
        state[MONO] += (now - given) * (1 - sucrose)
        given = now
        state = integrate(state[:, None], kinetics, yeast[i : i + 1], bacteria[i : i + 1], np.array([step]))[-1][:, 0]
    return _strained(brew, parts, state, days, jar_l)


def _strained(brew: Liquid, parts: Sequence[Part], state: Array, days: float, jar_l: float) -> Infused:
    """Put the ferment's state and the acids that came out of the pieces together."""
    share = room(parts)
    acids = [
        replace(
            p.what.liquid,
            sucrose_g_per_l=0.0,
            monosaccharides_g_per_l=0.0,
            ethanol_g_per_l=0.0,
        ).of(p.g_per_l / 1000)
        for p in parts
        if p.g_per_l > 0
    ]  # fmt: skip
    shares = [released(p, days) for p in parts if p.g_per_l > 0]
    faded = [_scaled(liquid, out) for liquid, out in zip(acids, shares, strict=True)]
    mixed = blend([brew.of(1 - share), *faded])
    names = ("sucrose_g_per_l", "monosaccharides_g_per_l", "ethanol_g_per_l", "acetic_g_per_l", "gluconic_g_per_l",
             "yeast_share", "bacteria_share")  # fmt: skip
    values = {name: max(0.0, float(value)) for name, value in zip(names, state[:7], strict=True)}
    alcohol = sum(p.what.liquid.ethanol_g_per_l * p.g_per_l / 1000 for p in parts)
    values["ethanol_g_per_l"] += alcohol
    solid = sum(p.g_per_l / 1000 for p in parts if p.way in SOLID) * jar_l
    gas = VOLUMES_AT_FILLING * (1 - share) + float(state[CO2]) / CO2_G_PER_VOLUME
    return Infused(
        replace(mixed, litres=jar_l, **values),
        min(STRAINED_VOLUMES, gas),
        max(0.0, jar_l - solid * (1 + STRAINED_LOSS)),
        min(shares, default=1.0),
    )


def _scaled(liquid: Liquid, out: float) -> Liquid:
    """Return a flavouring of which only a part came out: the rest of its room is the drink's own water."""
    names = ("citric_mmol_per_l", "malic_mmol_per_l", "tartaric_mmol_per_l", "phosphate_mmol_per_l", "strong_ions_meq_per_l")
    return replace(liquid, **{name: getattr(liquid, name) * out for name in names})
