"""What to do with a brew that is too sour to drink: it is starter, vinegar or half of another drink, not waste."""

from __future__ import annotations

from dataclasses import dataclass

from ..base import limit, require_between
from ..base.kinds import DueKind
from ..liquid.liquid import litres_for_acidity
from ..liquid.liquid import water as soft_water

OVER_SOUR = 1.25  #: From so many times the liked acidity on, other uses are offered in the window too (assumed). [-]
STARTER_SHARE = 0.12  #: Of a next brew, usual. [-]
VINEGAR_TA = 40.0  #: Kitchen vinegar holds about so much and more. [g/L]
DRESSING_TA = 10.0  #: From here it dresses a salad (assumed). [g/L]


@dataclass(frozen=True, slots=True)
class Use:
    """One use of an over-sour brew."""

    key: str  #: starter, dilute, vinegar or hotel
    name: str
    litres: float  #: Of it, or of what it makes. [L]
    says: str


def is_called_for(due: str, ta_g_per_l: float, point_g_per_l: float) -> bool:
    """Return whether a brew is so sour that its other uses are worth telling.

    Args:
        due: What it needs, a DueKind.
        ta_g_per_l: Its acidity. [g/L]
        point_g_per_l: The sourest liked; 0: nobody tastes. [g/L]

    >>> is_called_for("harvest", 4.1, 4.0), is_called_for("harvest", 5.1, 4.0), is_called_for("salvage", 4.1, 4.0)
    (False, True, True)
    """
    if due == DueKind.HARVEST:
        return 0 < point_g_per_l * OVER_SOUR <= ta_g_per_l
    return due == DueKind.SALVAGE and point_g_per_l > 0


def uses(ta_g_per_l: float, litres: float, point_g_per_l: float) -> list[Use]:
    """List uses of a brew that is past drinking, best first.

    Args:
        ta_g_per_l: Its acidity. [g/L]
        litres: How much there is. [L]
        point_g_per_l: The acidity that a taster likes. [g/L]
    """
    require_between(0.1, 60, "g/L", ta_g_per_l=ta_g_per_l, point_g_per_l=point_g_per_l)
    require_between(0, 400, "L", litres=litres)
    water = litres * (litres_for_acidity(ta_g_per_l, soft_water().ta_g_per_l, point_g_per_l) or 0.0)
    out = [
        Use("starter", "Strong starter", litres / STARTER_SHARE, "Starts so much brew at the usual share; so sour it needs less for its pH, never less than the floor of " f"{limit('starter_floor') * 100:.0f} %."),
        Use("hotel", "Food for the hotel", min(litres, 0.5), "A splash keeps the spare discs wet and sour."),
    ]  # fmt: skip
    if water > 0.01:
        out.insert(
            1,
            Use(
                "dilute",
                "Diluted in the glass",
                water,
                "This much water or juice brings all of it to a liked sourness. Sour drinks wear teeth: small glasses.",
            ),
        )
    if ta_g_per_l >= DRESSING_TA:
        name = "Vinegar for the kitchen" if ta_g_per_l < VINEGAR_TA else "Vinegar"
        out.append(
            Use(
                "vinegar",
                name,
                litres,
                "For dressings and cleaning. It is milder than bought vinegar and keeps nothing from spoiling: not for preserving.",
            )
        )
    return out
