"""Enough to drink in the browser's own words: plan, guests, shopping list, cupboard, cost; and what is refused."""

import html
import re
from datetime import timedelta
from types import SimpleNamespace

import pytest

from kyklos.actions import calendar, household, supply
from kyklos.actions.bottles import cellar, filling, harvest
from kyklos.actions.brewing import pitching
from kyklos.actions.pouring import begin
from kyklos.core.bottles.park import USUAL_CLOSURE
from kyklos.demo.household import DEMO_NOW
from kyklos.reckon.supply import costing, cupboard, drunk, planning
from kyklos.reckon.supply.producers import WhatElse
from kyklos.serving.app import create_app
from kyklos.store.read import planning_queries
from kyklos.store.records import ListItem, PlannedDay, Purchase, StarterLot
from kyklos.web.pages.supply.telling import plan_sentence

SUGAR = {"kind": "sweetener", "key": "sugar"}


@pytest.fixture
def house(kitchen):
    """A kitchen with a ripe brew, and a client."""
    kitchen.brew = kitchen.ready()
    kitchen.client = create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    return kitchen


def plain(text):
    """What a reader sees of a page."""
    return re.sub(r"\s+", " ", html.unescape(re.sub(r"<[^>]+>", " ", text.split("<main")[1].split("</main")[0])))


def days_of(page):
    """The days that the plan's form carries."""
    return re.findall(r'name="day" value="([^"]+)"', page)


def test_the_plan_is_recorded_day_for_day_as_it_is_shown(demo_client, demo):
    """The days beside the picture are those in the almanac; asked again it keeps them all, and says so by nothing."""
    shown = days_of(demo_client.get("/supply/").text)
    assert shown
    assert demo_client.post("/supply/plan", data={"day": shown}).status_code == 303
    with demo.reader() as session:
        rows = [row for row in planning_queries.planned_days(session) if row.by_plan]
        assert sorted(f"{row.kind}:{row.vessel_id}:{row.day}:{row.litres:.2f}" for row in rows) == sorted(shown)
    again = demo_client.get("/supply/").text
    assert sorted(days_of(again)) == sorted(shown)
    assert "no longer serve" not in again


def test_an_absence_and_a_held_jar_are_respected(demo_client, demo):
    """Nobody brews or draws while away, and what is on hold is left out with why."""
    with demo.reader() as session:
        away = planning_queries.absence(session)
    days = [text.split(":")[2] for text in days_of(demo_client.get("/supply/?litres=9").text) or days_of(demo_client.get("/supply/").text)]
    assert not [day for day in days if str(away.leaves) <= day < str(away.returns)]
    assert "on hold" in plain(demo_client.get("/supply/").text)


@pytest.mark.parametrize(
    ("line", "says"),
    [("Saturday, 6 people, 2 glasses", "6 people, 3 L"), ("a gift of 10 bottles on 4 march", "A gift 4 March: 5 L"), ("2 L a week more in july", "More than usual 1 July to 31 July")],
)
def test_guests_count_in_one_line(demo_client, line, says):
    """A line is read, counted in, and can be called off."""
    assert demo_client.post("/supply/wishes", data={"line": line}).status_code == 303
    page = demo_client.get("/supply/").text
    assert says in plain(page)
    number = max(int(found) for found in re.findall(r"/supply/wishes/(\d+)/off", page))
    demo_client.post(f"/supply/wishes/{number}/off")
    assert says not in plain(demo_client.get("/supply/").text)


@pytest.mark.parametrize("line", ["", "sometime", "Saturday", "900 people saturday 9 glasses", "6 people"])
def test_guests_that_cannot_be_read_keep_what_was_typed(demo_client, line):
    """A sentence stands beside the field, and the words stay in it."""
    answer = demo_client.post("/supply/wishes", data={"line": line})
    assert answer.status_code == 422
    assert 'id="wish-problem"' in answer.text
    assert f'value="{line}"' in answer.text


def test_guests_who_would_drink_it_dry_are_planned_for(demo_client, demo):
    """Thirty people in five weeks: without them a jar rests; with them it brews once, in time, and likely nothing is missed on their day."""
    day = DEMO_NOW.date() + timedelta(days=38)
    demo_client.post("/supply/wishes", data={"line": f"{day}, 40 people, 2 glasses"})
    with demo.reader() as session:
        plan = planning.enough(session, DEMO_NOW)
    once = [lane for lane in plan.lanes if lane.batches.days]
    assert once
    assert all(batch.late <= 38 for lane in once if lane.rests for batch in lane.batches.coming)
    assert plan.ahead.missed[38] < plan.without.missed[38]


def test_what_if_changes_nothing(demo_client, demo):
    """A jar less and more a week are answered, and not a row is written; the button that records is not there."""
    page = demo_client.get("/supply/?litres=12&without=7&jar=5&colder=2&unheated=1").text
    assert "nothing of this is kept" in page
    assert "One more jar" in page
    assert not days_of(page)
    with demo.reader() as session:
        usual, less = planning.enough(session, DEMO_NOW), planning.enough(session, DEMO_NOW, WhatElse(without=7))
        assert {lane.producer.name for lane in usual.lanes} - {lane.producer.name for lane in less.lanes} == {"Stoneware crock"}


@pytest.mark.parametrize(("query", "field"), [("litres=x", "if-litres"), ("litres=-3", "if-litres"), ("jar=9999", "if-jar"), ("colder=nan", "if-colder"), ("colder=99", "if-colder"), ("without=x", "")])
def test_a_question_that_cannot_be_is_answered_beside_the_field(demo_client, query, field):
    """No number, a negative or a huge one: the page stands, what was typed too."""
    answer = demo_client.get(f"/supply/?{query}")
    assert answer.status_code == 200
    assert not field or re.search(rf'id="{field}"[^>]*>\s*<p class="problem">', answer.text)


@pytest.mark.parametrize("day", [[], ["brew:x"], ["brew:1:2020-01-01:3"], ["harvest:1:2027-03-01:3"], ["brew:999:2027-03-01:3"], ["brew:1:2027-03-01:nan"]])
def test_a_plan_that_is_none_is_refused(demo_client, demo, day):
    """Days that were made up, are over, or of no vessel of ours write nothing."""
    assert demo_client.post("/supply/plan", data={"day": day}).status_code in {404, 422}
    with demo.reader() as session:
        assert not session.query(PlannedDay).filter_by(by_plan=True).count()


def test_one_jar_gets_one_sentence(house):
    """With a single vessel there is no picture to study."""
    page = house.client.get("/supply/").text
    assert "<svg class=\"supply-chart" not in page
    assert "brew" in plain(page)


def test_an_empty_household_is_told_what_comes_first(client):
    """Without a jar and a culture nothing can be planned; list, cupboard and cost stand and teach."""
    for path, words in (("/supply/", "add a jar and a culture first"), ("/supply/list", "Nothing to buy"), ("/supply/cupboard", "Nothing was bought"), ("/supply/costs", "Nothing with a price")):
        answer = client.get(path)
        assert answer.status_code == 200
        assert words in plain(answer.text), path


def test_a_brew_serves_the_day_that_was_planned_for_it(kitchen):
    """Once something is started in the vessel its planned day is done; undone, it is planned again."""
    day = kitchen.clock().date()
    kitchen.do(supply.accept_plan, supply.AcceptPlan(days=tuple(supply.DayOfPlan("brew", kitchen.vessel, day + timedelta(days=days), 3.0) for days in (1, 12))))
    kitchen.pitch()
    with kitchen.database.reader() as session:
        assert [row.day for row in planning_queries.planned_days(session)] == [day + timedelta(days=12)]


def test_a_planned_day_is_moved_by_its_number(kitchen):
    """Of several days of the plan the one that was dragged moves, and no other."""
    day = kitchen.clock().date()
    kitchen.do(supply.accept_plan, supply.AcceptPlan(days=tuple(supply.DayOfPlan("brew", kitchen.vessel, day + timedelta(days=days), 3.0) for days in (1, 12))))
    kitchen.do(calendar.plan_day, calendar.PlanDay(kind="brew", vessel_id=kitchen.vessel, day=day + timedelta(days=14), plan_id=2))
    with kitchen.database.reader() as session:
        assert [(row.day - day).days for row in planning_queries.planned_days(session)] == [1, 14]


def test_what_was_drunk_counts_and_what_was_given_does_not(house):
    """Bottles opened are drunk; one given away is not."""
    house.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=house.brew, litres=0.5))
    house.do(filling.fill_bottles, filling.FillBottles(brew_id=house.brew, kind="swing-top", count=5, volume_ml=500, headspace_fraction=0.04))
    for number in (1, 2):
        house.clock.turn(0.5)
        house.do(cellar.open_bottle, cellar.OpenBottle(bottle_id=number, hiss=1))
    house.do(cellar.finish_bottles, cellar.FinishBottles(bottle_ids=(3,), left_as="given"))
    with house.database.reader() as session:
        found = drunk.drunk(session, house.clock())
        assert [round(litres, 2) for _, litres, _ in found.drinks] == [0.48, 0.48]
        standing = [bottle for bottle in session.query(cellar.Bottle) if bottle.state != "gone"]
        each = drunk.runs_out(session, standing, house.clock())
    assert each[0].bottles == 2
    assert each[0].early_at < each[0].likely_at < each[0].late_at


def test_the_crock_counts_as_drunk(demo):
    """What runs out of the tap is most of what the sample household drinks."""
    with demo.reader() as session:
        found = drunk.drunk(session, DEMO_NOW)
    from_the_tap = sum(litres for days, litres, flavour in found.drinks if flavour == drunk.PLAIN and days < 28)
    assert from_the_tap > 10
    assert 3.5 < found.pace.litres_a_week < 6


def test_a_brew_uses_up_what_was_bought(kitchen):
    """Sugar and tea go down by what the brew took, and a brew taken back gives them back."""
    for key, kind, amount in (("sugar", "sweetener", 1000.0), ("black", "tea", 100.0)):
        kitchen.do(supply.buy, supply.Buy(kind=kind, key=key, amount=amount, price=2.0))
    kitchen.clock.turn(1)
    brew = kitchen.pitch()
    with kitchen.database.reader() as session:
        row = session.get(pitching.Brew, brew)
        sweet = sum(one.litres for one in row.liquid.additions)
        left = {held.good.key: held.left for held in cupboard.cupboard(session, kitchen.clock())}
        assert left["sugar"] == pytest.approx(1000 - sweet * row.sugar_g_per_l)
        assert left["black"] == pytest.approx(100 - sweet * row.leaf_g_per_l)
        money, unpriced = costing.brews(session, kitchen.clock())[0].money, costing.brews(session, kitchen.clock())[0].unpriced
        assert money == pytest.approx(2.0 * sweet * (row.sugar_g_per_l / 1000 + row.leaf_g_per_l / 100))
        assert unpriced == ()


def test_bought_less_used_less_left_is_nothing(demo):
    """Over the sample household's year every cent is somewhere."""
    with demo.reader() as session:
        found = cupboard.accounts(session, DEMO_NOW)
        assert sum(one.bought_money for one in found.values()) > 50
        assert sum(one.bought_money - one.money - one.left_money for one in found.values()) == pytest.approx(0, abs=1e-6)


def test_a_list_is_ticked_priced_and_put_back(demo_client, demo):
    """Ticked is bought; the price may follow; put back it stands on the list again."""
    page = demo_client.get("/supply/list").text
    form = dict(re.findall(r'name="(kind|key|amount|item)" value="([^"]*)"', page.split("Damson")[0].rsplit("<form", 1)[1]))
    assert demo_client.post("/supply/list/tick", data=form).status_code == 303
    with demo.reader() as session:
        bought = session.query(Purchase).order_by(Purchase.id.desc()).first()
        assert (bought.key, bought.amount, bought.price) == ("damson", 500, None)
    assert demo_client.post(f"/supply/list/{bought.id}/price", data={"price": "4,20"}).status_code == 303
    assert demo_client.post(f"/supply/list/{bought.id}/price", data={"price": "dear"}).status_code == 422
    assert "4.20" in demo_client.get("/supply/list").text
    demo_client.post(f"/supply/list/{bought.id}/untick")
    with demo.reader() as session:
        assert session.get(Purchase, bought.id) is None
        assert session.query(ListItem).filter_by(key="damson", ended_at=None).count() == 1
    assert "Damson, 500 g" in demo_client.get("/supply/list.txt").text


@pytest.mark.parametrize(
    ("path", "data"),
    [
        ("/supply/list/add", {"line": ""}), ("/supply/list/tick", {"kind": "gold", "key": "x", "amount": "1"}), ("/supply/list/tick", {"amount": "nan"}),
        ("/supply/cupboard/buy", {"line": "   "}), ("/supply/cupboard/buy", {"line": "1 kg sugar 1.49", "day": "nine"}), ("/supply/cupboard/buy", {"line": "1 kg sugar 1.49", "day": "2099-01-01"}),
        ("/supply/cupboard/count", {"kind": "gold", "key": "x", "amount": "3"}), ("/supply/cupboard/count", {**SUGAR, "amount": "some"}), ("/supply/cupboard/count", {**SUGAR, "amount": "-5"}),
        ("/supply/costs", {"currency": "a long currency name"}), ("/supply/costs", {"shop_price": "free"}), ("/supply/costs", {"shop_price": "-1"}),
        ("/supply/purchases/1", {"amount": "0", "price": "1", "day": "2027-01-01"}), ("/supply/purchases/1", {"amount": "900", "price": "x", "day": "never"}),
    ],
)  # fmt: skip
def test_wrong_input_is_a_sentence(demo_client, path, data):
    """Nothing is written, the page says why, and what was typed is still there."""
    answer = demo_client.post(path, data=data)
    assert answer.status_code == 422
    assert "problem" in answer.text
    for typed in data.values():
        assert not typed.strip() or typed in SUGAR.values() or html.escape(typed) in answer.text or path.endswith("tick") or typed in {"gold", "x", "3"}


def test_a_purchase_is_put_right(demo_client, demo):
    """Amount, price and days are changed; an older page is told that somebody was quicker."""
    assert demo_client.get("/supply/purchases/1").status_code == 200
    data = {"amount": "950", "price": "1.10", "day": "2026-03-03", "best_before": "2028-01-01", "version": "1"}
    assert demo_client.post("/supply/purchases/1", data=data).status_code == 303
    with demo.reader() as session:
        assert (session.get(Purchase, 1).amount, session.get(Purchase, 1).price) == (950, 1.1)
    assert demo_client.post("/supply/purchases/1", data=data).status_code == 409


def test_the_round_says_what_is_low_and_planned(demo_client):
    """A planned brew of today and what is low stand besides the jars; nothing is shouted where there is plenty."""
    assert "Low: black tea" in plain(demo_client.get("/").text)
    demo_client.post("/supply/cupboard/buy", data={"line": "500 g black tea 9"})
    day = DEMO_NOW.date()
    demo_client.post("/supply/plan", data={"day": [f"brew:6:{day}:3.10"]})
    text = plain(demo_client.get("/").text)
    assert "Low:" not in text
    assert "Brew 3.1 L in Demijohn" in text
    assert f"plan-{1}" in demo_client.get("/almanac/").text or "data-plan=\"brew\"" in demo_client.get("/almanac/").text


@pytest.mark.parametrize(
    ("line", "where", "kind"),
    [("1 kg sugar 1.49", "Bought", Purchase), ("guests saturday 6 people 2 glasses", "Guests", None), ("counted sugar 800 g", "Counted in the cupboard", None)],
)
def test_the_quick_line_takes_purchases_and_guests(demo_client, demo, line, where, kind):
    """It says what Enter saves, and saves just that."""
    assert where in demo_client.get("/quick/", query_string={"line": line}, headers={"HX-Request": "true"}).text
    assert demo_client.post("/quick/", data={"line": line}).status_code == 303
    if kind is not None:
        with demo.reader() as session:
            newest = session.query(kind).order_by(kind.id.desc()).first()
            assert (newest.key, newest.amount, newest.price) == ("sugar", 1000, 1.49)


@pytest.mark.parametrize("line", ["crock 3.42 24c a bit sweet", "drank 2 damson", "crock 300 ml", "bora 3.4 strip", "gave 2 damson to anna", "6 damson", "topped up the crock with 1 l of water"])
def test_other_lines_are_read_as_before(demo_client, line):
    """What tells of a jar or of bottles is no purchase."""
    told = demo_client.get("/quick/", query_string={"line": line}, headers={"HX-Request": "true"}).text
    assert "<strong>Bought" not in told
    assert "<strong>Guests" not in told


def test_each_crown_cap_is_for_one_bottle():
    """What closes a bottle by itself is used up with it, as the park has it."""
    assert {kind for kind, key in USUAL_CLOSURE.items() if key == "crown"} == {"crown-cap", "sparkling"}


def test_a_harvest_sets_aside_for_what_is_planned_elsewhere(kitchen):
    """An empty jar of the same line that is planned soon has its starter reserved in the harvest before; once starter is kept, no more is asked."""
    first = kitchen.ready()
    other = kitchen.do(household.add_vessel, household.AddVessel(name="Second jar", kind="jar", nominal_l=4, usable_l=3.5, diameter_cm=15, material="glass", tapped=False, place_id=1)).made["vessel"]
    with kitchen.database.writer() as session, session.begin():
        brew = session.get(pitching.Brew, first)
        session.add(pitching.Brew(**{name: getattr(brew, name) for name in ("kind", "culture_id", "tea", "leaf_g_per_l", "sugar_g_per_l", "honey_share", "starter_fraction", "starter_ph", "plan")},
                    vessel_id=other, liquid=begin(session, "brew", brew.pitched_at), pitched_at=brew.pitched_at, status="harvested", ended_at=brew.pitched_at))  # fmt: skip
        for lot in session.query(StarterLot):
            session.delete(lot)
    app = create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    before = app.get(f"/brews/{first}/harvest").text
    assert "where a brew is" not in before
    day = kitchen.clock().date() + timedelta(days=3)
    kitchen.do(supply.accept_plan, supply.AcceptPlan(days=(supply.DayOfPlan("brew", other, day, 3.5),)))
    after = app.get(f"/brews/{first}/harvest").text
    assert "for second jar, where a brew is" in plain(after)
    asked = [float(re.search(r'name="litres"[^>]*value="([\d.]+)"', text)[1]) for text in (before, after)]
    with kitchen.database.reader() as session:
        share = session.get(pitching.Brew, first).starter_fraction
    assert asked[1] - asked[0] == pytest.approx(3.5 * share, abs=0.02)


def test_brew_day_knows_what_is_planned(demo_client):
    """The plan of a vessel says for which day it is meant."""
    assert "Planned for Monday 22 February." in plain(demo_client.get("/brew-day/?vessel=4").text)


def test_honey_whose_day_is_near_is_said(demo_client):
    """Best before stands on the round and in the cupboard."""
    assert "Best before: honey (10 March)" in plain(demo_client.get("/").text)
    assert "best before 10 Mar" in plain(demo_client.get("/supply/cupboard").text)


def test_without_a_price_nothing_costs_nothing(kitchen, client):
    """What was bottled of goods that have no price is said to have none: no 0.00, and no chart without a bar."""
    kitchen.filled()
    page = client.get("/supply/costs").text
    assert "no price known" in page
    assert "cost-bars" not in page
    assert not re.search(r"<strong>[^<]*0\.00", page)


@pytest.mark.parametrize(("jars", "sentence"), [(2, "Jar 1 and Jar 2 can rest."), (15, "Every vessel can rest.")])
def test_where_all_of_many_rest_none_is_named(jars, sentence):
    """Two are named, fifteen are one sentence."""
    lane = lambda number: SimpleNamespace(producer=SimpleNamespace(name=f"Jar {number + 1}"), choice=SimpleNamespace(every_days=None), batches=SimpleNamespace(days=()))  # noqa: E731
    assert plan_sentence(SimpleNamespace(in_plan=[lane(number) for number in range(jars)])) == sentence
