"""The edge: every error becomes a friendly page or sentence with a right status."""

from __future__ import annotations

import sqlite3

from flask import Flask, Response, g, make_response, render_template
from flask_wtf.csrf import CSRFError
from sqlalchemy.exc import DBAPIError
from werkzeug.exceptions import HTTPException
from werkzeug.wrappers import Response as Answer

from ...actions.base import ConflictError, RefusedError, SentAlreadyError
from ...core.base import KyklosError
from ...store.file.opening import StorageError
from ...store.read.queries import MissingError
from . import once
from .problems import asked_by_program, problem_json
from .render import page, wants_part

STATUS: dict[type[KyklosError], int] = {MissingError: 404, ConflictError: 409, RefusedError: 422, StorageError: 503}
SENTENCES = {
    404: "There is nothing at this address. It may have been undone, or the link is mistyped.",
    405: "This address is for buttons, not for visiting.",
    413: "That was too much at once.",
    421: "Kyklos answers only under its own address on this machine.",
    500: "Something went wrong in Kyklos itself. Nothing half-done was saved.",
}
SENTENCES_FOR_PROGRAMS = {
    404: "There is nothing at this address; /devices/v1/openapi.json describes what there is.",
    405: "Not this way; /devices/v1/openapi.json describes how.",
    413: "A post may have up to 256 kB: send it in parts.",
}
TITLES = {
    404: "Not here",
    409: "Changed meanwhile",
    413: "Too large",
    422: "Not like this",
    503: "Cannot be kept",
    400: "Not understood",
    500: "Our mistake",
}


#: What the file's own words mean: what is safe, and what to do next.
STORAGE = (
    ("full", "The disk is full: this was not saved, all that was saved before is safe. Make room, then save again; what you typed is still here."),
    ("readonly", "The household's file can only be read now: this was not saved, all before is safe. Give Kyklos the right to write there, then save again."),
    ("locked", "Another program is writing to the household's file: this was not saved. Wait a moment, then save again; what you typed is still here."),
    ("malformed", "The household's file is damaged. Nothing more is written to it. Stop Kyklos, and start it again: it says which backup to go back to."),
    ("not a database", "The household's file is damaged. Nothing more is written to it. Stop Kyklos, and start it again: it says which backup to go back to."),
    ("unable to open", "The household's file cannot be opened. All that was saved is as it was. Look whether its disk and folder are there, then reload."),
    ("disk I/O", "The disk did not answer: this was not saved. All that was saved before is as it was. Look to the disk, then save again."),
)  # fmt: skip


def storage_words(said: str) -> str:
    """Return what the file's trouble means, as a sentence.

    >>> storage_words("database or disk is full")[:17]
    'The disk is full:'
    """
    return next((words for mark, words in STORAGE if mark in said), SENTENCES[500])


def _show(status: int, sentence: str) -> Response:
    if asked_by_program():
        return problem_json(status, TITLES.get(status, "Not possible"), sentence)
    if "household" not in g:
        return Response(sentence, status, mimetype="text/plain")
    if wants_part():
        response = make_response(render_template("_trouble.html", sentence=sentence), status)
        response.headers |= {"HX-Retarget": "#toasts", "HX-Reswap": "innerHTML"}
        return response
    return page("problem.html", "_problem.html", status, title=TITLES.get(status, "Not possible"), sentence=sentence)


def install(app: Flask) -> None:
    """Turn the family of errors, and the web's own, into pages."""

    @app.errorhandler(SentAlreadyError)
    def again(_: SentAlreadyError) -> Answer:
        return once.answer_again()

    @app.errorhandler(KyklosError)
    def known(problem: KyklosError) -> Response:
        return _show(next((status for kind, status in STATUS.items() if isinstance(problem, kind)), 422), str(problem))

    @app.errorhandler(CSRFError)
    def stale(_: CSRFError) -> Response:
        return _show(400, "This page was open too long or the browser keeps no cookies: reload it and try again.")

    @app.errorhandler(HTTPException)
    def web(problem: HTTPException) -> Response:
        status = problem.code or 500
        if asked_by_program():
            said = SENTENCES_FOR_PROGRAMS.get(status) or SENTENCES.get(status, problem.description or "That did not work.")
            return problem_json(status, TITLES.get(status, problem.name), said, **dict(problem.get_headers()[1:]))
        return _show(status, SENTENCES.get(status, problem.description or "That did not work."))

    @app.errorhandler(DBAPIError)
    @app.errorhandler(sqlite3.Error)
    def storage(problem: Exception) -> Response:
        app.logger.error("the household's file: %s", getattr(problem, "orig", None) or problem)
        g.pop("household", None)  # nothing more is asked of it
        return _show(503, storage_words(str(getattr(problem, "orig", None) or problem)))

    @app.errorhandler(Exception)
    def unexpected(problem: Exception) -> Response:
        app.logger.exception("unexpected", exc_info=problem)
        if app.testing:
            raise problem
        return _show(500, SENTENCES[500])
