"""Ways of liquids, read from transfers: starter added to a held brew is dated, and the trace follows it."""

import pytest

from kyklos.actions import household
from kyklos.actions.bottles import harvest
from kyklos.actions.brewing import happenings, pitching, readings
from kyklos.core.cultures import trace
from kyklos.core.liquid.ferment import Recipe
from kyklos.core.why import why_ready
from kyklos.reckon.cultures import links
from kyklos.reckon.forecast import forecasting
from kyklos.store.read import queries, recorded
from kyklos.store.records import Brew

JAR = {"kind": "jar", "nominal_l": 4, "usable_l": 3.5, "diameter_cm": 15, "material": "glass", "tapped": False, "place_id": 1}  # fmt: skip


def held_beside(kitchen):
    """A ripe brew, and beside it one that was held on the day before: their numbers."""
    first = kitchen.pitch()
    kitchen.clock.turn(7)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=first, ph=3.3))
    jar = kitchen.do(household.add_vessel, household.AddVessel(name="Second", **JAR)).made["vessel"]
    ask = pitching.PitchBrew(
        vessel_id=jar, culture_id=kitchen.culture, starter_lot_id=kitchen.lot, disc_id=None, recipe=Recipe(starter_ph=3.0),
        starter_instrument="meter", final_l=3.0, plan={}, measured_ph=4.7,
    )  # fmt: skip
    second = kitchen.do(pitching.pitch_brew, ask).made["brew"]
    kitchen.clock.turn(1)
    return first, second


def test_starter_added_to_a_held_brew_is_on_the_trace(kitchen):
    """Kept from one brew after another was pitched, and then added to it: the first could have reached the second."""
    first, second = held_beside(kitchen)
    lot = kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=first, litres=0.4, ph=3.1)).made["lot"]
    kitchen.do(happenings.put_into, happenings.PutIn(enters="starter", brew_id=second, litres=0.3, lot_id=lot))
    with kitchen.database.reader() as session:
        known = links.links_of(session, kitchen.clock())
        since = links.day_of(session.get(Brew, first).pitched_at)
        reached = {r.node: r for r in trace.exposed(known, ("brew", first), since)}
        assert reached[("brew", second)].path == (("brew", first), ("lot", lot), ("brew", second))
        assert reached[("brew", second)].times[-1] == links.day_of(kitchen.clock())
        assert ("brew", first) in {
            r.node for r in trace.suspects(known, ("brew", second), links.day_of(kitchen.clock()))
        }


def test_added_starter_is_an_event_of_the_forecast(kitchen):
    """The brew is as it was started until then, and sourer at once after; its share of starter counts all that went in."""
    _, second = held_beside(kitchen)
    with kitchen.database.reader() as session:
        before = forecasting.forecast_of(session, queries.get(session, Brew, second))
    kitchen.do(happenings.put_into, happenings.PutIn(enters="starter", brew_id=second, litres=0.3, lot_id=kitchen.lot))
    with kitchen.database.reader() as session:
        brew = queries.get(session, Brew, second)
        out = forecasting.forecast_of(session, brew)
        (event,) = recorded.events_of(brew)
        assert (event.day, event.liquid.litres) == (1.0, 0.3)
        assert event.liquid.ph == brew.liquid.starters[-1].ph == 3.0
        assert brew.started_l == 3.0
        assert recorded.starter_share(brew) == pytest.approx((0.3 + 0.3) / 3.3)
    assert abs(out.at(out.ph, 0.5)[1] - before.at(before.ph, 0.5)[1]) < 0.01
    assert out.at(out.ph, 1.0)[1] < before.at(before.ph, 1.0)[1] - 0.08


def test_what_is_drawn_from_a_standing_brew_is_an_event(kitchen):
    """Bottles filled from a part of a brew leave the rest shallower: it is foretold to sour faster."""
    brew = kitchen.pitch(measured_ph=4.3)
    kitchen.clock.turn(5)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=3.9))
    with kitchen.database.reader() as session:
        whole = forecasting.forecast_of(session, queries.get(session, Brew, brew))
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=1.7))
    with kitchen.database.reader() as session:
        half = forecasting.forecast_of(session, queries.get(session, Brew, brew))
    _why_answers_the_same(kitchen, brew)
    assert half.at(half.ta_g_per_l, 12)[1] > whole.at(whole.ta_g_per_l, 12)[1] + 0.3


def _why_answers_the_same(kitchen, brew):
    """The question that a page shows for a brew with events answers as the forecast does."""
    with kitchen.database.reader() as session:
        ask = forecasting.forecast_ask_of(session, queries.get(session, Brew, brew))
        assert ask.batch.events
        taster = ask.points[0].taster
        assert why_ready(ask, taster).value() == pytest.approx(forecasting.forecast(ask).ready[taster].p50, abs=0.01)
