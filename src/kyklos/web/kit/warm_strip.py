"""The line of a brew's probe over the last weeks, in the reader's degrees and days."""

from __future__ import annotations

from datetime import timedelta

from flask import g

from ...drawing.warm_line import WarmLine, warm_line
from ...store.read import warmth_queries
from ...store.read.recorded import doubted_points, sound_points
from ...store.records import Brew
from . import units
from .words import local

LOOK_BACK = timedelta(days=14)
FEW_DAYS = 7


def warm_strip(brew: Brew) -> WarmLine | None:
    """Return how warm a brew was by the devices that stood in it; None: none did."""
    until = min(g.now, brew.ended_at or g.now)
    since = max(brew.pitched_at, until - LOOK_BACK).timestamp()
    logs = [log for log in warmth_queries.logs_of(g.session, brew) if log.brew_id == brew.id and log.device_id is not None and log.last_s >= since]

    def shown(seconds: float, celsius: float) -> tuple[float, float]:
        return seconds / 86400, units.shown(celsius, "temperature", g.units)[0]

    points = sorted(shown(at, c) for log in logs for at, c in sound_points(log) if at >= since)
    doubted = sorted((*shown(at, c), why) for log in logs for at, c, why in doubted_points(log) if at >= since)
    if len(points) + len(doubted) < 2:
        return None
    first = local(brew.pitched_at if not points else max(brew.pitched_at, until - LOOK_BACK), g.household.zone)
    midnights = [first.replace(hour=0, minute=0, second=0, microsecond=0) + timedelta(days=n) for n in range(1, LOOK_BACK.days + 2)]
    every = 1 if (until.timestamp() - since) / 86400 <= FEW_DAYS else 3
    days = [(at.timestamp() / 86400, f"{at.day} {at:%b}") for at in midnights[::every]]
    set_to = brew.vessel.heater_c if brew.alive else None
    return warm_line(points, doubted, days, until.timestamp() / 86400, units.shown(20.0, "temperature", g.units)[1], None if set_to is None else shown(0.0, set_to)[1])
