"""Names of things of the lineage: brews, discs, liquids, hotels, with where to look at them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from flask import g, url_for

from ....core.base.kinds import NodeKind
from ....core.cultures import Node
from ....reckon.cultures import links
from ....store.read import culture_queries, moments, queries
from ....store.records import Brew, Disc, StarterLot, Vessel
from ...kit import units
from ...kit.words import day_word, ph_word


@dataclass(frozen=True, slots=True)
class NamedThing:
    """A thing as a page names it."""

    node: Node
    name: str
    short: str
    line: str
    address: str
    alive: bool
    at: datetime | None = None

    @property
    def key(self) -> str:
        """Like brew-7."""
        return f"{self.node[0]}-{self.node[1]}"


def born_at(disc: Disc) -> datetime:
    """Return when a disc began: parted, out of its brew, or with its line."""
    if disc.made_at is not None:
        return disc.made_at
    if disc.born_brew is not None:
        return disc.born_brew.ended_at or disc.born_brew.pitched_at
    return disc.culture.started_at


def source_words(lot: StarterLot) -> str:
    """Return where a liquid came from."""
    if lot.source_brew is not None:
        return f"from {lot.source_brew.vessel.name}, {day_word(lot.made_at, g.now, g.household.zone)}"
    if lot.hotel is not None:
        return f"from {lot.hotel.name}, {day_word(lot.made_at, g.now, g.household.zone)}"
    return f"of {day_word(lot.made_at, g.now, g.household.zone)}"


def named(node: Node) -> NamedThing:
    """Name a thing."""
    kind, number = node
    alive = links.living(g.session, node)
    if kind == NodeKind.BREW:
        brew = queries.get(g.session, Brew, number)
        when = day_word(brew.pitched_at, g.now, g.household.zone)
        name = f"{brew.vessel.name}, started {when}"
        address = url_for("brews.show", number=number)
        return NamedThing(node, name, brew.vessel.name, brew.culture.name, address, alive, brew.pitched_at)
    if kind == NodeKind.LOT:
        lot = queries.get(g.session, StarterLot, number)
        name = f"Starter of {lot.culture.name} {source_words(lot)}"
        address = url_for("cultures.starter", number=number)
        return NamedThing(node, name, "starter", lot.culture.name, address, alive, lot.made_at)
    if kind == NodeKind.HOTEL:
        hotel = queries.get(g.session, Vessel, number)
        since = culture_queries.hotel_since(g.session, number)
        return NamedThing(node, hotel.name, hotel.name, "hotel", url_for("cultures.hotel", number=number), alive, since)
    disc = queries.get(g.session, Disc, number)
    address = url_for("cultures.disc", number=number)
    return NamedThing(node, disc.name, disc.name, disc.culture.name, address, alive, born_at(disc))


def where_of(node: Node) -> str:
    """Return where a thing is now: the place of its jar, the hotel or jar a disc lies in, the fridge."""
    kind, number = node
    if kind == NodeKind.LOT:
        lot = queries.get(g.session, StarterLot, number)
        return "fridge" if lot.kept_in == "fridge" else "shelf"
    if kind == NodeKind.DISC:
        return culture_queries.lies_in(g.session, number) or "by itself"
    vessel = queries.get(g.session, Brew, number).vessel if kind == NodeKind.BREW else queries.get(g.session, Vessel, number)
    return vessel.place.name


def lot_words(lot: StarterLot) -> str:
    """Name a starter in a list: how much, how sour, where from."""
    acid = (
        f", {ph_word(lot.ph, lot.instrument)}" if lot.ph is not None else f", about pH {lot.estimated_ph:.1f}" if lot.estimated_ph else ""
    )
    return f"{units.words(lot.left_l, 'volume', g.units)}{acid}, {source_words(lot)}"


def age_days(moment: datetime) -> float:
    """Return how old something is. [d]"""
    return max(0.0, moments.days_between(moment, g.now))
