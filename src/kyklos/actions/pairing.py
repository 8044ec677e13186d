"""Pairing by the device's own hand: it asks, waits for a person's yes, and fetches its token, once. Only sums of secrets are kept."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from ..core.base import KyklosError
from ..core.base.kinds import PairingState
from ..store.records import Device, DeviceState, Pairing

PAIRS_FOR_S = 600  #: A code is good for so long. [s]
MOST_WAITING, MOST_AN_HOUR = 5, 10
LETTERS, DIGITS = "ABCDEFGHJKLMNPQRSTUVWXYZ", "23456789"


class TooManyError(KyklosError):
    """Too many ask to be paired."""

    def __init__(self, says: str, after_s: int) -> None:
        super().__init__(says)
        self.after_s = after_s


def sum_of(secret: str) -> str:
    """Return what is kept of a secret or token: its SHA-256."""
    return hashlib.sha256(secret.encode()).hexdigest()


@dataclass(frozen=True, slots=True)
class PairingStarted:
    """A pairing that waits."""

    number: int
    secret: str
    code: str
    expires_in: int = PAIRS_FOR_S  #: [s]


def ask_pairing(session: Session, name: str, kind: str, serial: str, address: str, now: datetime) -> PairingStarted:
    """Let a device wait for a person's yes.

    Raises:
        TooManyError: If five wait already, or ten asked within the hour from this address.
    """
    with session.begin():
        since = now - timedelta(seconds=PAIRS_FOR_S)
        waiting = list(session.scalars(select(Pairing).where(Pairing.state == PairingState.WAITING, Pairing.asked_at > since).order_by(Pairing.asked_at)))
        if len(waiting) >= MOST_WAITING:
            raise TooManyError("Five devices wait to be paired already. Say yes or no to one of them first.", _left_s(waiting[0].asked_at, PAIRS_FOR_S, now))
        hour = now - timedelta(hours=1)
        of_it = list(session.scalars(select(Pairing.asked_at).where(Pairing.asked_by == address, Pairing.asked_at > hour).order_by(Pairing.asked_at)))
        if len(of_it) >= MOST_AN_HOUR:
            raise TooManyError("This address asked ten times within the hour. Wait a little.", _left_s(of_it[0], 3600, now))
        session.execute(delete(Pairing).where(Pairing.asked_at < now - timedelta(days=1)))
        secret, taken = secrets.token_urlsafe(32), {row.code for row in waiting}
        code = next(code for code in iter(_code, "") if code not in taken)
        row = Pairing(secret_sum=sum_of(secret), code=code, name=" ".join(name.split()), kind=kind, serial=serial.strip(), asked_at=now, asked_by=address[:60], state=PairingState.WAITING)
        session.add(row)
        session.flush()
        return PairingStarted(row.id, secret, code)


def _left_s(since: datetime, seconds: float, now: datetime) -> int:
    return max(1, round(seconds - (now - since).total_seconds()))


def _code() -> str:
    pick = secrets.choice
    return f"{pick(LETTERS)}{pick(DIGITS)}{pick(LETTERS)}-{pick(DIGITS)}{pick(DIGITS)}"


@dataclass(frozen=True, slots=True)
class TokenAsked:
    """How a pairing stands for its device."""

    state: str  #: missing, wrong, waiting, gone or paired
    token: str = ""
    device: int = 0


def fetch_token(session: Session, number: int, secret: str, now: datetime) -> TokenAsked:
    """Give a paired device its token, once."""
    with session.begin():
        row = session.get(Pairing, number)
        if row is None:
            return TokenAsked("missing")
        if not secrets.compare_digest(row.secret_sum, sum_of(secret)):
            return TokenAsked("wrong")
        if row.state == PairingState.WAITING:
            late = (now - row.asked_at).total_seconds() > PAIRS_FOR_S
            return TokenAsked("gone" if late else "waiting")
        if row.state != PairingState.APPROVED or row.device_id is None:
            return TokenAsked("gone")
        state = session.scalars(select(DeviceState).where(DeviceState.device_id == row.device_id)).one()
        token = secrets.token_urlsafe(32)
        state.token_sum, row.state = sum_of(token), PairingState.FETCHED
        return TokenAsked("paired", token, row.device_id)


def give_token(session: Session, device_id: int) -> str:
    """Give a device a new token, without a pairing: for stand-ins that come with a sample household."""
    token = secrets.token_urlsafe(32)
    with session.begin():
        state = session.scalars(select(DeviceState).where(DeviceState.device_id == device_id)).one()
        state.token_sum = sum_of(token)
    return token


def device_of(session: Session, token: str) -> Device | None:
    """Find the device of a token; None: it has none, or was ended."""
    query = select(Device).join(DeviceState, DeviceState.device_id == Device.id).where(DeviceState.token_sum == sum_of(token), Device.ended_at.is_(None))
    return session.scalars(query).first()
