"""The drawings of a brew day: parts fill a vessel to its line, curves cool to their target, a day keeps to its scale."""

import itertools
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.liquid.heat_methods import waits_for
from kyklos.drawing.cooling import BOTTOM, LEFT, RIGHT, TOP, cooling
from kyklos.drawing.fill import FLOOR, LEAST_GAP, fill
from kyklos.drawing.fill import TOP as FILL_TOP
from kyklos.drawing.timeline import Piece, timeline

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
    Piece("A: tea", "A", 1, "Fill", 0, 3, 7, "heats"),
    Piece("B: tea", "B", 2, "Fill", 3, 3, 7, "heats"),
    Piece("A: harvest", "A", 3, "Taste", 6, 6, 0),
    Piece("A: tea", "A", 4, "Leaf in", 12, 1, 12, "steeps"),
]


def test_a_day_is_drawn_to_its_scale():
    """Blocks are as long as their minutes, waits follow their work, and a vessel's lanes stand together."""
    picture = timeline(PIECES, 60, [(0, "10:00"), (30, "10:30")])
    assert [lane.text for lane in picture.lanes] == ["A", "tea", "A", "harvest", "B", "tea"]
    assert {lane.x for lane in picture.lanes} == {picture.lanes[0].x}
    assert [lane.y for lane in picture.lanes] == sorted(lane.y for lane in picture.lanes)
    hands = [b for b in picture.blocks if b.kind == "hands"]
    waits = [b for b in picture.blocks if b.kind == "wait"]
    assert hands[2].width == pytest.approx(2 * hands[0].width)
    assert waits[0].x == pytest.approx(hands[0].x + hands[0].width)
    assert waits[0].width / hands[0].width == pytest.approx(7 / 3)
    assert [b.number.text for b in hands] == ["1", "2", "3", "4"]
    assert picture.marks[1][0] - picture.marks[0][0] == pytest.approx((waits[0].width / 7) * 30)
    assert all(b.x + b.width <= picture.width for b in picture.blocks)
    assert "steeps 12 min" in {b.says for b in waits}
