"""A household of twenty years: no page asks more, or reads more rows, than it does for a household of one."""

import shutil

import pytest
from sqlalchemy import event

from kyklos.actions.brewing import readings
from kyklos.core.forecast import answer as forecast_module
from kyklos.demo.household import DEMO_NOW
from kyklos.reckon.forecast import forecasting, learning, palates
from kyklos.serving.app import create_app
from kyklos.store.file.database import Database
from kyklos.store.read import memory
from kyklos.store.records import Bottle, Brew, Lesson, Look, Reading, Tasting, Transfer
from kyklos.store.records.base import Base
from tests.bench_pages import IN_THE_NAVIGATION, MOST_STATEMENTS, NAVIGATION
from tests.conftest import once_a_run
from tests.years import NOW, fill_years

PLACES = (
    "/",
    "/brew-day/",
    "/vessels/",
    "/cultures/",
    "/cellar/",
    "/cellar/park",
    "/cellar/ranking",
    "/flavours/",
    "/almanac/",
    "/almanac/earlier?piece=4&lanes=30",
    "/tasters/",
    "/tasters/hindsight",
    "/day-book/",
    "/supply/",
    "/supply/list",
    "/supply/cupboard",
    "/supply/costs",
    "/notebook/",
    "/notebook/?q=jar+sour",
    "/notebook/looking-back?of=season",
    "/notebook/experiments/new",
    "/notebook/care",
    "/practice",
    "/practice/eye?card=3&seed=1",
    "BREW",
    "LINE",
)
BEADS = 1600
SLACK = 1.5  #: Of the sample household's, rows that twenty years may take. [-]
FEW = 250  #: And so many more, whatever the place: lists that are cut. [rows]


def _twenty_years(database):
    with database.writer() as session, session.begin():
        fill_years(session, beads=BEADS)


@pytest.fixture(scope="module")
def twenty(tmp_path_factory):
    """The file of twenty years."""
    path = tmp_path_factory.mktemp("years") / "k.db"
    shutil.copy(once_a_run(tmp_path_factory, "twenty", _twenty_years), path)
    database = Database(path)
    yield database
    database.close()


class Counted:
    """Counts what pages ask of a file and how many rows they get."""

    def __init__(self, database, now):
        self.client = create_app(database, lambda: now, "x", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
        self.questions, self.database = 0, database
        with database.reader() as session:
            brew = session.query(Brew).filter_by(status="fermenting").order_by(Brew.id.desc())
            tapped = next((one for one in brew if one.runs), None)
            brew = next(one for one in brew if not one.runs)
            self.here = {"BREW": f"/brews/{brew.id}", "TAPPED": f"/tapped/{tapped.id if tapped else 0}", "LINE": f"/cultures/{brew.culture_id}"}
        event.listen(database._reading, "after_cursor_execute", self.asked)

    def asked(self, _connection, _cursor, statement, *_):
        """A question was asked."""
        self.questions += statement != "BEGIN"

    def ask(self, path):
        """Ask for a page as after a write: nothing is remembered; gives the number of questions."""
        memory.forget()
        self.database.drop_kept()
        self.questions = 0
        assert self.client.get(self.here.get(path, path)).status_code == 200
        return self.questions


def test_it_is_made_of_what_real_households_write(twenty):
    """Brews, readings, tastings, looks, transfers, bottles and lessons, in the proportions that were seen."""
    with twenty.reader() as session:
        count = {kind: session.query(kind).count() for kind in (Brew, Reading, Tasting, Look, Transfer, Bottle, Lesson)}
    assert count[Brew] >= 1000
    assert count[Reading] >= 3.5 * count[Brew]
    assert 1.2 * count[Brew] <= count[Tasting] <= 1.7 * count[Brew]
    assert count[Bottle] >= 2 * count[Brew]
    assert count[Transfer] >= 5 * count[Brew]
    assert count[Lesson] >= 0.99 * count[Brew]


@pytest.mark.parametrize("path", PLACES)
def test_a_place_asks_no_more_at_twenty_years(path, twenty, demo):
    """As many questions as on the sample household, within a half: none for each old brew, bottle or line."""
    young, old = Counted(demo, DEMO_NOW).ask(path), Counted(twenty, NOW).ask(path)
    assert old <= SLACK * max(young, 20)


@pytest.mark.parametrize("path", PLACES)
def test_a_place_reads_few_rows_at_twenty_years(path, twenty, demo):
    """Rows that become records grow with what stands there now, not with the past."""
    young, old = rows_of(demo, DEMO_NOW, path), rows_of(twenty, NOW, path)
    assert old <= SLACK * young + FEW


@pytest.mark.parametrize("years", ["sample", "twenty"])
def test_after_a_write_a_place_asks_for_little_but_what_was_written(years, request):
    """In the navigation at most 12 questions after a reading, elsewhere 20; the old brews and bottles are not among them."""
    database, now = (request.getfixturevalue("demo"), DEMO_NOW) if years == "sample" else (request.getfixturevalue("twenty"), NOW)
    counted = Counted(database, now)
    living = int(counted.here["BREW"].rpartition("/")[2])
    client, found = counted.client, {}
    for path in (counted.here.get(path, path) for path in PLACES):
        client.get(path)
        client.get(path)
    for number, path in enumerate(counted.here.get(path, path) for path in PLACES):
        with database.writer() as session:
            readings.log_reading(session, readings.LogReading(brew_id=living, ph=3.4 + number / 100, sure=True), now)
        counted.questions = 0
        client.get(path)
        found[path] = counted.questions
    assert {path: asked for path, asked in found.items() if asked > (IN_THE_NAVIGATION if path in NAVIGATION else MOST_STATEMENTS)} == {}


def rows_of(database, now, path):
    """How many records a page loads."""
    loaded = [0]

    def count(*_):
        loaded[0] += 1

    counted = Counted(database, now)
    event.listen(Base, "load", count, propagate=True)
    try:
        counted.ask(path)
    finally:
        event.remove(Base, "load", count)
    return loaded[0]


def test_no_page_computes_an_old_brew_again(twenty, monkeypatch):
    """Every forecast that a round of all places asks for is of a brew that stands, or of a plan."""
    asked = []
    real = forecast_module.forecast.__wrapped__

    def watched(ask):
        asked.append(ask)
        return real(ask)

    for module in (forecasting, palates, learning):
        monkeypatch.setattr(module, "forecast", watched)
    counted = Counted(twenty, NOW)
    for path in PLACES:
        counted.ask(path)
    with twenty.reader() as session:
        standing = {(b.liquid_id, round(b.started_l, 3)) for b in session.query(Brew).filter_by(status="fermenting")}
    assert asked
    assert len({ask.batch.course for ask in asked}) <= len(standing) + 1


def test_a_write_waits_for_no_lesson(twenty):
    """A reading on a living brew marks no lesson; one taken back from an old brew marks its own, and a few after it."""
    with twenty.reader() as session:
        living = session.query(Brew).filter_by(status="fermenting").first().id
    with twenty.writer() as session:
        readings.log_reading(session, readings.LogReading(brew_id=living, ph=3.4), NOW)
    with twenty.reader() as session:
        assert session.query(Lesson).filter_by(stale=True).count() == 0
