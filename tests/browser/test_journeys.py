"""Journeys of a brewer: from an empty household to chilled bottles, by mouse, by keyboard alone, on a phone."""

import re
import sqlite3
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from urllib.parse import urlencode

import pytest
from axe_playwright_python.base import AXE_SCRIPT
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from kyklos.actions import household

from ..web.test_pages import PLAN

PHONE = {"width": 390, "height": 844}


class Mouse:
    """Works a page by pointer."""

    def __init__(self, page):
        self.page = page

    def press(self, name, role="button"):
        """Press what bears a name."""
        self.page.get_by_role(role, name=name, exact=True).first.click()

    def touch(self, selector):
        """Press what a picture stands for."""
        self.page.locator(selector).first.click()

    def unfold(self, name):
        """Open what unfolds."""
        self.page.locator("summary:visible", has_text=name).first.click()

    def type(self, label, text):
        """Type into a field."""
        self.page.get_by_label(label, exact=True).first.fill(text)

    def choose(self, label, name):
        """Choose from a list."""
        self.page.get_by_label(label, exact=True).first.select_option(label=name)


class Keyboard(Mouse):
    """Works a page by keys alone: every target is reached with Tab, and worked with Enter, Space or letters."""

    def reach(self, target):
        """Press Tab until a target has the focus."""
        target.wait_for(state="visible")
        handle = target.element_handle()
        for _ in range(120):
            if handle.evaluate("element => element === document.activeElement"):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError("Tab does not reach it")

    def press(self, name, role="button"):
        """Tab to it, then Enter."""
        self.reach(self.page.get_by_role(role, name=name, exact=True).first)
        self.page.keyboard.press("Enter")

    def touch(self, selector):
        """Tab to it, then Enter."""
        self.reach(self.page.locator(selector).first)
        self.page.keyboard.press("Enter")

    def unfold(self, name):
        """Tab to a summary, then Enter."""
        self.reach(self.page.locator("summary:visible", has_text=name).first)
        self.page.keyboard.press("Enter")

    def type(self, label, text):
        """Tab to a field, then type over what stands there."""
        self.reach(self.page.get_by_label(label, exact=True).first)
        self.page.keyboard.press("ControlOrMeta+a")
        self.page.keyboard.type(text)

    def choose(self, label, name):
        """Tab to a list, then type the name's beginning."""
        self.reach(self.page.get_by_label(label, exact=True).first)
        self.page.keyboard.type(name)


def set_up(page, hand, house):
    """From an empty shelf to a vessel, a culture and two tasters."""
    page.goto(house.url)
    hand.press("Save and begin")
    hand.press("Add a jar by itself", "link")
    hand.type("Name", "Big jar")
    hand.type("Size it is sold as", "1 gal")
    hand.type("Up to your fill line", "3,4")
    hand.type("Inner width", "15")
    hand.type("or a new place", "Dresser")
    hand.type("How warm it usually is there", "24")
    hand.press("Add it")
    page.get_by_text("Big jar added.").wait_for()
    hand.press("Add a culture by itself", "link")
    hand.type("Name", "Bora")
    hand.type("Liquid that came with it", "700 ml")
    hand.press("Add it")
    page.get_by_text("Bora added.").wait_for()
    hand.press("Settings", "link")
    hand.type("Tasters 1", "Odile, Bram")
    hand.press("Save")
    page.get_by_text("Settings saved.").wait_for()


def brew(page, hand, house):
    """Plan and pitch, taste without a page reload, and watch until it is ready."""
    hand.press("Brew day", "link")
    hand.type("Leaf", "6")
    page.locator("#plan", has_text="18 g").wait_for()
    hand.unfold("It is in its vessel already")
    hand.type("pH of the brew", "4,0")
    hand.press("Start the brew")
    page.get_by_role("heading", name="Big jar, day 0").wait_for()
    house.clock.turn(9)
    hand.press("Round", "link")
    page.locator("h1", has_text="’s round").wait_for()
    before = page.evaluate("performance.timeOrigin")
    hand.unfold("Taste")
    hand.press("right")
    page.get_by_text("Odile: right.").wait_for()
    hand.unfold("pH")
    hand.type("pH", "3,2")
    hand.press("Save")
    page.get_by_text("pH 3.2 logged for Big jar.").wait_for()
    assert page.evaluate("performance.timeOrigin") == before
    hand.press("Harvest", "link")


def harvest(page, hand, house):
    """Reserve first, fill bottles, empty the vessel, and chill when told."""
    page.get_by_text("First of all, the starter").wait_for()
    hand.type("Starter to keep, plain", "600 ml")
    hand.press("Save the starter")
    page.get_by_text("600 mL set aside, plain.").wait_for()
    hand.type("How many", "4")
    hand.type("Name on the bottle", "First ones")
    page.locator("#preview", has_text="Chill by").wait_for()
    hand.press("Save the bottles")
    page.get_by_text("4 × 500 mL, First ones.").wait_for()
    hand.press("Done, Big jar is empty")
    page.get_by_role("link", name="Fill Big jar again").wait_for()
    house.clock.turn(2)
    hand.press("Cellar", "link")
    hand.touch(".lot")
    page.locator("[data-drawer]").wait_for()
    hand.press("Chill all 4")
    page.locator(".fridge .lot", has_text="First ones 4").wait_for()
    hand.touch(".lot")
    page.locator("[data-drawer]").wait_for()
    hand.unfold("Open one")
    hand.type("How it tasted", "Lively")
    hand.press("A loud hiss")
    page.get_by_text("“Lively”").wait_for()
    hand.press("Undo")
    page.get_by_role("heading", name="Open it").wait_for()
    hand.press("Cellar", "link")
    page.locator(".fridge .lot", has_text="First ones 4").wait_for()


@pytest.mark.parametrize("way", ["mouse", "keyboard", "phone"])
def test_from_an_empty_shelf_to_chilled_bottles(page, empty_house, way):
    """A newcomer sets up, brews, tastes, measures, harvests, bottles, chills and undoes, each way of working alone."""
    if way == "phone":
        page.set_viewport_size(PHONE)
    hand = (Keyboard if way == "keyboard" else Mouse)(page)
    set_up(page, hand, empty_house)
    brew(page, hand, empty_house)
    harvest(page, hand, empty_house)
    if way == "phone":
        assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]


PLAN_QUERY = urlencode(PLAN)
PLACES = [
    "/practice",
    "/practice/looks",
    "/practice/pairs/film-or-mould",
    "/practice/eye?card=3&seed=5&hard=1",
    "/practice/eye/seen?card=7&seed=5&hard=1&word=carry+on&sign=jelly",
    "/practice/strip?card=6&seed=5&hard=1&numbers=1",
    "/practice/burette?card=0&seed=5&drops=230",
    "/practice/burette/seen?card=0&seed=5&drops=260",
    "/practice/palate?card=3&seed=5",
    "/practice/clock/seen?card=1&seed=5&choice=leave",
    "/practice/kitchen",
    "/practice/rehearse/brew?step=4",
    "/practice/rehearse/calibration?done=r7w",
    "/supply/",
    "/supply/?litres=9&without=7",
    "/supply/list",
    "/supply/cupboard",
    "/supply/costs",
    "/supply/purchases/1",
    "/notebook/",
    "/notebook/?q=plum+gushed",
    "/notebook/looking-back?of=season",
    "/notebook/experiments/1",
    "/notebook/experiments/2",
    "/notebook/experiments/new",
    "/notebook/side-by-side?b=6&b=10",
    "/notebook/care",
    "/brews/7/titration?run=80&drops=12",
    "/data/",
    "/data/read",
    "/data/share/recipe/1",
    "/data/record/7",
    "/settings/import",
    "/instruments/1/calibration",
    "/instruments/1/calibration?step=seven",
    "/tapped/18",
    "/tapped/18/top-up",
    "/tapped/set-up/2",
    "/tapped/18/pause",
    "/",
    "/brew-day/",
    "/brew-day/clock",
    "/brew-day/recipes",
    "/brew-day/recipes/compare?recipe=1&recipe=3&vessel=1",
    "/brew-day/tools",
    "/brew-day/first",
    "/brew-day/kitchen/1",
    "/brew-day/labels/8",
    "/brew-day/places?" + PLAN_QUERY,
    "/vessels/",
    "/vessels/2",
    "/cultures/",
    "/cultures/new",
    "/cellar/",
    "/settings/",
    "/brews/7",
    "/brews/10",
    "/brews/7/harvest",
    "/brews/7/inspect?surface=film-yeast&smell=bad",
    "/brews/1",
    "/brews/7/why/start",
    "/brews/7/what-if?kind=room&celsius=28",
    "/brews/7/sheet",
    "/brews/7/correct/23",
    "/brews/7/measure",
    "/brews/7/opinion",
    "/brews/4/trace",
    "/quick/?line=jar+film+sweet+8pm",
    "/almanac/",
    "/almanac/away",
    "/trouble",
    "/tasters/",
    "/tasters/hindsight",
    "/tasters/blind",
    "/tasters/blind/1",
    "/tasters/blind/2",
    "/instruments/",
    "/bin/",
    "/cultures/1",
    "/cultures/4",
    "/cultures/bead/brew/7",
    "/cultures/table",
    "/cultures/discs/5",
    "/cultures/hotels/5",
    "/cultures/starters/3",
    "/cultures/trace/hotel/5",
    "/cultures/3/conversion",
    "/cultures/compare",
    "/cultures/sources?asked=1",
    "/cultures/1/passport",
    "/cultures/labels/hotel/5",
    "/day-book/",
    "/brews/7/happened?do=out",
    "/brews/7/began",
    "/brews/going",
    "/flavours/",
    "/flavours/1",
    "/flavours/ingredients",
    "/brews/7/bottling?chosen=1&flavour=f1&flavour=f3&flavour=plain",
    "/brews/7/infuse",
    "/brews/7/bench",
    "/trials/1",
    "/infusions/1",
    "/cellar/park",
    "/cellar/found",
    "/cellar/ranking",
    "/cellar/bottles/1",
    "/cellar/bottles/20",
    "/cellar/bottles/1/sheet?taster=1",
    "/cellar/compare",
    "/cellar/compare/1",
    "/cellar/gift/3",
    "/cellar/some?of=16",
]


VIOLATIONS = {"resultTypes": ["violations"]}  #: What passes is not told in full: half the time for the same findings.
IN_THE_DARK = VIOLATIONS | {"runOnly": ["color-contrast"]}  #: All that the theme changes.
IN_THE_HAND = VIOLATIONS | {"rules": {"color-contrast": {"enabled": False}}}  #: Colours are the same at any width.
SMALL_LETTERS = """() => [...document.querySelectorAll('main svg:not(.label-picture) text')].filter((one) => one.textContent.trim() && one.checkVisibility()
  && parseFloat(getComputedStyle(one).fontSize) * Math.hypot(one.getScreenCTM().a, one.getScreenCTM().b) < 11).map((one) => one.textContent)"""
#: Letters of drawings that a phone shows smaller than 11 px.
FAULTS = Path(__file__).with_name("faults.js").read_text()
SMALLEST = 320  #: A page enlarged to four times its size on a screen of 1280. [px]
LOOKS = (
    ("light", {"width": 1280, "height": 800}, VIOLATIONS),
    ("light", PHONE, IN_THE_HAND),
    ("dark", PHONE, IN_THE_DARK),
)


def problems(path, width, result):
    """Violations in few words."""
    return {
        (path, width, v["id"]): (v["nodes"][0]["html"][:150], [c.get("message") for c in v["nodes"][0]["any"][:1]])
        for v in result["violations"]
    }


@pytest.mark.parametrize("half", [0, 1])
def test_no_accessibility_violation_anywhere(page, quince_yard, half):
    """axe finds nothing on any place, light and wide, a third of them on a phone and a third dark, with everything unfolded.

    Nor is a word cut, or one over another, wide or in the hand; half of the places are tried in US units.
    """
    found, faults = {}, {}
    if half:
        with closing(sqlite3.connect(quince_yard.database.path)) as file, file:
            file.execute("UPDATE household SET units = 'us'")
    for path in PLACES[half::2]:
        page.goto(quince_yard.url + path)
        page.evaluate(
            "for (const d of document.querySelectorAll('details')) { d.removeAttribute('name'); d.open = true }"
        )
        page.evaluate(AXE_SCRIPT)
        turn = PLACES.index(path) % 3  # each place light and wide; then one of three dark, one of three in the hand
        for theme, size, options in (LOOKS[0], *(LOOKS[2:] if turn == 0 else LOOKS[1:2] if turn == 1 else ())):
            page.emulate_media(color_scheme=theme, reduced_motion="reduce")  # colours are there at once
            page.set_viewport_size(size)
            found |= problems(path, size["width"], page.evaluate("options => axe.run(options)", options))
            if theme == "light" and size["width"] > PHONE["width"]:
                faults[path, "wide"] = page.evaluate(FAULTS)
        for width in (PHONE["width"], SMALLEST):
            page.set_viewport_size({"width": width, "height": 844})
            assert page.evaluate("document.documentElement.scrollWidth") <= width, (path, width)
            if width == PHONE["width"]:
                assert page.evaluate(SMALL_LETTERS) == [], path
                faults[path, "phone"] = page.evaluate(FAULTS)
    assert {where: what for where, what in faults.items() if what} == {}
    assert found == {}


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_no_accessibility_violation_with_errors_shown(page, quince_yard, theme):
    """Forms sent empty or wrong show their problems without a violation, and keep what was typed."""
    page.emulate_media(color_scheme=theme)
    for path, button in (
        ("/vessels/new", "Add it"),
        ("/cultures/new", "Add it"),
        ("/brews/7/harvest", "Save the starter"),
        ("/brews/7/harvest", "Save the bottles"),
    ):
        page.goto(quince_yard.url + path)
        if path == "/vessels/new":
            page.get_by_label("Size it is sold as").fill("four")
        if button == "Save the starter":
            page.get_by_label("Starter to keep, plain").fill("lots")
        if button == "Save the bottles":
            page.get_by_text("One kind of bottle at a time").click()
        page.get_by_role("button", name=button).click()
        page.locator(".problem, .stop-note").first.wait_for()
        assert problems(path, 1280, Axe().run(page, options=VIOLATIONS).response) == {}
    page.goto(quince_yard.url + "/vessels/new")


def test_a_wrong_number_in_place_is_told_and_kept(page, quince_yard):
    """On the round a word for a number comes back beside its field, still typed, and the rest of the page stays."""
    page.goto(quince_yard.url)
    stop = page.locator("#stop-7")
    stop.locator(".rest > summary").click()
    stop.locator("summary", has_text="pH").click()
    stop.get_by_label("pH", exact=True).fill("three")
    stop.get_by_role("button", name="Save").click()
    stop.get_by_text("is not a number").wait_for()
    assert stop.get_by_label("pH", exact=True).input_value() == "three"
    stop.get_by_label("pH", exact=True).fill("3,3")
    stop.get_by_role("button", name="Save").click()
    page.get_by_text("pH 3.3 logged").wait_for()


def test_keys_lead_everywhere(page, quince_yard):
    """Each place has g and its key, ? lists them, j walks the stops, t opens the tasting, u undoes; one key alone leaves no page."""
    page.goto(quince_yard.url)
    for key, heading in (
        ("b", "Brew day"),
        ("v", "Vessels"),
        ("c", "Cultures"),
        ("e", "Cellar"),
        ("s", "Settings"),
        ("r", "Thursday’s round"),
    ):
        page.keyboard.press("g")
        page.keyboard.press(key)
        page.get_by_role("heading", name=heading, level=1).wait_for()
        page.wait_for_load_state()  # a key pressed before the page listens is lost
    for key in "bvcesa":
        page.keyboard.press(key)
    assert page.url.rstrip("/") == quince_yard.url
    page.keyboard.press("?")
    page.get_by_role("heading", name="Keys").wait_for()
    page.keyboard.press("Escape")
    page.locator("#keys").wait_for(state="hidden")  # a key pressed while it closes is lost
    page.keyboard.press("j")
    page.keyboard.press("j")  # the first is on hold: nothing of it is tasted
    page.keyboard.press("t")
    page.keyboard.press("Enter")
    page.get_by_text("Odile Varga: much too sweet.").wait_for()
    page.keyboard.press("u")
    page.get_by_text("Undone: Odile Varga: much too sweet.").wait_for()
    page.keyboard.press("?")
    page.get_by_role("checkbox", name="Keys work").uncheck()
    page.keyboard.press("Escape")
    page.locator("#keys").wait_for(state="hidden")  # a key pressed while it closes is lost
    page.keyboard.press("j")
    page.keyboard.press("g")
    page.keyboard.press("b")
    assert page.evaluate("document.activeElement.closest('[data-stop]')") is None
    page.reload()
    page.keyboard.press("/")
    assert page.evaluate("document.activeElement.id") != "quick-line"
    assert page.url.rstrip("/") == quince_yard.url


def test_what_changed_is_said_in_few_words(page, quince_yard):
    """A plan of another tea says its amounts and its pH, not itself; a step in the kitchen says its name."""
    page.goto(quince_yard.url + "/brew-day/")
    before = page.locator("#plan").inner_text()
    page.locator("input[name=leaf]").fill("9")
    says = page.locator("#says")
    expect(says).to_contain_text("starts at pH")
    assert len(says.inner_text().split()) < 20 < len(before.split())
    page.goto(quince_yard.url + "/brew-day/kitchen/1")
    step = page.locator(".kitchen-step h1")
    title = step.inner_text()
    page.get_by_role("button", name="Done, next").click()
    expect(step).not_to_have_text(title)
    expect(says).to_have_text(step.inner_text())


def test_why_opens_in_place_and_closes(page, quince_yard):
    """A why shows inputs, formula and source over the page, and gives the page back."""
    page.goto(quince_yard.url + "/brews/7")
    page.get_by_role("link", name="why ready for Odile Varga?").click()
    page.get_by_text("Compute it yourself").wait_for()
    page.keyboard.press("Escape")
    assert not page.locator("#why-dialog").is_visible()


def test_a_concentrate_in_us_units_is_brewed_on_a_phone_through_a_reload(page, empty_house):
    """Quarts and Fahrenheit, step by step with the thumb: the timer runs on through a reload, and facts reach the brew."""
    page.set_viewport_size(PHONE)
    hand = Mouse(page)
    set_up(page, hand, empty_house)
    hand.choose("Units", "Quarts, cups, ounces, °F")
    hand.press("Save")
    page.get_by_text("Settings saved.").wait_for()
    hand.press("Brew day", "link")
    hand.type("How much", "1 cup")
    page.locator("#plan", has_text="°F").wait_for()
    page.locator("#plan", has_text="1 cup").wait_for()
    hand.press("Start, step by step")
    for step in ("Lay everything out", "Heat the water"):
        page.get_by_role("heading", name=step, level=1).wait_for()
        page.locator("[data-next]").click()
    page.get_by_role("heading", name="Steep the leaf", level=1).wait_for()
    assert " oz" in page.locator(".kitchen-do").inner_text()
    hand.press("Start the timer")
    timer = page.get_by_role("timer")
    timer.wait_for()
    assert "12:00" in timer.inner_text() or "11:5" in timer.inner_text()
    empty_house.clock.now += timedelta(minutes=4)
    page.reload()
    assert re.search(r"8:00|7:5", page.get_by_role("timer").inner_text())
    empty_house.clock.now += timedelta(minutes=9)
    page.reload()
    page.get_by_text("done", exact=True).wait_for()
    assert page.title().startswith("● Big jar: Steep: done")
    hand.press("Stop Big jar: Steep")
    page.get_by_role("timer").wait_for(state="detached")
    page.locator("[data-next]").click()
    page.get_by_role("heading", name="Strain and sweeten", level=1).wait_for()
    hand.type("How much sweetener did you use?", "6 oz")
    while page.locator("h1").inner_text() != "Cover and label":
        before = page.locator("h1").inner_text()
        page.locator("[data-next]").click()
        page.wait_for_function("before => document.querySelector('h1').innerText !== before", arg=before)
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    hand.press("Start the brew")
    page.get_by_role("heading", name="Big jar, day 0").wait_for()
    assert page.get_by_role("row", name=re.compile("Sweetener")).get_by_text("6 oz").count() == 1
    assert page.get_by_role("row", name=re.compile("Steep")).get_by_text("13").count() == 1


def test_space_and_enter_go_on_and_back_loses_nothing(page, quince_yard):
    """Without a mouse: Enter and Space lead on, Backspace back, and what was typed is still there."""
    page.goto(quince_yard.url + "/brew-day/kitchen/1")
    page.get_by_label("How much sweetener did you use?").fill("330")
    page.get_by_label("How much sweetener did you use?").blur()
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Cold water first", level=1).wait_for()
    page.keyboard.press("Backspace")
    page.get_by_role("heading", name="Strain and sweeten", level=1).wait_for()
    assert page.get_by_label("How much sweetener did you use?").input_value() == "330"
    page.keyboard.press("Space")
    page.get_by_role("heading", name="Cold water first", level=1).wait_for()


def test_three_lots_that_are_too_weak(page, empty_house):
    """Three weak lots, all ticked: the plan says so and what can be done; the smaller brew it names is started."""
    hand = Mouse(page)
    set_up(page, hand, empty_house)
    with empty_house.database.writer() as session:
        for name in ("Levanter", "Ostro"):
            ask = household.AddCulture(name=name, diet="sugar", origin="received", starter_l=0.12, starter_ph=3.3)
            household.add_culture(session, ask, empty_house.clock())
    hand.press("Vessels", "link")
    hand.touch(".lot")
    hand.press("Measures, notes", "link")
    hand.type("Size it is sold as", "14")
    hand.type("Up to your fill line", "12")
    hand.press("Save")
    hand.press("Brew day", "link")
    for box in page.get_by_role("group", name="Starter set aside").get_by_role("checkbox").all():
        box.check()
    note = page.locator("#plan .mind-note, #plan .stop-note", has_text=re.compile("too (weak|little)"))
    note.wait_for()
    smaller = re.search(r"brew only ([\d.]+) L", note.inner_text())[1]
    hand.unfold("Room in the vessel")
    hand.type("Brew, if not to the line", str(float(smaller) - 0.05))
    note.wait_for(state="detached")
    page.locator("#plan", has_text=re.compile("is on the safe side|a reading of the brew")).wait_for()
    hand.press("Start, step by step")
    page.get_by_role("heading", name="Lay everything out", level=1).wait_for()


def test_a_turn_round_of_two_vessels_by_the_clock(page, quince_yard):
    """Two vessels, to be done by the evening: the plan moves to the finish given and lists every piece in order."""
    page.goto(quince_yard.url + "/brew-day/clock")
    page.locator(".sheet").wait_for()
    page.get_by_label("Time", exact=True).select_option(label="Be done by")
    page.get_by_label("When").fill("2027-02-18T19:00")
    page.get_by_text("Done at 19:00.").wait_for()
    times = page.locator(".sheet-list time").all_inner_texts()
    assert times == sorted(times)
    assert page.locator(".sheet-list b").count() == page.locator(".sheet-hands").count() >= 14
    page.get_by_label("Jar two").check()
    page.locator(".sheet-list", has_text="Jar two").wait_for()
