"""Showing: the whole page or the part that changes, messages with undo, filters."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from flask import Flask, Response, current_app, flash, g, get_flashed_messages, make_response, render_template, request
from jinja2 import pass_context
from jinja2.runtime import Context
from markupsafe import Markup

from ...actions.base import Done
from ...core.base.saying import spoken
from ...core.liquid import pouring
from . import units, words
from .reader import hour_word


def wants_part() -> bool:
    """Return whether htmx asked for a part of the page."""
    asked = request.headers
    return "HX-Request" in asked and not ("HX-Boosted" in asked or "HX-History-Restore-Request" in asked)


def page(full: str, part: str | None = None, status: int = 200, **context: Any) -> Response:
    """Render the whole page or, for an htmx request, only the part that changes, with any message beside it."""
    if part is not None and wants_part():
        body = render_template(part, **context)
        if get_flashed_messages():
            body += render_template("_toasts.html", oob=True)
    else:
        body = render_template(full, **context)
    response = make_response(spoken(body, lambda value, kind: units.words(value, kind, g.units)), status)
    response.vary.add("HX-Request")
    return response


def confirm(done: Done) -> None:
    """Leave a message that can undo what was done."""
    flash(f"{done.change_id}|{done.says}", "done")


def fixed(name: str) -> Markup:
    """Render a part that is the same on every page and for everybody; once for the life of the application."""
    kept: dict[str, Markup] = current_app.extensions["kyklos fixed"]
    if name not in kept:
        kept[name] = Markup(current_app.jinja_env.get_template(name).render())  # our own template
    return kept[name]


def install_filters(app: Flask) -> None:
    """Teach the templates to show quantities and times as the household likes them.

    They take the context, though they do not use it, so that a constant is not put into words when a template is compiled.
    """

    @pass_context
    def quantity(_: Context, value: float | None, kind: str) -> str:
        return "" if value is None else units.words(value, kind, g.units)

    @pass_context
    def when(_: Context, moment: datetime) -> str:
        return words.day_word(moment, g.now, g.household.zone)

    @pass_context
    def clock(_: Context, moment: datetime) -> str:
        return words.clock_word(moment, g.now, g.household.zone)

    @pass_context
    def hour(_: Context, moment: datetime) -> str:
        return hour_word(words.local(moment, g.household.zone))

    @pass_context
    def local_minute(_: Context, moment: datetime) -> str:
        return f"{words.local(moment, g.household.zone):%Y-%m-%dT%H:%M}"

    def field_number(value: float | None, digits: int = 2) -> str:
        return "" if value is None else f"{value:.{digits}f}"

    def percent(share: float) -> str:
        return f"{100 * share:.0f}"

    app.extensions["kyklos fixed"] = {}
    app.jinja_env.tests |= {"some": pouring.is_some, "a_glass": pouring.is_a_glass, "a_bottle": pouring.is_a_bottle}
    app.jinja_env.globals["fixed"] = fixed
    app.jinja_env.filters |= {
        "quantity": quantity,
        "when": when,
        "clock": clock,
        "hour": hour,
        "local_minute": local_minute,
        "moment": datetime.fromisoformat,
        "digits": field_number,
        "percent": percent,
    }
