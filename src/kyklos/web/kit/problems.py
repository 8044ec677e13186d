"""What goes wrong where a program asks and no person: a problem as JSON (RFC 9457), never a page."""

from __future__ import annotations

import json

from flask import Response, request

from ...core.base import KyklosError

FOR_PROGRAMS = "/devices/v1"


class ProblemError(KyklosError):
    """Something that cannot be answered, with its status."""

    def __init__(self, status: int, title: str, detail: str, **headers: str) -> None:
        super().__init__(detail)
        self.status, self.title, self.headers = status, title, headers


def asked_by_program() -> bool:
    """Return whether this request is a program's, by its address."""
    return request.path == FOR_PROGRAMS or request.path.startswith(f"{FOR_PROGRAMS}/")


def problem_json(status: int, title: str, detail: str, **headers: str) -> Response:
    """Answer with a problem in a sentence."""
    body = json.dumps({"type": "about:blank", "title": title, "status": status, "detail": detail})
    return Response(body, status, {"Content-Type": "application/problem+json", "Cache-Control": "no-store", **headers})
