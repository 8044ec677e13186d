"""Purchases and counts told in a line: "1 kg sugar 1.49", "2 x 100 g black tea 9.80", "honey 500 g", "counted sugar 800 g".

    bought = ["bought"] { amount | name | price }     the price last, or behind its sign
    counted = ("counted" | "left") { amount | name }
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from ..base import CoreError
from ..supply.cost import UNITS
from ..supply.goods import Good, of_own_name
from .words import same_word

LONGEST = 120  #: A line of this kind is no longer. [letters]
BOUGHT = {"bought", "got", "purchased"}
LIVING = {"disc", "scoby", "starter", "culture", "pellicle", "mother"}
OF_A_BREW = {"jar", "crock", "tap", "ph"}  #: A line that begins so tells of a brew.
COUNTED = {"counted", "count", "left"}
_UNITS = {
    "kilo": "kg", "kilos": "kg", "kgs": "kg", "gram": "g", "grams": "g", "gr": "g", "lbs": "lb", "pound": "lb", "pounds": "lb",
    "ounce": "oz", "ounces": "oz", "bags": "bag", "teabags": "bag", "pieces": "piece", "pcs": "piece", "pc": "piece", "litre": "L",
    "litres": "L", "liter": "L", "liters": "L", "cups": "cup", "ml": "mL", "cl": "cL", "dl": "dL", "l": "L", "bottles": "piece", "bottle": "piece",
    "quarts": "qt", "quart": "qt", "gallon": "gal", "gallons": "gal",
}  # fmt: skip
_SIGNS = re.compile(r"[^\w\s.,×-]", re.UNICODE)
_PIECE = re.compile(r"\d+(?:[.,]\d+)?|[^\W\d_]+(?:-[^\W\d_]+)*|×")
FILLED = {"of", "a", "an", "the", "for", "pack", "packs", "bag", "at", "in", "x", "×", "eur", "usd", "gbp", "chf", "euro", "euros", "dollars"}


@dataclass(frozen=True, slots=True)
class Bought:
    """What a line says was bought or counted."""

    good: Good
    amount: float  #: [g or pieces]
    price: float | None = None  #: Of all of it. [the household's money]
    counted: bool = False  #: It was counted in the cupboard.
    unknown: bool = False  #: No good of that name is known: it is kept by its own.


def _number(word: str) -> float | None:
    return float(word.replace(",", ".")) if re.fullmatch(r"\d+(?:[.,]\d+)?", word) else None


def _unit(word: str) -> str | None:
    low = word.lower()
    found = _UNITS.get(low, low)
    return next((unit for unit in UNITS if unit == found or unit.lower() == found), None)


def named(words: Sequence[str], among: Sequence[Good]) -> Good | None:
    """Find the good that some words name: each of them stands in its name. Its own key first, then the fewest words left over."""
    plain = [word.lower().removesuffix("s") for word in words]
    best: tuple[tuple[bool, int], Good] | None = None
    for one in among:
        own = [part.removesuffix("s") for part in re.findall(r"[^\W_]+", f"{one.name} {one.key}".lower())]
        if all(any(same_word(word, part) for part in own) for word in plain):
            worth = ("-".join(plain) != one.key.removesuffix("s"), len(set(own)) - len(set(plain)))
            if best is None or worth < best[0]:
                best = (worth, one)
    return None if best is None else best[1]


def bought_said(line: str, among: Sequence[Good], *, always: bool = False) -> Bought | None:
    """Read a line that tells a purchase or a count; None: it tells none.

    Args:
        line: As typed.
        among: Goods by their names.
        always: It stands in a field for purchases: what is not known is kept by its own name, and an amount is one pack.

    >>> from ..supply.goods import goods
    >>> found = bought_said("1 kg sugar 1.49", goods())
    >>> found.good.key, found.amount, found.price
    ('sugar', 1000.0, 1.49)
    """
    words = _PIECE.findall(_SIGNS.sub(" ", line[:LONGEST]))
    verbs = {word.lower() for word in words[:1]}
    if not always and verbs & OF_A_BREW:
        return None  # "jar 2 - 23.5 - 3.42": a jar that brews
    if verbs == {"got"} and not always and {word.lower() for word in words} & LIVING:
        return None  # from a friend: it is received, not bought
    told, counted = bool(verbs & BOUGHT), bool(verbs & COUNTED)
    words = words[1:] if told or counted else words
    amount, unit, times, price, rest = _parts(words)
    if not rest or (amount is None and not (always or told)):
        return None
    good = named(rest, among)
    if good is None and not (always or told):
        return None
    if not (always or told or counted) and (price is None or (unit is None and not (good is not None and good.by_piece))):
        return None  # "3 damson": bottles, most likely
    good, unknown = (of_own_name(" ".join(rest)), True) if good is None else (good, False)
    if unknown and unit is None and price is None and words and _number(words[-1]) is not None:
        amount, price = None, amount  # "a new strainer 12": one, for so much
    if amount is None and price is None and not (always or good.by_piece or unknown):
        return None  # "bought honey": how much of it is asked where things are bought
    try:
        whole = _amount(good, amount, unit) * times
    except CoreError:
        return None if not always else Bought(of_own_name(" ".join(rest)), (amount or 1.0) * times, price, counted, unknown=True)
    return Bought(good, whole, None if counted else price, counted, unknown) if whole > 0 or counted else None


def _amount(good: Good, amount: float | None, unit: str | None) -> float:
    number = 1.0 if amount is None else amount
    if unit is None:
        return number if good.by_piece else good.amount_of(number, next(iter(good.piece_g), "g"))
    return good.amount_of(number, "piece" if good.by_piece and unit == "bag" else unit)


def _parts(words: Sequence[str]) -> tuple[float | None, str | None, float, float | None, list[str]]:
    """Part a line into amount, unit, how many of it, price and the words that are left."""
    amount: float | None = None
    unit: str | None = None
    times, price, rest = 1.0, None, []
    at = 0
    while at < len(words):
        number, after = _number(words[at]), words[at + 1].lower() if at + 1 < len(words) else ""
        if number is not None and after in {"x", "×"} and amount is None:
            times, at = number, at + 2
        elif number is not None and amount is None:
            amount, unit = number, _unit(after) if after else None
            at += 1 if unit is None else 2
        elif number is not None:
            price, at = number, at + 1
        else:
            rest += [] if words[at].lower() in FILLED else [words[at]]
            at += 1
    return amount, unit, times, price, rest
