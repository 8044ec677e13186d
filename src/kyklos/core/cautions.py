"""Cautions: which are shown, from what is being done and with what. Texts stand in `data/cautions.toml`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from .facts import FLAVOURINGS, _table, limit


@dataclass(frozen=True, slots=True)
class Caution:
    """A warning in words."""

    key: str
    title: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Situation:
    """What is being done, and with what."""

    moment: str  #: plan, ferment, harvest, bottles (warm or cold) or open
    material: str = "glass"
    shocks: bool = False  #: Hot liquid would meet cold glass.
    honey: bool = False
    caffeine_mg_per_l: float = 0.0  #: [mg/L]
    starter_fraction: float = 0.12  #: [-]
    measured: bool = True
    abv_high: float = 0.0  #: 90 % end. [% ABV]
    flavours: tuple[str, ...] = ()
    juice_ml_per_l: float = 0.0  #: [mL/L]
    closed_bottles: bool = False  #: Pressure-rated bottles are, or will be, closed.
    unrated_bottles: bool = False  #: Something not made for pressure is to be filled.
    heated: bool = True  #: Something hot is handled.
    teas: tuple[str, ...] = ()  #: Cautions of the teas in it.
    trial: bool = False
    vinegar: bool = False
    rivals: bool = False  #: Other ferments stand near by.


_HANDLING = {"harvest", "bottles", "open"}

CONDITIONS: dict[str, Callable[[Situation], bool]] = {
    "glass_shock": lambda s: s.moment == "plan" and s.shocks,
    "scald": lambda s: s.moment == "plan" and s.heated,
    "trial": lambda s: s.trial,
    "start_ph": lambda s: s.moment == "plan",
    "little_starter": lambda s: s.moment == "plan" and s.starter_fraction < limit("starter_floor"),
    "vinegar": lambda s: s.vinegar,
    "oily": lambda s: "oily" in s.teas,
    "herbal": lambda s: "herbal" in s.teas,
    "scented": lambda s: "scented" in s.teas,
    "decaf": lambda s: "decaf" in s.teas,
    "metal": lambda s: s.material == "reactive metal",
    "lead": lambda s: s.material in {"stoneware", "unknown glaze or crystal"} and s.moment in {"plan", "vessel"},
    "plastic": lambda s: s.material == "plastic" and s.moment in {"plan", "vessel"},
    "no_pressure": lambda s: s.unrated_bottles,
    "burst": lambda s: s.closed_bottles and s.moment in {"harvest", "bottles"},
    "gush": lambda s: s.moment in {"open", "bottles"} and s.closed_bottles,
    "not_measured": lambda s: s.moment in {"ferment", "harvest"} and not s.measured,
    "mould": lambda s: s.moment == "ferment",
    "finish_ph": lambda s: s.moment == "harvest",
    "much_juice": lambda s: s.juice_ml_per_l > limit("much_juice"),
    "low_acid": lambda s: any(FLAVOURINGS[f].low_acid for f in s.flavours),
    "grapefruit": lambda s: "grapefruit" in s.flavours,
    "allergens": lambda s: any(f not in {"plain", "sugar"} for f in s.flavours) and s.moment == "harvest",
    "honey": lambda s: s.honey or "honey" in s.flavours,
    "alcohol": lambda s: s.abv_high > limit("abv_caution") and s.moment != "plan",
    "raw": lambda s: s.moment in _HANDLING,
    "acid": lambda s: s.moment in {"harvest", "open"},
    "caffeine": lambda s: s.caffeine_mg_per_l > 5 and s.moment in {"plan", "harvest"},
    "selling": lambda s: s.moment in _HANDLING,
    "hygiene": lambda s: s.moment == "plan",
    "rivals": lambda s: s.rivals,
    "estimate": lambda s: s.moment in {"ferment", "bottles"},
}

CAUTIONS = {key: Caution(key, **entry) for key, entry in _table("cautions").items()}


def cautions_for(situation: Situation) -> list[Caution]:
    """List the cautions that apply, gravest first (the order of the table).

    >>> [c.key for c in cautions_for(Situation(moment="plan", honey=True))]
    ['scald', 'start_ph', 'honey', 'hygiene']
    """
    return [CAUTIONS[key] for key, holds in CONDITIONS.items() if holds(situation)]
