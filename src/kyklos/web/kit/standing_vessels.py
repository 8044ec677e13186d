"""Vessels as a page shows them standing: drawn to one scale, with two lines under each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from flask import g

from ...core.liquid import teas
from ...drawing.elevation import Elevation, ElevationFacts, elevations
from ...reckon.vessels_now import Frees, VesselNow
from ...store.records import Place
from .acting import in_units
from .small_dues import hotels_told
from .stops import FULL_COLOUR_G_PER_L
from .words import day_word

DISC_MM = 8.0  #: Of a disc that nobody measured (assumed). [mm]
FREES = {
    Frees.NOW: "free now",
    Frees.HELD: "on hold",
    Frees.LOST: "throw it out",
    Frees.RUNS: "runs",
    Frees.GROWS: "a disc grows",
    Frees.LATE: "not soon",
    Frees.HOTEL: "hotel",
}


@dataclass(frozen=True, slots=True)
class StandingVessel:
    """One vessel, drawn and put into words."""

    now: VesselNow
    drawing: Elevation
    words: str  #: The second line under it.
    free: str  #: When it is free, as a table says it.


@dataclass(frozen=True, slots=True)
class VesselShelf:
    """A place and the vessels that stand there."""

    place: Place
    vessels: tuple[StandingVessel, ...]


def shelves_with(every: Sequence[VesselNow]) -> list[VesselShelf]:
    """Put vessels on their shelves, in the order of the round."""
    drawn = elevations([_facts(one) for one in every])
    hotels = {hotel.vessel_id: hotel.what for hotel in hotels_told(g.session, g.now)}
    shown = [
        StandingVessel(one, drawing, _words(one, hotels.get(one.vessel.id, "")), free_words(one))
        for one, drawing in zip(every, drawn, strict=True)
    ]
    groups = groupby(shown, key=lambda one: one.now.vessel.place.id)
    return [VesselShelf(some[0].now.vessel.place, some) for some in (tuple(group) for _, group in groups)]


def _facts(one: VesselNow) -> ElevationFacts:
    vessel, known = one.vessel, one.known
    disc_mm, tea, sourness = (DISC_MM if one.litres else 0.0), "black", 0.8
    if known is not None:
        disc = known.brew.disc
        disc_mm = 0.0 if disc is None else disc.thickness_mm or DISC_MM
        tea = teas.main_of(teas.from_text(known.brew.tea))
        sourness = known.acidity[1] / FULL_COLOUR_G_PER_L
    return ElevationFacts(
        width_cm=vessel.diameter_cm, nominal_l=vessel.nominal_l, litres=one.litres, disc_mm=disc_mm, tea=tea, sourness=sourness,
        material=vessel.material, tapped=vessel.tapped,
    )  # fmt: skip


def free_words(one: VesselNow) -> str:
    """Return when a vessel is free, in words."""
    return day_word(one.at, g.now, g.household.zone) if one.at is not None else FREES[one.frees]


def _words(one: VesselNow, hotel: str) -> str:
    if one.frees is Frees.NOW:
        return f"free now: {in_units(one.vessel.usable_l, 'volume')}"
    litres = in_units(round(one.litres, 1), "volume")
    if one.frees is Frees.HOTEL:
        return f"{litres}, {hotel.partition(',')[0]}" if hotel else f"{litres}, hotel"
    return f"{litres}, free {free_words(one)}" if one.at is not None else f"{litres}, {free_words(one)}"
