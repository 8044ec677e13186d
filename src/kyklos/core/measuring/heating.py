"""A heater by what its probe reads: whether the warmth follows, what it looks like where it does not, and what to do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

HYSTERESIS_K = 1.0  #: Between on and off. [K]
FOLLOWS_S = 3600.0  #: Warmth follows within so long. [s]
LEAST_RISE_K = 0.3  #: In that time, while it is too cold (assumed). [K]
COLD_K, OVER_K = 1.5, 2.0  #: So far below, or above what it is set to, something is wrong (assumed). [K]
OVER_S = 1800.0  #: For so long. [s]
HARMFUL_C = 32.0  #: Above this the culture suffers. [degC]


@dataclass(frozen=True, slots=True)
class HeaterTrouble:
    """What a heater looks like, and what to do."""

    key: str  #: not warming, over or harmful
    says: str
    do: str


NOT_WARMING = HeaterTrouble("not warming", "set to {set}, and no warmer for an hour.", "Look to its plug, and that the mat sits against the vessel.")
OVER = HeaterTrouble("over", "warmer than it is set.", "After a cold filling it settles within the hour; else move the mat lower, or set it cooler.")
HARMFUL = HeaterTrouble("harmful", "too warm for the culture.", "Unplug the mat now, and look whether its thermostat clings.")


def trouble_of(set_c: float | None, set_since_s: float, course: Sequence[tuple[float, float]], now_s: float) -> HeaterTrouble | None:
    """Return what is wrong with a heater by its vessel's warmth; None: nothing, or not known yet.

    Args:
        set_c: What it is set to; None: off. [degC]
        set_since_s: Since when. [s since 1970]
        course: Moment and warmth of the last hours, in order. [s since 1970, degC]
        now_s: [s since 1970]

    >>> trouble_of(25.0, 0.0, [(0.0, 21.0), (1800.0, 21.0), (3700.0, 21.1)], 3700.0).key
    'not warming'
    """
    lately = [(at, celsius) for at, celsius in course if at >= now_s - FOLLOWS_S]
    before = [(at, celsius) for at, celsius in course if at < now_s - FOLLOWS_S]
    if not lately:
        return None
    if lately[-1][1] > HARMFUL_C:
        return HARMFUL
    if set_c is None:
        return None
    held = now_s - set_since_s >= FOLLOWS_S
    first = before[-1][1] if before else lately[0][1] if now_s - lately[0][0] >= FOLLOWS_S * 0.9 else None
    cold = all(celsius < set_c - COLD_K for _, celsius in lately)
    if held and cold and first is not None and lately[-1][1] - first < LEAST_RISE_K:
        return NOT_WARMING
    over = [celsius for at, celsius in lately if at >= now_s - OVER_S]
    if over and all(celsius > set_c + OVER_K for celsius in over) and now_s - lately[0][0] >= OVER_S:
        return OVER
    return None
