"""Words for days and windows, in the household's zone."""

from datetime import UTC, datetime, timedelta

import pytest

from kyklos.core.forecast.answer import Window
from kyklos.core.forecast.vigour import Trend
from kyklos.web.kit.words import after_a_year_word, clock_word, day_word, span_word, window_word

NOW = datetime(2027, 2, 18, 8, 30, tzinfo=UTC)  # a Thursday


@pytest.mark.parametrize(
    "days, word",
    [
        (0, "today"),
        (1, "tomorrow"),
        (-1, "yesterday"),
        (2, "Saturday"),
        (6, "Wednesday"),
        (-3, "last Monday"),
        (9, "Sat 27 Feb"),
        (-60, "Sun 20 Dec 2026"),
    ],
)
def test_days_are_named_as_a_person_would(days, word):
    """Near days by name, far ones by date, other years with their year."""
    assert day_word(NOW + timedelta(days=days), NOW, "UTC") == word


def test_the_zone_decides_the_day():
    """Half past eleven at night in London is tomorrow in Tokyo."""
    late = datetime(2027, 2, 18, 23, 30, tzinfo=UTC)
    assert day_word(late, NOW, "Europe/London") == "today"
    assert day_word(late, NOW, "Asia/Tokyo") == "tomorrow"
    assert clock_word(late, NOW, "Europe/London") == "today, 23:30"


@pytest.mark.parametrize(
    "window, words",
    [
        (Window(9, 9.5, 10), "likely tomorrow to Saturday"),
        (Window(9.0, 9.1, 9.2), "likely tomorrow"),
        (Window(7, 9, 10), "about now, until Saturday"),
        (Window(2, 3, 5), "was right last Friday to last Monday"),
        (Window(None, None, None), "over 40 days at this pace"),
        (Window(12, None, None), "from Monday at the earliest, maybe much later"),
    ],
)
def test_windows_are_said_in_days(window, words):
    """A window ahead, about now, past, open or out of sight each has its words."""
    assert window_word(NOW - timedelta(days=8), window, NOW, "UTC") == words


@pytest.mark.parametrize(
    "days, word",
    [
        (0.1, "a few hours"),
        (0.5, "about half a day"),
        (1.1, "about a day"),
        (2.1, "about 2 days"),
        (2.5, "about 2½ days"),
        (1.25, "about a day"),
        (6.4, "about 6 days"),
    ],
)
def test_spans_are_said_roughly(days, word):
    """Spans are no more exact than they are known."""
    assert span_word(days) == word


def test_how_strong_a_line_is_after_a_year_is_said_with_its_doubt():
    """A change of the logarithm by -0.64 a year is half as strong, not 64 % less; to ten per cent, with how sure that is."""
    assert after_a_year_word(Trend((), -0.64, 0.2)) == "about 50 % weaker after a year, perhaps 30 to 60 %"
    assert after_a_year_word(Trend((), -0.03, 0.01)) == "about 3 % weaker after a year, perhaps 2 to 4 %"
    assert after_a_year_word(Trend((), 0.3, 0.1)) == "about 30 % stronger after a year, perhaps 20 to 50 %"
