"""Where a thing stood and how warm it was: measured, else as the place usually is; a move never changes the past."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.liquid.standing import FRIDGE_C, Stood, course_through, place_points

DAYS = np.linspace(0, 30, 121)


def test_one_stay_is_its_measurements_and_what_is_usual_after_them():
    """Without a move the course is what was measured, then the place's usual warmth, or its heater's where warmer."""
    stay = Stood(since=0, until=None, usual_c=20)
    course = course_through([stay], ((1.0, 24.0), (3.0, 22.0)))
    assert [float(c) for c in course.at(np.array([0.0, 2.0, 4.0]))] == [24.0, 23.0, 20.0]
    assert course_through([Stood(since=0, until=None, usual_c=20, heater_c=26)], ()).future_c == 26
    assert course_through([Stood(since=0, until=None, usual_c=28, heater_c=26)], ()).future_c == 28


@given(
    st.lists(st.tuples(st.floats(0, 9.9), st.floats(15, 30)), max_size=5, unique_by=lambda p: round(p[0], 2)),
    st.floats(10, 12),
    st.floats(5, 32),
)
def test_a_move_leaves_what_came_before_it(measured, moved_at, there_c):
    """Whatever the new place is like, every moment up to the last measurement before the move is as warm as without it."""
    points = tuple(sorted((round(d, 2), c) for d, c in measured))
    stayed = course_through([Stood(since=0, until=None, usual_c=21)], points)
    moved = course_through(
        [Stood(since=0, until=moved_at, usual_c=21), Stood(since=moved_at, until=None, usual_c=there_c)], points
    )
    before = DAYS[moved_at - 0.01 > DAYS]
    assert np.allclose(moved.at(before), stayed.at(before), atol=0.05)
    assert np.allclose(moved.at(DAYS[moved_at + 0.01 < DAYS]), there_c)


def test_a_measurement_after_a_move_holds_back_to_the_move():
    """The first reading in the new place tells how warm it was there from the beginning."""
    stays = [Stood(since=0, until=4, usual_c=22), Stood(since=4, until=None, usual_c=16)]
    course = course_through(stays, ((1.0, 24.0), (6.0, 17.5)))
    assert [round(float(c), 1) for c in course.at(np.array([1.0, 3.0, 5.0, 6.0, 7.0]))] == [
        24.0,
        22.0,
        17.5,
        17.5,
        16.0,
    ]


def test_a_place_is_as_warm_as_measured_for_two_weeks_then_as_its_season():
    """A measurement tells two weeks before and after; a stay that nobody measured follows the season."""
    season = lambda day: 15.0 + 0.1 * day  # noqa: E731
    points = place_points(0, 60, [(30.0, 25.0)], season)
    at = lambda day: float(np.interp(day, [d for d, _ in points], [c for _, c in points]))  # noqa: E731
    assert (at(0), round(at(14), 1)) == (15.0, 16.4)
    assert (at(17), at(30), at(43)) == (25.0, 25.0, 25.0)
    assert abs(at(50) - 20.0) < 0.1
    assert at(60) == 21.0


@given(
    st.lists(st.tuples(st.floats(-20, 80), st.floats(0, 30)), max_size=8),
    st.floats(0, 10),
    st.floats(0.5, 60),
)
def test_a_places_course_is_in_order_and_spans_the_stay(measured, start, length):
    """Whatever was measured when, the course runs from the stay's start to its end in order of time, within what was seen."""
    points = place_points(start, start + length, sorted(measured), lambda day: FRIDGE_C)
    days = [day for day, _ in points]
    assert days == sorted(days)
    assert (days[0], days[-1]) == (start, start + length)
    seen = [c for _, c in measured] + [FRIDGE_C]
    assert all(min(seen) <= c <= max(seen) for _, c in points)
