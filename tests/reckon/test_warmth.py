"""Warmth along dated standings, and the one builder of a bottle's question."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from kyklos.actions import household
from kyklos.actions.bottles import cellar, filling, harvest
from kyklos.actions.brewing import readings, watching
from kyklos.reckon.bottles import pressure
from kyklos.reckon.forecast import forecasting, warmth
from kyklos.store.read import queries
from kyklos.store.records import Bottle, Brew, Place

VESSEL = {"name": "Jar", "kind": "jar", "nominal_l": 4, "usable_l": 3.5, "diameter_cm": 15, "material": "glass", "tapped": False}  # fmt: skip


def moved(kitchen, celsius):
    """Move the jar to a new place."""
    ask = household.ChangeVessel(vessel_id=kitchen.vessel, new_place=f"At {celsius}", new_place_c=celsius, **VESSEL)
    return kitchen.do(household.change_vessel, ask)


def vigour(kitchen, brew):
    """What a brew taught."""
    with kitchen.database.reader() as session:
        return forecasting.posterior_of(queries.get(session, Brew, brew))


def test_moving_a_jar_changes_nothing_of_a_finished_brew(kitchen):
    """What an ended brew taught is the same before and after its jar goes to a colder shelf."""
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    kitchen.do(harvest.end_brew, harvest.EndBrew(brew_id=brew))
    before = vigour(kitchen, brew)
    kitchen.clock.turn(1)
    moved(kitchen, 16)
    assert vigour(kitchen, brew) == before


def test_a_jar_moved_in_the_middle_is_as_cold_as_its_new_place_from_then_on(kitchen):
    """The days before the move stay as warm as they were; the days after are the new place's."""
    brew = kitchen.pitch()
    kitchen.clock.turn(4)
    moved(kitchen, 17)
    with kitchen.database.reader() as session:
        course = warmth.course_of(queries.get(session, Brew, brew))
    assert course.at(np.array([0.0, 3.9, 4.1, 10.0])).tolist() == [24, 24, 17, 17]
    assert moved(kitchen, 17).says == "Jar saved."


def bottle_ask(kitchen, number=1):
    """The question of a bottle now."""
    with kitchen.database.reader() as session:
        return pressure.bottle_ask_of(queries.get(session, Bottle, number))


def test_a_bottle_follows_its_place_as_it_goes_on_being_measured(kitchen):
    """A bottle filled on a shelf told as 24 degC presses less once the shelf is measured at 17."""
    kitchen.filled()
    before = bottle_ask(kitchen)
    assert set(before.course.at(np.linspace(0, 20, 5)).tolist()) == {24.0}
    start = kitchen.clock()
    kitchen.clock.turn(6)
    rows = "\n".join(f"{start + timedelta(hours=h):%Y-%m-%d %H:%M},17.0" for h in range(0, 140, 4))
    kitchen.do(watching.read_log, watching.ReadLog(text=rows, name="shelf", zone=start.tzinfo, place_id=kitchen.place))
    after = bottle_ask(kitchen)
    assert after.course.at(np.array([1.0, 5.0])).tolist() == [17.0, 17.0]
    assert pressure.bottle_forecast(after).at(6)[1] < pressure.bottle_forecast(before).at(6)[1] - 0.2


def test_a_move_to_the_fridge_is_a_move_to_a_place(kitchen):
    """Chilled, a bottle stands in the household's fridge at 6 degC with its doubt; warmed again, where it was filled."""
    kitchen.filled()
    kitchen.clock.turn(2)
    kitchen.do(cellar.chill_bottles, cellar.MoveBottles(bottle_ids=(1, 2)))
    ask = bottle_ask(kitchen)
    assert ask.course.at(np.array([1.0, 3.0, 100.0])).tolist() == [24.0, 6.0, 6.0]
    assert ask.doubt_k == ((0.0, 3.0), (2.0, 2.0))
    assert ask.warmer_k == ((0.0, 2.0), (2.0, 0.0))
    out = pressure.bottle_forecast(ask)
    sure = pressure.bottle_forecast(replace(ask, doubt_k=()))
    low, likely, high = out.at(60)
    assert likely == pytest.approx(sure.at(60)[1], rel=0.02)
    assert high - low > sure.at(60)[2] - sure.at(60)[0]
    with kitchen.database.reader() as session:
        assert [p.name for p in session.query(Place).filter(Place.kind == "fridge")] == ["Fridge"]
    kitchen.do(cellar.warm_bottles, cellar.MoveBottles(bottle_ids=(1,)))
    with kitchen.database.reader() as session:
        assert [row.place.name for row in queries.get(session, Bottle, 1).standings] == ["Shelf", "Fridge", "Shelf"]
        assert queries.get(session, Bottle, 1).state == "warm"


def test_harvest_and_cellar_ask_the_same_of_a_bottle(kitchen):
    """What harvest foretells of bottles about to be filled is what the cellar foretells of them a moment later."""
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    now = kitchen.clock()
    with kitchen.database.reader() as session:
        session.context.now = now
        row = queries.get(session, Brew, brew)
        start, lively = pressure.state_at_filling(forecasting.forecast_of(session, row), 8.0)
        filled = pressure.Filled(
            at=now, start=start, vigour=lively, added_sugar_g_per_l=5, headspace_fraction=0.04, limit_bar=4.0, leaf_g_per_l=6.0
        )  # fmt: skip
        foretold = pressure.ask_if_filled(session, filled, row.vessel.place)
    ask = filling.FillBottles(
        brew_id=brew, kind="swing-top", count=1, volume_ml=500, headspace_fraction=0.04, sugar_g_per_l=5
    )
    kitchen.do(filling.fill_bottles, ask)
    assert bottle_ask(kitchen) == foretold


def test_bottles_of_one_filling_read_the_records_once(kitchen, monkeypatch):
    """A place's measurements are asked once for all bottles filled at one moment, until something is written."""
    asked, real = [], warmth.measured_in
    monkeypatch.setattr(warmth, "measured_in", lambda *told: asked.append(told[1].id) or real(*told))
    kitchen.filled()
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=1, celsius=21))
    asked.clear()
    for _ in range(2):
        with kitchen.database.reader() as session:
            for bottle in queries.bottles(session, "warm"):
                pressure.bottle_ask_of(bottle)
    assert len(asked) == 1
