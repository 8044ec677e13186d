"""Files of 0.4.0 open, and what is said of amounts, ancestors, traces, forecasts and verdicts is as it was.

Two files were written by 0.4.0, the sample household and one of many years, and beside each what 0.4.0 said of it. What is
wrong in what was said then is left out here, with the reason beside it.
"""

import gzip
import json
import sqlite3
from collections import Counter
from contextlib import closing
from datetime import datetime
from functools import cache
from pathlib import Path

import pytest

from kyklos.actions.learning import catch_up
from kyklos.core.cultures import trace
from kyklos.core.cultures.lineage import descent, generations
from kyklos.core.judging.observations import CARRY_ON
from kyklos.reckon.cultures import hotels, links, quarantine
from kyklos.reckon.forecast import forecasting, learning, palates, warmth
from kyklos.reckon.forecast.warmth import course_of
from kyklos.reckon.judging import verdicts as judging
from kyklos.store.file.database import Database
from kyklos.store.records import Bottle, Brew, Culture, Disc, KeptLiquid, Reading, StarterLot, Tasting, Transfer

DATA = Path(__file__).parent / "data"
SINCE = {"late", "unseen", "bare", "lifeless", "slow", "still-sweet"}  #: Rules that 0.4.0 did not have.
DAYS = (0, 2, 5, 8, 12, 20)
FILES = ("demo", "years")


@cache
def said(name):
    """What 0.4.0 said of its file."""
    return json.loads(gzip.decompress((DATA / f"{name}-0.4.0.json.gz").read_bytes()))


@pytest.fixture(autouse=True)
def as_told(monkeypatch):
    """Places are as warm as they are told: what they taught later brews is asked elsewhere."""
    monkeypatch.setattr(warmth, "offset_of", lambda *_: 0.0)


@pytest.fixture(scope="module", params=FILES)
def opened(request, tmp_path_factory):
    """A file of 0.4.0, opened today: its name, session and moment."""
    path = tmp_path_factory.mktemp(request.param) / "kyklos.db"
    path.write_bytes(gzip.decompress((DATA / f"{request.param}-0.4.0.db.gz").read_bytes()))
    database = Database(path)
    database.migrate()
    with closing(sqlite3.connect(path)) as file, file:
        file.execute("UPDATE reading SET degassed = 1")  # 0.4.0 took each titration to be
    with database.reader() as session:
        session.context.now = datetime.fromisoformat(said(request.param)["now"])
        yield request.param, session, session.context.now
    database.close()


def test_every_volume_is_as_it_was(opened):
    """What was started, made, left, lost and bottled is the same to the drop, and nothing is below nothing."""
    name, session, _ = opened
    before = said(name)
    for brew in session.query(Brew):
        told = before["brews"][str(brew.id)]
        assert brew.liquid.made_l - found(brew) == pytest.approx(told["final_l"], abs=1e-4)
        assert brew.starter_fraction == pytest.approx(told["starter_fraction"], abs=1e-4)
        if brew.alive:
            fed = brew.liquid.went_l("fed")  # 0.4.0 forgot what went to the hotel
            assert brew.left_l == pytest.approx(max(0.0, told["left_l"] - fed), abs=1e-4)
        else:
            assert brew.liquid.litres == pytest.approx(0, abs=1e-6)
    for lot in session.query(StarterLot):
        told = before["lots"][str(lot.id)]
        assert lot.left_l == pytest.approx(told["left_l"], abs=1e-4)
        assert lot.liquid.made_l == pytest.approx(told["volume_l"], abs=1e-4)
        assert lot.liquid.went_l("lost", "given") == pytest.approx(told["lost_l"], abs=1e-4)
        assert (lot.ph, lot.estimated_ph) == (told["ph"], told["estimated_ph"])
    for bottle in session.query(Bottle):
        assert bottle.state == before["bottles"][str(bottle.id)]["state"]
    for liquid in session.query(KeptLiquid):
        stands = 0.0
        flows = [(a.at, 0, a.litres) for a in liquid.additions] + [(t.at, 0, t.litres) for t in liquid.inflows]
        for _, _, litres in sorted([*flows, *((t.at, 1, -t.litres) for t in liquid.outflows)]):
            stands += litres
            assert stands > -1e-6


def found(brew):
    """More than was reckoned, of a brew whose bottles took more than stood there by the record. [L]"""
    return sum(t.litres for t in brew.liquid.inflows if t.how == "found")


def test_all_that_passed_is_somewhere(opened):
    """Everything poured in is in vessels, starters, hotels and bottles, or drunk, given, lost, left over or evaporated."""
    _, session, _ = opened
    put_in = sum(a.litres for liquid in session.query(KeptLiquid) for a in liquid.additions)
    came = sum(t.litres for t in session.query(Transfer).filter(Transfer.source_id.is_(None)))
    went = sum(t.litres for t in session.query(Transfer).filter(Transfer.target_id.is_(None)))
    assert put_in + came == pytest.approx(went + sum(liquid.litres for liquid in session.query(KeptLiquid)), abs=1e-6)


def test_hotels_stand_as_they_stood(opened):
    """Level, pH, feeds and guests of each hotel are the same."""
    name, session, now = opened
    for home in hotels.hotels_of(session, now):
        told = said(name)["hotels"][str(home.vessel.id)]
        assert (home.ph, len(home.feeds), len(home.stays)) == (told["ph"], told["feeds"], told["guests"])
        if name == "demo":  # the other one's feeds were never counted, which no page of 0.4.0 could do
            assert home.state.level_now_l == pytest.approx(told["level_l"], abs=1e-3)


def test_ancestors_and_traces_are_the_same(opened):
    """Generations, what each brew could have reached, what could have brought it, and the backups are as 0.4.0 told them."""
    name, session, now = opened
    before = said(name)
    deep = generations(descent(links.descent_of(session)))
    assert {f"{kind}-{number}": depth for (kind, number), depth in deep.items()} == before["generations"]
    every = links.links_of(session, now)
    for number in before["exposed"]:
        brew = session.get(Brew, int(number))
        node = ("brew", brew.id)
        reached = trace.exposed(every, node, links.day_of(brew.pitched_at))
        assert named(reached) == before["exposed"][number]
        assert named(trace.suspects(every, node, links.day_of(brew.ended_at or now))) == before["suspects"][number]
    recent = {f"{kind}-{number}" for kind, number in links.touched(session, now)}
    assert recent == set(before["touched"]) if name == "demo" else recent < set(before["touched"])  # of the last year
    for culture in session.query(Culture):
        kept = {f"{kind}-{number}" for kind, number in quarantine.backups_of(session, culture, now).living}
        told = set(before["backups"][str(culture.id)])
        assert kept == told if name == "demo" else kept >= told  # what spoiled years before counts no more


def named(reached):
    """Things on a trace with the strength of their evidence."""
    return sorted(f"{r.node[0]}-{r.node[1]} {r.strength:.4f}" for r in reached)


def test_verdicts_are_the_same(opened):
    """Word and reasons of each brew, as it stands or stood at its end, are as before, but for rules that came since.

    Those only make it graver: a gate that nobody measured, a sour start that nobody looked at, a bare surface on day 10.
    """
    name, session, now = opened
    for brew in session.query(Brew):
        told = said(name)["brews"][str(brew.id)]
        verdict = judging.verdict_of(brew, brew.ended_at or now)
        known = [r for r in verdict.reasons if r.key not in SINCE]
        assert (known[0].verdict if known else CARRY_ON) == told["verdict"], brew.id
        before = [text for text in told["reasons"] if "too near 4.5" not in text]  # said in other words since
        assert sorted(r.sentence for r in known if r.key != "start-unsettled") == before, brew.id


@pytest.mark.usefixtures("as_before")
@pytest.mark.parametrize("opened", [FILES[0], pytest.param(FILES[1], marks=pytest.mark.long)], indirect=True)
def test_forecasts_are_the_same(opened, monkeypatch):
    """Until it ended, a brew's foretold pH, acidity and vigour are as before, but for what is newly held unsure and its season.

    All that live and, of the many years, every sixth that ended. What each taught is learned first.
    """
    name, session, now = opened
    monkeypatch.setattr(learning, "tested", lambda ask: [])  # how earlier forecasts stood the test is not asked here
    catch_up(Database(Path(session.get_bind().url.database)))
    session.rollback()
    for brew in session.query(Brew):
        if name == "years" and not brew.alive and brew.id % 6:
            continue
        told = said(name)["brews"][str(brew.id)]
        out = forecasting.forecast_of(session, brew)
        ends = brew.ended_at or now
        first = min((t.at for t in brew.liquid.outflows), default=ends)  # before, what was drawn changed nothing
        lasted = (min(ends, first) - brew.pitched_at).total_seconds() / 86400
        shown = [i for i, day in enumerate(DAYS) if day < lasted]
        assert [out.at(out.ph, DAYS[i])[1] for i in shown] == pytest.approx([told["ph"][i] for i in shown], abs=0.02)
        acid = [out.at(out.ta_g_per_l, DAYS[i])[1] for i in shown]
        assert acid == pytest.approx([told["ta"][i] for i in shown], rel=0.03, abs=0.02)
        vigour = [out.posterior.yeast_vigour, out.posterior.bacteria_vigour]
        assert vigour == pytest.approx(told["vigour"], rel=0.03)
        if brew.alive and not brew.liquid.outflows:
            for taster, window in out.ready.items():
                for one, other in zip((window.p10, window.p50, window.p90), told["ready"][taster], strict=True):
                    assert (one is None) == (other is None)
                    assert one is None or one == pytest.approx(other, abs=0.15)
    for key, point in said(name)["palates"].items():
        taster, _, jun = key.rpartition(" ")
        assert palates.palate_of(session, taster, jun == "True").ta_g_per_l == pytest.approx(point, rel=0.02)


def test_what_was_measured_and_tasted_is_kept(opened):
    """Each reading and tasting is of the brew that it was of: as many as before, each within its brew's life."""
    name, session, _ = opened
    assert len(said(name)["brews"]) == session.query(Brew).count()
    for kind in (Reading, Tasting):
        rows = session.query(kind).all()
        assert all(row.brew.liquid_id == row.liquid_id for row in rows)
        assert all(row.at >= row.brew.pitched_at for row in rows)
    told = Counter(row.brew.id for row in session.query(Reading))
    assert all(len(session.get(Brew, number).readings) == count for number, count in told.items())
    assert session.query(Disc).count() > 0
    assert all(course_of(brew).at(course_of(brew).at([0.0]) * 0)[0] > 10 for brew in session.query(Brew).limit(5))
