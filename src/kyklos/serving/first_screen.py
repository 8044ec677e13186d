"""The phone's first screen: what makes Kyklos installable, and the worker that keeps pages to be read without a connection."""

from __future__ import annotations

import json

from flask import Blueprint, Response, abort, current_app, url_for

from ..web.kit.addresses import STATIC, asset
from .certificate import AUTHORITY

bp = Blueprint("first_screen", __name__)
PAPER = "#fbf6ea"  #: As the light theme has it.


@bp.get("/kyklos.webmanifest")
def manifest() -> Response:
    """Describe Kyklos to a phone that puts it on its first screen."""
    start = url_for("round.show")
    icons = [
        {"src": asset(f"icons/{name}.png"), "sizes": f"{edge}x{edge}", "type": "image/png", "purpose": purpose}
        for name, edge, purpose in (("mark-192", 192, "any"), ("mark-512", 512, "any"), ("mark-512-round", 512, "maskable"))
    ]
    entry = {
        "name": "Kyklos",
        "short_name": "Kyklos",
        "id": start,
        "start_url": start,
        "scope": start,
        "display": "standalone",
        "background_color": PAPER,
        "theme_color": PAPER,
        "icons": icons,
    }
    return Response(json.dumps(entry), mimetype="application/manifest+json")


@bp.get("/authority.pem")
def authority() -> Response:
    """Give the household's own authority, for a phone that is to trust it. It is no secret: its fingerprint tells whether it is the right one."""
    folder = current_app.config.get("KYKLOS_FOLDER")
    path = None if folder is None else folder / AUTHORITY
    if path is None or not path.exists():
        abort(404)
    answer = Response(path.read_bytes(), mimetype="application/x-x509-ca-cert")
    answer.headers["Content-Disposition"] = "attachment; filename=kyklos-authority.pem"
    return answer


@bp.get("/worker.js")
def worker() -> Response:
    """Give the worker, from the root, so that it may keep the round."""
    answer = Response((STATIC / "js" / "worker.js").read_text("utf-8"), mimetype="text/javascript")
    answer.headers["Cache-Control"] = "no-cache"
    return answer
