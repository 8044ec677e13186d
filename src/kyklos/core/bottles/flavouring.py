"""What is added to a brew: its sugar, acids, alcohol and room, and what the drink is then.

Each addition is given in g/L of the filled bottle and taken as 1 g/mL; priming sugar takes no room. pH is that at full release.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..base import CoreError, limit
from ..liquid import Liquid, acids
from ..liquid.liquid import blend
from .ingredients import ADDED_SUCROSE_SHARE, FORMS, Ingredient, ingredient

LEAST_WEIGHED_G = 0.2  #: A kitchen scale shows no less. [g]
PH_MARGIN = 0.15  #: Composition is known no better: so far below the bound a foretold pH must lie. [pH]
PH_MARGIN_OF_RISE = 0.4  #: Nor is what an addition raises it by: so much of that is kept off as well (assumed). [-]
MOST_FACTOR = 20.0  #: A brew has no more than so many times the acids that were foretold. [-]
#: When something goes in: what it is called.
MOMENTS = {"bottle": "into each bottle", "batch": "into the whole batch", "infusion": "into a jar first, then strained"}
MOST_G_PER_L = 700.0  #: Of all that is added: less brew than that is another drink. [g/L]


@dataclass(frozen=True, slots=True)
class Part:
    """An amount of an ingredient in a filled bottle."""

    what: Ingredient
    g_per_l: float  #: [g/L]
    form: str = ""  #: A key of FORMS; empty: its usual one.

    @property
    def way(self) -> str:
        """How it is put in, a key of FORMS."""
        return self.form or self.what.form


def part(name: str, g_per_l: float, form: str = "") -> Part:
    """Return so much of an ingredient that Kyklos brings. [g/L]

    Raises:
        UnknownNameError: If the ingredient is not known.
    """
    return Part(ingredient(name), g_per_l, form)


def room(parts: Sequence[Part]) -> float:
    """Return the share of a filled bottle that its additions take. [-]

    Raises:
        CoreError: If hardly any brew were left.

    >>> room([part("apple juice", 100)])
    0.1
    """
    share = sum(p.g_per_l for p in parts) / 1000
    if share > MOST_G_PER_L / 1000:
        raise CoreError(f"additions: {share:.0%} of the bottle leaves too little brew in it; at most {MOST_G_PER_L / 1000:.0%}.")
    return share


def added_sugar(parts: Sequence[Part], priming_g_per_l: float = 0.0) -> float:
    """Return the sugar of flavour and priming in a filled bottle. [g/L]

    >>> added_sugar([part("apple juice", 100)], 5)
    15.4
    """
    return priming_g_per_l + sum(p.what.sugar / 100 * p.g_per_l for p in parts)


def added_ethanol(parts: Sequence[Part]) -> float:
    """Return the alcohol that finished drinks bring into a filled bottle. [g/L]"""
    return sum(p.what.liquid.ethanol_g_per_l * p.g_per_l / 1000 for p in parts)


def driving_form(parts: Sequence[Part]) -> str:
    """Return the form that drives the yeast most; of several it counts once.

    >>> driving_form([part("mint", 2), part("ginger", 10)]), driving_form([])
    ('ginger', 'none')
    """
    return max((p.way for p in parts if p.g_per_l > 0), key=lambda way: FORMS[way][2], default="none")


def flavoured(brew: Liquid, parts: Sequence[Part], priming_g_per_l: float = 0.0) -> Liquid:
    """Return a brew with what is added to it, all of it released.

    Args:
        brew: Plain.
        parts: What is added.
        priming_g_per_l: Sugar, which takes no room. [g/L]
    """
    share = room(parts)
    mixed = blend([brew.of(1 - share), *(p.what.liquid.of(p.g_per_l / 1000) for p in parts if p.g_per_l > 0)])
    sucrose = ADDED_SUCROSE_SHARE * priming_g_per_l
    return replace(
        mixed,
        litres=brew.litres,
        sucrose_g_per_l=mixed.sucrose_g_per_l + sucrose,
        monosaccharides_g_per_l=mixed.monosaccharides_g_per_l + priming_g_per_l - sucrose,
    )


def at_ph(brew: Liquid, ph: float) -> Liquid:
    """Return a brew with as much more or less of its own acids as gives it a pH, as far as acids can. [pH]"""
    found = acids.factor_for_ph(ph, brew.acetic_g_per_l, brew.gluconic_g_per_l, brew.medium, brew.honey_acid_meq_per_l)
    return brew if found is None else _scaled(brew, min(max(found, 0.0), MOST_FACTOR))


def _scaled(brew: Liquid, factor: float) -> Liquid:
    return replace(brew, acetic_g_per_l=brew.acetic_g_per_l * factor, gluconic_g_per_l=brew.gluconic_g_per_l * factor)


def may_close(ph_before: float, ph_after: float, parts: Sequence[Part] = (), measured_ph: float | None = None) -> bool:
    """Return whether a flavoured brew may be closed for fizz.

    Args:
        ph_before: Of the brew. [pH]
        ph_after: As computed. [pH]
        parts: What went in.
        measured_ph: In the mixed liquid, if anybody measured; it settles it. [pH]

    >>> may_close(3.9, 4.0), may_close(3.3, 4.0), may_close(3.3, 4.1, (), 4.2)
    (True, False, True)
    >>> may_close(3.1, 3.3, [part("carrot juice", 50)])
    False
    """
    if measured_ph is not None:
        return measured_ph <= limit("safe_ph")
    if any(p.what.measured_only and p.g_per_l > 0 for p in parts):
        return False
    margin = max(PH_MARGIN, PH_MARGIN_OF_RISE * (ph_after - ph_before))
    return bool(np.round(ph_after + margin, 6) <= limit("safe_ph"))


def released(part: Part, days: float) -> float:
    """Return the share of its sugar and acid that a form has given up after some days. [d -> -]

    >>> released(part("apple juice", 50), 0), round(released(part("raisins", 10), 2), 2)
    (1.0, 0.63)
    """
    tau = FORMS[part.way][1]
    return 1.0 if tau == 0 else float(1 - np.exp(-max(0.0, days) / tau))
