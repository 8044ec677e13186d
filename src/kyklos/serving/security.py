"""Headers, hosts and the secret: strict from the first day."""

from __future__ import annotations

import ipaddress
import secrets
import socket
from pathlib import Path

from flask import Flask, Response, abort, request, session

from ..store.file.own import write_whole
from ..store.file.pictures import MOST_BYTES
from ..web.kit.problems import asked_by_program

POLICY = (
    "default-src 'self'; media-src 'self'; img-src 'self' data:; style-src 'self'; script-src 'self'; font-src 'self'; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), geolocation=(), microphone=()",
}
STRANGERS_BYTES = 10_000  #: Who is not signed in sends no more than a password. [bytes]
LARGEST_TEXT = 2_500_000  #: Of a form that carries a passport along between its preview and its keeping. [bytes]
WITH_FILES = {"brews.add_photo", "brews.add_log", "brews.keep_look", "cultures.receive", "notes.write", "notebook.note"}
LOCAL_NAMES = {"127.0.0.1", "localhost", "[::1]"}


def secret_in(folder: Path) -> str:
    """Read the household's secret, made on first use and readable by its owner only.

    Raises:
        OSError: If it cannot be read, or not be made; an old one is as it was.
    """
    path = folder / "secret"
    known = path.read_text("ascii", "replace").strip() if path.exists() else ""
    if not known:
        known = secrets.token_hex(32)
        write_whole(path, known.encode())
    return known


def _own(name: str) -> bool:
    """Return whether a name is this machine's: an address as such, which nobody can point elsewhere, or its host name."""
    try:
        ipaddress.ip_address(name.strip("[]"))
        return True
    except ValueError:
        host = socket.gethostname().lower()
        return name.lower() in {host, f"{host}.local", f"{host.split('.')[0]}.local"}


def room_for_files(app: Flask) -> None:
    """Let a phone's photo and a logger's file in, before anything reads the form; every other form stays small."""

    @app.before_request
    def make_room() -> None:
        if asked_by_program():
            return  # its own door says how much
        if app.config.get("KYKLOS_SHARED") and "device" not in session:
            request.max_content_length = STRANGERS_BYTES
        elif request.endpoint in WITH_FILES:
            request.max_content_length = MOST_BYTES + 1_000_000
            request.max_form_memory_size = LARGEST_TEXT


def protect(app: Flask) -> None:
    """Answer only under its own name, and with secure headers."""

    @app.before_request
    def own_name_only() -> None:
        name = request.host.rsplit(":", 1)[0] if not request.host.endswith("]") else request.host
        named = app.config.get("KYKLOS_NAMED") or None
        if name not in LOCAL_NAMES and not (app.config.get("KYKLOS_SHARED") and (_own(name) or name.lower() == named)):
            abort(421)

    @app.after_request
    def headers(response: Response) -> Response:
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        if request.endpoint == "static" and response.status_code in {200, 206, 304}:
            response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        else:
            response.headers.setdefault("Cache-Control", "no-store")
        return response
