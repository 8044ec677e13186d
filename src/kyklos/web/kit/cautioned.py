"""Cautions that are heard: each is shown in full where it first matters on a device, later as one line."""

from __future__ import annotations

import json

from flask import Flask, Response, g, request

from ...core.judging import Situation
from ...core.judging.cautions import CAUTIONS, ShownCautions, as_heard

COOKIE = "heard"
UNSEEN = "X-Kept-Unseen"  #: A page that a device keeps for later: nobody has read its cautions.
KEPT_DAYS = 120  #: So long a device remembers what it showed; then all is shown again.
STAYS_HOURS = 1.0  #: So long a caution stays unfolded where it was first shown: a page is looked at more than once.


def _told() -> dict[str, tuple[str, float]]:
    """Read what this device was shown: where, and when [h since the epoch]; anything odd counts as nothing."""
    if "heard" not in g:
        try:
            raw = json.loads(request.cookies.get(COOKIE, "{}"))
            g.heard = {key: (str(where), float(at)) for key, (where, at) in raw.items() if key in CAUTIONS}
        except (ValueError, TypeError, AttributeError):
            g.heard = {}
    found: dict[str, tuple[str, float]] = g.heard
    return found


def heard(situation: Situation) -> ShownCautions:
    """Choose which cautions this page shows in full, and remember them."""
    found, now = _told(), g.now.timestamp() / 3600
    before = {key for key, (where, at) in found.items() if where != situation.moment or now - at > STAYS_HOURS}
    shown = as_heard(situation, before)
    fresh = {c.key: (situation.moment, round(now, 2)) for c in shown.full if c.key not in found}
    if fresh:
        found |= fresh
        g.heard_more = True
    return shown


def remember(app: Flask) -> None:
    """Let each answer carry what was shown."""

    @app.after_request
    def keep(response: Response) -> Response:
        if g.get("heard_more") and UNSEEN not in request.headers:
            response.set_cookie(
                COOKIE, json.dumps(g.heard), max_age=KEPT_DAYS * 86400, samesite="Lax", httponly=True,
                secure=request.is_secure,
            )  # fmt: skip
        return response
