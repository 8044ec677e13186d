"""What the house knows, asked without a page: of the sample household, on its day."""

from dataclasses import replace
from datetime import timedelta

import pytest

from kyklos.core.base.kinds import DueKind, KindOfBrew
from kyklos.core.bottles.advice import BottleStep
from kyklos.core.bottles.bottle import bottle_forecast
from kyklos.core.brewing.turn_round import threads_of
from kyklos.core.forecast.side_by_side import usual_recipe
from kyklos.demo.household import DEMO_NOW
from kyklos.reckon import away as absence
from kyklos.reckon import run_sheet
from kyklos.reckon.bottles import cellar, harvests
from kyklos.reckon.brewing import brew_days, brew_records
from kyklos.reckon.cultures import conversions, lineages
from kyklos.reckon.forecast import forecasting
from kyklos.reckon.judging import attention
from kyklos.store.read import culture_queries, queries
from kyklos.store.records import Brew, Culture, Disc, StarterLot, Vessel


@pytest.fixture
def session(demo):
    """A page's session of the sample household."""
    with demo.reader() as opened:
        opened.context.now = DEMO_NOW
        yield opened


def at(session, name):
    """A vessel by name."""
    return session.query(Vessel).filter_by(name=name).one()


def test_each_living_brew_is_told_what_it_needs(session):
    """The held jar comes first with starter, the late one is past its window; what is put off waits unless it is urgent."""
    known = {b.vessel.name: attention.attention_of(session, b, DEMO_NOW) for b in queries.living_brews(session)}
    assert known["Jar one"].due.kind == DueKind.HOLD
    assert known["Jar one"].due.urgent
    assert known["Tall jar"].due.kind in {DueKind.SALVAGE, DueKind.MEASURE, DueKind.HOLD, DueKind.TASTE}
    for one in known.values():
        assert one.acidity[0] <= one.acidity[1] <= one.acidity[2]
        assert [name for name, *_ in one.windows] == [n for n, w in one.forecast.ready.items() if w.p90 is not None]
        assert all(not due.urgent for due, _ in one.waiting)
    assert any(one.waiting for one in known.values())
    assert attention.put_off_now(session, DEMO_NOW) is attention.put_off_now(session, DEMO_NOW)


def test_bottles_alike_stand_together_the_pressing_first(session):
    """One filling, one kind, one state: one group; the reused bottle that may be past its limit comes first."""
    groups = cellar.alike_in(queries.bottles(session, "warm"), DEMO_NOW)
    assert [g.pressing for g in groups] == sorted((g.pressing for g in groups), reverse=True)
    assert groups[0].past
    assert groups[0].advice.step == BottleStep.PAST
    for group in groups:
        assert len({(b.bottling_id, b.kind, b.state) for b in group.bottles}) == 1
        assert group.place is not None
        assert (group.chill_at is None) == (group.future.chill_by_day is None)
        assert 0 <= group.abv_percent < 5
    cold = cellar.alike_in(queries.bottles(session, "cold"), DEMO_NOW)
    assert {g.place.name for g in cold} == {"Fridge"}
    assert {cellar.name_of(g.first) for g in cold} >= {"Rhubarb and cardamom"}


def test_a_brew_day_is_planned_with_what_there_is(session):
    """Free discs, sound lots, the last card, the largest pot: nothing that lies in a brew or is set apart, no hotel."""
    lines = culture_queries.cultures(session)
    busy, apart = culture_queries.in_use(session)[1], culture_queries.set_apart(session)
    free = brew_days.free_discs(session, lines)
    assert free
    assert all(d.id not in busy and ("disc", d.id) not in apart and d.ended_at is None for d in free)
    assert "The hotel" not in {v.name for v in brew_days.brewing_vessels(session)}
    bora, meltemi = (session.query(Culture).filter_by(name=n).one() for n in ("Bora", "Meltemi"))
    assert (brew_days.usual_kind(bora), brew_days.usual_kind(meltemi)) == (KindOfBrew.BATCH, KindOfBrew.JUN)
    lots = brew_days.sound_lots(session)
    own = brew_days.first_lots(lots, bora, "batch")
    assert 0 < len(own) <= brew_days.TICKED
    assert all(session.get(StarterLot, n).culture_id == bora.id and not session.get(StarterLot, n).doubt for n in own)
    assert brew_days.lots_told(session, [own[0], own[0]], DEMO_NOW) == [
        brew_days.lot_told(session.get(StarterLot, own[0]), DEMO_NOW)
    ]
    assert brew_days.largest_l(session, "pot") == 3.0
    assert brew_days.largest_l(session, "kettle") is None
    crock = at(session, "Stone jar")
    assert brew_days.first_heel_l(session, crock, "batch") == crock.heel_l
    assert brew_days.first_heel_l(session, crock, "first") is None
    assert brew_days.last_card(session, crock, bora, "batch").leaf_g_per_l == 5.0
    assert brew_days.usual_card(session, meltemi, "batch", DEMO_NOW).tea == "green"


def test_the_work_of_a_day_follows_from_the_plan(session):
    """Each vessel has its pots and amounts; one that is full has bottles to fill, a tapped one is drawn from and never emptied."""
    turn = run_sheet.turn_of(session, at(session, "Stone jar"), DEMO_NOW)
    assert turn.bottles > 4
    assert turn.reserve_l > 0.5
    assert turn.starter_l > 0
    assert all(pot.water_l > 0 and pot.leaf_g > 0 and pot.sugar_g > 0 for pot in turn.pots)
    empty = [v for v in brew_days.brewing_vessels(session) if queries.brew_in(session, v.id) is None]
    assert all(run_sheet.turn_of(session, v, DEMO_NOW).bottles == 0 for v in empty)
    crock = run_sheet.turn_of(session, at(session, "Stoneware crock"), DEMO_NOW)
    assert crock.draw_l > 1
    assert (crock.bottles, crock.reserve_l) == (0, 0.0)
    done = [work.name for thread in threads_of(crock, jugs=True) for work in thread.work]
    assert any("at the tap" in name for name in done)
    assert not any("disc out" in name or "Wash" in name for name in done)
    assert run_sheet.bench_of(session, 2).hands == 2


def test_what_cannot_be_turned_round_today_says_why(session):
    """On hold it is settled first; a full jar that is right is turned round, a free one filled, a tapped one drawn from."""
    found = {v.name: run_sheet.choice_of(session, v, DEMO_NOW) for v in brew_days.brewing_vessels(session)}
    assert (found["Jar one"].what, found["Jar one"].why_not) == ("", "is on hold")
    assert found["Stone jar"].what == run_sheet.TURN
    assert found["Demijohn"].what == run_sheet.FILL
    assert found["Stoneware crock"].what == run_sheet.DRAW
    young = [run_sheet.choice_of(session, v, DEMO_NOW - timedelta(days=2)) for v in brew_days.brewing_vessels(session) if v.name == "Jar two"]
    assert [(one.why_not, one.right_in > 1) for one in young] == [("is too young", True)]


def test_an_absence_is_judged_brew_by_brew(session):
    """What passes meanwhile comes first; nobody is told of a brew that nobody drinks."""
    rows = absence.absences(session, DEMO_NOW + timedelta(days=1), DEMO_NOW + timedelta(days=15), DEMO_NOW)
    order = [absence.ORDER[means.word] for _, means in rows]
    assert order == sorted(order)
    assert {brew.kind for brew, _ in rows} <= {"batch", "jun", "conversion", "first"}
    known = [attention.attention_of(session, b, DEMO_NOW) for b in queries.living_brews(session)]
    first = min(known, key=absence.catch_up_key)
    assert first.due.kind in {DueKind.DISCARD, DueKind.HOLD}


def test_a_conversion_goes_on_from_its_last_brew(session):
    """In the vessel of its last brew, not before that one is right; a line without brews takes the largest."""
    line = session.query(Culture).filter_by(name="Levanter").one()
    vessel, share = conversions.next_vessel(session, line)
    assert vessel.id == line.brews[-1].vessel_id
    assert 0.1 <= share <= 0.5
    row = conversions.running(line)
    brews, steps = conversions.brews_of(session, row), conversions.steps_of(session, row, DEMO_NOW)
    assert conversions.next_begins(brews, steps, DEMO_NOW) >= 0.5
    assert conversions.next_begins([], [], DEMO_NOW) == 0
    assert 3 <= conversions.brew_days_of(session, row.culture) <= 40
    assert conversions.brew_days_of(session, Culture(id=0)) == conversions.BREW_DAYS
    new = Culture(name="New", started_at=DEMO_NOW)
    assert conversions.next_vessel(session, new)[0].name == "Stone jar"


def test_lines_are_told_by_their_liquid_and_their_lineage(session):
    """What lives of a line is what stands and is kept; the ended one comes last and has nothing; the slowing one says why."""
    rows = {row.culture.name: row for row in lineages.summaries(session, DEMO_NOW)}
    assert list(rows)[-1] == "Ponente"
    assert rows["Ponente"].over
    assert rows["Ponente"].litres == 0
    bora = rows["Bora"]
    lots = [lot.left_l for lot in culture_queries.starter_lots(session) if lot.culture_id == bora.culture.id]
    assert bora.litres == pytest.approx(sum(b.left_l for b in bora.alive) + sum(lots))
    ponente = rows["Ponente"].culture
    assert lineages.vigour_of(session, ponente).word == "slowing"
    assert lineages.slowing_of(session, ponente, DEMO_NOW)
    assert lineages.slowing_of(session, bora.culture, DEMO_NOW) == []
    deep = lineages.generations(session)
    assert max(deep.values()) >= 3
    assert all(node in lineages.descent(session).in_order for node in deep)


def test_a_brews_records_in_order(session):
    """Newest first, discs from the top with the newest marked, and starter enough to make a difference."""
    for brew in queries.living_brews(session):
        days = [when for _, when, _ in brew_records.timeline(brew)]
        assert days == sorted(days, reverse=True)
        lying = brew_records.discs_in(brew)
        assert sum(newest for _, newest in lying) == (1 if lying else 0)
        assert brew_records.usual_tool(session, brew, DEMO_NOW) in dict(brew_records.instrument_choices(session))
        assert brew_records.extra_starter(brew) > 0.2 * brew.left_l * 0.25 * 0.07
    assert brew_records.discs_in(session.query(Brew).filter_by(status="harvested").first()) == []
    assert session.query(Disc).count() > culture_queries.harvested(session, session.query(Culture).first()) > 0


def test_a_harvest_is_offered_bottles_after_its_reserve(session):
    """As many of the usual as fit after the starter is set aside, fewer than without it; then as last time."""
    crock = queries.brew_in(session, at(session, "Stone jar").id)
    reasons = harvests.why_reserve(session, crock, DEMO_NOW)
    aside = harvests.reserve_l(reasons)
    assert 0.1 * crock.vessel.usable_l <= aside < 0.5 * crock.vessel.usable_l
    found = harvests.offered(session, crock, DEMO_NOW)
    assert found.count * found.volume_ml / 1000 * 0.9 <= crock.left_l - aside
    bottled = next(brew for brew in session.query(Brew) if brew.bottlings)
    assert harvests.offered(session, bottled, DEMO_NOW).kind == bottled.bottlings[-1].bottles[0].kind


def test_bottles_straight_into_the_fridge_are_asked_there(session):
    """Cold ones stand in the fridge and press less than beside their vessel; a maker's figure beats the kind's."""
    crock = queries.brew_in(session, at(session, "Stone jar").id)
    warm = harvests.Filling(kind="swing-top", headspace_fraction=0.04, sugar_g_per_l=5)
    asks = [harvests.ask_of(session, crock, replace(warm, cold=cold), DEMO_NOW) for cold in (False, True)]
    assert asks[0].course.at(1.0) > 15 > asks[1].course.at(1.0)
    pressing = [bottle_forecast(ask).at(14)[1] for ask in asks]
    assert pressing[1] < pressing[0]
    assert harvests.ask_of(session, crock, replace(warm, limit_bar=3.0), DEMO_NOW).limit_bar == 3.0


def test_tasters_share_a_brew_while_there_is_something_to_wait_for(session):
    """A brew that none drinks is not shared; other uses are told of a brew that grew too sour, with litres it has."""
    for brew in queries.living_brews(session):
        known = attention.attention_of(session, brew, DEMO_NOW)
        shared = attention.shared_by(session, known, forecasting.forecast_ask_of(session, brew))
        if brew.runs:
            assert shared is None
            continue  # it is drawn from as each likes it
        assert shared is None or sum(part.litres for part in shared.parts) <= brew.left_l
        assert attention.shared_by(session, replace(known, points=known.points[:1]), None) is None
        sour = known.acidity[1] > 1.2 * max(ta for _, ta in known.points)
        assert bool(attention.uses_of(known)) == (sour or known.due.kind == DueKind.SALVAGE)


def test_a_brew_day_begins_as_it_is_asked_to(session):
    """Its vessel's culture and last card unless told; a kind that is not known is the usual one; why is always said."""
    jar = at(session, "Jar one")
    first = brew_days.first_plan(session, DEMO_NOW, jar, None, None, "no such kind")
    assert first.culture is jar.brews[-1].culture
    assert first.kind == brew_days.usual_kind(first.culture)
    assert first.why
    meltemi = session.query(Culture).filter_by(name="Meltemi").one()
    told = brew_days.first_plan(session, DEMO_NOW, jar, meltemi, None, KindOfBrew.TRIAL)
    assert (told.culture, told.kind) == (meltemi, KindOfBrew.TRIAL)
    assert told.card.kind == KindOfBrew.TRIAL


def test_sources_are_compared_by_their_measured_brews(session):
    """Every line is there, the most measured first; a disc with its own brews is narrower than its line or as narrow."""
    found = lineages.sources(session)
    keys = lineages.most_brewed(found)
    assert {found[key].name for key in keys} == {c.name for c in culture_queries.cultures(session)}
    counts = [found[key].measured for key in keys]
    assert counts == sorted(counts, reverse=True)
    recipe = usual_recipe(honey=False)
    best, bare = (lineages.side_of(session, found[key], recipe) for key in (keys[0], keys[-1]))
    assert best.brews >= bare.brews
    assert best.prior.spread <= bare.prior.spread
    gifts = lineages.outside_of(
        session, {("disc", d.id) for d in session.query(Disc)} | {("lot", n.id) for n in session.query(StarterLot)}
    )
    assert [g.at for g in gifts] == sorted((g.at for g in gifts), reverse=True)
    assert lineages.outside_of(session, set()) == []
