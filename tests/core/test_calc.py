"""`kyklos calc`: right answers, and one clear line for wrong questions."""

import json

import pytest
from click.testing import CliRunner

from kyklos.cli import main
from kyklos.core.calc import CALCULATIONS, answer

RECIPE = {"temperature_c": 24, "starter_ph": 3.0}
GOOD = {
    "start-ph": {"starter_ph": 3.0, "starter_fraction": 0.1},
    "starter": {"starter_ph": 3.0, "target_ph": 4.2},
    "titration": {"base_ml": 5, "base_normality": 0.1, "sample_ml": 10},
    "recipe": {"usable_l": 4},
    "mix-temperature": {"parts": [{"litres": 1, "celsius": 80}, {"litres": 3, "celsius": 20}]},
    "heat-plan": {"final_l": 4, "starter_l": 0.4, "starter_c": 20, "hot_c": 85, "cold_c": 12, "target_c": 24},
    "cooling": {"litres": 1, "area_m2": 0.065, "u_w_per_m2k": 17, "start_c": 95, "ambient_c": 22, "target_c": 30},
    "ferment": {**RECIPE, "tea": {"black": 0.5, "green": 0.5}, "days": 5},
    "forecast": {
        "recipe": {"starter_ph": 3.0},
        "temperatures": [[0, 24]],
        "future_c": 24,
        "target_ph": 3.2,
        "readings": [{"day": 2, "ph": 3.8, "instrument": "strip"}, {"day": 3, "taste": -2}],
    },
    "pressure": {"co2_volumes": 2, "temperature_c": 20, "headspace_fraction": 0.05},
    "blend": {
        "parts": [
            {"litres": 1, "acetic_g_per_l": 8, "strong_ions_meq_per_l": 2.5},
            {"litres": 1, "ph": 3.2, "abv_percent": 0.5},
        ]
    },
    "judge": {
        "day": 8,
        "mean_c": 24,
        "readings": [{"day": 0, "ph": 4.6}, {"day": 6, "ph": 3.6, "instrument": "meter"}],
        "looks": [{"day": 7, "surface": "disc", "signs": ["strings"], "smell": "bread"}],
    },
    "cost": {
        "lines": [{"amount": 200, "unit": "g", "price": 1.5, "per_amount": 1, "per_unit": "kg"}],
        "litres": 3,
        "bottle_ml": 500,
        "shop_price": 2,
    },
    "compare": {"a": [5, 3, 4], "b": [2, 3, 4]},
    "triangle": {"right": 4, "of": 6},
    "calibrate": {"points": [{"buffer": 7, "temperature_c": 24, "millivolts": 2.1}, {"buffer": 4, "temperature_c": 24, "millivolts": 174}], "reading": {"ph": 3.4, "temperature_c": 23}},
    "demand": {"drunk": [{"days_ago": 2, "litres": 0.5}], "stock_l": 6},
    "supply": {
        "demand_l_per_week": 3,
        "vessels": [
            {"name": "jar", "kind": "batch", "litres": 3, "ready_days": 8, "last_day": 12, "turn_round_days": 0, "starter_share": 0.1, "loss_share": 0.05},
            {"name": "crock", "kind": "tapped", "litres": 8, "loss_share": 0.05, "draws": [{"every_days": 7, "share": 0.3}]},
        ],
    },
    "continuous": {"temperature_c": 24, "share": 0.3, "every_days": 3},
    "flavour": {
        "state": {
            "sucrose_g_per_l": 1, "monosaccharides_g_per_l": 44, "ethanol_g_per_l": 3.4, "acetic_g_per_l": 4.3,
            "gluconic_g_per_l": 1.4, "yeast_share": 1,
        },
        "additions": [{"flavour": "damson", "g_per_l": 60}, {"flavour": "ginger root", "g_per_l": 5}],
        "temperature_c": 22, "headspace_fraction": 0.04,
    },
    "bottle": {"start": {"recipe": RECIPE, "day": 9}, "added_sugar_g_per_l": 8, "temperature_c": 22, "limit_bar": 4},
}
BAD = [
    ("compare", {"a": [5], "b": [2, 3]}, "a"),
    ("compare", {"a": [5, 4, 3], "b": [2, 3], "paired": True}, "as many"),
    ("triangle", {"right": 7, "of": 6}, "right"),
    ("demand", {"drunk": [{"days_ago": -1, "litres": 1}], "stock_l": 1}, "days_ago"),
    ("supply", {"demand_l_per_week": 3, "vessels": [{"name": "jar", "kind": "barrel"}]}, "kind"),
    ("supply", {"demand_l_per_week": 3, "vessels": [{"name": 1, "kind": "tapped", "litres": 3, "loss_share": 0, "draws": []}]}, "name"),
    ("start-ph", {"starter_ph": "3.0", "starter_fraction": 0.1}, "starter_ph"),
    ("start-ph", {"starter_ph": 3.0}, "starter_fraction"),
    ("start-ph", {"starter_ph": 3.0, "starter_fraction": 0.1, "colour": 1}, "colour"),
    ("start-ph", {"starter_ph": 19, "starter_fraction": 0.1}, "starter_ph"),
    ("start-ph", {"starter_ph": True, "starter_fraction": 0.1}, "starter_ph"),
    ("start-ph", {"starter_ph": 3, "starter_fraction": 0.1, "tea": "nettle"}, "tea"),
    ("start-ph", {"starter_ph": 3, "starter_fraction": 0.1, "tea": {"black": 0.4}}, "tea"),
    ("starter", {"target_ph": 4.2}, "starter_ph"),
    ("cooling", {**GOOD["cooling"], "target_c": 20}, "target_c"),
    ("mix-temperature", {"parts": []}, "parts"),
    ("ferment", {"temperature_c": []}, "temperature_c"),
    ("ferment", {**RECIPE, "days": 2.5}, "days"),
    ("ferment", {**RECIPE, "events": [{"day": 2}]}, "events[0].draw_l"),
    ("ferment", {**RECIPE, "events": [{"day": 2, "draw_l": 1, "top_up_l": 1}]}, "events[0].draw_l"),
    ("ferment", {**RECIPE, "events": [{"day": 2, "draw_l": 1, "tea": "green"}]}, "events[0].tea"),
    ("ferment", {**RECIPE, "events": [{"day": 2, "draw_l": 4}]}, "events"),
    ("ferment", {**RECIPE, "events": [{"day": 4, "draw_l": 1}, {"day": 3, "draw_l": 1}]}, "events"),
    ("ferment", {**RECIPE, "events": {"day": 4}}, "events"),
    ("judge", {"day": 8, "mean_c": 24, "readings": [{"day": 1, "ph": 40}]}, "readings[0].ph"),
    ("judge", {"day": 8, "mean_c": 24, "looks": [{"day": 1, "surface": "moss"}]}, "looks[0].surface"),
    ("judge", {"day": 8, "mean_c": 24, "looks": [{"day": 1, "signs": "strings"}]}, "looks[0].signs"),
    ("judge", {"day": 8, "mean_c": 24, "top_ups": 3}, "top_ups"),
    ("blend", {"parts": []}, "parts"),
    ("blend", {"parts": [{"litres": 1, "ph": 3.0, "ta_g_per_l": 3}]}, "parts[0].ph"),
    ("blend", {"parts": [{"litres": 1, "acetic": 3.0}]}, "parts[0].acetic"),
    ("blend", {"parts": [{"acetic_g_per_l": 3.0}]}, "parts[0].litres"),
    ("forecast", {**GOOD["forecast"], "readings": [{"day": 2}]}, "readings[0]"),
    ("forecast", {**GOOD["forecast"], "readings": [{"day": 2, "ph": 3, "instrument": "nose"}]}, "instrument"),
    ("forecast", {**GOOD["forecast"], "recipe": {"vigor": 1}}, "recipe.vigor"),
    ("bottle", {**GOOD["bottle"], "flavour": "coffee"}, "flavour"),
    ("bottle", {**GOOD["bottle"], "form": "fog"}, "form"),
    ("bottle", {**GOOD["bottle"], "burps": [1, "two"]}, "burps[1]"),
    ("flavour", {**GOOD["flavour"], "additions": [{"flavour": "coffee", "g_per_l": 5}]}, "additions[0].flavour"),
    ("flavour", {**GOOD["flavour"], "additions": [{"flavour": "fig", "g_per_l": 500}] * 2}, "additions"),
    ("flavour", {**GOOD["flavour"], "state": {"acetic_g_per_l": 4}}, "state"),
    ("flavour", {**GOOD["flavour"], "additions": "damson"}, "additions"),
    ("bottle", {**GOOD["bottle"], "start": {}}, "start."),
    ("tea", {}, "tea"),
    (
        "cost",
        {"lines": [{"amount": 1, "unit": "g", "price": 1, "per_amount": 1, "per_unit": "L"}], "litres": 1},
        "per_unit",
    ),
    (
        "cost",
        {"lines": [{"amount": 1, "unit": "stone", "price": 1, "per_amount": 1, "per_unit": "g"}], "litres": 1},
        "unit",
    ),
    ("ferment", [RECIPE, 5], "object"),
]


def calc(name, text):
    """Run `kyklos calc`."""
    return CliRunner().invoke(main, ["calc", name], input=text)


@pytest.mark.parametrize("name", CALCULATIONS)
def test_each_calculation_answers(name):
    """Each calculation answers one question with one answer, and a list with a list of the same."""
    one = calc(name, json.dumps(GOOD[name]))
    many = calc(name, json.dumps([GOOD[name]] * 2))
    assert one.exit_code == 0, one.stderr
    assert json.loads(many.stdout) == [json.loads(one.stdout)] * 2


@pytest.mark.parametrize("name, question, key", BAD, ids=lambda v: str(v)[:50])
def test_wrong_questions_end_with_one_line_that_names_the_key(name, question, key):
    """A wrong question ends with status 2, one line on standard error, and nothing on standard output."""
    out = calc(name, json.dumps(question))
    assert (out.exit_code, out.stdout) == (2, "")
    assert key in out.stderr
    assert len(out.stderr.strip().splitlines()) == 1


@pytest.mark.parametrize(
    "text",
    [
        "",
        "{",
        '{"starter_ph": NaN, "starter_fraction": 0.1}',
        '{"starter_ph": 1e999, "starter_fraction": 0.1}',
        "[" * 5000,
    ],
    ids=lambda t: t[:12] or "empty",
)
def test_what_is_no_json_number_is_refused(text):
    """Broken JSON, NaN and infinity are refused like any wrong question."""
    out = calc("start-ph", text)
    assert (out.exit_code, out.stdout) == (2, "")
    assert len(out.stderr.strip().splitlines()) == 1


def test_the_list_names_everything_a_question_may_say():
    """`calc list` gives every calculation its keys, with a unit each and a default where it is optional."""
    told = json.loads(calc("list", "").stdout)
    for name, entry in told["calculations"].items():
        assert set(GOOD[name]) <= set(entry["keys"])
        assert all("unit" in key and ("default" in key or key["required"]) for key in entry["keys"].values())


def test_a_starter_is_read_in_its_own_water():
    """pH 3.2 at a tenth into water of 4 meq/L starts at 4.86 where its own was soft, at 4.39 only if that was as hard."""
    hard = {"starter_ph": 3.2, "starter_fraction": 0.1, "leaf_g_per_l": 6, "alkalinity_meq_per_l": 4.0}
    soft = {**hard, "starter_alkalinity_meq_per_l": 0.5}
    told = json.loads(calc("start-ph", json.dumps([soft, hard])).stdout)
    assert [round(one["start_ph"], 2) for one in told] == [4.86, 4.39]
    same = {**soft, "starter_tea": {"black": 1.0}, "starter_leaf_g_per_l": 6}
    assert json.loads(calc("start-ph", json.dumps(same)).stdout)["start_ph"] == pytest.approx(told[0]["start_ph"])


def test_shape_of_the_forecast_answer():
    """Quantiles are as long as the days; a day that is not reached is null."""
    out = json.loads(calc("forecast", json.dumps({**GOOD["forecast"], "target_ph": 2.1})).stdout)
    assert len(out["day"]) == len(out["ph"]["p50"]) == 31
    assert out["ready_day"] == {"p10": None, "p50": None, "p90": None}


def test_a_row_of_a_ferment_starts_a_bottle_as_its_recipe_does():
    """A bottle started from a computed row is the bottle started from its recipe and day."""
    row = json.loads(calc("ferment", json.dumps({**RECIPE, "days": 9})).stdout)[9]
    by_row = json.loads(calc("bottle", json.dumps({**GOOD["bottle"], "start": row})).stdout)
    by_recipe = json.loads(calc("bottle", json.dumps(GOOD["bottle"])).stdout)
    assert by_row["chill_by_day"] == pytest.approx(by_recipe["chill_by_day"], rel=1e-6)


def test_a_ferment_with_events_answers_each_day_after_them():
    """Drawn and topped up as the table of continuous vessels is, the steady cycle is the table's; a day stands after its events."""
    import csv
    from pathlib import Path

    table = list(csv.DictReader((Path(__file__).parent / "reference" / "continuous.csv").open()))
    for row in table[2:3] + table[9:10]:
        share, every = float(row["share_drawn"]), float(row["every_days"])
        litres = 4.0 * share
        tea = {"top_up_l": litres, "sugar_g_per_l": float(row["sugar_g_per_l"])}
        days = [every * n for n in range(1, int(196 // every))]
        events = [event for day in days for event in ({"day": day, "draw_l": litres}, {"day": day, **tea})]
        out = answer("ferment", {**RECIPE, "volume_l": 4.0, "days": int(days[-1]), "events": events})
        assert out[-1]["ta_g_per_l"] == pytest.approx(float(row["ta_after_topup_g_per_l"]), rel=0.01)
        assert out[-1]["ph"] == pytest.approx(float(row["ph_after_topup"]), abs=0.02)
        assert out[-1]["bacteria_share"] < float(row["bacteria_before"])
