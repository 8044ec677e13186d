"""The pictures by which decks are known."""

from __future__ import annotations

from typing import NamedTuple

from ....drawing.practising import StripView, strip_view
from ....drawing.specimen import Specimen, specimen


class DeckPictures(NamedTuple):
    """A drawing for each deck that has one made of data."""

    eye: Specimen
    strip: StripView


def pictures() -> DeckPictures:
    """Draw what stands for the eye and for the strip."""
    return DeckPictures(specimen("film-yeast", 8, 0.6, 7), strip_view(3.6, "daylight", "green", 0.1))
