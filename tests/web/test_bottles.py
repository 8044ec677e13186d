"""Bottling, flavours and cellar as they answer: wrong input, an empty household, other units, what is never allowed."""

import re
from dataclasses import replace
from html import unescape
from random import Random

import pytest
from sqlalchemy import select
from werkzeug.datastructures import MultiDict

from kyklos.actions import household
from kyklos.actions.base import RefusedError
from kyklos.actions.bottles import cellar, filling, flavour_book, harvest, infusing, owning, scoring
from kyklos.actions.bottles.flavour_book import PartTold
from kyklos.actions.brewing import happenings
from kyklos.core.base.errors import CoreError
from kyklos.core.bottles.flavouring import part, room
from kyklos.demo.household import DEMO_NOW
from kyklos.reckon.bottles import filling_plan, pressure
from kyklos.reckon.bottles.harvests import Filling
from kyklos.serving.app import create_app
from kyklos.store.read import park
from kyklos.store.records import Bottle, BottleType, Bottling, Brew, Flavour, Infusion, Place, SpotReading


@pytest.fixture
def house(kitchen):
    """A kitchen with a ripe brew, its starter set aside, and bottles that are owned; with a client."""
    kitchen.do(owning.own_bottles, owning.OwnBottles(line="9 swing-top 500 mL, 2 mason 500 mL, 1 pet"))
    kitchen.brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=kitchen.brew, litres=0.5))
    app = create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False)
    kitchen.client = app.test_client()
    kitchen.here = f"/brews/{kitchen.brew}/bottling"
    return kitchen


def rows(page):
    """The hidden rows of a plan: kind and flavour of each bottle."""
    return [row.removesuffix(":short") for row in re.findall(r'form="choices" name="b" value="([^"]+)"', page)]


def state_of(page):
    """All that the plan's own form sends."""
    form = page[page.index('class="plan-fill"') :]
    found = re.findall(r'<input type="hidden" name="([^"]+)" value="([^"]*)">', form)
    told = {}
    for name, value in found:
        told.setdefault(name, []).append(value)
    return told


def keep(kitchen, name="Damson", **more):
    """Keep a flavour; gives its key."""
    ask = flavour_book.KeepFlavour(name=name, **{"parts": (PartTold("damson", 60.0),), **more})
    return f"f{kitchen.do(flavour_book.keep_flavour, ask).made['flavour']}"


PLACES = ["/flavours/", "/flavours/new", "/flavours/ingredients", "/cellar/", "/cellar/park", "/cellar/ranking", "/cellar/compare"]


@pytest.mark.parametrize("path", PLACES)
def test_an_empty_household_is_led_on(client, path):
    """Where nothing is yet, each place says what it is for, and no heading stands over nothing."""
    page = client.get(path)
    assert page.status_code == 200
    assert "Traceback" not in page.text


def test_without_bottles_one_line_gets_going(kitchen):
    """A household that never counted its bottles says in one line what it has, on the way; a wrong line is kept and explained."""
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    client = create_app(kitchen.database, kitchen.clock, "t", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    assert "Which bottles do you have?" in client.get(f"/brews/{brew}/bottling").text
    wrong = client.post(f"/brews/{brew}/bottling/own", data={"line": "some teapots"})
    assert wrong.status_code == 422
    assert "How many are" in wrong.text
    assert 'value="some teapots"' in wrong.text
    assert client.post(f"/brews/{brew}/bottling/own", data={"line": "12 swing-top 500 mL"}).status_code == 303
    assert "Fill all: 7 bottles" in client.get(f"/brews/{brew}/bottling").text or "Fill all: 6" in client.get(f"/brews/{brew}/bottling").text


def test_a_plan_changed_by_hand_is_filled_just_so(house):
    """A bottle pressed takes the next flavour; what is filled is what stood on the page, sum for sum."""
    key = keep(house)
    address = f"{house.here}?chosen=1&flavour={key}&flavour=plain"
    before = rows(house.client.get(address).text)
    told = "&".join(f"b={row}" for row in before)
    turned = house.client.get(f"{address}&was={key},plain&{told}&turn=0").text
    assert sum(row.endswith("plain") for row in rows(turned)) == sum(row.endswith("plain") for row in before) + 1
    assert house.client.post(house.here, data=state_of(turned)).status_code == 303
    with house.database.reader() as session:
        brew = session.get(Brew, house.brew)
        assert sorted(len(g.bottles) for g in brew.bottlings) == sorted(
            sum(row.endswith(flavour) for row in rows(turned)) for flavour in (key, "plain")
        )
        damson = next(g for g in brew.bottlings if g.note == "Damson")
        assert damson.form == "puree"  # as pieces they would not come out of this neck again
        assert damson.added_sugar_g_per_l == pytest.approx(5.4)
        assert damson.liquid.additions[0].grams == pytest.approx(60 * damson.liquid.made_l, rel=1e-6)
        assert brew.left_l < 0.35


def test_what_is_filled_is_what_was_pictured_bottle_by_bottle(house):
    """Flavour, kind, millilitres and chill-by of each bottle on the page are those of its record, the short one in its place."""
    key = keep(house, "Raspberry", parts=(PartTold("raspberry", 60.0),))
    house.do(happenings.take_out, happenings.TakeOut(brew_id=house.brew, leaves="drunk", litres=0.15))
    with house.database.reader() as session:
        session.context.now = house.clock.now
        brew = session.get(Brew, house.brew)
        plans = [filling_plan.plan_of(session, brew, filling_plan.FillingAsked(keys=keys), house.clock.now) for keys in (("plain", key), (key, "plain"))]
        planned = next(plan for plan in plans if any(box.what.short for box in plan.groups[0].boxes))  # it is not the last of all
        first, second = (group.card.key for group in planned.groups)
        pictured = [(g.card.name, box.kind.id, round(box.what.litres, 4)) for g in planned.groups for box in g.boxes]
        days = {g.card.name: g.future.chill_by_day for g in planned.groups}
    page = house.client.get(f"{house.here}?chosen=1&flavour={first}&flavour={second}").text
    assert house.client.post(house.here, data=state_of(page)).status_code == 303
    with house.database.reader() as session:
        session.context.now = house.clock.now
        groups = session.get(Brew, house.brew).bottlings
        filled = [(g.note or "Plain", b.type_id, round((1 - b.headspace_fraction) * b.volume_ml / 1000, 4)) for g in groups for b in g.bottles]
        assert filled == pictured
        for group in groups:
            soonest = min(pressure.bottle_future(b).chill_by_day for b in group.bottles)
            assert soonest == pytest.approx(days[group.note or "Plain"], abs=0.15)


@pytest.mark.parametrize("seed", range(6))
def test_any_plan_shown_is_what_is_recorded(kitchen, seed):
    """Made-up parks, flavours and amounts: flavour, kind and millilitres of each bottle on the page are those of its record, and its day."""
    random = Random(seed)
    kinds = random.sample(["swing-top 500 mL", "crown-cap 330 mL", "sparkling 750 mL", "pet 500 mL", "reused 330 mL"], random.randint(1, 4))
    kitchen.do(owning.own_bottles, owning.OwnBottles(line=", ".join(f"{random.randint(1, 6)} {kind}" for kind in kinds)))
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=round(random.uniform(0.2, 1.5), 2)))
    fruits = random.sample(["damson", "raspberry", "ginger-juice", "apple-juice", "fig"], random.randint(0, 3))
    keys = [keep(kitchen, fruit, parts=(PartTold(fruit, random.uniform(10, 120)),)) for fruit in fruits]
    keys = random.sample(["plain", *keys], len(keys) + 1)
    client = create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    here = f"/brews/{brew}/bottling"
    page = client.get(here, query_string={"chosen": 1, "flavour": keys, "spot_c": random.choice(["", "21"]), "ph-plain": ""}).text
    state = state_of(page) | {"overruled": "measured before, it is fine"}
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        spot = float(state["spot_c"][0]) if state["spot_c"][0] else None
        planned = filling_plan.plan_of(session, session.get(Brew, brew), filling_plan.FillingAsked(keys=tuple(keys), spot_c=spot), kitchen.clock.now)
        pictured = [(group.card.name, box.kind.id, round(box.what.litres, 4)) for group in planned.groups for box in group.boxes]
        soonest = {group.card.name: group.future.chill_by_day for group in planned.groups}
        short = {group.card.name: group.short_future for group in planned.groups}
    answer = client.post(here, data=state)
    assert answer.status_code == 303, re.findall(r'class="problem"[^>]*>([^<]+)', answer.text)
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        groups = session.get(Brew, brew).bottlings
        filled = [(g.note or "Plain", b.type_id, round((1 - b.headspace_fraction) * b.volume_ml / 1000, 4)) for g in groups for b in g.bottles]
        assert filled == pictured
        for group in groups:
            name = group.note or "Plain"
            days = [pressure.bottle_future(b).chill_by_day for b in group.bottles]
            told = [soonest[name]] + ([short[name].chill_by_day] if short[name] is not None else [])
            assert min(days) == pytest.approx(min(told), abs=0.02)


def test_the_first_to_pass_its_limit_speaks_for_its_flavour(house):
    """A bottle that holds less stands second in the plan: the day that is told is its own."""
    house.do(owning.own_bottles, owning.OwnBottles(line="2 reused 330 mL"))
    with house.database.reader() as session:
        session.context.now = house.clock.now
        kinds = {kind.kind: kind for kind in session.query(BottleType)}
        strong, weak = sorted((kinds["swing-top"], kinds["reused"]), key=lambda kind: -kind.limit_bar)
        brew = session.get(Brew, house.brew)

        def chill_by(*some):
            boxes = tuple((kind.id, "plain") for kind in some)
            asked = filling_plan.FillingAsked(keys=("plain",), boxes=boxes, priming_g_per_l=8.0)
            return filling_plan.plan_of(session, brew, asked, house.clock.now).groups[0].future.chill_by_day

        assert strong.limit_bar > weak.limit_bar
        assert chill_by(strong, weak) == pytest.approx(chill_by(weak), abs=1e-6)
        assert chill_by(strong, weak) < chill_by(strong)


def test_the_same_kind_told_twice_stays_one_kind(house):
    """A maker's limit was told; four more of the same, told without one, join it and keep its limit."""
    with house.database.reader() as session:
        swing = session.query(BottleType).filter_by(kind="swing-top").one()
        number, owned = swing.id, swing.owned
    house.do(owning.change_kind, owning.ChangeKind(type_id=number, owned=owned, limit_bar=8.0))
    house.do(owning.own_bottles, owning.OwnBottles(line="4 swing-top 500 mL"))
    with house.database.reader() as session:
        (swing,) = session.query(BottleType).filter_by(kind="swing-top").all()
        assert (swing.owned, swing.limit_bar) == (owned + 4, 8.0)


def test_one_bottle_more_of_a_flavour_comes_from_the_one_that_has_most(house):
    """The button beside a flavour moves one bottle to it; a wish that is no flavour changes nothing."""
    key = keep(house)
    address = f"{house.here}?chosen=1&flavour={key}&flavour=plain"
    before = rows(house.client.get(address).text)
    told = "&".join(f"b={row}" for row in before)
    more = rows(house.client.get(f"{address}&was={key},plain&{told}&more=plain").text)
    assert sum(row.endswith("plain") for row in more) == sum(row.endswith("plain") for row in before) + 1
    assert rows(house.client.get(f"{address}&was={key},plain&{told}&more=nonsense").text) == before


def test_jars_and_square_bottles_are_never_closed_for_fizz(house):
    """They are not in a plan that stands warm; by hand they are refused, whatever limit somebody types."""
    page = house.client.get(f"{house.here}?chosen=1&flavour=plain").text
    with house.database.reader() as session:
        mason = session.query(BottleType).filter_by(kind="mason").one().id
    assert not any(row.startswith(f"{mason}:") for row in rows(page))
    told = {**state_of(page), "b": [f"{mason}:plain"], "was": "plain"}
    answer = house.client.post(house.here, data=told)
    assert answer.status_code == 422
    group = filling.Group(
        filling=Filling(kind="mason", headspace_fraction=0.1, limit_bar=6.0), boxes=(filling.Box(mason, 0.1),), name="Plain"
    )
    with pytest.raises(RefusedError, match="not made for pressure"):
        house.do(filling.fill_plan, filling.FillPlan(brew_id=house.brew, groups=(group,)))
    with pytest.raises(RefusedError, match="never for fizz"):
        house.do(owning.change_kind, owning.ChangeKind(type_id=mason, owned=2, limit_bar=5.0))


def test_jars_take_flavour_but_no_fizz(kitchen):
    """Where only canning jars are clean, they are planned lids loose and straight into the fridge, and filled so; bottles come first."""
    kitchen.do(owning.own_bottles, owning.OwnBottles(line="9 mason 500 mL"))
    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    client = create_app(kitchen.database, kitchen.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    here, key = f"/brews/{brew}/bottling", keep(kitchen)
    page = client.get(f"{here}?chosen=1&flavour={key}").get_data(as_text=True)
    assert "Only jars are clean" in page
    assert "drunk within three days" in page
    assert client.post(here, data=state_of(page)).status_code == 303
    with kitchen.database.reader() as session:
        bottles = session.query(Bottle).all()
        assert {b.kind for b in bottles} == {"mason"}
        assert {b.state for b in bottles} == {"cold"}
        assert {b.bottling.flavour for b in bottles} == {"damson"}
    kitchen.do(owning.own_bottles, owning.OwnBottles(line="1 swing-top 500 mL"))
    assert "Only jars" not in client.get(f"{here}?chosen=1&flavour={key}").get_data(as_text=True)


def test_the_spot_is_asked_and_counts(house):
    """Read at filling: what is told and what is written follow it; left empty it is told for rather more; nonsense is said beside it."""
    page = house.client.get(f"{house.here}?chosen=1&flavour=plain").get_data(as_text=True)
    assert "How warm is the spot?" in page
    assert "Nobody measured there lately: usually 24 °C, so reckoned for rather more." in page
    warm = house.client.get(f"{house.here}?chosen=1&flavour=plain&spot_c=30").get_data(as_text=True)
    assert "Nobody measured" not in warm
    wrong = house.client.post(house.here, data=state_of(page) | {"spot_c": "300"})
    assert wrong.status_code == 422
    assert "From 2 °C to 45 °C." in wrong.get_data(as_text=True)
    with house.database.reader() as session:
        brew = session.get(Brew, house.brew)
        planned = filling_plan.plan_of(session, brew, filling_plan.FillingAsked(keys=("plain",), spot_c=30.0), house.clock())
        cooler = filling_plan.plan_of(session, brew, filling_plan.FillingAsked(keys=("plain",), spot_c=18.0), house.clock())
        day = planned.groups[0].future.chill_by_day
        assert day < cooler.groups[0].future.chill_by_day
    assert house.client.post(house.here, data=state_of(warm)).status_code == 303
    with house.database.reader() as session:
        assert [row.celsius for row in session.query(SpotReading)] == [30.0]
        assert pressure.bottle_future(session.get(Bottle, 1)).chill_by_day == pytest.approx(day)


def test_each_filling_has_its_drink_by(house):
    """At filling, on the label, and on the rack once it is cold."""
    page = house.client.get(f"{house.here}?chosen=1&flavour=plain&spot_c=22").get_data(as_text=True)
    told = re.search(r"drink by (\d+ \w+)\.", page)[1]
    house.client.post(house.here, data=state_of(page))
    label = house.client.get("/cellar/labels/1").get_data(as_text=True)
    assert f"Drink by {told[:6]}" in label
    house.do(cellar.chill_bottles, cellar.MoveBottles(bottle_ids=(1,)))
    assert "Drink by" in house.client.get("/cellar/some?of=1").get_data(as_text=True)
    assert "good until" in house.client.get("/cellar/").get_data(as_text=True)


def test_additions_leave_some_brew(house):
    """Seven tenths of a bottle may be added, not more: refused in a sentence, nowhere an error, and nothing is written."""
    assert room([part("apple juice", 700)]) == 0.7
    with pytest.raises(CoreError, match="too little brew"):
        room([part("apple juice", 701)])
    with pytest.raises(RefusedError, match="too little brew"):
        keep(house, "Apple", parts=(PartTold("apple-juice", 400.0), PartTold("damson", 301.0)))
    keep(house, "Apple", parts=(PartTold("apple-juice", 400.0), PartTold("damson", 300.0)))
    with house.database.reader() as session:
        assert [row.name for row in session.query(Flavour)] == ["Apple"]


def test_what_may_stand_above_the_bound_is_measured_or_decided_in_writing(house):
    """Much carrot asks for a pH beside its card, keeps what was typed, and takes 4.2 measured, or words where nobody measured."""
    key = keep(house, "Carrot", parts=(PartTold("carrot-juice", 450.0),))
    page = house.client.get(f"{house.here}?chosen=1&flavour={key}").text
    assert "too unsure to close" in page
    told = state_of(page)
    refused = house.client.post(house.here, data=told)
    assert refused.status_code == 422
    assert "measure the mixed liquid" in refused.text
    wrong = house.client.post(house.here, data={**told, f"ph-{key}": "sour"})
    assert wrong.status_code == 422
    assert 'value="sour"' in wrong.text
    high = house.client.post(house.here, data={**told, f"ph-{key}": "4.4", "overruled": "I know what I do here"})
    assert high.status_code == 422  # measured above it: words do not help
    assert house.client.post(house.here, data={**told, "overruled": "drunk within two days, cold"}).status_code == 303
    with house.database.reader() as session:
        assert session.query(Bottling).one().overruled == "drunk within two days, cold"


def test_nothing_is_filled_before_the_starter(kitchen):
    """The plan shows, but its button waits for the starter; sent all the same, it is refused and nothing is written."""
    kitchen.do(owning.own_bottles, owning.OwnBottles(line="9 swing-top"))
    brew = kitchen.ready()
    client = create_app(kitchen.database, kitchen.clock, "t", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    page = client.get(f"/brews/{brew}/bottling").text
    assert "First of all the starter" in page
    assert client.post(f"/brews/{brew}/bottling", data=state_of(page)).status_code == 422
    with kitchen.database.reader() as session:
        assert session.query(Bottle).count() == 0


def test_what_was_said_last_time_is_taken_in(house):
    """After "less" the next plan takes a fifth less of it, and says so."""
    key = keep(house)
    told = Filling(kind="swing-top", headspace_fraction=0.04, made_of=(part("damson", 60),))
    group = filling.Group(filling=told, boxes=(filling.Box(1, 0.04),), name="Damson", flavour_id=int(key[1:]))
    house.do(filling.fill_plan, filling.FillPlan(brew_id=house.brew, groups=(group,)))
    house.do(cellar.open_bottle, cellar.OpenBottle(bottle_id=1, hiss=2))
    house.do(scoring.score_bottle, scoring.ScoreBottle(taster_id=1, bottle_id=1, liked=3, next_time="less", word="too much plum"))
    page = house.client.get(f"{house.here}?chosen=1&flavour={key}").text
    assert "too much plum" in page
    assert "a fifth less than last time" in page
    assert "23 g each" in page


def test_a_flavour_is_typed_as_kitchens_measure(house):
    """Pieces, centimetres, spoons and grams are read; what cannot be read stands beside its row, and all that was typed stays."""
    form = {
        "name": "Rhubarb and ginger", "ingredient-0": "rhubarb", "amount-0": "2 pieces", "ingredient-1": "ginger-root",
        "amount-1": "1½ cm", "ingredient-2": "honey", "amount-2": "1 tsp", "sugar": "½ tsp",
    }  # fmt: skip
    wrong = house.client.post("/flavours/new", data={**form, "amount-1": "a lot"})
    assert wrong.status_code == 422
    assert 'value="a lot"' in wrong.text
    assert 'value="2 pieces"' in wrong.text
    assert house.client.post("/flavours/new", data=form).status_code == 303
    litres = 0.5 * 0.96
    with house.database.reader() as session:
        parts = {p.ingredient: p.g_per_l for p in session.query(Flavour).one().parts}
    assert parts == pytest.approx({"rhubarb": 40 / litres, "ginger-root": 10.5 / litres, "honey": 7 / litres}, rel=0.01)
    live = house.client.get("/flavours/new", query_string=form, headers={"HX-Request": "true"}).text
    assert "% alcohol" in live
    assert "Rhubarb: 2 pieces" in live


@pytest.mark.parametrize("name", ["Coconut milk", "Garlic", "Rosemary in oil"])
def test_what_never_goes_in_is_refused_with_its_reason(house, name):
    """An own ingredient of fat or garlic is refused beside its name; what was typed stays."""
    page = house.client.post("/flavours/ingredients", data={"name": name, "form": "juice"})
    assert page.status_code == 422
    assert "not put in" in page.text
    assert f'value="{name}"' in page.text


def test_an_own_drink_is_reckoned_by_its_label(house):
    """A wine added from its label brings its alcohol into the plan, onto the label and the gift's card."""
    form = {"name": "Elder wine", "form": "drink", "sugar": "2", "acid_g_per_l": "6", "abv": "12", "allergens": "sulphites"}
    assert house.client.post("/flavours/ingredients", data=form).status_code == 303
    key = keep(house, "Wine cooler", parts=(PartTold("own-1", 150.0),))
    page = house.client.get(f"{house.here}?chosen=1&flavour={key}").text
    found = re.search(r"(\d*)(½?) to (\d*)(½?) % alcohol", page).groups()
    low, high = (int(found[at] or 0) + bool(found[at + 1]) / 2 for at in (0, 2))
    assert high > low > 1.4
    house.client.post(house.here, data=state_of(page))
    gift = house.client.get("/cellar/gift/1").text
    assert "elder wine" in gift
    assert "sulphites" in gift
    assert "Not for children" in gift


def test_a_bottle_goes_on_with_its_own_gas(house):
    """A burp leaves the others as they are; a bottle moved to the cold alone has its own course."""
    house.filled_here = house.do(
        filling.fill_bottles,
        filling.FillBottles(brew_id=house.brew, kind="swing-top", count=3, volume_ml=500, headspace_fraction=0.04, sugar_g_per_l=6),
    )
    house.clock.turn(3)
    house.do(cellar.hear_bottles, cellar.HearBottles(bottle_ids=(1,)))
    house.do(cellar.chill_bottles, cellar.MoveBottles(bottle_ids=(2,)))
    house.clock.turn(0.2)
    with house.database.reader() as session:
        now = [pressure.bottle_future(session.get(Bottle, n)).at(3.2)[1] for n in (1, 2, 3)]
    assert now[0] < now[2] - 0.15
    assert now[1] < now[2]


def test_a_burp_and_a_squeeze_are_one_tap_each(house):
    """A glass bottle's page asks for its hiss, a plastic one's how it feels; each answer is one button, and is told after."""
    ask = filling.FillBottles(brew_id=house.brew, kind="swing-top", count=1, volume_ml=500, headspace_fraction=0.04)
    house.do(filling.fill_bottles, ask)
    house.do(filling.fill_bottles, replace(ask, kind="pet"))
    for number, how, words, told in ((1, "burped", "A clear hiss", "a clear hiss"), (2, "squeezed", "Firm", "firm")):
        page = house.client.get(f"/cellar/bottles/{number}").text
        burp = page[page.index("/cellar/heard") :]
        assert burp.index(f'value="{how}"') < burp.index(f">{words}</button>") < burp.index("</form>")
        house.client.post("/cellar/heard", data={"bottle": number, "how": how, "hiss": "2"})
        assert f"{how.capitalize()} today: {told}." in " ".join(house.client.get(f"/cellar/bottles/{number}").text.split())


@pytest.mark.parametrize(("units", "width"), [("metric", 595), ("us", 612)])
def test_all_labels_of_a_filling_come_on_one_sheet(house, units, width):
    """A label for each bottle that stands, with its flavour's name, on the paper of the household; more than a sheet flow on."""
    told = household.ChangeSettings(name="Test", units=units, zone="Europe/Paris", theme="auto", tasters=("Ana", "Ben"))
    house.do(household.change_settings, told)
    keep(house)
    house.client.post(house.here, data=state_of(house.client.get(f"{house.here}?chosen=1&flavour=f1&flavour=plain").text))
    page = house.client.get(f"/brews/{house.brew}/filled").text
    sheet = unescape(re.search(r'href="(/cellar/labels/together.pdf[^"]+)"', page)[1])
    count = int(re.search(r"Print all (\d+) labels", page)[1])
    body = house.client.get(sheet).data
    assert body.count(b"(Damson)") + body.count(b"(Plain)") >= count > 2
    assert f"0 0 {width}".encode() in body
    many = house.client.get("/cellar/labels/together.pdf?" + "&".join(["filling=1"] * 20)).data
    assert many.count(b"/Type /Page\n") > 1
    assert house.client.get("/cellar/labels/together.pdf").status_code == 404
    assert house.client.get("/cellar/labels/together.pdf?filling=999").status_code == 404


def test_a_flat_bottle_goes_warm_for_a_day_and_comes_back_on_the_round(house):
    """Opened, flat, closed again: it stands warm, and a day later the round says to try it."""
    house.do(
        filling.fill_bottles,
        filling.FillBottles(brew_id=house.brew, kind="swing-top", count=2, volume_ml=500, headspace_fraction=0.04),
    )
    house.do(cellar.chill_bottles, cellar.MoveBottles(bottle_ids=(1, 2)))
    house.clock.turn(1)
    assert house.client.post("/cellar/again/1").status_code == 303
    with house.database.reader() as session:
        assert [session.get(Bottle, n).state for n in (1, 2)] == ["warm", "cold"]
    assert "was flat" not in house.client.get("/").text
    house.clock.turn(1.1)
    assert "the one that was flat" in house.client.get("/").text


def test_bottles_that_may_be_past_their_limit_are_not_carried(house):
    """Moving them is refused with what to do; a party does not get them."""
    house.do(
        filling.fill_bottles,
        filling.FillBottles(
            brew_id=house.brew, kind="reused", count=1, volume_ml=330, headspace_fraction=0.04, sugar_g_per_l=12, limit_bar=1.0
        ),
    )
    house.clock.turn(12)
    with house.database.reader() as session:
        shelf = session.query(Place).first().id
    page = house.client.post("/cellar/move", data={"bottle": "1", "what": str(shelf)})
    assert page.status_code == 422
    assert "not carried" in page.text


def test_the_park_follows_the_records(house):
    """Filled, emptied, washed, burst and retired: what is clean is what is left."""
    def clean():
        with house.database.reader() as session:
            kind = session.query(BottleType).filter_by(kind="swing-top").one()
            return park.counted_of(session, [kind])[kind.id]

    house.do(
        filling.fill_bottles,
        filling.FillBottles(brew_id=house.brew, kind="swing-top", count=4, volume_ml=500, headspace_fraction=0.04),
    )
    assert (clean().clean, clean().filled, clean().to_wash) == (5, 4, 0)
    house.clock.turn(1)
    house.do(cellar.open_bottle, cellar.OpenBottle(bottle_id=1, hiss=2))
    house.do(cellar.lose_bottle, cellar.LoseBottle(bottle_id=2, left_as="burst"))
    house.do(cellar.finish_bottles, cellar.FinishBottles(bottle_ids=(3,), left_as="given", to_whom="next door"))
    assert (clean().owned, clean().clean, clean().filled, clean().to_wash) == (7, 5, 1, 1)
    assert "1 to wash" in house.client.get("/cellar/park").text
    house.client.post("/cellar/park/1/washed", data={"left": "0"})
    house.client.post("/cellar/park/1/retired")
    assert (clean().owned, clean().clean, clean().to_wash) == (6, 5, 0)


def test_glasses_stay_blind_until_all_have_tasted(house):
    """No name stands on the page outside the pourer's list, nor in the ranking, until the glasses are named."""
    key = keep(house)
    for name, made_of, flavour in (("Damson", (part("damson", 60),), int(key[1:])), ("Plain", (), None)):
        group = filling.Group(
            filling=Filling(kind="swing-top", headspace_fraction=0.04, made_of=made_of),
            boxes=(filling.Box(1, 0.04),),
            name=name,
            flavour_id=flavour,
        )
        house.do(filling.fill_plan, filling.FillPlan(brew_id=house.brew, groups=(group,)))
    assert house.client.post("/cellar/compare", data={"filling": ["1"]}).status_code == 422
    assert house.client.post("/cellar/compare", data={"filling": ["1", "2"]}).status_code == 303
    house.client.post("/cellar/compare/1/score", data={"taster": "1", "glass": "1", "liked": "5"})
    assert "Glass A:" not in house.client.get("/cellar/compare/1").text
    assert "Nothing scored yet" in house.client.get("/cellar/ranking").text
    house.client.post("/cellar/compare/1/reveal")
    assert re.search("Glass [AB]: Damson", house.client.get("/cellar/compare/1").text)
    assert house.client.post("/cellar/compare/1/score", data={"taster": "1", "glass": "2", "liked": "5"}).status_code == 422
    assert "cannot tell" in house.client.get("/cellar/ranking").text or "Damson" in house.client.get("/cellar/ranking").text


def test_three_for_tonight_are_cold_and_differ(demo_client):
    """On the sample household three different flavours are named, each with a reason; mild ones only on request."""
    page = demo_client.get("/cellar/").text
    assert re.search(r"Tonight: <a [^>]*title=\"\w[^\"]+\">sea buckthorn</a>, <a [^>]*>rhubarb and cardamom</a>", page)
    assert demo_client.get("/cellar/?mild=1").status_code == 200
    for asked in ("only=ready", "only=chill", "only=give", "only=old", "only=gushed", "only=nothing"):
        assert demo_client.get(f"/cellar/?{asked}").status_code == 200


def test_a_jar_above_the_bound_is_not_closed_until_it_was_measured(house):
    """Much cucumber in a young brew: its jar goes on in the fridge only, and its plan asks for a pH."""
    ask = infusing.StartInfusion(brew_id=house.brew, litres=1.0, parts=(PartTold("carrot-juice", 450.0),), name="Carrot jar")
    house.do(infusing.start_infusion, ask)
    house.clock.turn(1)
    assert "too near pH 4.2" in house.client.get("/infusions/1").text
    page = house.client.get("/infusions/1/bottling?chosen=1&flavour=plain").text
    assert house.client.post("/infusions/1/bottling", data=state_of(page)).status_code == 422
    house.client.post("/infusions/1/taste", data={"ph": "3.9", "word": "carroty"})
    page = house.client.get("/infusions/1/bottling?chosen=1&flavour=plain").text
    assert house.client.post("/infusions/1/bottling", data=state_of(page)).status_code == 303


def test_bottles_out_of_a_jar_are_called_by_it_and_belong_to_its_flavour(house):
    """A flavour that takes its time in a jar: not bottled without it unsaid, set up in its form, and its own in the cellar."""
    ginger = PartTold("ginger-root", 30.0, "grated", "infusion")
    key = keep(house, "Warm ginger", parts=(PartTold("damson", 30.0), ginger), hours=24.0)
    assert "Without ginger root: that takes its time in a jar" in house.client.get(f"{house.here}?chosen=1&flavour={key}").text
    jar = house.client.get(f"/brews/{house.brew}/infuse?flavour={key[1:]}").text
    assert 'name="form-0" value="grated"' in jar
    ask = infusing.StartInfusion(brew_id=house.brew, litres=1.0, parts=(ginger,), name="Warm ginger", flavour_id=int(key[1:]))
    house.do(infusing.start_infusion, ask)
    house.clock.turn(1)
    page = house.client.get("/infusions/1/bottling").text
    assert "to compare" not in page
    assert "Without" not in page
    assert house.client.post("/infusions/1/bottling", data=state_of(page)).status_code == 303
    with house.database.reader() as session:
        group = session.query(Bottling).one()
        assert (group.note, group.flavour, group.flavour_id) == ("Warm ginger", "ginger-root", int(key[1:]))
    assert "Warm ginger" in house.client.get("/cellar/").text


@pytest.mark.parametrize(
    ("path", "data"),
    [
        ("/cellar/move", {"bottle": "1", "what": "the moon"}),
        ("/cellar/move", {"bottle": "x", "what": "given"}),
        ("/cellar/bottles/1/score", {"taster": "x"}),
        ("/cellar/bottles/1/score", {"taster": "1", "liked": "9"}),
        ("/cellar/lost/1", {"left_as": "vanished"}),
        ("/cellar/compare/1/score", {"taster": "1", "glass": "99", "liked": "3"}),
        ("/cellar/park", {"line": "\x00"}),
        ("/cellar/park/1", {"k1-owned": "-3"}),
        ("/flavours/larder", {"ingredient": "nothing", "where": "attic", "grams": "½ x"}),
        ("/flavours/new", {"name": "", "ingredient-0": "damson", "amount-0": "9999 kg"}),
        ("/flavours/1", {"name": "Quince and bay", "version": "99", "ingredient-0": "quince", "amount-0": "30 g"}),
        ("/brews/7/infuse", {"litres": "99", "hours": "900"}),
        ("/brews/7/bench", {"ingredient": "stone", "glass": "a bucket"}),
        ("/trials/1/step", {"grams": "x", "score": "7"}),
        ("/trials/1/end", {"name": ""}),
        ("/infusions/1/taste", {"more_hours": "900", "ph": "44"}),
        ("/infusions/1/strain", {"strained_l": "-4"}),
        ("/brews/7/bottling", {"flavour": "f99", "b": "9:x"}),
        ("/brews/7/bottling", dict.fromkeys(("flavour", "b", "wish", "pour", "burps", "place", "headspace_cm"), "")),
        ("/brews/7/bottling", {"pour": "upside down", "place": "x", "priming_g_per_l": "9999", "ph-plain": "0x1"}),
        ("/infusions/1/bottling", {"ph-plain": "x", "flavour": "plain"}),
    ],
)  # fmt: skip
def test_wrong_input_is_answered_in_a_sentence(demo_client, path, data):
    """Nothing sent makes a fault: it is refused, or said beside its field."""
    answer = demo_client.post(path, data=data)
    assert answer.status_code in {303, 400, 404, 409, 422}
    assert "Traceback" not in answer.text


@pytest.mark.parametrize("hours", [0.2, 3, 20])
@pytest.mark.parametrize("how", ["gushed", "burst"])
def test_a_gush_or_burst_on_the_first_day_locks_nobody_out(client, kitchen, hours, how):
    """However early a bottle gushes or bursts, round, cellar and its brothers' pages answer, and the brothers are warned of."""
    kitchen.filled(count=4, sugar_g_per_l=12)
    kitchen.clock.turn(hours / 24)
    assert client.post("/cellar/open/1", data={"hiss": "4"}).status_code == 303
    assert client.post("/cellar/move", data={"bottle": "2", "what": how}).status_code == 303
    for path in ("/", "/cellar/", "/cellar/bottles/3", "/almanac/", "/almanac/away"):
        assert client.get(path).status_code == 200, path


def test_an_infusion_asks_for_the_starter_first_and_takes_amounts_for_the_whole_jar(demo, demo_client):
    """Nothing can be started while the starter is in the brew; then 300 g go into three litres as 300 g, and 20 g/L as 20 g a litre."""
    page = demo_client.get("/brews/7/infuse").text
    assert "The starter first." in page
    assert re.search(r"<button class=\"btn btn-primary\" disabled>\s*Start the jar", page)
    assert page.index("The starter first.") < page.index("Name on the jar")
    demo_client.post("/brews/7/harvest/reserve", data={"none": "1"})
    assert "The starter first." not in demo_client.get("/brews/7/infuse").text
    sent = {"name": "Damson jar", "litres": "3", "hours": "24", "cover": "cloth"}
    sent |= {"ingredient-0": "damson", "amount-0": "300 g", "ingredient-1": "quince", "amount-1": "20 g/l"}
    address = demo_client.post("/brews/7/infuse", data=sent).headers["Location"]
    with demo.reader() as session:
        jar = session.get(Infusion, int(address.rsplit("/", 1)[1]))
        grams = {row.name: row.grams for row in jar.liquid.additions}
    assert grams["damson"] == pytest.approx(300, rel=0.03)
    assert grams["quince"] == pytest.approx(20 * 3.37, rel=0.03)


def test_a_flavour_can_be_written_down_for_a_whole_jar(demo, demo_client):
    """400 g for 4 L are 100 g in each litre; the usual bottle as it stands in the field is that bottle; nonsense is said."""
    sent = {"name": "Jar damson", "ingredient-0": "damson", "amount-0": "400 g", "for": "4 L"}
    assert demo_client.post("/flavours/new", data=sent).status_code == 303
    with demo.reader() as session:
        assert session.query(Flavour).filter_by(name="Jar damson").one().parts[0].g_per_l == pytest.approx(100)
    usual = re.search(r'name="for" value="([^"]+)"', demo_client.get("/flavours/new").text)[1]
    for name, basis in (("By field", usual), ("By itself", "")):
        demo_client.post("/flavours/new", data=sent | {"name": name, "amount-0": "30 g", "for": basis})
    with demo.reader() as session:
        one, other = (session.query(Flavour).filter_by(name=name).one().parts[0].g_per_l for name in ("By field", "By itself"))
        assert one == other
    wrong = demo_client.post("/flavours/new", data=sent | {"name": "No", "for": "9999 L"})
    assert wrong.status_code == 422
    assert "From a small bottle to 200 litres" in wrong.text


def test_the_hotel_asks_to_be_fed_with_the_amount_it_names(demo_client):
    """The amount that would bring it back to its line stands in the field, in the unit of the sentence."""
    page = demo_client.get("/cultures/hotels/5").text
    assert "660 mL" in page
    field = re.search(r'name="litres"[^>]*value="([^"]*)"|value="([^"]*)"[^>]*name="litres"', page)
    assert float(next(one for one in field.groups() if one)) == pytest.approx(0.66, abs=0.005)


def test_fruit_weighed_otherwise_is_foretold_and_recorded(demo_client, demo):
    """What was weighed into the largest bottle changes what is foretold, and that very amount is written; a wrong weight is said beside its field."""
    here = "/brews/7/bottling"
    chosen = {"chosen": "1", "flavour": "f1"}
    plain = demo_client.get(here, query_string=chosen).text
    more = demo_client.get(here, query_string={**chosen, "weighed-f1": "60"})
    assert re.search(r'name="weighed-f1"[^>]*value="60"', more.text)
    fizz = [re.search(r"<p>[^<]*<strong>(Into the fridge by [^<]*)", text)[1] for text in (plain, more.text)]
    assert fizz[0] != fizz[1]
    assert "From 0.1 g to 2000 g" in unescape(demo_client.get(here, query_string={**chosen, "weighed-f1": "9000"}).text)
    state = re.findall(r'<input type="hidden" name="([^"]+)" value="([^"]*)"', more.text[more.text.index('id="plan"') :])
    told = MultiDict([(name, value) for name, value in state if name not in {"csrf_token", "once"}])
    assert told["weighed-f1"] == "60"
    with demo.writer() as session:
        harvest.reserve_starter(session, harvest.ReserveStarter(brew_id=7, litres=0.5), DEMO_NOW)
    assert demo_client.post(here, data=told).status_code == 303
    with demo.reader() as session:
        row = session.scalars(select(Bottling).order_by(Bottling.id.desc())).first()
        largest = max(row.bottles, key=lambda bottle: bottle.volume_ml)
        litres = largest.volume_ml / 1000 * (1 - largest.headspace_fraction)
        assert row.flavour_g_per_l * litres == pytest.approx(60, rel=0.25)


def test_the_round_shows_the_most_pressing_bottles_and_counts_the_others(client, kitchen):
    """Twelve fillings stand warm: eight are drawn, the rest are a number that leads to the cellar, and all that must go is chilled."""
    brew = kitchen.filled(count=1)
    for name in ("damson", "plum", "quince", "apple", "pear", "cherry", "raspberry", "rhubarb", "strawberry", "blackberry", "peach"):
        ask = filling.FillBottles(brew_id=brew, kind="swing-top", count=1, volume_ml=100, headspace_fraction=0.04, flavour=name, flavour_g_per_l=20)
        kitchen.do(filling.fill_bottles, ask)
    page = client.get("/").text
    assert "And 4 more, further from their limit" in page
    assert page.count('class="lot"') == 8
