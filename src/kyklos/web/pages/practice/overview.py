"""The pictures by which decks are known, and where a season stands."""

from __future__ import annotations

from typing import NamedTuple

from flask import g

from ....core.practice.moves import RefusedMoveError, after
from ....core.practice.season import PlayedSeason
from ....drawing.practising import StripView, strip_view
from ....drawing.specimen import Specimen, specimen
from ....store.read import practising


class DeckPictures(NamedTuple):
    """A drawing for each deck that has one made of data."""

    eye: Specimen
    strip: StripView


def pictures() -> DeckPictures:
    """Draw what stands for the eye and for the strip."""
    return DeckPictures(specimen("film-yeast", 8, 0.6, 7), strip_view(3.6, "daylight", "green", 0.1))


def season_of(person: int) -> PlayedSeason | None:
    """Return where a person's season stands; None: there is none, or it is over."""
    kept = practising.season(g.session, person)
    if kept is None:
        return None
    try:
        season = after(kept.seed, kept.moves)
    except RefusedMoveError:
        return None
    return None if season.over else season
