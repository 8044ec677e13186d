"""What the actions refuse, and what they do with volumes, holds and stale pages."""

from dataclasses import replace
from datetime import timedelta

import pytest

from kyklos.actions import household as k
from kyklos.actions.base import ConflictError, RefusedError
from kyklos.actions.bottles import cellar as ce
from kyklos.actions.bottles import filling as fi
from kyklos.actions.bottles import harvest as h
from kyklos.actions.brewing import correcting as co
from kyklos.actions.brewing import happenings
from kyklos.actions.brewing import pitching as p
from kyklos.actions.brewing import readings as b
from kyklos.reckon.bottles import pressure
from kyklos.reckon.forecast import forecasting
from kyklos.store.read import culture_queries, queries, recorded
from kyklos.store.records import Bottle, Brew, Household, StarterLot

from .test_undo import VESSEL, state


def refused(kitchen, action, ask):
    """Run an action that must be refused: gives field and sentence of each problem; nothing is written."""
    before = state(kitchen.database)
    with pytest.raises(RefusedError) as info:
        kitchen.do(action, ask)
    assert state(kitchen.database) == before
    return {problem.field: problem.message for problem in info.value.problems}


@pytest.mark.parametrize(
    "change, field",
    [
        ({"name": " "}, "name"),
        ({"usable_l": 9}, "usable_l"),
        ({"nominal_l": 2000}, "nominal_l"),
        ({"diameter_cm": -1}, "diameter_cm"),
        ({"material": "reactive metal"}, "material"),
        ({"new_place": ""}, "place"),
        ({"name": "jar"}, "name"),
        ({"new_place_c": 90}, "new_place_c"),
    ],
)
def test_impossible_vessels_are_refused_beside_their_field(kitchen, change, field):
    """Each wrong value of a vessel is told beside its own field."""
    assert field in refused(kitchen, k.add_vessel, k.AddVessel(**{**VESSEL, **change}))


def test_pitch_is_refused_above_32_degrees_into_a_full_vessel_and_over_the_line(kitchen):
    """A hot brew, a full vessel, too little starter and an overflow are told all at once."""
    kitchen.pitch()
    with kitchen.database.reader() as session:
        recipe = recorded.recipe_of(queries.get(session, Brew, 1))
    ask = p.PitchBrew(
        vessel_id=kitchen.vessel,
        culture_id=kitchen.culture,
        starter_lot_id=kitchen.lot,
        disc_id=None,
        recipe=replace(recipe, starter_fraction=0.4),
        starter_instrument="meter",
        final_l=4.2,
        plan={},
        celsius=35,
    )
    assert set(refused(kitchen, p.pitch_brew, ask)) == {"vessel", "liquid_l", "starter", "celsius"}


def test_a_start_above_4_5_is_held_until_it_measures_lower(kitchen):
    """A held brew is not tasted, not harvested; starter and a lower pH free it, a strip's number too."""
    brew = kitchen.pitch(measured_ph=4.7)
    assert "held" in refused(kitchen, b.log_tasting, b.LogTasting(brew_id=brew, taster_id=1, score=0))["score"]
    kitchen.do(happenings.put_into, happenings.PutIn(enters="starter", brew_id=brew, litres=0.3))
    with kitchen.database.reader() as session:
        changed = queries.get(session, Brew, brew)
        assert (changed.status, changed.left_l) == ("held", pytest.approx(3.8))
        assert recorded.starter_share(changed) == pytest.approx((0.35 + 0.3) / 3.8)
        assert changed.starter_fraction == pytest.approx(0.1)
    kitchen.do(b.log_reading, b.LogReading(brew_id=brew, ph=4.3))
    with kitchen.database.reader() as session:
        assert queries.get(session, Brew, brew).status == "fermenting"


@pytest.mark.parametrize(
    "change, field",
    [
        ({}, "ph"),
        ({"ph": 15}, "ph"),
        ({"ph": -1}, "ph"),
        ({"ph": 7.5}, "sure"),
        ({"ph": 3.5, "at": timedelta(days=1)}, "at"),
        ({"ph": 3.5, "at": timedelta(days=-3)}, "at"),
        ({"ph": 3.5, "instrument": "nose"}, "instrument"),
        ({"celsius": 90}, "celsius"),
    ],
)
def test_impossible_readings_are_refused_and_unlikely_ones_asked_about(kitchen, change, field):
    """pH outside 0 to 14, times ahead or before the pitch are refused; an unlikely 7.5 is asked about and can be kept."""
    brew = kitchen.pitch()
    when = {"at": kitchen.clock.now + change["at"]} if "at" in change else {}
    assert field in refused(kitchen, b.log_reading, b.LogReading(brew_id=brew, **{**change, **when}))
    if field == "sure":
        kitchen.do(b.log_reading, b.LogReading(brew_id=brew, sure=True, **change))


def test_bottles_wait_for_the_starter(kitchen):
    """Bottling is refused until a lot is recorded or no next brew is said."""
    brew = kitchen.ready()
    ask = fi.FillBottles(brew_id=brew, kind="swing-top", count=2, volume_ml=500, headspace_fraction=0.04)
    assert "starter" in refused(kitchen, fi.fill_bottles, ask)[""]
    assert "starter" in refused(kitchen, h.end_brew, h.EndBrew(brew_id=brew))[""]
    kitchen.do(h.say_no_next_brew, h.SayNoNextBrew(brew_id=brew))
    kitchen.do(fi.fill_bottles, ask)


def test_an_unsafe_brew_is_neither_reserved_nor_bottled(kitchen):
    """Mould, whatever the pH, closes the harvest."""
    brew = kitchen.ready()
    kitchen.do(b.log_look, b.LogLook(brew_id=brew, surface="fuzzy"))
    assert "mould" in refused(kitchen, h.reserve_starter, h.ReserveStarter(brew_id=brew, litres=0.5))[""]


def test_volumes_balance_and_never_go_negative(kitchen):
    """Reserve, bottles and what is left sum to the brew; more than there is is refused; a lot is used in part."""
    brew = kitchen.filled(flavour="damson", flavour_g_per_l=60)
    with kitchen.database.reader() as session:
        record = queries.get(session, Brew, brew)
        used = 0.5 + 3 * 0.5 * 0.96 * (1 - 0.06)
        assert record.left_l == pytest.approx(3.5 - used)
        assert queries.get(session, StarterLot, kitchen.lot).left_l == pytest.approx(1.0 - 0.35)
    assert "count" in refused(
        kitchen,
        fi.fill_bottles,
        fi.FillBottles(brew_id=brew, kind="swing-top", count=9, volume_ml=500, headspace_fraction=0.04),
    )
    assert "litres" in refused(kitchen, h.reserve_starter, h.ReserveStarter(brew_id=brew, litres=3))


def test_unrated_bottles_go_straight_into_the_cold(kitchen):
    """A jar is refused in the warm, accepted cold, and never goes back to the warm."""
    brew = kitchen.filled()
    ask = {"brew_id": brew, "kind": "jar", "count": 1, "volume_ml": 500, "headspace_fraction": 0.2}
    assert "pressure" in refused(kitchen, fi.fill_bottles, fi.FillBottles(**ask))["kind"]
    kitchen.do(fi.fill_bottles, fi.FillBottles(**ask, cold=True))
    assert "cold" in refused(kitchen, ce.warm_bottles, ce.MoveBottles(bottle_ids=(4,)))[""]


def test_a_warm_bottle_is_nearer_its_limit_than_the_same_one_chilled(kitchen):
    """Moves are history: chilling on day two flattens the forecast from then on."""
    kitchen.filled(sugar_g_per_l=6)
    kitchen.clock.turn(2)
    kitchen.do(ce.chill_bottles, ce.MoveBottles(bottle_ids=(1,)))
    with kitchen.database.reader() as session:
        cold, warm = (pressure.bottle_future(queries.get(session, Bottle, n)) for n in (1, 2))
    assert cold.at(1.5)[1] == pytest.approx(warm.at(1.5)[1], rel=1e-6)
    assert cold.at(8)[1] < 0.5 * warm.at(8)[1]


def test_two_windows_writing_the_same_record_lose_nothing_silently(kitchen):
    """The second of two changes made from the same page is refused; two readings are both kept."""
    with kitchen.database.reader() as session:
        seen = session.get(Household, 1).version
    ask = {"name": "A", "units": "metric", "zone": "UTC", "theme": "auto", "tasters": ("Ana",), "version": seen}
    kitchen.do(k.change_settings, k.ChangeSettings(**ask))
    with pytest.raises(ConflictError, match="another window"):
        kitchen.do(k.change_settings, k.ChangeSettings(**{**ask, "name": "B"}))
    brew = kitchen.pitch()
    for ph in (3.9, 3.8):
        kitchen.do(b.log_reading, b.LogReading(brew_id=brew, ph=ph))
    with kitchen.database.reader() as session:
        record = queries.get(session, Brew, brew)
        assert [r.ph for r in record.readings] == [4.0, 3.9, 3.8]
        stale = record.version - 1
    with pytest.raises(ConflictError):
        kitchen.do(b.discard_brew, b.DiscardBrew(brew_id=brew, reason="?", version=stale))


def test_a_struck_reading_stays_but_counts_no_more(kitchen):
    """A correction keeps what it said before; the forecast returns to where it was."""
    brew = kitchen.ready()
    with kitchen.database.reader() as session:
        before = forecasting.forecast_of(session, queries.get(session, Brew, brew)).ready["Ana"]
    wrong = kitchen.do(b.log_reading, b.LogReading(brew_id=brew, ph=2.6)).made["reading"]
    kitchen.do(co.strike, co.Strike(kind="reading", number=wrong))
    with kitchen.database.reader() as session:
        record = queries.get(session, Brew, brew)
        assert len(record.readings) == 3
        assert forecasting.forecast_of(session, record).ready["Ana"] == before


def test_a_culture_learns_from_its_harvested_brews(kitchen):
    """After a fast brew was harvested, the next one of the line is expected sooner."""
    with kitchen.database.reader() as session:
        new = forecasting.prior_of(culture_queries.cultures(session)[0])
    brew = kitchen.pitch()
    for day, ph in ((2, 3.6), (2, 3.1), (1, 2.95)):
        kitchen.clock.turn(day)
        kitchen.do(b.log_reading, b.LogReading(brew_id=brew, ph=ph))
    kitchen.do(h.say_no_next_brew, h.SayNoNextBrew(brew_id=brew))
    kitchen.do(h.end_brew, h.EndBrew(brew_id=brew))
    with kitchen.database.reader() as session:
        learned = forecasting.prior_of(culture_queries.cultures(session)[0])
    assert learned.bacteria_vigour > 1.1 * new.bacteria_vigour
