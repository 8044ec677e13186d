"""What a household keeps: one class a table, SI units in names, moments in UTC. Importing it makes every table known."""

from __future__ import annotations

from .base import LAYOUT, Base, UtcTime
from .bottles import Bottle, Bottling, Hearing
from .brews import Brew, Look, Reading, Tasting
from .changes import Change
from .days import BrewDay, KeptRecipe, KitchenDay, Timer
from .flavours import Comparison, Flavour, FlavourPart, Infusion, LarderItem, OwnIngredient, Score, Trial, TrialStep
from .household import Household, Place, Taster, Tool, Vessel
from .learned import Lesson, TastedThen, Touched
from .liquids import Addition, BottleType, KeptLiquid, Transfer
from .lives import (
    BrewDisc,
    BrewStay,
    Conversion,
    CutLink,
    DiscEvent,
    Gift,
    HotelFeed,
    HotelStay,
    Quarantine,
    Standing,
    Upkeep,
)
from .living import Culture, Disc, StarterLot
from .notebook import CareRhythm, CareTaken, Experiment, KeptLesson
from .supply import CupboardCount, ListItem, Purchase, Wished
from .watching import (
    Away,
    BlindTasting,
    Calibration,
    Instrument,
    Note,
    Overrule,
    Photo,
    PhotoContent,
    PlannedDay,
    PutOff,
    SpotReading,
    TemperatureLog,
)

__all__ = [
    "LAYOUT",
    "Addition",
    "Away",
    "Base",
    "BlindTasting",
    "Bottle",
    "BottleType",
    "Bottling",
    "Brew",
    "BrewDay",
    "BrewDisc",
    "BrewStay",
    "Calibration",
    "CareRhythm",
    "CareTaken",
    "Change",
    "Comparison",
    "Conversion",
    "Culture",
    "CupboardCount",
    "CutLink",
    "Disc",
    "DiscEvent",
    "Experiment",
    "Flavour",
    "FlavourPart",
    "Gift",
    "Hearing",
    "HotelFeed",
    "HotelStay",
    "Household",
    "Infusion",
    "Instrument",
    "KeptLesson",
    "KeptLiquid",
    "KeptRecipe",
    "KitchenDay",
    "LarderItem",
    "Lesson",
    "ListItem",
    "Look",
    "Note",
    "Overrule",
    "OwnIngredient",
    "Photo",
    "PhotoContent",
    "Place",
    "PlannedDay",
    "Purchase",
    "PutOff",
    "Quarantine",
    "Reading",
    "Score",
    "SpotReading",
    "Standing",
    "StarterLot",
    "TastedThen",
    "Taster",
    "Tasting",
    "TemperatureLog",
    "Timer",
    "Tool",
    "Touched",
    "Transfer",
    "Trial",
    "TrialStep",
    "Upkeep",
    "UtcTime",
    "Vessel",
    "Wished",
]
