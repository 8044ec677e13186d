"""What a tapped vessel can give today, what becomes of it, what builds up, its care and its heater."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.forecast.answer import forecast
from kyklos.core.forecast.ask import ForecastAsk, Observation
from kyklos.core.liquid.batch import Fill, run
from kyklos.core.liquid.events import Begun, Draw, Pour
from kyklos.core.liquid.ferment import ACETIC, GLUCONIC, Recipe
from kyklos.core.liquid.liquid import sweet_tea_of
from kyklos.core.liquid.taste import Point
from kyklos.core.liquid.temperature import steady
from kyklos.core.tapped import care as tap_care
from kyklos.core.tapped import cycle as continuous
from kyklos.core.tapped import heater, settling
from kyklos.core.tapped import vessel as tapped
from kyklos.core.tapped.care import CareFacts

POINTS = (Point("Ana", 4.6), Point("Ben", 3.9))


def vessel(share=0.4, celsius=24.0, every=3.0, acids=1.0, **more):
    """A vessel of 8 L just before a draw, settled; its acids so many times stronger."""
    ask = continuous.CycleAsk(recipe=Recipe(), celsius=celsius, every_days=every)
    cycle = continuous.settle(ask, np.array([share]))
    state = cycle.before[:, 0].copy()
    state[[ACETIC, GLUCONIC]] *= acids
    told = {"line_l": 8.0, "heel_l": 0.6, "points": POINTS, "every_days": every, "now": 60.0}
    return tapped.Tapped(
        recipe=Recipe(), course=steady(celsius), state=tuple(state), fill=Fill(8.0, 0.05, cycle.inert), **(told | more)
    )


def test_what_may_be_drawn_today_is_safe_and_right_again_in_time():
    """Topped up it stands at pH 4.2 or lower, and is as sour as the sweetest point when it is next drawn from."""
    ask = vessel()
    out = tapped.today(ask)
    assert out.share > 0.2
    assert out.ph_after <= 4.2
    assert out.ready_in == 0.0
    assert min(days for _, days in out.right_again) <= ask.every_days + 0.01
    more = tapped.drawing(ask, (out.share + 0.2) * ask.line_l)
    assert more.right_again[0][1] > out.right_again[0][1]


def test_without_a_ph_after_topping_up_no_more_than_half_is_advised():
    """With one it may be more; what stays below the tap never runs out."""
    ask = vessel(every=7.0, share=0.5)
    assert tapped.today(ask).share <= 0.5
    measured = tapped.today(replace(ask, measures_after=True))
    assert 0.5 < measured.share <= 0.9
    assert measured.measure_after
    high_tap = tapped.today(replace(ask, measures_after=True, heel_l=6.0))
    assert high_tap.litres == pytest.approx(2.0)


def test_too_sweet_it_is_left():
    """Below everybody's point nothing is drawn; it says when it is right."""
    ask = vessel(acids=0.3)
    out = tapped.today(ask)
    assert out.litres == 0.0
    assert out.ready_in > 0.2


def test_a_vessel_with_something_missing_is_topped_up_first():
    """What was drawn and not given back counts: less may be drawn than of a full one."""
    ask = vessel()
    half = tapped.today(replace(ask, fill=Fill(5.0, 0.05, ask.fill.inert)))
    assert half.share < tapped.today(ask).share


@settings(max_examples=8, deadline=None)
@given(st.floats(0.15, 0.6), st.floats(20.0, 27.0))
def test_a_colder_room_gives_no_more(share, celsius):
    """Two degrees colder, neither today nor for good more can be drawn."""
    ask = vessel(share=share, celsius=celsius)
    assert tapped.today(ask, kelvin=-2.0).share <= tapped.today(ask).share + 1e-9
    warm, cold = tapped.can_give(ask), tapped.can_give(ask, -2.0)
    assert (cold.most or 0.0) <= (warm.most or 0.0)


def test_left_alone_it_is_too_sour_for_the_sweeter_first_and_vinegar_last():
    """The order is that of the points, and vinegar comes after both."""
    out = tapped.left_alone(vessel(share=0.45))
    sour = dict(out.too_sour)
    assert 0.0 < sour["Ben"] < sour["Ana"] < out.vinegar


def test_small_draws_bring_a_forgotten_one_back():
    """So many draws are needed, and after them it is below what the sourest taster calls too sour."""
    ask = vessel(acids=2.6)
    back = tapped.way_back(ask)
    assert back.draws >= 2
    assert back.litres == pytest.approx(0.3 * 8.0)
    assert tapped.way_back(vessel()) is None


def test_a_wish_is_answered_with_ways_that_fit_and_ways_that_do_not():
    """Every way gives the litres a week; one that fits is right for somebody and safe."""
    ways = tapped.for_a_wish(vessel(), 6.0)
    assert any(way.fits for way in ways)
    for way in ways:
        assert way.litres * 7 / way.every_days == pytest.approx(6.0)
        assert not way.fits or (way.ph_after <= 4.2 and 3.9 <= way.ta_g_per_l < tapped.sour_limit(4.6))
    assert tapped.for_a_wish(vessel(), 900.0) == ()


def test_the_best_interval_needs_no_more_than_may_be_advised():
    """What must be drawn at it is no more than what may be."""
    ask = vessel()
    days = tapped.best_interval(ask)
    found = continuous.reach(ask.cycle(days), ask.lowest, ask.sourest)
    assert found.least <= continuous.advised(found.most, measures_after=False)


def test_planned_draws_give_back_what_they_take():
    """Each draw is topped up at once; what is missing already comes first."""
    ask = replace(vessel(), fill=Fill(7.0, 0.05, vessel().fill.inert))
    events = tapped.planned(ask, 2.0, 3.0, 10.0)
    poured = sum(e.liquid.litres for e in events if isinstance(e, Pour))
    drawn = sum(e.litres for e in events if isinstance(e, Draw))
    assert poured - drawn == pytest.approx(1.0)
    assert [e.day for e in events if isinstance(e, Draw)] == [60.0, 63.0, 66.0, 69.0]


def test_a_vessel_computed_from_the_middle_goes_on_as_from_its_start():
    """Begun where the whole computation stands after some draws, the days after are the same."""
    recipe, tea = Recipe(), sweet_tea_of(Recipe(), 3.0)
    events = tuple(e for day in (10.0, 13.0, 16.0, 19.0, 22.0) for e in (Draw(day, 3.0), Pour(day, tea)))
    whole = ForecastAsk(batch=batch_of(recipe, events), days=40)
    early = run(replace(whole.batch, events=events[:4]), 13.0)
    fill = early.fills[-1]
    begun = Begun(13.0, tuple(early.state[-1, :, 0]), fill.litres, fill.surface_per_volume_per_cm, fill.inert)
    late = replace(whole.batch, events=events[4:], begun=begun)
    for day in (15.0, 18.9, 25.0, 30.0):
        assert run(late, 30.0).at([day]).ph[0, 0] == pytest.approx(run(whole.batch, 30.0).at([day]).ph[0, 0], abs=0.002)


def batch_of(recipe, events):
    """A batch of 8 L at 24 degC."""
    from kyklos.core.liquid.batch import Batch

    return Batch(recipe=recipe, course=steady(24), litres=8.0, events=events)


def test_windows_of_a_tapped_vessel_count_from_its_last_topping_up():
    """It was sour enough before the draw; it is right again only days after the topping up, and readings still teach."""
    events = (Draw(14.0, 6.4), Pour(14.0, sweet_tea_of(Recipe(), 6.4)))
    ask = ForecastAsk(batch=batch_of(Recipe(), events), points=(Point("Ana", 4.0),), ripe_from=14.0)
    window = forecast(ask).ready["Ana"]
    assert window.p10 > 14.0
    slow = replace(ask, observations=(Observation(13.0, "ph", 3.6),))
    assert forecast(slow).ready["Ana"].p50 > window.p50


def test_the_stack_grows_slower_as_it_thickens_and_in_the_cold():
    """About 0.4 mm a day at 25 degC till 25 mm; hardly at 10."""
    assert settling.stack_mm([(30.0, 25.0)], 5.0) == pytest.approx(17.0, abs=0.3)
    first = settling.stack_mm([(30.0, 25.0)], 5.0)
    assert settling.stack_mm([(120.0, 25.0)], 5.0) - first < 0.4 * 90
    assert settling.stack_mm([(30.0, 10.0)], 5.0) < 8.0


RUNNING = CareFacts(
    running_days=70.0, since={"cover": 5.0, "tap": 20.0, "gauge": 3.0, "sediment": 20.0}, drawn_days=3.0, topped_days=3.0, topped_times=9
)


@pytest.mark.parametrize(
    ("change", "wanted"),
    [
        ({}, set()),
        ({"ripe": True}, {"draw"}),
        ({"too_sour": True}, {"draw"}),
        ({"missing_share": 0.3}, {"top-up"}),
        ({"stack_mm": 26.0}, {"thin"}),
        ({"sediment_share": 0.2, "topped_days": 1.0}, {"sediment"}),
        ({"sediment_share": 0.2, "topped_days": 0.9}, set()),
        ({"stack_share": 0.16}, {"thin"}),
        ({"sediment_share": 0.02}, {"sediment"}),
        ({"sediment_share": 0.02, "topped_days": 0.3}, set()),
        ({"gauge_c": 19.0, "heater_c": 25.0}, {"heater"}),
        (
            {"running_days": 200.0, "since": {"cover": 40.0, "tap": 100.0, "gauge": 31.0, "sediment": 20.0}},
            {"cover", "tap", "gauge"},
        ),
        ({"new_season": True}, {"gauge"}),
        ({"ripe": True, "missing_share": 0.3, "paused": True}, set()),
        ({"ripe": True, "resting": True}, set()),
        ({"measures_ph": True, "topped_days": 0.2, "topped_times": 2}, {"measure"}),
        ({"measures_ph": True, "topped_days": 0.2, "drew_more_than_half": True}, {"measure"}),
        ({"measures_ph": True, "topped_days": 0.2, "drew_more_than_half": True, "ph_since": True}, set()),
        ({"running_days": 3.0, "since": {"gauge": 1.0}, "topped_days": None, "drawn_days": None}, {"gauge"}),
    ],
)
def test_what_its_care_wants(change, wanted):
    """Each thing is due when it is, and only then: never sediment on a day of topping up, nothing drawn while it rests."""
    assert {due.kind for due in tap_care.wants(replace(RUNNING, **change))} == wanted


def test_a_heater_holds_costs_and_overshoots_after_a_cold_filling():
    """It takes more for a colder room; filled cold it dips, overshoots and comes back; filled as warm as it stands it does not."""
    mild, cold = heater.holding(8, 25, 21, 30.0), heater.holding(8, 25, 12, 30.0)
    assert mild.watts < cold.watts
    assert mild.holds
    assert not cold.holds
    assert mild.cost(0.3) == pytest.approx(mild.kwh_a_day * 9.0)
    shocked = heater.after_fill(4.0, 25.0, 4.0, 12.0, set_c=25.0, room_c=20.0, heater_w=120.0)
    even = heater.after_fill(4.0, 25.0, 4.0, 25.0, set_c=25.0, room_c=20.0, heater_w=120.0)
    assert shocked.lowest_c < 20.0
    assert shocked.over_k(25.0) > even.over_k(25.0)
    assert shocked.over_k(25.0) > 1.5


def test_a_heater_is_looked_at_by_its_room_and_what_a_cold_topping_up_does():
    """Where the room is warm enough nothing is held; a kept set point overshoots after cold tea, a proposed one is not judged."""
    cold, warm, none = (heater.look(7.0, 8.0, set_c, room, None) for set_c, room in ((25.0, 18.0), (25.0, 26.0), (None, 18.0)))
    assert (cold.advice, warm.advice, none.advice) == ("keep", "off-now", "would-help")
    assert cold.holding.watts > 0
    assert cold.over_k >= heater.LEAST_OVER_K or cold.over_k == 0
    assert none.over_k == warm.over_k == 0
    assert none.set_c == heater.WORKS_WELL_C
    assert heater.look(7.0, 8.0, None, 24.5, None).holding is None
    assert heater.look(0.0, 8.0, 25.0, 18.0, 25.0).holding.watts < cold.holding.watts
