"""What somebody's tables or documents tell of brews: values to be brought in."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from ..liquid import Recipe

LONGEST_DAYS = 120.0  #: A brew that stands longer is vinegar: kept as starter, or ended with its last reading. [d]


@dataclass(frozen=True, slots=True)
class ReadingTold:
    """A reading of a row."""

    row: int
    at: datetime
    ph: float | None
    celsius: float | None  #: [degC]
    note: str
    by: str = "strip"
    ta_g_per_l: float | None = None  #: [g/L]
    gravity: float | None = None  #: Specific gravity. [-]


@dataclass(frozen=True, slots=True)
class TastingTold:
    """A taste of a row, from -3 (much too sweet) to 3 (much too sour)."""

    row: int
    at: datetime
    taster: str
    score: int
    note: str


@dataclass(frozen=True, slots=True)
class BottlesTold:
    """Bottles of a row."""

    row: int
    at: datetime
    count: int
    kind: str  #: A key of core/base/data/bottle_types.toml
    volume_ml: float  #: [mL]
    flavour: str
    left: int | None = None  #: None: nobody wrote whether they are still there.


@dataclass(frozen=True, slots=True)
class LookTold:
    """What was seen on the surface."""

    at: datetime
    surface: str  #: A surface of core/base/data/observations.toml
    signs: tuple[str, ...]
    smell: str
    note: str


@dataclass(frozen=True, slots=True)
class BrewTold:
    """A brew of one or several rows."""

    row: int  #: Its first.
    vessel: str
    culture: str
    began: datetime
    ended: datetime | None
    litres: float  #: [L]
    sugar_g_per_l: float | None  #: [g/L]
    note: str
    readings: tuple[ReadingTold, ...]
    tastings: tuple[TastingTold, ...] = ()
    bottles: tuple[BottlesTold, ...] = ()
    honey: bool = False  #: Jun.
    recipe: Recipe | None = None  #: How it was started, where that is known.
    looks: tuple[LookTold, ...] = ()
