"""The device protocol, version 1: the shapes of what is sent and answered, and the description made from these very shapes.

JSON over HTTP under `/devices/v1`, for whatever can send a request: a microcontroller, `curl`, the stand-ins that ship with Kyklos.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, ValidationError, model_validator

BASE = "/devices/v1"
MOST_READINGS, MOST_HOURS, MOST_BYTES = 1000, 168, 256_000
Number = Annotated[float, Field(strict=True, allow_inf_nan=True)]
Id = Annotated[str, Field(pattern=r"^[!-~]{1,64}$", description="1 to 64 visible characters; the same reading keeps its id when it is sent again.")]
Words = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f\x7f\u2028\u2029]*[^\x00-\x20\x7f\u2028\u2029][^\x00-\x1f\x7f\u2028\u2029]*$")]


class ProtocolShape(BaseModel):
    """What all shapes share: fields nobody knows are let pass."""

    model_config = ConfigDict(extra="ignore", frozen=True)


class PairingAsked(ProtocolShape):
    """A device that asks to be paired."""

    name: Words
    kind: Literal["thermometer", "ph-meter", "scale", "heater", "weather"]
    serial: Annotated[str, Field(max_length=60, pattern=r"^[^\x00-\x1f\x7f\u2028\u2029]*$")] = ""


class PairingBegun(ProtocolShape):
    """What a device shows and keeps while it waits for a person's yes."""

    pairing: int
    secret: str
    code: str = Field(description="Shown on the device, for a person to compare.")
    expires_in: int = Field(description="Seconds.")


class PairingWaits(ProtocolShape):
    """Nobody said yes yet."""

    state: Literal["waiting"] = "waiting"


class Paired(ProtocolShape):
    """The token of a paired device, shown once."""

    token: str
    device: int


class ReadingSent(ProtocolShape):
    """One reading, with at least one number."""

    id: Id
    at: AwareDatetime
    celsius: Number | None = None
    ph: Number | None = None
    millivolts: Number | None = None
    grams: Number | None = None
    battery: Number | None = Field(default=None, description="Of full, 0 to 1.")
    still: Annotated[bool, Field(strict=True)] | None = Field(default=None, description="The value stands still.")

    @model_validator(mode="after")
    def some_number(self) -> ReadingSent:
        """Refuse a reading without any number."""
        if all(value is None for value in (self.celsius, self.ph, self.millivolts, self.grams, self.battery)):
            raise ValueError("A reading needs at least one number.")
        return self


class ReadingsSent(ProtocolShape):
    """Up to a thousand readings."""

    sent_at: AwareDatetime = Field(description="By the device's own clock.")
    readings: Annotated[list[ReadingSent], Field(min_length=1, max_length=MOST_READINGS)]


class Refused(ProtocolShape):
    """A reading that is not kept."""

    id: str
    why: str


class ReadingsTaken(ProtocolShape):
    """What became of the readings."""

    accepted: int
    known: int = Field(description="Came before: not counted twice.")
    refused: list[Refused]
    server_time: AwareDatetime


class HeaterSetPoint(ProtocolShape):
    """How warm a heater is to keep its vessel; nothing: off. A heater that had no answer for a day switches itself off."""

    celsius: Annotated[float, Field(ge=15, le=32)] | None
    hysteresis: float


class OutlookHour(ProtocolShape):
    """How warm it will be outdoors."""

    at: AwareDatetime
    celsius: Annotated[Number, Field(ge=-80, le=60, allow_inf_nan=False)]


class OutlookSent(ProtocolShape):
    """The outlook of a weather service, up to a week of hours."""

    issued_at: AwareDatetime
    hours: Annotated[list[OutlookHour], Field(min_length=1, max_length=MOST_HOURS)]


class OutlookTaken(ProtocolShape):
    """How many hours were taken."""

    accepted: int


class ProblemDetails(ProtocolShape):
    """What went wrong, in a sentence (RFC 9457)."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str


def wrong_in(problem: ValidationError) -> str:
    """Return the first thing that is not of a shape, with its field, as a sentence."""
    first = problem.errors(include_url=False, include_context=False, include_input=False)[0]
    where = ".".join(str(part) for part in first["loc"])
    said = first["msg"].removeprefix("Value error, ").rstrip(".")
    return f"{where}: {said}." if where else f"{said}."


_ERRORS = {
    400: "Not JSON, or not of this shape; the detail names the field.", 401: "No token, or one that was ended.", 403: "Not for this kind of device.", 404: "There is no such thing.",
    405: "Not this way.", 410: "Refused, too late, or fetched before.", 413: "More than 256 kB.", 415: "Not application/json.", 429: "Too many; see Retry-After.", 503: "The household cannot be written to now.",
}  # fmt: skip


def _body(shape: type[BaseModel]) -> dict[str, Any]:
    return {"content": {"application/json": {"schema": {"$ref": f"#/components/schemas/{shape.__name__}"}}}}


def _call(says: str, answers: Mapping[int, tuple[str, type[BaseModel] | None]], errors: tuple[int, ...], sent: type[BaseModel] | None = None, secured: bool = True, more: Mapping[str, Any] | None = None) -> dict[str, Any]:
    responses: dict[str, Any] = {str(code): {"description": words, **(_body(shape) if shape is not None else {})} for code, (words, shape) in answers.items()}
    for code in errors:
        responses[str(code)] = {"description": _ERRORS[code], "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemDetails"}}}}
        if code == 429:
            responses["429"]["headers"] = {"Retry-After": {"schema": {"type": "integer"}}}
    out: dict[str, Any] = {"summary": says, "responses": responses, **(more or {})}
    if sent is not None:
        out["requestBody"] = {"required": True, **_body(sent)}
    if secured:
        out["security"] = [{"token": []}]
    return out


def description(version: str) -> dict[str, Any]:
    """Return the OpenAPI 3.1 description of the protocol, made from the shapes that read and answer.

    Args:
        version: Of Kyklos.
    """
    shapes: dict[str, Any] = {}
    for shape in (PairingAsked, PairingBegun, PairingWaits, Paired, ReadingsSent, ReadingsTaken, HeaterSetPoint, OutlookSent, OutlookTaken, ProblemDetails):
        schema = shape.model_json_schema(ref_template="#/components/schemas/{model}", mode="validation")
        shapes |= schema.pop("$defs", {})
        shapes[shape.__name__] = schema
    number = {"name": "pairing", "in": "path", "required": True, "schema": {"type": "integer", "minimum": 1}}
    known = {"name": "If-None-Match", "in": "header", "required": False, "schema": {"type": "string"}}
    usual = (400, 401, 403, 413, 415, 503)
    return {
        "openapi": "3.1.0",
        "info": {"title": "Kyklos devices", "version": version, "description": "How instruments send readings to a household, and ask how warm to keep a vessel."},
        "servers": [{"url": BASE}],
        "paths": {
            "/pair": {"post": _call("Ask to be paired.", {201: ("Show the code, keep the secret.", PairingBegun)}, (400, 413, 415, 429, 503), PairingAsked, secured=False)},
            "/pair/{pairing}": {"get": _call("Ask whether a person said yes; the secret is the bearer.", {200: ("Yes; the token, once.", Paired), 202: ("Not yet.", PairingWaits)}, (401, 404, 410, 503), more={"parameters": [number]})},
            "/readings": {"post": _call("Send readings; each counts once.", {200: ("What became of them.", ReadingsTaken)}, usual, ReadingsSent)},
            "/setpoint": {"get": _call("Ask how warm to keep it (heaters).", {200: ("With an ETag.", HeaterSetPoint), 304: ("As before.", None)}, (401, 403, 503), more={"parameters": [known]})},
            "/outlook": {"post": _call("Tell the hours to come (kind weather).", {200: ("Taken.", OutlookTaken)}, usual, OutlookSent)},
            "/openapi.json": {"get": {"summary": "This description.", "responses": {"200": {"description": "OpenAPI 3.1", "content": {"application/json": {"schema": {"type": "object"}}}}}}},
        },
        "components": {"schemas": shapes, "securitySchemes": {"token": {"type": "http", "scheme": "bearer"}}},
    }  # fmt: skip


if __name__ == "__main__":
    import json

    print(json.dumps(description("1"), indent=1))
