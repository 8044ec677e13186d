"""Measuring: calibrations as the table has them, readings put right, numbers refused and doubted, courses thinned without bending."""

import csv
import itertools
import json
import math
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.calc import CalcError, answer
from kyklos.core.measuring import calibrating as c
from kyklos.core.measuring import sent, thinning

REFERENCE = Path(__file__).parent / "reference/calibrate.csv"


def rows():
    """Questions and answers of the table."""
    with REFERENCE.open() as file:
        return [(json.loads(row["ask"]), json.loads(row["answer"])) for row in csv.DictReader(file)]


@pytest.mark.parametrize(("ask", "wanted"), rows(), ids=str)
def test_the_table(ask, wanted):
    """Every calibration is answered as an independent program did."""
    assert answer("calibrate", ask) == {key: pytest.approx(value, rel=1e-3, abs=1e-3) if isinstance(value, float) else value for key, value in wanted.items()}


@given(st.floats(0.9, 1.02), st.floats(-30, 30), st.floats(10, 30), st.floats(10, 30), st.floats(2.5, 7.5), st.floats(5, 32))
def test_a_meter_is_found_by_its_buffers(slope, offset, warm7, warm4, ph, celsius):
    """Whatever slope and offset a meter has, two buffers at their own warmth find them, and a reading by them is the truth."""
    def shows(real, warm):
        return offset - slope * 59.16 * c.theta(warm) * (real - 7)

    line = c.calibrate([c.BufferPoint(7, warm7, shows(c.buffer_ph(7, warm7), warm7)), c.BufferPoint(4, warm4, shows(c.buffer_ph(4, warm4), warm4))])
    assert (line.slope, line.offset_mv) == (pytest.approx(slope), pytest.approx(offset, abs=1e-6))
    assert c.corrected_ph(shows(ph, celsius), celsius, line) == pytest.approx(ph)
    assert c.voltage_of(c.corrected_ph(shows(ph, celsius), celsius, line), celsius, line) == pytest.approx(shows(ph, celsius))


def test_buffers_that_make_no_calibration_are_named():
    """Swapped, the same twice, or an electrode that tells nothing apart: each has its sentence."""
    seven, four = c.BufferPoint(7, 25.0, 0.0), c.BufferPoint(4, 25.0, 177.0)
    for points, words in (
        ([c.BufferPoint(7, 25.0, 177.0), c.BufferPoint(4, 25.0, 0.0)], "swapped"), ([seven, c.BufferPoint(7, 20.0, 3.0)], "same buffer"),
        ([seven, c.BufferPoint(4, 25.0, 10.0)], "hardly tells"), ([], "one buffer or two"), ([c.BufferPoint(9, 25.0, 0.0)], "7 or 4"),
    ):  # fmt: skip
        with pytest.raises(c.CalibrationError, match=words):
            c.calibrate(points)
    assert c.calibrate([seven, four]).judged == "good"
    assert c.calibrate([seven, c.BufferPoint(4, 25.0, 150.0)], cleaned=True).judged == "worn"
    assert c.calibrate([seven], last_slope=0.9) == c.MeterLine(0.9, 0.0, c.Judged.HALF)


def test_between_two_calibrations_both_count_by_time():
    """Half-way lies half-way; before the second is known the doubt grows by a hundredth a week."""
    old, new = c.MeterLine(1.0, 0.0, c.Judged.GOOD), c.MeterLine(0.92, 12.0, c.Judged.AGES)
    volts = c.voltage_of(3.5, 25.0)
    first, last = c.corrected_ph(volts, 25.0, old), c.corrected_ph(volts, 25.0, new)
    assert c.put_right(volts, 25.0, old, 10.0, new, 10.0).ph == pytest.approx((first + last) / 2, abs=1e-3)
    assert c.put_right(volts, 25.0, old, 14.0).sd_ph == pytest.approx(0.05)


@pytest.mark.parametrize(
    ("reading", "refused"),
    [
        ({"celsius": 110.1}, True), ({"celsius": -10.0}, False), ({"ph": 14.01}, True), ({"grams": -50_001}, True), ({"battery": 1.1}, True),
        ({"celsius": math.nan}, True), ({"celsius": 20, "at_s": 301}, True), ({"celsius": 20, "at_s": 299}, False), ({"celsius": 20, "at_s": -400 * 86400 - 1}, True),
    ],
)  # fmt: skip
def test_absurd_numbers_are_refused(reading, refused):
    """Outside what can be, ahead of its time, or far too old: refused with a sentence."""
    said = sent.why_refused(sent.SentReading(id="a", **{"at_s": 0.0, **reading}), 0.0)
    assert bool(said) == refused
    assert said == "" or said.endswith(".")


def test_a_probe_in_the_air_is_doubted_until_it_is_back():
    """A warm jar's probe falls out into a cool room: doubted from then on, sound again when it is put back; slow cooling is sound."""
    seen, doubts = None, []
    for minute in range(180):
        celsius = 26.0 if minute < 60 or minute >= 120 else 18.0 + 8.0 * math.exp(-(minute - 60) / 3)
        seen = sent.seen_next(seen, 60.0 * minute, celsius, True)
        doubts.append(bool(seen.doubt))
    assert not any(doubts[:61])
    assert all(doubts[62:119])
    assert not any(doubts[121:])
    seen = None
    for minute in range(600):
        seen = sent.seen_next(seen, 60.0 * minute, 60.0 - 0.06 * minute, True)
        assert not seen.doubt
    assert sent.seen_next(sent.WarmthSeen(0, 20, 0, 20), 30, 31, False).doubt == sent.JUMPED


@given(st.lists(st.floats(-0.4, 0.4), min_size=3, max_size=120), st.integers(20, 400))
def test_a_thinned_course_draws_the_same_line(steps, every):
    """Between the points kept, every reading lies within the bound; never longer than the longest without one."""
    points, value = [], 20.0
    for number, step in enumerate(steps):
        value += step
        points.append((float(number * every), value))
    state, kept = None, []
    for at, one in points:
        state, more = thinning.follow(state, at, one, 0.1, 3600.0)
        kept += more
    line = [*kept, (state.last_s, state.last)]
    for at, one in points:
        (x0, y0), (x1, y1) = next(((a, b) for a, b in itertools.pairwise(line) if a[0] <= at <= b[0]), (line[0], line[-1]))
        drawn = y0 if x1 == x0 else y0 + (y1 - y0) * (at - x0) / (x1 - x0)
        assert abs(drawn - one) <= 0.1 + 1e-6
    assert all(b - a <= 3600.0 + every for (a, _), (b, _) in itertools.pairwise(kept))


def test_calc_names_the_wrong_key():
    """A point with both, or neither, of pH and voltage is refused by name."""
    for ask, key in (({"points": [{"buffer": 7, "temperature_c": 20}]}, "points"), ({"points": [{"buffer": 9, "temperature_c": 20, "ph": 7}]}, "buffer"), ({"points": [{"buffer": 7, "temperature_c": 20, "ph": 7, "millivolts": 0}]}, "points")):
        with pytest.raises(CalcError, match=key):
            answer("calibrate", ask)
