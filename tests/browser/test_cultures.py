"""Journeys of the lines: a disc given with its passport, mould traced to the hotel, three steps to jun, the braid by keys."""

import json

from playwright.sync_api import expect

from kyklos.actions.bottles import harvest
from kyklos.actions.brewing import readings
from kyklos.store.read import culture_queries
from kyklos.store.records import Brew, Disc, StarterLot


def test_a_disc_is_parted_given_with_its_passport_and_received_next_door(page, quince_yard, empty_house, tmp_path):
    """Part it, give it, take the document along; next door the line goes on with its ancestors, once, with who gave it."""
    page.goto(quince_yard.url + "/cultures/discs/4")
    page.locator("summary", has_text="Part it").click()
    page.locator("#part_mm").fill("6")
    page.locator("#part_name").fill("For next door")
    page.get_by_role("button", name="It is parted").click()
    expect(page.locator(".toast-line")).to_contain_text("For next door was parted from Bora, disc 2")
    page.get_by_role("link", name="For next door").click()
    page.locator("main").get_by_role("link", name="Bora", exact=True).last.click()
    page.locator("#disc").select_option(label="For next door")
    page.locator("#who").fill("The potter")
    page.get_by_role("button", name="Record the gift").click()
    page.wait_for_url("**/cultures/1/passport")
    with page.expect_download() as taken:
        page.get_by_role("link", name="The document", exact=True).click()
    file = tmp_path / "passport.json"
    taken.value.save_as(file)
    told = json.loads(file.read_text())
    assert "potter" not in file.read_text()
    page.goto(quince_yard.url + "/cultures/1")
    expect(page.locator("main")).to_contain_text("The potter")

    for _ in range(2):
        page.goto(empty_house.url + "/cultures/new")
        page.set_input_files("#passport-file", file)
        page.locator("#passport-litres").fill("0,25")
        page.locator("#passport-who").fill("Quince Yard")
        page.get_by_role("button", name="Read it").click()
        expect(page.locator("main")).to_contain_text("Nothing is kept yet")
        page.get_by_role("button", name="Take it in").click()
        page.wait_for_url("**/cultures/1")
    expect(page.locator("main")).to_contain_text(f"It came with {len(told['things'])} ancestors")
    expect(page.locator("main")).to_contain_text("Received from Quince Yard")
    with empty_house.database.reader() as session:
        assert len(culture_queries.cultures(session)) == 1
        assert session.query(Disc).count() == 1
        assert session.query(StarterLot).one().left_l == 0.25


def test_mould_in_the_crock_is_traced_to_the_hotel(page, quince_yard):
    """A splash of the crock fed the hotel; mould in the crock: the hotel and its discs stand on the trace, and are set apart."""
    page.goto(quince_yard.url + "/cultures/hotels/5")
    page.locator("#of").select_option("brew")
    page.locator("#litres").fill("0,2")
    page.locator("#brew").select_option("7")
    page.get_by_role("button", name="Feed it").click()
    expect(page.locator(".toast-line")).to_contain_text("The hotel was fed")
    page.goto(quince_yard.url + "/brews/7/inspect?surface=fuzzy")
    page.get_by_role("button", name="Keep this look").click()
    page.wait_for_url("**/brews/7")
    page.get_by_role("link", name="Discard…").click()
    page.locator("#discard summary").click() if not page.locator("#discard[open]").count() else None
    page.get_by_label("Why", exact=True).last.fill("Blue fuzz.")
    page.get_by_role("button", name="Discard liquid and disc").click()
    page.wait_for_url("**/cultures/trace/brew/7")
    task = page.locator(".trace-task", has=page.get_by_role("link", name="The hotel", exact=True)).first
    expect(task).to_contain_text("fed to it")
    page.locator(".trace-all > summary").click()
    row = page.locator(".trace-row", has=page.get_by_role("link", name="The hotel", exact=True)).first
    expect(row).to_contain_text("fed to it")
    expect(row).to_contain_text("discard it")
    expect(
        page.locator(".trace-row", has=page.get_by_role("link", name="The old one", exact=True)).first
    ).to_contain_text("set it apart")
    assert page.locator(".braid a.is-lit").count() > 2
    page.get_by_role("button", name="Set the ticked ones apart").click()
    expect(page.locator("section", has_text="Set apart").last).to_contain_text("The hotel")
    page.locator(".trace-all > summary").click()
    row.locator("summary").click()
    row.get_by_label("Why").fill("Poured before the fuzz, from a clean jug.")
    row.get_by_role("button", name="Leave out").click()
    expect(page.locator("section", has_text="Ways left out").last).to_contain_text("Stone jar → The hotel")
    expect(page.locator(".trace-row", has=page.get_by_role("link", name="The old one", exact=True))).to_have_count(0)


def step(page, house, kitchen, course, end):
    """Plan and pitch the next step from its page, measure it, and harvest or discard it."""
    page.goto(house.url + "/cultures/1/conversion")
    page.get_by_role("link", name="Plan this brew").click()
    page.wait_for_url("**/brew-day/?*kind=conversion*")
    page.locator("summary:visible", has_text="It is in its vessel already").first.click()
    page.get_by_role("button", name="Start the brew").click()
    page.wait_for_url("**/brews/*")
    brew, day = int(page.url.rsplit("/", 1)[1]), 0.0
    for at, ph in course:
        house.clock.turn(at - day)
        day = at
        kitchen.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=ph, celsius=24))
    house.clock.turn(end - day)
    return brew


def test_three_steps_to_jun_one_of_them_repeated(page, small_kitchen, kitchen):
    """A fifth, two fifths too slow, two fifths again: the page says go on, repeat it, go on; the braid turns towards honey."""
    page.goto(small_kitchen.url + "/cultures/1/conversion")
    page.get_by_role("button", name="Start the conversion").click()
    good = ((2, 3.8), (5, 3.4), (8, 3.1), (11, 2.95))
    shares = []
    for course, end, ends in ((good, 12, "harvest"), (((4, 4.1), (12, 4.08), (20, 4.05)), 34, "discard"), (good, 12, "harvest")):  # fmt: skip
        brew = step(page, small_kitchen, kitchen, course, end)
        with small_kitchen.database.reader() as session:
            shares.append(round(session.get(Brew, brew).honey_share, 2))
        if ends == "harvest":
            kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=1.0, ph=3.0))
            kitchen.do(harvest.end_brew, harvest.EndBrew(brew_id=brew))
        else:
            kitchen.do(readings.discard_brew, readings.DiscardBrew(brew_id=brew, reason="Far too slow."))
        page.goto(small_kitchen.url + "/cultures/1/conversion")
        expect(page.locator("main")).to_contain_text("Repeat it." if ends == "discard" else "Go on.")
    assert shares == [0.2, 0.4, 0.4]
    expect(page.locator(".way")).to_contain_text("× too slow")
    expect(page.locator(".way")).to_contain_text("60 %")
    page.goto(small_kitchen.url + "/cultures/")
    expect(page.locator(".ribbon-1").first).to_be_attached()
    expect(page.locator(".ribbon-2").first).to_be_attached()


def test_the_braid_is_walked_by_keys_alone(page, quince_yard):
    """One stop for the tab key; arrows go from bead to bead and line to line; the card speaks, its descent is lit, Enter opens."""
    page.goto(quince_yard.url + "/cultures/?span=all")
    assert page.locator(".braid a[tabindex='0']").count() == 1
    page.locator(".braid a[tabindex='0']").focus()
    seen = []
    for key in ("ArrowLeft", "ArrowLeft", "ArrowUp", "End", "Home", "ArrowRight", "ArrowDown"):
        page.keyboard.press(key)
        label = page.evaluate("document.activeElement.getAttribute('aria-label')")
        assert label
        seen.append(label)
        expect(page.locator("#bead-card .bead-card")).to_be_visible()
    assert len(set(seen)) >= 5
    expect(page.locator(".braid.is-lit a.is-lit").first).to_be_attached()
    assert page.locator(".braid a[tabindex='0']").count() == 1
    address = page.locator("#bead-card a").first.get_attribute("href")
    page.wait_for_timeout(300)
    address = page.locator("#bead-card a").first.get_attribute("href")
    page.keyboard.press("Enter")
    page.wait_for_url("**" + address)
