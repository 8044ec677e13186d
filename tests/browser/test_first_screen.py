"""The phone's first screen: installed, read and typed on without a connection, wiped when signed out."""

import re
import threading
from types import SimpleNamespace

import pytest
from playwright.sync_api import expect

from kyklos import serving
from kyklos.demo.household import DEMO_NOW
from kyklos.serving.app import create_app
from kyklos.store.records import Reading

from .test_journeys import PHONE


class House:
    """The sample household on a port that stays, to be stopped and started."""

    def __init__(self, database, clock, **config):
        self.database, self.clock, self.config, self.port = database, clock, config, 0
        self.start()

    def start(self):
        """Answer, from now on."""
        self.server = serving.make(create_app(self.database, self.clock, "browser", **self.config), "127.0.0.1", self.port)
        self.port = self.server.port
        self.thread = threading.Thread(target=serving.run, args=(self.server,), daemon=True)
        self.thread.start()

    def stop(self):
        """Answer no longer."""
        self.server.stop()
        self.thread.join(5)

    @property
    def url(self):
        """Where it answers."""
        return f"http://127.0.0.1:{self.port}"


@pytest.fixture
def house(demo, clock):
    """The sample household."""
    clock.now = DEMO_NOW
    made = House(demo, clock)
    yield made
    made.stop()


@pytest.fixture
def phone(browser_type, browser_type_launch_args):
    """A phone whose browser lets a worker keep pages: one of its own, for one that has run hundreds of tests keeps no pages at times."""
    browser = browser_type.launch(**browser_type_launch_args)
    context = browser.new_context(locale="en-GB", viewport=PHONE, service_workers="allow")
    context.set_default_timeout(30_000)
    yield SimpleNamespace(context=context, page=context.new_page())
    browser.close()


KEPT = "async () => { const kept = await caches.open('kyklos-pages'); return (await kept.keys()).map((one) => new URL(one.url).pathname) }"

#: Whether the worker runs, and what the browser keeps at all.
STANDS = """async () => {
  const one = await navigator.serviceWorker.getRegistration();
  const states = one ? ['installing', 'waiting', 'active'].map((name) => one[name] && one[name].state) : 'no worker';
  return [location.href, isSecureContext, states, await caches.keys(), await navigator.storage.estimate(), document.querySelectorAll('.stop').length];
}"""


def kept_when(page, fits):
    """Wait until what is kept fits; gives it."""
    found = []
    for number in range(1, 450):
        found = page.evaluate(KEPT)
        if fits(found):
            return found
        if number % 100 == 0 and page.locator(".stop").count():
            page.reload()  # a busy machine: who looks again keeps again
        page.wait_for_timeout(200)
    raise AssertionError((found, page.evaluate(STANDS)))


def test_it_can_be_installed(phone, house):
    """The browser finds nothing that keeps Kyklos from the first screen: its name, icons, window, worker."""
    phone.page.goto(house.url)
    kept_when(phone.page, lambda found: "/" in found)
    session = phone.context.new_cdp_session(phone.page)
    told = session.send("Page.getAppManifest")
    assert told["errors"] == []
    assert re.search(r'"display": "standalone"', told["data"])
    assert [one["errorId"] for one in session.send("Page.getInstallabilityErrors")["installabilityErrors"] if one["errorId"] != "in-incognito"] == []


@pytest.mark.alone  # beside another worker's computing the browser keeps nothing at times
def test_read_and_typed_on_without_a_connection_and_sent_once(phone, house):
    """The round and each living brew are read "as of"; a pH typed meanwhile waits, and stands there once when Kyklos answers again."""
    page = phone.page
    page.goto(house.url)
    kept_when(page, lambda found: {"/", "/brews/7", "/brews/10"} <= set(found))
    house.stop()
    page.goto(f"{house.url}/brews/7")
    expect(page.locator("[data-as-of]")).to_contain_text("As of")
    page.goto(house.url)
    expect(page.locator("[data-as-of]")).to_contain_text("Kyklos does not answer")
    expect(page.locator("#stop-7 h2")).to_be_visible()
    stop = page.locator("#stop-7")
    stop.locator(".rest > summary").click()
    stop.locator("summary", has_text="pH").click()
    stop.get_by_label("pH", exact=True).fill("3.21")
    stop.get_by_role("button", name="Save").click()
    page.get_by_text("1 entry waits here until Kyklos answers.").wait_for()
    page.goto(f"{house.url}/cellar/")
    expect(page.get_by_role("heading", name="Kyklos does not answer")).to_be_visible()
    page.get_by_role("link", name="Stone jar").first.wait_for()
    page.goto("about:blank")  # else the page that stands open may hear Kyklos first, and send it
    house.start()
    page.goto(house.url)
    page.get_by_text("The entry that waited is saved.").wait_for()
    with house.database.reader() as session:
        assert session.query(Reading).filter_by(ph=3.21).count() == 1


def test_nothing_stays_after_signing_out(phone, demo, clock):
    """With a password on the house: what was kept is gone once this phone signs out, and a stranger reads nothing."""
    from werkzeug.security import generate_password_hash

    clock.now = DEMO_NOW
    shared = House(demo, clock, KYKLOS_SHARED=True, KYKLOS_PASSWORD=generate_password_hash("sour jar seven"))
    page = phone.page
    page.goto(shared.url)
    page.get_by_label("Password").fill("sour jar seven")
    page.get_by_role("button").first.click()
    kept_when(page, lambda found: "/" in found)
    page.goto(f"{shared.url}/settings/")
    page.get_by_role("button", name="Sign this device out").click()
    page.get_by_label("Password").wait_for()
    kept_when(page, lambda found: found == [])
    shared.stop()
    page.goto(shared.url)
    expect(page.locator("body")).to_contain_text("nothing yet")
