"""What was found wrong once, each held by a test that failed before."""

import numpy as np
import pytest

from kyklos.core.brewing import starters
from kyklos.core.brewing.plan import StarterTold, VesselFacts
from kyklos.core.brewing.planner import PlanAsk, make_plan
from kyklos.core.brewing.portions import portion_from_ph
from kyklos.core.brewing.recipe_card import RecipeCard
from kyklos.core.brewing.starters import Mix, advised_l, share_for_ph, starter_needed
from kyklos.core.calc import answer
from kyklos.core.forecast import compromise
from kyklos.core.forecast.answer import forecast
from kyklos.core.forecast.ask import ForecastAsk, Observation
from kyklos.core.liquid import acids
from kyklos.core.liquid.batch import Batch
from kyklos.core.liquid.ferment import Recipe
from kyklos.core.liquid.taste import Point
from kyklos.core.liquid.temperature import steady
from kyklos.drawing.curve import CurveFacts, curve
from kyklos.drawing.dial import DialFacts, dial

JAR = VesselFacts(name="Jar", nominal_l=4, line_l=3.4, diameter_cm=15, material="glass")


def test_nothing_left_to_share_is_shared_by_nobody():
    """When all is bottled but the brew is not ended, two distant tasters have no parts, and no error."""
    points = (Point("Ana", 3.0), Point("Ben", 7.0))
    ask = ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(24)), points=points)
    out = forecast(ask)
    assert len(compromise.plan(ask, out, 2.0, 1.0).parts) == 2
    assert compromise.plan(ask, out, 2.0, 0.0).parts == ()


@pytest.mark.parametrize("count", [1, 2, 3, 5])
def test_every_taster_is_on_the_curve_and_on_the_dial(count):
    """Each window is drawn with its name, and no two names stand on one another."""
    day = np.arange(0, 41) / 1.0
    flat = np.full_like(day, 3.4)
    windows = [(f"Taster {n}", 6.0 + n / 2, 8.0 + n / 2) for n in range(count)]
    drawn = curve(CurveFacts(day=day, low=flat, likely=flat, high=flat, today=4.0, windows=windows))
    assert [w.name for w in drawn.windows] == [name for name, _, _ in windows]
    spots = [(w.label.x, w.label.y) for w in drawn.windows]
    near = [(a, b) for i, a in enumerate(spots) for b in spots[i + 1 :] if a[1] == b[1] and abs(a[0] - b[0]) < 150]
    assert near == []
    assert len(dial(DialFacts(day=4.0, windows=tuple(windows))).arcs) == count


def test_the_spread_of_a_reading_is_its_instruments_own():
    """A meter told to be off by 0.3 reads so for the forecast and for its whisker; else as its kind does."""
    own, usual = Observation(4, "ph", 3.6, sd=0.3), Observation(4, "ph", 3.6)
    assert (own.spread, usual.spread, Observation(4, "ph", 3.6, "strip").spread) == (0.3, 0.05, 0.3)
    batch = Batch(recipe=Recipe(), course=steady(24))
    narrow, wide = (forecast(ForecastAsk(batch=batch, observations=(seen,))) for seen in (usual, own))
    assert np.subtract(*wide.at(wide.ph, 6)[::2]) < np.subtract(*narrow.at(narrow.ph, 6)[::2])


def test_a_titrated_starter_reaches_the_forecast_as_a_titration():
    """Its acid is as titrated, and its start less in doubt than that of one whose pH was read."""
    told = [
        StarterTold(key="a", name="a", left_l=1.0, ph=3.0, instrument="meter", ta_g_per_l=ta, diet="sugar")
        for ta in (None, 7.0)
    ]
    read, titrated = (make_plan(PlanAsk(card=RecipeCard(), vessel=JAR, starters=(one,))).recipe for one in told)
    assert read.starter_ta_g_per_l is None
    assert titrated.starter_ta_g_per_l == pytest.approx(7.0, rel=1e-6)
    outs = [forecast(ForecastAsk(batch=Batch(recipe=recipe, course=steady(24)))) for recipe in (read, titrated)]
    wide, narrow = (out.ph.p90[0] - out.ph.p10[0] for out in outs)
    assert narrow < 0.8 * wide
    question = {"recipe": {"starter_ph": 3.0, "starter_ta_g_per_l": 7.0}, "temperatures": [], "future_c": 24}
    alike = answer("forecast", {**question, "readings": [], "target_ph": 3.2})
    assert alike["ph"]["p90"][0] - alike["ph"]["p10"][0] < 0.8 * wide


@pytest.mark.parametrize("ph", [2.7, 3.0, 3.3, 3.6])
@pytest.mark.parametrize("leaf", [3.0, 6.0])
def test_one_solver_says_how_much_starter(ph, leaf):
    """The share that `kyklos calc starter` advises is the one that brew day plans with, at the floor and above it."""
    own = acids.TeaAndWater("black", leaf, 0.5)
    portion = portion_from_ph("a", "a", 3.0, ph, 0.1, own)
    planned = advised_l([portion], Mix(3.0, own.medium), 0.1)
    need = starter_needed(portion.likely, portion.weaker, 4.2, own.medium, own)
    if planned is None:
        assert need.advised is None
        return
    assert need.advised == pytest.approx(planned / 3.0, abs=1e-6)
    assert share_for_ph(portion.likely, 4.2, own.medium, own) == need.likely <= need.safe <= need.advised
    assert starters.share_for_ph(portion.likely, 6.9, own.medium, own) == 0.0 or leaf > 0
