"""What stands in a vessel: parts that always sum to its fill line, and by how much a plan would overflow."""

from __future__ import annotations

from dataclasses import dataclass

from ..base import require_between
from ..liquid.sweet_tea import Amounts


@dataclass(frozen=True, slots=True, kw_only=True)
class Parts:
    """Everything between the bottom and the brim. Disc, heel, starter, vinegar, sweetener's room and water sum to the line."""

    nominal_l: float  #: To the brim, as sold. [L]
    line_l: float  #: To the fill line. [L]
    disc_l: float  #: Room that discs take. [L]
    heel_l: float  #: Left from the brew before. [L]
    starter_l: float  #: Poured in, heel not counted. [L]
    vinegar_l: float  #: [L]
    sweetener_l: float  #: Room that sugar, syrup and honey take. [L]
    water_l: float  #: Of the tea, without what the leaf keeps. [L]

    @property
    def filled_l(self) -> float:
        """Sum of all parts. [L]"""
        return self.disc_l + self.liquid_l

    @property
    def liquid_l(self) -> float:
        """The brew itself: all but the disc. [L]"""
        return self.heel_l + self.starter_l + self.vinegar_l + self.sweetener_l + self.water_l

    @property
    def headspace_l(self) -> float:
        """Air above the brew. [L]"""
        return max(0.0, self.nominal_l - self.filled_l)

    @property
    def over_l(self) -> float:
        """By how much it would stand above the fill line. [L]"""
        return max(0.0, self.filled_l - self.line_l)

    @property
    def spills_l(self) -> float:
        """By how much it would run over the brim. [L]"""
        return max(0.0, self.filled_l - self.nominal_l)


def liquid_room_l(line_l: float, disc_l: float = 0.0) -> float:
    """Return how much brew fits under the line beside the discs, heel included. [L]"""
    require_between(0.05, 500, "L", line_l=line_l)
    require_between(0, 0.9 * line_l, "L", disc_l=disc_l)
    return line_l - disc_l


def parts_of(
    made: Amounts, nominal_l: float, line_l: float, disc_l: float = 0.0, heel_l: float = 0.0, vinegar_l: float = 0.0
) -> Parts:
    """Lay out a brew in its vessel.

    Args:
        made: Its amounts; its starter counts the heel in.
        nominal_l, line_l: The vessel's brim and fill line. [L]
        disc_l, heel_l, vinegar_l: As in `Parts`. [L]
    """
    return Parts(
        nominal_l=nominal_l,
        line_l=line_l,
        disc_l=disc_l,
        heel_l=heel_l,
        starter_l=made.starter_ml / 1000 - heel_l,
        vinegar_l=vinegar_l,
        sweetener_l=made.sweetener_ml / 1000,
        water_l=(made.tea_water_ml - made.leaf_keeps_ml) / 1000,
    )


def disc_room_l(diameter_cm: float, thickness_mm: float) -> float:
    """Guess the room a disc takes from its vessel's width and its thickness. [L]

    >>> round(disc_room_l(15, 10), 2)
    0.18
    """
    require_between(3, 120, "cm", diameter_cm=diameter_cm)
    require_between(0, 200, "mm", thickness_mm=thickness_mm)
    return 3.14159 / 4 * diameter_cm**2 * thickness_mm / 10 / 1000


FILL_SHARE = 0.85  #: Of what a jar is sold as, up to its shoulder (assumed). [-]
GLASS_CM_PER_CUBE_ROOT = 9.4  #: Inner width of a common glass jar by its size (assumed). [cm/L^(1/3)]


def usual_jar(nominal_l: float) -> tuple[float, float]:
    """Return the fill line and the inner width of a common glass jar, until somebody measures them.

    Args:
        nominal_l: What it is sold as. [L]

    Returns: Fill line [L], inner width [cm].

    >>> usual_jar(4.0)
    (3.4, 14.9)
    """
    return round(FILL_SHARE * nominal_l, 3), round(GLASS_CM_PER_CUBE_ROOT * nominal_l ** (1 / 3), 1)
