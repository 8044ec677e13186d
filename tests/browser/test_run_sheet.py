"""Browser journeys: a day of three vessels, from the plan to the last cloth, on a phone."""

import re
from datetime import timedelta

from axe_playwright_python.base import AXE_SCRIPT
from playwright.sync_api import expect

from .test_journeys import VIOLATIONS

PHONE = {"width": 390, "height": 844}


def test_three_vessels_from_the_plan_to_the_last_cloth_on_a_phone(page, quince_yard):
    """Laid out, begun, a starter written down on the way, a wait left and rung back from, one step late, to the end."""
    page.set_viewport_size(PHONE)
    page.goto(quince_yard.url + "/brew-day/clock")
    page.get_by_role("checkbox", name="Tall jar: turn round").check()
    expect(page.locator(".sheet-list li").filter(has_text="Tall jar").first).to_be_visible()
    planned = page.locator(".sheet-list li:not(.sheet-wait)").count()
    page.get_by_role("button", name="Start the day").click()
    expect(page.locator(".kitchen-top")).to_contain_text(f"0 of {planned} done")
    page.evaluate(AXE_SCRIPT)
    assert page.evaluate("options => axe.run(options)", VIOLATIONS)["violations"] == []
    assert page.locator("h1").count() == 1
    wrote, left, late = False, False, False
    for number in range(planned):
        done = page.get_by_role("button", name=re.compile("^Done"))
        while done.count() == 0:
            left = True
            expect(page.locator(".walk-step h1")).to_contain_text("to wait")
            expect(page.locator(".timer").first).to_be_visible()
            quince_yard.clock.now += timedelta(minutes=6)
            page.reload()
        if not wrote and page.get_by_role("link", name="Write the starter down").count():
            page.get_by_role("link", name="Write the starter down").click()
            expect(page).to_have_url(re.compile(r"/brews/\d+/harvest"))
            page.get_by_role("link", name=re.compile("The day: ")).first.click()
            wrote = True
        quince_yard.clock.now += timedelta(minutes=25 if number == 4 else 3)
        if number == 4:
            page.reload()
            expect(page.get_by_text(re.compile(r"later than laid\s+out"))).to_be_visible()
            late = True
        page.get_by_role("button", name=re.compile("^Done")).first.click()
        if number + 1 < planned:
            expect(page.locator(".kitchen-top")).to_contain_text(f"{number + 1} of {planned} done")
        assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    assert wrote
    assert left
    assert late
    expect(page).to_have_url(quince_yard.url + "/")
    assert page.get_by_text(re.compile("The day: ")).count() == 0
