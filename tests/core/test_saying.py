"""Quantities in plain sentences: marked where they are written, said in the reader's units."""

from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.base.saying import marked, spoken


@given(st.floats(-1e6, 1e6), st.sampled_from(["volume", "mass", "temperature", "strength", "bottle", "length"]))
def test_what_is_marked_is_said_once_with_its_value_and_kind(value, kind):
    """The units are asked for this value of this kind, to six digits, and the words around stay as they were."""
    asked = []
    text = spoken(f"Take {marked(value, kind)} {{of it}}.", lambda v, k: asked.append((v, k)) or "so much")
    assert text == "Take so much {of it}."
    [(told, of)] = asked
    assert of == kind
    assert abs(told - value) <= 1e-5 * max(1.0, abs(value))


@given(st.text(max_size=60))
def test_any_text_is_left_alone(text):
    """Only whole marks of known kinds are read; names that somebody typed stay as they are."""
    assert spoken(text, lambda *_: "?") == text


def test_a_mark_that_is_no_number_stays():
    """Something that looks like a mark but holds no number, or a kind nobody knows, is shown as it was typed."""
    for text in ("\u27e6volume:1e\u27e7", "\u27e6volume:--1\u27e7", "\u27e6luck:3\u27e7"):
        assert spoken(text, lambda *_: "?") == text
