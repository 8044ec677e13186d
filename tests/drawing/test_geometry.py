"""The drawings come from values: brews that differ in one value differ in that shape, and only there."""

import dataclasses
import math

import numpy as np
import pytest

from kyklos.drawing.curve import CurveFacts, curve
from kyklos.drawing.dial import CENTRE, DialFacts, dial, turn
from kyklos.drawing.rack import bottle_shape, fill_height
from kyklos.drawing.sour_line import along, sour_line

BASE = DialFacts(
    day=8.0, measured=(0, 3, 5), tasted=(6,), windows=(("Ana", 9, 11), ("Ben", 10, 13)), surface="disc", seed=3
)


def changed(**one):
    """Parts of the dial that differ when one value differs."""
    first, second = dial(BASE), dial(dataclasses.replace(BASE, **one))
    return {f.name for f in dataclasses.fields(first) if getattr(first, f.name) != getattr(second, f.name)}


@pytest.mark.parametrize(
    "one, parts",
    [
        ({"day": 15.0}, {"gone", "hand", "says"}),
        ({"measured": (0, 3)}, {"measured"}),
        ({"tasted": ()}, {"tasted"}),
        ({"windows": (("Ana", 9, 11), ("Ben", 12, 14))}, {"arcs", "says"}),
        ({"surface": "bare"}, {"growth", "inner_growth", "bubbles", "says"}),
        ({"sourness": 0.9}, {"liquor"}),
        ({"tea": "green"}, {"liquor"}),
        ({"material": "stoneware"}, {"rim"}),
        ({"seed": 4}, {"growth", "inner_growth", "bubbles"}),
    ],
)
def test_one_value_moves_one_shape(one, parts):
    """The hand follows the day, the arcs the windows, the surface the last look, the liquor tea and acid."""
    assert changed(**one) == parts


@pytest.mark.parametrize("day, x, y", [(0, 0, -1), (7, 1, 0), (14, 0, 1), (21, -1, 0)])
def test_a_week_is_a_quarter_turn_for_every_vessel(day, x, y):
    """Day 7 stands at three o'clock, 14 below, 21 at nine."""
    tip = dial(dataclasses.replace(BASE, day=float(day))).hand[1]
    length = math.hypot(tip[0] - CENTRE, tip[1] - CENTRE)
    assert ((tip[0] - CENTRE) / length, (tip[1] - CENTRE) / length) == pytest.approx((x, y), abs=1e-9)


def test_days_past_the_fourth_week_stay_at_the_end():
    """The hand does not start a second turn."""
    assert turn(60) == turn(28) == 1


def test_an_empty_vessel_has_no_hand():
    """A vessel without a brew shows no day."""
    empty = dial(DialFacts())
    assert (empty.hand, empty.gone, empty.bubbles) == (None, "", ())


def test_the_sour_line_runs_from_tea_to_vinegar():
    """More acid stands farther right, within the line; tasters of one point share a mark."""
    places = [along(v) for v in (0.1, 0.5, 2, 4, 8, 40)]
    assert places == sorted(places)
    assert (
        len(
            sour_line(
                (2, 3, 4),
                5,
                (
                    ("Ana", 4.0),
                    ("Ben", 4.0),
                ),
            ).marks
        )
        == 1
    )
    assert (
        len(
            sour_line(
                (2, 3, 4),
                5,
                (
                    ("Ana", 4.0),
                    ("Ben", 5.0),
                ),
            ).marks
        )
        == 2
    )


def facts(**more):
    """A curve's facts."""
    day = np.arange(0, 41.0)
    likely = 2.9 + 1.2 * np.exp(-day / 6)
    return CurveFacts(**{"day": day, "low": likely - 0.1, "likely": likely, "high": likely + 0.1, "today": 5.0, **more})


def test_the_curve_places_days_readings_and_the_gate():
    """Today, a reading and the gate stand where their day and pH say; the past ends where the future begins."""
    drawn = curve(facts(readings=[(5.0, 3.4, 0.05)]))
    assert drawn.measured[0].x == pytest.approx(drawn.today)
    assert drawn.gate_x > drawn.today
    assert drawn.past.split("L")[-1] == drawn.future[1:].split("L")[0]
    assert curve(facts(today=6.0)).today > drawn.today


def test_two_windows_of_one_span_are_drawn_once():
    """Tasters who share a window share a band and its name."""
    drawn = curve(facts(windows=[("Ana", 8, 10), ("Ben", 8, 10)]))
    assert [w.name for w in drawn.windows] == ["Ana and Ben"]


@pytest.mark.parametrize("shape", ["swing", "long", "wine", "pet", "jar"])
def test_liquid_stands_lower_with_more_headspace(shape):
    """A bottle's liquid falls as its headspace grows, and its gauge follows pressure against the limit."""
    heights = [fill_height(shape, h) for h in (0.02, 0.1, 0.3)]
    assert heights == sorted(heights, reverse=True)
    low, high = (bottle_shape(shape, 0.04, "plain", bar, bar + 0.5, 4.0) for bar in (1.0, 3.0))
    assert high.gauge_fill == pytest.approx(3 * low.gauge_fill)
    assert not bottle_shape("jar", 0.2, "plain", 1, 2, 0).rated


@pytest.mark.parametrize("today", [1.0, 5.0, 30.0, 60.0])
def test_words_beside_the_curve_stay_within_it_and_apart(today):
    """What is wanted by day 7 is written where there is room, and what the days are never under the word for today."""
    day, likely = np.arange(0, 71.0), np.linspace(4.5, 3, 71)
    drawn = curve(facts(today=today, day=day, low=likely, likely=likely, high=likely))
    words = 6.5 * len(drawn.gate_label.text)
    assert drawn.gate_label.x - words > 0 if drawn.gate_label.anchor == "end" else drawn.gate_label.x + words < 800
    low, high = (drawn.axis.x, drawn.axis.x + 150) if drawn.axis.anchor == "start" else (drawn.axis.x - 150, drawn.axis.x)
    assert not low < drawn.today < high
