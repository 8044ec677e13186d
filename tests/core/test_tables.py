"""The core agrees with every row of the acceptance tables: within 1 % or 0.001 of the unit, pH within 0.02."""

import csv
from functools import cache
from pathlib import Path

import pytest

from kyklos.core.bottles.bottle import BottleAsk, bottle_forecast
from kyklos.core.bottles.gas import gauge_bar
from kyklos.core.liquid import acids, heat
from kyklos.core.liquid.batch import ferment
from kyklos.core.liquid.ferment import ACETIC, ETHANOL, GLUCONIC, MONO, SUCROSE, Recipe
from kyklos.core.liquid.temperature import steady

REFERENCE = Path(__file__).parent / "reference"


def rows(name):
    """Rows of a table, numbers as numbers."""
    with (REFERENCE / f"{name}.csv").open() as file:
        return [{k: v if k == "tea" else float(v) for k, v in row.items()} for row in csv.DictReader(file)]


def close(value):
    """Within 1 % or 0.001, whichever is larger."""
    return pytest.approx(value, rel=0.01, abs=0.001)


@cache
def course(tea, celsius, sugar, fraction, ph, honey, vigour):
    """A computed ferment, once for all its rows."""
    recipe = Recipe(
        tea=tea, sugar_g_per_l=sugar, starter_fraction=fraction, starter_ph=ph, honey_share=honey, vigour=vigour
    )
    return ferment(recipe, steady(celsius), 30)


@pytest.mark.parametrize("row", rows("start_ph"), ids=str)
def test_start_ph(row):
    """The starting pH of each mix is the table's."""
    where = acids.medium(row["tea"], row["leaf_g_per_l"], row["alkalinity_meq_per_l"])
    starter = acids.starter_from_ph(row["starter_ph"], where)
    found = acids.start_ph(starter, row["starter_fraction"], where, row["honey_g_per_l"])
    assert found == pytest.approx(row["start_ph"], abs=0.02)


@pytest.mark.parametrize("row", rows("ferment"), ids=str)
def test_ferment(row):
    """Sugars, alcohol, acids and pH of each day are the table's."""
    keys = ("tea", "temperature_c", "sugar_g_per_l", "starter_fraction", "starter_ph", "honey_share", "vigour")
    out = course(*(row[key] for key in keys))
    state = out.state[int(row["day"]), :, 0]
    names = ("sucrose_g_per_l", "monosaccharides_g_per_l", "ethanol_g_per_l", "acetic_g_per_l", "gluconic_g_per_l")
    for name, part in zip(names, (SUCROSE, MONO, ETHANOL, ACETIC, GLUCONIC), strict=True):
        assert state[part] == close(row[name]), name
    assert out.ph[int(row["day"]), 0] == pytest.approx(row["ph"], abs=0.02)


@pytest.mark.parametrize("row", rows("cooling"), ids=str)
def test_cooling(row):
    """Each pot cools in the table's time."""
    hours = heat.cooling_hours(
        row["litres"], row["start_c"], row["ambient_c"], row["target_c"], row["area_m2"], row["u_w_per_m2k"]
    )
    assert hours == close(row["hours"])


@pytest.mark.parametrize("row", rows("pressure"), ids=str)
def test_pressure(row):
    """Each bottle stands at the table's pressure."""
    assert float(gauge_bar(row["co2_volumes"], row["temperature_c"], row["headspace_fraction"])) == close(
        row["gauge_bar"]
    )


@pytest.mark.parametrize("row", rows("bottle"), ids=str)
def test_bottle(row):
    """Gas, pressure and alcohol in bottle rise as in the table."""
    start = tuple(course("black", 24, 60, 0.1, 3.0, 0, 1).state[9, :, 0])
    out = bottle_forecast(
        BottleAsk(start=start, added_sugar_g_per_l=row["added_sugar_g_per_l"], course=steady(row["temperature_c"]))
    )
    assert out.volumes_at(row["day"]) == close(row["co2_volumes"])
    assert out.at(row["day"])[1] == close(row["gauge_bar_at_5pct_headspace"])
    assert out.abv_at(row["day"]) == close(row["abv_percent"])
