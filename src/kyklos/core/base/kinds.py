"""Kinds, states and diets, told once: what the records keep as words."""

from __future__ import annotations

from enum import StrEnum


class BrewStatus(StrEnum):
    """How a brew stands."""

    HELD = "held"  #: Not to be touched until it measures low enough.
    FERMENTING = "fermenting"
    HARVESTED = "harvested"
    DISCARDED = "discarded"


LIVING = (BrewStatus.HELD, BrewStatus.FERMENTING)  #: It stands in its vessel.


class KindOfBrew(StrEnum):
    """What was begun: the keys of `data/brew_kinds.toml`."""

    BATCH = "batch"
    JUN = "jun"
    FIRST = "first"  #: First fill of a tapped vessel.
    GROW = "grow"  #: A SCOBY grown from a bottle.
    DRIED = "dried"  #: From a dried disc.
    TRIAL = "trial"  #: On an unusual base.
    CONVERSION = "conversion"  #: A step from one diet to another.
    TOP_UP = "top-up"  #: Sweet tea for a tapped vessel that runs: no brew of its own.


NOT_DRUNK = (KindOfBrew.GROW, KindOfBrew.TRIAL)  #: Nobody waits for their taste.


class BottleState(StrEnum):
    """Where a bottle is."""

    WARM = "warm"  #: At room temperature.
    COLD = "cold"  #: In a fridge.
    GONE = "gone"


class Diet(StrEnum):
    """What a line lives on."""

    SUGAR = "sugar"  #: Sugar and true tea.
    JUN = "jun"  #: Honey and green tea.

    @property
    def other(self) -> Diet:
        """The diet that it is not."""
        return Diet.SUGAR if self is Diet.JUN else Diet.JUN


class VesselKind(StrEnum):
    """What a vessel is."""

    JAR = "jar"
    CROCK = "crock"
    HOTEL = "hotel"


class StarterKind(StrEnum):
    """How lively a starter is, by where it came from."""

    FRESH = "fresh"
    BOTTLE = "bottle"
    HOTEL = "hotel"
    DRIED = "dried"
    HEEL = "heel"
    VINEGAR = "vinegar"


class SeenKind(StrEnum):
    """What an observation of a brew is."""

    PH = "ph"
    TA = "ta"
    TASTE = "taste"
    GRAVITY = "gravity"


class ReadsPh(StrEnum):
    """What a household reads pH with."""

    STRIPS = "strips"
    METER = "meter"
    NOTHING = "nothing"


class MeasuredBy(StrEnum):
    """What measures, as far as a rule tells them apart: keys of `data/instruments.toml`."""

    METER = "meter"
    STRIP = "strip"


class DueKind(StrEnum):
    """What a brew needs."""

    DISCARD = "discard"
    HOLD = "hold"
    LOOK = "look"
    HARVEST = "harvest"
    SALVAGE = "salvage"
    TASTE = "taste"
    MEASURE = "measure"
    LABEL = "label"
    NOTHING = "nothing"


class NodeKind(StrEnum):
    """What a thing on a trace is."""

    BREW = "brew"
    LOT = "lot"
    DISC = "disc"
    HOTEL = "hotel"
