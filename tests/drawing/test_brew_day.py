"""The drawings of a brew day: parts fill a vessel to its line, curves cool to their target, a day keeps to its scale."""

import itertools
import re
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.liquid.heat_methods import waits_for
from kyklos.drawing.cooling import BOTTOM, LEFT, RIGHT, TOP, cooling
from kyklos.drawing.fill import FLOOR, LEAST_GAP, fill
from kyklos.drawing.fill import TOP as FILL_TOP
from kyklos.drawing.run_sheet import SheetPiece, run_sheet

volumes = st.lists(st.floats(0.01, 5), min_size=1, max_size=6)


@given(volumes, st.floats(1.0, 1.6))
def test_layers_stand_on_each_other_and_reach_the_line(parts, room):
    """Each layer begins where the one below ends, heights are as volumes, and the last reaches the fill line."""
    line = sum(parts)
    picture = fill([("water", f"part {i}", litres) for i, litres in enumerate(parts)], line * room, line)
    layers = [layer for layer in picture.layers if layer.kind == "water"]
    assert layers[0].y + layers[0].height == pytest.approx(FLOOR)
    for below, above in itertools.pairwise(layers):
        assert above.y + above.height == pytest.approx(below.y)
        assert above.height / below.height == pytest.approx(
            parts[layers.index(above)] / parts[layers.index(below)], rel=1e-6
        )
    assert layers[-1].y == pytest.approx(picture.line_y)
    assert not picture.over


@given(volumes)
def test_names_beside_a_vessel_never_cover_each_other(parts):
    """However thin the layers, their names stand a line of text apart and inside the picture."""
    picture = fill([("water", f"part {i}", litres) for i, litres in enumerate(parts)], sum(parts) * 1.1, sum(parts))
    rows = sorted(p.name.y for p in picture.pointers)
    assert all(b - a >= LEAST_GAP - 0.01 for a, b in itertools.pairwise(rows))
    assert rows[0] > FILL_TOP - 2
    assert rows[-1] < FLOOR + 8


def test_too_much_is_drawn_above_the_line():
    """A plan that overflows stands above its line, even above the brim, and nothing leaves the picture."""
    picture = fill([("water", "water", 5.0)], 4.0, 3.4)
    assert picture.over
    assert picture.layers[0].y == pytest.approx(FILL_TOP)
    assert "air" not in {layer.kind for layer in picture.layers}
    assert picture.line_y > picture.layers[0].y


@given(st.floats(0.2, 20), st.floats(60, 97), st.floats(15, 28), st.floats(4, 20), st.floats(1, 15))
def test_each_way_of_cooling_ends_on_the_target(litres, start, room, cold, above):
    """Curves fall, stay inside the frame, and meet the target line where they are done; ice is soonest."""
    target = max(room, cold) + above
    waits = waits_for(litres, start, target, room, cold, 17.0)
    picture = cooling([(w.key, w.name, w.course, w.hours) for w in waits], target)
    assert [w.key for w in picture.ways] == ["air", "bath", "ice"]
    for way in picture.ways:
        points = [tuple(map(float, p)) for p in re.findall(r"[ML]([\d.e+-]+) ([\d.e+-]+)", way.path)]
        assert all(LEFT - 0.5 <= x <= RIGHT + 0.5 and TOP - 0.5 <= y <= BOTTOM + 0.5 for x, y in points)
        assert [y for _, y in points] == sorted(y for _, y in points)
        assert way.done is None or way.done[1] == pytest.approx(picture.target_y)
    if target < start:
        assert picture.ways[2].done[0] <= picture.ways[1].done[0] <= picture.ways[0].done[0]
    assert all(a.x < b.x for a, b in zip(picture.times, picture.times[1:], strict=False))


def test_a_measured_temperature_is_drawn_where_it_was():
    """A temperature logged on the way lies between start and target, at its time."""
    waits = waits_for(3.0, 90, 40, 21, 15, 17.0)
    picture = cooling([(w.key, w.name, w.course, w.hours) for w in waits], 40, (0.5, 70))
    x, y = picture.logged
    assert LEFT < x < RIGHT
    assert TOP < y < picture.target_y


PIECES = [
    SheetPiece(1, "A: tea", "heat", 0, 3, 10, takes=("burner", "pot"), gives=("burner",)),
    SheetPiece(2, "B: tea", "heat", 3, 6, 13, takes=("burner", "pot"), gives=("burner",)),
    SheetPiece(3, "A: harvest", "taste", 6, 12, 12),
    SheetPiece(4, "A: tea", "leaf in", 12, 13, 25),
    SheetPiece(5, "A: tea", "pour over", 25, 26, 56, takes=("jug",), frees=("pot",)),
    SheetPiece(6, "A: tea", "pour", 56, 59, 59, frees=("jug",)),
]


def test_a_day_is_drawn_to_its_scale():
    """Work is as high as its minutes, on one pair of hands none meets another; a tool is taken from the work that takes it to the one that frees it."""
    picture = run_sheet(PIECES, 60, [(0, "10:00"), (30, "10:30")], ["your hands"])
    assert [lane.text for lane in picture.lanes] == ["your hands", "stove", "jugs"]
    hands = [b for b in picture.blocks if b.kind == "hands"]
    assert [b.number.text for b in hands] == ["1", "2", "3", "4", "5", "6"]
    assert hands[2].height + 1.5 == pytest.approx(2 * (hands[0].height + 1.5))
    assert all(a.y + a.height <= b.y + 1e-6 for a, b in pairwise(hands))
    assert picture.hours[1][0] - picture.hours[0][0] == pytest.approx((hands[2].y - hands[0].y) * 5)
    first, second, jug = [b for b in picture.blocks if b.kind == "tool"]
    assert first.x < second.x < jug.x  # two burners side by side: both are on at once
    assert jug.y == pytest.approx(hands[4].y)
    assert jug.y + jug.height == pytest.approx(hands[5].y + hands[5].height)
    beside = [b.number for b in hands if b.number.anchor == "beside"]
    assert {label.text for label in beside} == {"4", "5"}
    assert all(b.x + b.width <= picture.width and b.y + b.height <= picture.height for b in picture.blocks)


def test_two_pairs_of_hands_have_a_lane_each():
    """What is done at once stands side by side."""
    pieces = [SheetPiece(1, "A: tea", "", 0, 5, 5), SheetPiece(2, "B: tea", "", 2, 6, 6), SheetPiece(3, "A: tea", "", 6, 8, 8)]
    first, second, third = run_sheet(pieces, 10, [], ["Ana", "Ben"]).blocks
    assert first.x == third.x < second.x
