"""Shared fixtures: a migrated file copied for each test, an application on a clock that can be turned."""

import re
import shutil
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from types import SimpleNamespace

import pytest
from hypothesis import settings
from werkzeug.test import TestResponse

from kyklos.actions import brewing, harvest, household, learning, pitching
from kyklos.core import batch as batch_module
from kyklos.core import forecast_fit
from kyklos.core.ferment import Recipe, surface_factor
from kyklos.core.forecast import ForecastAsk, forecast
from kyklos.demo.household import DEMO_NOW, fill
from kyklos.store.database import Database
from kyklos.web.app import create_app

settings.register_profile("kyklos", deadline=None)
settings.load_profile("kyklos")

_BLOCKS = (
    "p|div|section|article|ul|ol|li|dl|dt|dd|table|thead|tbody|tr|td|th|caption|h1|h2|h3|form|fieldset|legend|details|summary|nav|"
    "header|main|footer|aside|figure|figcaption|svg|g|path|rect|line|text|circle|ellipse|polygon|polyline|defs|option|input"
)
_AROUND = re.compile(rf" ?(</?(?:{_BLOCKS})\b[^>]*>) ?")


def as_read(page):
    """A page as it is read: how a template breaks its lines says nothing."""
    return _AROUND.sub(r"\1", re.sub(r"\s+", " ", page))


def _text(answer):
    body = answer.get_data(as_text=True)
    return as_read(body) if "html" in (answer.content_type or "") else body


TestResponse.text = property(_text)

START = datetime(2027, 3, 1, 9, 0, tzinfo=UTC)


@dataclass
class TurnableClock:
    """A clock that tests turn."""

    now: datetime = START

    def __call__(self):
        return self.now

    def turn(self, days):
        """Turn it on by some days."""
        self.now += timedelta(days=days)


def _made(path, filler=None):
    database = Database(path)
    database.migrate()
    if filler:
        filler(database)
    database.close()
    return path


@pytest.fixture(scope="session")
def empty_file(tmp_path_factory):
    """An empty, migrated file."""
    return _made(tmp_path_factory.mktemp("template") / "kyklos.db")


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory):
    """The sample household's file."""
    return _made(tmp_path_factory.mktemp("demo") / "kyklos.db", fill)


def _copy(source, target):
    shutil.copy(source, target)
    return Database(target)


@pytest.fixture
def database(empty_file, tmp_path):
    """An empty household."""
    made = _copy(empty_file, tmp_path / "kyklos.db")
    yield made
    made.close()


@pytest.fixture
def demo(demo_file, tmp_path):
    """A copy of the sample household."""
    made = _copy(demo_file, tmp_path / "demo.db")
    yield made
    made.close()


@pytest.fixture
def clock():
    """A clock that can be turned."""
    return TurnableClock()


@pytest.fixture
def client(database, clock):
    """A browserless client of an empty household."""
    return create_app(database, clock, "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()


@pytest.fixture
def demo_client(demo):
    """A browserless client of the sample household."""
    return create_app(demo, TurnableClock(DEMO_NOW), "test", TESTING=True, WTF_CSRF_ENABLED=False).test_client()


def doing(database, clock):
    """A way to run an action now, after which what ended is learned."""

    def run(action, ask):
        with database.writer() as session:
            done = action(session, ask, clock())
        learning.catch_up(database)
        return done

    return run


@pytest.fixture
def do(database, clock):
    """Run an action now."""
    return doing(database, clock)


@pytest.fixture
def kitchen(database, clock):
    """A small household: a jar, a culture with starter and disc, a taster, and a way to pitch."""
    return make_kitchen(database, clock)


def make_kitchen(database, clock):
    """Set up a small household: a jar, a culture with starter and disc, a taster, and a way to pitch."""
    do = doing(database, clock)
    do(
        household.change_settings,
        household.ChangeSettings(
            name="Test", units="metric", zone="Europe/Paris", theme="auto", tasters=("Ana", "Ben")
        ),
    )
    jar = do(
        household.add_vessel,
        household.AddVessel(
            name="Jar",
            kind="jar",
            nominal_l=4,
            usable_l=3.5,
            diameter_cm=15,
            material="glass",
            tapped=False,
            new_place="Shelf",
            new_place_c=24,
        ),
    )
    made = do(
        household.add_culture,
        household.AddCulture(name="Bora", diet="sugar", origin="received", starter_l=1.0, starter_ph=3.0),
    ).made

    def pitch(measured_ph=4.0, lot=made["lot"], **recipe):
        return do(
            pitching.pitch_brew,
            pitching.PitchBrew(
                vessel_id=jar.made["vessel"],
                culture_id=made["culture"],
                starter_lot_id=lot,
                disc_id=made["disc"],
                recipe=Recipe(**{"starter_ph": 3.0, **recipe}),
                starter_instrument="meter",
                final_l=3.5,
                plan={},
                measured_ph=measured_ph,
            ),
        ).made["brew"]

    def ready(days=8.0):
        brew = pitch()
        clock.turn(days)
        do(brewing.log_reading, brewing.LogReading(brew_id=brew, ph=3.3))
        return brew

    def filled(**more):
        brew = ready()
        do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
        do(
            harvest.fill_bottles,
            harvest.FillBottles(
                brew_id=brew, **{"kind": "swing-top", "count": 3, "volume_ml": 500, "headspace_fraction": 0.04, **more}
            ),
        )
        return brew

    return SimpleNamespace(
        vessel=jar.made["vessel"],
        place=1,
        **made,
        pitch=pitch,
        ready=ready,
        filled=filled,
        do=do,
        database=database,
        clock=clock,
    )


@pytest.fixture
def as_before(monkeypatch):
    """The models as they were in 0.4.0: no bound of the air, no factor of the leaf, no doubt of buffer and warmth, starter in the brew's own water."""
    before = lambda k, fill: replace(k, surface=surface_factor(fill.surface_per_volume_per_cm))  # noqa: E731
    monkeypatch.setattr(batch_module, "_fed_and_aired", before)
    monkeypatch.setattr(forecast_fit, "BUFFER_SD", 1e-4)
    acid_sd = lambda recipe: 0.2 if recipe.starter_ta_g_per_l is None else 0.08  # noqa: E731
    monkeypatch.setattr(forecast_fit, "_acid_sd", acid_sd)
    monkeypatch.setattr(ForecastAsk, "warmth_doubt_k", 1e-4)
    monkeypatch.setattr(Recipe, "starter_medium", Recipe.medium)
    monkeypatch.setattr(Recipe, "start_medium", Recipe.medium)
    forecast.cache_clear()
    yield
    forecast.cache_clear()
