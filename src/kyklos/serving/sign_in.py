"""Signing in, where the household answers other devices: one password, a month, and patience with those who guess."""

from __future__ import annotations

import hashlib
import hmac
from collections.abc import Callable, Mapping
from datetime import timedelta
from pathlib import Path
from typing import Any

from flask import Blueprint, Flask, Response, abort, current_app, g, jsonify, redirect, request, session, url_for
from flask.sessions import SecureCookieSessionInterface
from flask_wtf.csrf import generate_csrf
from werkzeug.security import check_password_hash, generate_password_hash
from werkzeug.wrappers import Response as Answer

from ..actions.data_keys import is_noted, key_of, note_use
from ..store.file.own import write_whole
from ..web.kit.addresses import within
from ..web.kit.problems import asked_by_program
from ..web.kit.render import page
from .clients import client_of, counted_as
from .sign_ins import Patience, SignIns, file_in, hashed
from .tokens import is_paired, token_of

MONTH = timedelta(days=31)
MET, REMEMBERED = "kyklos-met", timedelta(days=730)  #: The long cookie of a device that signed in before.
LEAST_LETTERS, MOST_LETTERS = 8, 200
AT_HOME = {"127.0.0.1", "::1"}  #: The house's own keyboard.
OPEN = {"static", "sign_in.ask", "sign_in.enter", "almanac.feed", "first_screen.manifest", "first_screen.worker", "first_screen.authority"}

bp = Blueprint("sign_in", __name__)


def problem_with(password: str) -> str:
    """Return what speaks against a password, as a sentence; empty: nothing.

    >>> problem_with("        ")
    'The password needs at least 8 letters that are no blanks.'
    """
    if len("".join(password.split())) < LEAST_LETTERS:
        return f"The password needs at least {LEAST_LETTERS} letters that are no blanks."
    if len(password) > MOST_LETTERS:
        return f"The password may have at most {MOST_LETTERS} letters."
    return ""


def write_password(folder: Path, password: str) -> None:
    """Keep a password's hash in the household's folder, readable by its owner only.

    Raises:
        OSError: If it cannot be written; the old one holds.
    """
    write_whole(folder / "password", generate_password_hash(password).encode())
    SignIns(file_in(folder)).end_all()


def password_in(folder: Path) -> str:
    """Read the hash of the household's password; empty if none was set."""
    path = folder / "password"
    return path.read_text("utf-8", "replace").strip() if path.exists() else ""


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
    """Check the password; at the house's own keyboard nobody waits, and a device that was here before waits only for itself."""
    known, sign_ins = password_of(), current_app.extensions["sign_ins"]
    patience, who, stranger = _who_tries(sign_ins)
    pause = timedelta(0) if client() in AT_HOME else patience.wait(who, g.now, stranger)
    if pause > timedelta(0):
        seconds = pause / timedelta(seconds=1)
        wait = f"{max(1, round(seconds / 60))} min" if seconds > 90 else f"{max(1, round(seconds))} seconds"
        return page("sign_in.html", None, 429, next=_next(), problem=f"Too many tries. Wait {wait}, then try again.")
    if not known or not check_password_hash(known, request.form.get("password", "")[:MOST_LETTERS]):
        if client() not in AT_HOME:
            patience.wrong(who, g.now, stranger)
        return page("sign_in.html", None, 422, next=_next(), problem="That is not the password.")
    patience.right(who)
    session.clear()
    session.permanent = True
    session["signed_in"] = _mark(known)
    session["device"] = sign_ins.sign_in(request.headers.get("User-Agent", "")[:300], client(), g.now)
    answer = redirect(_next(), 303)
    if stranger:
        values: dict[str, Any] = {"httponly": True, "samesite": "Lax", "secure": request.is_secure, "path": url_for(".ask")}
        answer.set_cookie(MET, sign_ins.meet(g.now), max_age=REMEMBERED, **values)
    return answer


def _who_tries(sign_ins: SignIns) -> tuple[Patience, str, bool]:
    """Return who counts the tries, as whom, and whether they are a stranger's: a device that signed in before is none."""
    met = sign_ins.met(request.cookies.get(MET, "")[:100])
    return current_app.extensions["patience"], f"device {met}" if met else counted_as(client()), not met


@bp.get("/here")
def word() -> Response:
    """Return the current form token to a signed-in page that stood open."""
    return jsonify(token=generate_csrf())


@bp.post("/sign-out")
def leave() -> Answer:
    """Sign this device out: its cookie is worth nothing from now on, wherever it was copied to."""
    current_app.extensions["sign_ins"].end(hashed(str(session.get("device", ""))))
    session.clear()
    answer = redirect(url_for(".ask"), 303)
    answer.headers["Clear-Site-Data"] = '"cache"'
    return answer


@bp.post("/sign-ins/<key>/end")
def end_sign_in(key: str) -> Answer:
    """End another device's session."""
    current_app.extensions["sign_ins"].end(key[:80])
    return redirect(url_for("settings.show") + "#sign-ins", 303)


def _for_pages() -> dict[str, Any]:
    """Return what pages show of sign-ins: those of the house, and the one that asks."""
    known: SignIns = current_app.extensions["sign_ins"]
    return {"sign_ins": known.listed, "this_sign_in": lambda: hashed(str(session.get("device", "")))}


def client() -> str:
    """Return whose request it is."""
    text = request.headers.get("X-Forwarded-For", "")
    return client_of(request.remote_addr or "", text, str(current_app.config.get("KYKLOS_PROXY", "")))


def password_of() -> str:
    """Return the hash of the password as it is now, also when another program changed it meanwhile."""
    return _password_of(current_app)


def _password_of(app: Flask) -> str:
    folder = app.config.get("KYKLOS_FOLDER")
    return password_in(folder) if folder is not None else str(app.config.get("KYKLOS_PASSWORD", ""))


def guard(app: Flask) -> None:
    """Ask for the password before every page, if there is one."""
    folder: Path | None = app.config.get("KYKLOS_FOLDER")
    app.config["PERMANENT_SESSION_LIFETIME"] = MONTH
    app.session_interface = Sessions()
    app.extensions["patience"] = Patience(folder / "tries.json" if folder is not None else None)
    app.extensions["sign_ins"] = SignIns(file_in(folder) if folder is not None else None)
    app.register_blueprint(bp)
    app.context_processor(_for_pages)

    @app.before_request
    def signed_in_only() -> Answer | None:
        if not app.config.get("KYKLOS_SHARED") or asked_by_program():
            return None
        if _signed_in(app):
            return None
        if request.endpoint == "data.table" and _by_key(app):
            return None
        g.stranger = True  # pages shown to one say nothing of the household
        if request.endpoint in OPEN:
            return None
        if request.method != "GET" or "HX-Request" in request.headers:
            abort(401, "Sign in again: open any page of Kyklos. What you typed is still here.")
        return redirect(url_for("sign_in.ask", next=request.full_path.rstrip("?")), 303)


def _by_key(app: Flask) -> bool:
    """Return whether a key opens the tables to this request; writes down that it was used."""
    found = key_of(g.session, request.args.get("key", ""))
    if found is None:
        return False
    if not is_noted(found, g.now):
        database, _ = app.extensions["kyklos"]
        with database.writer() as session:
            note_use(session, found.id, g.now)
    return True


def _signed_in(app: Flask) -> bool:
    """Return whether this device is signed in still, by the password as it is now."""
    return _is_members(app, session, client())


def _is_members(app: Flask, values: Mapping[str, Any], who: str) -> bool:
    known = _password_of(app)
    if not known or not hmac.compare_digest(str(values.get("signed_in", "")), _mark(known)):
        return False
    now = app.extensions["kyklos"][1]()
    sign_ins: SignIns = app.extensions["sign_ins"]
    return sign_ins.knows(str(values.get("device", "")), who, now, MONTH)


def knows(app: Flask) -> Callable[[dict[str, str], str, str], bool]:
    """Make what tells, before a request's body is there, whether it is a member's: by its cookie, as the pages do."""

    def of(headers: dict[str, str], who: str, scheme: str) -> bool:
        if not app.config.get("KYKLOS_SHARED"):
            return True
        if is_paired(app.extensions["kyklos"][0], token_of(headers)):
            return True
        environ = {f"HTTP_{name.upper()}": value for name, value in headers.items()}
        asked = app.request_class({"REQUEST_METHOD": "GET", "PATH_INFO": "/", "wsgi.url_scheme": scheme, **environ})
        cookie = app.session_interface.open_session(app, asked)
        return cookie is not None and _is_members(app, cookie, who)

    return of


class Sessions(SecureCookieSessionInterface):
    """Cookies that are for https only wherever https is spoken, also behind a proxy that says so."""

    def get_cookie_secure(self, app: Flask) -> bool:
        """Return whether the cookie is for https only."""
        return request.is_secure
