"""Browser journeys: found on a phone in a moment, a lesson that comes back and saves a bottle, a season printed."""

import re
from datetime import timedelta

from playwright.sync_api import expect

PHONE = {"width": 390, "height": 844}


def test_what_gushed_is_found_on_a_phone_while_typing(page, quince_yard):
    """From any page: a question mark, some words, one of them misspelt, a tap; the bottle's page opens. No reload while typing."""
    page.set_viewport_size(PHONE)
    page.goto(quince_yard.url + "/vessels/")
    page.locator("#quick-line").fill("? fig gushd last winter")
    expect(page.locator("#quick-reads")).to_contain_text("opens the notebook")
    page.keyboard.press("Enter")
    expect(page.locator(".hit").first).to_contain_text("Fig and thyme")
    field = page.get_by_label("Search everything that was written or named")
    before = page.evaluate("performance.timeOrigin")
    field.fill("mould tall jar")
    expect(page.locator(".hit").first).to_contain_text("fuzzy")
    assert page.evaluate("performance.timeOrigin") == before
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    page.locator(".hit a").first.click()
    expect(page).to_have_url(re.compile(r"/brews/\d+"))


def test_a_lesson_comes_back_and_saves_a_bottle(page, quince_yard):
    """Proposed from what gushed, reworded and kept; a year later it stands where the same flavour is bottled, and is worth a tap."""
    page.goto(quince_yard.url + "/notebook/")
    card = page.locator(".lesson-card").filter(has_text="fig and thyme")
    card.get_by_role("textbox").fill("Fig: two days warm, then cold.")
    card.get_by_role("button", name="Keep").click()
    expect(page.locator("#lessons")).to_contain_text("Fig: two days warm, then cold.")
    quince_yard.clock.now += timedelta(days=365)
    page.goto(quince_yard.url + "/brews/7/bottling?chosen=1&flavour=f2")
    expect(page.locator(".comes-back")).to_contain_text("Fig: two days warm, then cold.")
    page.locator(".comes-back").get_by_role("button", name="Helped").click()
    page.goto(quince_yard.url + "/notebook/")
    expect(page.locator("#lessons")).to_contain_text("helped 1")


def test_a_season_is_printed_on_two_pages(page, quince_yard):
    """Sentences, drawings and tables of a winter stand on paper without the page's own ways."""
    page.goto(quince_yard.url + "/notebook/")
    page.get_by_role("link", name="This season").click()
    expect(page.get_by_role("heading", name="The winter at Quince Yard")).to_be_visible()
    expect(page.locator(".bead").first).to_be_visible()
    page.get_by_text("As a table").first.click()
    expect(page.get_by_role("columnheader", name="Days")).to_be_visible()
    paper = page.pdf(format="A4")
    assert len(re.findall(rb"/Type\s*/Page[^s]", paper)) <= 2
    page.emulate_media(media="print")
    expect(page.get_by_role("link", name="The one before")).to_be_hidden()


def test_an_experiment_is_tasted_on_the_phone_and_kept(page, quince_yard):
    """Begun in a minute, each taster scores two numbered glasses and looks for the odd one; then names, a result with its doubt, a lesson."""
    page.set_viewport_size(PHONE)
    page.goto(quince_yard.url + "/settings/")
    page.locator(".names input").nth(2).fill("Noor Amsel")
    page.get_by_role("button", name="Save").first.click()
    page.goto(quince_yard.url + "/notebook/")
    page.get_by_role("link", name="Try something").click()
    page.get_by_label("What do you want to know?").fill("Does the stone jar taste of stone?")
    page.get_by_label("The one thing that differs").fill("glass")
    page.get_by_role("button", name="Begin").click()
    for taster in ("Odile Varga", "Bram Sollie", "Noor Amsel"):
        page.get_by_role("link", name=taster).click()
        for glass in (0, 1):
            page.locator(".glass-line").nth(glass).get_by_role("button").nth(3 - glass).click()
        expect(page.locator(".score-dot.on")).to_have_count(7)
        page.get_by_role("button", name="Second").click()
    expect(page.locator("#taste")).to_contain_text("Tried 3 times.")
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    page.get_by_role("button", name="name the glasses").click()
    expect(page.locator(".lead-words")).to_contain_text("of 3 times")
    page.get_by_label("What was learned").fill("Stone tastes of nothing.")
    page.get_by_role("button", name="End, and keep the lesson").click()
    page.get_by_role("link", name="What was learned").click()
    expect(page.locator("#lessons")).to_contain_text("Stone tastes of nothing.")
