"""Questions about warmth: what loggers and thermometers read, where and when."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session, joinedload

from ...core.base.kinds import LIVING
from ..file.session import context_of
from ..records import Brew, Device, Place, SpotReading, TemperatureLog
from .memory import once

DEVICE_DAYS = 150.0  #: What a device read before has faded from whatever stands. [d]
_LOGS = select(TemperatureLog).where(TemperatureLog.struck.is_(False)).options(joinedload(TemperatureLog.device).selectinload(Device.doubts))


@once
def logs_of_living(session: Session) -> list[TemperatureLog]:
    """List what loggers recorded, and was not struck out, since the oldest brew that stands was started."""
    first = session.scalar(select(func.min(Brew.pitched_at)).where(Brew.status.in_(LIVING)))
    if first is None:
        return []
    query, now = _LOGS.where(TemperatureLog.last_s >= first.timestamp()), context_of(session).now
    if now is not None:
        query = query.where(or_(TemperatureLog.device_id.is_(None), TemperatureLog.last_s >= (now - timedelta(days=DEVICE_DAYS)).timestamp()))
    return list(session.scalars(query))


def logs_of(session: Session, brew: Brew) -> list[TemperatureLog]:
    """List what loggers recorded of a brew while it stood: in its liquid, or in the air of any place."""
    if brew.alive and not context_of(session).writing:
        return logs_of_living(session)
    query = _LOGS.where(TemperatureLog.last_s >= brew.pitched_at.timestamp())
    if brew.ended_at is not None:
        query = query.where(TemperatureLog.first_s <= brew.ended_at.timestamp())
    return list(session.scalars(query))


def logs_in(session: Session, place: Place, since: datetime, until: datetime) -> list[TemperatureLog]:
    """List what loggers recorded of a place's air between two moments."""
    there = _LOGS.where(TemperatureLog.place_id == place.id)
    return list(
        session.scalars(
            there.where(TemperatureLog.last_s >= since.timestamp(), TemperatureLog.first_s <= until.timestamp())
        )
    )


def spots_read(session: Session, place: Place, since: datetime, until: datetime) -> list[tuple[datetime, float]]:
    """List how warm it was where bottles were put in a place, between two moments, in order of time. [degC]"""
    query = select(SpotReading.at, SpotReading.celsius).where(
        SpotReading.place_id == place.id, SpotReading.at > since, SpotReading.at <= until
    )
    return [(at, celsius) for at, celsius in session.execute(query.order_by(SpotReading.at, SpotReading.id))]


@once
def logged_places(session: Session) -> set[int]:
    """List the numbers of the places in whose air a logger ever lay."""
    query = select(TemperatureLog.place_id).where(TemperatureLog.struck.is_(False)).distinct()
    return {number for number in session.scalars(query) if number is not None}


