"""Browser journeys: guests on Saturday, a plan that is kept and moved, a list in the shop, a year's cost."""

import re
from datetime import timedelta

from playwright.sync_api import expect

from kyklos.store.read import planning_queries
from kyklos.store.records import Purchase

PHONE = {"width": 390, "height": 844}


def planned(house):
    """Days that stand in the almanac: kind, vessel, day."""
    with house.database.reader() as session:
        return [(row.kind, row.vessel.name, row.day) for row in planning_queries.planned_days(session)]


def test_guests_who_would_drink_it_dry_and_the_plan_that_prevents_it(page, quince_yard):
    """A line brings forty people into the picture, a resting jar is put to work for them, and the almanac shows both."""
    day = quince_yard.clock().date() + timedelta(days=38)
    page.goto(quince_yard.url + "/supply/")
    resting = page.locator(".supply-card").first.inner_text()
    page.get_by_label("Who comes, or what is wished for").fill(f"{day}, 40 people, 2 glasses")
    page.keyboard.press("Enter")
    expect(page.locator(".wish-row").filter(has_text="40 people")).to_be_visible()
    assert page.locator(".supply-card").first.inner_text() != resting
    expect(page.locator(".supply-card").first).to_contain_text("one batch")
    expect(page.locator(".supply-wide .flag-name").filter(has_text="Guests, 20 L")).to_be_visible()
    page.get_by_role("button", name="Put it in the almanac").click()
    expect(page.get_by_role("heading", name="Almanac")).to_be_visible()
    brews = [row for row in planned(quince_yard) if row[0] == "brew" and row[1] != "Tall jar"]
    assert brews
    assert all(when < day for _, _, when in brews)
    page.goto(quince_yard.url + "/almanac/?weeks=4")
    expect(page.locator(".plan-guests text").filter(has_text="guests").first).to_be_visible()


def test_a_plan_is_kept_its_first_day_brewed_and_its_second_moved(page, small_kitchen):
    """One jar: a sentence, a button; the round asks for the first day, a brew answers it, arrow keys move the next."""
    page.goto(small_kitchen.url + "/supply/")
    expect(page.locator(".one-jar")).to_contain_text("brew")
    page.get_by_role("button", name="Put it in the almanac").click()
    expect(page.get_by_role("heading", name="Almanac")).to_be_visible()
    first, second = [day for _, _, day in planned(small_kitchen)][:2]
    small_kitchen.clock.turn((first - small_kitchen.clock().date()).days)
    page.goto(small_kitchen.url + "/brew-day/")
    page.get_by_text("It is in its vessel already").click()
    page.get_by_label("pH of the brew").fill("4,0")
    page.get_by_role("button", name="Start the brew").click()
    expect(page.get_by_role("heading", name=re.compile("day 0"))).to_be_visible()
    assert first not in [day for _, _, day in planned(small_kitchen)]
    page.goto(small_kitchen.url + "/almanac/")
    mark = page.locator('[data-plan="brew"]').first
    mark.focus()
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    page.wait_for_load_state()
    expect(page.get_by_text(re.compile("Brew in "))).to_be_visible()
    days = [day for _, _, day in planned(small_kitchen)]
    assert second not in days
    assert second + timedelta(days=2) in days


def test_a_shopping_list_in_the_shop_on_a_phone(page, quince_yard):
    """Each line is ticked with a thumb, priced where one likes, put back where it was wrong; what is ticked is in the cupboard."""
    page.set_viewport_size(PHONE)
    page.goto(quince_yard.url + "/supply/list")
    ticks = page.locator(".tick")
    lines = ticks.count()
    assert lines >= 3
    box = ticks.first.bounding_box()
    assert box["height"] >= 48
    for left in range(lines - 1, -1, -1):
        ticks.first.click()
        expect(ticks).to_have_count(left)
    expect(page.locator(".basket-row")).to_have_count(lines)
    row = page.locator(".basket-row").filter(has_text="Damson")
    row.get_by_label("cost").fill("4,20")
    row.get_by_role("button", name="Save").click()
    expect(page.locator(".basket-row").filter(has_text="Damson").get_by_label("cost")).to_have_value("4.20")
    page.get_by_role("button", name=re.compile("Put Muslin")).click()
    expect(ticks).to_have_count(1)
    page.get_by_placeholder(re.compile("strainers")).fill("2 strainers")
    page.keyboard.press("Enter")
    expect(ticks).to_have_count(2)
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    with quince_yard.database.reader() as session:
        assert session.query(Purchase).filter_by(key="damson", price=4.2).count() == 1


def test_a_year_and_what_it_came_to(page, quince_yard):
    """A purchase of a line, a cupboard counted again, the shop's price changed: the year says what a bottle comes to and what it saved."""
    page.goto(quince_yard.url + "/supply/cupboard")
    page.get_by_label("What was bought, how much, what price").fill("2 kg sugar 2.58")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Bought 2 kg White sugar.").or_(page.get_by_text("Bought 2000 g White sugar."))).to_be_visible()
    page.get_by_label("White sugar counted").fill("1500")
    page.keyboard.press("Enter")
    expect(page.locator(".stored-row").filter(has_text="White sugar").locator(".stored-left")).to_have_text("1.5 kg")
    page.get_by_role("link", name="Cost").click()
    expect(page.locator(".lead-words")).to_contain_text("in the shop")
    before = page.locator(".lead-words").inner_text()
    page.get_by_label("A bottle in the shop costs").fill("4")
    page.get_by_role("button", name="Save prices").click()
    expect(page.get_by_text("Prices saved.")).to_be_visible()
    assert page.locator(".lead-words").inner_text() != before
    page.get_by_text("As a table").click()
    expect(page.get_by_role("row").filter(has_text="Jan 2027")).to_be_visible()
