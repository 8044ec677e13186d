"""What a brew-day plan is asked and answers: frozen values."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..base import Said, require_between
from ..base.facts import SWEETENERS
from ..liquid import Recipe, acids, ageing, heat_methods, sweet_tea
from . import portions, rounds, vessel_parts
from .kinds import BrewKind
from .portions import Portion
from .recipe_card import RecipeCard
from .starters import StarterChoice


@dataclass(frozen=True, slots=True, kw_only=True)
class VesselFacts:
    """The vessel of a plan."""

    name: str = "the vessel"
    nominal_l: float = 4.0  #: [L]
    line_l: float = 3.4  #: To the fill line. [L]
    diameter_cm: float = 15.0  #: [cm]
    material: str = "glass"
    tapped: bool = False
    heel_l: float = 0.0  #: Stays below the tap. [L]


@dataclass(frozen=True, slots=True, kw_only=True)
class StarterTold:
    """A starter as it was described: by pH, by titration, or not measured."""

    key: str
    name: str
    left_l: float  #: [L]
    ph: float | None = None  #: [pH]
    ta_g_per_l: float | None = None  #: Beats the pH. [g/L]
    instrument: str = "estimate"
    kind: str = "fresh"
    line: str = ""  #: Name of its culture, where known.
    diet: str = ""  #: sugar or jun, where known.
    fixed: bool = False  #: In the vessel already.
    age_days: float = 0.0  #: Since it was set aside. [d]
    kept_in: str = "shelf"  #: shelf or fridge
    read_days: float = 0.0  #: Since its pH or acidity was measured. [d]
    brewed_with: acids.TeaAndWater | None = None  #: The brew it comes from had; None: not known.

    def portion(self, usual: acids.TeaAndWater) -> Portion:
        """Describe its acid, read in its own tea and water. `usual`: where those are not known."""
        where = self.brewed_with or usual
        if self.ta_g_per_l is not None:
            made = portions.portion_from_titration(self.key, self.name, self.left_l, self.ta_g_per_l, where)
            return replace(made, kind=self.kind, **self._standing(made.measured))
        ph = self.ph if self.ph is not None else portions.BOUGHT_PH
        sd = portions.instrument_sd(self.instrument if self.ph is not None else "estimate")
        if self.read_long_ago:
            sd = max(sd, portions.BOUGHT_SD)
        made = portions.portion_from_ph(self.key, self.name, self.left_l, ph, sd, where, self.instrument, self.kind)
        return replace(made, **self._standing(made.measured and self.ph is not None))

    def _standing(self, measured: bool) -> dict[str, Any]:
        """Return what of a portion follows from how long it stood."""
        long_ago = self.read_days if self.read_long_ago else None
        return {
            "fixed": self.fixed, "lively": self.lively, "measured": measured and long_ago is None, "read_days": long_ago,
        }  # fmt: skip

    @property
    def read_long_ago(self) -> bool:
        """Whether it stood so long since it was measured that it is no longer what it read then."""
        known = self.ta_g_per_l is not None or (self.ph is not None and self.instrument != "estimate")
        return known and self.read_days > ageing.READ_DAYS[self.kept_in]

    @property
    def lively(self) -> tuple[float, float]:
        """Its yeast and bacteria against a fresh brew's. [-]"""
        return ageing.liveliness(self.kind, self.age_days, self.kept_in)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanAsk:
    """All that a plan depends on."""

    card: RecipeCard
    vessel: VesselFacts
    culture: str = ""
    diet: str = "sugar"
    usual: acids.TeaAndWater | None = None  #: The household's usual tea in soft water; as the card has it unless given.
    room_c: float = 21.0  #: Where it will stand; starter and honey have it too. [degC]
    cold_c: float = 15.0  #: Of the cold water. [degC]
    liquid_l: float | None = None  #: Brew wanted, heel and starter included; to the line unless given. [L]
    disc_l: float = 0.0  #: [L]
    starters: tuple[StarterTold, ...] = ()
    vinegar_l: float = 0.0  #: Distilled, 5 %. [L]
    pot_l: float | None = None  #: Largest of the household. [L]
    jug_l: float | None = None  #: [L]
    pitcher_l: float | None = None  #: [L]
    earlier_brews: int = 0  #: Of this culture, harvested.
    dried: bool = False  #: This culture came dry.
    backups: int | None = None  #: Living things of this culture besides what works; None: not known.
    rivals: bool = False  #: Other ferments stand where it will stand.
    logged: tuple[float, float] | None = None  #: One temperature while cooling: hours, degC.

    @property
    def usual_tea(self) -> acids.TeaAndWater:
        """What a starter of unknown origin is taken to be brewed with: the usual tea in soft water."""
        return self.usual or acids.TeaAndWater(self.card.tea, self.card.leaf_g_per_l)

    def __post_init__(self) -> None:
        require_between(-5, 45, "degC", room_c=self.room_c)
        require_between(0, 40, "degC", cold_c=self.cold_c)


@dataclass(frozen=True, slots=True, kw_only=True)
class BrewPlan:
    """A brew day, computed."""

    ask: PlanAsk
    kind: BrewKind
    recipe: Recipe
    made: sweet_tea.Amounts
    choice: StarterChoice
    parts: vessel_parts.Parts
    heat: heat_methods.HeatOut
    rounds: rounds.Rounds
    notes: tuple[Said, ...]

    @property
    def start_ph(self) -> float:
        """Likely pH at the start. [pH]"""
        return self.choice.start_ph

    @property
    def start_ph_high(self) -> float:
        """If the starters are as weak as they may be. [pH]"""
        return self.choice.start_ph_high

    @property
    def final_l(self) -> float:
        """Brew in the vessel. [L]"""
        return self.made.final_l

    @property
    def sweet_tea_l(self) -> float:
        """Sweet tea, without starter and vinegar. [L]"""
        return self.final_l * (1 - self.recipe.starter_fraction) - self.ask.vinegar_l

    @property
    def measures(self) -> dict[str, sweet_tea.KitchenAmount]:
        """Amounts as a kitchen without scales measures them."""
        spoon, bag = sweet_tea.leaf_measures(self.made, *self.ask.card.measures_g)
        out = {"spoons": spoon, "bags": bag, "starter": sweet_tea.liquid_measure(self.made.starter_ml)}
        for key, grams in self.made.sweeteners:
            out[key] = sweet_tea.in_cups(grams, SWEETENERS[key].g_per_cup)
        return out

    @property
    def grave(self) -> bool:
        """Whether something has to change first."""
        return any(note.grave for note in self.notes)
