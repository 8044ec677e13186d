"""Journeys from the saved starter to the glass: a plan on a phone, a jar, the bench, a gush, a party."""

import re

from playwright.sync_api import expect

from kyklos.actions.bottles import filling, flavour_book, harvest, owning
from kyklos.actions.bottles.flavour_book import PartTold
from kyklos.store.records import Bottle, Brew, Flavour, Infusion
from tests.browser.test_journeys import PHONE


def shelves(kitchen, *, bottles="9 swing-top 500 mL"):
    """Bottles that are owned, and two flavours kept."""
    kitchen.do(owning.own_bottles, owning.OwnBottles(line=bottles))
    for name, parts in (("Damson", (PartTold("damson", 60.0),)), ("Quince and bay", (PartTold("quince", 60.0), PartTold("bay", 0.4)))):
        kitchen.do(flavour_book.keep_flavour, flavour_book.KeepFlavour(name=name, parts=parts, priming_g_per_l=3.0))


def settled(page):
    """Wait until the plan came anew."""
    page.wait_for_function("!document.querySelector('.htmx-request')")


def test_seven_bottles_in_three_flavours_on_a_phone(page, small_kitchen, kitchen):
    """From the starter to seven filled bottles in three flavours, exactly planned, in no more than fifteen taps."""
    shelves(kitchen)
    brew = kitchen.ready()
    page.set_viewport_size(PHONE)
    taps = 0

    def tap(what):
        nonlocal taps
        what.click()
        taps += 1

    page.goto(f"{small_kitchen.url}/brews/{brew}/harvest")
    tap(page.get_by_role("button", name="No next brew"))
    tap(page.get_by_role("link", name="Plan the bottles"))
    for name in ("Damson", "Quince and bay"):
        taps += 1  # the list opens
        with page.expect_response(lambda answer: "/bottling?" in answer.url):
            page.get_by_label("Another flavour").select_option(label=name)
        taps += 1
        expect(page.locator(".flavour-card h2", has_text=name)).to_be_visible()
        page.goto(page.url)  # a reload keeps what was chosen
    expect(page.get_by_role("button", name=re.compile("Fill all: 7 bottles"))).to_be_enabled()
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    tap(page.get_by_role("button", name=re.compile("Fill all")))
    expect(page.get_by_role("heading", name="Filled")).to_be_visible()
    assert taps <= 15
    with small_kitchen.database.reader() as session:
        groups = session.get(Brew, brew).bottlings
        assert {group.note for group in groups} == {"Damson", "Quince and bay", "Plain"}
        assert sum(len(group.bottles) for group in groups) == 7
        assert sum(b.headspace_fraction > 0.06 for group in groups for b in group.bottles) <= 1


def test_as_last_time_takes_two_taps(page, small_kitchen, kitchen):
    """With the starter saved, a line that was filled before is filled the same way with two taps."""
    shelves(kitchen, bottles="12 swing-top 500 mL")
    first = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=first, litres=0.5))
    with kitchen.database.reader() as session:
        damson = session.query(Flavour).filter_by(name="Damson").one().id
    page.goto(f"{small_kitchen.url}/brews/{first}/bottling?chosen=1&flavour=f{damson}")
    page.get_by_role("button", name=re.compile("Fill all")).click()
    expect(page.get_by_role("heading", name="Filled")).to_be_visible()
    with kitchen.database.writer() as session:
        for bottle in session.query(Bottle):
            bottle.state, bottle.washed_at = "gone", kitchen.clock()
    page.goto(f"{small_kitchen.url}/brews/{first}/harvest")
    page.get_by_role("link", name="As last time: damson").click()
    page.get_by_role("button", name=re.compile("Fill all")).click()
    expect(page.get_by_role("heading", name="Filled")).to_be_visible()
    with kitchen.database.reader() as session:
        assert {group.flavour_id for group in session.get(Brew, first).bottlings} == {damson}


def test_a_flavour_is_given_to_a_bottle_by_keys_and_by_dragging(page, small_kitchen, kitchen):
    """A bottle takes the flavour of the number pressed on it, or of the chip dropped on it; focus stays."""
    shelves(kitchen)
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    page.goto(f"{small_kitchen.url}/brews/{brew}/bottling?chosen=1&flavour=f1&flavour=plain")
    count = page.locator('.plan-group[data-group="plain"] .plan-box')
    before = count.count()
    page.locator(".plan-box").first.focus()
    with page.expect_response(lambda answer: "/bottling?" in answer.url):
        page.keyboard.press("2")
    settled(page)
    expect(count).to_have_count(before + 1)
    with page.expect_response(lambda answer: "/bottling?" in answer.url):
        page.locator('[data-flavour="plain"]').drag_to(page.locator('.plan-group[data-group="f1"] .plan-box').first)
    settled(page)
    expect(count).to_have_count(before + 2)
    page.locator(".plan-box").first.press("ArrowRight")
    assert page.evaluate("document.activeElement.dataset.place") == "1"


def test_a_jar_takes_flavour_and_goes_into_bottles(page, small_kitchen, kitchen):
    """A jar set up by amounts as people measure, due on the round after its hours, strained, bottled with its own gas."""
    shelves(kitchen)
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    page.goto(f"{small_kitchen.url}/brews/{brew}/harvest")
    page.get_by_role("link", name="Into a jar").click()
    page.get_by_label("Name on the jar").fill("Rhubarb jar")
    page.get_by_label("Brew that goes in").fill("1.5")
    page.locator("#ingredient-0").select_option(label="Rhubarb")
    page.locator("#amount-0").fill("2 pieces")
    page.get_by_role("button", name="Start the jar").click()
    expect(page.get_by_role("heading", name="Rhubarb jar")).to_be_visible()
    small_kitchen.clock.turn(1.1)
    page.goto(small_kitchen.url)
    expect(page.get_by_text("Rhubarb jar: taste and strain it")).to_be_visible()
    page.goto(f"{small_kitchen.url}/infusions/1")
    page.get_by_role("button", name="The pieces are out").click()
    page.get_by_role("link", name="Into bottles").click()
    page.get_by_role("button", name=re.compile("Fill all")).click()
    expect(page.get_by_role("heading", name="Filled")).to_be_visible()
    with small_kitchen.database.reader() as session:
        jar = session.get(Infusion, 1)
        assert jar.strained_at is not None
        assert len(jar.bottlings) == 1
        assert jar.bottlings[0].form == "juice"
        assert 0.3 < jar.bottlings[0].volumes <= 0.85
        assert jar.liquid.litres < 0.5


def test_a_trial_on_the_bench_becomes_six_bottles(page, small_kitchen, kitchen):
    """Steps weighed and tasted, the best kept as a flavour by the litre, and the plan stands on it at once."""
    shelves(kitchen)
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    page.goto(f"{small_kitchen.url}/brews/{brew}/bench")
    page.locator("#ingredient").select_option(label="Apple juice")
    page.get_by_role("button", name="Pour the glass").click()
    for word in ("A little more", "Right", "A little less"):
        page.get_by_role("button", name=word, exact=True).click()
    expect(page.get_by_role("row").filter(has_text="best")).to_contain_text("20 g")
    page.get_by_label("Name of the flavour").fill("Orchard")
    page.get_by_role("button", name="Save and bottle it").click()
    page.get_by_role("button", name=re.compile("Fill all: [67] bottles")).click()
    expect(page.get_by_role("heading", name="Filled")).to_be_visible()
    with small_kitchen.database.reader() as session:
        kept = session.query(Flavour).filter_by(name="Orchard").one()
        assert round(kept.parts[0].g_per_l) == 167
        groups = session.get(Brew, brew).bottlings
        assert sum(len(group.bottles) for group in groups) >= 6
        assert {group.flavour for group in groups} == {"apple-juice", "plain"}


def test_one_gushes_and_its_brothers_go_cold(page, small_kitchen, kitchen):
    """A bottle that gushes is scored, its brothers that stand warm are named with what to do, and go cold in one tap."""
    kitchen.filled()
    small_kitchen.clock.turn(2)
    page.goto(f"{small_kitchen.url}/cellar/bottles/1")
    page.get_by_role("group", name="Opened").get_by_role("button", name="It gushed").click()
    expect(page.get_by_role("alert")).to_contain_text("2 of the same filling stand warm")
    expect(page.get_by_text("What may have done it")).to_be_visible()
    page.get_by_role("button", name="They are cold now").click()
    page.goto(f"{small_kitchen.url}/cellar/bottles/1")
    page.get_by_role("button", name="Ana: 2 of 5").click()
    page.get_by_role("button", name="not again", exact=True).click()
    with small_kitchen.database.reader() as session:
        assert [session.get(Bottle, n).state for n in (1, 2, 3)] == ["gone", "cold", "cold"]
        score = session.get(Bottle, 1).bottling.scores[0]
        assert (score.liked, score.again) == (2, False)


def test_a_case_is_taken_to_a_party(page, small_kitchen, kitchen):
    """Bottles chosen on the rack go along together, with a word where; the empties come back to be washed."""
    shelves(kitchen)
    brew = kitchen.filled(count=4)
    ask = filling.FillBottles(brew_id=brew, kind="crown-cap", count=2, volume_ml=330, headspace_fraction=0.04)
    kitchen.do(filling.fill_bottles, ask)
    small_kitchen.clock.turn(1)
    page.goto(f"{small_kitchen.url}/cellar/")
    page.locator(".lot", has_text="4").click()
    drawer = page.locator("[data-drawer]")
    expect(drawer).to_be_focused()
    drawer.get_by_text("Only some").click()
    drawer.get_by_role("checkbox").last.uncheck()
    drawer.get_by_text("Take along, give, move").click()
    drawer.get_by_label("To whom, or where").fill("the courtyard feast")
    drawer.get_by_label("To whom, or where").press("Enter")  # no deed of its own: nothing is chilled or opened by it
    expect(drawer).to_be_visible()
    with small_kitchen.database.reader() as session:
        assert {b.state for b in session.query(Bottle)} == {"warm"}
    drawer.get_by_role("button", name="taken to a party").click()
    expect(page.get_by_role("heading", name="Cellar")).to_be_visible()
    with small_kitchen.database.reader() as session:
        gone = session.query(Bottle).filter_by(state="gone").all()
        assert [b.left_as for b in gone] == ["party"] * 3
        assert {b.to_whom for b in gone} == {"the courtyard feast"}
    page.goto(f"{small_kitchen.url}/cellar/park")
    expect(page.get_by_text("3 to wash").or_(page.get_by_text("1 to wash")).first).to_be_visible()


def test_ten_bottles_are_chilled_in_two_taps_on_a_phone(page, small_kitchen, kitchen):
    """From the rack: the group is touched, all of it goes into the fridge."""
    kitchen.filled(count=10, volume_ml=250)
    page.set_viewport_size(PHONE)
    page.goto(small_kitchen.url + "/cellar/")
    page.locator("a.lot").first.click()
    page.get_by_role("button", name=re.compile("^Chill")).first.click()
    expect(page.locator("#toasts")).to_contain_text("10 bottles")
    with small_kitchen.database.reader() as session:
        assert [bottle.state for bottle in session.query(Bottle)] == ["cold"] * 10
