"""Numbers in and out by hand: three spreadsheets brought in, and a recipe sent from one household to another."""

import threading
from types import SimpleNamespace

import pytest
from playwright.sync_api import expect

from kyklos import serving
from kyklos.demo.household import DEMO_NOW
from kyklos.serving.app import create_app
from kyklos.store.records import Bottle, Brew, Reading

from ..core.test_spreadsheets import FILES, as_workbook
from .test_journeys import PHONE


def files_of(name):
    """A file as a browser sends it."""
    told = FILES[name]
    return {"name": name, "mimeType": "application/octet-stream", "buffer": as_workbook(told) if isinstance(told, dict) else told.encode()}


def bring_in(page, house, name):
    """Choose a file and look at what would be added."""
    page.goto(house.url + "/settings/import")
    page.get_by_label("The file").set_input_files(files=[files_of(name)])
    page.get_by_role("button", name="Look at it").click()
    page.get_by_role("heading", name="What would be added").wait_for()


def test_three_spreadsheets_are_brought_in(page, empty_house):
    """A log with degrees of one kind, one row a batch, and a workbook of several sheets; the second undone from its toast."""
    house = empty_house
    house.clock.now = DEMO_NOW
    page.goto(house.url)
    page.get_by_role("button", name="Save and begin").click()
    bring_in(page, house, "log.csv")
    expect(page.get_by_role("heading", level=1)).to_have_text("1 brew, 3 readings")
    page.get_by_role("button", name="Bring them in").click()
    page.get_by_text("1 brew and 3 readings brought in.").first.wait_for()
    bring_in(page, house, "batches.csv")
    page.get_by_text("What each column is").click()
    expect(page.get_by_label("Gallons (gal)")).to_have_value("size")
    page.get_by_role("button", name="Bring them in").click()
    page.get_by_text("2 brews and 3 readings brought in.").first.wait_for()
    page.locator(".toast-line").get_by_role("button", name="Undo").click()
    page.wait_for_load_state()
    bring_in(page, house, "sheets.xlsx")
    page.get_by_label("The bottles are still there").check()
    page.get_by_role("button", name="Bring them in").click()
    page.get_by_text("2 brews, 3 readings, 2 tastes and 9 bottles brought in.").first.wait_for()
    with house.database.reader() as session:
        assert (session.query(Brew).count(), session.query(Reading).count(), session.query(Bottle).count()) == (3, 6, 9)


@pytest.fixture
def next_door(kitchen, clock):
    """Another household, in its own kitchen."""
    server = serving.make(create_app(kitchen.database, kitchen.clock, "next door"), "127.0.0.1", 0)
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    yield SimpleNamespace(url=f"http://127.0.0.1:{server.port}", database=kitchen.database)
    server.stop()
    thread.join(2)


def test_a_recipe_goes_next_door(page, demo, next_door, clock):
    """Shared from its card as a file, read on a phone next door, seen first, kept, and planned there in that household's jar."""
    server = serving.make(create_app(demo, lambda: DEMO_NOW, "here"), "127.0.0.1", 0)
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    page.goto(f"http://127.0.0.1:{server.port}/brew-day/recipes")
    page.get_by_role("link", name="Share").first.click()
    with page.expect_download() as taken:
        page.get_by_role("link", name="The file").click()
    content = taken.value.path().read_bytes()
    server.stop()
    thread.join(2)
    page.set_viewport_size(PHONE)
    page.goto(next_door.url + "/data/read")
    page.get_by_label("The file").set_input_files(files=[{"name": "recipe.json", "mimeType": "application/json", "buffer": content}])
    page.get_by_role("button", name="Look at it").click()
    expect(page.get_by_role("heading", name="In Jar, 3.5 L")).to_be_visible()
    page.get_by_label("Keep it as").fill("From the ropeworks")
    page.get_by_role("button", name="Keep it").click()
    page.wait_for_url("**/brew-day/?recipe=*")
    expect(page.locator("main")).to_contain_text("Jar")
