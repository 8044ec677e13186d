"""How a room follows the weather outdoors, learned from its own temperatures, and how warm it will be by an outlook.

A room takes on a share of what the outdoors do, some time later: the outdoors smoothed by that time. Both are learned from how the room changed
over two days against how the smoothed outdoors did; where the room tells too little, it follows nothing, and nothing is foretold.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Points = Sequence[tuple[float, float]]

LAGS_DAYS = (0.15, 0.4, 0.8, 1.5, 3.0)  #: That are tried. [d]
OVER_DAYS = 2.0  #: Changes over this span are compared. [d]
LEAST_DAYS, LEAST_CHANGES = 7.0, 6  #: With less nothing is learned. [d, -]
STEP_DAYS = 1 / 24  #: The outdoors are smoothed by the hour. [d]
CAUTION = 6.0  #: The share shrinks by this over how plainly it shows (assumed). [-]
LEAST_SHARE = 0.05  #: Less is not worth a word. [-]
AHEAD_DAYS, KNOTS_DAYS = 5.0, 0.25  #: So far, and so finely, a room is foretold. [d]


@dataclass(frozen=True, slots=True)
class Follows:
    """How a room follows the outdoors."""

    share: float  #: Of the outdoors' change. [-]
    lag_days: float  #: So long it takes. [d]


@dataclass(frozen=True, slots=True)
class Outdoors:
    """The outdoors by the hour, past and to come."""

    day: Array  #: Shape (t,), evenly spaced. [d]
    celsius: Array  #: Shape (t,). [degC]

    def smoothed(self, lag_days: float, at: Array) -> Array:
        """Return them smoothed by a lag, at days of shape (n,). [degC]"""
        keep = np.exp(-STEP_DAYS / lag_days)
        out = np.empty_like(self.celsius)
        level = float(self.celsius[: max(1, round(lag_days / STEP_DAYS))].mean())
        for i, value in enumerate(self.celsius):
            level = keep * level + (1 - keep) * value
            out[i] = level
        return np.asarray(np.interp(at, self.day, out))


def outdoors_of(points: Points) -> Outdoors | None:
    """Lay temperatures outdoors out by the hour, straight between those that are known; None: there are too few.

    Args:
        points: (day, degC) in order of time.
    """
    if len(points) < LEAST_CHANGES:
        return None
    laid = np.array(points, float)
    day = np.arange(laid[0, 0], laid[-1, 0] + STEP_DAYS / 2, STEP_DAYS)
    return Outdoors(day, np.asarray(np.interp(day, laid[:, 0], laid[:, 1])))


def learned(room: Points, outdoors: Outdoors) -> Follows | None:
    """Learn how a room follows the outdoors.

    Args:
        room: What was read in it: (day, degC) in order of time.
        outdoors: Over those days.

    Returns: None where it follows nothing, or nobody can tell.
    """
    inside = [(day, c) for day, c in room if outdoors.day[0] <= day <= outdoors.day[-1]]
    if len(inside) < LEAST_CHANGES or inside[-1][0] - inside[0][0] < LEAST_DAYS:
        return None
    day, celsius = np.array(inside, float).T
    later = day[(day + OVER_DAYS <= day[-1])] + OVER_DAYS
    first = day[: len(later)]
    change = np.interp(later, day, celsius) - np.interp(first, day, celsius)
    if len(change) < LEAST_CHANGES:
        return None
    apart = max(1.0, (day[-1] - day[0]) / OVER_DAYS)  # changes that overlap tell little more than those that do not
    best: tuple[float, Follows] | None = None
    for lag in LAGS_DAYS:
        outside = outdoors.smoothed(lag, later) - outdoors.smoothed(lag, first)
        power = float(outside @ outside)
        if power <= 1e-9:
            continue
        share = float(outside @ change) / power
        left = float(np.mean((change - share * outside) ** 2))
        plain = share**2 * (power / len(change)) * apart / max(left, 1e-6)
        shrunk = min(max(share, 0.0), 1.0) * max(0.0, 1 - CAUTION / max(plain, 1e-9))
        if best is None or left < best[0]:
            best = left, Follows(round(shrunk, 3), lag)
    return best[1] if best is not None and best[1].share >= LEAST_SHARE else None


def ahead(follows: Follows, outdoors: Outdoors, last: tuple[float, float], now: float, least: float, most: float) -> tuple[tuple[float, float], ...]:
    """Foretell a room over the next days, by the outlook.

    Args:
        follows: How it follows.
        outdoors: Past, and as the outlook has them.
        last: When it was read last, and how warm it was. [d, degC]
        now: [d]
        least, most: Within what it ever did. [degC]

    Returns: (day, degC), at every quarter of a day from now, as far as the outlook goes.
    """
    end = min(now + AHEAD_DAYS, float(outdoors.day[-1]))
    first = np.ceil(now / KNOTS_DAYS) * KNOTS_DAYS
    days = np.concatenate([[now], np.arange(first, end + 1e-9, KNOTS_DAYS)]) if end > now else np.array([])
    days = np.unique(days)
    if len(days) < 2:
        return ()
    before = outdoors.smoothed(follows.lag_days, np.array([last[0]]))[0]
    celsius = last[1] + follows.share * (outdoors.smoothed(follows.lag_days, days) - before)
    return tuple((float(day), round(float(c), 1)) for day, c in zip(days, np.clip(celsius, least, most), strict=True))
