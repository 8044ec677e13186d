"""Brew day: what is typed in cups and grams, steps and timers, recipes, tools, places, the clock, labels, and signing in."""

import re
from dataclasses import replace
from datetime import timedelta
from urllib.parse import urlencode

import pytest
import zxingcpp
from PIL import Image, ImageDraw

from kyklos.actions import brew_days, timers
from kyklos.actions.brewing import recipes
from kyklos.core.brewing.planner import make_plan
from kyklos.core.brewing.recipe_card import RecipeCard
from kyklos.demo.household import DEMO_NOW
from kyklos.serving.app import create_app
from kyklos.serving.sign_in import write_password
from kyklos.store.read import culture_queries, planning_queries
from kyklos.store.read.documents import UnreadableError, card_of, pack
from kyklos.store.records import Brew, BrewDay, KeptRecipe, Place, StarterLot, Timer, Vessel
from kyklos.web.kit.printing import SHEETS, code_path
from kyklos.web.kit.units import NotANumberError, amount, parse

from .test_pages import PLAN


def planned(client, **change):
    """The plan's card."""
    return client.get("/brew-day/plan", query_string={**PLAN, **change}, headers={"HX-Request": "true"}).text


@pytest.mark.parametrize("typed", ["1.5 cups", "24 tbsp", "300 g", "10.58 oz", "72 tsp", "1 1/2 c"])
def test_the_same_sugar_however_it_is_typed(demo_client, typed):
    """Cups, spoons, grams and ounces of the same sugar give the same grams in the plan."""
    assert re.search(r"White sugar</th><td>300 g", planned(demo_client, sugar=typed))


@pytest.mark.parametrize(
    "text, kind, value",
    [("8 bags", "bags", 8), ("3 tbsp", "cups", 3 / 16), ("2 lb", "mass", 907.18), ("50", "strength", 50)],
)
def test_amounts_are_read_in_every_measure(text, kind, value):
    """Bags, spoons, pounds and strengths are told apart; nonsense gets a sentence."""
    found = amount(text, "metric")
    assert (found.kind, found.value) == (kind, pytest.approx(value, rel=1e-3))
    assert parse("14 °dKH", "alkalinity", "metric") == pytest.approx(5.0, abs=0.01)
    with pytest.raises(NotANumberError):
        amount("3 parsec", "us")


def started(client, **change):
    """A brew day for the emptied tall jar; gives its number."""
    page = client.post("/brew-day/start", data={**PLAN, "vessel": "4", "starter_ph": "3.0", **change})
    assert page.status_code == 303, page.text
    return int(page.location.rsplit("/", 1)[1])


@pytest.fixture
def free_jar(demo_client):
    """The sample household with its tall jar emptied."""
    assert demo_client.post("/brews/9/discard", data={"reason": "to make room"}).status_code == 303
    return demo_client


def go(client, number, **typed):
    """Log what is typed, and go on."""
    return client.post(f"/brew-day/kitchen/{number}/step", data={"go": "next", **typed})


def heading(client, number):
    """The step's name."""
    return re.search(r"<h1 data-says>(.*?)</h1>", client.get(f"/brew-day/kitchen/{number}").text)[1]


def test_a_day_in_the_kitchen_keeps_plan_and_fact(free_jar, demo):
    """Step by step to the pitch; what was logged differs from the plan and both stand on the brew's page."""
    number = started(free_jar, cold_c="4")
    assert heading(free_jar, number) == "Lay everything out"
    go(free_jar, number)
    go(free_jar, number)
    assert go(free_jar, number, leaf_g="lots").status_code == 422
    assert "is not a number" in go(free_jar, number, leaf_g="lots").text
    assert "does not look right" in go(free_jar, number, leaf_g="900 kg").text
    assert "A time in minutes of 9000 does not look right" in go(free_jar, number, steep_minutes="9000").text
    go(free_jar, number, leaf_g="12", steep_minutes="15")
    go(free_jar, number, sugar_g="100")
    free_jar.post(f"/brew-day/kitchen/{number}/step", data={"go": "back"})
    assert 'value="100"' in free_jar.get(f"/brew-day/kitchen/{number}").text
    while heading(free_jar, number) != "Measure, if you have a way to":
        go(free_jar, number)
    hot = free_jar.post(
        f"/brew-day/kitchen/{number}/step",
        data={"go": "stay", "celsius": "35", "measured_ph": "4.3", "instrument": "strip"},
    )
    assert hot.status_code == 303
    assert "harms the culture" in free_jar.get(f"/brew-day/kitchen/{number}").text
    assert free_jar.post(f"/brew-day/kitchen/{number}/pitch").status_code == 422
    go(free_jar, number, celsius="25", measured_ph="4.3", instrument="strip")
    assert "at the edge of 4.5" in free_jar.get(f"/brew-day/kitchen/{number}").text
    page = free_jar.post(f"/brew-day/kitchen/{number}/pitch", follow_redirects=True).text
    assert "Planned" in page
    rows = dict(re.findall(r'<th scope="row">([^<]+)</th><td>[^<]*</td><td>([^<]*)</td>', page))
    assert (rows["Leaf"], rows["Sweetener"], rows["Steep, min"], rows["Starting pH"]) == ("12 g", "100 g", "15", "4.30")
    with demo.reader() as session:
        brew = session.query(Brew).order_by(Brew.id.desc()).first()
        assert brew.status == "fermenting"
        assert brew.sugar_g_per_l < 55
        assert brew.liquid.starters[0].litres == pytest.approx(brew.started_l * brew.starter_fraction, rel=1e-3)
    assert free_jar.get(f"/brew-day/kitchen/{number}").location == f"/brews/{brew.id}"
    assert "as last time" in free_jar.get("/brew-day/?vessel=4&culture=1").text.lower()


def test_rounds_not_logged_are_taken_as_planned(kitchen):
    """Of three pots one is logged: the others count as planned, and minutes are a mean, not a sum."""
    from ..actions.test_undo import day_ask

    plan = make_plan(replace(day_ask(kitchen).ask, pot_l=0.3))
    assert len(plan.rounds.pots) >= 2
    each = plan.rounds.pots[0].leaf_g
    done = brew_days.done_totals(plan, {"steep-1": {"leaf_g-1": each + 2, "steep_minutes-1": 14.0}})
    assert done["leaf_g"] == pytest.approx(plan.made.leaf_g + 2)
    assert done["steep_minutes"] == pytest.approx(12 + 2 / len(plan.rounds.pots))
    assert "sugar_g" not in done


def test_timers_live_on_the_server(free_jar, demo):
    """Two named timers run, survive any page, are seen from every place, end by the clock, and tell the steep's length."""
    number = started(free_jar)
    go(free_jar, number)
    go(free_jar, number)
    assert free_jar.post(f"/brew-day/kitchen/{number}/timer", data={"minutes": "12"}).status_code == 303
    assert free_jar.post(f"/brew-day/kitchen/{number}/timer", data={"minutes": "soon"}).status_code == 422
    assert free_jar.post(f"/brew-day/kitchen/{number}/timer", data={"minutes": "99999"}).status_code == 422
    assert "Tall jar: Steep" in free_jar.get("/").text
    clock = free_jar.application.extensions["kyklos"][1]
    clock.now = DEMO_NOW + timedelta(minutes=5)
    assert "7:00" in free_jar.get(f"/brew-day/kitchen/{number}").text
    clock.now = DEMO_NOW + timedelta(minutes=13)
    part = free_jar.get("/brew-day/timers", headers={"HX-Request": "true"}).text
    assert "timer-over" in part
    assert "<html" not in part
    free_jar.post("/brew-day/timers/1/stop")
    with demo.reader() as session:
        assert session.get(BrewDay, number).facts["steep"]["steep_minutes"] == 13
        assert session.get(Timer, 1).stopped_at is not None


def test_one_temperature_on_the_way_corrects_the_wait(free_jar, demo):
    """A temperature logged while cooling changes how long is left; without a running timer it is asked for."""
    number = started(free_jar)
    while heading(free_jar, number) != "Let it cool":
        go(free_jar, number)
    assert "Start the timer" in go(free_jar, number, cooling_c="70").text
    free_jar.post(f"/brew-day/kitchen/{number}/timer", data={"minutes": "60"})
    before = re.search(r"On the counter: about ([^<]+)\.", free_jar.get(f"/brew-day/kitchen/{number}").text)[1]
    free_jar.application.extensions["kyklos"][1].now = DEMO_NOW + timedelta(minutes=20)
    free_jar.post(f"/brew-day/kitchen/{number}/step", data={"go": "stay", "cooling_c": "60"})
    page = free_jar.get(f"/brew-day/kitchen/{number}").text
    assert "Corrected by what you measured" in page
    assert re.search(r"On the counter: about ([^<]+)\.", page)[1] != before
    assert "between the room" in go(free_jar, number, cooling_c="5").text


def test_a_plan_that_cannot_be_is_not_started_and_a_day_can_be_given_up(free_jar):
    """An overflow, a milk base and a disc without acid stay at the form; a day given up leaves no brew."""
    for change in (
        {"liquid_l": "9"},
        {"kind": "trial", "base": "milk", "leaf": "0"},
        {"kind": "dried", "other_l": "", "starter_ph": ""},
    ):
        assert free_jar.post("/brew-day/start", data={**PLAN, "starter_ph": "3", **change}).status_code == 422
    number = started(free_jar)
    assert "Tall jar is on the stove" in free_jar.get("/brew-day/").text
    free_jar.post(f"/brew-day/kitchen/{number}/end")
    assert "Tall jar is on the stove" not in free_jar.get("/brew-day/").text
    assert free_jar.post(f"/brew-day/kitchen/{number}/step", data={"go": "next"}).status_code == 303


def test_a_brew_of_three_lots_and_another_line_is_asked_about(free_jar, demo):
    """Three lots are poured and drawn down; a lot of jun into a sugar brew needs a tick."""
    with demo.reader() as session:
        left = {lot.id: (lot.culture.name, lot.left_l) for lot in culture_queries.starter_lots(session)}
    own, other = ([str(n) for n, (name, _) in left.items() if name == line] for line in ("Bora", "Meltemi"))
    assert len(own) >= 3
    page = free_jar.post("/brew-day/pitch", data={**PLAN, "vessel": "4", "other_l": "", "lots": own, "share": "50"})
    brew = poured(demo, page)
    assert len(brew) >= 2
    assert {name for name, _, _ in brew} == {"Bora"}
    assert sum(litres for _, litres, _ in brew) == pytest.approx(1.25, rel=1e-6)
    with demo.reader() as session:
        for _, litres, lot in brew:
            assert session.get(StarterLot, lot).left_l == pytest.approx(left[lot][1] - litres, abs=1e-6)
    free_jar.post(page.location + "/discard", data={"reason": "to make room"})
    meant = {**PLAN, "vessel": "4", "other_l": "", "lots": other, "share": "12"}
    assert "Tick it if it is meant" in free_jar.post("/brew-day/pitch", data=meant).text
    assert {
        name for name, _, _ in poured(demo, free_jar.post("/brew-day/pitch", data={**meant, "other_line": "y"}))
    } == {"Meltemi"}


def poured(demo, page):
    """What a brew just pitched took: line, litres and number of each lot."""
    with demo.reader() as session:
        brew = session.get(Brew, int(page.location.rsplit("/", 1)[1]))
        return [(t.source.lot.culture.name, t.litres, t.source.lot.id) for t in brew.liquid.starters]


def test_a_trial_is_not_tasted_before_it_is_fit(free_jar, demo):
    """Until the disc grew and a meter read 4.2 or lower within a week, tasting is refused with what is missing."""
    page = free_jar.post(
        "/brew-day/pitch",
        data={**PLAN, "vessel": "4", "kind": "trial", "base": "Cold coffee", "leaf": "0", "starter_ph": "3"},
    )
    number = int(page.location.rsplit("/", 1)[1])
    assert "cold coffee" in free_jar.get(f"/brews/{number}").text
    wrong = free_jar.post(f"/brews/{number}/tasting", data={"taster": "1", "score": "0"})
    assert "Do not taste this trial" in wrong.text
    free_jar.post(f"/brews/{number}/reading", data={"ph": "4.4", "instrument": "meter"})
    free_jar.application.extensions["kyklos"][1].now = DEMO_NOW + timedelta(days=6)
    free_jar.post(f"/brews/{number}/look", data={"surface": "disc"})
    free_jar.post(f"/brews/{number}/reading", data={"ph": "3.9", "instrument": "meter"})
    assert free_jar.post(f"/brews/{number}/tasting", data={"taster": "1", "score": "0"}).status_code == 303


def test_growing_a_scoby_has_its_own_days(free_jar):
    """The round asks for looks on days 4, 7, 14 and 28, and then to step it up; it is never called ready."""
    page = free_jar.post(
        "/brew-day/pitch",
        data={**PLAN, "vessel": "4", "kind": "grow", "other_kind": "bottle", "sugar": "75", "leaf": "6", "share": "30"},
    )
    number = int(page.location.rsplit("/", 1)[1])
    clock = free_jar.application.extensions["kyklos"][1]
    for day, words in ((4, "First wisps"), (7, "bubbles like eyes"), (14, "5 mm to 6 mm"), (28, "12 mm is sturdy")):
        clock.now = DEMO_NOW + timedelta(days=day, hours=1)
        assert words in free_jar.get(f"/brews/{number}").text
        free_jar.post(f"/brews/{number}/look", data={"surface": "disc"})
    free_jar.post(f"/brews/{number}/reading", data={"ph": "3.2", "instrument": "meter"})
    assert "Step it up" in free_jar.get(f"/brews/{number}").text


def test_recipes_are_kept_copied_compared_and_scaled(demo_client, demo):
    """A plan is kept by a name once, copied, renamed, shown beside another and scaled to a vessel, and brewed again."""
    kept = {**PLAN, "name": "Strong one", "leaf": "8"}
    assert demo_client.post("/brew-day/recipes", data=kept).status_code == 303
    assert "Another recipe has this name" in demo_client.post("/brew-day/recipes", data=kept).text
    demo_client.post("/brew-day/recipes/4/copy")
    with demo.reader() as session:
        names = [r.name for r in planning_queries.recipes(session)]
    assert "Strong one, copy" in names
    assert demo_client.post("/brew-day/recipes/5", data={"name": "Weak one", "version": "1"}).status_code == 303
    assert demo_client.post("/brew-day/recipes/5", data={"name": "Other", "version": "1"}).status_code == 409
    page = demo_client.get("/brew-day/recipes/compare?recipe=1&recipe=4&vessel=1").text
    assert "8 g/L" in page
    assert 'class="differs"' in page
    assert "For 6.8 L" in page
    assert 'value="8"' in demo_client.get("/brew-day/?recipe=4&vessel=2").text
    demo_client.post("/brew-day/recipes/4/drop")
    assert "Strong one<" not in demo_client.get("/brew-day/recipes").text


def test_cards_read_back_as_they_were_packed():
    """A card packed into a record is the same card read back; a broken record is told in a sentence."""
    card = RecipeCard(tea=(("black", 0.5), ("green", 0.5)), sweeteners=(("honey", 1.0),), share=0.2)
    assert card_of(pack(card)) == card
    with pytest.raises(UnreadableError):
        card_of({"kind": "soup"})


def test_tools_change_the_plan(demo_client):
    """A small pot means several rounds; a tool without its size is asked for; crossing off is undone."""
    page = demo_client.post("/brew-day/tools", data={"kind": "pot", "litres": "", "number": "1"})
    assert "Say how much it holds" in page.text
    assert demo_client.post("/brew-day/tools", data={"kind": "kettle", "number": "1"}).status_code == 422
    assert "pours" in planned(demo_client)
    for number in (1, 2):
        demo_client.post(f"/brew-day/tools/{number}/drop")
    demo_client.post("/brew-day/tools", data={"kind": "pot", "litres": "0.6", "number": "2"})
    assert "in 3 pots" in planned(demo_client)


def test_the_clock_answers_start_and_finish(demo_client):
    """A finish given sets the start so much earlier; without a vessel a sentence says what to tick."""
    page = demo_client.get("/brew-day/clock?vessels=1&vessels=6&hands=1&by=finish&at=2027-02-18T18:00").text
    assert "Done at 18:00." in page
    assert page.count("sheet-hands") >= 10
    assert "Choose a vessel." in demo_client.get("/brew-day/clock?hands=1&by=start").text
    assert "Stoneware crock: draw and top up" in page
    assert "Jar one is on hold" in page
    assert re.search(r"[Ss]et (aside )?\d+ mL of starter|draw [\d.]+ L at the tap|stir in \d+ g of sugar", page)


def test_places_are_ranked_with_their_days_and_planned_back(demo_client):
    """Each place has its window; a day wanted is planned back to a pitch; a day gone by is told."""
    page = demo_client.get("/brew-day/places", query_string={**PLAN, "ready": "2027-03-06T12:00"}).text
    assert page.count("place-advice") == 3
    assert "Right for Odile Varga on Sat 6 Mar" in page
    assert "measured in the last weeks" in page
    assert (
        "That day is over"
        in demo_client.get("/brew-day/places", query_string={**PLAN, "ready": "2020-03-06T12:00"}).text
    )
    page = demo_client.post(
        "/vessels/places/3",
        data={"place_name": "Pantry", "celsius": "17", "winter_c": "12", "light": "shade", "reach": "easy"},
    )
    assert "Tell both, winter and summer" in page.text


def drawn(path, size):
    """A picture of a code's path."""
    image = Image.new("L", ((size + 8) * 6,) * 2, 255)
    pen = ImageDraw.Draw(image)
    for x, y, length in re.findall(r"M(\d+) (\d+)h(\d+)v1h-\d+z", path):
        left, top = (int(x) + 4) * 6, (int(y) + 4) * 6
        pen.rectangle((left, top, left + 6 * int(length) - 1, top + 5), fill=0)
    return image


def test_the_label_says_what_it_is_and_its_code_leads_to_the_brew(demo_client):
    """Name, date, tea, culture, starter and first taste stand on it; a reader finds the brew's address in the code."""
    page = demo_client.get("/brew-day/labels/7").text
    for words in ("Stone jar", "Bora", "Black tea", "First taste", "Starter"):
        assert words in page
    [found] = zxingcpp.read_barcodes(drawn(*code_path("http://localhost/brews/7")))
    assert found.text == "http://localhost/brews/7"
    svg = demo_client.get("/brew-day/labels/7.svg")
    assert svg.mimetype == "image/svg+xml"
    assert svg.text.startswith("<svg")


@pytest.mark.parametrize("sheet", SHEETS)
def test_every_sheet_prints(demo_client, sheet):
    """Each label size gives a PDF with the vessel's name; more labels than a sheet has are refused."""
    page = demo_client.get(f"/brew-day/labels/8.pdf?sheet={sheet}&count=2&skip=1")
    assert page.data.startswith(b"%PDF")
    assert page.data.count(b"(Jar two)") == 2 + 1
    assert demo_client.get(f"/brew-day/labels/8.pdf?sheet={sheet}&count=99").status_code == 400
    _, columns, rows, width, height, left, top, across, down = SHEETS[sheet]
    wide, high = (210, 297) if sheet.startswith("a4") else (215.9, 279.4)
    assert left + columns * width + (columns - 1) * across <= wide + 0.1
    assert top + rows * height + (rows - 1) * down <= high + 0.1


@pytest.fixture
def shared(demo, tmp_path, clock):
    """The sample household, answering other devices."""
    write_password(tmp_path, "sour jar seven")
    secret = (tmp_path / "password").read_text()
    return create_app(
        demo, clock, "x", TESTING=True, WTF_CSRF_ENABLED=False, KYKLOS_SHARED=True, KYKLOS_PASSWORD=secret
    )


def test_other_devices_sign_in_once_a_month(shared):
    """Nothing is shown before the password; afterwards for a month; only pages of this house are gone on to."""
    client = shared.test_client()
    assert client.get("/brews/7", headers={"Host": "192.168.1.4:8017"}).location.startswith("/sign-in?next=")
    assert client.get("/", headers={"Host": "kyklos.example"}).status_code == 421
    assert client.post("/brews/7/look", data={"surface": "skin"}).status_code == 401
    assert client.post("/sign-in", data={"password": "wrong"}).status_code == 422
    page = client.post("/sign-in", data={"password": "sour jar seven", "next": "//evil.example/"})
    assert page.location == "/"
    assert "Expires" in page.headers["Set-Cookie"]
    assert client.get("/brews/7").status_code == 200
    assert client.post("/sign-out").status_code == 303
    assert client.get("/brews/7").status_code == 303


def test_a_stranger_sees_nothing_of_the_household(shared, demo, clock):
    """Sign-in page and refusals name no vessel, timer or line, whatever runs in the kitchen."""
    begun = timers.StartTimer(day_id=1, step="steep", name="Steep", minutes=20)
    with demo.writer() as session:
        timers.start_timer(session, begun, clock())
    client = shared.test_client()
    for page in (
        client.get("/sign-in"),
        client.post("/brews/7/look"),
        client.get("/brew-day/timers", headers={"HX-Request": "true"}),
    ):
        for name in ("Stoneware", "Jar", "Steep", "Bora", "Quince"):
            assert name not in page.text
    client.post("/sign-in", data={"password": "sour jar seven"})
    assert "Stone jar: Steep" in client.get("/").text


def test_guessing_is_slowed_and_a_new_password_signs_everybody_out(shared, clock):
    """After five wrong tries even the right one waits; later it works; a changed password asks again."""
    client = shared.test_client()
    client.environ_base["REMOTE_ADDR"] = "192.168.1.7"  # on this machine itself nobody waits
    for _ in range(6):
        client.post("/sign-in", data={"password": "guess"})
    assert client.post("/sign-in", data={"password": "sour jar seven"}).status_code == 429
    clock.now += timedelta(minutes=1)
    assert client.post("/sign-in", data={"password": "sour jar seven"}).status_code == 303
    shared.config["KYKLOS_PASSWORD"] += "x"
    assert client.get("/").status_code == 303


def test_on_this_machine_nothing_is_asked(demo_client):
    """Served on 127.0.0.1 there is no password."""
    assert demo_client.get("/").status_code == 200


def test_a_second_device_sees_the_same_step(kitchen):
    """Two clients of one household see one brew day at one step."""
    from ..actions.test_undo import begun

    number = begun(kitchen)
    first, second = (
        create_app(kitchen.database, kitchen.clock, "x", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
        for _ in range(2)
    )
    go(first, number)
    assert heading(second, number) == "Heat the water"
    with kitchen.database.reader() as session:
        assert session.get(BrewDay, number).step == 1
        assert session.get(Vessel, kitchen.vessel).heel_l == 0
        assert session.get(Place, 1).light == "shade"


def test_kept_records_of_another_version_are_told(demo):
    """A recipe nobody can read any more gives a sentence, not a fault."""
    with demo.writer() as session:
        session.get(KeptRecipe, 1).card = {"tea": 7}
        session.commit()
    client = create_app(demo, lambda: DEMO_NOW, "x", TESTING=True).test_client()
    page = client.get("/brew-day/recipes")
    assert page.status_code in {400, 409, 422}
    assert "another version" in page.text


def test_an_empty_household_is_led_to_its_first_brew(client):
    """Without vessel or culture brew day is a way to a first brew, with its kit and cautions."""
    page = client.get("/brew-day/").text
    assert "A first brew" in page
    for words in ("The kit", "Keep children away from it", "From nothing to the cloth going on"):
        assert words in page


def test_what_is_there_already_is_marked_on_the_way(kitchen):
    """Vessel and culture are marked as done; growing from a bottle is offered beside the plan."""
    house = create_app(kitchen.database, kitchen.clock, "x", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    page = house.get("/brew-day/first").text
    assert page.count('<li class="done">') == 2
    assert "Grow a SCOBY from a bottle" in page


def test_growing_starts_from_a_raw_bottle_and_a_step_from_what_went_before(demo_client):
    """Growing offers a bottle and no lots of one's own; a step towards jun goes on by the rule, with its shares."""
    page = demo_client.get("/brew-day/?kind=grow&vessel=4&culture=1").text
    assert "A disc in two weeks to a month" in page
    assert re.search(r'id="other_l"[^>]*value="0.5"|value="0.5"[^>]*id="other_l"', page)
    assert not re.search(r'name="lots"[^>]*checked|checked[^>]*name="lots"', page)
    page = demo_client.get("/brew-day/?kind=conversion&vessel=4&culture=3").text
    assert "The last step reached its window in time: 20 % further" in page
    assert re.search(r'id="sweetener2_percent"[^>]*value="40"|value="40"[^>]*id="sweetener2_percent"', page)
    assert '<option value="honey" selected>' in page  # mixed with


def test_other_sweeteners_say_how_much_sugar_they_stand_for(demo_client):
    """Honey and syrups are shown beside the white sugar that brings as much."""
    page = planned(demo_client, sweetener="honey")
    assert "of white sugar" in page
    assert "of white sugar" not in planned(demo_client)


def test_reactive_metal_and_glazes_are_warned_of(demo_client):
    """A stone jar brings its caution about the glaze into the plan, a glass jar the one about heat."""
    assert "leaches lead" in planned(demo_client)
    assert "leaches lead" not in planned(demo_client, vessel="2")
    assert "Hot tea cracks cold glass" in planned(demo_client, vessel="2")


def test_a_heel_belongs_to_a_tap_and_is_less_than_the_vessel(demo_client):
    """Only a tapped vessel keeps a heel; the sentence stands beside the field and what was typed is kept."""
    form = {
        "name": "Tap",
        "kind": "crock",
        "nominal_l": "5",
        "usable_l": "4",
        "diameter_cm": "18",
        "material": "glass",
        "place": "1",
    }
    page = demo_client.post("/vessels/new", data={**form, "heel_l": "0.4"})
    assert "Only a vessel with a tap" in page.text
    page = demo_client.post("/vessels/new", data={**form, "heel_l": "4.4", "tapped": "y"})
    assert "less than the fill line" in page.text
    assert 'value="4.4"' in page.text
    assert demo_client.post("/vessels/new", data={**form, "heel_l": "0.4", "tapped": "y"}).status_code == 303
    assert "stays below the tap as the heel" in demo_client.get("/brew-day/?kind=first&vessel=7&culture=1").text


def test_us_households_read_no_celsius_in_the_kitchen(free_jar):
    """Every sentence of every step is said in Fahrenheit, quarts and ounces."""
    form = {"name": "Q", "units": "us", "zone": "UTC", "theme": "auto", "tasters": "Odile Varga, Bram Sollie"}
    free_jar.post("/settings/", data=form)
    number = started(
        free_jar, cold_c="59", other_l="4 qt", leaf="5 g/l", sugar="55 g/l", tea="green", sweetener="honey"
    )
    for _ in range(14):
        page = free_jar.get(f"/brew-day/kitchen/{number}").text
        step = page[page.index("<h1 ") :]
        assert "°C" not in step
        assert " mL" not in step
        go(free_jar, number)
    assert heading(free_jar, number) == "Cover and label"


def test_more_starter_poured_into_a_held_brew_is_kept_as_a_portion(demo_client, demo):
    """Starter added later stands among what went in, and is drawn from its lot."""
    with demo.reader() as session:
        lot = next(found for found in culture_queries.starter_lots(session) if found.culture.name == "Bora")
        before = lot.left_l
    demo_client.post("/brews/10/starter", data={"litres": "0.2", "lot": str(lot.id)})
    with demo.reader() as session:
        assert session.get(Brew, 10).liquid.starters[-1].litres == pytest.approx(0.2)
        assert session.get(StarterLot, lot.id).left_l == pytest.approx(before - 0.2)
    assert "200 mL went to" in demo_client.get(f"/cultures/starters/{lot.id}").text


def test_a_guided_look_judges_while_one_answers(demo_client, demo):
    """The verdict follows each answer, with what to do and what would change it; kept, it stands on the brew's page."""
    asked = {"headers": {"HX-Request": "true"}}
    part = demo_client.get("/brews/7/inspect?surface=film-yeast", **asked).text
    assert "<html" not in part
    assert "Watch" in part
    assert "What would change it" in part
    part = demo_client.get("/brews/7/inspect?surface=disc&signs=froth&smell=rotten", **asked).text
    assert "Discard" in part
    assert "sanitiser" in part
    assert "What do you see?" in demo_client.get("/brews/7/inspect").text
    assert demo_client.post("/brews/7/inspect", data={"surface": ""}).status_code == 422
    assert demo_client.post("/brews/7/inspect", data={"surface": "disc", "smell": "violets"}).status_code == 422
    seen = {"surface": "film-yeast", "signs": ["strings", "lifted"], "smell": "bread", "note": "after the heat"}
    assert demo_client.post("/brews/7/inspect", data=seen).status_code == 303
    page = demo_client.get("/brews/7").text
    assert "Skim it off" in page
    assert "after the heat" in page
    with demo.reader() as session:
        look = session.get(Brew, 7).looks[-1]
        assert (look.surface, look.signs, look.smell) == ("film-yeast", ["strings", "lifted"], "bread")


def test_amounts_stand_first_in_what_the_household_measures_with(client, kitchen):
    """With a scale, or none told and grams, weight comes first; with tools but no scale bags, cups and spoons do."""
    query = "/brew-day/plan?" + urlencode({**PLAN, "vessel": kitchen.vessel, "culture": kitchen.culture, "lots": kitchen.lot, "disc": 0})

    def first_cell(row):
        page = client.get(query, headers={"HX-Request": "true"}).text
        return re.search(rf'(?s)<th scope="row">{row}</th>\s*<td>(.*?)</td>', page)[1]

    assert first_cell("White sugar").endswith(" g")
    kitchen.do(recipes.add_tool, recipes.AddTool(kind="thermometer"))
    assert "cup" in first_cell("White sugar")
    assert "bag" in first_cell("Leaf")
    kitchen.do(recipes.add_tool, recipes.AddTool(kind="scale"))
    assert first_cell("White sugar").endswith(" g")
