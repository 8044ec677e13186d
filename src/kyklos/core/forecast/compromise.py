"""Two tasters, one brew: bottle part of it for the one and let the rest go on for the other."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..base import CoreError, require_between
from ..liquid import Draw, Point
from ..liquid.batch import fill_at
from .answer import Forecast, reaches
from .ask import ForecastAsk

NEAR_DAYS = 1.0  #: Points so near in time are met on one day. [d]
LOOK_AHEAD_DAYS = 30.0  #: [d]
BOTTLED_SHARE = 0.86  #: What a harvest usually leaves after reserve and losses (assumed). [-]
LEAST_LEFT = 0.1  #: The least share of a brew that is left when a part of it is bottled. [-]
LEAST_SOONER = 0.25  #: A shallower rest that gains less is not offered. [d]


@dataclass(frozen=True, slots=True)
class SharedPart:
    """Some litres, bottled on a day for someone."""

    tasters: tuple[str, ...]
    day: float  #: Since the pitch. [d]
    litres: float  #: [L]


@dataclass(frozen=True, slots=True)
class Compromise:
    """What to bottle when; one part when the points are near."""

    parts: tuple[SharedPart, ...]
    sooner_days: float = 0.0  #: How much sooner the rest is right for being shallower. [d]


def _rest_is_right(ask: ForecastAsk, out: Forecast, from_day: float, share: float, point: Point) -> float:
    """Return when the rest reaches a point, with the same surface over less liquid. [d since pitch]"""
    fill = fill_at(ask.batch, from_day)
    drawn = Draw(from_day, (1 - max(share, LEAST_LEFT)) * fill.litres)
    reached = reaches(ask, out, from_day, point.ta_g_per_l, LOOK_AHEAD_DAYS, drawn)
    return from_day + LOOK_AHEAD_DAYS if reached is None else reached


def plan(
    ask: ForecastAsk, out: Forecast, today: float, litres: float, shares: Mapping[str, float] | None = None
) -> Compromise:
    """Plan how two or more tasters share a brew.

    Args:
        ask, out: The forecast with its question.
        today: Since the pitch. [d]
        litres: To bottle, after the reserve. [L]
        shares: How much each taster drinks; alike unless given. [-]

    Raises:
        CoreError: If nobody tastes.
    """
    require_between(0, 400, "L", litres=litres)
    if not ask.points:
        raise CoreError("Nobody tastes here yet.")
    weight = {p.taster: (shares or {}).get(p.taster, 1.0) for p in ask.points}
    total = sum(weight.values()) or 1.0
    reached = [(out.ready[p.taster].p50, p) for p in ask.points]
    due = sorted(((max(day, today), p) for day, p in reached if day is not None), key=lambda pair: pair[0])
    if not due or litres <= 0:
        return Compromise(())
    groups: list[list[tuple[float, Point]]] = [[due[0]]]
    for day, point in due[1:]:
        if day - groups[-1][0][0] <= NEAR_DAYS:
            groups[-1].append((day, point))
        else:
            groups.append([(day, point)])
    parts, left, sooner, last = [], litres, 0.0, 0.0
    for number, group in enumerate(groups):
        names = tuple(p.taster for _, p in group)
        day = float(np.mean([d for d, _ in group]))
        if number:
            shallow = min(_rest_is_right(ask, out, last, left / litres, p) for _, p in group)
            sooner, day = max(0.0, day - max(shallow, last)), max(min(day, shallow), last)
        amount = left if number == len(groups) - 1 else litres * sum(weight[n] for n in names) / total
        parts.append(SharedPart(names, day, amount))
        left, last = left - amount, day
    return Compromise(tuple(parts), sooner)
