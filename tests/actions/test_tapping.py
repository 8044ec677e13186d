"""Setting a tapped vessel up, drawing, topping up, care and a pause: what is written, and what is refused."""

from types import SimpleNamespace

import pytest

from kyklos.actions import brew_days, household
from kyklos.actions.base import RefusedError
from kyklos.actions.bottles import filling, harvest
from kyklos.actions.brewing import pitching, put_right
from kyklos.actions.brewing.readings import LogReading, log_reading
from kyklos.actions.tapped import (
    CareFor,
    DrawOff,
    Pause,
    Resume,
    RunOn,
    SetUpTapped,
    TopUp,
    care_for,
    draw_off,
    pause,
    resume,
    run_on,
    set_up_tap,
    top_up,
)
from kyklos.core.liquid.batch import fill_at, run
from kyklos.core.liquid.ferment import Recipe
from kyklos.reckon import tapped, tapped_ahead
from kyklos.reckon.forecast import forecasting
from kyklos.reckon.judging import verdicts as judging
from kyklos.store.read import queries
from kyklos.store.read.lately import read_lately
from kyklos.store.records import Brew, Upkeep, Vessel
from kyklos.web.kit.tapped_words import lead

TAP = {"tap_made_of": "stainless", "tested": True, "heel_l": 0.4}


@pytest.fixture
def crock(kitchen):
    """The kitchen's jar with a tap, its first fill ten days old."""
    kitchen.do(set_up_tap, SetUpTapped(vessel_id=kitchen.vessel, **TAP))
    ask = pitching.PitchBrew(
        vessel_id=kitchen.vessel, culture_id=kitchen.culture, starter_lot_id=kitchen.lot, disc_id=kitchen.disc,
        recipe=Recipe(starter_ph=3.0), starter_instrument="meter", final_l=3.4, plan={}, measured_ph=4.0, kind="first",
    )  # fmt: skip
    brew = kitchen.do(pitching.pitch_brew, ask).made["brew"]
    kitchen.clock.turn(7)
    kitchen.do(log_reading, LogReading(brew_id=brew, ph=3.5))
    kitchen.clock.turn(3)

    def draw(litres, **more):
        return kitchen.do(draw_off, DrawOff(brew_id=brew, litres=litres, **more))

    def topped(litres, **more):
        return kitchen.do(top_up, TopUp(brew_id=brew, litres=litres, **more))

    def standing():
        session = kitchen.database.reader()
        session.context.now = kitchen.clock.now
        return tapped.standing(session, session.get(Brew, brew), kitchen.clock.now)

    return SimpleNamespace(**(vars(kitchen) | {"brew": brew, "draw": draw, "top_up": topped, "standing": standing}))


def refused(run, *field):
    """Run, and give the refusals by field."""
    with pytest.raises(RefusedError) as caught:
        run()
    found = {p.field: p.message for p in caught.value.problems}
    assert set(field) <= set(found)
    return found


def test_brass_an_untried_tap_and_an_unknown_glaze_are_refused(kitchen):
    """Nothing goes into acid that the acid takes apart, and water tells of a drip before sweet tea does."""

    def ask(**more):
        return lambda: kitchen.do(set_up_tap, SetUpTapped(vessel_id=kitchen.vessel, **(TAP | more)))

    assert "Acid takes metal" in refused(ask(tap_made_of="brass"), "tap_made_of")["tap_made_of"]
    refused(ask(tap_made_of="unknown"), "tap_made_of")
    refused(ask(tap_made_of=""), "tap_made_of")
    refused(ask(tested=False), "tested")
    refused(ask(heel_l=3.2), "heel_l")
    with kitchen.database.writer() as session, session.begin():
        queries.vessels(session)[0].material = "stoneware"
    refused(ask(), "glaze_known")
    ask(glaze_known=True)()


def test_a_draw_and_its_topping_up_teach_the_forecast(crock):
    """What was drawn leaves, what was poured in comes; it is sweeter after, and right again some days later."""
    before = crock.standing()
    crock.draw(1.5, run_off=True)
    assert crock.standing().brew.left_l == pytest.approx(3.4 - 1.53)
    crock.top_up(1.5, ph=3.6, instrument="meter", fresh_cover=True)
    crock.clock.turn(0.1)
    after = crock.standing()
    assert after.known.acidity[1] < before.known.acidity[1]
    assert min(w.p50 for w in after.known.forecast.ready.values()) > after.known.day
    assert after.known.facts.top_ups == (10.0,)
    assert after.last_care["cover"] is not None


def test_no_more_than_runs_out_at_the_tap(crock):
    """The heel stays; a draw of long ago, told later, is not measured by it."""
    assert "stay below the tap" in refused(lambda: crock.draw(3.2), "litres")["litres"]
    crock.draw(2.9)


def test_nothing_hot_and_nothing_over_the_brim(crock):
    """Tea that hurts what lives there is refused, and what would overflow."""
    refused(lambda: crock.top_up(0.3, tea_c=45.0), "tea_c")
    refused(lambda: crock.top_up(2.0), "litres")


def test_above_ph_4_2_after_topping_up_twice_running_it_rests(crock):
    """Once it is watched; twice it is held: nothing is given away, and the page says to let it rest."""
    for number, word in enumerate(("watch", "hold")):
        crock.draw(2.6, reason="asked for")
        crock.top_up(2.6, ph=4.5, instrument="meter")
        crock.clock.turn(0.2)
        standing = crock.standing()
        assert standing.known.verdict.word == word, number
        crock.clock.turn(2.0)
    assert standing.care.resting
    assert not [due for due in standing.wants if due.kind in {"draw", "top-up"}]


def test_a_stirred_draw_takes_the_yeast_along(crock):
    """What sits at the bottom goes too: there is less yeast after than when it was drawn unstirred."""
    crock.draw(1.0, stirred=True)
    with crock.database.reader() as session:
        events = forecasting.batch_of(session.get(Brew, crock.brew)).events
    assert [event.stirred for event in events] == [True]


def test_care_is_kept_with_its_day_and_the_gauge_is_a_reading(crock):
    """Covers, the tap, thinned discs; a gauge without a number is asked for it."""
    vessel = crock.vessel

    def care(**more):
        return crock.do(care_for, CareFor(vessel_id=vessel, **more))

    refused(lambda: care(what="gauge"), "celsius")
    refused(lambda: care(what="thinned"), "after_mm")
    refused(lambda: care(what="thinned", before_mm=10.0, after_mm=20.0), "after_mm")
    refused(lambda: care(what="polished"), "what")
    care(what="gauge", celsius=22.5)
    care(what="thinned", before_mm=30.0, after_mm=9.0)
    standing = crock.standing()
    assert standing.stack_mm == pytest.approx(9.0, abs=0.1)
    assert standing.care.gauge_c == 22.5
    with crock.database.reader() as session:
        assert session.query(Upkeep).count() == 3  # with the trial by water
        assert session.get(Brew, crock.brew).readings[-1].celsius == 22.5


def test_a_paused_one_wants_nothing_till_it_goes_on(crock):
    """It stands in its cool place meanwhile, and moves back."""
    crock.draw(1.0)
    assert "top-up" in {due.kind for due in crock.standing().wants}
    crock.do(pause, Pause(brew_id=crock.brew, how="cool"))
    crock.clock.turn(21)
    assert crock.standing().paused
    assert not {"draw", "top-up", "gauge"} & {due.kind for due in crock.standing().wants}
    crock.do(resume, Resume(brew_id=crock.brew))
    crock.clock.turn(0.1)
    assert not crock.standing().paused


def test_forgotten_for_five_weeks_it_says_the_way_back(crock):
    """Too sour for everybody: small draws are counted, and by doing them it comes back."""
    crock.draw(1.0)
    crock.top_up(1.0)
    crock.clock.turn(35)
    back = crock.standing().back
    assert back is not None
    for _ in range(back.draws + 1):
        crock.draw(round(back.litres, 2))
        crock.top_up(round(back.litres, 2))
        crock.clock.turn(back.every_days)
    assert crock.standing().back is None


def test_the_sweet_tea_of_a_brew_day_goes_into_the_vessel(crock):
    """Planned for what is missing, without starter; at the end it is poured in, with the pH measured then."""
    crock.draw(2.0)
    with crock.database.reader() as session:
        session.context.now = crock.clock.now
        standing = tapped.standing(session, session.get(Brew, crock.brew), crock.clock.now)
        missing = standing.missing_l
        asked = tapped_ahead.plan_top_up(session, standing, missing, crock.clock.now)
    begun = crock.do(
        brew_days.start_brew_day,
        brew_days.StartBrewDay(vessel_id=crock.vessel, culture_id=crock.culture, disc_id=None, ask=asked),
    )
    day = begun.made["brew_day"]
    with crock.database.reader() as session:
        plan = brew_days.plan_of_day(session.get(brew_days.BrewDay, day))
    assert plan.final_l == pytest.approx(missing)
    assert plan.recipe.starter_fraction == 0
    assert plan.heat.lands_c == pytest.approx(standing.tapped.celsius, abs=0.6)
    steps = [step.key for step in brew_days.steps_of(plan)]
    assert "starter" not in steps
    assert "disc" not in steps
    crock.do(brew_days.go_to_step, brew_days.GoToStep(day_id=day, step=steps.index("measure"), facts={}))
    crock.do(brew_days.go_to_step, brew_days.GoToStep(day_id=day, step=0, facts={"measured_ph": 3.7, "instrument": "meter"}))
    crock.do(brew_days.pitch_brew_day, brew_days.PitchBrewDay(day_id=day))
    crock.clock.turn(0.01)
    after = crock.standing()
    assert after.missing_l < 0.05
    assert after.known.facts.ph[-1].ph == 3.7
    with crock.database.reader() as session:
        assert session.query(Brew).count() == 1


def test_a_batch_runs_on_only_where_there_is_a_tap(kitchen):
    """A jar without one says so; with one the batch becomes the tapped vessel's brew, and its windows start anew."""
    brew = kitchen.ready()
    refused(lambda: kitchen.do(run_on, RunOn(brew_id=brew)), "")
    refused(lambda: kitchen.do(draw_off, DrawOff(brew_id=brew, litres=0.2)), "")
    kitchen.do(set_up_tap, SetUpTapped(vessel_id=kitchen.vessel, **TAP))
    kitchen.do(run_on, RunOn(brew_id=brew))
    kitchen.do(draw_off, DrawOff(brew_id=brew, litres=0.2))
    with kitchen.database.reader() as session:
        assert session.get(Brew, brew).runs


def test_bottles_come_straight_from_it_and_it_runs_on(crock):
    """A batch of bottles is a draw like any other."""
    ask = filling.FillBottles(brew_id=crock.brew, kind="swing-top", count=2, volume_ml=500, headspace_fraction=0.04)
    crock.do(harvest.say_no_next_brew, harvest.SayNoNextBrew(brew_id=crock.brew))
    crock.do(filling.fill_bottles, ask)
    standing = crock.standing()
    assert standing.missing_l > 0.8
    assert "top-up" in {due.kind for due in standing.wants}


def test_a_vessel_of_a_year_is_computed_from_lately(crock):
    """After a hundred draws only the last weeks are computed, and readings of them still fit."""
    for _ in range(60):
        crock.draw(1.2)
        crock.top_up(1.2)
        crock.clock.turn(3)
    with crock.database.reader() as session:
        session.context.now = crock.clock.now
        brew = session.get(Brew, crock.brew)
        read_lately(session, (brew,))
        ask = forecasting.forecast_ask_of(session, brew)
        out = forecasting.forecast_of(session, brew)
        facts = judging.facts_of(brew, crock.clock.now)
        assert brew.known_since is not None
        assert len(brew.liquid.additions) < 40
    assert ask.batch.from_day > facts.day - 30
    assert len(ask.batch.events) <= 20
    assert ask.days - ask.batch.from_day < 60
    assert out.day[0] == pytest.approx(ask.batch.from_day)
    with crock.database.reader() as session:  # nobody told the moment: it is read whole
        every = session.get(Brew, crock.brew)
        whole = run(forecasting.batch_of(every), facts.day, step_days=0.5)
        assert len(every.liquid.additions) > 60
    assert out.fit[-1].shape == (8,)
    assert float(out.at(out.ph, facts.day)[1]) == pytest.approx(float(whole.ph[-1, 0]), abs=0.05)


def test_it_is_led_to_honey_by_what_it_is_topped_up_with(crock):
    """Each filling may have another share of honey; what stands there then holds honey's acid, and a share beyond all is refused."""
    crock.draw(1.5)
    refused(lambda: crock.top_up(1.0, honey_share=1.4), "honey_share")
    crock.top_up(1.5, honey_share=0.5)
    with crock.database.reader() as session:
        batch = forecasting.batch_of(session.get(Brew, crock.brew))
    assert fill_at(batch, 20.0).inert.honey_acid_meq_per_l > fill_at(batch, 9.0).inert.honey_acid_meq_per_l


def test_right_after_topping_up_nothing_is_to_be_drawn(crock):
    """What was poured in has not begun to work: no draw today, the page says when, and the almanac begins then."""
    crock.clock.turn(6)
    crock.draw(0.5)
    crock.top_up(0.5)
    standing = crock.standing()
    assert standing.just_topped
    assert standing.litres_today == 0
    told = lead(standing, crock.clock.now, "Europe/Vienna").says
    assert "today and" not in told
    assert "You can draw" not in told
    assert all((at - crock.clock.now).days >= 1 for at in tapped_ahead.draws_ahead(standing, 14))
    crock.clock.turn(1)
    assert not crock.standing().just_topped


def test_a_heater_goes_along_unless_it_is_taken_off(crock):
    """Moved, it stays as warm as it was; paused elsewhere it is switched off in words, and goes on as before."""
    place = crock.do(household.add_place, household.AddPlace(name="Cellar", celsius=12)).made["place"]

    def heater():
        with crock.database.reader() as session:
            return queries.get(session, Vessel, crock.vessel).heater_c

    crock.do(put_right.move_vessel, put_right.MoveVessel(vessel_id=crock.vessel, place_id=1, heater_c=26))
    done = crock.do(put_right.move_vessel, put_right.MoveVessel(vessel_id=crock.vessel, place_id=place))
    assert heater() == 26
    assert "heater set to" in done.says
    crock.clock.turn(1)
    paused = crock.do(pause, Pause(brew_id=crock.brew, how="cool", place_id=1))
    assert "heater is off" in paused.says
    assert heater() is None
    crock.clock.turn(5)
    crock.do(resume, Resume(brew_id=crock.brew, place_id=place))
    assert heater() == 26
    crock.do(put_right.move_vessel, put_right.MoveVessel(vessel_id=crock.vessel, place_id=1, heater_off=True))
    assert heater() is None
