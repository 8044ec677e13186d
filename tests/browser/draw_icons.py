"""Draw the icons of the phone's first screen from the mark; run by hand when the mark changes."""

import sys
from pathlib import Path

from playwright.sync_api import sync_playwright

STATIC = Path(__file__).parents[2] / "src" / "kyklos" / "web" / "static"
INSIDE = Path("/usr/lib/chromium/chromium")
#: Name, edge [px], share that the mark takes: a round mask cuts the edges off.
ICONS = (("mark-192", 192, 0.86), ("mark-512", 512, 0.86), ("mark-512-round", 512, 0.62))
PAPER = "#fbf6ea"


def draw():
    """Draw each icon on paper."""
    mark = (STATIC / "mark.svg").read_text("utf-8")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=str(INSIDE) if INSIDE.exists() else None, args=["--no-sandbox"])
        for name, edge, share in ICONS:
            page = browser.new_page(viewport={"width": edge, "height": edge})
            inside = round(edge * share)
            page.set_content(
                f"<style>body {{ margin: 0; background: {PAPER}; display: grid; place-items: center; height: 100vh }}"
                f" svg {{ width: {inside}px; height: {inside}px }}</style>{mark}"
            )
            page.screenshot(path=str(STATIC / "icons" / f"{name}.png"))
        browser.close()


if __name__ == "__main__":
    sys.exit(draw())
