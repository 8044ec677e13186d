"""Amounts of what is bought, and money, in the household's own words."""

from __future__ import annotations

from flask import g

from ...core.base.kinds import Units
from ...core.supply.goods import Good
from ...store.read import queries

KILO_G, POUND_G, OUNCE_G = 1000.0, 453.59237, 28.349523125
LEAST = 0.05  #: Less is nothing. [g or pieces]
SMALL_G = 10.0  #: Below, a tenth of a gram is said. [g]


def amount_word(good: Good, amount: float) -> str:
    """Put an amount of a good into words: pieces, grams and kilos, ounces and pounds; none where there is nothing."""
    if amount < LEAST:
        return "none"
    if good.by_piece:
        return f"{amount:.0f}"
    if g.units == Units.US:
        return f"{_short(amount / POUND_G, 1)} lb" if amount >= POUND_G else f"{_short(amount / OUNCE_G, 1)} oz"
    if amount >= KILO_G:
        return f"{_short(amount / KILO_G, 1)} kg"
    return f"{_short(amount, 1 if amount < SMALL_G else 0)} g"


def _short(value: float, digits: int) -> str:
    text = f"{value:.{digits}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def money_word(value: float) -> str:
    """Put an amount of the household's own money into words; no currency is assumed."""
    name = queries.household_of(g.session).currency
    return f"{value:,.2f} {name}".strip() if abs(value) < 1e5 else f"{value:,.0f} {name}".strip()
