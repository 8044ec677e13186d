"""Take the pictures in docs/screenshots from the demo; run by `make pictures`."""

import shutil
import sys
import tempfile
import threading
from pathlib import Path

from playwright.sync_api import sync_playwright

from kyklos import serving
from kyklos.clock import fixed_clock
from kyklos.demo.household import DEMO_NOW
from kyklos.demo.sample import unpack
from kyklos.serving.app import create_app
from kyklos.store.file.database import Database

OUT = Path(__file__).parents[2] / "docs" / "screenshots"
INSIDE = Path("/usr/lib/chromium/chromium")
BOTTLING = "/brews/7/bottling?chosen=1&flavour=f1&flavour=f3&flavour=plain"
#: Name, address, options: phone, dark, or a selector to press first.
PICTURES = (
    ("round", "/", ()),
    ("brew-day", "/brew-day/", ()),
    ("brew", "/brews/7", ()),
    ("trace", "/cultures/trace/hotel/5?what=mould", ()),
    ("kitchen-phone", "/brew-day/kitchen/1", ("phone",)),
    ("clock", "/brew-day/clock?vessels=1&vessels=2&vessels=3&hands=1&by=finish&at=2027-02-18T18:00", ()),
    ("bottling", BOTTLING, ()),
    ("cellar", "/cellar/", (".lot:has-text('Damson')",)),
    ("vessels", "/vessels/", ()),
    ("cultures", "/cultures/", ()),
    ("tapped", "/tapped/18", ()),
    ("look", "/brews/7/inspect?surface=film-yeast&smell=bad", ()),
    ("almanac", "/almanac/", ()),
    ("enough", "/supply/", ()),
    ("notebook", "/notebook/?q=fig+gushed", ()),
    ("eye", "/practice/eye/seen?card=7&seed=5&hard=1&word=watch&sign=film-yeast", ()),
    ("practice-kitchen", "/practice/kitchen", ()),
    ("round-phone", "/", ("phone",)),
    ("instruments", "/instruments/", ()),
)


def served(folder):
    """Serve the sample household: gives its address."""
    unpack(Path(folder) / "kyklos.db")
    server = serving.make(create_app(Database(Path(folder) / "kyklos.db"), fixed_clock(DEMO_NOW), "pictures"), "127.0.0.1", 8917)
    threading.Thread(target=serving.run, args=(server,), daemon=True).start()
    return f"http://127.0.0.1:{server.port}"


def take(browser, address, name, options):
    """Take one picture."""
    size = {"width": 390, "height": 844} if "phone" in options else {"width": 1280, "height": 800}
    context = browser.new_context(
        locale="en-GB", viewport=size, color_scheme="dark" if "dark" in options else "light", reduced_motion="reduce"
    )
    page = context.new_page()
    page.goto(address)
    page.wait_for_load_state("networkidle")
    for selector in set(options) - {"phone", "dark"}:
        page.locator(selector).first.click()
        page.wait_for_timeout(500)
    page.screenshot(path=OUT / f"{name}.png")
    context.close()


def main():
    """Take them all."""
    found = str(INSIDE) if INSIDE.exists() else shutil.which("chromium") or shutil.which("google-chrome")
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        browser = play.chromium.launch(
            executable_path=found, args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"]
        )
        demo = served(folder)
        for name, path, options in PICTURES:
            take(browser, demo + path, name, options)
        browser.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
