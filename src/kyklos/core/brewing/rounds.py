"""Several rounds: what goes where, in order, when the pot, jug or filter pitcher is smaller than the need."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..base import require_between

POT_FULL = 0.85  #: How full a pot is heated with leaf in it (assumed). [-]
POURED_FULL = 0.95  #: How full a jug or pitcher is carried (assumed). [-]


@dataclass(frozen=True, slots=True)
class Round:
    """One pot on the heat."""

    number: int
    water_l: float  #: [L]
    leaf_g: float  #: [g]
    sugar_g: float  #: Dissolved while hot. [g]


@dataclass(frozen=True, slots=True)
class Rounds:
    """All rounds of a brew."""

    pots: tuple[Round, ...]
    cold_pours_l: tuple[float, ...]  #: Of the filter pitcher or jug. [L]
    cold_with: str  #: pitcher, jug or nothing of its own

    @property
    def single(self) -> bool:
        """Whether everything fits at once."""
        return len(self.pots) <= 1 and len(self.cold_pours_l) <= 1


def split(total_l: float, at_once_l: float | None) -> tuple[float, ...]:
    """Part a volume into full pours and a rest. [L]

    >>> split(7.0, 3.0)
    (3.0, 3.0, 1.0)
    """
    require_between(0, 500, "L", total_l=total_l)
    if total_l <= 0:
        return ()
    if at_once_l is None or at_once_l >= total_l:
        return (total_l,)
    require_between(0.05, 500, "L", at_once_l=at_once_l)
    whole = math.floor(total_l / at_once_l + 1e-9)
    rest = total_l - whole * at_once_l
    return (at_once_l,) * whole + ((rest,) if rest > 1e-6 else ())


def rounds_of(
    heat_l: float,
    cold_l: float,
    leaf_g: float,
    sugar_g: float,
    *,
    pot_l: float | None = None,
    jug_l: float | None = None,
    pitcher_l: float | None = None,
) -> Rounds:
    """Part the hot water over the pot and the cold over pitcher or jug.

    Args:
        heat_l, cold_l: Water to heat, and cold water. [L]
        leaf_g, sugar_g: Shared out over the pots in equal parts. [g]
        pot_l, jug_l, pitcher_l: Largest of each that the household owns; None when unknown. [L]
    """
    number = 1 if pot_l is None else max(1, math.ceil(heat_l / (POT_FULL * pot_l) - 1e-9))
    pots = tuple(
        Round(i + 1, heat_l / number, leaf_g / number, sugar_g / number) for i in range(number if heat_l > 0 else 0)
    )
    carrier = pitcher_l if pitcher_l is not None else jug_l
    pours = split(cold_l, None if carrier is None else POURED_FULL * carrier)
    return Rounds(pots, pours, "pitcher" if pitcher_l is not None else "jug" if jug_l is not None else "")
