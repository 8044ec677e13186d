"""Photos in and out of a page: one that was sent, and one that is shown."""

from __future__ import annotations

from flask import Response, abort, g, make_response, request

from ...actions.photos import picture_of
from ...store.file.pictures import MOST_BYTES, Picture
from ...store.read import queries


def sent_picture() -> Picture | None:
    """Read the photo that came with a form; None: none came.

    Raises:
        RefusedError: If it cannot be kept.
    """
    file = request.files.get("photo")
    content = file.stream.read(MOST_BYTES + 1) if file is not None and file.filename else b""
    return picture_of(content) if content else None


def shown_picture(sha: str | None, size: str) -> Response:
    """Answer with a photo, small or large."""
    content = queries.photo_content(g.session, sha) if sha else None
    if content is None or size not in {"small", "large"}:
        abort(404)
    response = make_response(content.small if size == "small" else content.large)
    response.headers["Content-Type"] = "image/jpeg"
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response
