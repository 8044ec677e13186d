"""Browser journeys with the stand-ins: pair a probe, calibrate a worn meter and clean it, measure with it, unplug the mat and find it."""

from datetime import timedelta

import pytest
from playwright.sync_api import expect

from kyklos.actions.pairing import give_token
from kyklos.demo.instruments import STAND_INS
from kyklos.instruments.bench import StandInBench
from kyklos.instruments.page import run
from kyklos.instruments.speaking import Speaker, over_http

PHONE = {"width": 390, "height": 844}


@pytest.fixture
def stand_ins(quince_yard):
    """The sample's stand-ins, and a way to let time pass for them and the house alike."""
    bench = StandInBench(seed=7, now_s=quince_yard.clock().timestamp())
    with quince_yard.database.writer() as session:
        for name, device in STAND_INS.items():
            bench.lines[name].token = give_token(session, device)
    speaker = Speaker(bench, over_http(quince_yard.url))

    def live(seconds, every=2.0):
        passed = 0.0
        while passed < seconds:
            bench.wait(every)
            quince_yard.clock.now += timedelta(seconds=every)
            speaker.once()
            passed += every

    bench.live, bench.speaker = live, speaker
    return bench


def test_a_probe_is_paired_with_its_code(page, quince_yard, stand_ins):
    """It shows a code; the same stands in Instruments; a yes, and where it stands; then its readings come. Ended, none comes any more."""
    stand_ins.speaker.pair("scale")
    page.set_viewport_size(PHONE)
    page.goto(quince_yard.url + "/instruments/")
    expect(page.locator(".pairing-code")).to_have_text(stand_ins.lines["scale"].code)
    page.get_by_label("It stands in", exact=True).first.select_option(label="in the hand")
    page.get_by_role("button", name="Yes, pair it").click()
    stand_ins.scale.on_it.append("a bowl of damsons")
    stand_ins.live(12)
    page.reload()
    line = page.locator(".device").filter(has_text="Kitchen scale")
    expect(line).to_contain_text("331")
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    line.get_by_text("Edit").click()
    line.get_by_role("button", name="End it").click()
    expect(page.locator(".device").filter(has_text="Kitchen scale")).to_have_count(0)
    stand_ins.live(4)
    assert stand_ins.lines["scale"].ended


def calibrate(page, quince_yard, stand_ins, cleaned=False):
    """Through the steps on the phone; each buffer is taken by itself once the meter stands still."""
    page.goto(quince_yard.url + "/instruments/1/calibration")
    if cleaned:
        page.get_by_label("It was just cleaned").check()
    for number, glass in ((7, "7"), (4, "4")):
        stand_ins.hold("rinse")
        stand_ins.live(4)
        page.get_by_role("button", name=f"Next: buffer {number}").click()
        expect(page.get_by_role("heading", name=f"Now buffer {number}")).to_be_visible()
        stand_ins.hold(glass)
        stand_ins.live(300 if stand_ins.meter.dirt > 0.3 else 60)
        expect(page.get_by_role("heading", name="Rinse again" if number == 7 else "Good").or_(page.locator(".calibrate h1"))).to_be_visible()
        if number == 7:
            expect(page.get_by_role("heading", name="Rinse again")).to_be_visible()
    expect(page.locator(".calibrate")).to_contain_text("Slope")


def test_a_worn_meter_is_calibrated_and_cleaned(page, quince_yard, stand_ins):
    """Live values, taken when they stand still; a dirty one wants cleaning, and says how; cleaned it is honest again."""
    page.set_viewport_size(PHONE)
    stand_ins.meter.slope, stand_ins.meter.offset_mv, stand_ins.meter.dirt = 0.918, 4.0, 1.0
    calibrate(page, quince_yard, stand_ins)
    expect(page.get_by_role("heading", name="Clean it")).to_be_visible()
    expect(page.locator(".calibrate")).to_contain_text("cleaning solution")
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    stand_ins.fault("clean")
    calibrate(page, quince_yard, stand_ins, cleaned=True)
    expect(page.get_by_role("heading", name="It ages")).to_be_visible()
    page.goto(quince_yard.url + "/instruments/")
    expect(page.locator(".slopes")).to_be_visible()


def test_a_brew_is_measured_by_the_meter_that_sends(page, quince_yard, stand_ins):
    """Its value stands beside the field, a press takes it with its temperature, and the brew has it."""
    page.set_viewport_size(PHONE)
    stand_ins.hold("jar")
    stand_ins.live(40)
    page.goto(quince_yard.url + "/brews/7")
    page.locator("details[data-log=p] summary").first.click()
    taken = page.locator("[data-take]").first
    expect(taken).to_be_visible()
    expect(page.get_by_role("heading", name="Stone jar")).to_be_attached()
    value = taken.get_attribute("data-ph")
    taken.click()
    expect(page.locator("input[name=ph]").first).to_have_value(value)
    assert page.locator("input[name=millivolts]").first.input_value()
    page.get_by_role("button", name="Save").first.click()
    expect(page.locator("#toasts, main").first).to_be_visible()
    page.goto(quince_yard.url + "/brews/7")
    expect(page.locator("main")).to_contain_text(value.rstrip("0") if value.endswith("0") else value)


def test_an_unplugged_mat_is_found_on_the_round(page, quince_yard, stand_ins):
    """Set warmer than the crock is, and unplugged: within some hours the round says what it looks like, and what to do."""
    stand_ins.fault("unplugged")
    stand_ins.crock.celsius = stand_ins.crock.mat_c = 21.5
    stand_ins.probe.reads_c = 21.5
    stand_ins.live(3 * 3600, every=60.0)
    page.goto(quince_yard.url + "/")
    due = page.get_by_text("no warmer for an hour").first
    expect(due).to_be_attached()
    page.goto(quince_yard.url + "/instruments/")
    expect(page.locator(".device").filter(has_text="Crock mat")).to_contain_text("Look to its plug")


def test_the_stand_ins_are_handled_on_their_own_page(page, quince_yard, stand_ins):
    """Buttons dip the meter, pull the probe out, put things on the scale; what they show follows without a reload."""
    running = run(stand_ins, stand_ins.speaker, quince_yard.url, 0)
    try:
        page.set_viewport_size(PHONE)
        page.goto(running.address)
        page.get_by_role("button", name="brew in the jar").click()
        expect(page.locator("text[data-live=ph]")).not_to_have_text("off")
        page.get_by_role("button", name="probe falls out").click()
        expect(page.get_by_role("button", name="probe falls out")).to_have_attribute("aria-pressed", "true")
        page.get_by_role("button", name="a bowl of damsons").click()
        expect(page.locator("[data-live=grams]")).to_have_text("331 g")
        page.locator("[data-pair=scale]").get_by_role("button").click()
        expect(page.locator("[data-live=code-scale]")).to_have_text(stand_ins.lines["scale"].code)
        assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    finally:
        running.stop()
