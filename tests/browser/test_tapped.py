"""Journeys with a tapped vessel: from setting it up to the third draw, a glass by a line, forgotten, paused."""

import re

import pytest
from playwright.sync_api import expect

PHONE = {"width": 390, "height": 844}


def test_from_the_tap_to_the_third_draw_on_a_phone(page, small_kitchen):
    """A jar gets its tap, is filled once, and is drawn from and topped up three times, with what was measured."""
    page.set_viewport_size(PHONE)
    page.goto(small_kitchen.url + "/vessels/")
    page.locator(".lot").click()
    page.get_by_role("link", name="It has a tap").click()
    page.get_by_label("The tap is made of").select_option(label="Stainless steel")
    page.get_by_label("nothing drips").check()
    page.get_by_label("Left below the tap").fill("0.4")
    page.get_by_role("button", name="Set up, and plan its first fill").click()
    page.get_by_role("button", name="Start, step by step").first.click()
    while page.locator("button[data-next]").inner_text() != "Start the brew":
        at = page.locator(".kitchen-top .over").inner_text()
        page.locator("button[data-next]").click()
        expect(page.locator(".kitchen-top .over")).not_to_have_text(at)
    page.locator("button[data-next]").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("running 0 days")
    small_kitchen.clock.turn(11)
    for number, days in enumerate((4, 4, 5)):
        page.goto(small_kitchen.url + "/")
        page.get_by_role("link", name="Draw", exact=True).click()
        expect(page.locator(".tapped-lead")).to_contain_text(re.compile("You can draw|Draw [\\d.]+ L and top up"))
        page.locator("summary", has_text=re.compile("^Draw$")).click()
        page.get_by_role("button", name="Draw it").click()
        page.get_by_role("link", name="Top up", exact=True).click()
        page.get_by_label("pH once topped up").fill("3.5")
        page.get_by_role("button", name="Topped up").click()
        expect(page.locator(".tapped-lead")).to_contain_text(re.compile("Leave it for now|You can draw"))
        expect(page.locator(".saw .measured")).to_have_count(number + 1)
        small_kitchen.clock.turn(days)
    page.reload()
    expect(page.locator(".tapped-lead")).to_contain_text(re.compile("You can draw|Draw [\\d.]+ L and top up"))
    assert page.evaluate("document.documentElement.scrollWidth <= document.documentElement.clientWidth")


def test_a_glass_by_a_line_and_back(page, quince_yard):
    """A line says what Enter saves; the crock has a glass less; undo gives it back."""
    page.goto(quince_yard.url + "/vessels/")
    page.locator(".lot", has_text="Stoneware crock").click()
    page.get_by_role("link", name="Draw, top up").click()
    page.locator(".tapped-lead").wait_for()
    page.keyboard.press("/")
    page.keyboard.type("stoneware crock 300 ml")
    expect(page.get_by_role("search")).to_contain_text("300 mL drunk")
    expect(page.get_by_role("search")).to_contain_text("Enter saves this")
    page.keyboard.press("Enter")
    expect(page.locator(".toast-line").first).to_contain_text("300 mL")
    expect(page.locator(".inside-words", has_text="7.4 L")).to_be_visible()
    page.get_by_role("button", name="Undo").first.click()
    expect(page.locator(".inside-words", has_text="7.7 L")).to_be_visible()


def test_forgotten_for_five_weeks_and_brought_back(page, quince_yard):
    """It is said what it is; the small draw that is advised is made, and the way back goes on from there."""
    quince_yard.clock.turn(35)
    page.goto(quince_yard.url + "/")
    stop = page.locator("article.stop", has_text="Stoneware crock")
    expect(stop).to_contain_text("It is vinegar now")
    stop.get_by_role("link", name="Draw", exact=True).click()
    said = page.locator(".tapped-lead").inner_text()
    litres = re.search(r"draw ([\d.]+) L", said)[1]
    page.locator("summary", has_text=re.compile("^Draw$")).click()
    page.get_by_label("How much", exact=True).fill(litres)
    page.get_by_label("What for").select_option(label="kept as vinegar")
    page.get_by_role("button", name="Draw it").click()
    page.get_by_role("link", name="Top up", exact=True).click()
    page.get_by_role("button", name="Topped up").click()
    expect(page.locator(".tapped-lead")).to_contain_text("It is")


def test_a_holiday_and_back(page, quince_yard):
    """Paused in the pantry it asks for nothing; on return it goes on from its page."""
    page.goto(quince_yard.url + "/vessels/")
    page.locator(".lot", has_text="Stoneware crock").click()
    page.get_by_role("link", name="Draw, top up").click()
    page.get_by_role("link", name="Pause it").click()
    page.get_by_label("Where it stands meanwhile").select_option(label="Pantry")
    page.get_by_role("button", name="Pause it").click()
    expect(page.locator(".tapped-lead")).to_contain_text("Paused since today")
    quince_yard.clock.turn(14)
    page.goto(quince_yard.url + "/")
    stop = page.locator("article.stop", has_text="Stoneware crock")
    expect(stop).not_to_contain_text("Draw what is ready")
    stop.get_by_role("heading").get_by_role("link").click()
    page.get_by_role("link", name="Let it go on").click()
    page.get_by_role("button", name="It goes on").click()
    expect(page.locator(".tapped-lead")).not_to_contain_text("Paused")


@pytest.mark.parametrize("dark", [False, True])
def test_what_if_answers_while_sliding(page, quince_yard, dark):
    """A slider changes the answer in place; a wish is answered with ways; nothing else moves."""
    page.emulate_media(color_scheme="dark" if dark else "light")
    page.goto(quince_yard.url + "/vessels/")
    page.locator(".lot", has_text="Stoneware crock").click()
    page.get_by_role("link", name="Draw, top up").click()
    before = page.locator(".what-if-answer").inner_text()
    page.get_by_label("Each time").fill("80")
    expect(page.locator(".what-if-answer")).not_to_have_text(before)
    page.get_by_label("We want a week").fill("5 L")
    page.get_by_role("button", name="How?").click()
    expect(page.locator(".wish-ways li").first).to_contain_text("every")
