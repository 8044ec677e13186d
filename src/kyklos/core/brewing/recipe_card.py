"""A recipe as a household keeps it: strengths and ways, free of any vessel, so that it scales to all of them."""

from __future__ import annotations

from dataclasses import dataclass

from ..base import CoreError, require_between
from ..base.water import Water
from ..liquid import sweet_tea, teas
from ..liquid.acids import Tea
from ..liquid.heat_methods import METHODS
from ..liquid.sweet_tea import Shares
from .kinds import FLOORS, SCHOOLS, check_kind

TAP = Water()


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeCard:
    """What a brew is made of, by litre and by share."""

    kind: str = "batch"
    tea: Tea = "black"
    leaf_g_per_l: float = 4.5  #: [g/L]
    sweeteners: Shares = (("sugar", 1.0),)  #: By share of the sugars.
    sugar_g_per_l: float = 55.0  #: Sugars of the sweet tea. [g/L]
    steep_minutes: float | None = None  #: The brewer's own; as the tea likes it unless given. [min]
    water_c: float | None = None  #: The brewer's own. [degC]
    steep: str = "usual"
    honey: str = "raw"
    floor: str = "usual"
    heat_method: str = "concentrate"
    seed: str = "both"
    reserve: str = "stirred"
    share: float | None = None  #: Of starter; as advised unless given. [-]
    base: str = ""  #: Of a trial, in words.
    g_per_spoon: float | None = None  #: The brewer's own tablespoon of this leaf. [g]
    g_per_bag: float | None = None  #: [g]
    water: Water = TAP

    def __post_init__(self) -> None:
        check_kind(self.kind)
        require_between(0, 40, "g/L", leaf_g_per_l=self.leaf_g_per_l)
        require_between(0, 200, "g/L", sugar_g_per_l=self.sugar_g_per_l)
        sweet_tea.check_shares(self.sweeteners)
        for name, value in (
            ("steep", self.steep),
            ("honey", self.honey),
            ("seed", self.seed),
            ("reserve", self.reserve),
        ):
            if value not in SCHOOLS[name].ways:
                raise CoreError(f"{name}: choose one of {', '.join(SCHOOLS[name].ways)}.")
        if self.floor not in FLOORS or self.heat_method not in METHODS:
            raise CoreError("Choose one of the ways.")

    @property
    def honey_share(self) -> float:
        """Share of the sugars that comes from honey. [-]"""
        return sweet_tea.honey_share(self.sweeteners)

    @property
    def raw_honey(self) -> bool:
        """Whether raw honey goes in, below 40 degC."""
        return self.honey == "raw" and self.honey_share > 0

    @property
    def on_leaf_c(self) -> float:
        """How hot the water on the leaf is. [degC]"""
        return self.water_c if self.water_c is not None else teas.water_c(self.tea)

    @property
    def steeps_minutes(self) -> float:
        """How long it steeps. [min]"""
        if self.steep_minutes is not None:
            return self.steep_minutes
        _, usual, high = teas.steep_minutes(self.tea)
        return high if self.steep == "long" and teas.bears_long_steep(self.tea) else usual

    @property
    def measures_g(self) -> tuple[float, float]:
        """What a tablespoon and a bag of this leaf weigh. [g]"""
        spoon, bag = teas.grams_each(self.tea)
        return self.g_per_spoon or spoon, self.g_per_bag or bag
