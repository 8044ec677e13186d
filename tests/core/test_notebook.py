"""The notebook: two sets of scores, triangles, words that find one another, days in plain words, lessons that come back."""

import csv
import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.calc import answer
from kyklos.core.notebook import compare, triangle
from kyklos.core.notebook.comparing import Higher, student_below, student_quantile

REFERENCE = Path(__file__).parent / "reference"
SCORES = st.lists(st.integers(1, 5).map(float), min_size=2, max_size=12)


def rows(name):
    """Questions and answers of a table."""
    with (REFERENCE / f"{name}.csv").open() as file:
        return [(row["calc"], json.loads(row["ask"]), json.loads(row["answer"])) for row in csv.DictReader(file)]


@pytest.mark.parametrize(("calc", "ask", "wanted"), rows("compare"), ids=str)
def test_the_table(calc, ask, wanted):
    """Every row of comparisons and triangles is answered as an independent program did."""
    assert answer(calc, ask) == {key: pytest.approx(value, rel=1e-3, abs=1e-4) if isinstance(value, float) else value for key, value in wanted.items()}


@given(SCORES, SCORES)
def test_a_comparison_turned_round_is_the_same(a, b):
    """Who is called the first does not matter, and what is told lies on one side of nothing."""
    one, other = compare(a, b), compare(b, a)
    assert one.difference == pytest.approx(-other.difference)
    assert one.low == pytest.approx(-other.high)
    assert (one.verdict is Higher.CANNOT_TELL) == (one.low <= 0 <= one.high)
    assert (one.more == 0) or one.verdict is Higher.CANNOT_TELL


@given(st.floats(1, 200), st.floats(0.01, 0.99))
def test_a_students_quantile_is_the_inverse_of_the_chance_below_it(freedom, share):
    """Asked back, a quantile's chance is the share it was asked for."""
    assert student_below(student_quantile(share, freedom), freedom) == pytest.approx(share, abs=1e-6)


@given(st.integers(1, 40).flatmap(lambda of: st.tuples(st.integers(0, of), st.just(of))))
def test_more_right_is_never_likelier_by_guessing(pair):
    """Each one right more is less likely by guessing; none right is certain."""
    right, of = pair
    assert triangle(0, of).p == pytest.approx(1)
    assert right == 0 or triangle(right, of).p <= triangle(right - 1, of).p
