"""Journeys of the brewer's real life: begun before, a glass a day, half bottled, split, joined, put right, undone days later."""

import re
import sqlite3
from contextlib import closing

from playwright.sync_api import expect

from kyklos.actions import household
from kyklos.store.records import Brew, Note, Reading, Transfer, values

PHONE = {"width": 390, "height": 844}
JAR = {
    "kind": "jar",
    "nominal_l": 4,
    "usable_l": 3.5,
    "diameter_cm": 15,
    "material": "glass",
    "tapped": False,
    "place_id": 1,
}


def quick(page, line):
    """Type a quick line, wait until it is understood, save it."""
    page.locator("#quick-line").fill(line)
    page.locator(".reads").wait_for()
    page.locator("#quick-line").press("Enter")
    page.locator(".toast-line").wait_for()


def second_jar(kitchen):
    """Add a jar beside the first."""
    kitchen.do(household.add_vessel, household.AddVessel(name="Second jar", **JAR))


def test_a_jar_that_has_stood_for_six_days(page, empty_house):
    """On a phone, in an empty household, one form puts a jar on the round; its first pH ever is that of day 6."""
    page.set_viewport_size(PHONE)
    page.goto(empty_house.url)
    page.get_by_role("button", name="Save and begin").click()
    page.get_by_role("link", name="I already have a brew going").click()
    page.get_by_label("Started how many days ago").fill("6")
    page.get_by_label("In the jar now, about").fill("three")
    page.get_by_role("button", name="Add this brew").click()
    page.get_by_text("is not a number").wait_for()
    assert page.get_by_label("Started how many days ago").input_value() == "6"
    page.get_by_label("In the jar now, about").fill("3")
    page.get_by_label("pH now").fill("3.5")
    page.get_by_label("How warm it stands").fill("22")
    page.get_by_role("button", name="Add this brew").click()
    page.wait_for_url("**/brews/1")
    expect(page.locator("h1")).to_have_text("Jar, day 6")
    expect(page.locator(".verdict strong")).to_have_text("Carry on.")
    expect(page.locator(".lead-words").first).to_contain_text("ight")
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    page.locator(".brew-next, .logs").get_by_role("link", name="Harvest").first.click()
    expect(page.locator(".lead-words").first).to_contain_text("you can harvest now")
    page.get_by_role("button", name="No next brew").click()
    page.get_by_label("How many").fill("2")
    page.get_by_role("button", name="Save the bottles").click()
    expect(page.locator(".toast-line")).to_contain_text("2 bottles filled")


def test_a_glass_a_day_for_a_week(page, small_kitchen, kitchen):
    """By one tap and by the quick line; what is left is told, and the last glass frees the jar."""
    kitchen.ready()
    for day in range(7):
        small_kitchen.clock.turn(1)
        if day % 2:
            page.goto(small_kitchen.url + "/")
            quick(page, "jar drank a glass")
        else:
            page.goto(small_kitchen.url + "/brews/1/happened")
            page.get_by_role("button", name="A glass").click()
            page.wait_for_url("**/brews/1")
        expect(page.locator(".toast-line")).to_contain_text("250 mL")
    page.goto(small_kitchen.url + "/brews/1/happened")
    expect(page.locator(".lead-words")).to_contain_text("1.75 L in it now")
    page.locator("#do-out summary").click()
    page.locator("#do-out").get_by_role("button", name="It is out").click()
    expect(page.locator(".toast-line")).to_contain_text("It is empty and free")


def test_half_is_bottled_now_and_half_on_thursday(page, small_kitchen, kitchen):
    """Bottles now, the rest goes on in its jar; days later more bottles, and only then is it empty."""
    kitchen.ready()
    for count in ("3", "2"):
        page.goto(small_kitchen.url + "/brews/1/harvest")
        if count == "3":
            page.get_by_label("Starter to keep, plain").fill("0.5")
            page.get_by_role("button", name="Save the starter").click()
        page.get_by_role("button", name="Save the bottles").wait_for()
        page.get_by_label("How many").fill(count)
        page.get_by_role("button", name="Save the bottles").click()
        expect(page.locator(".toast-line")).to_contain_text(f"{count} bottles filled")
        page.goto(small_kitchen.url + "/brews/1")
        expect(page.locator("h1")).to_contain_text("Jar, day")
        small_kitchen.clock.turn(4)
    page.goto(small_kitchen.url + "/brews/1/harvest")
    page.get_by_role("button", name="empty").click()
    page.get_by_text("is empty and free").wait_for()
    with small_kitchen.database.reader() as session:
        brew = session.get(Brew, 1)
        assert not brew.alive
        assert [len(group.bottles) for group in brew.bottlings] == [3, 2]


def test_one_brew_over_two_jars_and_one_again(page, small_kitchen, kitchen):
    """Split by the form, both stand on the round with one past; poured together, one is left with all of it."""
    second_jar(kitchen)
    kitchen.ready()
    page.goto(small_kitchen.url + "/brews/1/happened")
    page.locator("#do-jar summary").click()
    form = page.locator("#do-jar")
    form.get_by_label("How much of it").select_option("part")
    form.get_by_label("If a part").fill("1.5")
    form.get_by_role("button", name="It is poured").click()
    expect(page.locator(".toast-line")).to_contain_text("go on in Second jar")
    page.goto(small_kitchen.url)
    expect(page.locator("#stop-1")).to_contain_text("day 8")
    expect(page.locator("#stop-2")).to_contain_text("day 8")
    small_kitchen.clock.turn(1)
    page.goto(small_kitchen.url + "/brews/2/happened?do=join")
    page.locator("#do-join").get_by_role("button", name="They are one").click()
    expect(page.locator(".toast-line")).to_contain_text("Second jar poured into Jar")
    with small_kitchen.database.reader() as session:
        assert session.get(Brew, 1).left_l == 3.5
        assert not session.get(Brew, 2).alive
        assert {t.how for t in session.query(Transfer)} >= {"split", "joined"}
    page.goto(small_kitchen.url + "/cultures/table")
    expect(page.locator("h1")).to_be_visible()
    page.goto(small_kitchen.url + "/cultures/trace/brew/1")
    expect(page.locator("main")).to_contain_text("Second jar")


def test_a_pitch_date_is_put_right_after_the_harvest(page, small_kitchen, kitchen):
    """The record of an ended brew is corrected; the page says the new date and keeps what it said before."""
    brew = kitchen.filled()
    page.goto(small_kitchen.url + f"/brews/{brew}/harvest")
    page.get_by_role("button", name="empty").click()
    page.goto(small_kitchen.url + f"/brews/{brew}")
    page.get_by_role("link", name="It began otherwise").click()
    page.get_by_label("When it started").fill("2027-12-01T09:00")
    page.get_by_role("button", name="Put it right").click()
    page.get_by_text("That lies in the future").wait_for()
    page.get_by_label("When it started").fill("2027-03-03T09:00")
    page.get_by_role("button", name="Put it right").click()
    expect(page.locator(".lead-words")).to_contain_text("Started last Wednesday")
    page.get_by_role("link", name="It began otherwise").click()
    expect(page.locator("main")).to_contain_text("it said: begun")


def test_a_wrong_glass_of_three_days_ago_is_undone_from_the_day_book(page, small_kitchen, kitchen):
    """Much was written since; the one line is found by its day and undone; what is built on says by what."""
    kitchen.ready()
    page.goto(small_kitchen.url)
    quick(page, "jar spilt 1 l")
    for _ in range(3):
        small_kitchen.clock.turn(1)
        page.goto(small_kitchen.url)
        quick(page, "jar 3.2")
    page.goto(small_kitchen.url + "/brews/1")
    page.get_by_role("link", name="Its day book").click()
    expect(page.locator(".book-day")).to_have_count(5)
    line = page.locator(".book-line", has_text="spilt")
    line.get_by_role("button").click()
    expect(page.locator(".toast-line")).to_contain_text("Undone") if page.locator(".toast-line").count() else None
    expect(page.locator(".book-line.undone")).to_have_count(1)
    page.locator(".book-line", has_text="started in Jar").get_by_role("button").click()
    expect(page.locator("main")).to_contain_text("What builds on it")
    with small_kitchen.database.reader() as session:
        assert session.get(Brew, 1).left_l == 3.5


def test_a_lost_connection_loses_nothing_and_sends_once(page, small_kitchen, kitchen):
    """A pH logged on the round and a note sent with a whole page wait on the phone, and are written once when it answers."""
    page = page.context.new_page()  # not the one that fails on any error of the network
    page.set_viewport_size(PHONE)
    brew = kitchen.pitch()
    small_kitchen.clock.turn(2)
    page.goto(small_kitchen.url)
    page.context.set_offline(True)
    page.locator(".rest > summary").click()
    page.locator("details[data-log=p] > summary").click()
    page.locator(f"#ph-{brew}").fill("3.7")
    page.locator("details[data-log=p] button", has_text="Save").click()
    page.get_by_text("1 entry waits here").wait_for()
    page.locator("#quick-line").fill("warm day")
    page.keyboard.press("Enter")
    page.get_by_text("2 entries wait here").wait_for()
    page.context.set_offline(False)
    page.get_by_text("The 2 entries that waited are saved.").wait_for()
    page.reload()
    with kitchen.database.reader() as session:
        assert [r.ph for r in session.query(Reading).filter(Reading.ph == 3.7)] == [3.7]
        assert [note.text for note in session.query(Note)] == ["warm day"]


def test_what_waited_and_is_refused_is_shown_not_lost(page, small_kitchen, kitchen):
    """A word where a number belongs, kept while nothing answered: it is told as typed, and stays until it is forgotten."""
    page = page.context.new_page()
    brew = kitchen.pitch()
    small_kitchen.clock.turn(2)
    page.goto(small_kitchen.url)
    page.context.set_offline(True)
    page.locator(".rest > summary").click()
    page.locator("details[data-log=p] > summary").click()
    page.locator(f"#ph-{brew}").fill("sourish")
    page.locator("details[data-log=p] button", has_text="Save").click()
    page.get_by_text("1 entry waits here").wait_for()
    page.context.set_offline(False)
    expect(page.locator(".toast-kept")).to_contain_text("Not taken:")
    page.goto(small_kitchen.url + "/vessels/")
    expect(page.locator(".toast-kept")).to_contain_text("sourish")
    page.get_by_role("button", name="Forget it").click()
    expect(page.locator(".toast-kept")).to_have_count(0)


def test_an_answer_lost_on_the_way_is_no_second_reading(page, small_kitchen, kitchen):
    """The pH arrived and its answer did not: the phone keeps it and sends it again, and it stays one reading, of its own moment."""
    page = page.context.new_page()
    brew = kitchen.pitch(measured_ph=None)
    small_kitchen.clock.turn(2)
    page.goto(small_kitchen.url)

    def lose(route):
        route.fetch()
        route.abort()

    page.route("**/reading", lose, times=1)
    page.locator(".rest > summary").click()
    page.locator("details[data-log=p] > summary").click()
    page.locator(f"#ph-{brew}").fill("3.6")
    page.locator("details[data-log=p] button", has_text="Save").click()
    page.get_by_text("1 entry waits here").wait_for()
    small_kitchen.clock.turn(0.01)
    page.get_by_role("button", name="Send now").click()
    page.get_by_text("The entry that waited is saved.").wait_for()
    with kitchen.database.reader() as session:
        assert [r.ph for r in session.query(Reading).filter(Reading.ph == 3.6)] == [3.6]


def test_what_stays_on_the_page_can_be_sent_again(page, small_kitchen, kitchen):
    """A second pH like the first, logged on purpose without leaving the round, is a second reading."""
    brew = kitchen.pitch(measured_ph=None)
    small_kitchen.clock.turn(2)
    page.goto(small_kitchen.url)
    for count in (1, 2):
        panel = page.locator("details[data-log=p]")
        if not panel.locator("summary").first.is_visible():
            page.locator(".rest > summary").click()
        if panel.get_attribute("open") is None:
            panel.locator("summary").first.click()
        page.locator(f"#ph-{brew}").fill("3.6")
        with page.expect_response("**/reading"):
            page.locator("details[data-log=p] button", has_text="Save").click()
        page.wait_for_timeout(300)
        small_kitchen.clock.turn(0.1)
        with kitchen.database.reader() as session:
            assert session.query(Reading).filter(Reading.ph == 3.6).count() == count


WORDS = {"name", "note", "story", "text", "reason", "word", "question", "to_whom", "cause", "taste", "who", "doubt", "end_note", "ended_note", "material", "says", "base", "flavour"}  # fmt: skip
SCRIPT = """<img src="x" onerror="document.title='hurt'"><script>document.title='hurt'</script>\"'>{{7*7}}"""


def test_no_words_of_a_household_are_ever_a_script(page, quince_yard):
    """Every text of every record is a script: a crawl through all pages shows it as letters, and runs none."""
    with closing(sqlite3.connect(quince_yard.database.path)) as file, file:
        tables = [row[0] for row in file.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        for table in tables:
            for column in [row[1] for row in file.execute(f'PRAGMA table_info("{table}")') if row[2] == "VARCHAR" and row[1] in WORDS]:
                if f"{table}.{column}" not in {*values.WORDS, "bottling.flavour", "touched.name"}:
                    file.execute(f'UPDATE "{table}" SET "{column}" = substr("{column}", 1, 8) || ?', (SCRIPT,))
    seen, ahead, shown = set(), ["/"], 0
    while ahead and len(seen) < 90:
        path = ahead.pop(0)
        shape = re.sub(r"\d+", "n", path.split("?")[0])
        if path in seen or sum(re.sub(r"\d+", "n", one.split("?")[0]) == shape for one in seen) >= 2:
            continue
        seen.add(path)
        answer = page.goto(quince_yard.url + path, wait_until="domcontentloaded")
        if "html" not in answer.headers.get("content-type", ""):
            continue
        assert answer.status == 200, path
        assert page.locator("img[src='x']").count() == 0, path
        assert page.title() != "hurt", path
        assert page.locator("script:not([src])").count() == 0, path
        shown += "onerror" in page.locator("body").inner_text()
        links = page.eval_on_selector_all("a[href^='/']", "all => all.map((a) => a.getAttribute('href'))")
        ahead += [link.split('#')[0] for link in links if not re.search(r"\.(pdf|ics|json|svg|zip|csv|db)|/photo|/backup|/sign-out", link)]
    assert shown > 15
    assert len(seen) > 40
