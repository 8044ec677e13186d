"""What really happens, by the forms: refusals beside their fields, both versions of two windows, the day book."""

import re
from datetime import timedelta

import pytest

from kyklos.actions import household
from kyklos.actions.cultures import leading
from kyklos.core.base.saying import marked
from kyklos.serving.app import create_app
from kyklos.store.records import Brew, Culture, Place, Vessel


@pytest.fixture
def client(kitchen):
    """A browserless client of a small household."""
    return create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()


def text(page):
    """A page's words."""
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", page.text))


def place_form(kitchen, **more):
    """A place's form as its page shows it."""
    with kitchen.database.reader() as session:
        row = session.get(Place, 1)
        told = {
            "place_name": row.name,
            "celsius": row.celsius,
            "kind": row.kind,
            "light": row.light,
            "reach": row.reach,
            "version": row.version,
        }
    return {**told, **more}


def test_two_windows_on_one_place_are_shown_both(client, kitchen):
    """The second to save is refused, sees what the first wrote beside what it typed, and may save again."""
    first, second = place_form(kitchen, celsius="19"), place_form(kitchen, celsius="27", place_name="Warm shelf")
    assert client.post("/vessels/places/1", data=first).status_code == 303
    page = client.post("/vessels/places/1", data=second)
    assert page.status_code == 409
    assert "was changed in another window" in page.text
    assert "The other window wrote “19 °C”" in text(page)
    assert 'value="27"' in page.text
    again = client.post("/vessels/places/1", data={**second, "version": place_form(kitchen)["version"]})
    assert again.status_code == 303
    assert place_form(kitchen)["place_name"] == "Warm shelf"


def test_two_windows_on_one_culture_and_one_vessel_are_shown_both(client, kitchen):
    """A line's name and a vessel's size: refused with both versions, nothing overwritten."""
    kitchen.do(leading.change_culture, leading.ChangeCulture(culture_id=kitchen.culture, name="Boreas", version=1))
    page = client.post(
        f"/cultures/{kitchen.culture}/rule", data={"name": "Bise", "backups_wanted": "1", "story": "", "version": "1"}
    )
    assert page.status_code == 409
    assert "The other window wrote “Boreas”" in text(page)
    assert 'value="Bise"' in page.text
    told = {
        "name": "Jar",
        "kind": "jar",
        "nominal_l": 4.5,
        "usable_l": 4,
        "diameter_cm": 15,
        "material": "glass",
        "tapped": False,
        "place_id": 1,
    }
    kitchen.do(household.change_vessel, household.ChangeVessel(vessel_id=1, version=1, **told))
    page = client.post("/vessels/1", data={**told, "nominal_l": "5", "place": "1", "version": "1"})
    assert page.status_code == 409
    assert "The other window wrote “4.5 L”" in text(page)
    with kitchen.database.reader() as session:
        assert session.get(Culture, kitchen.culture).name == "Boreas"
        assert session.get(Vessel, 1).nominal_l == 4.5


def test_what_happened_is_refused_beside_its_field_and_kept(client, kitchen):
    """Too much, no number, the future: a sentence at the field, what was typed still there, and nothing written."""
    brew = kitchen.ready()
    for data, words in (
        ({"out-litres": "lots"}, "is not a number"),
        ({"out-litres": "30"}, "can have been taken"),
        ({"out-litres": "1", "out-at": "2031-01-01T10:00"}, "future"),
    ):
        page = client.post(f"/brews/{brew}/happened/out", data={"out-leaves": "drunk", **data})
        assert page.status_code == 422
        assert words in page.text
        assert f'value="{data["out-litres"]}"' in page.text
        assert "do-out" in page.text
    with kitchen.database.reader() as session:
        assert session.get(Brew, brew).left_l == 3.5


def test_the_date_of_a_move_is_put_right_on_the_jar_s_page(client, kitchen):
    """The page of a jar lists its moves; an impossible date is refused there, a possible one counts."""
    kitchen.pitch()
    kitchen.do(household.add_place, household.AddPlace(name="Cellar", celsius=14))
    kitchen.clock.turn(6)
    assert (
        client.post("/brews/1/happened/move", data={"move-place": "2", "move-at": "2027-03-06T10:00"}).status_code
        == 303
    )
    assert 'value="2027-03-06T10:00"' in client.get("/vessels/1").text
    page = client.post("/vessels/1/moved/2", data={"since": "2020-03-06T10:00"})
    assert page.status_code == 422
    assert "came to the place before that later" in page.text
    assert client.post("/vessels/1/moved/2", data={"since": ""}).status_code == 422
    assert client.post("/vessels/1/moved/2", data={"since": "2027-03-03T10:00"}).status_code == 303
    assert 'value="2027-03-03T10:00"' in client.get("/vessels/1").text


def test_glasses_speak_the_household_s_units(client, kitchen):
    """A cup in the United States, a glass elsewhere; another size is no button."""
    brew = kitchen.ready()
    assert "A glass" in client.get(f"/brews/{brew}/happened").text
    assert client.post(f"/brews/{brew}/happened/glass", data={"litres": "0.123"}).status_code == 400
    told = {"name": "Test", "units": "us", "zone": "Europe/Paris", "theme": "auto", "tasters": ("Ana", "Ben")}
    kitchen.do(household.change_settings, household.ChangeSettings(**told))
    page = text(client.get(f"/brews/{brew}/happened"))
    assert "A cup" in page
    assert "A glass" not in page


def test_the_day_book_is_read_by_day_and_by_thing_and_in_pages(client, kitchen):
    """Newest first; of a brew only what touched it; older pages follow; amounts in the household's units."""
    brew = kitchen.ready()
    kitchen.clock.turn(1)
    for _ in range(45):
        client.post(f"/brews/{brew}/tasting", data={"taster": 1, "score": 0, "view": "brew"})
    page = client.get("/day-book/")
    assert page.text.count('class="book-line') == 40
    older = re.search(r'href="(/day-book/[^"]*before=\d+)"', page.text).group(1).replace("&amp;", "&")
    words = text(client.get(older))
    assert "started in Jar" in words
    assert marked(0.5, "volume") not in words
    own = client.get(f"/day-book/?of=brew-{brew}&before=40").text
    assert "started in Jar" in own
    assert "Settings saved" not in own
    assert client.get("/day-book/?of=brew-999").status_code == 200
    assert client.post("/day-book/9999/undo").status_code == 404


def test_what_builds_on_a_change_is_told(client, kitchen):
    """A pitch cannot be undone under a reading: the page names the reading, and once that is undone the pitch can be."""
    brew = kitchen.ready()
    numbers = [int(n) for n in re.findall(r'id="change-(\d+)"', client.get(f"/day-book/?of=brew-{brew}").text)]
    page = client.post(f"/day-book/{min(numbers[:2])}/undo")
    assert page.status_code == 409
    assert "What builds on it" in page.text
    assert "pH 3.3" in text(page)
    assert client.post(f"/day-book/{max(numbers)}/undo").status_code == 303
    assert client.post(f"/day-book/{min(numbers[:2])}/undo").status_code == 303
    with kitchen.database.reader() as session:
        assert session.get(Brew, brew) is None


def test_about_two_weeks_ago(client, kitchen):
    """A start nobody remembers well: the page takes the doubt, says the days, and shows a wider window than a sure one."""
    widths = []
    for number, doubt in enumerate(("0", "7")):
        data = {
            "ago": "14",
            "honey": "",
            "instrument": "strip",
            "doubt": doubt,
            "litres": "3",
            "vessel": "0",
            "new_vessel": f"Big jar {number}",
            "culture": str(kitchen.culture),
            "celsius": "19",
            "taster": "1",
            "score": "-2",
        }
        page = client.post("/brews/going", data=data)
        assert page.status_code == 303
        assert "day 14" in client.get(page.location).text
        with kitchen.database.reader() as session:
            from kyklos.reckon.forecast import forecasting

            brew = session.query(Brew).order_by(Brew.id.desc()).first()
            assert brew.start_doubt_days == float(doubt)
            assert brew.pitched_at == kitchen.clock() - timedelta(days=14)
            out = forecasting.forecast_of(session, brew)
            low, _, high = out.at(out.ta_g_per_l, 14)
            widths.append(high - low)
    assert widths[1] > widths[0]
    page = client.post(
        "/brews/going",
        data={"ago": "soon", "litres": "", "vessel": "0", "new_vessel": "", "culture": "0", "new_culture": ""},
    )
    assert page.status_code == 422
    assert 'value="soon"' in page.text


def test_a_brew_day_is_one_line_of_the_day_book(demo_client):
    """Its steps fold under the last of them, each with its undo; what else was done that morning stands by itself."""
    page = demo_client.get("/day-book/").text
    today = page.split('class="book-day"')[1]
    folded = re.search(r"<details class=\"book-more\">.*?</details>", today, re.S)[0]
    assert "3 more of this brew day" in folded
    assert "Brew day for Stone jar begun" in folded
    assert folded.count("/undo") == 3
    outside = today.replace(folded, "")
    assert len(re.findall(r"book-says\">\s*Stone jar: step", outside)) == 1
    assert "Jar one is held" in outside
