"""The quick line beyond readings: bottles, harvest, hotel, starter, moves, guided look; what it says is what it does."""

import pytest

from kyklos.actions import household
from kyklos.core.bottles.heard import HISS_WORDS
from kyklos.reckon.bottles.pressure import bottle_ask_of
from kyklos.store.records import Bottle, Bottling, Change, HotelFeed, Reading, StarterLot, Vessel

CROCK, JAR = 7, 9


def shown(client, line, **more):
    """What is shown while a line is typed."""
    return client.get("/quick/", query_string={"line": line, **more}, headers={"HX-Request": "true"}).text


def standing(demo, flavour):
    """Bottles of a flavour that stand, by state."""
    with demo.reader() as session:
        query = session.query(Bottle.state).join(Bottling).filter(Bottling.flavour == flavour)
        states = [state for (state,) in query]
        return {state: states.count(state) for state in ("warm", "cold", "gone")}


def only_filling(demo, *states):
    """A flavour of which exactly one filling stands in some state."""
    with demo.reader() as session:
        rows = session.query(Bottling.flavour, Bottling.id).join(Bottle).filter(Bottle.state.in_(states)).distinct().all()
    counts = [flavour for flavour, _ in rows]
    return next(flavour for flavour in counts if counts.count(flavour) == 1 and flavour.isalpha())


def last_said(demo):
    """What the last change says."""
    with demo.reader() as session:
        return session.query(Change.says).order_by(Change.id.desc()).first()[0]


def test_an_opened_bottle_is_gone_with_its_hiss_and_nothing_lands_on_a_jar(demo_client, demo):
    """One bottle of the filling is gone, with how it opened and tasted; no reading, taste or note of a brew is written."""
    flavour = only_filling(demo, "warm", "cold")
    before = standing(demo, flavour)
    assert "1 bottle opened" in shown(demo_client, f"opened one {flavour}, flat, too sweet")
    assert demo_client.post("/quick/", data={"line": f"opened one {flavour}, flat, too sweet"}).status_code == 303
    after = standing(demo, flavour)
    assert (after["gone"] - before["gone"], sum(after.values())) == (1, sum(before.values()))
    with demo.reader() as session:
        opened = session.query(Bottle).order_by(Bottle.gone_at.desc(), Bottle.id.desc()).first()
        assert (opened.hiss, opened.taste) == (0, "too sweet")


def test_how_it_opened_and_which_bottles_are_asked_where_the_line_does_not_say(demo_client, demo):
    """Nothing is written until both are clear; the choice made counts and is not lost."""
    flavour = only_filling(demo, "warm", "cold")
    page = demo_client.post("/quick/", data={"line": f"opened a {flavour}"})
    assert page.status_code == 422
    assert "How did it open?" in page.text
    page = demo_client.post("/quick/", data={"line": "opened a bottle, loud"})
    assert page.status_code == 422
    assert "Which bottles?" in page.text
    before = standing(demo, flavour)
    assert demo_client.post("/quick/", data={"line": f"opened a {flavour}", "hiss": "2"}).status_code == 303
    assert standing(demo, flavour)["gone"] == before["gone"] + 1


def test_bottles_go_into_the_fridge_and_words_stay_with_them(demo_client, demo):
    """All of a filling that stand warm are chilled; a word about bottles is kept with the bottles."""
    flavour = only_filling(demo, "warm")
    count = standing(demo, flavour)["warm"]
    assert f"{count} bottle" in shown(demo_client, f"put the {flavour} in the fridge")
    demo_client.post("/quick/", data={"line": f"put the {flavour} in the fridge"})
    assert standing(demo, flavour)["warm"] == 0
    demo_client.post("/quick/", data={"line": f"{flavour} needs less next time"})
    assert "needs less next time" in demo_client.get("/cellar/").text


def test_a_burp_is_kept_and_teaches_the_filling(demo_client, demo):
    """A loud burp makes the yeast of the whole filling livelier than a silent one; silent right after it tells nothing: its gas is gone."""
    flavour = only_filling(demo, "warm")

    def vigour():
        with demo.reader() as session:
            query = session.query(Bottle).join(Bottling).filter(Bottling.flavour == flavour, Bottle.state == "warm")
            return bottle_ask_of(query.first()).vigour

    plain = vigour()
    demo_client.post("/quick/", data={"line": f"burped the {flavour}, gushed"})
    loud = vigour()
    assert loud > plain
    assert HISS_WORDS[4] in demo_client.get("/cellar/").text
    demo_client.post("/quick/", data={"line": f"burped the {flavour}, silent"})
    assert vigour() == loud


@pytest.mark.parametrize("line", ["bottled 6 damson", "bottled 6 damson yesterday"])
def test_a_harvest_is_opened_with_what_the_line_told_and_nothing_is_said_to_be_saved(demo_client, demo, line):
    """Bottles are not written by a line: it opens the harvest, filled in."""
    before = last_said(demo)
    told = shown(demo_client, line, here=JAR)
    assert "opens the harvest" in told
    assert "saves" not in told
    page = demo_client.post("/quick/", data={"line": line, "here": str(JAR)})
    assert page.location.startswith(f"/brews/{JAR}/harvest?count=6&flavour=damson")
    assert last_said(demo) == before
    harvest = demo_client.get(page.location).text
    assert 'name="count" value="6"' in harvest or 'value="6"' in harvest


def test_what_looks_grave_opens_the_guided_look_and_is_not_kept_unseen(demo_client, demo):
    """A fuzzy spot is not saved by a line: the rest is, and the guided look opens with it."""
    told = shown(demo_client, "stone jar fuzzy spot on top, 22c")
    assert "saves this and opens the guided look" in told
    page = demo_client.post("/quick/", data={"line": "stone jar fuzzy spot on top, 22c"})
    assert page.location == f"/brews/{CROCK}/inspect?surface=fuzzy"
    assert "fuzzy" not in last_said(demo).lower()
    assert "22" in last_said(demo) or "temperature" in last_said(demo)


def test_hotel_starter_and_moves_are_written_where_they_belong(demo_client, demo):
    """A feed counts for the hotel, starter is set aside from its brew, a jar moves."""
    with demo.reader() as session:
        hotel = session.query(Vessel).filter_by(kind="hotel").first().name
        feeds, lots = session.query(HotelFeed).count(), session.query(StarterLot).count()
    demo_client.post("/quick/", data={"line": f"fed {hotel} 200 ml"})
    demo_client.post("/quick/", data={"line": "saved 300 ml starter from the crock"})
    demo_client.post("/quick/", data={"line": "moved the crock to the dresser"})
    with demo.reader() as session:
        assert session.query(HotelFeed).count() == feeds + 1
        assert session.query(StarterLot).count() == lots + 1


def test_a_line_about_bottles_without_bottles_says_so(client, kitchen):
    """An empty cellar is said, with what to do; nothing is written on the jar."""
    kitchen.pitch()
    page = client.post("/quick/", data={"line": "opened a bottle, flat"})
    assert page.status_code == 422
    assert "No bottles are in the cellar" in page.text


def test_an_empty_jar_is_not_taken_for_another_one(client, kitchen):
    """What is told of a jar in which nothing brews is written on no other: its form opens, with the day that was told."""
    kitchen.pitch()
    jar = {"kind": "jar", "nominal_l": 4.0, "usable_l": 3.4, "diameter_cm": 15.0, "material": "glass", "tapped": False}
    kitchen.do(household.add_vessel, household.AddVessel(name="Second jar", **jar, new_place="Attic", new_place_c=20.0))
    line = "second jar began 6 days ago, ph 3.5"
    assert "nothing is, so far" in shown(client, line)
    page = client.post("/quick/", data={"line": line})
    assert page.location == "/brews/going?vessel=2&ago=6"
    assert 'value="6"' in client.get(page.location).text
    with kitchen.database.reader() as session:
        assert session.query(Reading).filter_by(ph=3.5).count() == 0


@pytest.mark.parametrize(
    ("line", "address"),
    [
        ("going away friday to monday", "/almanac/away?leaves=2027-02-19&returns=2027-02-22"),
        ("calibrated the meter", "/instruments/"),
        ("brewed the stone jar today", "/brew-day/?vessel=1"),
        ("stone jar looks gross", "/brews/7/inspect"),
        ("stone jar smells rotten", "/brews/7/inspect?surface=&smell=rotten"),
        ("label the stone jar", "/brew-day/labels/7"),
        ("moved the stone jar to the attic", "/brews/7/happened?do=move#do-move"),
    ],
)
def test_a_line_opens_the_page_on_which_the_rest_is_said(demo_client, demo, line, address):
    """Enter leads there, the line said so before, and nothing is written."""
    with demo.reader() as session:
        before = session.query(Change).count()
    assert "opens" in demo_client.get("/quick/", query_string={"line": line}).text
    answer = demo_client.post("/quick/", data={"line": line})
    assert (answer.status_code, answer.location) == (303, address)
    assert demo_client.get(answer.location).status_code == 200
    with demo.reader() as session:
        assert session.query(Change).count() == before


def test_two_deeds_in_one_line_are_both_saved_or_neither(demo, demo_client):
    """A reading of the crock and the hotel's feed: both are shown, both written by one Enter, both undone together; where one is unclear, nothing."""
    line = "crock 3.41 meter and fed the hotel 200 ml"
    shown = demo_client.get("/quick/", query_string={"line": line}).text
    assert shown.count('class="reads-line"') == 3
    assert "saves all of it" in shown
    with demo.reader() as session:
        before = session.query(Reading).count(), session.query(HotelFeed).count()
    assert demo_client.post("/quick/", data={"line": line}).status_code == 303
    with demo.reader() as session:
        assert (session.query(Reading).count(), session.query(HotelFeed).count()) == (before[0] + 1, before[1] + 1)
        change = max(row.id for row in session.query(Change))
    demo_client.post(f"/undo/{change}")
    with demo.reader() as session:
        assert (session.query(Reading).count(), session.query(HotelFeed).count()) == before
    unclear = demo_client.post("/quick/", data={"line": "fed the hotel 200 ml, opened a damson"})
    assert unclear.status_code == 422
    assert "leaves something open" in unclear.text
    with demo.reader() as session:
        assert session.query(HotelFeed).count() == before[1]
