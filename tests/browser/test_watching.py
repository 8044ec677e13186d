"""Journeys of watching: a week on a phone, mould and its trace, two tasters, away and back, keys alone."""

import io

from PIL import Image
from playwright.sync_api import expect

from kyklos.store.read import queries
from kyklos.store.records import Brew

PHONE = {"width": 390, "height": 844}


def quick(page, line):
    """Type a quick line, wait until it is understood, save it."""
    page.locator("#quick-line").fill(line)
    page.locator(".reads").wait_for()
    page.locator("#quick-line").press("Enter")
    page.locator(".toast-line").wait_for()


def fits(page):
    """Whether nothing sticks out of a phone."""
    return page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]


def test_a_week_of_a_brew_on_a_phone(page, small_kitchen):
    """Pitch, look, photo, quick lines, a what-if, a taste, harvest: each day what the round asks for, by thumb."""
    page.set_viewport_size(PHONE)
    page.goto(small_kitchen.url + "/brew-day/")
    page.locator("summary:visible", has_text="It is in its vessel already").first.click()
    page.get_by_role("button", name="Start the brew").click()
    page.wait_for_url("**/brews/1")
    small_kitchen.clock.turn(2)
    page.goto(small_kitchen.url)
    expect(page.locator("#stop-1 .btn-primary:visible")).to_have_text("Look")
    page.locator("#stop-1 [data-log=l] summary").click()
    page.get_by_role("button", name="A thin clear film").click()
    expect(page.locator(".toast-line")).to_contain_text("thin clear film")
    if not page.locator("#stop-1 .label-row button").is_visible():
        page.locator("#stop-1 .rest > summary").click()
    page.locator("#stop-1 .label-row button").click()
    picture = io.BytesIO()
    Image.effect_noise((2600, 2000), 90).convert("RGB").save(picture, "JPEG", quality=92)
    assert picture.tell() > 2_500_000
    page.goto(small_kitchen.url + "/brews/1")
    page.set_input_files("#photo-file", {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": picture.getvalue()})
    page.locator(".photos img").first.wait_for()
    assert fits(page)
    for days, line in ((2, "3.6 strip 23c"), (2, "jar 3.4 strip, ana a bit sweet")):
        small_kitchen.clock.turn(days)
        page.goto(small_kitchen.url + "/brews/1")
        quick(page, line)
    page.get_by_label("Another room").check()
    page.locator(".what-if-says").wait_for()
    page.locator("#what-if-celsius").fill("30")
    expect(page.locator(".what-if-says")).to_contain_text("sooner")
    assert fits(page)
    small_kitchen.clock.turn(3)
    page.goto(small_kitchen.url + "/brews/1/sheet")
    page.get_by_label("Ana").check()
    page.locator(".taste0").click()
    page.get_by_role("button", name="Save the tasting").click()
    page.wait_for_url("**/brews/1")
    expect(page.locator(".records")).to_have_count(2)
    page.goto(small_kitchen.url + "/brews/1/harvest")
    page.get_by_label("Starter to keep, plain").fill("0.5")
    page.get_by_role("button", name="Save the starter").click()
    page.get_by_role("button", name="Save the bottles").wait_for()
    assert fits(page)
    with small_kitchen.database.reader() as session:
        brew = queries.get(session, Brew, 1)
        assert [r.ph for r in brew.readings if r.ph] == [3.6, 3.4]
        assert len(brew.photos) == 1
        assert [t.score for t in brew.tastings] == [-1, 0]
        assert brew.reserved[0].liquid.made_l == 0.5


def test_mould_is_found_and_traced(page, quince_yard):
    """Compared with the drawings, judged at once, discarded with why, and then led to what shared its liquid."""
    page.goto(quince_yard.url + "/brews/7/inspect")
    page.get_by_role("radio", name="Fuzzy, dry or powdery spots").check()
    expect(page.locator("#verdict h2")).to_have_text("Discard")
    page.get_by_role("button", name="Keep this look").click()
    page.wait_for_url("**/brews/7")
    page.get_by_role("link", name="Discard…").click()
    page.locator("#discard summary").click() if not page.locator("#discard[open]").count() else None
    page.get_by_label("Why", exact=True).last.fill("Blue fuzz at the rim.")
    page.get_by_role("button", name="Discard liquid and disc").click()
    page.wait_for_url("**/cultures/trace/brew/7")
    expect(page.locator("main")).to_contain_text("What could have brought it")
    expect(page.locator("main")).to_contain_text("Blue fuzz at the rim.")
    assert page.locator(".trace-row").count() >= 2
    page.goto(quince_yard.url)
    assert page.locator("#stop-7").count() == 0


def test_two_tasters_see_two_windows_and_a_compromise(page, quince_yard):
    """Each taste moves its own taster; two windows stand on the curve, and the page shares the bottles out."""
    page.goto(quince_yard.url + "/brews/7")
    page.locator("[data-log=t] summary").click()  # it stays open for the second taster
    for name, word in (("Odile Varga", "much too sweet"), ("Bram Sollie", "right")):
        page.get_by_role("group", name=f"{name}: sweet to sour").get_by_role("button", name=word, exact=True).click()
        expect(page.locator(".toast-line")).to_contain_text(name)
    expect(page.locator(".window-name")).to_have_count(2)
    expect(page.locator(".share")).to_contain_text("for Bram; the rest")
    page.goto(quince_yard.url + "/tasters/")
    expect(page.locator(".palate")).to_have_count(4)


def test_away_and_back(page, quince_yard):
    """Dates give a plan for each brew; once gone, the round leads to where to begin; then all is as it was."""
    page.goto(quince_yard.url + "/almanac/away")
    page.get_by_role("button", name="cancel the absence").click()
    page.goto(quince_yard.url + "/almanac/away")
    page.get_by_label("First day away").fill("2027-02-20")
    page.get_by_label("Back on").fill("2027-03-06")
    page.get_by_role("button", name="Save the absence").click()
    expect(page.locator(".away-row")).to_have_count(5)
    expect(page.locator("main")).to_contain_text("Harvest it before you leave")
    quince_yard.clock.turn(16.5)
    page.goto(quince_yard.url)
    page.get_by_role("link", name="I am back: where to begin").click()
    expect(page.locator("h1")).to_have_text("Back? Begin here")
    assert "may be past its limit" in page.locator(".steps-plain li").first.inner_text().lower()
    page.get_by_role("button", name="I am back").click()
    page.wait_for_url(quince_yard.url + "/")
    assert page.get_by_role("heading", name="Away").count() == 0


def test_watching_by_keys_alone(page, quince_yard):
    """Slash leads to the quick line, Enter saves it; letters and arrows work the almanac; u undoes."""
    page.goto(quince_yard.url)
    page.keyboard.press("/")
    page.keyboard.type("crock 3.3 odile a bit sour")
    page.locator(".read-chip").first.wait_for()
    page.keyboard.press("Enter")
    page.locator(".toast-line").wait_for()
    page.locator("h1").evaluate("() => document.activeElement.blur()")
    page.keyboard.press("u")
    expect(page.locator(".toast-line")).to_contain_text("Undone")
    page.keyboard.press("g")
    page.keyboard.press("a")
    page.wait_for_url("**/almanac/")
    mark = page.locator("[data-plan=harvest]")
    for _ in range(40):
        if mark.evaluate("element => element === document.activeElement"):
            break
        page.keyboard.press("Tab")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(page.locator(".toast-line")).to_contain_text("Monday 22 February")


def test_a_planned_day_is_dragged(page, quince_yard):
    """Pulled three days to the right it stands there, and the message can undo it."""
    page.goto(quince_yard.url + "/almanac/")
    box = page.locator("[data-plan=harvest] path").bounding_box()
    width = float(page.locator(".almanac:not(.almanac-past)").get_attribute("data-day-width"))
    page.mouse.move(box["x"] + 10, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 10 + 3 * width, box["y"] + 10, steps=6)
    page.mouse.up()
    expect(page.locator(".toast-line")).to_contain_text("Tuesday 23 February")
