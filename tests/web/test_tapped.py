"""The pages of a tapped vessel: what is said, drawn, asked and refused, on the sample household and on a small one."""

import re
from datetime import timedelta
from itertools import pairwise

import pytest
from sqlalchemy import event

from kyklos.actions import tapped
from kyklos.demo.household import DEMO_NOW
from kyklos.serving.app import create_app
from kyklos.store.read import memory
from kyklos.store.read.lately import read_lately
from kyklos.store.records import Addition, Brew, BrewDay, Transfer, Upkeep

CROCK = "Stoneware crock"


@pytest.fixture
def crock(demo):
    """The number of the brew in the sample household's crock."""
    with demo.reader() as session:
        return next(brew.id for brew in session.query(Brew).filter_by(status="fermenting") if brew.runs)


def by(client, crock):
    """The first instrument that the form of a topping up offers."""
    page = client.get(f"/tapped/{crock}/top-up").text
    return re.search(r'name="tea-instrument".*?<option value="([^"]+)"', page, re.S)[1]


def main_of(client, path):
    """The main part of a page, its marks gone, spaces together."""
    text = client.get(path).text.split("<main")[1].split("</main>")[0]
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", text))


def test_its_page_says_how_much_and_when_again(demo_client, crock):
    """How much today and how often, for whom it is right again, what becomes of it when left, what a colder room gives."""
    said = main_of(demo_client, f"/tapped/{crock}")
    litres = float(re.search(r"You can draw ([\d.]+) L today", said)[1])
    assert 1.0 < litres < 7.5
    assert re.search(r"as much again every \d days", said)
    assert re.search(r"right for (Bram|Odile) again", said)
    assert re.search(r"Left alone it is too sour for", said)
    assert float(re.search(r"Colder by 2 °C: ([\d.]+) L instead", said)[1]) < litres
    assert "Inside" in said
    assert "take it out" in said  # its sediment


def test_a_glass_and_a_jug_are_drawn_and_given_back(demo_client, demo, crock):
    """One tap draws a glass; a jug with its run-off; then sweet tea comes back, with the pH measured then."""
    demo_client.post(f"/tapped/{crock}/glass", data={"litres": "0.25"})
    page = demo_client.post(f"/tapped/{crock}/draw", data={"draw-litres": "2", "draw-leaves": "drunk", "draw-run_off": "y"})
    assert page.status_code == 303
    with demo.reader() as session:
        assert session.get(Brew, crock).left_l == pytest.approx(7.7 - 0.25 - 2.03, abs=0.01)
    sent = {"tea-litres": "2", "tea-tea_c": "24", "tea-ph": "3.5", "tea-instrument": by(demo_client, crock), "tea-fresh_cover": "y"}
    assert demo_client.post(f"/tapped/{crock}/top-up", data=sent).status_code == 303
    with demo.reader() as session:
        assert session.get(Brew, crock).readings[-1].ph == 3.5
        assert session.query(Upkeep).filter_by(what="cover").count() == 3


def test_what_cannot_be_is_said_beside_the_field_and_kept(demo_client, crock):
    """Too much for the tap, hot tea, no number: a sentence, and what was typed stands there still."""
    page = demo_client.post(f"/tapped/{crock}/draw", data={"draw-litres": "7.6", "draw-leaves": "drunk"})
    assert page.status_code == 422
    assert "stay below the tap" in page.text
    assert 'value="7.6"' in page.text
    sent = {"tea-litres": "0.4", "tea-tea_c": "80", "tea-instrument": by(demo_client, crock)}
    hot = demo_client.post(f"/tapped/{crock}/top-up", data=sent)
    assert hot.status_code == 422
    assert "Let it cool first" in hot.text
    word = demo_client.post(f"/tapped/{crock}/draw", data={"draw-litres": "plenty", "draw-leaves": "drunk"})
    assert word.status_code == 422
    assert 'value="plenty"' in word.text
    gauge = demo_client.post(f"/tapped/{crock}/care", data={"care-what": "gauge"})
    assert gauge.status_code == 422
    assert "How warm" in gauge.text


def test_the_kitchen_steps_of_a_topping_up_end_in_the_vessel(demo_client, demo, crock):
    """Planned from its page, gone through step by step; nothing is pitched anew."""
    demo_client.post(f"/tapped/{crock}/draw", data={"draw-litres": "3", "draw-leaves": "drunk"})
    page = main_of(demo_client, f"/tapped/{crock}/top-up")
    assert "are missing to its line" in page
    assert "Just sweet tea" in page
    begun = demo_client.post(f"/tapped/{crock}/top-up/kitchen", data={"tea-litres": "2.6", "tea-instrument": by(demo_client, crock)})
    assert "/brew-day/kitchen/" in begun.location
    with demo.reader() as session:
        brews, day = session.query(Brew).count(), session.query(BrewDay).order_by(BrewDay.id.desc()).first().id
    said = []
    for _ in range(12):
        said.append(main_of(demo_client, f"/brew-day/kitchen/{day}"))
        demo_client.post(f"/brew-day/kitchen/{day}/step", data={"go": "next"})
    assert any("Shut the tap" in text or "the tap is shut" in text for text in said)
    assert not any("Disc in" in text or "Starter in" in text for text in said)
    done = demo_client.post(f"/brew-day/kitchen/{day}/pitch")
    assert done.location.endswith(f"/brews/{crock}")
    with demo.reader() as session:
        assert session.query(Brew).count() == brews
        assert session.get(Brew, crock).left_l == pytest.approx(7.7 - 3 + 2.6, abs=0.02)


def test_what_if_answers_share_interval_room_and_a_wish(demo_client, crock):
    """More each time is sweeter at the draw; a wish is met by ways that fit; too much is said so."""
    little = main_of(demo_client, f"/tapped/{crock}/what-if?share=10&every=7")
    much = main_of(demo_client, f"/tapped/{crock}/what-if?share=88&every=1")
    assert "much too sour" in little or "too sour" in little
    assert "sweet" in much
    wish = main_of(demo_client, f"/tapped/{crock}/what-if?wish=6 L")
    assert re.search(r"every \d days: right", wish)
    assert "more than it can give" in main_of(demo_client, f"/tapped/{crock}/what-if?wish=400")
    assert demo_client.get(f"/tapped/{crock}/what-if?wish=lots&share=x").status_code == 200


def test_the_round_the_almanac_the_calendar_and_an_absence_know_it(demo_client, crock):
    """Due on the round with a glass in one tap, draws to come on the almanac and in the calendar, and no harvest before leaving."""
    round_ = demo_client.get("/").text
    assert CROCK in round_
    assert f'action="/tapped/{crock}/glass"' in round_
    almanac = demo_client.get("/almanac/").text
    assert almanac.count(">draw<") >= 3
    away = main_of(demo_client, "/almanac/away")
    part = away.split(CROCK)[1].split("On return")[0]
    assert "harvest" not in part.lower()
    demo_client.post("/almanac/feed")
    key = re.search(r"feed/([\w-]+)\.ics", demo_client.get("/settings/").text)[1]
    calendar = demo_client.get(f"/almanac/feed/{key}.ics").text
    assert "draw what is ready" in calendar


def test_a_brew_that_runs_is_shown_there_and_its_readings_are_a_click_away(demo_client, crock):
    """The brew's address leads to the tapped page; all readings stay reachable; a brew that does not run has no such page."""
    assert demo_client.get(f"/brews/{crock}").location.endswith(f"/tapped/{crock}")
    assert "Readings and tastings" in demo_client.get(f"/brews/{crock}?all=1").text
    assert demo_client.get("/tapped/7").location.endswith("/brews/7")
    assert demo_client.post("/tapped/7/draw", data={}).location.endswith("/brews/7")


def test_a_pause_is_told_and_it_goes_on(demo_client, crock):
    """Paused it wants nothing but a look; its page says since when, and how it goes on."""
    page = demo_client.get(f"/tapped/{crock}/pause")
    assert page.status_code == 200
    place = re.search(r'<option value="(\d+)"[^>]*>Pantry', page.text)[1]
    demo_client.post(f"/tapped/{crock}/pause", data={"how": "cool", "place": place})
    said = main_of(demo_client, f"/tapped/{crock}")
    assert re.search("Paused since today ?: full, in a cool place", said)
    assert "Draw what is ready" not in said
    assert "Let it go on" in said
    demo_client.post(f"/tapped/{crock}/pause", data={"place": place, "heater_c": ""})
    assert "Paused" not in main_of(demo_client, f"/tapped/{crock}")


def test_forgotten_for_five_weeks_its_page_says_what_it_is_and_the_way_back(demo, demo_client, crock):
    """Strong starter or vinegar, small draws, and how many of them; two months on it is vinegar."""
    later = create_app(demo, lambda: DEMO_NOW + timedelta(days=35), "t", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    said = main_of(later, f"/tapped/{crock}")
    assert re.search(r"It is (vinegar|strong starter) now\. Nobody drew for 37 days\.", said)
    assert re.search(r"draw [\d.]+ L every 2 days and top up; after \d+ draws it is right again", said)


def test_a_vessel_is_set_up_with_its_cautions(client, kitchen):
    """Brass, an untried tap: said beside the field; then it leads to the first fill."""
    number = kitchen.vessel
    page = client.get(f"/tapped/set-up/{number}").text
    assert "No brass" in page
    wrong = client.post(f"/tapped/set-up/{number}", data={"tap_made_of": "brass", "heel_l": "0.4", "version": "1"})
    assert wrong.status_code == 422
    assert "Acid takes metal out of it" in wrong.text
    assert "let it stand for an hour" in wrong.text
    right = {"tap_made_of": "stainless", "tested": "y", "heel_l": "0.4 L", "version": "1"}
    done = client.post(f"/tapped/set-up/{number}", data=right)
    assert done.location.endswith(f"/brew-day/?vessel={number}&kind=first")
    stale = client.post(f"/tapped/set-up/{number}", data=right)
    assert stale.status_code == 409


def test_a_batch_with_a_tap_offers_to_run_on(client, kitchen):
    """On its page, where the vessel has a tap; then that page is the tapped one's."""
    brew = kitchen.ready()
    assert "Draw from its tap" not in client.get(f"/brews/{brew}").text
    kitchen.do(tapped.set_up_tap, tapped.SetUpTapped(vessel_id=kitchen.vessel, tap_made_of="plastic", tested=True, heel_l=0.3))
    assert "Draw from its tap" in client.get(f"/brews/{brew}").text
    page = client.post(f"/tapped/run-on/{brew}")
    assert page.location.endswith(f"/tapped/{brew}")
    assert client.get(f"/tapped/{brew}").status_code == 200


def test_the_saw_is_readable_with_two_draws_and_with_two_hundred(demo_client, demo, crock):
    """However many glasses were drawn, amounts do not stand one over another."""
    with demo.writer() as session, session.begin():
        liquid = session.get(Brew, crock).liquid_id
        for number in range(200):
            at = DEMO_NOW - timedelta(days=2 + number // 8)
            session.add(Transfer(at=at, litres=0.02, source_id=liquid, how="drunk"))
    page = demo_client.get(f"/tapped/{crock}").text
    places = [float(x) for x in re.findall(r'class="saw-amount" x="([\d.]+)"', page)]
    assert all(b - a >= 44 for a, b in pairwise(places))
    assert "draws in this time" in page


def test_where_much_is_missing_it_is_topped_up_first(demo_client, crock):
    """Right as it stands, but half of it drawn: its page says to top it up, and so does the round."""
    demo_client.post(f"/tapped/{crock}/draw", data={"draw-litres": "4.5", "draw-leaves": "drunk"})
    assert "Top it up first" in main_of(demo_client, f"/tapped/{crock}")
    assert "Top it up" in main_of(demo_client, "/").split(CROCK)[1]


def test_what_a_heater_costs_is_told_in_the_households_money(demo_client, crock):
    """Once a kilowatt-hour has its price, a month is told; a wrong price is refused beside its field and leaves the old one."""
    blank = {"currency": "", "shop_price": "", "shop_l": "", "power_price": ""}
    assert demo_client.post("/supply/costs", data=blank).status_code == 303
    assert "tell what a kilowatt-hour costs" in main_of(demo_client, f"/tapped/{crock}")
    page = demo_client.get("/settings/").text
    told = {name: re.search(rf'name="{name}"[^>]*value="([^"]*)"', page)[1] for name in ("name", "version")}
    told |= {"zone": "Europe/Lisbon", "tasters": ["Odile Varga", "Bram Sollie"], "units": "metric", "theme": "auto", "reads_ph": "", "power_price": "0,32"}
    assert demo_client.post("/settings/", data=told).status_code == 303
    assert re.search(r"\d+\.\d\d a month", main_of(demo_client, f"/tapped/{crock}"))
    wrong = demo_client.post("/settings/", data=told | {"power_price": "cheap", "version": str(int(told["version"]) + 1)})
    assert wrong.status_code == 422


def _older(demo, crock, draws):
    """Let the crock have run for so many draws more, three days apart."""
    memory.forget()  # what is written past the actions leaves no trace
    demo.drop_kept()
    with demo.writer() as session, session.begin():
        brew = session.get(Brew, crock)
        was, began = brew.liquid.began_at, brew.liquid.began_at - timedelta(days=3 * draws)
        for row in (*brew.liquid.additions, *brew.liquid.inflows):
            row.at = began if row.at <= was else row.at
        brew.pitched_at = brew.liquid.began_at = began
        for number in range(draws):
            at = was - timedelta(days=3 * number)
            session.add(Transfer(at=at, litres=2.5, source_id=brew.liquid_id, how="drunk"))
            session.add(Addition(liquid_id=brew.liquid_id, at=at + timedelta(hours=1), what="sweet tea", litres=2.5, grams=145))


def test_its_page_reads_no_more_when_it_runs_for_years(demo, crock):
    """After six years of draws the page asks for as few rows as after one, and says nearly the same."""
    counted = []

    def rows(draws):
        _older(demo, crock, draws)
        client = create_app(demo, lambda: DEMO_NOW, "t", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
        read = []
        listener = lambda *told: read.append(told[0])  # noqa: E731
        event.listen(demo._reading, "after_cursor_execute", listener)
        said = main_of(client, f"/tapped/{crock}")
        event.remove(demo._reading, "after_cursor_execute", listener)
        with demo.reader() as session:
            session.context.now = DEMO_NOW
            brew = session.get(Brew, crock)
            read_lately(session, (brew,))
            counted.append((len(read), len(brew.liquid.additions) + len(brew.liquid.outflows) + len(brew.readings)))
        return float(re.search(r"You can draw ([\d.]+) L today", said)[1])

    first, later = rows(120), rows(600)
    assert later == pytest.approx(first, abs=0.11)
    assert counted[1][0] <= counted[0][0] + 2
    assert counted[1][1] == counted[0][1]


def test_a_draw_is_told_before_it_is_made(demo_client, crock):
    """A usual one: when it is right again; more than for good: said so; far too much: what that does; above the tap's: that it does not run."""

    def told(litres):
        return main_of(demo_client, f"/tapped/{crock}/drawing?draw-litres={litres}")

    assert re.search(r"stands at about pH 3\.\d, and is right for", told("3"))
    assert "more than it can give every time" in told("4.5 L")
    assert "stays below it" in told("7.5")
    assert "pH" not in told("") + told("some")


def test_the_households_own_glass_is_drawn(demo_client, demo, crock):
    """Told under settings, it is what one tap draws, on the round and on its page."""
    page = demo_client.get("/settings/").text
    told = {name: re.search(rf'name="{name}"[^>]*value="([^"]*)"', page)[1] for name in ("name", "version")}
    told |= {"zone": "Europe/Lisbon", "tasters": ["Odile Varga", "Bram Sollie"]}
    demo_client.post("/settings/", data=told | {"units": "metric", "theme": "auto", "reads_ph": "", "glass_l": "180 mL"})
    assert "A glass 180 mL" in main_of(demo_client, f"/tapped/{crock}")
    assert demo_client.post(f"/tapped/{crock}/glass", data={"litres": "0.25"}).status_code == 400
    assert demo_client.post(f"/tapped/{crock}/glass", data={"litres": "0.18"}).status_code == 303
    with demo.reader() as session:
        assert session.get(Brew, crock).left_l == pytest.approx(7.52)


def test_an_unknown_glaze_is_warned_of_as_long_as_it_runs(client, kitchen):
    """Acid stands in it for months: the caution is on its page."""
    brew = kitchen.ready()
    kitchen.do(tapped.set_up_tap, tapped.SetUpTapped(vessel_id=kitchen.vessel, tap_made_of="plastic", tested=True, heel_l=0.3))
    kitchen.do(tapped.run_on, tapped.RunOn(brew_id=brew))
    assert "glaze" not in main_of(client, f"/tapped/{brew}")
    with kitchen.database.writer() as session, session.begin():
        session.get(Brew, brew).vessel.material = "unknown glaze or crystal"
    kitchen.database.drop_kept()  # written past the actions: nothing tells of it
    assert "leaches lead" in main_of(client, f"/tapped/{brew}")


def test_a_topping_up_is_no_reading_that_cannot_be(demo_client, crock):
    """That pH rose when sweet tea came in is no fault; a ready day since the start is not explained where there is none."""
    page = main_of(demo_client, f"/brews/{crock}?all=1")
    assert "A reading that cannot be" not in page
    assert demo_client.get(f"/brews/{crock}/why/ready?for=Odile Varga").status_code == 404
