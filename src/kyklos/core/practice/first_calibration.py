"""A first calibration with a stand-in: what was done so far, what is a mistake, and what the two buffers say of the meter."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..measuring.calibrating import BufferPoint, CalibrationError, MeterLine, calibrate

RINSE, IN_7, IN_4, WAIT, KEEP = "r", "7", "4", "w", "k"
ACTS = {RINSE: "Rinse it and dab it dry", IN_7: "Hold it in buffer 7", IN_4: "Hold it in buffer 4", WAIT: "Wait half a minute", KEEP: "Take the reading"}
STEADY_MV = 0.6  #: Between two looks half a minute apart: then it stands (assumed). [mV]
MOST_ACTS = 60


@dataclass(frozen=True, slots=True)
class MeterShowed:
    """What a stand-in showed after an act."""

    act: str
    millivolts: float  #: [mV]
    celsius: float  #: [degC]


@dataclass(frozen=True, slots=True)
class CalibrationStands:
    """Where a rehearsed calibration stands."""

    held_in: str  #: cap, rinse, 7 or 4
    kept: tuple[BufferPoint, ...]
    mistake: str  #: What was wrong with the last act; it is taken back.
    line: MeterLine | None  #: Once both buffers were read.


def stands(shown: Sequence[MeterShowed]) -> CalibrationStands:
    """Return where a calibration stands after what was done.

    Args:
        shown: Every act with what the meter showed after it, in order.
    """
    held, kept, rinsed = "cap", list[BufferPoint](), False
    mistake = ""
    for number, one in enumerate(shown):
        mistake = _mistake(one.act, held, rinsed, kept, shown[:number], one)
        if mistake:
            continue
        if one.act == RINSE:
            held, rinsed = "rinse", True
        elif one.act in {IN_7, IN_4}:
            held, rinsed = one.act, False
        elif one.act == KEEP:
            kept.append(BufferPoint(int(held), one.celsius, one.millivolts))
    line = None
    if len(kept) == 2:
        try:
            line = calibrate(kept)
        except CalibrationError as problem:
            mistake = str(problem)
    return CalibrationStands(held, tuple(kept), mistake, line)


def _mistake(act: str, held: str, rinsed: bool, kept: Sequence[BufferPoint], before: Sequence[MeterShowed], now: MeterShowed) -> str:
    """Return what is wrong with an act; empty: nothing."""
    if act in {IN_7, IN_4} and held != act and not rinsed:
        return "Not rinsed: the drop on its tip goes into the buffer, and the bottle is spoilt for all calibrations to come."
    if act == IN_4 and not kept:
        return "Buffer 7 first: it gives the zero from which the slope is told."
    if act == KEEP and held not in {IN_7, IN_4}:
        return "It is in no buffer: there is nothing to be read."
    if act == KEEP and any(point.buffer == int(held) for point in kept):
        return "This buffer was read already: it takes 7 and 4."
    if act == KEEP and (before[-1].act != WAIT or len(before) < 2 or abs(before[-1].millivolts - before[-2].millivolts) > STEADY_MV):
        return "It still moves: taken now, every reading to come is off by as much. Wait until it stands."
    return ""
