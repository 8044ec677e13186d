"""Shared fixtures: a migrated file copied for each test, an application on a clock that can be turned."""

import fcntl
import math
import os
import re
import shutil
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import lru_cache, partial
from types import SimpleNamespace

import pytest
from flask import Flask
from hypothesis import settings
from jinja2 import BytecodeCache
from werkzeug import security
from werkzeug.routing import Rule
from werkzeug.test import TestResponse

from kyklos.actions import household, learning
from kyklos.actions.bottles import filling, harvest
from kyklos.actions.brewing import pitching, readings
from kyklos.core.forecast import answer, prior, rooms
from kyklos.core.forecast import fit as forecast_fit
from kyklos.core.forecast.ask import ForecastAsk, Prior
from kyklos.core.liquid import batch as batch_module
from kyklos.core.liquid import standing
from kyklos.core.liquid.ferment import Recipe, surface_factor
from kyklos.demo.household import DEMO_NOW
from kyklos.demo.sample import unpack
from kyklos.reckon.forecast import forecasting, warmth
from kyklos.serving import sign_in
from kyklos.serving.app import create_app
from kyklos.store.file import database as database_module
from kyklos.store.file.database import Database


class KeptTemplates(BytecodeCache):
    """Templates compiled once for all the applications of a run."""

    def __init__(self):
        self.kept = {}

    def load_bytecode(self, bucket):
        """Take what was compiled before, unless the template changed since."""
        if bucket.key in self.kept:
            bucket.bytecode_from_string(self.kept[bucket.key])

    def dump_bytecode(self, bucket):
        """Keep what was compiled."""
        self.kept[bucket.key] = bucket.bytecode_to_string()


Flask.jinja_options = {"bytecode_cache": KeptTemplates()}
_addresses, _compile_address = {}, Rule.compile
_OF_A_RULE = ("_parts", "_trace", "_converters", "arguments", "_build", "_build_unknown")


def _compiled_once(rule):
    """Compile how an address is read and written once for all the applications of a run: they have the same addresses."""
    key = (rule.rule, rule.endpoint, rule.subdomain, tuple(sorted((rule.defaults or {}).items())), rule.merge_slashes, rule.map.host_matching)
    if key not in _addresses:
        _compile_address(rule)
        _addresses[key] = {name: getattr(rule, name) for name in _OF_A_RULE}
    for name, value in _addresses[key].items():
        setattr(rule, name, value)


Rule.compile = _compiled_once
sign_in.generate_password_hash = security.generate_password_hash = partial(security.generate_password_hash, method="scrypt:1024:8:1")  # strong ones take long, as they should
rooms.room_for = lru_cache(maxsize=400)(rooms.room_for.__wrapped__)  # many tests ask the same of the same household
_make_engine = database_module.create_engine
_shared = _make_engine("sqlite://")
_shared.connect().close()  # so that its dialect knows which SQLite it speaks to


def _compiling_once(*given, **more):
    """Make an engine that shares what statements were compiled to with all others of a run: they speak to the same SQLite."""
    engine = _make_engine(*given, **more)
    engine.dialect = engine.pool._dialect = _shared.dialect
    engine._compiled_cache = _shared._compiled_cache
    return engine


database_module.create_engine = _compiling_once
WAITS_FOR_THE_DISK = database_module.SYNCHRONOUS
database_module.SYNCHRONOUS = "OFF"  # what tests write need not survive a power cut
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


def once_a_run(tmp_path_factory, name, filler=None):
    """Make a household's file once for all workers of a run: the first makes it, the others wait for it."""
    folder = tmp_path_factory.getbasetemp()
    if "PYTEST_XDIST_WORKER" in os.environ:
        folder = folder.parent
    path = folder / f"{name}.db"
    with (folder / f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not path.exists():
            _made(tmp_path_factory.mktemp(name) / "kyklos.db", filler).rename(path)
    return path


@pytest.fixture(scope="session")
def empty_file(tmp_path_factory):
    """An empty, migrated file."""
    return once_a_run(tmp_path_factory, "empty")


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory):
    """The sample household's file."""
    path = tmp_path_factory.mktemp("demo") / "kyklos.db"
    unpack(path)
    return path


def _copy(source, target):
    shutil.copy(source, target)
    return Database(target)


@pytest.fixture(scope="session")
def kitchen_file(tmp_path_factory):
    """The file of a small household."""
    return once_a_run(tmp_path_factory, "kitchen", lambda database: make_kitchen(database, TurnableClock()))


@pytest.fixture
def database(request, tmp_path):
    """An empty household; the small one where a test wants its kitchen."""
    source = request.getfixturevalue("kitchen_file" if "kitchen" in request.fixturenames else "empty_file")
    made = _copy(source, tmp_path / "kyklos.db")
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
    assert clock.now == START
    return kitchen_of(database, clock)


def make_kitchen(database, clock):
    """Set up a small household: a jar, a culture with starter and disc, a taster; gives its ways, as `kitchen_of` does."""
    do = doing(database, clock)
    do(
        household.change_settings,
        household.ChangeSettings(
            name="Test", units="metric", zone="Europe/Paris", theme="auto", tasters=("Ana", "Ben")
        ),
    )
    do(
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
    do(
        household.add_culture,
        household.AddCulture(name="Bora", diet="sugar", origin="received", starter_l=1.0, starter_ph=3.0),
    )
    return kitchen_of(database, clock)


def kitchen_of(database, clock):
    """The first jar, culture, starter and disc of a household, and ways to pitch, wait and fill."""
    do, here = doing(database, clock), dict.fromkeys(("vessel", "place", "culture", "lot", "disc"), 1)

    def pitch(measured_ph=4.0, lot=here["lot"], **recipe):
        return do(
            pitching.pitch_brew,
            pitching.PitchBrew(
                vessel_id=here["vessel"],
                culture_id=here["culture"],
                starter_lot_id=lot,
                disc_id=here["disc"],
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
        do(readings.log_reading, readings.LogReading(brew_id=brew, ph=3.3))
        return brew

    def filled(**more):
        brew = ready()
        do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
        do(
            filling.fill_bottles,
            filling.FillBottles(
                brew_id=brew, **{"kind": "swing-top", "count": 3, "volume_ml": 500, "headspace_fraction": 0.04, **more}
            ),
        )
        return brew

    return SimpleNamespace(
        **here,
        pitch=pitch,
        ready=ready,
        filled=filled,
        do=do,
        database=database,
        clock=clock,
    )


def each_by_itself(diet, past):
    """What a line's brews told of the next one in 0.4.0: each vigour by itself, none of the buffer."""
    usual = math.log(prior.TYPICAL_VIGOUR[diet])
    told = []
    for values in ([(p.yeast_vigour, p.yeast_sd) for p in past], [(p.bacteria_vigour, p.bacteria_sd) for p in past]):
        weights = [0.75**i / (sd**2 + 0.18**2) for i, (_, sd) in enumerate(values)]
        total = 0.35**-2 + sum(weights)
        told.append(((0.35**-2 * usual + sum(w * math.log(v) for w, (v, _) in zip(weights, values, strict=True))) / total, 1 / total))
    spread = min(math.sqrt(0.18**2 + max(variance for _, variance in told)), 0.35)
    return Prior(math.exp(told[0][0]), math.exp(told[1][0]), spread)


@pytest.fixture
def as_before(monkeypatch):
    """The models as they were in 0.4.0: no bound of the air, no factor of the leaf, no doubt of buffer and warmth, starter in the brew's own water."""
    monkeypatch.setattr(forecasting, "culture_prior", each_by_itself)
    monkeypatch.setattr(standing, "FAR_OFF_K", 1e6)
    monkeypatch.setattr(warmth, "offset_of", lambda *_: 0.0)
    before = lambda k, fill: replace(k, surface=surface_factor(fill.surface_per_volume_per_cm))  # noqa: E731
    monkeypatch.setattr(batch_module, "_fed_and_aired", before)
    monkeypatch.setattr(forecast_fit, "BUFFER_SD", 1e-4)
    acid_sd = lambda recipe: 0.2 if recipe.starter_ta_g_per_l is None else 0.08  # noqa: E731
    monkeypatch.setattr(forecast_fit, "_acid_sd", acid_sd)
    monkeypatch.setattr(ForecastAsk, "warmth_doubt_k", 1e-4)
    monkeypatch.setattr(Recipe, "starter_medium", Recipe.medium)
    monkeypatch.setattr(Recipe, "start_medium", Recipe.medium)
    answer.forget()
    yield
    answer.forget()
