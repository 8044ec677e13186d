"""Facts that stand once: teas, sweeteners, flavourings, bottles, instruments and limits, read from the data files."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any, TypeVar

from .errors import UnknownNameError

T = TypeVar("T")
SUGAR_ML_PER_G = 0.62  #: Volume that dissolved sugar takes (its density in solution, 1.6 g/mL). [mL/g]


@dataclass(frozen=True, slots=True, kw_only=True)
class Tea:
    """A tea: what its leaf does to pH, and how it is steeped."""

    key: str
    name: str
    weak_acid_mmol_per_g: float  #: Weak acid of the leaf. [mmol/g]
    strong_ions_meq_per_g: float  #: Strong ion difference of the leaf. [meq/g]
    caffeine_mg_per_g: float  #: Caffeine extracted. [mg/g]
    steep_minutes: tuple[float, float, float]  #: Low, default, high. [min]
    water_c: tuple[float, float]  #: Water from, to. [degC]
    g_per_spoon: float  #: A level tablespoon of leaf. [g]
    g_per_bag: float  #: [g]
    vigour: float = 1.0  #: How fast cultures work on it against black tea (assumed). [-]
    caution: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Sweetener:
    """A sugar, syrup or honey."""

    key: str
    name: str
    sugars: float  #: Fermentable share by mass. [-]
    sucrose: float  #: Share of those sugars that is sucrose; the rest is glucose and fructose. [-]
    g_per_cup: float  #: Mass of a US cup. [g]
    g_per_ml: float | None = None  #: Of a syrup; None for what dissolves. [g/mL]
    honey: bool = False

    @property
    def room_ml_per_g(self) -> float:
        """Volume that it takes in the brew: syrups their own, sugar 0.62 mL/g dissolved. [mL/g]"""
        return SUGAR_ML_PER_G if self.g_per_ml is None else 1 / self.g_per_ml


@dataclass(frozen=True, slots=True, kw_only=True)
class BottleKind:
    """A kind of bottle and what it can hold."""

    key: str
    name: str
    volume_ml: float  #: Brimful volume. [mL]
    limit_bar: float  #: Working limit, gauge; 0 when not for pressure. [bar]
    shape: str
    neck_cm2: float  #: Mean cross-section of the top (assumed). [cm2]
    note: str = ""

    def headspace_fraction(self, headspace_cm: float, volume_ml: float) -> float:
        """Turn a headspace in cm into a share of the bottle. [-]"""
        return min(0.5, max(0.005, self.neck_cm2 * headspace_cm / volume_ml))


@dataclass(frozen=True, slots=True, kw_only=True)
class InstrumentKind:
    """What measures pH, and how well."""

    key: str
    name: str
    sd_ph: float  #: Spread of one reading. [pH]
    offset_ph: float  #: Spread of an offset shared by its readings. [pH]
    straddles: float  #: Nearer to a limit than this, it cannot settle it. [pH]


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """A limit that a rule reads."""

    key: str
    value: float  #: [in `unit`]
    unit: str
    source: str


@cache
def entries_of(name: str) -> dict[str, dict[str, Any]]:
    """Return the entries of a data file, by key, as they stand in it."""
    text = resources.files(__package__).joinpath("data", f"{name}.toml").read_text("utf-8")
    return tomllib.loads(text)


def with_tuples(entry: dict[str, Any]) -> dict[str, Any]:
    """Return an entry with its lists as tuples, so that a frozen value may hold it."""
    return {key: tuple(value) if isinstance(value, list) else value for key, value in entry.items()}


def table_of(name: str, kind: Callable[..., T]) -> Mapping[str, T]:
    """Return the entries of a data file as values of a kind, by key; the key is one of its fields."""
    return MappingProxyType({key: kind(key=key, **with_tuples(entry)) for key, entry in entries_of(name).items()})


TEAS: Mapping[str, Tea] = table_of("teas", Tea)
SWEETENERS: Mapping[str, Sweetener] = table_of("sweeteners", Sweetener)
BOTTLES: Mapping[str, BottleKind] = table_of("bottle_types", BottleKind)
INSTRUMENTS: Mapping[str, InstrumentKind] = table_of("instruments", InstrumentKind)
LIMITS: Mapping[str, Limit] = table_of("limits", Limit)


def limit(key: str) -> float:
    """Look up the value of a limit.

    >>> limit("safe_ph")
    4.2
    """
    return float(LIMITS[key].value)


def tea_named(key: str) -> Tea:
    """Look up a tea.

    Raises:
        UnknownNameError: If the data file has no such tea.
    """
    if key not in TEAS:
        raise UnknownNameError("tea", key, list(TEAS))
    return TEAS[key]
