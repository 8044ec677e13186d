"""What people type: commas, fractions, units; and the way back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.web.kit import units
from kyklos.web.kit.units import SI, NotANumberError, parse, typed, words


@pytest.mark.parametrize(
    "text, kind, units, value",
    [
        ("3,4", "number", "metric", 3.4),
        ("1 1/2 qt", "volume", "metric", 1.41953),
        ("3/4", "number", "us", 0.75),
        ("77f", "temperature", "metric", 25),
        ("77", "temperature", "us", 25),
        ("24 °C", "temperature", "us", 24),
        ("1½ gal", "volume", "metric", 5.67812),
        ("380 ml", "volume", "us", 0.38),
        ("2", "small_volume", "us", 473.176),
        ("6", "length", "us", 15.24),
        ("-3", "number", "metric", -3),
        ("8 oz", "mass", "metric", 226.796),
    ],
)
def test_typed_quantities_become_si(text, kind, units, value):
    """Commas for points, fractions and units of either system are read."""
    assert parse(text, kind, units) == pytest.approx(value, rel=1e-4)


@pytest.mark.parametrize("text", ["three", "", "3 4", "1/0", "5 parsec", "4 kg", "--3", "3.4.5"])
def test_what_is_no_quantity_is_told_in_a_sentence(text):
    """Words for numbers, broken numbers and wrong units get a sentence."""
    with pytest.raises(NotANumberError, match=r"[.]$"):
        parse(text, "volume", "metric")


@given(st.floats(0.5, 90), st.sampled_from(sorted(SI)), st.sampled_from(["metric", "us"]))
def test_units_round_trip(value, kind, units):
    """What is shown in a field reads back as the same quantity, to the three figures shown."""
    assert parse(typed(value, kind, units), kind, units) == pytest.approx(
        value, rel=0.01, abs=0.3 if kind == "temperature" else 0
    )
    assert words(value, kind, units)


def test_the_table_of_units_says_what_pint_says():
    """Each unit of the table, turned into each other of its kind, agrees with pint to twelve digits; so do degrees."""
    known = [name for name in units.FACTORS if name != "percent_acid"]
    pairs = [(a, b) for a in known for b in known if units.FACTORS[a][0] == units.FACTORS[b][0]]
    for unit, to in [*pairs, ("degF", "degC"), ("degC", "degC")]:
        assert units._factor(unit, to) == pytest.approx(units._asked_of_pint(unit, to), rel=1e-12, abs=1e-12)
    assert units._factor("percent_acid", "gram/liter") == (10.0, 0.0)
