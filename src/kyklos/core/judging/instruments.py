"""The household's instruments: what each can tell, how well, and when a meter's calibration is due."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from ..base.facts import INSTRUMENTS

SOUND = ("", "good", "ages")  #: What a calibration may say, and the meter counts as calibrated.
DUE_SOON_DAYS = 2.0  #: Told so long before. [d]
USUAL_INTERVAL_DAYS = 30.0  #: Between a meter's calibrations, until given (assumed). [d]
REFRACTOMETER_SD = 0.006  #: Of a gravity by refractometer: alcohol and acids mislead it (assumed). [-]
HYDROMETER_SD = 0.0015  #: Of a hydrometer, and of what the model leaves out (assumed). [-]


class Kind(NamedTuple):
    """A kind of instrument."""

    name: str
    reads: str  #: ph, celsius, gravity or ta
    error: float  #: Typical. [pH, degC, SG or share]
    unit: str
    caveat: str = ""


KINDS = {
    "meter": Kind("pH meter", "ph", 0.05, "pH", "Calibrated at 7 and 4 within its interval, or its readings count as uncalibrated."),
    "strip": Kind("pH strips", "ph", 0.3, "pH", "Read to half a unit: they cannot settle a limit they straddle."),
    "thermometer": Kind("Thermometer", "celsius", 0.5, "°C"),
    "logger": Kind("Temperature logger", "celsius", 0.5, "°C", "Its file can be read in on a brew's or a place's page."),
    "hydrometer": Kind("Hydrometer", "gravity", HYDROMETER_SD, "SG", "Read at ⟦temperature:20⟧, gas knocked out."),
    "refractometer": Kind(
        "Refractometer", "gravity", REFRACTOMETER_SD, "SG",
        "It misreads once alcohol and acids are there: right for sweet tea, a hint afterwards.",
    ),
    "titration": Kind("Titration kit", "ta", 0.05, "share", "Base of a known strength, to pH 8.2."),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Calibrated:
    """One calibration of a meter."""

    days_ago: float  #: Before the reading, or before now. [d]
    at_seven: bool = True
    at_four: bool = True
    judged: str = ""  #: A key of core/measuring/calibrating.py: Judged; empty: nobody looked at its slope.

    @property
    def whole(self) -> bool:
        """Whether the meter counts as calibrated by it: both buffers, and no worse than ageing."""
        return self.at_seven and self.at_four and self.judged in SOUND


@dataclass(frozen=True, slots=True)
class CalibrationState:
    """How a meter stands."""

    key: str  #: Of data/instruments.toml: meter or uncalibrated
    due_in_days: float | None  #: Until the next calibration; negative: overdue; None: never calibrated. [d]

    @property
    def overdue(self) -> bool:
        """Whether its readings count as uncalibrated."""
        return self.key == "uncalibrated"

    @property
    def due_soon(self) -> bool:
        """Whether the calibration is worth a word."""
        return self.due_in_days is None or self.due_in_days <= DUE_SOON_DAYS


def standing(calibrations: Sequence[Calibrated], interval_days: float | None = None) -> CalibrationState:
    """Return how a meter stands: calibrated only if set at 7 and at 4 within its interval.

    >>> standing([Calibrated(3.0)], 30).key, standing([Calibrated(3.0, at_four=False)], 30).key, standing([]).key
    ('meter', 'uncalibrated', 'uncalibrated')
    """
    past = sorted((c for c in calibrations if c.days_ago >= 0), key=lambda c: c.days_ago)
    full = [c.days_ago for c in past if c.whole]
    if not full or (past[0].judged and past[0].judged not in SOUND):
        return CalibrationState("uncalibrated", None)
    left = (interval_days or USUAL_INTERVAL_DAYS) - min(full)
    return CalibrationState("meter" if left >= 0 else "uncalibrated", left)


def ph_sd(key: str, own_error: float | None = None) -> float:
    """Return how far one reading may be off: the kind's spread, or the instrument's own error where that is larger. [pH]

    >>> ph_sd("meter", 0.1), ph_sd("strip", 0.1)
    (0.1, 0.3)
    """
    return max(INSTRUMENTS[key].sd_ph, own_error or 0.0)


def gravity_sd(by: str) -> float:
    """Return how far a gravity may be off. [-]"""
    return REFRACTOMETER_SD if by == "refractometer" else HYDROMETER_SD
