"""Units at the door: people type what they have, the core gets SI; numbers go out in the household's units."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import Any

from ...core.base.kinds import Dimension, Units
from ...core.base.water import MEQ_PER_DEGREE, MG_PER_MEQ
from ...core.brewing.measures import DryAmount

WORD_FRACTIONS = {"½": 0.5, "¼": 0.25, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 0.125}
_NUMBER = re.compile(r"^\s*(-?\d+(?:[.,]\d+)?(?!\d*\s*/))?\s*(?:(\d+)\s*/\s*(\d+))?\s*([½¼¾⅓⅔⅛])?\s*([^\d\s].*)?$")
_UNIT = re.compile(r"[A-Za-z°%\"/ ]{0,20}")  #: Nothing that could be reckoned with.
SI = {
    "strength": "gram/liter",
    "bottle": "milliliter",
    "volume": "liter",
    "small_volume": "milliliter",
    "length": "centimeter",
    "temperature": "degC",
    "mass": "gram",
    "thickness": "millimeter",
    "pressure": "bar",
    "acidity": "gram/liter",
    "difference": "kelvin",
}
TYPED = {
    "metric": SI,
    "us": {
        "strength": "ounce/gallon",
        "bottle": "fluid_ounce",
        "volume": "quart",
        "small_volume": "cup",
        "length": "inch",
        "temperature": "degF",
        "mass": "ounce",
        "thickness": "inch",
        "pressure": "psi",
        "acidity": "percent_acid",
        "difference": "delta_degF",
    },
}
SHOWN = {
    "gram/liter": "g/L",
    "ounce/gallon": "oz/gal",
    "fluid_ounce": "fl oz",
    "liter": "L",
    "milliliter": "mL",
    "centimeter": "cm",
    "degC": "°C",
    "gram": "g",
    "quart": "qt",
    "cup": "cups",
    "inch": "in",
    "degF": "°F",
    "ounce": "oz",
    "millimeter": "mm",
    "kelvin": "°C",
    "delta_degF": "°F",
    "bar": "bar",
    "psi": "psi",
    "percent_acid": "% acid",
    "tablespoon": "tbsp",
    "teaspoon": "tsp",
}
ONE = {"cups": "cup"}  #: Of a unit that has a singular.
#: What a household measures a volume with, by how much it is: from so many litres on, this unit.
MEASURED_IN = {
    "metric": ((0.995, "liter"), (0.0, "milliliter")),
    "us": ((0.9, "quart"), (0.059, "cup"), (0.0145, "tablespoon"), (0.0, "teaspoon")),
}
ALIASES = {
    "g/l": "gram/liter",
    "oz/gal": "ounce/gallon",
    "floz": "fluid_ounce",
    "l": "liter",
    "ml": "milliliter",
    "qt": "quart",
    "gal": "gallon",
    "c": "cup",
    "oz": "ounce",
    "in": "inch",
    '"': "inch",
    "°c": "degC",
    "°f": "degF",
    "f": "degF",
    "cl": "centiliter",
    "dl": "deciliter",
    "fl oz": "fluid_ounce",
    "fluid ounce": "fluid_ounce",
    "fluid ounces": "fluid_ounce",
    "ounces": "ounce",
    "tbsp": "tablespoon",
    "tbs": "tablespoon",
    "tablespoons": "tablespoon",
    "spoon": "tablespoon",
    "spoons": "tablespoon",
    "tsp": "teaspoon",
    "teaspoons": "teaspoon",
    "inches": "inch",
    "quarts": "quart",
    "cups": "cup",
    "litre": "liter",
    "litres": "liter",
    "% acid": "percent_acid",
    "%": "percent_acid",
}


KIND_WORDS = {"small_volume": "volume", "bottle": "volume"}


ALKALINITY = {
    "": 1.0,
    "meq/l": 1.0,
    "mg/l": 1 / MG_PER_MEQ,
    "ppm": 1 / MG_PER_MEQ,
    "°dh": MEQ_PER_DEGREE,
    "dh": MEQ_PER_DEGREE,
    "°dkh": MEQ_PER_DEGREE,
    "dkh": MEQ_PER_DEGREE,
    "kh": MEQ_PER_DEGREE,
}  #: meq/L of each; mg/L and ppm as CaCO3.
CUPS = {"cup": 1.0, "c": 1.0, "tbsp": 1 / 16, "tablespoon": 1 / 16, "spoon": 1 / 16, "tsp": 1 / 48, "teaspoon": 1 / 48}


class NotANumberError(ValueError):
    """What was typed cannot be read as a number; the text is a sentence for the person."""


#: Units that are shown or often typed, each with what it measures and how many of that one's own unit it is. A test holds it against pint.
FACTORS: dict[str, tuple[str, float]] = {
    "gram/liter": ("strength", 1.0),
    "decagram/liter": ("strength", 10.0),
    "percent_acid": ("strength", 10.0),
    "ounce/gallon": ("strength", 28.349523125 / 3.785411784),
    "milliliter": ("volume", 0.001),
    "centiliter": ("volume", 0.01),
    "deciliter": ("volume", 0.1),
    "liter": ("volume", 1.0),
    "teaspoon": ("volume", 0.00492892159375),
    "tablespoon": ("volume", 0.01478676478125),
    "fluid_ounce": ("volume", 0.0295735295625),
    "cup": ("volume", 0.2365882365),
    "quart": ("volume", 0.946352946),
    "gallon": ("volume", 3.785411784),
    "millimeter": ("length", 0.1),
    "centimeter": ("length", 1.0),
    "inch": ("length", 2.54),
    "kelvin": ("difference", 1.0),
    "delta_degF": ("difference", 5 / 9),
    "gram": ("mass", 1.0),
    "ounce": ("mass", 28.349523125),
    "bar": ("pressure", 1.0),
    "psi": ("pressure", 0.06894757293168361),
}
FREEZING_F, PER_F = 32.0, 5 / 9  #: [degF], [degC/degF]


@lru_cache(maxsize=1)
def _registry() -> Any:
    import pint

    return pint.UnitRegistry(cache_folder=None)


@lru_cache(maxsize=256)
def _factor(unit: str, to: str) -> tuple[float, float]:
    """Find scale and offset that turn a unit into another."""
    here, there = FACTORS.get(unit), FACTORS.get(to)
    if here is not None and there is not None and here[0] == there[0]:
        return here[1] / there[1], 0.0
    if to == "degC" and unit in {"degC", "degF"}:
        return (1.0, 0.0) if unit == "degC" else (PER_F, -FREEZING_F * PER_F)
    return _asked_of_pint(unit, to)


def _asked_of_pint(unit: str, to: str) -> tuple[float, float]:
    """Find the same for a unit that stands in no table; it takes half a second to load what knows them all."""
    quantity = _registry().Quantity
    zero, one = (float(quantity(v, unit).to(to).magnitude) for v in (0.0, 1.0))
    return one - zero, zero


def _plain(text: str) -> tuple[float, str]:
    match = _NUMBER.match(text)
    whole, top, under, mark, rest = match.groups() if match else (None,) * 5
    if match is None or (whole is None and top is None and mark is None):
        raise NotANumberError(f"“{text.strip()[:30]}” is not a number; type digits, like 3.4 or 1 1/2.")
    value = float((whole or "0").replace(",", "."))
    if top and under:
        if float(under) == 0:
            raise NotANumberError("A fraction cannot have 0 below the line.")
        value += float(top) / float(under)
    return value + WORD_FRACTIONS.get(mark or "", 0.0), (rest or "").strip()


def unit_like(like_l: float, units: str) -> str:
    """Return what a household measures so large a volume with. [L]

    >>> unit_like(0.24, "us"), unit_like(3.0, "us"), unit_like(0.33, "metric")
    ('cup', 'quart', 'milliliter')
    """
    return next(unit for least, unit in MEASURED_IN[units] if abs(like_l) >= least)


def parse(text: str, kind: str, units: str, alone: str = "") -> float:
    """Read what a person typed.

    Args:
        text: Like "3,8", "1 1/2 qt", "77 °F".
        kind: volume, small_volume, bottle, length, temperature, mass, strength or number.
        units: The household's, for a number without a unit: metric or us.
        alone: The unit that stands beside the field; it counts for a number alone.

    Returns: Value in L, mL, mL, cm, degC, g, g/L, or as it is.

    Raises:
        NotANumberError: With a sentence.
    """
    value, unit = _plain(text)
    if not _UNIT.fullmatch(unit):
        raise NotANumberError(f"“{unit[:20]}” after the number is not understood here.")
    if kind == Dimension.NUMBER:
        if unit not in {"", "g/L", "g/l", "%", "ph", "pH", "bar", "g", "min", "minutes", "mL", "ml", "N", "mol/L"}:
            raise NotANumberError(f"“{unit[:20]}” after the number is not understood here.")
        return value
    if kind == Dimension.ALKALINITY:
        if unit.lower() not in ALKALINITY:
            raise NotANumberError("Type meq/L, mg/L (as CaCO3) or °dKH; a number alone is meq/L.")
        return value * ALKALINITY[unit.lower()]
    if kind == Dimension.TEMPERATURE and unit.lower() == "c":
        unit = "degC"
    name = ALIASES.get(unit.lower(), unit) if unit else alone or TYPED[units][kind]
    try:
        scale, offset = _factor(name, SI[kind])
    except Exception as problem:
        raise NotANumberError(
            f"“{unit[:20]}” is not a unit of {KIND_WORDS.get(kind, kind)} that is known here."
        ) from problem
    return value * scale + offset


def amount(text: str, units: str) -> DryAmount:
    """Read how much leaf or sweetener: by litre, by weight, in cups, spoons or bags.

    Args:
        text: Like "55 g/L", "200 g", "1 1/2 cups", "8 bags"; a number alone is by litre (by gallon in US units).
        units: The household's.

    Raises:
        NotANumberError: With a sentence.
    """
    value, unit = _plain(text)
    word = unit.lower().rstrip("s") if unit.lower() not in {"", "g/l", "oz/gal"} else unit.lower()
    if word in CUPS:
        return DryAmount(value * CUPS[word], Dimension.CUPS)
    if word == "bag":
        return DryAmount(value, Dimension.BAGS)
    if word in {"", "g/l", "oz/gal"}:
        return DryAmount(parse(text, Dimension.STRENGTH, units), Dimension.STRENGTH)
    return DryAmount(parse(text, Dimension.MASS, units), Dimension.MASS)


def shown(value: float, kind: str, units: str) -> tuple[float, str]:
    """Turn an SI value into the household's: number and unit."""
    unit = TYPED[units][kind]
    if unit == SI[kind]:
        return value, SHOWN[unit]
    scale, offset = _factor(unit, SI[kind])
    return (value - offset) / scale, SHOWN[unit]


def large_l(units: str) -> float:
    """Return what a large volume is counted in: a litre, or a quart. [L]"""
    return 1.0 if units == Units.METRIC else float(_factor("quart", "liter")[0])


def degree_k(units: str) -> float:
    """Return how many kelvin a degree of a household is: 1 °C, or 1 °F."""
    return 1.0 if units == Units.METRIC else 5 / 9


def typed(value: float | None, kind: str, units: str) -> str:
    """Write an SI value as a person would type it."""
    if value is None:
        return ""
    number = value if kind in {Dimension.NUMBER, Dimension.ALKALINITY} else shown(value, kind, units)[0]
    return f"{number:.3g}" if abs(number) < 1000 else f"{number:.0f}"


def typed_in(litres: float, unit: str) -> str:
    """Write a volume as a person would type it in a unit. [L]"""
    return f"{litres / _factor(unit, 'liter')[0]:.3g}"


def words(value: float, kind: str, units: str) -> str:
    """Write an SI value with its unit, rounded to what a kitchen can measure."""
    if kind in {Dimension.NUMBER, Dimension.PH, Dimension.ALKALINITY}:
        return f"{value:g}" if kind == Dimension.NUMBER else f"{value:.2f}" if kind == Dimension.PH else f"{value:g} meq/L"
    if kind == Dimension.VOLUME:
        name = unit_like(value, units)
        number, unit = value / _factor(name, "liter")[0], SHOWN[name]
    else:
        number, unit = shown(value, kind, units)
    if unit == SHOWN["milliliter"] and kind != Dimension.BOTTLE:
        number = _millilitres(number)
    if step := HALVES.get(unit):
        text = fractions(number, step)
        return f"{text} {ONE.get(unit, unit) if number <= 1 + step / 2 else unit}"
    if unit == SHOWN["inch"]:
        return f"{fractions(number, FINE_INCH if number < 1 else COARSE_INCH)} in" if number >= FINE_INCH / 2 else "under ⅛ in"
    if unit == SHOWN["ounce"] and number >= 2:
        return f"{fractions(number, 0.5)} {unit}"
    text = f"{number:.{_digits(number, kind, units, unit)}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return f"{text} {ONE.get(unit, unit) if text == '1' else unit}"


#: Finest step in which a kitchen reads a unit.
HALVES = {"cups": 0.25, "tbsp": 0.5, "tsp": 0.25}
FINE_INCH, COARSE_INCH = 0.125, 0.25  #: How an inch is read on a rule: below one, and above.


def fractions(number: float, step: float) -> str:
    """Write a number in halves, quarters or eighths, as measuring cups and rules have them.

    >>> fractions(1.49, 0.25), fractions(0.75, 0.25), fractions(2.0, 0.5), fractions(0.05, 0.25)
    ('1½', '¾', '2', '0')
    """
    whole, part = divmod(round(number / step) * step, 1)
    sign = {0.125: "⅛", 0.25: "¼", 0.375: "⅜", 0.5: "½", 0.625: "⅝", 0.75: "¾", 0.875: "⅞"}.get(part, "")
    return f"{whole:.0f}{sign}" if whole or not sign else sign


def _millilitres(number: float) -> float:
    """Round to what a measuring jug shows: tens, and fives below a hundred. [mL]"""
    step = 10 if number >= 100 else 5 if number >= 20 else 1
    return round(number / step) * step


def _digits(number: float, kind: str, units: str, unit: str) -> int:
    """Return how many decimals of a number a kitchen can measure; those that are 0 are not written."""
    if kind == Dimension.VOLUME:
        return {"mL": 0, "L": 2 if number < 3 else 1, "qt": 1}.get(unit, 1)
    if kind in {Dimension.ACIDITY, Dimension.THICKNESS}:
        return 2 if units == Units.US else 1
    if kind == Dimension.DIFFERENCE:
        return 0
    if kind in {Dimension.TEMPERATURE, Dimension.PRESSURE, Dimension.MASS}:
        small = kind == Dimension.MASS and number < 10
        tenths = small or kind == Dimension.PRESSURE
        return {"metric": 1 if tenths else 0, "us": 1 if kind == Dimension.MASS else 0}[units]
    return 0 if abs(number) >= 100 else 1
