"""What the core takes: each number from its lowest to its highest, and not a thousandth beyond. The ranges stand in `reference/ranges.json`."""

import dataclasses
import json
import random
from pathlib import Path

import pytest

from kyklos.core.base.errors import CoreError, OutOfRangeError
from kyklos.core.base.water import Water
from kyklos.core.bottles.heard import Heard
from kyklos.core.brewing import RecipeCard
from kyklos.core.brewing.measures import TAKES
from kyklos.core.brewing.portions import portion_from_ph
from kyklos.core.brewing.threads import Bench
from kyklos.core.calc import CALCULATIONS, answer
from kyklos.core.calc.keys import CalcError, read
from kyklos.core.forecast import Observation, Prior
from kyklos.core.forecast.palate import Tasted
from kyklos.core.liquid import Point, Recipe
from kyklos.core.liquid.acids import TeaAndWater
from kyklos.core.liquid.heat_methods import HeatAsk
from kyklos.core.liquid.liquid import sweet_tea
from kyklos.core.liquid.standing import Stood
from kyklos.core.tapped.cycle import CycleAsk
from tests import answers
from tests.core.test_calc import GOOD
from tests.core.test_tapped import vessel

RANGES = json.loads((Path(__file__).parent / "reference/ranges.json").read_text())
RNG = random.Random(4)
BOTTLE, BREW = answers.bottle(RNG), answers.brew(RNG)
SAMPLES = [
    Water(), BOTTLE, Heard(BOTTLE, 3.0, 1, 1), answers.plan_ask(RNG), portion_from_ph("a", "a", 1.0, 3.0, 0.1, TeaAndWater()),
    RecipeCard(), Bench(), Observation(1.0, "ph", 3.5), Prior(), BREW, Tasted(0, 4.0), BREW.batch, Recipe(), HeatAsk(final_l=4.0, starter_l=0.5),
    sweet_tea("black", 5, 60), Stood(since=0.0, until=None, usual_c=22.0), Point("Ana", 4.0, 0.15), CycleAsk(recipe=Recipe(), celsius=24.0, every_days=3.0), vessel(),
]  # fmt: skip
BY_NAME = {f"{type(one).__module__.rsplit('.', 1)[1]}:{type(one).__name__}": one for one in SAMPLES}
BEYOND = 1e-3
VALUES = [(name, field, *ends) for name, fields in RANGES["values"].items() for field, ends in fields.items()]
ASKED = [(name, key, *ends) for name, keys in RANGES["calc"].items() for key, ends in keys.items()]
ROWS = [(name, *place.split("."), *ends) for name, places in RANGES["rows"].items() for place, ends in places.items()]
WHOLE = {"score", "taste"}  #: Steps of taste are whole: the next one is out.


def refused(sample, field, value):
    """Whether a value is refused for this field."""
    try:
        dataclasses.replace(sample, **{field: value})
    except OutOfRangeError as problem:
        return problem.name == field
    except CoreError:
        return False
    return False


@pytest.mark.parametrize(("name", "field", "low", "high"), VALUES)
def test_a_value_takes_what_lies_in_its_range_and_nothing_beyond(name, field, low, high):
    """The ends belong to the range."""
    sample, step = BY_NAME[name], BEYOND * max(abs(low), abs(high))
    assert not refused(sample, field, low)
    assert not refused(sample, field, high)
    assert refused(sample, field, low - step)
    assert refused(sample, field, high + step)


@pytest.mark.parametrize(("name", "key", "low", "high"), ASKED)
def test_the_command_line_takes_what_lies_in_its_range_and_nothing_beyond(name, key, low, high):
    """A number outside is named with the range that it should lie in."""
    keys = CALCULATIONS[name].keys

    def out(value):
        try:
            read(keys, {**GOOD[name], key: value})
        except CalcError as problem:
            return "must lie from" in str(problem) and key in str(problem)
        return False

    step = BEYOND * max(abs(end) for end in (low, high) if end is not None)
    for end, sign in ((low, -1), (high, 1)):
        if end is not None:
            assert not out(end)
            assert out(end + sign * step)


@pytest.mark.parametrize(("name", "rows", "key", "low", "high"), ROWS)
def test_a_row_of_a_question_takes_what_lies_in_its_range_and_nothing_beyond(name, rows, key, low, high):
    """A reading, a tasting or a titration of a question is held to its own ranges, and named by its place in the list."""
    day = {"day": 1.0} if key != "day" else {}
    with_it = {"tastes": {"score": 0}, "ta": {"ta_g_per_l": 4}}.get(rows, {"ph": 3.5} if key in {"day", "sd"} else {})
    step = 1 if key in WHOLE else BEYOND * max(abs(low), abs(high))
    for end, beyond in ((low, low - step), (high, high + step)):
        answer(name, {**GOOD[name], rows: [{**with_it, **day, key: end}]})
        with pytest.raises(CalcError, match=rf"{rows}\[0\].*{key}"):
            answer(name, {**GOOD[name], rows: [{**with_it, **day, key: beyond}]})


def test_a_brew_day_takes_what_the_table_says():
    """The form of a brew day is held to the ranges of the table, for every number it asks."""
    assert {key: list(ends) for key, ends in TAKES.items()} == RANGES["plan"]["brew day"]
