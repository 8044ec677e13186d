"""Signing in, where the household answers other devices: one password, a month, and patience with those who guess."""

from __future__ import annotations

import hashlib
import hmac
import threading
from datetime import datetime, timedelta
from pathlib import Path

from flask import Blueprint, Flask, Response, abort, current_app, g, redirect, request, session, url_for
from werkzeug.security import check_password_hash, generate_password_hash
from werkzeug.wrappers import Response as Answer

from .render import page
from .security import within

MONTH = timedelta(days=31)
FREE_TRIES = 5  #: Before the first wait.
LONGEST_WAIT = timedelta(minutes=15)
LEAST_LETTERS = 8
OPEN = {"static", "sign_in.ask", "sign_in.enter", "almanac.feed"}

bp = Blueprint("sign_in", __name__)


def write_password(folder: Path, password: str) -> None:
    """Keep a password's hash in the household's folder, readable by its owner only."""
    path = folder / "password"
    path.touch(mode=0o600)
    path.chmod(0o600)
    path.write_text(generate_password_hash(password))


def password_in(folder: Path) -> str:
    """Read the hash of the household's password; empty if none was set."""
    path = folder / "password"
    return path.read_text().strip() if path.exists() else ""


class Patience:
    """Counts wrong passwords by address; after a few, each waits twice as long as the one before."""

    def __init__(self) -> None:
        """Start with nobody."""
        self._wrong: dict[str, tuple[int, datetime]] = {}
        self._lock = threading.Lock()

    def wait(self, who: str, now: datetime) -> timedelta:
        """Return how long this address still waits."""
        with self._lock:
            times, last = self._wrong.get(who, (0, now))
        if times < FREE_TRIES:
            return timedelta(0)
        pause = min(LONGEST_WAIT, timedelta(seconds=30) * 2 ** min(times - FREE_TRIES, 12))
        left: timedelta = last + pause - now
        return max(timedelta(0), left)

    def wrong(self, who: str, now: datetime) -> None:
        """Note a wrong password."""
        with self._lock:
            times, last = self._wrong.get(who, (0, now))
            self._wrong[who] = (1 if now - last > timedelta(days=1) else times + 1, now)

    def right(self, who: str) -> None:
        """Forget what was wrong before."""
        with self._lock:
            self._wrong.pop(who, None)


def _mark(password_hash: str) -> str:
    """Return what a signed-in session carries: it no longer fits once the password changes."""
    return hashlib.sha256(password_hash.encode()).hexdigest()[:32]


def _next() -> str:
    """Where to go afterwards: a page of this house only."""
    return within(request.values.get("next", ""), url_for("round.show"))


@bp.get("/sign-in")
def ask() -> Response:
    """Ask for the password."""
    return page("sign_in.html", None, next=_next(), problem="")


@bp.post("/sign-in")
def enter() -> Answer:
    """Check the password."""
    known, patience, who = (
        current_app.config.get("KYKLOS_PASSWORD", ""),
        current_app.extensions["patience"],
        request.remote_addr or "",
    )
    pause = patience.wait(who, g.now)
    if pause > timedelta(0):
        minutes = max(1, round(pause / timedelta(minutes=1)))
        return page(
            "sign_in.html", None, 429, next=_next(), problem=f"Too many tries. Wait {minutes} min, then try again."
        )
    if not known or not check_password_hash(known, request.form.get("password", "")[:200]):
        patience.wrong(who, g.now)
        return page("sign_in.html", None, 422, next=_next(), problem="That is not the password.")
    patience.right(who)
    session.clear()
    session.permanent = True
    session["signed_in"] = _mark(known)
    return redirect(_next(), 303)


@bp.post("/sign-out")
def leave() -> Answer:
    """Sign this device out."""
    session.clear()
    return redirect(url_for(".ask"), 303)


def guard(app: Flask) -> None:
    """Ask for the password before every page, if there is one."""
    app.config["PERMANENT_SESSION_LIFETIME"] = MONTH
    app.extensions["patience"] = Patience()
    app.register_blueprint(bp)

    @app.before_request
    def signed_in_only() -> Answer | None:
        known = app.config.get("KYKLOS_PASSWORD", "")
        if not app.config.get("KYKLOS_SHARED"):
            return None
        if known and hmac.compare_digest(str(session.get("signed_in", "")), _mark(known)):
            return None
        g.stranger = True  # pages shown to one say nothing of the household
        if request.endpoint in OPEN:
            return None
        if request.method != "GET" or "HX-Request" in request.headers:
            abort(401, "Sign in again: open any page of Kyklos. What you typed is still here.")
        return redirect(url_for("sign_in.ask", next=request.full_path.rstrip("?")), 303)
