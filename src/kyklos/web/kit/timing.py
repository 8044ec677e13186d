"""Running timers, shown on every page: what is left of each, by the server's clock."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from flask import g

from ...store.read import planning_queries
from ...store.records import BrewDay


def now_in_ms() -> int:
    """Return the server's time as scripts count it. [ms since 1970]"""
    return int(g.now.timestamp() * 1000)


def timers_shown(day: BrewDay | None = None) -> list[dict[str, Any]]:
    """List running timers with what is left of them; those of one brew day first. [s]"""
    rows = [
        {
            "timer": t,
            "left": (t.ends_at - g.now) / timedelta(seconds=1),
            "over": t.ends_at <= g.now,
            "own": day is not None and t.day_id == day.id,
            "ends_ms": int(t.ends_at.timestamp() * 1000),
        }
        for t in planning_queries.running_timers(g.session)
    ]
    g.timers_run = bool(rows)
    return sorted(rows, key=lambda row: (not row["own"], row["left"]))
