"""The application factory."""

from __future__ import annotations

from typing import Any

from flask import Flask, current_app, g, request
from flask_compress import Compress
from flask_wtf import CSRFProtect
from jinja2 import FileSystemBytecodeCache
from werkzeug.wrappers import Response as Answer

from ..clock import Clock, system_clock
from ..store.file.database import Database
from ..web.kit import acting, cautioned, errors, once, render, template_names, timing
from ..web.kit.addresses import STATIC, LateRule, address, asset
from ..web.kit.numbers import Whole
from ..web.kit.problems import asked_by_program
from . import devices, first_screen, security, seen_again, sign_in
from .keeper import Keeper
from .learner import Learner

PLACES = (
    ("round", "Round", "r"),
    ("brew_day", "Brew day", "b"),
    ("vessels", "Vessels", "v"),
    ("cultures", "Cultures", "c"),
    ("cellar", "Cellar", "e"),
    ("almanac", "Almanac", "a"),
    ("notebook", "Notebook", "n"),
    ("practice", "Practice", "p"),
)
FAR = frozenset({"cultures", "almanac", "notebook", "practice"})  #: On a phone these stand behind "More": a thumb reaches four.
COMPILED = "kyklos-3-%s.jinja"  #: A new number where templates of the same text are to be compiled anew.


def _for_every_page() -> dict[str, Any]:
    names: dict[str, Any] = {
        "asset": asset,
        "places_in_order": PLACES,
        "far_places": FAR,
        "household": g.get("household"),
        "shared": current_app.config.get("KYKLOS_SHARED", False),
    }
    if "session" in g and not g.get("stranger"):
        names |= {"running_timers": timing.timers_shown, "now_in_ms": timing.now_in_ms}
        names["keeper_says"] = current_app.extensions["kyklos"][0].lost or current_app.extensions["kyklos keeper"].says
    return names


def create_app(database: Database, clock: Clock = system_clock, secret: str = "", **config: Any) -> Flask:
    """Make the application.

    Args:
        database: The household's file, migrated.
        clock: The time.
        secret: Signs sessions and forms.
        config: Flask settings, for tests.
    """
    app = Flask("kyklos.web", static_folder=str(STATIC), template_folder="templates")
    app.config.update(
        SECRET_KEY=secret,
        SESSION_COOKIE_SAMESITE="Lax" if config.get("KYKLOS_SHARED") else "Strict",
        SESSION_COOKIE_HTTPONLY=True,
        WTF_CSRF_TIME_LIMIT=None,
        MAX_CONTENT_LENGTH=2_000_000,
        MAX_FORM_MEMORY_SIZE=500_000,
        **config,
    )
    app.url_rule_class = LateRule
    app.url_map.converters["int"] = Whole
    app.jinja_env.globals |= {"url_for": address, "form_keys": once.form_keys}
    if (folder := config.get("KYKLOS_TEMPLATES")) is not None:
        app.jinja_env.bytecode_cache = FileSystemBytecodeCache(str(folder), COMPILED)
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.extensions["kyklos"] = (database, clock)
    app.extensions["kyklos learner"] = Learner(database)
    app.extensions["kyklos keeper"] = Keeper(database, clock)
    security.room_for_files(app)
    CSRFProtect(app).exempt(devices.bp)
    Compress(app)
    security.protect(app)
    cautioned.remember(app)
    errors.install(app)
    render.install_filters(app)
    template_names.install(app)
    app.context_processor(_for_every_page)
    _sessions(app, clock)
    sign_in.guard(app)
    seen_again.remember(app)
    devices.install(app)
    _blueprints(app)
    return app


def _sessions(app: Flask, clock: Clock) -> None:
    @app.before_request
    def open_session() -> Answer | None:
        if request.endpoint == "static":
            return None
        if request.blueprint == "devices" or asked_by_program():
            g.now = clock()
            return None
        g.now = clock() - once.waited()
        acting.look_afresh()
        return once.answer_again() if once.was_written() else None

    @app.teardown_request
    def close_session(problem: BaseException | None) -> None:
        acting.look_away(problem is not None)


def _blueprints(app: Flask) -> None:
    from ..web.pages.almanac import bp as almanac
    from ..web.pages.begin.routes import bp as begin
    from ..web.pages.bin.routes import bp as bin_
    from ..web.pages.bottling import bp as bottling
    from ..web.pages.brew_day import bp as brew_day
    from ..web.pages.brews import bp as brews
    from ..web.pages.cellar import bp as cellar
    from ..web.pages.cultures import bp as cultures
    from ..web.pages.data import bp as data
    from ..web.pages.day_book.routes import bp as day_book
    from ..web.pages.flavours import bp as flavours
    from ..web.pages.instruments import bp as instruments
    from ..web.pages.notebook import bp as notebook
    from ..web.pages.notes import bp as notes
    from ..web.pages.practice import bp as practice
    from ..web.pages.quick.routes import bp as quick
    from ..web.pages.round.routes import bp as round_
    from ..web.pages.settings import bp as settings
    from ..web.pages.supply import bp as supply
    from ..web.pages.tapped import bp as tapped
    from ..web.pages.tasters import bp as tasters
    from ..web.pages.vessels.routes import bp as vessels

    for blueprint in (
        round_, brew_day, brews, cellar, cultures, vessels, settings, quick, instruments, bin_, tasters, almanac,
        day_book, begin, notes, tapped, bottling, flavours, supply, notebook, data, practice,
    ):  # fmt: skip
        app.register_blueprint(blueprint)
    app.register_blueprint(first_screen.bp)
