"""Pages: each place answers, quickly and small; wrong addresses and wrong input are met kindly."""

import gzip
import re
import statistics
import time
from urllib.parse import urlsplit

import pytest
from werkzeug.datastructures import MultiDict

from kyklos.core.calc import answer
from kyklos.reckon.brewing.brew_records import timeline
from kyklos.reckon.forecast import forecasting
from kyklos.serving.app import create_app
from kyklos.store.read import queries
from tests.pace import slower

PLACES = [
    "/",
    "/brew-day/",
    "/vessels/",
    "/cultures/",
    "/cellar/",
    "/settings/",
    "/brews/7",
    "/brews/7/harvest",
    "/brews/1",
    "/vessels/new",
]


@pytest.mark.alone
@pytest.mark.parametrize("path", PLACES)
def test_each_place_answers_within_50_ms_and_25_kb(demo_client, path):
    """On the sample household a place takes under 50 ms at the median on a common machine, and under 25 kB compressed.

    A slower machine has as much more time as it needs for a fixed piece of work; a quicker one has no less.
    """
    assert demo_client.get(path).status_code == 200
    rounds = []
    for _ in range(3):  # the best of three rounds: other work on the machine is not the page's
        spent = []
        for _ in range(7):
            started = time.process_time()
            page = demo_client.get(path)
            spent.append(time.process_time() - started)
        rounds.append(statistics.median(spent))
    assert min(rounds) < 0.05 * slower()
    assert len(gzip.compress(page.data)) < 25_000


def fetched(client, path, encoding="identity"):
    """What is sent for an address, as bytes."""
    with client.get(path, headers={"Accept-Encoding": encoding}) as response:
        return response.get_data()


def test_the_first_page_is_under_200_kb_in_all(demo_client):
    """Page, styles, scripts and Latin fonts together, compressed as they are sent."""
    text, fonts = (fetched(demo_client, path).decode() for path in ("/", "/static/vendor/fonts/fonts.css"))
    assets = {urlsplit(found).path for found in re.findall(r'(?:href|src)="(/static/[^"]+)"', text)}
    assets |= {f"/static/vendor/fonts/{name}" for name in re.findall(r'url\("([^"]+-latin\.woff2)"\)', fonts)}
    assert len(assets) >= 8
    assert sum(len(fetched(demo_client, path, "gzip, deflate")) for path in [*assets, "/"]) < 200_000


@pytest.mark.parametrize(
    "path", ["/", "/brew-day/", "/vessels/", "/cultures/", "/cellar/", "/settings/", "/vessels/new", "/cultures/new"]
)
def test_an_empty_household_is_met_everywhere(client, path):
    """No place needs anything to exist."""
    assert client.get(path).status_code == 200


def test_an_empty_household_is_shown_how_to_begin(client):
    """Nobody said anything yet: the round asks how the household measures; then it offers ways to a first culture."""
    assert "Save and begin" in client.get("/").text
    assert client.post("/begin/welcome", data={"units": "metric"}).status_code == 303
    page = client.get("/").text
    assert all(text in page for text in ("From someone who brews", "I already have a brew going", "Add a jar by itself"))


@pytest.mark.parametrize(
    "path",
    [
        "/nowhere",
        "/brews/999",
        "/vessels/999",
        "/brews/999/harvest",
        "/brews/1/why/stars",
        "/cellar/why/999",
        "/undo/1",
    ],
)
def test_unknown_addresses_and_vanished_records_get_a_friendly_page(demo_client, path):
    """Nothing is answered with an exception page."""
    page = demo_client.get(path)
    assert page.status_code in {404, 405}
    assert "Back to the round" in page.text


def test_headers_host_and_csrf(demo):
    """Strict headers everywhere, no inline script or style, no other host name, no write without a token."""
    app = create_app(demo, secret="x", TESTING=True)
    client = app.test_client()
    page = client.get("/")
    assert "script-src 'self'" in page.headers["Content-Security-Policy"]
    assert page.headers["X-Content-Type-Options"] == "nosniff"
    assert " style=" not in page.text
    assert "onclick" not in page.text
    assert "<script>" not in page.text
    assert client.get("/", headers={"Host": "kyklos.example:8017"}).status_code == 421
    writes = [rule for rule in app.url_map.iter_rules() if "POST" in rule.methods]
    assert len(writes) >= 15
    for rule in writes:
        if rule.endpoint.startswith("devices."):
            continue  # by token alone: it reads no cookie
        path = rule.rule
        for name in rule.arguments:
            path = path.replace(f"<int:{name}>", "1")
        assert client.post(path).status_code == 400, path


VESSEL = {
    "name": "Jar",
    "kind": "jar",
    "nominal_l": "4",
    "usable_l": "3,5",
    "diameter_cm": "15",
    "material": "glass",
    "place": "0",
    "new_place": "Shelf",
    "new_place_c": "22",
}


@pytest.mark.parametrize(
    "change, sentence",
    [
        ({"nominal_l": ""}, "Type a number here"),
        ({"nominal_l": "four"}, "is not a number"),
        ({"nominal_l": "-4"}, "does not look right"),
        ({"nominal_l": "99999999"}, "far too large"),
        ({"usable_l": "5"}, "above the vessel"),
        ({"new_place_c": "5 parsec"}, "is not a unit"),
        ({"material": "gold"}, "Not a valid choice"),
        ({"name": "x" * 99}, "40 letters"),
    ],
)
def test_wrong_vessels_keep_what_was_typed(client, change, sentence):
    """A wrong value is told beside its field; all that was typed is kept; nothing is written."""
    page = client.post("/vessels/new", data={**VESSEL, **change})
    assert page.status_code == 422
    assert sentence in page.text
    assert 'value="3,5"' in page.text or "usable_l" in change
    assert client.get("/vessels/").text.count('data-stop') == 0


def test_all_that_is_wrong_is_told_at_once(client):
    """An empty form names every field that is missing, the name too."""
    page = client.post("/vessels/new", data={"kind": "jar", "material": "glass", "place": "0"}).text
    assert page.count("Type a number here") == 3
    assert "Give the vessel a name." in page


def test_commas_and_units_are_understood(client):
    """3,5 is 3.5, and quarts are litres."""
    client.post("/vessels/new", data={**VESSEL, "nominal_l": "1 gal"})
    assert "free now: 3.5 L" in client.get("/vessels/").text
    assert "3.8 L" in client.get("/vessels/1/card").text


PLAN = {
    "kind": "batch",
    "recipe": "0",
    "vessel": "1",
    "culture": "1",
    "tea": "black",
    "leaf": "5",
    "sweetener": "sugar",
    "sugar": "55",
    "heat_method": "concentrate",
    "cold_c": "15",
    "steep": "usual",
    "honey": "raw",
    "source": "tap",
    "treatment": "none",
    "other_l": "4",
    "other_kind": "fresh",
    "starter_instrument": "meter",
    "floor": "usual",
    "seed": "both",
    "disc": "0",
    "reserve": "stirred",
    "instrument": "meter",
}


@pytest.mark.parametrize(
    "change, sentence",
    [
        ({}, "about pH 3.2 (2.9 to 3.5, not measured)"),
        ({"starter_ph": "2.9"}, "by calibrated meter"),
        ({"base_ml": "12", "base_normality": "0.1", "sample_ml": "10"}, "titrated"),
        ({"base_ml": "12"}, "needs all three"),
        ({"other_l": "", "starter_ph": "3"}, "Say how much there is of it"),
        ({"other_l": "", "lots": ["1", "4", "6"]}, "about pH 3.0"),
        ({"sweetener": "honey"}, "straight swap"),
        ({"sweetener2": "maple", "sweetener2_percent": "40"}, "Maple syrup"),
        ({"sweetener2": "maple"}, "share of the second sweetener"),
        ({"tea2": "herbal", "tea2_percent": "25"}, "No tea leaf in it"),
        ({"liquid_l": "7.5"}, "overflow its fill line by 700 mL"),
        ({"liquid_l": "9"}, "over its brim by 1 L"),
        ({"disc_l": "0.3"}, "300 mL</tspan> disc"),
        ({"heel_l": "0.5"}, "Heel of the last brew"),
        ({"leaf": "lots"}, "is not a number"),
        ({"leaf": "40 bags"}, "40 bags"),
        ({"leaf": "200"}, "outside what a brew takes"),
        ({"sugar": "2 cups"}, "2 cups"),
        ({"sugar": "3 bags"}, "not come in bags"),
        ({"starter_ph": "4.4"}, "too weak"),
        ({"vinegar_l": "100 ml"}, "Vinegar as a last resort"),
        ({"share": "3"}, "outside"),
        ({"share": "7"}, "Little starter"),
        ({"share": "12"}, "12 %"),
        ({"vessel": "77"}, "Not a valid choice"),
        ({"cold_c": "59 f"}, "Mixes to"),
        ({"heat_method": "boil"}, "Poured at"),
        ({"heat_method": "cold"}, "in the fridge"),
        ({"tea": "green"}, "3 min at 80 °C"),
        ({"tea": "green", "steep_minutes": "5", "water_c": "82"}, "5 min at 82 °C"),
        ({"source": "well", "alkalinity": "250 mg/l"}, "alkalinity 5 meq/L"),
        ({"alkalinity": "soft"}, "is not a number"),
        ({"treatment": "chlorine"}, "uncovered 24 to 48 hours"),
        ({"kind": "grow", "other_kind": "bottle"}, "A disc in two weeks"),
        ({"kind": "trial", "base": "oat milk", "leaf": "0"}, "No trial with milk"),
        ({"kind": "dried", "other_l": ""}, "brings no acid"),
    ],
)
def test_the_plan_answers_while_typing(demo_client, change, sentence):
    """The plan's card answers each change with amounts or with a sentence, never with an error page."""
    page = demo_client.get("/brew-day/plan", query_string={**PLAN, **change}, headers={"HX-Request": "true"})
    assert page.status_code == 200
    assert sentence in page.text
    assert "<html" not in page.text


def test_us_units_are_spoken_throughout(demo_client):
    """After choosing US units the plan speaks quarts, cups, ounces and Fahrenheit; its amounts are the same."""
    form = {
        "name": "Quince Yard",
        "units": "us",
        "zone": "America/Chicago",
        "theme": "dark",
        "tasters": "Odile Varga, Bram Sollie",
    }
    assert demo_client.post("/settings/", data=form).status_code == 303
    page = demo_client.get(
        "/brew-day/plan",
        query_string={**PLAN, "liquid_l": "6 qt", "cold_c": "59", "leaf": "0.7", "sugar": "55 g/l", "other_l": "3 qt"},
        headers={"HX-Request": "true"},
    ).text
    assert " qt" in page
    assert "oz/gal" in demo_client.get("/brew-day/").text
    assert "fl oz" in demo_client.get("/brews/7/harvest").text
    assert " oz" in page
    assert "°F" in page
    assert 'data-theme="dark"' in demo_client.get("/").text


def test_a_wrong_reading_is_told_at_the_stop_and_kept(demo_client):
    """Without a page reload the stop comes back with the sentence and the number typed."""
    asked = {"headers": {"HX-Request": "true"}}
    page = demo_client.post("/brews/7/reading", data={"ph": "three", "instrument": "meter", "view": "round"}, **asked)
    assert page.status_code == 422
    assert "is not a number" in page.text
    assert 'value="three"' in page.text
    page = demo_client.post("/brews/7/reading", data={"ph": "7,5", "instrument": "strip", "view": "round"}, **asked)
    assert "keep it" in page.text
    page = demo_client.post(
        "/brews/7/reading", data={"ph": "7,5", "instrument": "strip", "view": "round", "sure": "1"}, **asked
    )
    assert page.status_code == 200
    assert "Undo" in page.text
    page = demo_client.post(
        "/brews/7/reading", data={"ph": "3.3", "instrument": "meter", "at": "2031-01-01T10:00", "view": "brew"}, **asked
    )
    assert "in the future" in page.text


@pytest.mark.parametrize(
    "path, data",
    [
        ("/brews/7/tasting", {}),
        ("/brews/7/tasting", {"taster": "1", "score": "9"}),
        ("/brews/7/tasting", {"taster": "77", "score": "0"}),
        ("/brews/7/look", {"surface": "stars"}),
        ("/brews/7/discard", {"reason": ""}),
        ("/brews/7/harvest/end", {}),
        ("/brews/7/harvest/bottles", {"kind": "swing-top", "count": "x"}),
        ("/brews/7/harvest/reserve", {"litres": "99"}),
        ("/cellar/chill", {}),
        ("/cellar/chill", {"bottle": "no"}),
        ("/cellar/open/1", {"hiss": "9"}),
        ("/cellar/open/999", {"hiss": "1"}),
        ("/vessels/places/1", {"place_name": "", "celsius": "hot"}),
        ("/settings/", {"zone": "Moon/Base"}),
        ("/brew-day/pitch", PLAN),
        ("/cultures/new", {"name": "Bora", "diet": "sugar", "origin": "received"}),
        ("/brews/1/reading", {"ph": "3.2"}),
    ],
)
def test_every_write_path_refuses_what_cannot_be(demo_client, path, data):
    """Each way of writing refuses wrong input with a client's status and a page, never a fault of its own."""
    for headers in ({}, {"HX-Request": "true"}):
        page = demo_client.post(path, data={**data, "view": "brew"}, headers=headers)
        assert page.status_code in {400, 404, 422}, page.status_code
        assert page.text.strip()


def test_a_stale_vessel_form_is_refused_and_kept(demo_client):
    """A vessel changed in another window is not overwritten; what was typed stays in the form."""
    form = {
        "name": "Jar two",
        "kind": "jar",
        "nominal_l": "4",
        "usable_l": "3.4",
        "diameter_cm": "15",
        "material": "glass",
        "place": "2",
        "version": "1",
    }
    assert demo_client.post("/vessels/3", data={**form, "name": "Jar zwei"}).status_code == 303
    page = demo_client.post("/vessels/3", data={**form, "name": "Jar deux"})
    assert page.status_code == 409
    assert 'value="Jar deux"' in page.text
    assert "Jar zwei" in page.text


def test_undo_from_the_message(demo_client):
    """The message that confirms an action carries its undo, and undo brings the page back."""

    def shown():
        text = re.sub(r'value="[^"]{60,}"|name="log-[0-9-]+"|name="once" value="[^"]+"', "", demo_client.get("/brews/7").text)
        return text.split("<h1>")[1].split('class="toasts"')[0]

    before = shown()
    page = demo_client.post(
        "/brews/7/tasting", data={"taster": "1", "score": "0", "view": "round"}, headers={"HX-Request": "true"}
    ).text
    number = page.split('action="/undo/')[1].split('"')[0]
    assert demo_client.post(f"/undo/{number}", follow_redirects=True).status_code == 200
    assert shown() == before


def test_never_measured_is_said_and_never_called_safe(demo_client):
    """The jar without any reading is forecast, tagged as not measured, and no chance of safety is computed for it."""
    page = demo_client.get("/brews/9").text
    assert "not measured" in page.lower()
    assert "safe by day 7" not in page
    assert "safe by day 7" in demo_client.get("/brews/8").text


def questions(app, demo):
    """The five numbers that answer why, each as shown in the application."""
    from flask import g

    from kyklos.web.pages.brew_day.defaults import plan_form
    from kyklos.web.pages.brew_day.planning import plan_of
    from kyklos.web.pages.brews.harvesting import bottles_form, tell

    with app.test_request_context("/"):
        app.preprocess_request()
        brew = queries.get(g.session, queries.Brew, 7)
        plan = plan_of(plan_form(MultiDict({**PLAN, "starter_ph": "3.1"})))
        told = tell(brew, bottles_form(brew))
        out = forecasting.forecast_of(g.session, brew)
        from kyklos.web.pages.brews.routes import why_of

        yield "starting pH", plan.whys["start"], plan.plan.start_ph
        yield "starter", plan.whys["starter"], plan.plan.choice.advised * plan.plan.final_l * 1000
        yield "ready", why_of(brew, "ready", "Odile Varga"), out.ready["Odile Varga"].p50
        assert 0 <= told.reserve_l * 1000 - told.reserve_why.value() <= 10  # asked for in whole centilitres, never less
        yield "reserve", told.reserve_why, told.reserve_why.value()
        yield "chill-by", told.chill_why, told.future.chill_by_day
        assert timeline(brew)


def test_five_numbers_are_computed_again_from_what_their_why_shows(demo):
    """Starting pH, starter, ready, reserve and chill-by follow from the inputs that their why shows, through the core."""
    import json

    from kyklos.clock import fixed_clock
    from kyklos.demo.household import DEMO_NOW

    app = create_app(demo, fixed_clock(DEMO_NOW), "x", TESTING=True)
    seen = []
    for name, why, number in questions(app, demo):
        found = answer(why.calculation, json.loads(json.dumps(why.question)))
        for key in why.result:
            found = found[key]
        assert found * why.times == pytest.approx(number, rel=1e-6), name
        seen.append(name)
    assert len(seen) == 5


def test_the_first_preview_of_bottles_can_be_asked_why(demo_client):
    """The why beside the chill-by day of the harvest page answers before anything was typed."""
    page = demo_client.get("/brews/7/harvest").text
    address = re.search(r'href="([^"]+why-chilled[^"]+)"', page)[1].replace("&amp;", "&")
    shown = re.search(r"<dt>Chill by</dt><dd>(\w+)", page)[1]
    assert "Chill by: " in demo_client.get(address).text
    again = demo_client.get(address.replace("why-chilled", "harvest/preview"), headers={"HX-Request": "true"}).text
    assert f"<dd>{shown}" in again


@pytest.mark.parametrize(
    "path", ["/brews/7/why/start", "/brews/7/why/reserve", "/brews/7/why/ready?for=Odile+Varga", "/brews/7/why/starter"]
)
def test_why_pages_stand_alone_and_as_a_part(demo_client, path):
    """A why opens as a page without scripts, and as a part with them."""
    assert "<html" in demo_client.get(path).text
    part = demo_client.get(path, headers={"HX-Request": "true"}).text
    assert "<html" not in part
    assert "Source" in part
