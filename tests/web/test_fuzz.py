"""Whatever is sent to whatever address, the answer is a page with a sentence, never a fault."""

import random

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from wtforms.fields.core import UnboundField

from kyklos.web.kit.units import NotANumberError, parse
from kyklos.web.pages.brew_day.forms import PlanForm
from tests import fuzz_routes

PLAN_FIELDS = [name for name, _ in vars(PlanForm).items() if isinstance(getattr(PlanForm, name), UnboundField)]
FIELDS = {
    "/brews/7/reading": ["ph", "instrument", "celsius", "at", "view"],
    "/brews/7/tasting": ["taster", "score"],
    "/brews/7/look": ["surface"],
    "/brews/7/harvest/reserve": ["litres", "ph", "instrument"],
    "/brews/7/inspect": ["surface", "signs", "smell", "note"],
    "/brews/10/starter": ["litres", "lot"],
    "/brews/7/discard": ["reason", "version"],
    "/brews/7/happened/glass": ["litres"],
    "/brews/7/happened/out": ["out-litres", "out-leaves", "out-at", "out-reason", "out-version"],
    "/brews/7/happened/into": ["into-enters", "into-litres", "into-sugar_g_per_l", "into-lot", "into-ph", "into-at"],
    "/brews/7/happened/jar": ["jar-vessel", "jar-how", "jar-litres", "jar-at", "jar-version"],
    "/brews/7/happened/join": ["join-into", "join-at", "join-version"],
    "/brews/7/happened/move": ["move-place", "move-heater_c", "move-at"],
    "/brews/7/began": [
        "pitched_at",
        "start_doubt_days",
        "litres",
        "tea",
        "leaf_g_per_l",
        "sugar_g_per_l",
        "starter_ph",
        "vessel",
        "version",
    ],
    "/brews/going": [
        "ago",
        "doubt",
        "litres",
        "vessel",
        "new_vessel",
        "nominal_l",
        "culture",
        "new_culture",
        "honey",
        "ph",
        "celsius",
        "taster",
        "score",
    ],
    "/day-book/7/undo": ["of"],
    "/brews/7/harvest/bottles": [
        "kind",
        "count",
        "volume_ml",
        "headspace_cm",
        "flavour",
        "flavour_g_per_l",
        "sugar_g_per_l",
        "limit_bar",
        "note",
    ],
    "/cellar/chill": ["bottle"],
    "/cellar/warm": ["bottle"],
    "/cellar/open/1": ["hiss", "taste"],
    "/cellar/gone": ["bottle"],
    "/cellar/move": ["bottle", "what", "to_whom"],
    "/cellar/found": ["brew", "count", "kind", "volume_ml", "flavour", "filled_at", "place", "note"],
    "/cellar/park": ["line"],
    "/cellar/bottles/20/score": ["taster", "liked", "again", "fizz", "word", "next_time"],
    "/flavours/new": ["name", "ingredient-0", "amount-0", "form-0", "moment-0", "sugar", "hours", "note"],
    "/flavours/ingredients": ["name", "form", "sugar", "ph", "acid_g_per_l", "abv", "unit", "unit_g", "months", "preserved"],
    "/brews/7/infuse": ["name", "litres", "hours", "cover", "cold", "ingredient-0", "amount-0"],
    "/trials/1/step": ["grams", "score", "taster", "word"],
    "/infusions/1/taste": ["more_hours", "ph", "word"],
    "/vessels/new": [
        "name",
        "kind",
        "nominal_l",
        "usable_l",
        "diameter_cm",
        "material",
        "place",
        "new_place",
        "new_place_c",
    ],
    "/vessels/1": ["name", "nominal_l", "usable_l", "version", "place"],
    "/vessels/places/1": ["place_name", "celsius"],
    "/cultures/new": ["name", "diet", "origin", "starter_l", "starter_ph", "story"],
    "/cultures/passport": ["text", "disc", "litres", "who"],
    "/cultures/1/rule": ["name", "backups_wanted", "story"],
    "/cultures/1/gift": ["disc", "lot", "litres", "who"],
    "/cultures/1/receive": ["got_disc", "got_l", "got_ph", "from_whom"],
    "/cultures/1/merge": ["lot"],
    "/cultures/1/conversion": ["step"],
    "/cultures/discs/4/measure": ["name", "thickness_mm", "diameter_cm"],
    "/cultures/discs/4/part": ["part_mm", "part_name"],
    "/cultures/discs/4/thin": ["thin_mm", "keep_chunk"],
    "/cultures/discs/4/house": ["hotel", "position"],
    "/cultures/discs/4/join": ["brew", "join_position", "other_line"],
    "/cultures/discs/4/end": ["ended_as", "note"],
    "/cultures/hotels/5/feed": ["of", "litres", "brew", "ph", "level_l", "fresh_cover"],
    "/cultures/hotels/5/draw": ["culture", "draw_l", "draw_ph"],
    "/cultures/starters/3": ["kept_in", "ph", "instrument", "base_ml", "base_normality", "sample_ml", "doubt"],
    "/cultures/trace/hotel/5/cut": ["step", "reason", "open"],
    "/cultures/trace/hotel/5/apart": ["node", "clear"],
    "/settings/": ["name", "units", "zone", "theme", "tasters", "version"],
    "/brew-day/pitch": PLAN_FIELDS,
    "/brew-day/start": PLAN_FIELDS,
    "/brew-day/kitchen/1/step": ["go", "sugar_g", "cooling_c", "leaf_g"],
    "/brew-day/kitchen/1/timer": ["minutes"],
    "/brew-day/timers/1/stop": [],
    "/brew-day/recipes": ["name", "note", "vessel", "culture"],
    "/brew-day/recipes/1": ["name", "note", "version"],
    "/brew-day/recipes/1/copy": [],
    "/brew-day/tools": ["kind", "litres", "number"],
    "/brew-day/tools/1/drop": [],
    "/sign-in": ["password", "next"],
    "/undo/1": [],
}
NASTY = st.one_of(
    st.sampled_from(
        [
            "",
            " ",
            "0",
            "-1",
            "3,4",
            "1e9",
            "nan",
            "inf",
            "9" * 40,
            "1/0",
            "L*9**9**9**9",
            "5 m**99",
            "\x00",
            "<script>",
            "½",
            "0001-01-01T00:00",
            "9999-12-31T23:59",
            "1",
            "2",
            "12",
            "75 f",
            "meter",
            "swing-top",
            "plain",
            "green",
            "honey",
            "glass",
            "jar",
        ]
    ),
    st.text(max_size=30),
    st.integers().map(str),
    st.floats().map(str),
)


@settings(max_examples=8, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@pytest.mark.parametrize("path", FIELDS)
@given(data=st.data())
def test_nothing_sent_makes_a_fault(demo_client, path, data):
    """Random and nasty values in every field of every form end in a page, with or without htmx."""
    sent = {name: data.draw(NASTY, label=name) for name in FIELDS[path]}
    for headers in ({}, {"HX-Request": "true"}):
        assert demo_client.post(path, data=sent, headers=headers).status_code < 500
    if path == "/brew-day/pitch":
        assert demo_client.get("/brew-day/plan", query_string=sent).status_code == 200
        assert demo_client.get("/brew-day/why/start", query_string=sent).status_code in {200, 404}
        assert demo_client.get("/brew-day/places", query_string=sent).status_code in {200, 422}
        assert demo_client.get("/brew-day/", query_string=sent).status_code == 200
    if path.endswith("/harvest/bottles"):
        assert demo_client.get("/brews/9/harvest/preview", query_string=sent).status_code == 200


@pytest.mark.parametrize(
    "path",
    [
        "/brews/{}",
        "/brews/{}/harvest",
        "/vessels/{}",
        "/cellar/why/{}",
        "/brews/{}/why/start",
        "/brew-day/kitchen/{}",
        "/brew-day/labels/{}",
        "/brew-day/labels/{}.pdf",
    ],
)
@pytest.mark.parametrize("number", [0, 77, 10**30])
def test_numbers_of_no_record_get_a_friendly_page(demo_client, path, number):
    """Zero, unknown and enormous numbers are simply not there."""
    assert demo_client.get(path.format(number)).status_code == 404


@given(NASTY, st.sampled_from(["volume", "temperature", "number", "mass"]), st.sampled_from(["metric", "us"]))
def test_reading_a_quantity_gives_a_number_or_a_sentence(text, kind, units):
    """Any text is a finite number or a sentence, at once."""
    told = ""
    value = 0.0
    try:
        value = parse(text, kind, units)
    except NotANumberError as problem:
        told = str(problem)
    assert told.endswith(".") or abs(value) < float("inf")


NAMED = [
    ("GET", "/brews/7/tapped?share=nan&every=inf&celsius=-1e999"),
    ("POST", "/vessels/1/moved/1"),
    ("POST", "/tasters/blind?brews=²"),
    ("GET", "/day-book/?of=brew-²&before=" + "9" * 40),
    ("GET", "/brews/" + "9" * 20),
    ("GET", "/cellar/bottles/²"),
    ("GET", "/almanac/?weeks=" + "9" * 400),
    ("GET", "/brew-day/?vessel=" + "9" * 30 + "&culture=٣&recipe=²"),
    ("POST", "/cultures/trace/hotel/5/apart"),
]


@pytest.mark.parametrize(("method", "path"), NAMED)
def test_numbers_that_are_none_get_a_sentence(demo_client, method, path):
    """Superscripts, other alphabets' digits, far too many digits, undefined and infinite ones: never a fault."""
    told = {"brews": ["²", "9" * 5000, "7"], "node": "hotel-²", "vessel": "9" * 30}
    assert demo_client.open(path, method=method, data=told if method == "POST" else None).status_code < 500


def test_strange_requests_to_every_address_make_no_fault(demo_file):
    """Every address and every form of the pages, with strange numbers and words; `make bench` sends 30,000."""
    assert fuzz_routes.run(150, random.Random(20270301), demo_file) == []
