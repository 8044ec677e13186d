"""Watching through the pages: the quick line, photos, corrections, verdicts, blind tastings, absences, the calendar."""

import io
import re
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import icalendar
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from kyklos.demo.household import DEMO_NOW
from kyklos.demo.watched import picture
from kyklos.reckon.forecast import forecasting, warmth
from kyklos.store.read import meters, queries
from kyklos.store.records import Brew, Photo, PhotoContent, Reading

CROCK, JUN, LATE, YOUNG = 7, 8, 9, 10


def brew_of(demo, number):
    """A brew's readings, tastings, looks and notes that stand."""
    with demo.reader() as session:
        brew = queries.get(session, Brew, number)
        standing = {
            name: [r for r in getattr(brew, name) if not r.struck]
            for name in ("readings", "tastings", "looks", "notes")
        }
        return {**standing, "status": brew.status, "photos": list(brew.photos)}


def test_a_quick_line_is_shown_then_saved_as_one_step(demo_client, demo):
    """While typing it says what it understood; saved, each part stands where it belongs; one undo takes all back."""
    line = "stone jar 3.31 24c odile bit sour, skin, warm day"
    shown = demo_client.get("/quick/", query_string={"line": line}, headers={"HX-Request": "true"}).text
    assert all(text in shown for text in ("Stone jar", "pH 3.31", "24", "a bit sour", "warm day"))
    before = brew_of(demo, CROCK)
    page = demo_client.post("/quick/", data={"line": line, "back": "/almanac/"})
    assert page.location == "/almanac/"
    after = brew_of(demo, CROCK)
    assert [len(after[n]) - len(before[n]) for n in ("readings", "tastings", "looks", "notes")] == [1, 1, 1, 1]
    assert after["readings"][-1].ph == 3.31
    undo = demo_client.get("/").text.split('action="/undo/')[1].split('"')[0]
    demo_client.post(f"/undo/{undo}")
    assert {n: len(v) for n, v in brew_of(demo, CROCK).items() if n != "status"} == {
        n: len(v) for n, v in before.items() if n != "status"
    }


@pytest.mark.parametrize("line", ["jar 3.4", "crock a bit sweet", "", "3.4"])
def test_a_line_that_is_not_clear_is_asked_about_and_kept(demo_client, demo, line):
    """Nothing is saved before the vessel and the taster are chosen; what was typed stays."""
    before = brew_of(demo, CROCK)
    page = demo_client.post("/quick/", data={"line": line})
    assert page.status_code == 422
    assert f'value="{line}"' in page.text
    assert {n: len(v) for n, v in brew_of(demo, CROCK).items()} == {n: len(v) for n, v in before.items()}


def test_a_choice_or_the_page_one_is_on_settles_a_line(demo_client, demo):
    """The chosen vessel and taster count; on a brew's page its own vessel is meant; a leading address is not followed."""
    demo_client.post("/quick/", data={"line": "jar 3.4", "chosen": str(JUN)})
    assert brew_of(demo, JUN)["readings"][-1].ph == 3.4
    page = demo_client.post(
        "/quick/", data={"line": "3.3 a bit sour", "here": str(CROCK), "taster": "2", "back": "//elsewhere"}
    )
    assert page.location == "/"
    assert brew_of(demo, CROCK)["tastings"][-1].taster_id == 2


def photo_with_place(turned=6):
    """A phone's photo: lying on its side, with a place in it."""
    out, exif = io.BytesIO(), Image.Exif()
    exif[0x0112] = turned
    exif[0x010F] = "Phone"
    exif.get_ifd(0x8825)[2] = (38.0, 42.0, 0.0)
    Image.new("RGB", (400, 200), "brown").save(out, "JPEG", exif=exif)
    return out.getvalue()


def test_a_photo_is_turned_upright_and_tells_no_place(demo_client, demo):
    """It is kept upright, shown small and large, and carries neither place nor camera."""
    data = {"photo": (io.BytesIO(photo_with_place()), "a.jpg"), "note": "Film"}
    assert demo_client.post(f"/brews/{LATE}/photos", data=data).status_code == 303
    with demo.reader() as session:
        row = session.query(Photo).order_by(Photo.id.desc()).first()
        assert (row.width, row.height) == (200, 400)
        content = session.query(PhotoContent).filter_by(sha=row.sha).one()
        for kept in (content.large, content.small):
            assert len(Image.open(io.BytesIO(kept)).getexif()) == 0
    served = demo_client.get(f"/brews/photos/{row.id}/large.jpg")
    assert served.mimetype == "image/jpeg"
    assert served.data == content.large
    assert demo_client.get(f"/brews/photos/{row.id}/huge.jpg").status_code == 404


@pytest.mark.parametrize("content", [b"", b"no picture", b"\xff\xd8\xff\xe0broken", b"GIF89a" + b"0" * 50])
def test_what_is_no_photo_is_refused_with_a_sentence(demo_client, content):
    """A wrong file leaves the page as it was, with what to send instead."""
    page = demo_client.post(f"/brews/{LATE}/photos", data={"photo": (io.BytesIO(content), "a.jpg")})
    assert page.status_code == 422
    assert "photo" in page.text.split('role="alert"')[1][:90].lower()


def test_a_look_takes_its_photo_along(demo_client, demo):
    """A photo sent with a guided look belongs to it; one that cannot be read keeps the look back, and says so."""
    data = {"surface": "disc", "photo": (io.BytesIO(photo_with_place()), "a.jpg")}
    assert demo_client.post(f"/brews/{JUN}/inspect", data=data).status_code == 303
    kept = brew_of(demo, JUN)
    assert kept["photos"][-1].look_id == kept["looks"][-1].id
    wrong = demo_client.post(f"/brews/{JUN}/inspect", data={"surface": "skin", "photo": (io.BytesIO(b"none"), "a.jpg")})
    assert wrong.status_code == 422
    assert "Nothing is saved yet" in wrong.text
    assert len(brew_of(demo, JUN)["looks"]) == len(kept["looks"])


def test_undoing_a_photo_leaves_nothing_of_it(demo_client, demo):
    """Its record and its content are gone, but for content that another photo shares."""
    with demo.reader() as session:
        before = {row.sha for row in session.query(PhotoContent)}
    demo_client.post(f"/brews/{LATE}/photos", data={"photo": (io.BytesIO(photo_with_place(3)), "a.jpg")})
    undo = demo_client.get("/").text.split('action="/undo/')[1].split('"')[0]
    demo_client.post(f"/undo/{undo}")
    with demo.reader() as session:
        assert {row.sha for row in session.query(PhotoContent)} == before


def test_a_heater_is_what_a_brew_expects(demo_client, demo):
    """A vessel with a heater stands at its set point where nothing was measured; an impossible one is refused."""
    form = {
        "name": "Tall jar",
        "kind": "jar",
        "nominal_l": "3",
        "usable_l": "2.5",
        "diameter_cm": "11",
        "material": "glass",
        "place": "3",
    }
    assert demo_client.post("/vessels/4", data={**form, "heater_c": "60"}).status_code == 422
    demo_client.post("/vessels/4", data={**form, "heater_c": "26"})
    with demo.reader() as session:
        assert warmth.course_of(queries.get(session, Brew, LATE)).future_c == 26
    assert 'value="26' in demo_client.get("/vessels/4").text


def test_a_correction_keeps_what_was_said(demo_client, demo):
    """The old number stands crossed out, the new one counts; the bin puts the old back only after the new is struck out."""
    with demo.reader() as session:
        old = next(r for r in queries.get(session, Brew, CROCK).readings if r.ph == 3.4).id
    form = demo_client.get(f"/brews/{CROCK}/correct/{old}").text
    assert 'value="3.4"' in form
    demo_client.post(f"/brews/{CROCK}/correct/{old}", data={"ph": "3,5", "instrument": "meter"})
    with demo.reader() as session:
        new = session.query(Reading).filter_by(replaces_id=old).one()
        assert (new.ph, queries.get(session, Reading, old).struck) == (3.5, True)
        assert new.at == queries.get(session, Reading, old).at
    assert demo_client.post(f"/bin/reading/{old}").status_code == 422
    demo_client.post(f"/brews/{CROCK}/strike/reading/{new.id}")
    assert demo_client.post(f"/bin/reading/{old}").status_code == 303
    assert [r.ph for r in brew_of(demo, CROCK)["readings"] if r.id in (old, new.id)] == [3.4]
    wrong = demo_client.post(f"/brews/{CROCK}/correct/{old}", data={"ph": "abc", "instrument": "meter"})
    assert wrong.status_code == 422
    assert 'value="abc"' in wrong.text


def test_every_kind_of_measurement_is_logged(demo_client, demo):
    """Low and high, Brix as gravity, a titration as acidity, where the sample came from; half a titration is refused."""
    told = {
        "low_c": "18",
        "high_c": "24,5",
        "gravity": "5.2",
        "gravity_by": "refractometer",
        "depth": "tap",
        "note": "warm",
    }
    demo_client.post(
        f"/brews/{CROCK}/reading",
        data={**told, "instrument": "meter", "base_ml": "6", "base_normality": "0.1", "sample_ml": "10"},
    )
    row = brew_of(demo, CROCK)["readings"][-1]
    assert (row.low_c, row.high_c, row.depth, row.gravity_by) == (18, 24.5, "tap", "refractometer")
    assert row.gravity == pytest.approx(1.0205, abs=2e-4)
    assert row.ta_g_per_l == pytest.approx(3.603, abs=0.01)
    half = demo_client.post(f"/brews/{CROCK}/measure", data={"instrument": "meter", "base_ml": "6"})
    assert half.status_code == 422
    assert "all three" in half.text
    assert 'value="6"' in half.text
    assert (
        demo_client.post(f"/brews/{CROCK}/measure", data={"instrument": "meter", "gravity": "1.02"}).status_code == 303
    )
    assert 'value=""' in demo_client.get(f"/brews/{CROCK}/measure").text
    assert (
        demo_client.post(
            f"/brews/{CROCK}/reading", data={"instrument": "meter", "low_c": "24", "high_c": "18"}
        ).status_code
        == 422
    )


def test_an_overdue_meter_widens_its_readings(demo_client, demo):
    """The same reading by the same meter teaches less once its calibration is overdue; calibrated again it counts in full."""
    demo_client.post(f"/brews/{CROCK}/reading", data={"ph": "3.3", "instrument": "meter:1"})
    assert meters.read_by(brew_of_live(demo)[0]) == "meter"
    demo_client.application.extensions["kyklos"][1].now = DEMO_NOW + timedelta(days=3)
    assert "overdue" in demo_client.get("/").text
    demo_client.post(f"/brews/{CROCK}/reading", data={"ph": "3.25", "instrument": "meter:1"})
    assert brew_of_live(demo)[1] == "uncalibrated"
    assert "not calibrated then" in demo_client.get(f"/brews/{CROCK}").text
    demo_client.post("/instruments/1/calibrate", data={"at_seven": "y", "at_four": "y"})
    assert "overdue" not in demo_client.get("/").text
    assert demo_client.post("/instruments/1/calibrate", data={"off_by": "0,1"}).status_code == 422


def brew_of_live(demo):
    """The crock's last reading, and what read it."""
    session = demo.reader()
    row = queries.get(session, Brew, CROCK).readings[-1]
    return row, meters.read_by(row)


def test_a_loggers_file_changes_the_course(demo_client, demo):
    """Its degrees take the place of the usual ones; a file without any is refused beside its field."""
    start = (DEMO_NOW - timedelta(days=3)).astimezone(ZoneInfo("Europe/Lisbon"))
    rows = "\n".join(f"{start + timedelta(hours=h):%d.%m.%Y %H:%M};{15 + h % 3},5" for h in range(60))
    page = demo_client.post(
        f"/brews/{LATE}/log", data={"file": (io.BytesIO(f"Zeit;Temp °C\n{rows}".encode()), "log.csv"), "of": "brew"}
    )
    assert page.status_code == 303
    with demo.reader() as session:
        course = warmth.course_of(queries.get(session, Brew, LATE))
        assert len(course.points) > 50
        assert min(c for d, c in course.points if d > 30) == 15.5
    wrong = demo_client.post(f"/brews/{LATE}/log", data={"file": (io.BytesIO(b"hello"), "a.csv"), "of": "brew"})
    assert wrong.status_code == 422
    assert "No column" in wrong.text


def test_an_overrule_towards_risk_needs_words_and_stays_visible(demo_client):
    """Without a reason refused; with one it counts and is shown; something new brings the rules back; it can be lifted."""
    demo_client.post(f"/brews/{CROCK}/look", data={"surface": "odd"})
    refused = demo_client.post(f"/brews/{CROCK}/verdict", data={"word": "watch", "reason": ""})
    assert refused.status_code == 422
    assert "written reason" in refused.text
    demo_client.post(
        f"/brews/{CROCK}/verdict", data={"word": "watch", "reason": "A tea leaf, I took it out with a spoon."}
    )
    page = demo_client.get(f"/brews/{CROCK}").text
    assert "verdict-watch" in page
    assert "I took it out with a spoon" in page
    demo_client.post(f"/brews/{CROCK}/look", data={"surface": "fuzzy"})
    page = demo_client.get(f"/brews/{CROCK}").text
    assert "verdict-discard" in page
    assert "no longer counts" in page
    demo_client.post(f"/brews/{CROCK}/verdict", data={"lift": "1"})
    assert "lifted" in demo_client.get(f"/brews/{CROCK}").text


def test_a_second_opinion_tells_nothing_private(demo_client):
    """Neither page nor sheet names household, people or places; the sheet is a PDF with the photos."""
    page = demo_client.get(f"/brews/{CROCK}/opinion").text
    told = page.split('class="narrow opinion"')[1].split("</section>")[0]
    for private in ("Quince", "Odile", "Bram", "Varga", "Dresser", "Bora", "2027"):
        assert private not in told
    assert told.count("<img") == 2
    sheet = demo_client.get(f"/brews/{CROCK}/opinion.pdf")
    assert sheet.mimetype == "application/pdf"
    assert sheet.data.startswith(b"%PDF")
    assert len(sheet.data) > 30_000


def test_a_discard_starts_the_trace(demo_client):
    """It leads to what the brew shared: its starter's other brews, what stands beside it, the cleaning, the backups."""
    demo_client.post(f"/brews/{CROCK}/look", data={"surface": "fuzzy"})
    page = demo_client.post(f"/brews/{CROCK}/discard", data={"reason": "Blue fuzz."})
    assert page.location.endswith(f"/brews/{CROCK}/trace")
    told = demo_client.get(page.location, follow_redirects=True).text
    for text in (
        "What it could have reached",
        "What could have brought it",
        "Starter of Bora",
        "sanitiser",
        "Clean spares left",
        "Blue fuzz",
    ):
        assert text in told


def test_what_is_put_off_waits_in_sight_and_comes_back(demo_client):
    """It leaves the stop, stands at the end with its time, and is due again then; what concerns safety cannot wait."""
    page = demo_client.post("/put-off", data={"what": f"brew-{CROCK}-harvest", "wait": "3"})
    assert page.status_code == 303
    walk = demo_client.get("/").text
    assert "not before Sunday" in walk
    clock = demo_client.application.extensions["kyklos"][1]
    clock.now = DEMO_NOW + timedelta(days=4)
    assert "not before Sunday" not in demo_client.get("/").text
    clock.now = DEMO_NOW
    number = walk.split('action="/take-up/')[1].split('"')[0]
    demo_client.post(f"/take-up/{number}")
    assert demo_client.post("/put-off", data={"what": f"brew-{YOUNG}-hold", "wait": "3"}).status_code == 422
    assert demo_client.post("/put-off", data={"what": "x", "wait": "never"}).status_code == 400


def test_the_calendar_stands_at_a_private_address(demo_client):
    """Without one there is none; a made one gives events that a calendar reads; a new one ends the old."""
    assert demo_client.get("/almanac/feed/guess.ics").status_code == 404
    demo_client.post("/almanac/feed")
    page = demo_client.get("/settings/").text
    address = page.split("/almanac/feed/")[1].split(".ics")[0]
    feed = demo_client.get(f"/almanac/feed/{address}.ics")
    assert feed.mimetype == "text/calendar"
    events = icalendar.Calendar.from_ical(feed.data).walk("VEVENT")
    titles = [str(event["summary"]) for event in events]
    assert any("harvest" in title for title in titles)
    assert any(title.startswith("Chill") for title in titles)
    assert any("right for" in title for title in titles)
    assert all(event["dtend"].dt > event["dtstart"].dt for event in events)
    assert len({str(event["uid"]) for event in events}) == len(events)
    assert sum(title.startswith("The hotel: feed it") for title in titles) == 1
    fed = {"of": "sweet tea", "litres": "0.6", "level_l": "1.6", "fresh_cover": "y"}
    demo_client.post("/cultures/hotels/5/feed", data=fed)
    later = icalendar.Calendar.from_ical(demo_client.get(f"/almanac/feed/{address}.ics").data).walk("VEVENT")
    [fed_next] = [event for event in later if str(event["summary"]) == "Feed The hotel"]
    assert fed_next["dtstart"].dt == (DEMO_NOW + timedelta(days=23)).date()
    demo_client.post("/almanac/feed")
    assert demo_client.get(f"/almanac/feed/{address}.ics").status_code == 404


def test_the_hotel_has_its_lane_on_the_almanac(demo_client):
    """Overdue it is marked today; once fed its bar runs to the next feed, and no mark of today is left."""
    mark = r'class="plan-mark plan-feed" transform="translate\(([\d.]+) '
    today = float(re.search(r'class="now" x1="([\d.]+)"', demo_client.get("/almanac/").text)[1])
    assert 0 < float(re.search(mark, demo_client.get("/almanac/").text)[1]) - today < 25
    demo_client.post("/cultures/hotels/5/feed", data={"of": "sweet tea", "litres": "0.3"})
    page = demo_client.get("/almanac/").text
    assert float(re.search(mark, page)[1]) - today > 20 * 24
    assert "The hotel, fed today; feed it Sat 13 Mar" in page


def test_notices_keep_the_quiet_hours(demo_client):
    """By day what is due is told, bottles first and then the urgent brews; in the quiet hours nothing."""
    clock = demo_client.application.extensions["kyklos"][1]
    told = demo_client.get("/notices").get_json()
    assert told[0]["title"].startswith("Fig and thyme")
    assert "past its limit" in told[0]["body"]
    assert next(one for one in told if one["address"].startswith("/#stop"))["title"].startswith("Jar one")
    clock.now = DEMO_NOW.replace(hour=23)
    assert demo_client.get("/notices").get_json() == []
    clock.now = DEMO_NOW.replace(hour=5)
    assert demo_client.get("/notices").get_json() == []


def test_an_absence_is_planned_and_ended(demo_client):
    """Wrong dates are told beside their fields; right ones say what to do; once gone the page says where to begin."""
    today = DEMO_NOW.date()
    wrong = demo_client.post("/almanac/away", data={"leaves": str(today), "returns": str(today - timedelta(days=2))})
    assert wrong.status_code == 422
    assert "after you leave" in wrong.text
    assert "Choose a day" in demo_client.post("/almanac/away", data={"leaves": "soon", "returns": ""}).text
    demo_client.post("/almanac/away", data={"leaves": str(today), "returns": str(today + timedelta(days=9))})
    assert "Before you leave" not in demo_client.get("/almanac/away").text
    page = demo_client.get("/almanac/away").text
    assert "Begin here" in page
    number = page.split("/almanac/away/")[1].split("/back")[0]
    demo_client.post(f"/almanac/away/{number}/back")
    assert "Going away?" in demo_client.get("/almanac/away").text


def test_days_are_planned_and_moved_on_the_almanac(demo_client):
    """A vessel has one of each kind: planning again moves it; an empty jar cannot be harvested, nor yesterday be planned."""
    day = DEMO_NOW.date() + timedelta(days=6)
    demo_client.post("/almanac/plan", data={"kind": "harvest", "vessel": "1", "day": str(day)})
    page = demo_client.get("/almanac/").text
    assert f"{day:%A} {day.day} {day:%B}" in page
    assert page.count('data-plan="harvest"') == 1
    assert (
        demo_client.post("/almanac/plan", data={"kind": "harvest", "vessel": "5", "day": str(day)}).status_code == 422
    )
    assert (
        demo_client.post("/almanac/plan", data={"kind": "harvest", "vessel": "1", "day": "2020-01-01"}).status_code
        == 422
    )
    assert demo_client.post("/almanac/plan", data={"kind": "harvest", "vessel": "1", "day": ""}).status_code == 422


def test_a_blind_tasting_tells_who_was_who_only_at_the_end(demo_client, demo):
    """Sheets carry letters; the page names no vessel until shown; then each sheet is a tasting of its brew."""
    before = len(brew_of(demo, CROCK)["tastings"])
    page = demo_client.post("/tasters/blind", data={"brews": [str(CROCK), str(JUN)]})
    assert demo_client.post("/tasters/blind", data={"brews": [str(CROCK), str(YOUNG)]}).status_code == 422
    for letter in "AB":
        demo_client.post(page.location, data={"taster": "1", "letter": letter, "score": "1", "again": "yes"})
    shown = demo_client.get(page.location).text.split("<main")[1]
    assert "Stoneware" not in shown
    assert len(brew_of(demo, CROCK)["tastings"]) == before
    demo_client.post(f"{page.location}/reveal")
    assert "Stone jar" in demo_client.get(page.location).text
    last = brew_of(demo, CROCK)["tastings"][-1]
    assert (len(brew_of(demo, CROCK)["tastings"]), last.blind, last.again) == (before + 1, True, True)


def test_a_sheet_tells_more_than_a_score_and_is_never_filled_in(demo_client, demo):
    """Nothing is chosen beforehand; a sheet without a score is refused and keeps what was typed."""
    empty = demo_client.get(f"/brews/{CROCK}/sheet").text
    assert " checked" not in empty.split('class="sheet')[1].split("</main>")[0]
    wrong = demo_client.post(f"/brews/{CROCK}/sheet", data={"taster": "1", "note": "Apple"})
    assert wrong.status_code == 422
    assert 'value="Apple"' in wrong.text
    demo_client.post(
        f"/brews/{CROCK}/sheet",
        data={"taster": "1", "score": "1", "tea": "2", "yeast": "0", "again": "no", "after": "bread"},
    )
    last = brew_of(demo, CROCK)["tastings"][-1]
    assert (last.score, last.tea, last.yeast, last.again, last.after) == (1, 2, 0, False, "bread")


def test_learned_points_move_the_windows(demo_client, demo):
    """The tart taster's window lies after the sweet one's, as their tastings taught; the page says how it knows."""
    with demo.reader() as session:
        ready = forecasting.forecast_of(session, queries.get(session, Brew, CROCK)).ready
    assert ready["Odile Varga"].p50 > ready["Bram Sollie"].p50
    page = demo_client.get("/tasters/").text
    assert "tastings" in page
    assert "Of " in demo_client.get("/tasters/hindsight").text


def test_a_what_if_moves_the_curve(demo_client):
    """A warmer room says sooner, an impossible start is told as a problem, a stranger kind is ignored."""
    warm = demo_client.get(f"/brews/{YOUNG}/what-if?kind=room&celsius=30", headers={"HX-Request": "true"}).text
    assert "sooner" in warm
    assert "line-other" in warm
    assert "not a date" in demo_client.get(f"/brews/{YOUNG}/what-if?kind=cold-week&start=soon").text
    assert "line-other" not in demo_client.get(f"/brews/{YOUNG}/what-if?kind=tea").text
    assert "is not a number" in demo_client.get(f"/brews/{YOUNG}/what-if?kind=starter&more=some").text


def test_the_slow_step_says_why(demo_client):
    """The conversion step that failed names its cause, with the two numbers that speak for it."""
    page = demo_client.get("/brews/5").text
    told = page.split("Over-diluted")[1][:200]
    assert "pH 4.46" in told
    assert "planned was 4.1" in told


@given(st.permutations(range(4)))
@settings(max_examples=8, deadline=None)
def test_the_order_of_entry_does_not_matter(tmp_path_factory, empty_file, order):
    """Readings typed in any order give the same forecast to the last digit."""
    assert forecast_after(tmp_path_factory, empty_file, order) == forecast_after(tmp_path_factory, empty_file, range(4))


def forecast_after(tmp_path_factory, empty_file, order):
    """The median of a brew whose four readings were typed in an order."""
    import shutil

    from kyklos.actions import household
    from kyklos.actions.brewing import pitching, readings
    from kyklos.core.liquid.ferment import Recipe
    from kyklos.store.file.database import Database

    path = tmp_path_factory.mktemp("order") / "k.db"
    shutil.copy(empty_file, path)
    database, start = Database(path), datetime(2027, 3, 20, 9, tzinfo=UTC)

    def do(action, ask, when):
        with database.writer() as session:
            return action(session, ask, when).made

    jar = do(household.add_vessel, household.AddVessel(name="J", kind="jar", nominal_l=4, usable_l=3, diameter_cm=15, material="glass", tapped=False, new_place="S", new_place_c=23), start)  # fmt: skip
    line = do(household.add_culture, household.AddCulture(name="B", diet="sugar", origin="received"), start)
    ask = pitching.PitchBrew(vessel_id=jar["vessel"], culture_id=line["culture"], starter_lot_id=None, disc_id=line["disc"], recipe=Recipe(), starter_instrument="meter", final_l=3, plan={})  # fmt: skip
    brew = do(pitching.pitch_brew, ask, start)["brew"]
    told = [(1, 3.9, 23.0), (3, 3.7, 22.0), (5, 3.5, 24.0), (6, 3.4, None)]
    for i in order:
        day, ph, celsius = told[i]
        do(
            readings.log_reading,
            readings.LogReading(brew_id=brew, ph=ph, celsius=celsius, at=start + timedelta(days=day)),
            start + timedelta(days=7),
        )
    with database.reader() as session:
        out = list(forecasting.forecast_of(session, queries.get(session, Brew, brew)).ph.p50)
    database.close()
    return out


@pytest.mark.parametrize("zone", ["Europe/Lisbon", "America/New_York", "Australia/Lord_Howe"])
@pytest.mark.parametrize("local", ["2027-03-28T01:30", "2026-10-25T01:30", "2027-01-10T12:00"])
def test_a_change_of_zone_or_clock_does_not_move_a_reading(demo_client, demo, zone, local):
    """A time typed in one zone is kept as a moment: another zone shows it otherwise, and moves nothing."""
    demo_client.application.extensions["kyklos"][1].now = datetime(2027, 4, 2, 12, tzinfo=UTC)
    with demo.writer() as session:
        brew = queries.get(session, Brew, CROCK)
        brew.pitched_at = datetime(2026, 10, 1, tzinfo=UTC)
        session.commit()
    demo_client.post(f"/brews/{CROCK}/reading", data={"ph": "3.21", "instrument": "meter", "at": local})
    row = next(r for r in brew_of(demo, CROCK)["readings"] if r.ph == 3.21)
    meant = datetime.fromisoformat(local).replace(tzinfo=ZoneInfo("Europe/Lisbon")).astimezone(UTC)
    assert row.at == meant
    demo_client.post(
        "/settings/",
        data={"name": "Q", "units": "metric", "theme": "auto", "tasters": "Odile Varga, Bram Sollie", "zone": zone},
    )
    again = next(r for r in brew_of(demo, CROCK)["readings"] if r.ph == 3.21)
    assert again.at == meant
    assert f"{meant.astimezone(ZoneInfo(zone)):%H:%M}" in demo_client.get(f"/brews/{CROCK}").text


def test_the_sample_pictures_are_pictures():
    """A painted jar grows paler with its film; the same seed paints the same."""
    young, old = (
        Image.open(io.BytesIO(picture(day, 3, (150, 84, 36)))).resize((1, 1)).getpixel((0, 0)) for day in (1, 9)
    )
    assert sum(old) > sum(young)
    assert picture(5, 3, (150, 84, 36)) == picture(5, 3, (150, 84, 36))


def test_a_titration_is_counted_drop_by_drop(demo_client, demo):
    """Drops add up, one too many is taken back, runs are compared, what is saved is the mean of the two that agree; nothing typed is lost."""
    here = "/brews/7/titration"
    page = demo_client.get(here, query_string={"drops": "60", "do": "ml"}).text
    assert "80<small>" in page
    assert "4.00 mL" in page
    page = demo_client.get(here, query_string={"drops": "80", "do": "back"}).text
    assert "79<small>" in page
    one = demo_client.get(here, query_string={"drops": "80", "do": "pink"}).text
    assert "A second run tells" in one
    apart = demo_client.get(here, query_string={"run": ["80"], "drops": "120", "do": "pink"}).text
    assert "another run would tell" in apart
    three = demo_client.get(here, query_string={"run": ["80", "120"], "drops": "81", "do": "pink"}).text
    assert "The two agree." in three
    assert demo_client.post(here, data={}).status_code == 422
    wrong = demo_client.get(here, query_string={"sample_ml": "0", "drops": "7"})
    assert "From 0.5 to 200." in wrong.text
    assert "7<small>" in wrong.text
    saved = demo_client.post(here, data={"run": ["80", "120", "81"], "sample_ml": "10", "base_normality": "0.1", "drop_ml": "0.05", "degassed": "1"})
    assert saved.status_code == 303
    with demo.reader() as session:
        last = max(session.get(Brew, 7).readings, key=lambda row: row.id)
        assert (last.titration["base_ml"], last.degassed) == (pytest.approx(4.025), True)
        assert last.ta_g_per_l == pytest.approx(2.417, abs=0.01)
