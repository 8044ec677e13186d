"""The first minutes: a few questions once, a jar and a culture in one form, and no calibrated meter taken for granted."""

import re

import pytest

from kyklos.actions.brewing import calibrating, watching
from kyklos.store.read import queries
from kyklos.store.records import Culture, Disc, Household, StarterLot, Taster, Vessel

GIFT = {
    "size": "3.78541", "place": "Counter", "place_c": "72", "culture": "Gift", "diet": "sugar", "liquid_l": "1", "liquid_l-in": "cups",
    "with_disc": "y",
}  # fmt: skip


def chosen(page, name):
    """What is chosen in a list of choices."""
    select = re.search(rf'(?s)<select[^>]*name="{name}".*?</select>', page)[0]
    return re.search(r'value="([^"]*)"[^>]*selected', select)[1]


def all_of(database, kind):
    """All rows of a kind."""
    with database.reader() as session:
        return session.query(kind).all()


def test_units_are_guessed_by_the_browser_and_each_question_may_be_left(client, database):
    """An American browser is offered quarts and cups; an empty answer leaves one taster, and no zone is made up."""
    page = client.get("/", headers={"Accept-Language": "en-US,en;q=0.8"}).text
    assert re.search(r'value="us"\s+checked', page)
    assert re.search(r'value="metric"\s+checked', client.get("/", headers={"Accept-Language": "fr"}).text)
    assert client.post("/begin/welcome", data={"units": "us", "zone": "America/Chicago"}).status_code == 303
    house = all_of(database, Household)[0]
    assert (house.units, house.zone, house.reads_ph) == ("us", "America/Chicago", "")
    assert [taster.name for taster in all_of(database, Taster)] == ["Me"]
    assert "Welcome" not in client.get("/").text


def test_a_wrong_zone_is_told_and_what_was_typed_stays(client):
    """The question comes back with its problem, and the names."""
    page = client.post("/begin/welcome", data={"units": "us", "zone": "Mars/Olympus", "tasters": "Ana, Ben"})
    assert page.status_code == 422
    assert "not known" in page.text
    assert re.findall(r'name="tasters" value="([^"]*)"', page.text) == ["Ana", "Ben", ""]


def test_a_gift_becomes_jar_culture_disc_and_starter_and_the_plan_opens_with_them(client, database):
    """One form, in cups and °F, and brew day stands on a plan that can be started."""
    client.post("/begin/welcome", data={"units": "us", "zone": "America/Chicago", "reads_ph": "strips"})
    answer = client.post("/begin/gift", data=GIFT)
    assert answer.status_code == 303
    vessel, culture, lot = (all_of(database, kind)[0] for kind in (Vessel, Culture, StarterLot))
    assert (vessel.nominal_l, culture.name, len(all_of(database, Disc))) == (pytest.approx(3.785, abs=0.01), "Gift", 1)
    with database.reader() as session:
        assert queries.get(session, StarterLot, lot.id).left_l == pytest.approx(0.2366, abs=0.001)
        assert queries.get(session, Vessel, vessel.id).place.celsius == pytest.approx(22.2, abs=0.1)
    plan = client.get(answer.location).text
    assert "First jar" in plan
    assert "Start, step by step" in plan
    assert "One entry needs fixing" not in plan


def test_a_raw_bottle_leads_to_growing_a_scoby(client):
    """From a bottle the first brew grows a SCOBY; nothing came with it yet."""
    client.post("/begin/welcome", data={"units": "metric"})
    answer = client.post("/begin/bottle", data={**GIFT, "size": "1", "place_c": "22"})
    assert "kind=grow" in answer.location
    assert 'name="kind" value="grow" checked' in client.get(answer.location).text


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"size": "other", "jar_l": ""}, "A jar of"),
        ({"place": ""}, "Say where it will stand"),
        ({"place_c": "warm"}, "not a number"),
        ({"culture": ""}, "Give the culture a name"),
        ({"size": "900"}, "Not a valid choice"),
    ],
)
def test_a_wrong_answer_is_told_beside_its_field_and_nothing_is_written(client, database, change, sentence):
    """The form comes back with what was typed."""
    client.post("/begin/welcome", data={"units": "metric"})
    page = client.post("/begin/gift", data={**GIFT, "size": "3", "place_c": "22", **change})
    assert page.status_code == 422
    assert sentence in page.text
    assert all_of(database, Vessel) == all_of(database, Culture) == []


@pytest.mark.parametrize(("told", "reader"), [("", "strip"), ("strips", "strip"), ("nothing", "strip"), ("meter", "uncalibrated")])
def test_nothing_assumes_a_calibrated_meter(client, kitchen, told, reader):
    """Until a meter's calibration is written down, a reading is by strip, or by a meter that is not calibrated."""
    with kitchen.database.writer() as session, session.begin():
        session.query(Household).one().reads_ph = told
    brew = kitchen.pitch()
    for path in (f"/brews/{brew}/harvest", "/brew-day/"):
        assert chosen(client.get(path).text, "instrument") == reader
    shown = client.get("/quick/", query_string={"line": "3.4", "here": brew}, headers={"HX-Request": "true"}).text
    assert ("strip" if reader == "strip" else "not calibrated") in shown


def test_a_meter_counts_as_calibrated_while_its_own_calibrations_say_so(client, kitchen):
    """Written down and set at both buffers it is offered as calibrated; past its interval no more."""
    made = kitchen.do(watching.add_instrument, watching.AddInstrument(kind="meter", name="Pen"))
    kitchen.do(calibrating.note_calibration, calibrating.NoteCalibration(instrument_id=made.made["instrument"]))
    kitchen.pitch()
    assert chosen(client.get("/brew-day/").text, "instrument") == "meter"
    kitchen.clock.turn(60)
    assert chosen(client.get("/brew-day/").text, "instrument") == "uncalibrated"


def test_the_questions_are_asked_once_and_an_old_page_changes_nothing(client, database):
    """Sent again from a page left open, they rename nobody and change no unit."""
    client.post("/begin/welcome", data={"units": "us", "tasters": "Ana, Ben"})
    assert client.post("/begin/welcome", data={"units": "metric"}).status_code == 303
    assert all_of(database, Household)[0].units == "us"
    assert [taster.name for taster in all_of(database, Taster)] == ["Ana", "Ben"]
