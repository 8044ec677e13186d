"""The edge: every error becomes a friendly page or sentence with a right status."""

from __future__ import annotations

from flask import Flask, Response, g, make_response, render_template
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException

from ..actions.base import ConflictError, RefusedError
from ..core.errors import KyklosError
from ..store.queries import MissingError
from .render import page, wants_part

STATUS: dict[type[KyklosError], int] = {MissingError: 404, ConflictError: 409, RefusedError: 422}
SENTENCES = {
    404: "There is nothing at this address. It may have been undone, or the link is mistyped.",
    405: "This address is for buttons, not for visiting.",
    413: "That was too much at once.",
    421: "Kyklos answers only under its own address on this machine.",
    500: "Something went wrong in Kyklos itself. Nothing half-done was saved.",
}
TITLES = {
    404: "Not here",
    409: "Changed meanwhile",
    413: "Too large",
    422: "Not like this",
    400: "Not understood",
    500: "Our mistake",
}


def _show(status: int, sentence: str) -> Response:
    if "household" not in g:
        return Response(sentence, status, mimetype="text/plain")
    if wants_part():
        response = make_response(render_template("_trouble.html", sentence=sentence), status)
        response.headers |= {"HX-Retarget": "#toasts", "HX-Reswap": "innerHTML"}
        return response
    return page("problem.html", "_problem.html", status, title=TITLES.get(status, "Not possible"), sentence=sentence)


def install(app: Flask) -> None:
    """Turn the family of errors, and the web's own, into pages."""

    @app.errorhandler(KyklosError)
    def known(problem: KyklosError) -> Response:
        return _show(STATUS.get(type(problem), 422), str(problem))

    @app.errorhandler(CSRFError)
    def stale(_: CSRFError) -> Response:
        return _show(400, "This page was open too long or the browser keeps no cookies: reload it and try again.")

    @app.errorhandler(HTTPException)
    def web(problem: HTTPException) -> Response:
        status = problem.code or 500
        return _show(status, SENTENCES.get(status, problem.description or "That did not work."))

    @app.errorhandler(Exception)
    def unexpected(problem: Exception) -> Response:
        app.logger.exception("unexpected", exc_info=problem)
        if app.testing:
            raise problem
        return _show(500, SENTENCES[500])
