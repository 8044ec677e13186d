"""How liquids pass: words for kinds of liquid, for ways of passing and for what is put in."""

from __future__ import annotations

from enum import StrEnum


class LiquidKind(StrEnum):
    """What a liquid is that is kept."""

    BREW = "brew"
    STARTER = "starter"
    HOTEL = "hotel"
    FILLING = "filling"  #: What is in bottles filled alike.
    INFUSION = "infusion"  #: Finished brew in a jar, taking flavour.


class Way(StrEnum):
    """How a volume passes from one liquid to another, in from outside, or out."""

    PITCHED = "pitched"  #: Starter, at the start of a brew.
    ADDED = "added"  #: Starter, later.
    RESERVED = "reserved"  #: Set aside from a brew as starter.
    BOTTLED = "bottled"
    INFUSED = "infused"  #: Into a jar, to take flavour.
    FED = "fed"  #: A splash of brew, to the hotel.
    DRAWN = "drawn"  #: From the hotel, as starter.
    MERGED = "merged"  #: Starters poured together.
    RECEIVED = "received"
    GIVEN = "given"
    LOST = "lost"  #: Spilt or thrown out.
    DISCARDED = "discarded"  #: With a spoiled brew.
    LEFT_OVER = "left over"  #: Neither reserved nor bottled when the vessel was emptied.
    DRUNK = "drunk"
    VINEGAR = "vinegar"  #: Poured out as vinegar.
    SPLIT = "split"  #: A part of a brew, into a second vessel.
    JOINED = "joined"  #: A whole brew, into another one.
    GONE = "gone"  #: A bottle that left unopened.
    EVAPORATED = "evaporated"
    COUNTED = "counted"  #: The difference, when somebody looked how much there is.
    FOUND = "found"  #: More than was reckoned: volumes are read by eye.


class Added(StrEnum):
    """What is put into a liquid that was no kept liquid before."""

    SWEET_TEA = "sweet tea"
    WATER = "water"
    VINEGAR = "vinegar"
    FLAVOUR = "flavour"
    SUGAR = "sugar"  #: Priming.


INTO_A_BREW = (Way.PITCHED, Way.ADDED)  #: Ways that bring starter into a brew.
LEAST_L = 0.005  #: Less than a kitchen measures: a liquid of so little is empty. [L]
LEAST_GLASS_L = 0.05  #: Less is not worth pouring, nor a word. [L]
LEAST_BOTTLE_L = 0.2  #: Less fills no bottle. [L]


def is_some(litres: float) -> bool:
    """Return whether a kitchen can measure so much. [L]"""
    return litres > LEAST_L


def is_a_glass(litres: float) -> bool:
    """Return whether so much is worth pouring. [L]"""
    return litres > LEAST_GLASS_L


def is_a_bottle(litres: float) -> bool:
    """Return whether so much fills a bottle. [L]"""
    return litres > LEAST_BOTTLE_L
