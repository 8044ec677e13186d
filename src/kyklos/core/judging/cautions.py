"""Cautions: which are shown, from what is being done and with what. Texts stand in `data/cautions.toml`."""

from __future__ import annotations

from collections.abc import Callable, Container
from dataclasses import dataclass

from ..base import limit
from ..base.facts import entries_of, tea_named
from ..base.kinds import Occasion
from ..bottles import ingredient
from ..bottles.ingredients import known
from ..liquid import teas
from ..liquid.acids import Tea


@dataclass(frozen=True, slots=True)
class Caution:
    """A warning in words."""

    key: str
    title: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Situation:
    """What is being done, and with what."""

    moment: Occasion
    runs: bool = False  #: A tapped vessel: acid stands in it for months.
    material: str = "glass"
    shocks: bool = False  #: Hot liquid would meet cold glass.
    honey: bool = False
    caffeine_mg_per_l: float = 0.0  #: [mg/L]
    starter_fraction: float = 0.12  #: [-]
    measured: bool = True
    abv_high: float = 0.0  #: Upper end of what is foretold. [% ABV]
    pressing: bool = False  #: A bottle is due to be chilled, or may be past its limit.
    spoilt: bool = False  #: Mould, insects, eels or rot was seen.
    closes_high: bool = False  #: With its flavour in it may stand above pH 4.2.
    flavours: tuple[str, ...] = ()  #: Keys of ingredients.
    medicines: bool = False  #: Something in it changes how medicines work.
    juice_ml_per_l: float = 0.0  #: [mL/L]
    closed_bottles: bool = False  #: Pressure-rated bottles are, or will be, closed.
    unrated_bottles: bool = False  #: Something not made for pressure is to be filled.
    heated: bool = True  #: Something hot is handled.
    teas: tuple[str, ...] = ()  #: Cautions of the teas in it.
    trial: bool = False
    vinegar: bool = False
    rivals: bool = False  #: Other ferments stand near by.


_BEFORE = {Occasion.PLAN, Occasion.FIRST}
_HANDLING = {Occasion.HARVEST, Occasion.BOTTLES, Occasion.OPEN}

CONDITIONS: dict[str, Callable[[Situation], bool]] = {
    "glass_shock": lambda s: s.moment == Occasion.PLAN and s.shocks,
    "scald": lambda s: s.moment in _BEFORE and s.heated,
    "trial": lambda s: s.trial,
    "start_ph": lambda s: s.moment == Occasion.PLAN,
    "little_starter": lambda s: s.moment == Occasion.PLAN and s.starter_fraction < limit("starter_floor"),
    "vinegar": lambda s: s.vinegar,
    "oily": lambda s: "oily" in s.teas,
    "herbal": lambda s: "herbal" in s.teas,
    "scented": lambda s: "scented" in s.teas,
    "decaf": lambda s: "decaf" in s.teas,
    "metal": lambda s: s.material == "reactive metal",
    "lead": lambda s: (
        s.material in {"stoneware", "unknown glaze or crystal"}
        and (s.moment in {Occasion.PLAN, Occasion.VESSEL} or (s.runs and s.material != "stoneware"))
    ),
    "plastic": lambda s: s.material == "plastic" and s.moment in {Occasion.PLAN, Occasion.VESSEL},
    "no_pressure": lambda s: s.unrated_bottles,
    "burst": lambda s: s.closed_bottles and s.moment in {Occasion.HARVEST, Occasion.BOTTLES},
    "gush": lambda s: s.moment in {Occasion.OPEN, Occasion.BOTTLES} and s.closed_bottles,
    "not_measured": lambda s: s.moment in {Occasion.FERMENT, Occasion.HARVEST} and not s.measured,
    "mould": lambda s: s.moment == Occasion.FERMENT,
    "finish_ph": lambda s: s.moment == Occasion.HARVEST,
    "much_juice": lambda s: s.juice_ml_per_l > limit("much_juice"),
    "low_acid": lambda s: s.closes_high,
    "grapefruit": lambda s: s.medicines or any(ingredient(f).medicines for f in s.flavours if known(f)),
    "allergens": lambda s: any(f not in {"plain", "sugar"} for f in s.flavours) and s.moment == Occasion.HARVEST,
    "honey": lambda s: s.honey or "honey" in s.flavours,
    "alcohol": lambda s: s.abv_high > limit("abv_caution") and s.moment != Occasion.PLAN,
    "raw": lambda s: s.moment in _HANDLING | {Occasion.FIRST},
    "acid": lambda s: s.moment in {Occasion.HARVEST, Occasion.OPEN},
    "caffeine": lambda s: s.caffeine_mg_per_l > 5 and s.moment in {Occasion.PLAN, Occasion.HARVEST},
    "selling": lambda s: s.moment in {Occasion.SETTINGS, Occasion.LABEL},
    "hygiene": lambda s: s.moment in _BEFORE,
    "rivals": lambda s: s.rivals,
    "estimate": lambda s: s.moment in {Occasion.FERMENT, Occasion.BOTTLES},
}

#: What an unsafe state shows before all else, and unfolded each time.
URGENT: dict[str, Callable[[Situation], bool]] = {
    "mould": lambda s: s.spoilt,
    "burst": lambda s: s.pressing,
    "no_pressure": lambda s: s.unrated_bottles,
    "low_acid": lambda s: s.closes_high,
    "metal": lambda s: s.material == "reactive metal",
    "lead": lambda s: s.material == "unknown glaze or crystal",
    "not_measured": lambda s: s.moment == Occasion.HARVEST and not s.measured,
    "little_starter": lambda s: s.starter_fraction < limit("starter_floor"),
}
MOST_OPEN, FRESH = 3, 1  #: More at once are not read: what matters now, or one that was not shown before.

CAUTIONS = {key: Caution(key, **entry) for key, entry in entries_of("cautions").items()}


def cautions_for(situation: Situation) -> list[Caution]:
    """List the cautions that apply, gravest first (the order of the table).

    >>> [c.key for c in cautions_for(Situation(moment="plan", honey=True))]
    ['scald', 'start_ph', 'honey', 'hygiene']
    """
    return [CAUTIONS[key] for key, holds in CONDITIONS.items() if holds(situation)]


@dataclass(frozen=True, slots=True)
class ShownCautions:
    """Cautions as they are shown: a few in full, the rest as one line that unfolds."""

    full: tuple[Caution, ...] = ()
    folded: tuple[Caution, ...] = ()


def as_heard(situation: Situation, heard: Container[str] = ()) -> ShownCautions:
    """Choose which cautions are shown in full: what matters now, at most three; else one that was not shown before.

    Args:
        situation: What is being done.
        heard: Keys of those that were shown in full before.

    >>> [c.key for c in as_heard(Situation(moment="plan", honey=True), {"scald"}).full]
    ['start_ph']
    """
    holding = cautions_for(situation)
    urgent = [c for c in holding if c.key in URGENT and URGENT[c.key](situation)]
    urgent.sort(key=lambda c: list(URGENT).index(c.key))
    fresh = [c for c in holding if c not in urgent and c.key not in heard]
    full = urgent[:MOST_OPEN] or fresh[:FRESH]
    return ShownCautions(tuple(full), tuple(c for c in holding if c not in full))


def cautions_of(tea: Tea) -> list[Caution]:
    """List the cautions of scented, oily, herbal and decaffeinated parts."""
    return [CAUTIONS[c] for key, _ in teas.parts_of(tea) if (c := tea_named(key).caution)]
