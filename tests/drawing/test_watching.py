"""Geometry of almanac, palates and hindsight: nothing leaves its box, order in time is order on the page."""

from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.forecast import hindsight
from kyklos.core.forecast.hindsight import Record
from kyklos.core.forecast.palate import Palate, Tasted, learn
from kyklos.drawing.almanac import DAY, LEFT, Bar, LaneFacts, Mark, almanac, tea_colour
from kyklos.drawing.hindsight import hindsight_plot
from kyklos.drawing.palate import palate_plot

TODAY = date(2027, 2, 18)


def lane(bars=(), marks=(), name="Crock", place="Dresser"):
    """One lane."""
    return LaneFacts(name, place, bars, marks)


@given(st.lists(st.tuples(st.floats(-60, 30), st.floats(0.1, 60)), max_size=5), st.integers(0, 20), st.integers(7, 60))
@settings(max_examples=50, deadline=None)
def test_bars_and_windows_stay_between_the_first_day_and_the_last(spans, behind, ahead):
    """A brew that began before or ends after is cut at the edge; one outside is not drawn."""
    bars = [Bar("Bora", a, a + b, "alive", windows=[("Ana", a + b / 2, a + b * 0.7, a + b)]) for a, b in spans]
    drawn = almanac([lane(bars)], TODAY, behind, ahead)
    right = LEFT + (behind + ahead) * DAY
    for bar in drawn.lanes[0].bars:
        assert LEFT <= bar.x <= right
        assert bar.x + bar.width <= right + 7
        assert all(LEFT <= window.x <= right for window in bar.windows)
    assert len(drawn.lanes[0].bars) == sum(a + b > -behind and a < ahead for a, b in spans)
    assert len(drawn.days) == behind + ahead


def test_a_mark_stands_on_its_day_and_an_absence_covers_both_ends():
    """Two days on is two day-widths right of today; away from 7 to 12 is six days wide."""
    drawn = almanac(
        [lane(marks=[Mark("harvest", 2, "harvest", 1, 1), Mark("brew", 90, "brew", 2, 1)])], TODAY, 14, 28, (7, 12)
    )
    assert [m.x for m in drawn.lanes[0].marks] == [pytest.approx(drawn.today_x + 2.5 * DAY)]
    assert drawn.away[1] - drawn.away[0] == pytest.approx(6 * DAY)
    assert almanac([], TODAY, 14, 28, (-90, -80)).away is None


def test_a_stretch_of_the_past_shows_neither_today_nor_a_dial():
    """Today's line and the dial of a jar stand where today is in sight."""
    bars = [Bar("Bora", -60, 3, "alive", litres=3.0, dial="the dial")]
    past, now = almanac([lane(bars)], TODAY, 90, -30), almanac([lane(bars)], TODAY, 14, 28)
    assert (past.shows_today, past.lanes[0].bars[0].dial_x) == (False, None)
    assert now.shows_today
    assert now.lanes[0].bars[0].dial_x == pytest.approx(now.today_x)


@given(st.floats(-10, 10), st.floats(1, 40), st.floats(0, 12))
@settings(max_examples=80, deadline=None)
def test_a_ribbon_says_its_name_before_its_dial(start, length, litres):
    """The name stands inside its ribbon, or is left out where there is no room or the ribbon is thin."""
    bars = [Bar("Levanter", start, start + length, "alive", litres=litres), Bar("Bora", -40, -30, "harvested", litres=8.0)]
    ribbon = almanac([lane(bars)], TODAY, 14, 28).lanes[0].bars[0]
    if ribbon.label is not None:
        assert ribbon.x <= ribbon.label.x
        assert ribbon.label.x + 7.2 * len("Levanter") <= ribbon.x + ribbon.width


@given(st.floats(0, 20), st.floats(0, 20))
@settings(max_examples=40, deadline=None)
def test_a_ribbon_is_as_thick_as_what_stands_in_the_jar(one, other):
    """More litres, a thicker ribbon; the middle of each runs along its lane's."""
    drawn = almanac([lane([Bar("A", -5, 5, "alive", litres=one)]), lane([Bar("B", -5, 5, "alive", litres=other)])], TODAY, 14, 28)
    (first,), (second,) = (row.bars for row in drawn.lanes)
    assert (first.height >= second.height) == (one >= other) or first.height == pytest.approx(second.height)
    assert first.y + first.height / 2 - drawn.lanes[0].y == pytest.approx(second.y + second.height / 2 - drawn.lanes[1].y)


def test_a_ribbon_darkens_as_it_sours():
    """Its colours follow its course, from the first day to the last, and each sourer one is darker."""
    [bar] = almanac([lane([Bar("A", -4, 4, "alive", course=[(-4, 0.1), (0, 0.5), (4, 0.9)])])], TODAY, 14, 28).lanes[0].bars
    assert [at for at, _ in bar.colours] == [0.0, 0.5, 1.0]
    light = [sum(int(colour[i : i + 2], 16) for i in (1, 3, 5)) for _, colour in bar.colours]
    assert light == sorted(light, reverse=True)


def test_a_ribbon_that_began_before_is_coloured_where_it_is_in_sight():
    """Half of a course of forty days lies before the first day shown: the colour of its middle stands at the edge."""
    course = [(-34.0, 0.1), (-14.0, 0.5), (6.0, 0.9)]
    [bar] = almanac([lane([Bar("A", -34, 6, "alive", course=course)])], TODAY, 14, 28).lanes[0].bars
    assert [at for at, _ in bar.colours] == [0.0, 0.0, 1.0]
    assert bar.colours[1][1] == tea_colour(0.5)


def test_where_all_find_it_right_is_one_line():
    """Windows that meet are one line for both; those that do not are a line each under one name."""
    meet = [("Odile", 1, 2, 5), ("Bram", 3, 4, 8)]
    [one] = almanac([lane([Bar("A", -4, 8, "alive", windows=meet)])], TODAY, 14, 28).lanes[0].bars
    assert [(w.name, w.label.text) for w in one.windows] == [("both", "right for both")]
    assert one.windows[0].width == pytest.approx(2 * DAY)
    apart = [("Odile", 1, 2, 3), ("Bram", 5, 6, 8)]
    [two] = almanac([lane([Bar("A", -4, 8, "alive", windows=apart)])], TODAY, 14, 28).lanes[0].bars
    assert [w.name for w in two.windows] == ["Odile", "Bram"]
    assert [w.label.text for w in two.windows if w.label] == ["right for Odile and Bram"]


def test_a_shelf_is_named_once():
    """Lanes of one place stand under one name."""
    drawn = almanac([lane(), lane(name="Jar"), lane(name="Tall", place="Pantry")], TODAY, 7, 7)
    assert [x.first_of_place for x in drawn.lanes] == [True, False, True]


def test_a_palate_is_drawn_where_it_stands():
    """The point lies in its window, sourer is further right, old tastings are fainter, and words tell it all."""
    tasted = [Tasted(-2, 2.5, age_days=0), Tasted(0, 4.4, age_days=700), Tasted(2, 7.0, age_days=30)]
    plot = palate_plot("Ana", learn(tasted), tasted)
    assert plot.window[0] < plot.point < plot.window[0] + plot.window[1]
    assert [d.x for d in plot.dots] == sorted(d.x for d in plot.dots)
    assert plot.dots[1].strength < plot.dots[2].strength < plot.dots[0].strength
    assert "Ana" in plot.says
    assert palate_plot("Ana", learn([]), [], Palate(3.0, 0.2, 4.0, 5)).before < plot.point


def test_hindsight_is_drawn_on_one_scale():
    """A forecast that came true lies on the line; one that did not, off it and marked."""
    record = Record([hindsight.Tested(3, 2, 3.5, 3.3, 3.7, 3.5), hindsight.Tested(5, 2, 3.4, 3.3, 3.5, 4.0)])
    plot = hindsight_plot(record)
    true, wrong = plot.dots
    assert true.x - 62 == pytest.approx(416 - true.y)
    assert true.inside
    assert not wrong.inside
    assert 416 - wrong.y > wrong.x - 62
    assert hindsight_plot(Record([])).dots == ()
