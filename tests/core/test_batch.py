"""Liquids and batches: what is mixed balances, events balance, and without events all is as it was."""

import csv
import gzip
import json
from collections import defaultdict
from dataclasses import fields
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.base.errors import CoreError, OutOfRangeError
from kyklos.core.bottles.bottle import BottleAsk, bottle_forecast
from kyklos.core.brewing import away
from kyklos.core.forecast.answer import forecast
from kyklos.core.forecast.ask import ForecastAsk, Observation, Prior
from kyklos.core.liquid.acids import medium, starter_from_titration
from kyklos.core.liquid.batch import Batch, carry_on, ferment, fill_at, run
from kyklos.core.liquid.events import Draw, Move, Pour, Thin
from kyklos.core.liquid.ferment import (
    ACETIC,
    BACTERIA,
    ETHANOL,
    GLUCONIC,
    MONO,
    SUCROSE,
    YEAST,
    Kinetics,
    Recipe,
    start_state,
    surface_factor,
)
from kyklos.core.liquid.integrator import integrate
from kyklos.core.liquid.liquid import (
    PARTS,
    Liquid,
    blend,
    litres_for_acidity,
    mature,
    mature_from_ph,
    starter_of,
    sweet_tea,
    sweet_tea_of,
    water,
)
from kyklos.core.liquid.taste import Point
from kyklos.core.liquid.temperature import Course, ratios_over, steady

REFERENCE = Path(__file__).parent / "reference"
few = settings(max_examples=40, deadline=None)
amounts = st.floats(0, 60)


@st.composite
def liquids(draw):
    """A liquid of any composition."""
    told = {name: draw(amounts) for name in PARTS if name not in {"yeast_share", "bacteria_share"}}
    return Liquid(litres=draw(st.floats(0.05, 5)), yeast_share=draw(st.floats(0, 1)), bacteria_share=draw(st.floats(0, 1)), **told)  # fmt: skip


def blends():
    """Cases of the table: parts with their own figures, and what they come to."""
    cases = defaultdict(list)
    with (REFERENCE / "blend.csv").open() as file:
        for row in csv.DictReader(file):
            cases[row["case"]].append(row)
    return cases


BLENDS = blends()


def part_of(row):
    """One part of a case."""
    names = {f.name for f in fields(Liquid)}
    told = {key: float(value) for key, value in row.items() if key in names and value}
    return Liquid(monosaccharides_g_per_l=float(row["sugar_g_per_l"]), **told)


@pytest.mark.parametrize("case", BLENDS)
def test_blends_agree_with_the_table(case):
    """pH and acidity of each part and of the mix are the table's, sugar and alcohol too; never the mean of the pHs."""
    rows = BLENDS[case]
    parts = [part_of(row) for row in rows]
    for part, row in zip(parts, rows, strict=True):
        assert part.ph == pytest.approx(float(row["part_ph"]), abs=0.02)
        assert part.ta_g_per_l == pytest.approx(float(row["part_ta_g_per_l"]), rel=0.01, abs=0.001)
    mix = blend(parts)
    assert mix.ph == pytest.approx(float(rows[0]["blend_ph"]), abs=0.02)
    for name in ("ta_g_per_l", "sugar_g_per_l", "abv_percent"):
        assert getattr(mix, name) == pytest.approx(float(rows[0][f"blend_{name}"]), rel=0.01, abs=0.001)
    assert (mix.ph <= 4.2) == (rows[0]["at_or_below_4.2"] == "True")


@given(st.lists(liquids(), min_size=1, max_size=4))
@few
def test_everything_but_ph_is_additive(parts):
    """Of every part of a liquid, what went in is in the mix; in whichever order; and the mix is as sour as its parts say."""
    mix, back = blend(parts), blend(parts[::-1])
    assert mix.litres == pytest.approx(sum(part.litres for part in parts))
    for name in PARTS:
        put_in = sum(part.litres * getattr(part, name) for part in parts)
        assert mix.litres * getattr(mix, name) == pytest.approx(put_in, rel=1e-9, abs=1e-9)
        assert getattr(mix, name) == pytest.approx(getattr(back, name))
    assert mix.ta_g_per_l * mix.litres == pytest.approx(sum(p.ta_g_per_l * p.litres for p in parts), rel=1e-6, abs=1e-6)
    assert min(p.ph for p in parts) - 1e-6 <= mix.ph <= max(p.ph for p in parts) + 1e-6


def titrated(ta_g_per_l):
    """Mature liquid of a titrated acidity, in usual tea and water."""
    where = medium("black", 5, 0.5)
    return mature(starter_from_titration(ta_g_per_l, where), where, 5)


@given(st.floats(1, 20), st.floats(0, 0.5), st.floats(0.6, 0.95))
@few
def test_the_litres_for_an_acidity_are_exact(sour, mild, between):
    """Poured together as told, the two have the acidity wanted; an acidity outside of both is reached by no amount."""
    a, b = titrated(sour), titrated(mild)
    wanted = b.ta_g_per_l + between * (a.ta_g_per_l - b.ta_g_per_l)
    litres = litres_for_acidity(a.ta_g_per_l, b.ta_g_per_l, wanted)
    assert blend([a, b.of(litres)]).ta_g_per_l == pytest.approx(wanted, rel=1e-6)
    assert litres_for_acidity(a.ta_g_per_l, b.ta_g_per_l, a.ta_g_per_l + 1) is None
    assert litres_for_acidity(a.ta_g_per_l, b.ta_g_per_l, b.ta_g_per_l) is None


@given(st.floats(2.4, 4.6), st.sampled_from(["black", "green"]), st.floats(0, 4))
@few
def test_a_mature_liquid_has_the_ph_it_was_measured_at(ph, tea, alkalinity):
    """Read in its own tea and water it stands at the pH measured, and titrates as its titration said."""
    assert mature_from_ph(ph, tea=tea, alkalinity_meq_per_l=alkalinity).ph == pytest.approx(ph, abs=0.002)
    assert titrated(ph).ta_g_per_l == pytest.approx(ph, abs=1e-4)


@given(
    st.floats(0.02, 0.5),
    st.floats(0, 1),
    st.sampled_from(["fresh", "hotel", "bottle"]),
    st.floats(2.6, 3.8),
    st.floats(0, 1),
)
@few
def test_a_start_is_its_sweet_tea_and_its_starter_poured_together(f, honey, kind, ph, invert):
    """The state a brew is started in, its medium and honey's acid are those of the two liquids mixed."""
    recipe = Recipe(starter_fraction=f, honey_share=honey, starter_kind=kind, starter_ph=ph, invert_share=invert)
    mix = blend([sweet_tea_of(recipe, 3.0 * (1 - f)), starter_of(recipe, 3.0 * f)])
    state = mix.state
    state[YEAST] = min(1.0, state[YEAST])
    assert state == pytest.approx(start_state(recipe)[:, 0])
    assert mix.honey_acid_meq_per_l == pytest.approx(recipe.honey_acid_meq_per_l)
    assert mix.medium.strong_ions_meq_per_l == pytest.approx(recipe.medium.strong_ions_meq_per_l)
    assert mix.ph == pytest.approx(float(ferment(recipe, steady(24), 1).ph[0, 0]), abs=0.001)


def events():
    """Things that happen to a batch, small enough that something is left."""
    day = st.floats(0, 12).map(lambda d: round(d, 2))
    tea = st.floats(0.1, 1).map(lambda w: sweet_tea("black", 6, 60, litres=w))
    return st.one_of(
        st.builds(Draw, day, st.floats(0, 0.4), st.booleans()),
        st.builds(Pour, day, tea),
        st.builds(Pour, day, st.floats(0.1, 0.5).map(lambda w: water(litres=w))),
        st.builds(Thin, day, st.floats(0, 1)),
        st.builds(Move, day, st.floats(0.02, 0.1)),
    )


def made(some, **more):
    """A batch with events in order."""
    return Batch(
        recipe=Recipe(), course=steady(24), litres=4.0, events=tuple(sorted(some, key=lambda e: e.day)), **more
    )


@given(st.lists(events(), max_size=6))
@few
def test_a_batch_balances_over_every_event(some):
    """Over an event each dissolved part changes by just what came or went; between events volume stays; nothing is negative."""
    out = run(made(some), 14)
    assert (out.state >= 0).all()
    assert (np.diff(out.day) >= 0).all()
    starts = [int(np.argmax(out.part == n)) for n in range(len(out.fills))]
    ordered = sorted(some, key=lambda e: e.day)
    for event, (before, after), row in zip(ordered, pairwise(out.fills), starts[1:], strict=True):
        old, new = out.state[row - 1, :, 0], out.state[row, :, 0]
        for part in (SUCROSE, MONO, ETHANOL, ACETIC, GLUCONIC):
            moved = -event.litres * old[part] if isinstance(event, Draw) else 0.0
            moved += event.liquid.litres * event.liquid.state[part] if isinstance(event, Pour) else 0.0
            assert after.litres * new[part] == pytest.approx(before.litres * old[part] + moved, abs=1e-6)
    assert fill_at(made(some), 14).litres == pytest.approx(out.fills[-1].litres)


@given(st.floats(0.05, 0.9), st.floats(0, 1), st.floats(0, 1))
@few
def test_a_draw_and_its_topping_up_keep_what_sits_in_discs_and_sediment(share, bacteria, yeast):
    """Drawn and topped up to the line: of what is dissolved 1 - d stays, of bacteria and yeast also what sits still."""
    tea = sweet_tea("black", 6, 60, litres=4 * share)
    batch = made([Draw(5, 4 * share), Pour(5, tea)], bacteria_staying=bacteria, yeast_staying=yeast)
    out = run(batch, 5)
    before, after = out.state[np.argmax(out.part == 1) - 1, :, 0], out.state[-1, :, 0]
    assert after[ACETIC] == pytest.approx((1 - share) * before[ACETIC])
    assert after[BACTERIA] == pytest.approx(before[BACTERIA] * (bacteria + (1 - bacteria) * (1 - share)))
    assert after[YEAST] == pytest.approx(min(1.0, before[YEAST] * (yeast + (1 - yeast) * (1 - share))))


def test_a_stirred_draw_takes_its_yeast_along_and_a_shallow_rest_sours_faster():
    """Stirred, yeast leaves by volume; drawn to a half, the surface over the rest is twice as large."""
    still, stirred = (run(made([Draw(5, 2.0, how)]), 5) for how in (False, True))
    assert stirred.state[-1, YEAST, 0] < still.state[-1, YEAST, 0]
    assert still.fills[-1].surface_per_volume_per_cm == pytest.approx(0.1)
    whole, half = run(made([]), 10).at([10]), run(made([Draw(5, 2.0)]), 10).at([10])
    assert half.ta_g_per_l[0, 0] > whole.ta_g_per_l[0, 0] + 0.3


def test_thinning_takes_bacteria_and_a_wider_vessel_gives_air():
    """Half of the stack taken out slows the souring, a wider vessel quickens it; neither changes the liquid at that moment."""
    plain, thin, wide = (run(made(some), 12) for some in ([], [Thin(5, 1.0)], [Move(5, 0.09)]))
    assert thin.at([5]).state[0, BACTERIA, 0] == pytest.approx(0.5 * plain.at([5]).state[0, BACTERIA, 0])
    assert thin.at([5]).ph[0, 0] == wide.at([5]).ph[0, 0] == plain.at([5]).ph[0, 0]
    acid = [run_.at([12]).ta_g_per_l[0, 0] for run_ in (thin, plain, wide)]
    assert acid == sorted(acid)
    assert acid[0] < acid[1] - 0.3
    assert acid[2] > acid[1] + 0.3


@given(st.lists(events(), max_size=4), st.floats(1, 11))
@few
def test_carried_on_from_a_day_it_is_the_same_batch(some, day):
    """Computed to a day and on from there it is what it is computed in one go."""
    batch = made(some)
    whole = run(batch, 14).at([14])
    there = run(batch, day).at([day])
    later = tuple(e for e in batch.events if e.day > day)
    rest = carry_on(made(later), there.state[0], fill_at(batch, day), day, 14, Kinetics()).at([14])
    assert rest.state[0, :, 0] == pytest.approx(whole.state[0, :, 0], rel=2e-3, abs=2e-3)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: made([Draw(3, 4.0)]),
        lambda: made([Draw(3, 2.0), Draw(4, 2.0)]),
        lambda: Batch(recipe=Recipe(), course=steady(24), events=(Draw(4, 0.1), Draw(3, 0.1))),
        lambda: made([Draw(-1, 0.1)]),
        lambda: made([Thin(1, 1.5)]),
        lambda: made([Move(1, 0.0)]),
        lambda: made([Draw(1, -0.1)]),
        lambda: Liquid(acetic_g_per_l=-1),
        lambda: Liquid(litres=-1),
        lambda: blend([Liquid(litres=0)]),
    ],
)
def test_impossible_batches_and_liquids_are_refused_at_birth(wrong):
    """More drawn than there is, events out of order, negative amounts: each is an error, not a strange course."""
    with pytest.raises((CoreError, OutOfRangeError)):
        wrong()


def test_exactly_what_is_there_cannot_be_drawn_but_nearly():
    """A draw leaves something: 99.9 % of what stands there goes, all of it does not."""
    assert run(made([Draw(3, 3.996)]), 4).litres[-1] == pytest.approx(0.004)


def test_a_forecast_with_events_learns_from_readings_before_and_after_them():
    """A reading before a large top-up and one after it teach the same brew: both lie near the foretold course."""
    batch = made([Pour(6, sweet_tea("black", 6, 60, litres=2.0))])
    truth = run(batch, 20, kinetics=Kinetics(1.3, 1.3)).at([4, 9])
    seen = tuple(Observation(float(d), "ph", float(truth.ph[i, 0])) for i, d in enumerate((4, 9)))
    out = forecast(ForecastAsk(batch=batch, observations=seen))
    blind = forecast(ForecastAsk(batch=batch))
    for o in seen:
        low, likely, high = out.at(out.ph, o.day)
        assert low - 0.05 <= o.value <= high + 0.05
        assert abs(likely - o.value) < abs(blind.at(blind.ph, o.day)[1] - o.value)
    assert out.posterior.bacteria_vigour > 1.1
    before, after = (out.at(out.ta_g_per_l, 6 + d)[1] for d in (-0.01, 0.0))
    assert after == pytest.approx(before * 4 / 6, rel=0.02)


def acid_on_day_7(days=7, **recipe):
    """Acidity by the shorthand of the models after a week."""
    out = ferment(Recipe(**{"starter_ph": 3.0, **recipe}), steady(28), days)
    return float(out.state[days, ACETIC, 0] + 0.306 * out.state[days, GLUCONIC, 0])


def test_a_deep_lively_hot_brew_is_bounded_by_its_air():
    """Half the usual surface, half again the vigour, 28 degC: 4.53 g/L after a week, where 6.01 would be made without the bound."""
    deep = {"surface_per_volume_per_cm": 0.025, "vigour": 1.5}
    assert acid_on_day_7(**deep) == pytest.approx(4.53, rel=0.01)
    state, k = start_state(Recipe(starter_ph=3.0)), Kinetics(1.5, 1.5, surface_factor(0.025))
    edges = np.arange(29) / 4
    free = integrate(state, k, *ratios_over(steady(28), edges), np.diff(edges))[-1, :, 0]
    assert free[ACETIC] + 0.306 * free[GLUCONIC] == pytest.approx(6.01, rel=0.01)


def test_more_leaf_feeds_and_none_starves():
    """A brew of thin tea sours slower than one of 6 g/L, a stronger one little faster."""
    thin, usual, strong = (acid_on_day_7(leaf_g_per_l=leaf) for leaf in (0.5, 6.0, 12.0))
    assert thin < usual * 0.75
    assert usual < strong < usual * 1.15


ANSWERS = json.loads(gzip.decompress((REFERENCE / "answers-0.4.0.json.gz").read_bytes()))


def same(one, other, tolerance):
    """Alike to rounding; never stays never."""
    if one is None or other is None:
        return one is other
    return abs(one - other) <= tolerance


@pytest.mark.parametrize("number", range(len(ANSWERS)))
@pytest.mark.usefixtures("as_before")
def test_without_events_the_answers_are_those_of_before(number):
    """But for the air's bound, the leaf's factor and what is newly held unsure, bands, ready days, vigour, the degree warmer, pressure and chill-by are what 0.4.0 answered, to rounding."""
    told = ANSWERS[number]
    recipe = dict(told["recipe"])
    if not isinstance(recipe["tea"], str):
        recipe["tea"] = tuple((name, share) for name, share in recipe["tea"])
    batch = Batch(
        recipe=Recipe(**recipe), course=Course(tuple(map(tuple, told["points"])), told["future_c"]), litres=3.0
    )
    seen = tuple(Observation(**o) for o in told["observations"])
    points = (Point("A", 4.0, 0.3), Point("B", 5.2, 0.3))
    ask = ForecastAsk(batch=batch, observations=seen, prior=Prior(1.0, 1.1, 0.25), points=points, days=40)
    out = forecast(ask)
    for band, tolerance in (("ph", 0.003), ("ta_g_per_l", 0.01), ("abv_percent", 0.002)):
        rows = told[{"ph": "ph", "ta_g_per_l": "ta", "abv_percent": "abv"}[band]]
        for day, row in zip([0, 3, 7, 10, 20, 38], rows, strict=True):
            assert out.at(getattr(out, band), day) == pytest.approx(row, abs=tolerance, rel=0.002), (band, day)
    for name, window in out.ready.items():
        for one, other in zip((window.p10, window.p50, window.p90), told["ready"][name], strict=True):
            assert same(one, other, 0.02), (name, one, other)
    assert [out.posterior.yeast_vigour, out.posterior.bacteria_vigour] == pytest.approx(told["vigour"], abs=0.003)
    assert same(out.days_per_kelvin, told["per_kelvin"], 0.01)
    assert out.safe_by_day_7 == pytest.approx(told["safe"], abs=0.011)
    assert same(away.topped_up(ask, out, 4.0, 0.3, 4.0), told["topped_up"], 0.5)
    _same_bottle(told["bottle"])


def _same_bottle(told):
    """A bottle's pressure and its days are as before, the yeast held as unsure as then."""
    out = bottle_forecast(
        BottleAsk(
            start=tuple(told["start"]), added_sugar_g_per_l=told["added"], course=steady(told["celsius"]),
            form={"damson": "juice", "plain": "none"}[told["flavour"]], limit_bar=4.0, days=40, vigour_sd=0.25,
        )
    )  # fmt: skip
    for day, row in zip((0, 3, 7, 20), told["bar"], strict=True):
        low, likely, high = out.at(day)
        assert likely == pytest.approx(row[1], abs=0.002)
        assert [low, high] == pytest.approx(
            [row[0], row[2]], abs=0.05, rel=0.03
        )  # spreads are drawn with their exact sd now
    assert same(out.chill_by_day, told["chill"], 0.2)
    assert same(out.passes_limit_day, told["limit"], 0.3)
