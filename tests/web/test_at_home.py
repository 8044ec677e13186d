"""Small things that made a kitchen stumble: harvest from anywhere, cups where cups are said, nothing typed lost, no dead ends."""

import re
from datetime import timedelta

import pytest

from kyklos.actions import household, timers
from kyklos.actions.bottles import harvest
from kyklos.actions.brewing import put_right, readings, taking_over
from kyklos.actions.household import ChangeSettings, change_settings
from kyklos.core.base.kinds import KindOfBrew
from kyklos.demo.household import DEMO_NOW
from kyklos.reckon.judging import verdicts as judging
from kyklos.store.records import Bottling, BrewDay, Look, StarterLot, Vessel


@pytest.fixture
def young(client, kitchen):
    """A brew three days old."""
    brew = kitchen.pitch()
    kitchen.clock.turn(3)
    return brew


def in_us(kitchen):
    """Let the household measure in quarts and cups."""
    ask = ChangeSettings(name="Test", units="us", zone="Europe/Paris", theme="auto", tasters=("Ana", "Ben"))
    kitchen.do(change_settings, ask)


@pytest.mark.parametrize("page", ["/", "/brews/{brew}", "/vessels/", "/vessels/{vessel}", "/almanac/"])
def test_harvest_is_reached_from_everywhere_on_any_day(client, kitchen, young, page):
    """Round, brew, vessels, vessel and almanac lead to it on day 3; it says when it would be better."""
    address = f"/brews/{young}/harvest"
    assert address in client.get(page.format(brew=young, vessel=kitchen.vessel)).text
    told = client.get(address).text
    assert "you can harvest now, and it will still be sweet" in told
    assert "Right for Ana and Ben" in told


def test_no_next_brew_while_on_hold_is_told_on_the_page(client, kitchen):
    """It is refused with its reason on the harvest page, not on a bare one."""
    brew = kitchen.pitch(measured_ph=5.0)
    answer = client.post(f"/brews/{brew}/harvest/reserve", data={"none": "1"})
    assert answer.status_code == 422
    assert "First of all, the starter" in answer.text
    assert "Not now: hold" in answer.text


def test_priming_is_offered_as_it_was_the_last_time(client, kitchen):
    """After a group without priming sugar the next is offered none; a bottle keeps the name of its flavour beside its note."""
    brew = kitchen.filled(sugar_g_per_l=0.0, flavour="damson", flavour_g_per_l=40, note="For the feast")
    page = client.get(f"/brews/{brew}/harvest").text
    assert re.search(r'name="sugar_g_per_l"[^>]*value="0"|value="0"[^>]*name="sugar_g_per_l"', page)
    assert "For the feast, damson" in client.get("/cellar/").text
    assert "3 bottles of for the feast, damson" in " ".join(client.get(f"/brews/{brew}").text.casefold().split())


def test_a_number_alone_is_read_in_the_unit_beside_the_field(client, kitchen):
    """In a US household the plan says cups, the field asks in cups, and a typed 2 is two cups, not two quarts."""
    in_us(kitchen)
    brew = kitchen.ready()
    page = client.get(f"/brews/{brew}/harvest").text
    assert re.search(r'name="litres-in" value="cup"', page)
    client.post(f"/brews/{brew}/harvest/reserve", data={"litres": "2", "litres-in": "cup", "instrument": "meter"})
    with kitchen.database.reader() as session:
        assert session.query(StarterLot).order_by(StarterLot.id.desc()).first().left_l == pytest.approx(
            0.473, abs=0.002
        )


def test_a_field_that_shows_cups_reads_cups_wherever_it_stands(client, kitchen):
    """Whatever a page sends along: a US household's starter field says cups, so a number alone is cups."""
    in_us(kitchen)
    told = {"name": "Ostro", "diet": "sugar", "origin": "received", "starter_l": "2", "starter_ph": "3.2"}
    assert re.search(r'name="starter_l-in" value="cup"', client.get("/cultures/new").text)
    client.post("/cultures/new", data=told)
    with kitchen.database.reader() as session:
        assert session.query(StarterLot).order_by(StarterLot.id.desc()).first().left_l == pytest.approx(
            0.473, abs=0.002
        )


def test_gas_left_in_a_titration_is_no_sign_of_life_and_no_tasters_point(kitchen):
    """Two titrations a litre's gas apart show no life unless the gas was driven out."""
    brew = kitchen.pitch(measured_ph=4.0)
    for day, acid, done in ((1, 1.2, False), (3, 2.6, False)):
        kitchen.clock.turn(day)
        kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ta_g_per_l=acid, degassed=done))
    with kitchen.database.reader() as session:
        assert judging.facts_of(session.get(readings.Brew, brew), kitchen.clock()).ta == ()
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ta_g_per_l=2.6, degassed=True))
    with kitchen.database.reader() as session:
        assert [acid for _, acid in judging.facts_of(session.get(readings.Brew, brew), kitchen.clock()).ta] == [2.6]


@pytest.mark.parametrize(
    ("typed", "litres"),
    [("1 cup", 0.2366), ("8 fl oz", 0.2366), ("16 tablespoons", 0.2366), ("48 tsp", 0.2366), ("2 fluid ounces", 0.0591), ("0,25 L", 0.25)],
)  # fmt: skip
def test_a_field_takes_what_the_page_itself_says(client, kitchen, typed, litres):
    """Cups, ounces, spoons: each is read, with a comma or a point."""
    brew = kitchen.ready()
    client.post(f"/brews/{brew}/harvest/reserve", data={"litres": typed, "instrument": "meter"})
    with kitchen.database.reader() as session:
        assert session.query(StarterLot).order_by(StarterLot.id.desc()).first().left_l == pytest.approx(
            litres, abs=0.001
        )


def test_what_is_typed_outlives_a_timer_and_a_wrong_entry_never_blocks_the_way_back(demo_client, demo):
    """Starting a timer keeps what was typed at the step; going back with a wrong number goes back."""
    with demo.reader() as session:
        day = session.query(BrewDay).filter(BrewDay.ended_at.is_(None)).first()
        number, step = day.id, day.step
    page = demo_client.get(f"/brew-day/kitchen/{number}").text
    asked = re.findall(r'<input[^>]*id="(\w+)"[^>]*name="\1"[^>]*inputmode="decimal"', page)
    field = next((name for name in asked if name != "minutes"), None)
    assert field is not None
    demo_client.post(f"/brew-day/kitchen/{number}/timer", data={field: "3", "minutes": "5"})
    with demo.reader() as session:
        assert any(field in facts for facts in session.get(BrewDay, number).facts.values())
    back = demo_client.post(f"/brew-day/kitchen/{number}/step", data={field: "lots", "go": "back"})
    assert back.status_code == 303
    with demo.reader() as session:
        assert session.get(BrewDay, number).step == step - 1


def test_a_growing_scoby_has_no_window_and_is_for_nobody_to_drink(demo_client, client, kitchen):
    """No page of a brew that grows a disc says for whom it is right."""
    brew = kitchen.pitch()
    with kitchen.database.writer() as session, session.begin():
        session.get(readings.Brew, brew).kind = KindOfBrew.GROW
    for page in ("/", f"/brews/{brew}"):
        told = client.get(page).text
        assert "Right for" not in told
    assert "a SCOBY grows in it" in client.get(f"/brews/{brew}").text


def test_a_grave_look_is_struck_out_with_a_word_of_why(client, kitchen, young):
    """Mould seen by mistake: without a why it is asked for, with one it is struck out and the why stays beside it."""
    client.post(f"/brews/{young}/look", data={"surface": "fuzzy"})
    with kitchen.database.reader() as session:
        look = session.query(Look).one().id
    address = f"/brews/{young}/strike/look/{look}"
    asked = client.post(address)
    assert asked.status_code == 422
    assert "Was it a mistake?" in asked.text
    assert client.post(address, data={"why": "no"}).status_code == 422
    assert client.post(address, data={"why": "It was the other jar, I mixed them up"}).status_code == 303
    assert "the other jar" in client.get(f"/brews/{young}").text


def test_closing_too_little_acid_for_fizz_is_refused_measured_or_decided(client, kitchen):
    """Much carrot in a young brew: refused beside the field, closed once the mix measures 4.2 or with a written reason."""
    brew = kitchen.pitch(measured_ph=4.4)
    kitchen.clock.turn(7)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=3.9))
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    told = {"kind": "swing-top", "count": "1", "volume_ml": "500", "headspace_cm": "2.5", "flavour": "carrot-juice", "flavour_g_per_l": "250", "place": "1"}  # fmt: skip
    address = f"/brews/{brew}/harvest/bottles"
    refused = client.post(address, data=told)
    assert refused.status_code == 422
    assert "nobody knows that it stays at or below pH 4.2" in refused.text
    assert client.post(address, data={**told, "ph_after": "4.4"}).status_code == 422
    assert client.post(address, data={**told, "ph_after": "4.1"}).status_code == 303
    assert client.post(address, data={**told, "overruled": "It is drunk tonight, all of it"}).status_code == 303
    assert client.post(address, data={**told, "cold": "y"}).status_code == 303
    with kitchen.database.reader() as session:
        assert [b.ph_after for b in session.query(Bottling)] == [4.1, None, None]
        assert [bool(b.overruled) for b in session.query(Bottling)] == [False, True, False]


def test_a_line_that_is_gone_is_not_what_a_brew_day_opens_with(client, do):
    """Of the household's first line nothing lives: the plan of an empty jar opens with the second, which has starter."""
    for name, starter_l in (("Gone", None), ("Ostro", 0.5)):
        do(household.add_culture, household.AddCulture(name=name, diet="sugar", origin="received", starter_l=starter_l, with_disc=starter_l is not None))  # fmt: skip
    jar = {
        "name": "Jar",
        "kind": "jar",
        "nominal_l": 4,
        "usable_l": 3.5,
        "diameter_cm": 15,
        "material": "glass",
        "tapped": False,
    }
    do(household.add_vessel, household.AddVessel(**jar, new_place="Shelf", new_place_c=24))
    opened = client.get("/brew-day/").text
    assert re.search(r'name="culture" value="\d+" checked>\s*<span>Ostro', opened)


def test_a_lone_reading_that_cannot_be_is_measured_again_everywhere(client, kitchen):
    """pH 5.3 by a strip on day 3: no page says that all is well, that a probe is to be rinsed, or that nothing is due."""
    brew = kitchen.pitch(measured_ph=None)
    kitchen.clock.turn(3)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=5.3, instrument="strip", sure=True))
    own, round_ = client.get(f"/brews/{brew}").text, client.get("/").text
    assert "measure again" in own
    assert "measure again" in round_
    assert "rinse" not in own
    assert "more than 99 %" not in own
    assert "Nothing to do today" not in round_


@pytest.mark.parametrize(("minutes", "kept"), [(0.5, False), (9.0, True)])
def test_a_steep_timer_stopped_at_once_was_a_slip(demo, minutes, kept):
    """Stopped within a minute it records no steep; stopped later it records how long it ran."""
    with demo.reader() as session:
        day = session.query(BrewDay).filter_by(ended_at=None).first().id
    start = timers.StartTimer(day_id=day, step="steep-2", name="Steep", minutes=12)
    with demo.writer() as session:
        timer = timers.start_timer(session, start, DEMO_NOW).made["timer"]
    with demo.writer() as session:
        timers.stop_timer(session, timers.StopTimer(timer_id=timer), DEMO_NOW + timedelta(minutes=minutes))
    with demo.reader() as session:
        assert ("steep-2" in session.get(BrewDay, day).facts) is kept


def test_what_stood_beside_it_is_told_after_it_was_moved_away(client, kitchen):
    """A jar that shared the shelf until a minute ago is looked at too."""
    jar = {"kind": "jar", "nominal_l": 4.0, "usable_l": 3.4, "diameter_cm": 15.0, "material": "glass", "tapped": False}
    with kitchen.database.reader() as session:
        shelf = session.get(Vessel, kitchen.vessel).place.id
    told = household.AddVessel(name="Other jar", **jar, place_id=shelf)
    other = kitchen.do(household.add_vessel, told).made["vessel"]
    first = kitchen.pitch()
    kitchen.do(taking_over.take_over, taking_over.TakeOver(days_ago=1.0, doubt_days=0.0, litres=3.0, vessel_id=other, culture_id=kitchen.culture))
    place = kitchen.do(household.add_place, household.AddPlace(name="Attic", celsius=18.0)).made["place"]
    kitchen.clock.turn(2)
    kitchen.do(put_right.move_vessel, put_right.MoveVessel(vessel_id=other, place_id=place))
    kitchen.clock.turn(1 / 1440)
    assert "Nothing else stood" not in client.get(f"/cultures/trace/brew/{first}").text
    assert "Other jar" in client.get(f"/cultures/trace/brew/{first}").text.split("Beside it")[1]


def test_two_taste_in_one_go_and_right_offers_the_harvest(client, kitchen):
    """After the first taster the panel is still open and says what was tasted; a "right" offers the harvest; then it closes."""
    brew = kitchen.ready()
    asked = {"headers": {"HX-Request": "true"}}
    first = client.post(f"/brews/{brew}/tasting", data={"taster": "1", "score": "-1", "view": "round"}, **asked).text
    panel = re.search(r'<details class="log" data-log="t"[^>]*>', first)[0]
    assert " open" in panel
    assert "a bit sweet</small>" in first
    assert "Harvest it</a>" not in first
    second = client.post(f"/brews/{brew}/tasting", data={"taster": "2", "score": "0", "view": "round"}, **asked).text
    assert " open" not in re.search(r'<details class="log" data-log="t"[^>]*>', second)[0]
    assert "Right for Ben" in second
    assert f'href="/brews/{brew}/harvest"' in second


@pytest.mark.parametrize("path", ["/almanac/", "/tasters/blind"])
def test_an_empty_household_is_led_on(client, path):
    """A place with nothing to show asks for nothing either: it leads to a first brew or to one that stands already."""
    main = client.get(path).text.split("<main")[1].split("</main>")[0]
    assert 'href="/brew-day/first"' in main
    assert 'href="/brews/going"' in main
    assert "<form" not in main
