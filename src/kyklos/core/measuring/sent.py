"""Numbers that a device sends: shifted to the house's clock, refused where absurd, marked where doubtful."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

SKEW_S = 120.0  #: A clock that is off by more is put right. [s]
AHEAD_S = 300.0  #: A reading further ahead is refused. [s]
OLDEST_S = 400 * 86400.0  #: And an older one. [s]
RANGES = {"celsius": (-10.0, 110.0), "ph": (0.0, 14.0), "millivolts": (-2000.0, 2000.0), "grams": (-50_000.0, 50_000.0), "battery": (0.0, 1.0)}
NAMES = {"celsius": "A temperature", "ph": "A pH", "millivolts": "A voltage", "grams": "A weight", "battery": "A battery"}
JUMP_K, JUMP_S = 10.0, 60.0  #: Nothing in a jar jumps so far in so short a time. [K, s]
FASTEST_K_PER_MINUTE, LEAST_K = 0.5, 1.0  #: A jar's liquid warms and cools no faster; less than so much tells nothing (assumed). [K/min, K]
USUAL_K_PER_MINUTE = 0.05  #: And no faster than that for long (assumed). [K/min]
ANCHOR_S = 120.0  #: Held against what it was so long ago. [s]
BACK_K = 1.5  #: Within so much of what it was before, the probe is back. [K]
STILL_S, STILL_PH = 10.0, 0.02  #: A pH that moved no more in so long stands still. [s, pH]
SILENT_FOR = 3.0  #: A device that missed so many of its usual intervals is silent. [-]
LEAST_SILENCE_S = 600.0  #: Never before that. [s]
JUMPED = "It jumped: nothing in a jar warms or cools so fast."
IN_THE_AIR = "The probe seems to be out of the liquid."


@dataclass(frozen=True, slots=True)
class SentReading:
    """One reading as it came, its moment by the house's clock."""

    id: str
    at_s: float  #: [s since 1970]
    celsius: float | None = None  #: [degC]
    ph: float | None = None
    millivolts: float | None = None  #: [mV]
    grams: float | None = None  #: [g]
    battery: float | None = None  #: Of full. [-]
    still: bool | None = None  #: None: not said.


def shift_s(sent_at_s: float, now_s: float) -> float:
    """Return by how much a device's moments are shifted: nothing while its clock is right to two minutes. [s]

    >>> shift_s(1000.0, 1119.0), shift_s(1000.0, 1500.0)
    (0.0, 500.0)
    """
    off = now_s - sent_at_s
    return off if abs(off) > SKEW_S else 0.0


def why_refused(reading: SentReading, now_s: float) -> str:
    """Return why a reading cannot be kept, as a sentence; empty: it can.

    Args:
        reading: Its moment shifted already.
        now_s: The house's moment. [s since 1970]

    >>> why_refused(SentReading("a", 0.0, celsius=200.0), 0.0)
    'A temperature of 200 cannot be: from -10 to 110.'
    """
    for name, (low, high) in RANGES.items():
        value = getattr(reading, name)
        if value is None:
            continue
        if not math.isfinite(value):
            return f"{NAMES[name]} must be a number."
        if not low <= value <= high:
            return f"{NAMES[name]} of {value:g} cannot be: from {low:g} to {high:g}."
    if reading.at_s > now_s + AHEAD_S:
        return "Its moment lies more than five minutes ahead."
    if reading.at_s < now_s - OLDEST_S:
        return "It is older than 400 days."
    return ""


@dataclass(frozen=True, slots=True)
class WarmthSeen:
    """What is known of a probe's warmth up to a moment."""

    at_s: float  #: Of the last reading. [s since 1970]
    celsius: float  #: Of the last reading. [degC]
    sound_at_s: float  #: Of one some minutes before that was not doubted. [s since 1970]
    sound_c: float  #: [degC]
    doubt: str = ""  #: Why those since are doubted; empty: they are not.


def seen_next(seen: WarmthSeen | None, at_s: float, celsius: float, in_liquid: bool) -> WarmthSeen:
    """Follow a probe by one reading: doubted when it jumps, or moves faster than a liquid does, until it is back or could be there.

    Args:
        seen: What is known; None: nothing yet.
        at_s: Later than what is known. [s since 1970]
        celsius: [degC]
        in_liquid: It stands in a vessel.
    """
    if seen is None:
        return WarmthSeen(at_s, celsius, at_s, celsius)
    away, minutes = abs(celsius - seen.sound_c), (at_s - seen.sound_at_s) / 60.0
    jumped = abs(celsius - seen.celsius) >= JUMP_K and at_s - seen.at_s <= JUMP_S
    fastest = USUAL_K_PER_MINUTE if seen.doubt else FASTEST_K_PER_MINUTE
    too_fast = (in_liquid or bool(seen.doubt)) and away > max(LEAST_K + fastest * minutes, BACK_K if seen.doubt else 0.0)
    if jumped or too_fast:
        return WarmthSeen(at_s, celsius, seen.sound_at_s, seen.sound_c, seen.doubt or (JUMPED if jumped else IN_THE_AIR))
    if at_s - seen.sound_at_s < ANCHOR_S and not seen.doubt:
        return WarmthSeen(at_s, celsius, seen.sound_at_s, seen.sound_c)
    return WarmthSeen(at_s, celsius, at_s, celsius)


def stands_still(last: Sequence[tuple[float, float]], at_s: float, ph: float) -> bool:
    """Return whether a pH stood still: within 0.02 for ten seconds.

    Args:
        last: Moment and pH of those before, in order. [s, pH]
        at_s: Of this one. [s]
        ph: Of this one.

    >>> stands_still([(0.0, 3.50), (6.0, 3.51)], 11.0, 3.50), stands_still([(0.0, 3.70), (6.0, 3.51)], 11.0, 3.50)
    (True, False)
    """
    older = [value for moment, value in last if at_s - moment >= STILL_S and at_s - moment <= 6 * STILL_S]
    within = [*older[-1:], *(value for moment, value in last if at_s - moment < STILL_S)]
    return bool(older) and all(abs(value - ph) <= STILL_PH for value in within)


def is_silent(last_s: float, interval_s: float | None, now_s: float) -> bool:
    """Return whether a device is silent: three of its usual intervals passed. [s]"""
    return now_s - last_s > max(LEAST_SILENCE_S, SILENT_FOR * (interval_s or 0.0))
