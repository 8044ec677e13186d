"""The numbers of a chart, as the table beside it has them: a row for each whole day."""

from __future__ import annotations

import numpy as np

from ...core.bottles.bottle import BottleForecast
from .acting import in_units
from .stops import Stop

CURVE_HEADS = ("Day", "pH, likely", "four in five")
PRESSURE_HEADS = ("Day", "Pressure, likely", "four in five")


def curve_rows(stop: Stop) -> list[tuple[str, str, str]]:
    """Tell a brew's pH by whole days since its start."""
    out = stop.forecast
    rows = []
    for day in range(int(np.ceil(out.day[0])), int(out.day[-1]) + 1):
        low, likely, high = out.at(out.ph, float(day))
        rows.append((str(day), f"{likely:.1f}", f"{low:.1f} to {high:.1f}"))
    return rows


def pressure_rows(future: BottleForecast, until: float) -> list[tuple[str, str, str]]:
    """Tell a bottle's pressure by whole days since it was filled.

    Args:
        future: As it is foretold.
        until: The last day. [d]
    """
    rows = []
    for day in range(int(min(until, float(future.day[-1]))) + 1):
        low, likely, high = (float(np.interp(day, future.day, values)) for values in (future.low_bar, future.gauge_bar, future.high_bar))
        rows.append((str(day), in_units(likely, "pressure"), f"{in_units(low, 'pressure')} to {in_units(high, 'pressure')}"))
    return rows
