"""The pressure of a bottle over its days, as a picture: nothing leaves its box, and what is said is where it is drawn."""

import re

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from kyklos.drawing.pressure import BOTTOM, HEIGHT, LEFT, LETTER, RIGHT, TOP, WIDTH, PressureFacts, pressure_curve

DAYS = np.linspace(0, 40, 81)
NUMBER = re.compile(r"-?\d+\.?\d*(?:e-?\d+)?")


def facts(**more):
    """A bottle that rises to some bar in forty days."""
    usual = {"day": DAYS, "low": DAYS / 20, "likely": DAYS / 10, "high": DAYS / 6, "today": 5.0, "end": 20.0, "limit_bar": 4.0}
    return PressureFacts(**usual | more)


@given(
    st.floats(0, 60), st.floats(1, 40), st.floats(0.3, 12), st.floats(0, 30), st.lists(st.floats(0, 40), max_size=4),
    st.one_of(st.none(), st.floats(0, 50)),
)  # fmt: skip
def test_nothing_leaves_its_box(today, end, limit, steep, burps, chill):
    """Whatever the day, the limit and the pressure: every point lies inside."""
    curve = pressure_curve(facts(today=today, end=end, limit_bar=limit, likely=DAYS * steep, high=DAYS * steep * 2, burps=sorted(burps), chill_day=chill))
    for path in (curve.past, curve.coming, curve.band):
        numbers = [float(one) for one in NUMBER.findall(path)]
        assert all(LEFT - 0.1 <= x <= RIGHT + 0.1 for x in numbers[::2])
        assert all(TOP - 0.1 <= y <= BOTTOM + 0.1 for y in numbers[1::2])
    assert TOP <= curve.limit_y <= BOTTOM
    assert LEFT <= curve.today_x <= RIGHT
    assert curve.chill_x is None or LEFT <= curve.chill_x <= RIGHT
    assert (curve.chill_x is None) == (chill is None or chill > end)


def test_what_lies_behind_ends_where_what_comes_begins():
    """Solid until today, dotted from there; the limit lies above what is below it."""
    curve = pressure_curve(facts(burps=(2.0,), days=((5.0, "today"), (30.0, "out")), bars=((2.0, "2 bar"), (50.0, "out"))))
    assert NUMBER.findall(curve.past)[-2:] == NUMBER.findall(curve.coming)[:2]
    assert curve.now[1] > curve.limit_y
    assert [label.text for label in curve.days] == ["today"]
    assert [label.text for label in curve.bars] == ["2 bar"]
    assert curve.burps[0][0] < curve.today_x < RIGHT <= WIDTH
    assert curve.days[0].y < HEIGHT
    assert curve.other == ""
    assert pressure_curve(facts(other=DAYS / 5)).other


@given(st.floats(0, 60), st.floats(5, 60))
def test_days_below_never_touch_and_today_stays(today, end):
    """Words for days that would lie over one another are left out, never today's."""
    days = [(0.0, "filled"), (min(today, end), "today"), (end * 0.6, "Wed 3 Mar"), (end, "Tue 16 Mar")]
    labels = pressure_curve(facts(today=today, end=end, days=days)).days
    assert "today" in [label.text for label in labels]
    widths = [LETTER * len(label.text) / 2 for label in labels]
    assert all(b.x - a.x >= one + other - 1e-6 for a, b, one, other in zip(labels, labels[1:], widths, widths[1:], strict=False))
