"""Sent once: each form has a key from the moment its page is made, so that however often it arrives it is written once."""

from __future__ import annotations

import hashlib
import re
import secrets
from datetime import timedelta
from urllib.parse import urlsplit

from flask import Response, current_app, flash, g, redirect, request, url_for
from flask_wtf.csrf import generate_csrf
from markupsafe import Markup, escape
from werkzeug.wrappers import Response as Answer

from ...store.read import queries
from .addresses import within
from .numbers import whole

FIELD, CSRF = "once", "csrf_token"
WAITED = "X-Waited"  #: How long a form waited on its device before it was sent. [s]
LONGEST_S = 31 * 86_400  #: [s]
_KEY = re.compile(r"[0-9A-Za-z-]{8,64}")


def form_keys() -> Markup:
    """Write what every form carries: against strangers' pages, and the key under which it is written once."""
    if "form_key" not in g:  # a page has dozens of forms
        g.form_key, g.forms, g.form_word = secrets.token_hex(9), 0, escape(generate_csrf())
    g.forms += 1
    return Markup(
        f'<input type="hidden" name="csrf_token" value="{g.form_word}"><input type="hidden" name="once" value="{g.form_key}-{g.forms}">'
    )


def key_of_request() -> str:
    """Return the key of the form that was sent, with what was typed in it; empty: it has none.

    The same form with other words in it, corrected after it was refused, is another one.
    """
    if "once" not in g:
        key = request.form.get(FIELD, "") if request.method == "POST" else ""
        g.once = f"{key}:{_typed()}" if _KEY.fullmatch(key) else ""
    return str(g.once)


def _typed() -> str:
    digest = hashlib.sha256(request.path.encode("utf-8", "replace"))
    for name, value in request.form.items(multi=True):
        if name not in {FIELD, CSRF}:
            digest.update(f"\0{name}\0{value}".encode("utf-8", "replace"))
    for name, file in request.files.items(multi=True):
        digest.update(f"\0{name}\0{file.filename}\0{request.content_length}".encode("utf-8", "replace"))
    return digest.hexdigest()[:24]


def next_key() -> str | None:
    """Return the key under which the next action of this request is written; None: its form has none."""
    key = key_of_request()
    if not key:
        return None
    g.acts = g.get("acts", -1) + 1
    return f"{key}:{g.acts}"


def was_written() -> bool:
    """Return whether this form was written before: its answer was lost on the way, and it comes again.

    Raises:
        LostFileError: If the file is no longer the one at its path: then nothing is acknowledged, not even again.
    """
    key = key_of_request()
    if not key:
        return False
    current_app.extensions["kyklos"][0].require_there()
    return queries.was_sent(g.session, f"{key}:0")


def answer_again() -> Answer:
    """Answer a form that was written before: its page is shown anew, and nothing is written twice."""
    if "HX-Request" in request.headers:
        return Response(status=204, headers={"HX-Refresh": "true"})
    if WAITED in request.headers:
        return Response(status=204)
    flash("Saved already; it was kept once.", "say")
    parsed = urlsplit(request.headers.get("Referer", ""))
    back = f"{parsed.path}?{parsed.query}" if parsed.query else parsed.path
    return redirect(within(back, url_for("round.show")), 303)


def waited() -> timedelta:
    """Return how long ago a form was typed that waited on its device; the difference of two readings of its own clock."""
    return timedelta(seconds=whole(request.headers.get(WAITED), 0, LONGEST_S) or 0)
