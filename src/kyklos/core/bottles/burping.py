"""How long a burp buys a bottle."""

from __future__ import annotations

import numpy as np

from .bottle import BottleAsk, bottle_forecast
from .gas import Gas, burp, gauge_of


def burp_buys_days(ask: BottleAsk, day: float) -> float | None:
    """Return how long a burp at a day takes to climb back: it buys a day or two, only cold stops a bottle.

    Args:
        ask: The bottle.
        day: When it is burped, for the first time. [d since filling]

    Returns: Days until the pressure is as high again; None when not within the days looked ahead. [d]
    """
    out = bottle_forecast(ask)
    i = int(np.argmin(np.abs(out.day - day)))
    celsius = ask.course.at(out.day)
    before = Gas(float(out.co2_volumes[i]))
    after = burp(before, float(celsius[i]), float(celsius[0]), ask.headspace_fraction)
    for j in range(i, len(out.day)):
        gas = Gas(after.co2_volumes + float(out.co2_volumes[j] - out.co2_volumes[i]), after.air_atm)
        if gauge_of(gas, float(celsius[j]), float(celsius[0]), ask.headspace_fraction) >= float(out.gauge_bar[i]):
            return float(out.day[j] - out.day[i])
    return None
