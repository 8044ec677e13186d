"""Tokens of devices: which one a request carries, and whether it is that of a device that is paired."""

from __future__ import annotations

from ..actions.pairing import device_of
from ..store.file.database import Database

LONGEST = 200


def token_of(headers: dict[str, str]) -> str:
    """Return the token that stands in a request's headers; empty: none."""
    kind, _, secret = headers.get("authorization", "").partition(" ")
    return secret.strip() if kind.casefold() == "bearer" else ""


def is_paired(database: Database, token: str) -> bool:
    """Return whether a token is that of a device that is paired."""
    if not token or len(token) > LONGEST:
        return False
    with database.reader() as session:
        return device_of(session, token) is not None
