"""The quick line: a table of phrases, and what holds for any text."""

import re
from datetime import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.quick_amounts import Amount
from kyklos.core.quick_line import LONGEST, understand
from kyklos.core.quick_said import Context, Named
from kyklos.core.quick_words import FILLERS, phrases, tokens

NOW = datetime(2027, 2, 18, 8, 30)  # a Thursday
KITCHEN = Context(
    (
        Named(1, "Stoneware crock", ("Bora",)),
        Named(2, "Jar one", ("Bora",)),
        Named(3, "Jar two", ("Meltemi", "jun")),
        Named(4, "Tall jar", ("Levanter",)),
    ),
    (Named(1, "Odile Varga"), Named(2, "Bram Sollie")),
    NOW,
)
US = Context(KITCHEN.vessels, KITCHEN.tasters, NOW, us=True)
CROCK, ONE, TWO, TALL = ("Stoneware crock",), ("Jar one",), ("Jar two",), ("Tall jar",)
ODILE, BRAM = "Odile Varga", "Bram Sollie"


def at(text):
    """A local moment of 2027."""
    return datetime.strptime(f"2027-{text}", "%Y-%m-%d %H:%M")


#: Phrase, and all that it must be understood as.
CLEAR = [
    ("crock 3.42 24c odile bit sweet bubbles", {"vessels": CROCK, "ph": 3.42, "celsius": 24, "tastes": [(ODILE, -1)], "note": "bubbles"}),
    ("jar two 77f strip 3.5 yesterday 8pm", {"vessels": TWO, "ph": 3.5, "celsius": 25, "instrument": "strip", "at": at("02-17 20:00")}),
    ("the crock: pH 3,42", {"vessels": CROCK, "ph": 3.42}),
    ("jar 2 3.6", {"vessels": TWO, "ph": 3.6}),
    ("jar1 3.6", {"vessels": ONE, "ph": 3.6}),
    ("JAR TWO PH=3.60", {"vessels": TWO, "ph": 3.6}),
    ("tall 3.9 meter", {"vessels": TALL, "ph": 3.9, "instrument": "meter"}),
    ("meltemi 21.5", {"vessels": TWO, "celsius": 21.5}),
    ("jun 3.7", {"vessels": TWO, "ph": 3.7}),
    ("jun 24c", {"vessels": TWO, "celsius": 24}),
    ("crok 3.4 srtip this morning", {"vessels": CROCK, "ph": 3.4, "instrument": "strip", "at": at("02-18 08:00")}),
    ("stonware crock 3.41", {"vessels": CROCK, "ph": 3.41}),
    ("crock 24.5 °C", {"vessels": CROCK, "celsius": 24.5}),
    ("crock 24 degrees celsius", {"vessels": CROCK, "celsius": 24}),
    ("crock 18-24c", {"vessels": CROCK, "low_c": 18, "high_c": 24}),
    ("crock low 18 high 24", {"vessels": CROCK, "low_c": 18, "high_c": 24}),
    ("crock 18c to 24c", {"vessels": CROCK, "low_c": 18, "high_c": 24}),
    ("crock 5.2 brix refractometer", {"vessels": CROCK, "gravity": 1.0205, "gravity_by": "refractometer"}),
    ("crock sg 1.021 hydrometer", {"vessels": CROCK, "gravity": 1.021, "gravity_by": "hydrometer"}),
    ("crock 1.018", {"vessels": CROCK, "gravity": 1.018}),
    ("jar two ta 4.6", {"vessels": TWO, "ta_g_per_l": 4.6}),
    ("jar two 4.6 g/l from the tap", {"vessels": TWO, "ta_g_per_l": 4.6, "depth": "tap"}),
    ("crock drank a glass", {"vessels": CROCK, "amounts": [Amount("drunk", 0.25, False)]}),
    ("drew 0.5 l from the crock yesterday", {"vessels": CROCK, "amounts": [Amount("drunk", 0.5, False)], "at": at("02-17 08:30")}),
    ("crock spilt 250 ml", {"vessels": CROCK, "amounts": [Amount("spilt", 0.25, False)]}),
    ("topped up crock with 1 l of sweet tea", {"vessels": CROCK, "amounts": [Amount("sweet tea", 1.0, True)]}),
    ("added 2 cups water to the tall jar", {"vessels": TALL, "amounts": [Amount("water", 0.473176, True)]}),
    ("crock gave away half a litre ph 3.3", {"vessels": CROCK, "ph": 3.3, "amounts": [Amount("given", 0.5, False)]}),
    ("odile a bit sour, bram perfect, crock", {"vessels": CROCK, "tastes": [(ODILE, 1), (BRAM, 0)]}),
    ("jar two taste -1 odile", {"vessels": TWO, "tastes": [(ODILE, -1)]}),
    ("bram: much too sweet jar one", {"vessels": ONE, "tastes": [(BRAM, -3)]}),
    ("tall jar kahm smells off", {"vessels": TALL, "surface": "film-yeast", "smell": "bad"}),
    ("crock mould!!", {"vessels": CROCK, "surface": "fuzzy"}),
    ("crock moldy fuzzy spots", {"vessels": CROCK, "surface": "fuzzy"}),
    ("crock top dry", {"vessels": CROCK, "signs": ["lifted"]}),
    ("jar two jelly, brown strings, smells of vinegar", {"vessels": TWO, "surface": "jelly", "signs": ["strings"], "smell": "bread"}),
    ("crock pH 3.3 12 feb 18:30", {"vessels": CROCK, "ph": 3.3, "at": at("02-12 18:30")}),
    ("crock 3.4 2h ago", {"vessels": CROCK, "ph": 3.4, "at": at("02-18 06:30")}),
    ("crock 3.4 monday 7am", {"vessels": CROCK, "ph": 3.4, "at": at("02-15 07:00")}),
    ("crock 3.4 last night", {"vessels": CROCK, "ph": 3.4, "at": at("02-17 21:00")}),
    ("crock 3.4 2027-02-10 09:15", {"vessels": CROCK, "ph": 3.4, "at": at("02-10 09:15")}),
    ("crock moved nearer to the stove", {"vessels": CROCK, "note": "moved nearer to the stove"}),
    ("crock 3.41 uncalibrated meter", {"vessels": CROCK, "ph": 3.41, "instrument": "uncalibrated"}),
    ("tall jar smells cheesy", {"vessels": TALL, "smell": "rotten"}),
    ("crock vinegar eels", {"vessels": CROCK, "surface": "eels"}),
    ("crock 3.2 from the bottom", {"vessels": CROCK, "ph": 3.2, "depth": "bottom"}),
]  # fmt: skip

#: Phrase, what it is taken as, and a piece of the question that it asks.
UNSURE = [
    ("jar 3.4", {"vessels": ("Jar one", "Jar two", "Tall jar"), "ph": 3.4}, "Which one"),
    ("bora 3.3", {"vessels": ("Stoneware crock", "Jar one"), "ph": 3.3}, "Which one"),
    ("tall jar film", {"vessels": TALL, "surface": "skin"}, "wrinkled"),
    ("crock odile sweet", {"vessels": CROCK, "tastes": [(ODILE, -1)]}, "How sweet"),
    ("crock bram sour", {"vessels": CROCK, "tastes": [(BRAM, 1)]}, "How sour"),
    ("crock bit sweet", {"vessels": CROCK, "tastes": [(None, -1)]}, "Who tasted"),
    ("jar two odile sweet sour", {"vessels": TWO}, "one thing"),
    ("crock odile good", {"vessels": CROCK, "tastes": [(ODILE, 0)]}, "right for this taster"),
    ("crock odile vinegar", {"vessels": CROCK, "tastes": [(ODILE, 3)]}, "taste or its smell"),
    ("crock 3", {"vessels": CROCK, "ph": 3}, "Taken as pH 3"),
    ("crock 75", {"vessels": CROCK, "celsius": pytest.approx(23.89, abs=0.01)}, "°F"),
    ("crock 8", {"vessels": CROCK, "ph": None, "note": "8"}, "8 of what"),
    ("crock 6.5", {"vessels": CROCK, "ph": None, "note": "6.5"}, "6.5 of what"),
    ("crock 3.4 3.6", {"vessels": CROCK, "ph": 3.4, "note": "3.6"}, "Said twice"),
    ("crock 3.4 thursday", {"vessels": CROCK, "ph": 3.4, "at": at("02-11 08:30")}, "is today"),
    ("crock 3.4 3/2", {"vessels": CROCK, "ph": 3.4, "at": at("02-03 08:30")}, "Day or month"),
    ("crock 3.4 8pm", {"vessels": CROCK, "ph": 3.4, "at": at("02-17 20:00")}, "yesterday"),
    ("crock 3.4 at 8", {"vessels": CROCK, "ph": 3.4, "at": at("02-18 08:00")}, "morning or evening"),
    ("crock white spots", {"vessels": CROCK, "surface": "odd"}, "Fuzzy or flat"),
    ("crock moud", {"vessels": CROCK, "surface": "fuzzy"}, "Read as"),
    ("crock ph 15", {"vessels": CROCK, "ph": None}, "0 to 14"),
]  # fmt: skip


def told(quick, name):
    """One field, with names in place of what they name."""
    if name == "vessels":
        return tuple(v.name for v in quick.vessels)
    if name == "tastes":
        return [(taster.name if taster else None, score) for taster, score in quick.tastes]
    return getattr(quick, name)


def test_the_table_is_as_long_as_promised():
    """Sixty phrases, twenty of them ambiguous."""
    assert len(CLEAR) >= 40
    assert len(UNSURE) >= 20


@pytest.mark.parametrize("line, meant", CLEAR, ids=[line for line, _ in CLEAR])
def test_a_clear_phrase_is_understood_without_a_question(line, meant):
    """All of it is understood, nothing else is made up, and nothing is asked."""
    quick = understand(line, KITCHEN)
    assert {name: told(quick, name) for name in meant} == {
        name: pytest.approx(value) if isinstance(value, float) else value for name, value in meant.items()
    }
    untold = {
        "ph",
        "celsius",
        "low_c",
        "gravity",
        "ta_g_per_l",
        "tastes",
        "surface",
        "signs",
        "smell",
        "at",
        "note",
    } - set(meant)
    assert all(told(quick, name) in (None, "", []) for name in untold)
    assert quick.doubts == []


@pytest.mark.parametrize("line, meant, question", UNSURE, ids=[line for line, *_ in UNSURE])
def test_an_ambiguous_phrase_is_taken_one_way_and_asked_about(line, meant, question):
    """It is taken as told, and the question says how else it may be meant."""
    quick = understand(line, KITCHEN)
    assert {name: told(quick, name) for name in meant} == meant
    assert any(question in doubt.question for doubt in quick.doubts)


def test_units_and_dates_follow_the_household():
    """Without a unit 77 is 25 °C where °F is used, and 2/3 the third of February."""
    quick = understand("crock 77 2/3", US)
    assert quick.celsius == pytest.approx(25)
    assert quick.at.date() == datetime(2027, 2, 3).date()
    assert understand("crock 24", US).celsius == pytest.approx(24)


@given(st.text(max_size=120))
def test_any_text_is_understood_somehow(line):
    """No text is refused, no number leaves its range, and the time is never to come."""
    quick = understand(line, KITCHEN)
    assert quick.ph is None or 0 <= quick.ph <= 14
    assert all(c is None or 0 <= c <= 60 for c in (quick.celsius, quick.low_c, quick.high_c))
    assert quick.gravity is None or 0.98 <= quick.gravity <= 1.2
    assert quick.at is None or quick.at <= NOW
    assert all(-3 <= score <= 3 for _, score in quick.tastes)


WORDS = st.sampled_from([*{w for p in phrases() for w in p}, "crock", "jar", "two", "odile", "3.4", "24c", "8pm", "monday", "teapot", "7", "stove", "yesterday", "ph", "low", "-", "/", "°"])  # fmt: skip


@given(st.lists(WORDS, max_size=14))
def test_no_word_is_dropped(words):
    """Every word is part of what was understood, or stands in the note; only fillers may fall away."""
    line = " ".join(words)
    quick = understand(line, KITCHEN)
    for token in tokens(line[:LONGEST]):
        if any(start <= token.start and token.end <= end for start, end in quick.read):
            continue
        if token.word in FILLERS or re.fullmatch(r"[.,;:!?/°–-]", token.word):
            continue
        assert token.text in quick.note


@given(
    st.floats(2.0, 5.49),
    st.floats(12, 34),
    st.sampled_from(["strip", "meter", "uncalibrated"]),
    st.permutations(range(4)),
)
def test_the_order_of_words_does_not_matter(ph, celsius, tool, order):
    """A reading is the same in whichever order its pieces are typed."""
    pieces = ["crock", f"{ph:.2f}", f"{celsius:.1f}c", tool]
    quick = understand(" ".join(pieces[i] for i in order), KITCHEN)
    assert (quick.ph, quick.celsius, quick.instrument) == (round(ph, 2), pytest.approx(round(celsius, 1)), tool)
    assert told(quick, "vessels") == CROCK
