"""What drinking one's own comes to: by litre, bottle and month, against the shop.

What went in is paid for by what was drunk or given: what was lost, and starter that goes round, bears nothing of its own.
Energy is what water took to heat and a heater to hold its warmth. What has no price is left out, and said.
"""

from __future__ import annotations

from dataclasses import dataclass

WATER_KWH_PER_L_K = 4186.0 / 3.6e6  #: Heat that a litre takes for a degree. [kWh/(L K)]
STOVE_SHARE = 0.6  #: Of a stove's or kettle's energy that reaches the water, on the mean (assumed). [-]
LASTS_MONTHS = 60  #: Bottles and jars are paid for over five years (assumed). [months]
HEATED_SHARE = 0.5  #: Of a brew's water that is heated where nobody said how it was made (assumed). [-]
HEATED_K = 75.0  #: By so much (assumed). [K]


def heating_kwh(litres: float, kelvin: float) -> float:
    """Return what it takes on a stove to heat water. [L, K -> kWh]

    >>> round(heating_kwh(2.0, 75), 2)
    0.29
    """
    return litres * max(kelvin, 0.0) * WATER_KWH_PER_L_K / STOVE_SHARE


def spread(price: float, months_ago: int) -> float:
    """Return what one month bears of a thing that lasts, bought so many months ago. [the household's money]"""
    return price / LASTS_MONTHS if 0 <= months_ago < LASTS_MONTHS else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Period:
    """What some time came to. [the household's money]"""

    goods: float = 0.0  #: Tea, sweetener, flavours, caps and strips used up.
    energy: float | None = None  #: None: nobody said what a kilowatt-hour costs.
    lasting: float = 0.0  #: Bottles and jars, their share.
    unpriced: tuple[str, ...] = ()  #: Names of goods used without a known price.
    drunk_l: float = 0.0  #: [L]
    given_l: float = 0.0  #: [L]
    lost_l: float = 0.0  #: [L]

    @property
    def total(self) -> float:
        """All of it."""
        return self.goods + (self.energy or 0.0) + self.lasting

    @property
    def borne_l(self) -> float:
        """Litres that bear the cost: drunk or given. [L]"""
        return self.drunk_l + self.given_l

    @property
    def per_litre(self) -> float | None:
        """By litre drunk or given; None: nothing was."""
        return self.total / self.borne_l if self.borne_l > 0 else None

    @property
    def gifts(self) -> float:
        """What the gifts came to."""
        return (self.per_litre or 0.0) * self.given_l

    def saved(self, shop_per_litre: float | None) -> float | None:
        """Return what as much from the shop would have cost more; None: nobody said the shop's price."""
        return None if shop_per_litre is None else shop_per_litre * self.borne_l - self.total
