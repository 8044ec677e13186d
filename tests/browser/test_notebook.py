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
    page.get_by_text("As a table").click()
    expect(page.get_by_role("columnheader", name="Days")).to_be_visible()
    paper = page.pdf(format="A4")
    assert len(re.findall(rb"/Type\s*/Page[^s]", paper)) <= 2
    page.emulate_media(media="print")
    expect(page.get_by_role("link", name="The one before")).to_be_hidden()
