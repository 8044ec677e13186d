"""A glass electrode by its buffers: slope, offset, what it is worth, and readings put right.

E = E0 - s 59.16 theta (pH - 7) with theta = (T + 273.15) / 298.15 (Nernst); limits of slope and offset after usual makers' (assumed).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from itertools import pairwise

from ..base import CoreError
from ..base.facts import entries_of

MV_PER_PH = 59.16  #: Of a perfect electrode at 25 degC. [mV/pH]
NEAREST_PH = 2.0  #: Two buffers lie at least so far apart. [pH]
GOOD_SLOPE, AGES_SLOPE = (0.95, 1.03), (0.90, 1.03)  #: From, to (assumed). [-]
GOOD_OFFSET_MV, AGES_OFFSET_MV = 15.0, 30.0  #: At most (assumed). [mV]
GROWS_PER_WEEK = 0.01  #: A reading's spread grows by so much until the next calibration (assumed). [pH]
USUAL_C = 25.0  #: Where no temperature was told. [degC]
LEAST_SLOPE = 0.3  #: Flatter is no electrode at all: it is broken, or stands in one buffer twice. [-]


class CalibrationError(CoreError):
    """Buffers that make no calibration; the sentence says why."""


class Judged(StrEnum):
    """What a calibration says of a meter."""

    GOOD = "good"
    AGES = "ages"
    CLEAN_IT = "clean it"
    WORN = "worn"  #: As badly after it was cleaned.
    HALF = "half"  #: Only one buffer.


SD_PH = {Judged.GOOD: 0.03, Judged.AGES: 0.06, Judged.CLEAN_IT: 0.2, Judged.WORN: 0.2, Judged.HALF: 0.08}  #: (assumed) [pH]


@dataclass(frozen=True, slots=True)
class BufferPoint:
    """A meter in a buffer."""

    buffer: int  #: 7 or 4
    celsius: float  #: [degC]
    millivolts: float  #: [mV]


@dataclass(frozen=True, slots=True)
class MeterLine:
    """What a meter shows of a pH, as its buffers told."""

    slope: float  #: Of a perfect one. [-]
    offset_mv: float  #: At pH 7. [mV]
    judged: Judged

    @property
    def sd_ph(self) -> float:
        """How far a reading may be off. [pH]"""
        return SD_PH[self.judged]


def theta(celsius: float) -> float:
    """Return by how much an electrode's voltage is larger than at 25 degC. [-]"""
    return (celsius + 273.15) / 298.15


def millivolts_shown(ph: float, celsius: float) -> float:
    """Return the voltage of a meter that shows only pH, as one that was never set. [mV]"""
    return (7.0 - ph) * MV_PER_PH * theta(celsius)


@cache
def _reads() -> dict[int, tuple[tuple[float, float], ...]]:
    return {int(key): tuple((float(c), float(ph)) for c, ph in entry["reads"]) for key, entry in entries_of("buffers").items()}


def buffer_ph(buffer: int, celsius: float) -> float:
    """Return what a buffer really is at a temperature. [degC -> pH]

    Raises:
        CalibrationError: If there is no such buffer.

    >>> buffer_ph(7, 20.0), buffer_ph(4, 2.0)
    (7.02, 4.0)
    """
    if buffer not in _reads():
        raise CalibrationError("A buffer is 7 or 4.")
    points = _reads()[buffer]
    for (cold, low), (warm, high) in pairwise(points):
        if celsius <= warm:
            share = max(0.0, (celsius - cold) / (warm - cold))
            return low + share * (high - low)
    return points[-1][1]


def calibrate(points: Sequence[BufferPoint], last_slope: float | None = None, *, cleaned: bool = False) -> MeterLine:
    """Find a meter's slope and offset from one or two buffers, and judge it.

    Args:
        points: One, or two of different buffers.
        last_slope: As the calibration before told; for one buffer only. [-]
        cleaned: It was cleaned just before: as bad as before means worn.

    Raises:
        CalibrationError: For swapped buffers, two nearer than 2 pH, none or more than two, or a voltage that no electrode has.

    >>> calibrate([BufferPoint(7, 25.0, 0.0), BufferPoint(4, 25.0, 176.9)]).judged
    <Judged.GOOD: 'good'>
    """
    if not 1 <= len(points) <= 2:
        raise CalibrationError("A calibration takes one buffer or two.")
    known = [(buffer_ph(point.buffer, point.celsius), point) for point in points]
    if len(known) == 1:
        ph, point = known[0]
        slope = last_slope or 1.0
        return MeterLine(slope, point.millivolts + slope * MV_PER_PH * theta(point.celsius) * (ph - 7.0), Judged.HALF)
    (ph_a, a), (ph_b, b) = known
    if abs(ph_a - ph_b) < NEAREST_PH:
        raise CalibrationError("Both are the same buffer: it takes 7 and 4.")
    steps = [MV_PER_PH * theta(point.celsius) * (ph - 7.0) for ph, point in known]
    slope = (a.millivolts - b.millivolts) / (steps[1] - steps[0])
    if slope < 0:
        raise CalibrationError("The buffers are swapped: what was taken as 7 is 4. Begin again with 7.")
    if slope < LEAST_SLOPE:
        raise CalibrationError("It hardly tells the buffers apart. Take fresh ones, and look whether the cap is off the tip.")
    offset = a.millivolts + slope * steps[0]
    return MeterLine(slope, offset, _judged(slope, offset, cleaned))


def _judged(slope: float, offset_mv: float, cleaned: bool) -> Judged:
    if GOOD_SLOPE[0] <= slope <= GOOD_SLOPE[1] and abs(offset_mv) <= GOOD_OFFSET_MV:
        return Judged.GOOD
    if AGES_SLOPE[0] <= slope <= AGES_SLOPE[1] and abs(offset_mv) <= AGES_OFFSET_MV:
        return Judged.AGES
    return Judged.WORN if cleaned else Judged.CLEAN_IT


def corrected_ph(millivolts: float, celsius: float, line: MeterLine) -> float:
    """Return the pH that a voltage means by a calibration.

    Args:
        millivolts: [mV]
        celsius: Of the sample. [degC]
        line: Of the meter.
    """
    return 7.0 - (millivolts - line.offset_mv) / (line.slope * MV_PER_PH * theta(celsius))


@dataclass(frozen=True, slots=True)
class PutRight:
    """A reading by the calibrations around it."""

    ph: float
    sd_ph: float


def voltage_of(shown_ph: float, celsius: float | None, set_by: MeterLine | None = None) -> float:
    """Return the voltage behind a pH that a meter shows. [mV]

    Args:
        shown_ph: As it stands on the meter.
        celsius: Of the sample; usual unless told. [degC]
        set_by: The calibration by which the meter was set; None: it was never set, or shows what it would as new.
    """
    warm = USUAL_C if celsius is None else celsius
    if set_by is None:
        return millivolts_shown(shown_ph, warm)
    return set_by.offset_mv - set_by.slope * MV_PER_PH * theta(warm) * (shown_ph - 7.0)


def put_right(millivolts: float, celsius: float | None, before: MeterLine, days_since: float, after: MeterLine | None = None, days_until: float = 0.0) -> PutRight:
    """Read a voltage by the calibration before it, and by the one after it too once that is known, weighted by time.

    Args:
        millivolts: [mV]
        celsius: Of the sample; usual unless told. [degC]
        before: The calibration before.
        days_since: From it to the reading. [d]
        after: The next one; None: not yet.
        days_until: From the reading to it. [d]

    >>> line = MeterLine(1.0, 0.0, Judged.GOOD)
    >>> put_right(voltage_of(3.5, None), None, line, 7.0)
    PutRight(ph=3.5, sd_ph=0.04)
    """
    warm = USUAL_C if celsius is None else celsius
    first = corrected_ph(millivolts, warm, before)
    if after is None:
        return PutRight(round(first, 4), round(before.sd_ph + GROWS_PER_WEEK * days_since / 7.0, 4))
    share = days_since / (days_since + days_until) if days_since + days_until > 0 else 0.5
    ph = (1.0 - share) * first + share * corrected_ph(millivolts, warm, after)
    return PutRight(round(ph, 4), round((1.0 - share) * before.sd_ph + share * after.sd_ph, 4))
