"""A beginner's first five minutes on a phone, in cups and °F, and how many taps the everyday things take."""

import re

import pytest
from playwright.sync_api import expect

from kyklos.actions.bottles import harvest
from kyklos.store.records import Brew, Household, Reading, Tasting

PHONE = {"width": 390, "height": 844}


class Thumb:
    """Taps what bears a name, and counts."""

    def __init__(self, page):
        self.page, self.taps = page, 0

    def tap(self, target):
        """Tap something."""
        self.taps += 1
        target.first.click()

    def button(self, name):
        """Tap a button."""
        self.tap(self.page.get_by_role("button", name=name))

    def link(self, name):
        """Tap a link."""
        self.tap(self.page.get_by_role("link", name=name))


@pytest.fixture
def thumb(page):
    """A thumb on a phone."""
    page.set_viewport_size(PHONE)
    return Thumb(page)


def test_a_beginner_with_a_gift_starts_a_first_brew_in_five_minutes(page, thumb, empty_house):
    """Welcome, a gift with a cup of liquid, the plan, each kitchen step with its picture, and the brew stands on the round."""
    page.goto(empty_house.url)
    thumb.tap(page.get_by_text("Quarts, cups, °F"))
    thumb.tap(page.get_by_text("pH strips", exact=True))
    page.get_by_label("Who tastes?").fill("Ana, Ben")
    thumb.button("Save and begin")
    thumb.link("From someone who brews")
    thumb.tap(page.get_by_text("2 gallons"))
    thumb.tap(page.get_by_text("1 quart"))
    page.get_by_label("How warm it usually is there").fill("75")
    page.get_by_label("Liquid that came with it").fill("1 cup")
    thumb.button("Plan the first brew")
    expect(page.locator(".plan-card")).to_contain_text("bag")
    expect(page.locator(".plan-card")).not_to_contain_text("needs fixing")
    assert not re.search(r"\d (?:L|g|mL)\b|°C", page.locator("main").inner_text())
    start = page.get_by_role("button", name="Start, step by step")
    assert start.bounding_box()["y"] < 2 * PHONE["height"]
    thumb.tap(start)
    while page.locator("h1").inner_text() != "Cover and label":
        before = page.locator("h1").inner_text()
        assert page.locator(".kitchen-head .pic *").count() > 0, before
        thumb.tap(page.locator("[data-next]"))
        page.wait_for_function("before => document.querySelector('h1').innerText !== before", arg=before)
    thumb.button("Start the brew")
    page.get_by_role("heading", name="First jar, day 0").wait_for()
    assert thumb.taps <= 25
    with empty_house.database.reader() as session:
        assert session.query(Brew).one().alive
        assert (session.query(Household).one().units, session.query(Household).one().reads_ph) == ("us", "strips")
    page.goto(empty_house.url)
    expect(page.locator("main")).to_contain_text("First jar")


def test_a_wrong_answer_on_the_way_keeps_all_that_was_typed(page, thumb, empty_house):
    """A word where a number belongs is told beside its field; everything else stands as it was."""
    page.goto(empty_house.url)
    thumb.button("Save and begin")
    thumb.link("From a bottle of raw kombucha")
    page.get_by_label("Where it will stand").fill("Pantry")
    page.get_by_label("How warm it usually is there").fill("cosy")
    thumb.button("Plan the first brew")
    page.get_by_text("is not a number").wait_for()
    assert page.get_by_label("Where it will stand").input_value() == "Pantry"
    assert page.get_by_label("How warm it usually is there").input_value() == "cosy"
    page.get_by_label("How warm it usually is there").fill("22")
    thumb.button("Plan the first brew")
    expect(page.locator(".chip:has([name=kind]:checked)")).to_have_text("Grow a SCOBY from a raw bottle")


def test_the_everyday_things_take_few_taps(page, thumb, small_kitchen, kitchen):
    """Two tastes in four taps or fewer, a pH in three and its digits, a brew as last time in three."""
    brew = kitchen.ready()
    page.goto(small_kitchen.url)
    stop = page.locator(f"#stop-{brew}")
    thumb.tap(stop.locator(".rest > summary"))
    thumb.tap(stop.locator("details[data-log=t] > summary"))
    for name, score in (("Ana", "a bit sour"), ("Ben", "right")):
        thumb.tap(stop.locator(".score-row", has_text=name).get_by_role("button", name=score, exact=True))
        expect(stop.locator(".score-name", has_text=name).locator("small")).to_have_text(score)
    assert thumb.taps <= 4
    thumb.taps = 0
    thumb.tap(stop.locator(".rest > summary"))
    thumb.tap(stop.locator("details[data-log=p] > summary"))
    expect(stop.locator("details[data-log=p]")).to_have_attribute("open", "")
    page.locator(f"#ph-{brew}").fill("3.4")
    thumb.tap(stop.locator("details[data-log=p] button", has_text="Save"))
    expect(page.locator("#toasts")).to_contain_text("3.4")
    assert thumb.taps <= 3
    with kitchen.database.reader() as session:
        assert session.query(Tasting).count() == 2
        assert session.query(Reading).filter_by(ph=3.4).count() == 1
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=1.0))
    kitchen.do(harvest.end_brew, harvest.EndBrew(brew_id=brew))
    page.goto(small_kitchen.url)
    thumb.taps = 0
    thumb.link("Brew day")
    thumb.button("Start, step by step")
    page.get_by_role("heading", name="Lay everything out").wait_for()
    assert thumb.taps <= 3


def test_seven_bottles_in_three_flavours_take_fifteen_taps(page, thumb, small_kitchen, kitchen):
    """From the round to an empty jar: what is offered for starter is kept, kind and size are said once, nothing is typed twice."""
    brew = kitchen.ready()
    page.goto(small_kitchen.url)
    thumb.tap(page.locator(f"#stop-{brew} .rest > summary"))
    thumb.tap(page.locator(f"#stop-{brew} a", has_text="Harvest"))
    thumb.button("Save the starter")
    page.get_by_label("Size", exact=True).fill("330")
    for count, flavour in ((3, "damson"), (2, "ginger-root"), (2, "plain")):
        page.get_by_label("How many").fill(str(count))
        thumb.taps += 2  # a list is opened, and one of it touched
        page.get_by_label("Flavour", exact=True).select_option(flavour)
        thumb.button("Save the bottles")
        expect(page.locator(".toast-line")).to_contain_text(f"{count} bottles filled")
    thumb.button("empty")
    page.get_by_text("is empty and free").wait_for()
    assert thumb.taps <= 15
    with kitchen.database.reader() as session:
        groups = [(len(group.bottles), group.flavour) for group in session.get(Brew, brew).bottlings]
    assert groups == [(3, "damson"), (2, "ginger-root"), (2, "plain")]


@pytest.mark.parametrize("answered_first", [False, True])
def test_two_tasters_tap_within_half_a_second(page, thumb, small_kitchen, kitchen, answered_first):
    """The second presses where the button stood, be the first one's taste on its way or answered: both are kept, each with whom it belongs."""
    brew = kitchen.ready()
    page.goto(small_kitchen.url)
    stop = page.locator(f"#stop-{brew}")
    thumb.tap(stop.locator(".rest > summary"))
    thumb.tap(stop.locator("details[data-log=t] > summary"))
    rows = [stop.locator(".score-row", has_text=name).get_by_role("button", name=score, exact=True) for name, score in (("Ana", "a bit sour"), ("Ben", "right"))]
    places = [row.bounding_box() for row in rows]
    for place in places:
        page.mouse.move(place["x"] + place["width"] / 2, place["y"] + place["height"] / 2)
        page.mouse.down()
        page.wait_for_timeout(90)
        page.mouse.up()
        if answered_first and place is places[0]:
            expect(stop.locator(".score-name small")).to_have_text("a bit sour")
        page.wait_for_timeout(160)
    for name, score in (("Ana", "a bit sour"), ("Ben", "right")):
        expect(stop.locator(".score-name", has_text=name).locator("small")).to_have_text(score)
    with kitchen.database.reader() as session:
        assert sorted((one.taster.name, one.score) for one in session.query(Tasting)) == [("Ana", 1), ("Ben", 0)]


@pytest.mark.parametrize("between", [20, 150, 400])
def test_two_fingers_one_after_the_other_are_both_heard(browser, small_kitchen, kitchen, between):
    """On a touch screen, where the click comes after the finger is lifted: the second tap meets its button, however soon it comes."""
    brew = kitchen.ready()
    page = browser.new_page(viewport=PHONE, has_touch=True, is_mobile=True, locale="en-GB", service_workers="block")
    page.goto(small_kitchen.url)
    stop = page.locator(f"#stop-{brew}")
    stop.locator(".rest > summary").tap()
    stop.locator("details[data-log=t] > summary").tap()
    rows = [stop.locator(".score-row", has_text=name).get_by_role("button", name=score, exact=True) for name, score in (("Ana", "a bit sour"), ("Ben", "right"))]
    for place in [row.bounding_box() for row in rows]:
        page.touchscreen.tap(place["x"] + place["width"] / 2, place["y"] + place["height"] / 2)
        page.wait_for_timeout(between)
    for name, score in (("Ana", "a bit sour"), ("Ben", "right")):
        expect(stop.locator(".score-name", has_text=name).locator("small")).to_have_text(score)
    with kitchen.database.reader() as session:
        assert sorted((one.taster.name, one.score) for one in session.query(Tasting)) == [("Ana", 1), ("Ben", 0)]
    page.close()
