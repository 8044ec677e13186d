"""The door for devices: JSON under `/devices/v1`, by token alone; no cookie, no page, nothing of the household but what the protocol names."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import datetime
from functools import cache
from typing import Any, TypeVar

from flask import Blueprint, Flask, Response, current_app, g, jsonify, make_response, request
from pydantic import BaseModel, ValidationError

from .. import __version__
from ..actions import pairing, receiving
from ..core.base.kinds import DeviceKind
from ..core.measuring.heating import HYSTERESIS_K
from ..core.measuring.sent import SentReading
from ..exchange import device_protocol as shapes
from ..store.file.database import Database
from ..store.records import Device
from ..web.kit.problems import ProblemError, problem_json
from .sign_in import client

bp = Blueprint("devices", __name__, url_prefix=shapes.BASE)
S = TypeVar("S", bound=BaseModel)


def _database() -> Database:
    database: Database = current_app.extensions["kyklos"][0]
    return database


def _answer(shape: BaseModel, status: int = 200) -> Response:
    return make_response(shape.model_dump_json(), status, {"Content-Type": "application/json"})


def _sent(shape: type[S]) -> S:
    """Read what was sent by its shape; what is not of it is a problem that names the field."""
    request.max_content_length = shapes.MOST_BYTES
    if request.mimetype != "application/json":
        raise ProblemError(415, "Not JSON", "Send it as application/json.")
    if (request.content_length or 0) > shapes.MOST_BYTES:
        raise ProblemError(413, "Too large", "A post may have up to 256 kB: send it in parts.")
    try:
        return shape.model_validate_json(request.get_data())
    except ValidationError as problem:
        raise ProblemError(400, "Not of this shape", shapes.wrong_in(problem)) from problem
    except (ValueError, RecursionError) as problem:
        raise ProblemError(400, "Not of this shape", "This cannot be read as JSON.") from problem


def _bearer() -> str:
    kind, _, secret = request.headers.get("Authorization", "").partition(" ")
    secret = secret.strip()
    if kind.casefold() != "bearer" or not secret or len(secret) > 200:
        raise ProblemError(401, "No token", "Send Authorization: Bearer and the token.", **{"WWW-Authenticate": "Bearer"})
    return secret


def _device(*kinds: DeviceKind) -> Device:
    """Find who sends, by its token; of these kinds only, where some are named."""
    token = _bearer()
    with _database().reader() as session:
        found = pairing.device_of(session, token)
    if found is None:
        raise ProblemError(401, "Not paired", "This token is not known, or was ended. Pair the device again.", **{"WWW-Authenticate": "Bearer"})
    if kinds and found.kind not in kinds:
        raise ProblemError(403, "Not for this device", f"This is for a {kinds[0]}; {found.name} is a {found.kind}.")
    return found


def _post(path: str) -> Callable[[Callable[..., Response]], Callable[..., Response]]:
    return bp.route(path, methods=["POST"], provide_automatic_options=False)


def _get(path: str) -> Callable[[Callable[..., Response]], Callable[..., Response]]:
    return bp.route(path, methods=["GET"], provide_automatic_options=False)


@_post("/pair")
def pair() -> Response:
    """Let a device wait for a person's yes."""
    asked = _sent(shapes.PairingAsked)
    try:
        with _database().writer() as session:
            begun = pairing.ask_pairing(session, asked.name, asked.kind, asked.serial, client(), _now())
    except pairing.TooManyError as many:
        raise ProblemError(429, "Too many", str(many), **{"Retry-After": str(many.after_s)}) from many
    return _answer(shapes.PairingBegun(pairing=begun.number, secret=begun.secret, code=begun.code, expires_in=begun.expires_in), 201)


@_get("/pair/<number>")
def waiting(number: str) -> Response:
    """Tell a waiting device whether a person said yes; its token is given once."""
    secret = _bearer()
    whole = int(number) if number.isascii() and number.isdigit() and len(number) < 15 else 0
    with _database().writer() as session:
        found = pairing.fetch_token(session, whole, secret, _now())
    if found.state == "missing":
        raise ProblemError(404, "Not here", "There is no such pairing.")
    if found.state == "wrong":
        raise ProblemError(401, "Not its secret", "That is not the secret of this pairing.", **{"WWW-Authenticate": "Bearer"})
    if found.state == "gone":
        raise ProblemError(410, "Over", "It was refused, took too long, or its token was fetched before. Ask to be paired again.")
    if found.state == "waiting":
        return _answer(shapes.PairingWaits(), 202)
    return _answer(shapes.Paired(token=found.token, device=found.device))


@_post("/readings")
def readings() -> Response:
    """Take readings, each once."""
    device = _device()
    sent = _sent(shapes.ReadingsSent)
    rows = [
        SentReading(id=one.id, at_s=one.at.timestamp(), celsius=one.celsius, ph=one.ph, millivolts=one.millivolts, grams=one.grams, battery=one.battery, still=one.still)
        for one in sent.readings
    ]
    now = _now()
    with _database().writer() as session:
        taken = receiving.take_readings(session, device.id, sent.sent_at, rows, now)
    refused = [shapes.Refused(id=number, why=why) for number, why in taken.refused]
    return _answer(shapes.ReadingsTaken(accepted=taken.accepted, known=taken.known, refused=refused, server_time=now))


@_get("/setpoint")
def setpoint() -> Response:
    """Tell a heater how warm to keep its vessel."""
    device = _device(DeviceKind.HEATER)
    with _database().writer() as session:
        celsius = receiving.ask_set_point(session, device.id, _now())
    body = shapes.HeaterSetPoint(celsius=celsius, hysteresis=HYSTERESIS_K).model_dump_json()
    tag = hashlib.sha256(body.encode()).hexdigest()[:16]
    if request.if_none_match.contains(tag):
        answer = make_response(b"", 304)
    else:
        answer = make_response(body, 200, {"Content-Type": "application/json"})
    answer.set_etag(tag)
    return answer


@_post("/outlook")
def outlook() -> Response:
    """Take a weather service's outlook."""
    device = _device(DeviceKind.WEATHER)
    sent = _sent(shapes.OutlookSent)
    with _database().writer() as session:
        count = receiving.take_outlook(session, device.id, sent.issued_at, [(one.at, one.celsius) for one in sent.hours], _now())
    return _answer(shapes.OutlookTaken(accepted=count))


@cache
def _described() -> dict[str, Any]:
    return shapes.description(__version__)


@_get("/openapi.json")
def openapi() -> Response:
    """Describe all this."""
    return jsonify(_described())


def _now() -> datetime:
    now: datetime = g.now
    return now


def install(app: Flask) -> None:
    """Open the door; whatever goes wrong behind it is a problem as JSON, never a page."""
    app.register_blueprint(bp)

    @app.errorhandler(ProblemError)
    def problem(found: ProblemError) -> Response:
        return problem_json(found.status, found.title, str(found), **found.headers)
