"""What documents of recipes and brews are made of."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from ..core.brewing import RecipeCard
from ..core.liquid import teas
from ..core.sheets.logger_file import FIRST_YEAR, LAST_YEAR
from .strict import DocumentPart, Name, RealDay, Share, Text, Word

MOST_ROWS = 5_000


def _real_moment(text: str) -> str:
    """Refuse a moment that is none, that names no offset, or that no household has seen."""
    found = datetime.fromisoformat(text)
    if found.tzinfo is None:
        raise ValueError("a moment needs its offset from UTC")
    if not FIRST_YEAR <= found.year <= LAST_YEAR:
        raise ValueError(f"a moment lies from {FIRST_YEAR} to {LAST_YEAR}")
    return text


Moment = Annotated[str, Field(max_length=40), AfterValidator(_real_moment)]  #: ISO 8601 with offset.
Positive = Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]
Amount = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]
PhValue = Annotated[float, Field(ge=1.5, le=8, allow_inf_nan=False)]
Degrees = Annotated[float, Field(ge=-10, le=100, allow_inf_nan=False)]


class TeaShare(DocumentPart):
    """A tea of a blend."""

    tea: Word
    share: Share


class SweetenerShare(DocumentPart):
    """A sweetener, by its share of the sugars."""

    sweetener: Word
    share: Share


class RecipeTold(DocumentPart):
    """A recipe by litre and by share, free of vessel, starter and water."""

    kind: Word = "batch"
    tea: tuple[TeaShare, ...] = Field(min_length=1, max_length=8, strict=False)
    leaf_g_per_l: float = Field(ge=0, le=40, allow_inf_nan=False)
    sweeteners: tuple[SweetenerShare, ...] = Field(min_length=1, max_length=6, strict=False)
    sugar_g_per_l: float = Field(ge=0, le=200, allow_inf_nan=False)
    steep_minutes: float | None = Field(default=None, ge=0, le=2880, allow_inf_nan=False)
    water_degc: float | None = Field(default=None, ge=0, le=100, allow_inf_nan=False)
    steep: Word = "usual"
    honey: Word = "raw"
    floor: Word = "usual"
    heat_method: Word = "concentrate"
    seed: Word = "both"
    reserve: Word = "stirred"
    starter_share: Share | None = None
    base: Text = Field(default="", max_length=80)
    g_per_spoon: float | None = Field(default=None, gt=0, le=50, allow_inf_nan=False)
    g_per_bag: float | None = Field(default=None, gt=0, le=50, allow_inf_nan=False)

    @property
    def card(self) -> RecipeCard:
        """As the core knows it.

        Raises:
            CoreError: If the core knows no such tea, sweetener or way.
        """
        return RecipeCard(
            kind=self.kind,
            tea=teas.blend(tuple((part.tea, part.share) for part in self.tea)),
            leaf_g_per_l=self.leaf_g_per_l,
            sweeteners=tuple((part.sweetener, part.share) for part in self.sweeteners),
            sugar_g_per_l=self.sugar_g_per_l,
            steep_minutes=self.steep_minutes,
            water_c=self.water_degc,
            steep=self.steep,
            honey=self.honey,
            floor=self.floor,
            heat_method=self.heat_method,
            seed=self.seed,
            reserve=self.reserve,
            share=self.starter_share,
            base=self.base,
            g_per_spoon=self.g_per_spoon,
            g_per_bag=self.g_per_bag,
        )


class VesselTold(DocumentPart):
    """A vessel by its size."""

    name: Text = Field(max_length=40)
    nominal_l: Positive
    line_l: Positive
    diameter_cm: float = Field(gt=0, le=200, allow_inf_nan=False)


class ReadingRow(DocumentPart):
    """A reading of a brew."""

    at: Moment
    ph: PhValue | None = None
    by: Word = "meter"
    temperature_degc: Degrees | None = None
    acidity_g_per_l: float | None = Field(default=None, ge=0, le=100, allow_inf_nan=False)
    gravity: float | None = Field(default=None, ge=0.98, le=1.2, allow_inf_nan=False)
    note: Text = Field(default="", max_length=500)


class TastingRow(DocumentPart):
    """A taster's judgement, from -3 (much too sweet) to 3 (much too sour)."""

    at: Moment
    taster: Name = Field(min_length=1, max_length=40)
    score: int = Field(ge=-3, le=3)
    note: Text = Field(default="", max_length=500)


class LookRow(DocumentPart):
    """What was seen on the surface."""

    at: Moment
    surface: Word
    signs: tuple[Word, ...] = Field(default=(), max_length=40, strict=False)
    smell: Word = ""
    note: Text = Field(default="", max_length=500)


class HappenedRow(DocumentPart):
    """What was drawn, or poured in."""

    at: Moment
    what: Text = Field(max_length=40)
    litres: Amount
    note: Text = Field(default="", max_length=500)


class BottlesRow(DocumentPart):
    """Bottles of one size filled alike."""

    at: Moment
    count: int = Field(ge=1, le=500)
    kind: Word
    volume_ml: float = Field(ge=50, le=5000, allow_inf_nan=False)
    flavour: Text = Field(default="", max_length=80)
    priming_g_per_l: float = Field(default=0.0, ge=0, le=60, allow_inf_nan=False)
    left: int = Field(default=0, ge=0, le=500)
    note: Text = Field(default="", max_length=500)


class BrewDocument(DocumentPart):
    """A whole brew: how it was started, what happened, what was read, tasted, seen and filled."""

    format: Literal["kyklos-brew"] = "kyklos-brew"
    version: Literal[1] = 1
    written_on: RealDay
    culture: Name = Field(min_length=1, max_length=40)
    diet: Literal["sugar", "jun"]
    vessel: VesselTold
    litres: Positive
    began_at: Moment
    began_give_or_take_days: float = Field(default=0.0, ge=0, le=60, allow_inf_nan=False)
    ended_at: Moment | None = None
    ended_as: Literal["", "harvested", "discarded"] = ""
    tea: tuple[TeaShare, ...] = Field(min_length=1, max_length=8, strict=False)
    leaf_g_per_l: float = Field(ge=0, le=40, allow_inf_nan=False)
    sugar_g_per_l: float = Field(ge=0, le=200, allow_inf_nan=False)
    honey_share: Share = 0.0
    starter_share: Share
    starter_ph: PhValue | None = None
    planned: RecipeTold | None = None
    happened: tuple[HappenedRow, ...] = Field(default=(), max_length=MOST_ROWS, strict=False)
    readings: tuple[ReadingRow, ...] = Field(default=(), max_length=MOST_ROWS, strict=False)
    tastings: tuple[TastingRow, ...] = Field(default=(), max_length=MOST_ROWS, strict=False)
    looks: tuple[LookRow, ...] = Field(default=(), max_length=MOST_ROWS, strict=False)
    bottles: tuple[BottlesRow, ...] = Field(default=(), max_length=MOST_ROWS, strict=False)
    note: Text = Field(default="", max_length=2000)
