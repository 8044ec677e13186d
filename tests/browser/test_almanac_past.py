"""The almanac goes back by scrolling, a season at a time, and stays where it was looked at."""

from datetime import datetime
from itertools import pairwise


def test_five_years_back_by_scrolling(page, quince_yard):
    """Scrolled to its left end, season after season stands before: older weeks, in the lanes of the same vessels; today stays reachable."""
    page.goto(quince_yard.url + "/almanac/")
    lanes, past = page.locator(".almanac-scroll"), page.locator(".almanac-past")
    past.first.wait_for(state="attached")
    today = page.locator(".now").bounding_box()
    assert 0 < today["x"] < 1280
    for _ in range(3):
        many = past.count()
        lanes.evaluate("box => { box.scrollLeft = 0; }")
        past.nth(many).wait_for(state="attached")
        page.wait_for_timeout(200)  # what was put before is scrolled past
        assert lanes.evaluate("box => box.scrollLeft") > 1000  # what was looked at stays in sight
    names = [past.nth(i).get_attribute("aria-label") for i in range(past.count())]
    begins = [datetime.strptime(name.rpartition("from ")[2], "%d %B %Y") for name in names]
    assert [(later - earlier).days for earlier, later in pairwise(begins)] == [91] * (len(begins) - 1)
    assert page.locator(".almanac-past .bar").count() > 0
    rows = {round(box.get_attribute("y1") and float(box.get_attribute("y1"))) for box in past.first.locator(".lane-line").all()}
    assert rows == {round(float(box.get_attribute("y1"))) for box in page.locator(".almanac:not(.almanac-past) .lane-line").all()}
