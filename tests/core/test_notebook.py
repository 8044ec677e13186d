"""The notebook: two sets of scores, triangles, words that find one another, days in plain words, lessons that come back."""

import csv
import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.calc import answer
from kyklos.core.notebook import care, compare, experiments, triangle
from kyklos.core.notebook.comparing import Higher, student_below, student_quantile
from kyklos.core.notebook.lessons import BrewedTold, Happenings, proposals

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


def test_what_mould_touched_is_asked_for_first_and_once():
    """Until it is boiled after the mould; then come rhythms, the latest first, and what has none is not asked for."""
    rhythms, ago = {"covers": 14.0, "kettle": 60.0, "taps": 30.0}, {"covers": 20.0, "kettle": 100.0, "taps": 29.0}
    assert [one.key for one in care.care_due(rhythms, ago, [("Jar", 3.0)])] == ["mould", "kettle", "covers"]
    assert [one.key for one in care.care_due(rhythms, {**ago, "mould": 2.0}, [("Jar", 3.0)])] == ["kettle", "covers"]
    assert care.care_due(rhythms, {**ago, "mould": 4.0}, [("Jar", 3.0)])[0].key == "mould"
    assert care.care_due({}, {}) == []


def test_an_odd_glass_stands_anywhere_and_stays_when_it_is_asked_again():
    """By lot over places and over both arms; the same for the same taster and time."""
    lots = [experiments.odd_place(1, taster, time) for taster in range(1, 4) for time in range(60)]
    assert lots == [experiments.odd_place(1, taster, time) for taster in range(1, 4) for time in range(60)]
    for place in range(3):
        for arm in range(2):
            assert 10 < lots.count((place, arm)) < 60


def test_days_apart_are_told_only_beyond_their_doubt():
    """Two narrow windows a day apart are told; two wide ones are not; turned round it is as much later."""
    told = experiments.days_apart((8.9, 9.0, 9.1), (7.9, 8.0, 8.1))
    assert told.told
    assert "a day sooner" in experiments.days_words(told, "Green")
    assert "a day later" in experiments.days_words(experiments.days_apart((7.9, 8.0, 8.1), (8.9, 9.0, 9.1)), "Green")
    assert "no sooner and no later" in experiments.days_words(experiments.DaysApart(0.5, 0.1, 0.9), "Green")
    wide = experiments.days_apart((6.0, 9.0, 12.0), (5.0, 8.0, 11.0))
    assert not wide.told
    assert "cannot tell" in experiments.days_words(wide, "Green")


def test_only_who_tasted_both_counts_and_the_last_word():
    """A taster of one glass says nothing of a difference; a corrected score counts once."""
    found = experiments.outcome([(1, 0, 2), (1, 0, 3), (1, 1, 4), (2, 0, 3), (2, 1, 5), (3, 0, 1)], [(1, 2, 2), (2, 0, 1)])
    assert found.pairs == 2
    assert found.liked.difference == pytest.approx(1.5)
    assert (found.right, found.tried) == (1, 2)
    assert experiments.outcome([(1, 0, 3), (1, 1, 4)], []).liked is None


def test_a_lesson_of_sixty_brews_offers_a_few_to_look_at():
    """However often it happened: the latest three, and all of it is kept with the lesson."""
    happened = Happenings(brews=[BrewedTold(number, "Jar", "Dresser", "winter", spoiled=True) for number in range(60)])
    lesson = next(one for one in proposals(happened) if one.key == "spoiled:Dresser")
    assert len(lesson.evidence) == 60
    assert lesson.to_look_at == (("brew", 57), ("brew", 58), ("brew", 59))
