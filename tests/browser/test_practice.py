"""Practice in a real browser: by thumb on a phone, and by keys alone."""

import re

from playwright.sync_api import expect

from kyklos.core.practice import burette

PHONE = {"width": 390, "height": 844}


def test_a_round_of_the_eye_by_thumb(page, empty_house):
    """On a phone, in an empty household: from the offer to a card, a half answer, a whole one, the pair, and on to the next."""
    page.set_viewport_size(PHONE)
    page.goto(empty_house.url)
    page.get_by_role("button", name="Save and begin").click()
    page.get_by_role("link", name="learn to tell mould").click()
    expect(page.locator("h1")).to_contain_text("Day")
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    described = page.locator("svg.specimen").first.get_attribute("aria-label")
    assert len(described) > 30
    page.get_by_role("button", name="Watch").click()
    expect(page.get_by_role("alert")).to_have_text("By what sign? Choose one first.")
    page.locator(".sign-choice").nth(1).click()
    page.get_by_role("button", name="Discard").click()
    expect(page.locator(".outcome")).to_be_visible()
    expect(page.get_by_text("1 seen today")).to_be_visible()
    page.get_by_role("link", name="Guide of looks").click()
    expect(page.locator("h1")).to_have_text("Guide of looks")
    page.get_by_role("link", name="Film yeast or mould?").first.click()
    expect(page.locator(".pointer")).to_have_count(4)
    page.get_by_role("link", name="Two others").click()
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]


def test_a_season_by_keys_alone(page, quince_yard):
    """From anywhere: g p, then on into the kitchen; n is a day, l looks, the day counts on, and what was wiser is said."""
    page.goto(quince_yard.url)
    page.keyboard.press("g")
    page.keyboard.press("p")
    expect(page.locator("h1")).to_have_text("Practice")
    page.get_by_role("link", name="Go on").focus()
    page.keyboard.press("Enter")
    day = int(re.search(r"Day (\d+)", page.locator("h1").inner_text()).group(1))
    page.keyboard.press("l")
    expect(page.get_by_text("Looked at today.")).to_be_visible()
    page.keyboard.press("n")
    expect(page.locator("h1")).to_contain_text(f"Day {day + 1}")
    page.keyboard.press("r")
    page.wait_for_function(f"!document.querySelector('h1').textContent.includes('Day {day + 1} ')")
    page.locator("summary", has_text="Help, and back to a day").click()
    page.get_by_label("Back to day").fill("3")
    page.get_by_role("button", name="Go back").click()
    expect(page.locator("h1")).to_contain_text("Day 3")


def test_a_titration_drop_by_drop(page, quince_yard):
    """The flask changes in place with each drop, colours at the end point, and the reading is told with what it does to the starter."""
    end = burette.posed(burette.DECK[0], 5).end_drops
    page.goto(f"{quince_yard.url}/practice/burette?card=0&seed=5&hard=1&drops={end - 2}")
    expect(page.locator(".flask-word strong")).to_have_text("Pink that fades slowly.")
    page.get_by_role("link", name="One drop").click()
    expect(page.locator(".flask-word")).to_contain_text(f"{end - 1} drops")
    page.get_by_role("link", name="One drop").click()
    expect(page.locator(".flask-word strong")).to_have_text("A breath of pink stays.")
    page.get_by_role("button", name="The pink stays: read it off").click()
    expect(page.locator(".outcome")).to_have_text("To the drop.")
    expect(page.get_by_text("pH 4.2", exact=True)).to_be_visible()
