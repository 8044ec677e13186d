"""Kinds, states and diets, named once: what the records keep as words."""

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


class NoteOn(StrEnum):
    """What a note may be about: the table that each is kept in."""

    BREW = "brew"
    FILLING = "bottling"  #: Bottles of one brew filled alike.
    BOTTLE = "bottle"
    CULTURE = "culture"
    VESSEL = "vessel"
    PLACE = "place"
    FLAVOUR = "flavour"
    RECIPE = "recipe"
    INSTRUMENT = "instrument"


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
        """Return the other diet."""
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


class NextStep(StrEnum):
    """What one can do with a living brew, in one tap or on a page of its own."""

    TASTE = "taste"
    MEASURE = "measure"
    LOOK = "look"
    HARVEST = "harvest"
    SOUR = "sour"  #: Add starter or vinegar.
    DISCARD = "discard"
    GLASS = "glass"
    DRAW = "draw"
    TOP_UP = "top-up"
    LABEL = "label"


class NodeKind(StrEnum):
    """What a thing on a trace is."""

    BREW = "brew"
    LOT = "lot"
    DISC = "disc"
    HOTEL = "hotel"


class Units(StrEnum):
    """What a household counts in."""

    METRIC = "metric"
    US = "us"


class Dimension(StrEnum):
    """What a number is a number of, which decides its units."""

    NUMBER = "number"  #: Of nothing, or in a unit that all households share.
    PH = "ph"
    ALKALINITY = "alkalinity"  #: [meq/L]
    VOLUME = "volume"  #: [L]
    SMALL_VOLUME = "small_volume"  #: [mL]
    BOTTLE = "bottle"  #: [mL]
    LENGTH = "length"  #: [cm]
    THICKNESS = "thickness"  #: [mm]
    TEMPERATURE = "temperature"  #: [degC]
    DIFFERENCE = "difference"  #: Between two temperatures. [K]
    MASS = "mass"  #: [g]
    STRENGTH = "strength"  #: [g/L]
    ACIDITY = "acidity"  #: Titratable acid. [g/L]
    PRESSURE = "pressure"  #: Gauge. [bar]
    CUPS = "cups"
    BAGS = "bags"


class BottleSort(StrEnum):
    """Kinds of bottle, the keys of `facts.BOTTLES`."""

    SWING_TOP = "swing-top"
    CROWN_CAP = "crown-cap"
    SPARKLING = "sparkling"
    PET = "pet"  #: Soft: a hand feels how hard it is.
    REUSED = "reused"
    MASON = "mason"
    JAR = "jar"


class AddedAs(StrEnum):
    """How a flavour is put in, the keys of `ingredients.FORMS`."""

    AS_IT_IS = "none"
    JUICE = "juice"
    PUREE = "puree"
    GRATED = "grated"
    GINGER = "ginger"  #: Slices of it.
    PIECES = "pieces"
    DRIED = "dried"
    HERBS = "herbs"
    SYRUP = "syrup"
    DRINK = "drink"


class FlavourMoment(StrEnum):
    """When a flavour goes in, the keys of `flavouring.MOMENTS`."""

    BOTTLE = "bottle"
    BATCH = "batch"
    INFUSION = "infusion"


class Origin(StrEnum):
    """Where a culture comes from."""

    RECEIVED = "received"
    BOTTLE = "bottle"  #: Grown from a bottle of raw kombucha.
    BOUGHT = "bought"
    DRIED = "dried"
    CONVERTED = "converted"


class LeftAs(StrEnum):
    """How a bottle left, the keys of `leaving.LEAVINGS`."""

    DRUNK = "drunk"
    GIVEN = "given"
    PARTY = "party"
    POURED = "poured"
    GUSHED = "gushed"
    BURST = "burst"
    LEAKED = "leaked"
    DROPPED = "dropped"
    GONE = "gone"  #: Nobody said how.


class Occasion(StrEnum):
    """What is being done when cautions are heard."""

    FIRST = "first"  #: The first look of a new household.
    PLAN = "plan"
    VESSEL = "vessel"
    FERMENT = "ferment"
    HARVEST = "harvest"
    BOTTLES = "bottles"
    OPEN = "open"
    SETTINGS = "settings"
    LABEL = "label"


class ThingKind(StrEnum):
    """What a change was made to, as the day book names it."""

    BREW = "brew"
    CULTURE = "culture"
    VESSEL = "vessel"
    DISC = "disc"
    STARTER_LOT = "starter_lot"
    BOTTLING = "bottling"
    PLACE = "place"


class HeaterAdvice(StrEnum):
    """What to do with a heater."""

    NONE = "none"  #: Nothing: it is right as it is.
    WOULD_HELP = "would-help"
    OFF_NOW = "off-now"
    KEEP = "keep"


class DeviceKind(StrEnum):
    """What sends readings by itself."""

    THERMOMETER = "thermometer"
    PH_METER = "ph-meter"
    SCALE = "scale"
    HEATER = "heater"
    WEATHER = "weather"


class PairingState(StrEnum):
    """How far a device's pairing is."""

    WAITING = "waiting"
    APPROVED = "approved"  #: A person said yes; its token was not fetched yet.
    FETCHED = "fetched"
    REFUSED = "refused"
