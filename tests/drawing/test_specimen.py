"""Specimens: always the same for one seed, different for another, and unlike their neighbours."""

import re

import pytest

from kyklos.core.judging.observations import of_group
from kyklos.drawing.specimen import CENTRE, FUZZ, KINDS, RADIUS, specimen


@pytest.mark.parametrize("kind", KINDS)
def test_a_specimen_is_its_seeds_own_and_stays_on_the_surface(kind):
    """One seed always draws the same, another draws another; no shape leaves the vessel by more than its own size."""
    first = specimen(kind, 9, 0.6, 3)
    assert first == specimen(kind, 9, 0.6, 3)
    assert first.shapes != specimen(kind, 9, 0.6, 4).shapes
    for shape in first.shapes:
        x, y = map(float, re.match(r"M([-\d.e]+) ([-\d.e]+)", shape.path).groups())
        assert ((x - CENTRE) ** 2 + (y - CENTRE) ** 2) ** 0.5 <= RADIUS + 45


def test_each_kind_has_marks_of_its_own():
    """Mould has hairs, film yeast wrinkles, jelly eyes with a light, eels threads: none has another's."""
    marks = {kind: {shape.kind for shape in specimen(kind, 9, 0.6, 1).shapes} for kind in KINDS}
    own = {
        "fuzzy": "sp-hair",
        "film-yeast": "sp-wrinkle",
        "jelly": "sp-eye",
        "eels": "sp-eel",
        "insects": "sp-fly",
        "lifted": "sp-shadow sp-dry",
        "holed": "sp-crater sp-gas",
        "clouds": "sp-cloud",
        "froth": "sp-foam",
        "strings": "sp-string",
        "coloured": "sp-stain",
    }
    for kind, mark in own.items():
        assert [k for k, found in marks.items() if set(mark.split()) <= found] == [kind]


@pytest.mark.parametrize(
    "kind, mark",
    [("fuzzy", "sp-hair"), ("film-yeast", "sp-wrinkle"), ("jelly", "sp-eye"), ("froth", "sp-foam"), ("eels", "sp-eel"), ("coloured", "sp-stain")],
)
def test_more_of_the_surface_is_more_of_it(kind, mark):
    """Coverage adds to what is drawn."""
    few, many = (sum(s.path.count("M") for s in specimen(kind, 9, cover, 2).shapes if s.kind == mark) for cover in (0.1, 1.0))
    assert few < many


@pytest.mark.parametrize("colour", FUZZ)
def test_mould_comes_in_its_colours(colour):
    """Told a colour, every heart of it is in that colour."""
    hearts = {s.fill for s in specimen("fuzzy", 9, 0.6, 1, colour).shapes if s.kind == "sp-fuzz"}
    assert hearts == {FUZZ[colour]}


def test_everything_that_can_lie_on_it_is_drawn():
    """No surface of the table is without a drawing."""
    assert {seen.key for seen in of_group("surface")} <= set(KINDS)
