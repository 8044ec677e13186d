"""Running timers, shown on every page: what is left of each, by the server's clock."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from flask import g, url_for

from ...reckon.kitchen_walk import under_way
from ...store.read import planning_queries
from ...store.records import BrewDay


def now_in_ms() -> int:
    """Return the server's time as scripts count it. [ms since 1970]"""
    return int(g.now.timestamp() * 1000)


def timers_shown(day: BrewDay | None = None, walking: bool = False) -> list[dict[str, Any]]:
    """List running timers with what is left of them; those of one brew day first. [s]

    Args:
        day: The brew day that is looked at.
        walking: Whether it is the day of several vessels that is looked at; elsewhere a way leads back to it.
    """
    rows = [
        {
            "name": t.name,
            "address": url_for("brew_day.kitchen", number=t.day_id),
            "stop": url_for("brew_day.stop", number=t.id),
            "left": (t.ends_at - g.now) / timedelta(seconds=1),
            "over": t.ends_at <= g.now,
            "own": day is not None and t.day_id == day.id,
            "ends_ms": int(t.ends_at.timestamp() * 1000),
        }
        for t in planning_queries.running_timers(g.session)
    ]
    rows += _of_the_day(walking)
    g.timers_run = bool(rows)
    return sorted(rows, key=lambda row: (not row["own"], row["left"]))


def _of_the_day(walking: bool) -> list[dict[str, Any]]:
    """List what goes on by itself in a day that is walked; it ends with the step that follows."""
    found = under_way(g.session, g.now)
    if found is None:
        return []
    day, known = found
    address = url_for("brew_day.walk", number=day.id)
    back = {"name": f"The day: {known.done} of {len(known.walk.steps)} done", "address": address, "stop": "", "left": 0.0, "own": True, "ends_ms": 0}
    return ([] if walking else [back]) + [
        {
            "name": f"{one.vessel}: {one.what}",
            "address": address,
            "stop": "",
            "left": (one.over_at - g.now) / timedelta(seconds=1),
            "over": one.over_at <= g.now,
            "own": False,
            "ends_ms": int(one.over_at.timestamp() * 1000),
        }
        for one in known.waiting
    ]
