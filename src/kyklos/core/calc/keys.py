"""Keys of the calculations: names, units, defaults, ranges; reading refuses what does not fit, naming the key."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..base import CoreError
from ..base.facts import INSTRUMENTS, TEAS
from ..bottles import Ingredient, ingredient
from ..bottles.ingredients import FORMS, INGREDIENTS, known
from ..supply.cost import UNITS, unit_named


class CalcError(CoreError):
    """What was asked cannot be answered; the sentence names the key."""


REQUIRED = object()


@dataclass(frozen=True, slots=True)
class Key:
    """One input of a calculation."""

    name: str
    unit: str = "-"
    low: float = 0.0  #: [in `unit`]
    high: float = math.inf  #: [in `unit`]
    default: Any = REQUIRED
    kind: str = "number"  #: number, flag, tea, course, choice or a kind read by the calculation itself
    choices: tuple[str, ...] = ()

    @property
    def required(self) -> bool:
        """Whether the input must be given."""
        return self.default is REQUIRED


def number(value: Any, name: str, low: float = -math.inf, high: float = math.inf) -> float:
    """Read a JSON number; refuses text, truth values, NaN and infinity.

    Raises:
        CalcError: Naming the key.
    """
    try:
        whole = isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value)
    except OverflowError as problem:
        raise CalcError(f"{name} is far too large a number.") from problem
    if whole:
        raise CalcError(f"{name} must be a number.")
    if not low <= value <= high:
        raise CalcError(f"{name} is {value:g}; it must lie from {low:g} to {high:g}.")
    return float(value)


def tea(value: Any, name: str = "tea") -> str | tuple[tuple[str, float], ...]:
    """Read a tea's name, or an object of shares that sum to 1."""
    if isinstance(value, str):
        return choice(value, name, tuple(TEAS))
    if not isinstance(value, Mapping) or not value:
        raise CalcError(f"{name} must be a name or an object of shares.")
    shares = tuple(
        sorted((choice(key, name, tuple(TEAS)), number(share, f"{name}.{key}", 0, 1)) for key, share in value.items())
    )
    if abs(sum(share for _, share in shares) - 1) > 1e-6:
        raise CalcError(f"{name}: the shares must sum to 1.")
    return shares


def choice(value: Any, name: str, choices: tuple[str, ...]) -> str:
    """Read one of some words."""
    if not isinstance(value, str) or value not in choices:
        raise CalcError(f"{name} must be one of {', '.join(choices)}.")
    return value


def _unit(value: Any, name: str) -> str:
    if not isinstance(value, str) or value.lower() not in {unit.lower() for unit in UNITS}:
        raise CalcError(f"{name} must be one of {', '.join(UNITS)}.")
    return unit_named(value)


def pairs(value: Any, name: str) -> tuple[tuple[float, float], ...]:
    """Read a list of [day, degC], in order of day."""
    if not isinstance(value, list):
        raise CalcError(f"{name} must be a list of [day, celsius].")
    out = []
    for i, item in enumerate(value):
        if not isinstance(item, list) or len(item) != 2:
            raise CalcError(f"{name}[{i}] must be [day, celsius].")
        out.append((number(item[0], f"{name}[{i}][0]", 0, 1000), number(item[1], f"{name}[{i}][1]", -10, 60)))
    if [day for day, _ in out] != sorted(day for day, _ in out):
        raise CalcError(f"{name}: the days must be in order.")
    return tuple(out)


def course_of(value: Any, name: str) -> tuple[tuple[float, float], ...]:
    """Read one temperature, or a list of [day, degC] with at least one."""
    if isinstance(value, list):
        points = pairs(value, name)
        if not points:
            raise CalcError(f"{name} must not be empty.")
        return points
    return ((0.0, number(value, name, -10, 60)),)


def flavour(value: Any, name: str = "flavour") -> Ingredient:
    """Read the name of an ingredient."""
    if not isinstance(value, str) or not known(value):
        raise CalcError(f"{name} is {value!r}; known are {', '.join(INGREDIENTS)}.")
    return ingredient(value)


def objects(value: Any, name: str) -> list[Mapping[str, Any]]:
    """Read a list of objects."""
    if not isinstance(value, list) or not all(isinstance(item, Mapping) for item in value):
        raise CalcError(f"{name} must be a list of objects.")
    return value


def read(keys: tuple[Key, ...], given: Any, where: str = "") -> dict[str, Any]:
    """Read an object by its keys, with defaults; keys read by the calculation itself pass unchanged.

    Args:
        keys: What is known.
        given: The object.
        where: Said before a key's name, for objects inside objects.

    Raises:
        CalcError: For unknown and missing keys, wrong types and values out of range.
    """
    if not isinstance(given, Mapping):
        raise CalcError(f"{where.rstrip('.') or 'the question'} must be an object.")
    known = {key.name for key in keys}
    for name in given:
        if name not in known:
            raise CalcError(f"{where}{name} is not a known key; known are {', '.join(sorted(known))}.")
    return {key.name: _one(key, given, where) for key in keys}


def _one(key: Key, given: Mapping[str, Any], where: str) -> Any:
    name = where + key.name
    if key.name not in given:
        if key.required:
            raise CalcError(f"{name} is missing.")
        return key.default
    value = given[key.name]
    if key.kind == "number":
        return number(value, name, key.low, key.high)
    if key.kind == "whole":
        whole = number(value, name, key.low, key.high)
        if whole != int(whole):
            raise CalcError(f"{name} must be a whole number.")
        return int(whole)
    if key.kind == "flag":
        if not isinstance(value, bool):
            raise CalcError(f"{name} must be true or false.")
        return value
    if key.kind == "tea":
        return tea(value, name)
    if key.kind == "course":
        return course_of(value, name)
    if key.kind == "unit":
        return _unit(value, name)
    if key.kind == "flavour":
        return flavour(value, name)
    if key.kind == "choice":
        return choice(value, name, key.choices)
    return value


TEA = Key("tea", default="black", kind="tea")
LEAF = Key("leaf_g_per_l", "g/L", 0, 40, 6.0)
SUGAR = Key("sugar_g_per_l", "g/L", 0, 200, 60.0)
ALKALINITY = Key("alkalinity_meq_per_l", "meq/L", 0, 20, 0.5)
HONEY = Key("honey_g_per_l", "g/L", 0, 400, 0.0)
HONEY_SHARE = Key("honey_share", "-", 0, 1, 0.0)
FRACTION = Key("starter_fraction", "-", 0.005, 1, 0.1)
STARTER_PH = Key("starter_ph", "pH", 1.5, 7, 3.2)
STARTER_TA = Key("starter_ta_g_per_l", "g/L", 0, 60, None)
HEADSPACE = Key("headspace_fraction", "-", 0.001, 0.9, 0.05)
SURFACE = Key("surface_per_volume_per_cm", "1/cm", 0.001, 2, 0.05)
VIGOUR = Key("vigour", "-", 0.05, 5, 1.0)
DAYS = Key("days", "d", 1, 200, 30, "whole")
STARTER_YEAST = Key("starter_yeast", "-", 0, 2, None)
STARTER_BACTERIA = Key("starter_bacteria", "-", 0, 2, None)
STARTER_PH_SD = Key("starter_ph_sd", "pH", 0, 2, 0.1)
STARTER_IN = (
    Key("starter_tea", default=None, kind="tea"),
    Key("starter_leaf_g_per_l", "g/L", 0, 40, None),
    Key("starter_alkalinity_meq_per_l", "meq/L", 0, 20, None),
)
RECIPE = (
    TEA, LEAF, SUGAR, FRACTION, STARTER_PH, STARTER_TA, HONEY_SHARE, VIGOUR, ALKALINITY, SURFACE,
    STARTER_YEAST, STARTER_BACTERIA, STARTER_PH_SD,
)  # fmt: skip
INSTRUMENT = Key("instrument", default="meter", kind="choice", choices=tuple(INSTRUMENTS))
FLAVOUR = Key("flavour", default=INGREDIENTS["plain"], kind="flavour")
FORM = Key("form", default=None, kind="choice", choices=tuple(FORMS))
POUR_YEAST = Key("pour_yeast_factor", "-", 0, 4, 1.0)
