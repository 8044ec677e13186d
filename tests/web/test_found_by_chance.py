"""What strange requests found: each is answered with a sentence now."""

import re
from datetime import timedelta

import pytest

from kyklos.actions import brew_days, calendar, household
from kyklos.actions.base import RefusedError
from kyklos.actions.bottles import filling, harvest
from kyklos.actions.brewing import readings
from kyklos.core.brewing.away import Shelf, absent
from kyklos.core.brewing.steps import steps_of
from kyklos.core.forecast.answer import forecast
from kyklos.core.forecast.ask import ForecastAsk
from kyklos.core.forecast.palate import learn
from kyklos.core.liquid.batch import Batch
from kyklos.core.liquid.ferment import Recipe
from kyklos.core.liquid.taste import Point
from kyklos.core.liquid.temperature import steady
from kyklos.reckon.bottles import flavours
from kyklos.reckon.forecast import forecasting
from kyklos.store.read import queries
from kyklos.store.records import Bottle, Brew, BrewDay, Flavour, Place
from tests.actions.test_undo import begun


def test_a_move_put_right_with_nothing_typed_is_asked_for(demo_client):
    """No date at all, or nonsense, gives the page again and no fault."""
    for typed in ({}, {"since": "half past nine"}):
        assert demo_client.post("/vessels/1/moved/1", data=typed).status_code == 422


def test_an_absence_over_a_jar_with_nothing_left_is_answered(client, kitchen):
    """A brew of which nothing is left can be neither topped up nor forgotten: the page stands."""
    ask = ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(24)), points=(Point("Ana", 4.0),))
    told = absent(ask, forecast(ask), learn((), False), 3.0, 8.0, 20.0, room_l=3.0, litres=0.0, shelves=[Shelf("Cellar", 14)], gate_open=False)
    assert not [option for option in told.options if option.kind == "volume"]
    today = kitchen.clock().date()
    kitchen.do(calendar.go_away, calendar.GoAway(leaves=today - timedelta(days=1), returns=today + timedelta(days=9)))
    page = client.get("/almanac/away").text
    assert "hotel" not in page.split("<main")[1].lower(), "nobody has one here"


def test_a_jar_ten_days_past_is_not_to_be_harvested_for_drinking(kitchen):
    """Too sour already: no harvest before the journey, but starter or vinegar."""
    ask = ForecastAsk(batch=Batch(recipe=Recipe(), course=steady(26)), points=(Point("Ana", 3.0),), days=60)
    out, palate = forecast(ask), learn((), False)
    late = out.ready["Ana"].p50 + 14
    told = absent(ask, out, palate, late, late + 2, late + 9, room_l=0.0, litres=3.0, shelves=[], gate_open=False)
    assert told.word == "late"
    assert "starter or vinegar" in told.says
    assert "harvest it" not in told.says


def test_two_places_never_have_one_name(kitchen):
    """Setting a second jar up on the kitchen shelf puts it on that shelf; a second shelf of the name is refused."""

    with kitchen.database.reader() as session:
        before = len(queries.places(session))
    household_place = household.AddPlace(name="Kitchen shelf", celsius=21)
    kitchen.do(household.add_place, household_place)
    with pytest.raises(RefusedError, match="Another place has this name"):
        kitchen.do(household.add_place, household.AddPlace(name="kitchen SHELF", celsius=18))
    jar = household.AddVessel(name="Jar nine", kind="jar", nominal_l=3, usable_l=2.6, diameter_cm=14, material="glass", tapped=False, new_place="Kitchen Shelf ", new_place_c=19)  # fmt: skip
    kitchen.do(household.add_vessel, jar)
    with kitchen.database.reader() as session:
        assert len(queries.places(session)) == before + 1
        assert session.query(Place).filter_by(name="Kitchen shelf").count() == 1


def test_all_that_is_wrong_with_a_filling_is_told_at_once(kitchen):
    """Too many bottles and a pH that is too high: both, not one after the other."""
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.3))
    ask = filling.FillBottles(brew_id=brew, kind="swing-top", count=60, volume_ml=500, headspace_fraction=0.05, flavour="carrot-juice", flavour_g_per_l=120)  # fmt: skip
    with pytest.raises(RefusedError) as caught:
        kitchen.do(filling.fill_bottles, ask)
    assert {problem.field for problem in caught.value.problems} >= {"count", "ph_after"}


def test_vinegar_that_was_put_in_is_read_as_acid(client, kitchen):
    """One button on a held brew's page: the forecast is sourer by it, and the brew stays held until it is measured."""
    brew = kitchen.pitch(measured_ph=4.7)

    def sourness():
        with kitchen.database.reader() as session:
            session.context.now = kitchen.clock()
            out = forecasting.forecast_of(session, queries.get(session, Brew, brew))
            return out.at(out.ta_g_per_l, 1.0)[1]

    before = sourness()
    page = client.get(f"/brews/{brew}").text
    button = re.search(r'<form method="post" action="([^"]+)">((?:(?!</form>).)*)Add 15 mL distilled vinegar</button>', page)
    assert page.count("mL distilled vinegar") == 1, "one amount, said once"
    kitchen.clock.turn(0.1)
    typed = dict(re.findall(r'name="([^"]+)" value="([^"]*)"', button[2]))
    assert client.post(button[1], data=typed).status_code in {200, 303}
    assert sourness() > before + 0.05
    with kitchen.database.reader() as session:
        assert queries.get(session, Brew, brew).status == "held"
        kept = queries.get(session, Brew, brew).liquid.additions[-1]
    assert (kept.what, round(kept.litres, 4)) == ("vinegar", 0.015)


def test_a_mix_that_is_not_sour_enough_takes_vinegar_or_starter_by_a_button(client, kitchen):
    """Measured at the edge, the kitchen screen offers both with their amounts; what was added is in the record of the brew."""
    number = begun(kitchen)
    with kitchen.database.reader() as session:
        plan = brew_days.plan_of_day(queries.get(session, BrewDay, number))
    at = [step.key for step in steps_of(plan)].index("measure")
    kitchen.do(brew_days.go_to_step, brew_days.GoToStep(day_id=number, step=at, facts={}))
    typed = {"go": "stay", "measured_ph": "4.5", "instrument": "strip"}
    page = client.post(f"/brew-day/kitchen/{number}/step", data=typed, follow_redirects=True).text
    assert "of distilled vinegar of 5 % is in" in " ".join(page.split())  # an unbreakable space before the sign is one too
    done = client.post(f"/brew-day/kitchen/{number}/sourer", data={"what": "vinegar"}, follow_redirects=True).text
    assert "Not measured" in done, "it is measured again"
    client.post(f"/brew-day/kitchen/{number}/step", data={"go": "next", "measured_ph": "4.0", "instrument": "strip"})
    assert client.post(f"/brew-day/kitchen/{number}/pitch").status_code == 303
    with kitchen.database.reader() as session:
        brew = session.query(Brew).one()
        assert [round(row.litres, 4) for row in brew.liquid.additions if row.what == "vinegar"] == [round(0.00375 * plan.final_l, 4)]
        assert brew.started_l == pytest.approx(plan.final_l * 1.00375)


def test_a_gusher_just_out_of_the_fridge_is_not_called_weak(demo_client, demo):
    """Opened after an hour in the fridge and gushed: it was not cold through, and its brothers are warned of at once."""
    with demo.reader() as session:
        brothers = [b.id for b in session.query(Bottle) if b.state == "warm" and b.limit_bar and len([x for x in b.bottling.bottles if x.state == "warm"]) > 1]  # fmt: skip
    page = demo_client.post("/cellar/chill", data={"bottle": str(brothers[0])}, follow_redirects=True)
    assert page.status_code == 200
    page = demo_client.post(f"/cellar/open/{brothers[0]}", data={"hiss": "4"}, follow_redirects=True).text
    assert "of the same filling stand warm: look at them now" in page
    own = demo_client.get(f"/cellar/bottles/{brothers[0]}").text
    assert "not cold through" in own
    assert "a weak bottle" not in own


def test_a_flavour_with_no_amount_is_not_plain(kitchen):
    """Chosen and left empty, its amount is asked for beside the field; nothing is written."""
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.3))
    ask = filling.FillBottles(brew_id=brew, kind="swing-top", count=2, volume_ml=500, headspace_fraction=0.05, flavour="damson")
    with pytest.raises(RefusedError) as caught:
        kitchen.do(filling.fill_bottles, ask)
    assert [problem.field for problem in caught.value.problems] == ["flavour_g_per_l"]
    with kitchen.database.reader() as session:
        assert not session.query(Bottle).count()


def test_gas_is_spoken_of_near_a_limit_once_it_works(kitchen):
    """A sentence of its own after what was logged; not at the start, where no gas is, nor far from the limit."""
    brew = kitchen.pitch(measured_ph=4.4)

    def says(ph):
        return kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=ph)).says

    assert "gas" not in says(4.45)
    kitchen.clock.turn(5)
    assert says(4.15).endswith("logged for Jar. So near the limit gas left in it counts: stir it out and read again.")
    assert "gas" not in says(3.6)


def test_what_gushed_last_time_is_planned_with_less(demo_client, demo):
    """A fifth less of it and half its sugar, and the plan says so."""
    with demo.reader() as session:
        bottle = next(b for b in session.query(Bottle) if b.state == "warm" and b.bottling.flavour_id)
        number, flavour = bottle.id, bottle.bottling.flavour_id
    demo_client.post(f"/cellar/open/{number}", data={"hiss": "4"}, follow_redirects=True)
    with demo.reader() as session:
        after = flavours.card_named(session, f"f{flavour}")
        as_kept = flavours.card_of(session, session.get(Flavour, flavour))
    assert [p.g_per_l for p in after.parts] == pytest.approx([p.g_per_l * 0.8 for p in as_kept.parts], rel=0.01)
    assert after.priming_g_per_l == pytest.approx(as_kept.priming_g_per_l / 2)
    page = demo_client.get(f"/brews/7/bottling?chosen=1&flavour=f{flavour}&flavour=plain").text
    assert "It gushed last time: a fifth less of it, and half the sugar." in page


def test_starter_for_a_held_jar_is_one_button_on_the_round(demo_client, demo):
    """Its amount stands on it and is what is written; then its pH is to be measured, and nothing else is the main thing."""
    page = " ".join(demo_client.get("/").text.split())
    stop = page[page.index('id="stop-10"') :]
    sent = dict(re.findall(r'name="(into-\w+|view)" value="([^"]*)"', stop[: stop.index("</form>")]))
    shown = re.search(r">Add ([^<>]*?) starter<", stop)[1]
    assert sent["into-litres"] == shown
    answer = demo_client.post("/brews/10/happened/into", data=sent)
    assert (answer.status_code, answer.location) == (303, "/")
    with demo.reader() as session:
        poured = [t for t in session.get(Brew, 10).liquid.inflows if t.how == "added"]
        assert [t.litres for t in poured] == [pytest.approx(float(shown.removesuffix(" mL")) / 1000)]
    after = " ".join(demo_client.get("/").text.split())
    main = re.search(r'id="stop-10".*?btn btn-primary">\s*([\w ]+?)\s*<', after)[1]
    assert main == "Measure"
    assert "Measure it again." in after[after.index('id="stop-10"') :]
    assert "Add starter, measure again" not in after


def test_any_number_of_flavours_is_chosen_one_after_another(demo_client):
    """Each one chosen from the list comes back among the chips with the plan, and the next one stands beside it."""
    address, chosen = "/brews/7/bottling?chosen=1", ["plain"]
    for key in ("f1", "f3", "f2", "f4"):
        answer = demo_client.get(f"{address}&{'&'.join('flavour=' + one for one in chosen)}&another={key}", headers={"HX-Request": "true"})
        chips = answer.text[answer.text.index('id="flavour-chips"') :]
        chosen = re.findall(r'name="flavour" value="(\w+)" checked', chips)
        assert key in chosen
    assert set(chosen) == {"plain", "f1", "f2", "f3", "f4"}
