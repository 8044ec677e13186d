"""Vessels from the side: to one scale, no fuller than they are, nothing outside its box."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.drawing.elevation import TALLEST, ElevationFacts, elevations

VESSEL = st.builds(
    ElevationFacts, width_cm=st.floats(6, 45), nominal_l=st.floats(0.5, 60), litres=st.one_of(st.just(0.0), st.floats(0.01, 70)), disc_mm=st.floats(0, 60),
    sourness=st.floats(-1, 2), material=st.sampled_from(("glass", "stoneware", "stainless", "plastic", "wood")), tapped=st.booleans(),
)  # fmt: skip


@given(st.lists(VESSEL, min_size=1, max_size=8))
def test_nothing_leaves_its_box(every):
    """Liquid and disc lie between the walls and below the brim; a disc is never thicker than what it floats on."""
    for facts, drawn in zip(every, elevations(every), strict=True):
        assert drawn.box[1] <= TALLEST * 1.01 or drawn.box[1] == 24.0
        assert (drawn.liquid is not None) == (facts.litres > 0)
        assert bool(drawn.tap) == facts.tapped
        if drawn.liquid is not None:
            x, y, wide, high = drawn.liquid
            assert x > 0
            assert x + wide < drawn.box[0]
            assert y + high <= drawn.box[1]
            assert y >= -drawn.wall_width
            assert drawn.disc is None or (drawn.disc[3] <= high and drawn.disc[1] == y)


def test_vessels_are_drawn_to_one_scale_and_half_full_is_half():
    """One of twice the width is drawn twice as wide; half of what it holds stands half as high as all of it."""
    one = ElevationFacts(width_cm=10, nominal_l=2, litres=2)
    wide = ElevationFacts(width_cm=20, nominal_l=8, litres=4)
    small, large = elevations([one, wide])
    assert large.box[0] == pytest.approx(2 * small.box[0])
    assert large.liquid[3] == pytest.approx(small.liquid[3] / 2)
    assert elevations([]) == []
