"""What a spoiled brew touched is held at once, everywhere, until it is thrown out or cleared."""

import re

import pytest

from kyklos.actions import household
from kyklos.actions.base import RefusedError
from kyklos.actions.bottles import cellar as emptied
from kyklos.actions.bottles import filling, harvest
from kyklos.actions.brewing import correcting, happenings, readings
from kyklos.actions.cultures import giving, keeping, tracing
from kyklos.core.bottles.advice import BottleStep
from kyklos.core.judging.safety import may_bottle
from kyklos.reckon.bottles import cellar, drinking
from kyklos.reckon.brewing.brew_days import free_discs, sound_lots
from kyklos.reckon.cultures import links, quarantine, spoilage
from kyklos.reckon.judging import verdicts as judging
from kyklos.serving.app import create_app
from kyklos.store.read import culture_queries, queries
from kyklos.store.records import Brew, Culture


@pytest.fixture
def split(kitchen):
    """A brew of five days over two jars, starter kept from the first, and an old lot on the shelf."""
    kitchen.first = kitchen.pitch()
    jar = household.AddVessel(name="Jar two", kind="jar", nominal_l=4, usable_l=3.5, diameter_cm=15, material="glass", tapped=False, place_id=1)  # fmt: skip
    vessel = kitchen.do(household.add_vessel, jar).made["vessel"]
    kitchen.clock.turn(4)
    kitchen.second = kitchen.do(happenings.split, happenings.Split(brew_id=kitchen.first, vessel_id=vessel, litres=1.5)).made["brew"]
    kitchen.clock.turn(1)
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=kitchen.first, ph=3.4))
    kitchen.do(readings.log_reading, readings.LogReading(brew_id=kitchen.second, ph=3.4))
    kitchen.own = kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=kitchen.first, litres=0.3)).made["lot"]
    kitchen.clock.turn(1)
    return kitchen


def mould_in(kitchen, brew):
    """See mould."""
    return kitchen.do(readings.log_look, readings.LogLook(brew_id=brew, surface="fuzzy")).made


def held(kitchen):
    """What is held and what is watched now."""
    with kitchen.database.reader() as session:
        session.context.now = kitchen.clock.now
        told = spoilage.held(session, kitchen.clock.now)
        return {node for node, one in told.items() if one.strong}, {node for node, one in told.items() if not one.strong}


@pytest.mark.parametrize("spoilt", ["first", "second"])
def test_the_other_jar_of_a_split_brew_is_held_at_once(split, spoilt):
    """Mould in either jar: from that moment the other is on hold, may not be bottled, and is poured nowhere."""
    mould_in(split, getattr(split, spoilt))
    other = split.second if spoilt == "first" else split.first
    assert ("brew", other) in held(split)[0]
    with split.database.reader() as session:
        session.context.now = split.clock.now
        facts = judging.facts_of(session.get(Brew, other), split.clock.now)
        verdict = judging.verdict_of(session.get(Brew, other), split.clock.now, facts)
    assert verdict.word == "hold"
    assert not may_bottle(facts, verdict)
    for run, ask in (
        (harvest.reserve_starter, harvest.ReserveStarter(brew_id=other, litres=0.2)),
        (filling.fill_bottles, filling.FillBottles(brew_id=other, kind="swing-top", count=1, volume_ml=500, headspace_fraction=0.04)),
        (happenings.take_out, happenings.TakeOut(brew_id=other, leaves="given", litres=0.2, reason="to a friend")),
    ):
        with pytest.raises(RefusedError):
            split.do(run, ask)


def test_starter_poured_from_it_is_held_and_old_starter_is_no_spare(split):
    """The lot kept from it is not offered, not given, not merged, and counts as no backup; nor does the disc that lay in it."""
    mould_in(split, split.first)
    assert {("lot", split.own), ("disc", split.disc)} <= held(split)[0]
    with split.database.reader() as session:
        session.context.now = split.clock.now
        assert split.own not in [lot.id for lot in sound_lots(session)]
        assert split.disc not in [disc.id for disc in free_discs(session, culture_queries.cultures(session))]
        living = quarantine.backups_of(session, session.get(Culture, split.culture), split.clock.now).living
    assert not {("lot", split.own), ("disc", split.disc)} & set(living)
    for run, ask in (
        (giving.give_away, giving.GiveAway(culture_id=split.culture, lot_id=split.own, litres=0.1)),
        (keeping.merge_starters, keeping.MergeStarters(lot_ids=(split.lot, split.own))),
    ):
        with pytest.raises(RefusedError, match="held"):
            split.do(run, ask)


def test_a_clean_look_in_between_frees_what_left_before_it(split):
    """Starter kept, then a clean look, then mould: what left before the clean look is not held; the jar's sibling still is."""
    split.do(readings.log_look, readings.LogLook(brew_id=split.first, surface="skin"))
    split.clock.turn(2)
    mould_in(split, split.first)
    assert ("lot", split.own) not in held(split)[0]
    assert ("brew", split.second) in held(split)[0]


def test_it_stays_held_when_the_spoiled_one_is_thrown_out_and_ends_when_cleared(split):
    """Thrown out without a word, for the verdict says why; the sibling stays held until it is cleared, and only it is freed."""
    mould_in(split, split.first)
    split.do(readings.discard_brew, readings.DiscardBrew(brew_id=split.first, reason=""))
    assert {("brew", split.second), ("lot", split.own)} <= held(split)[0]
    split.clock.turn(1)
    split.do(tracing.clear, tracing.Clear(node=("brew", split.second)))
    assert ("brew", split.second) not in held(split)[0]
    assert ("lot", split.own) in held(split)[0]
    split.clock.turn(spoilage.HELD_DAYS)
    assert held(split) == (set(), set())


def test_a_mistaken_look_holds_nothing(split):
    """Struck out with a word, all counts again."""
    look = mould_in(split, split.first)["look"]
    assert held(split)[0]
    split.do(correcting.strike, correcting.Strike(kind="look", number=look, why="It was flour from baking, wiped off and gone"))
    assert held(split) == (set(), set())


def test_one_yes_carries_out_what_the_trace_says_and_can_be_undone(split):
    """The page names what is thrown out, and the same is recorded; the round names it before, and no more after."""
    client = create_app(split.database, split.clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    mould_in(split, split.first)
    assert "Something grave was seen in Jar." in client.get("/").text
    assert "Jar two" in client.get("/").text.split("Held:")[1][:200]
    page = client.get(f"/cultures/trace/brew/{split.first}").text
    form = page.split("Do it all")[0].rsplit("<form", 1)[1]
    lost = [part.split('"')[0] for part in form.split('name="discard" value="')[1:]]
    apart = [part.split('"')[0] for part in form.split('name="apart" value="')[1:]]
    assert {f"brew-{split.first}", f"brew-{split.second}"} <= set(lost)
    assert f"lot-{split.own}" in lost
    answer = client.post(f"/cultures/trace/brew/{split.first}/carry-out", data={"discard": lost, "apart": apart})
    assert answer.status_code == 303
    with split.database.reader() as session:
        for text in lost:
            kind, _, number = text.partition("-")
            assert not links.living(session, (kind, int(number))), text
        assert {f"{kind}-{number}" for kind, number in culture_queries.set_apart(session)} >= set(apart)
    numbers = sorted({int(part.split('"')[0]) for part in client.get("/").text.split('action="/undo/')[1:]}, reverse=True)
    assert len(numbers) > 1, "each thing by itself"
    for number in numbers:
        assert client.post(f"/undo/{number}").status_code == 303
    assert ("brew", split.second) in held(split)[0]


def test_a_jar_that_takes_flavour_from_a_spoiled_brew_is_not_bottled(kitchen):
    """Infused before mould was seen, strained after: it is refused, though nobody set it apart."""
    from kyklos.actions.bottles import infusing

    brew = kitchen.ready()
    kitchen.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
    parts = (infusing.PartTold(ingredient="damson", form="pieces", g_per_l=60.0),)
    made = kitchen.do(infusing.start_infusion, infusing.StartInfusion(brew_id=brew, litres=0.5, parts=parts, name="Damson")).made
    kitchen.clock.turn(1)
    mould_in(kitchen, brew)
    kitchen.do(readings.discard_brew, readings.DiscardBrew(brew_id=brew, reason=""))
    ask = filling.FillPlan(infusion_id=made["infusion"], brew_id=brew, groups=())
    with pytest.raises(RefusedError, match="grave"):
        kitchen.do(filling.fill_plan, ask)


def test_bottles_filled_before_the_mould_was_seen_are_held_too(split):
    """Those out of the spoiled brew and its other half: not drunk or given, said by rack, round, calendar; older ones are free."""
    split.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=split.second, litres=0.2))
    both = [
        split.do(filling.fill_bottles, filling.FillBottles(brew_id=brew, kind="swing-top", count=1, volume_ml=500, headspace_fraction=0.05))
        for brew in (split.first, split.second)
    ]  # fmt: skip
    split.clock.turn(1)
    with split.database.reader() as session:
        assert not spoilage.bottles_held(session, split.clock.now)
    mould_in(split, split.first)
    with split.database.reader() as session:
        session.context.now = split.clock.now
        assert len(spoilage.bottles_held(session, split.clock.now)) == len(both)
        groups = cellar.alike_in(queries.bottles(session, "warm"), split.clock.now)
        assert all(group.advice.step is BottleStep.SPOILED and group.pressing for group in groups)
        assert not drinking.wants(session, queries.bottles(session, "warm"), split.clock.now)
    with pytest.raises(RefusedError, match="not given away"):
        split.do(emptied.finish_bottles, emptied.FinishBottles(bottle_ids=(1,), left_as="given"))
    client = create_app(split.database, split.clock, "x", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    for path in ("/", "/cellar/", "/notices", "/cellar/some?of=1"):
        assert re.search("do not drink (it|or give it)", client.get(path).text, re.I), path
    split.do(emptied.finish_bottles, emptied.FinishBottles(bottle_ids=(1, 2), left_as="poured"))


def test_a_bottle_past_its_limit_is_not_taken_along(split):
    """Refused in words, for a party and as a gift; poured away or drunk it may be written down."""
    ask = filling.FillBottles(brew_id=split.first, kind="reused", count=2, volume_ml=330, headspace_fraction=0.04, sugar_g_per_l=12, limit_bar=1.0)  # fmt: skip
    split.do(filling.fill_bottles, ask)
    split.clock.turn(12)
    for way in ("party", "given"):
        with pytest.raises(RefusedError, match="past its limit"):
            split.do(emptied.finish_bottles, emptied.FinishBottles(bottle_ids=(1,), left_as=way))
    with split.database.reader() as session:
        session.context.now = split.clock.now
        wants = drinking.wants(session, queries.bottles(session, "warm"), split.clock.now)
        assert not [one for one in wants if one.bottle]
    split.do(emptied.finish_bottles, emptied.FinishBottles(bottle_ids=(1,), left_as="drunk"))
